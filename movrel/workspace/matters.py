"""What a parameter does to the claims of a model in one of its scenarios."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

from movrel.analyse.claims import read
from movrel.analyse.sensitivity import effects
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.model.prepared import claims_of
from movrel.workspace import projects, scenarios


def candidates(project: int, model: str, scenario: str) -> list[str]:
    """The parameters that are numbers somebody chose: those of the model itself first, then those of its parts."""
    applied = _applied(project, model, scenario)
    flat = applied.loaded.flat
    chosen = [
        v for v in flat.parameters()
        if v.variability == "parameter" and v.type == "Real" and not v.final and not v.structural and not v.protected
        and (v.binding is None or v.binding.op == "const") and "[" not in v.name
    ]  # fmt: skip
    return [v.name for v in sorted(chosen, key=lambda v: v.component != "")]


def of_parameter(project: int, model: str, scenario: str, parameter: str) -> list[dict[str, Any]]:
    """Its effect on each claim that the scenario judges."""
    applied = _applied(project, model, scenario)
    definition = projects.definition_of(projects.snapshot(project), model)
    off = scenarios.scenario(projects.snapshot(project), model, scenario).off
    claims = [read(c.text) for c in claims_of(definition) if c.text not in off]
    if not claims:
        raise MovrelError("the model has no claims.", hint="Write down what must hold; then it is seen what matters for it.")
    variable = applied.loaded.by_name.get(parameter)
    if variable is None or variable.variability != "parameter":
        raise MovrelError(f"the model has no parameter '{parameter}'.")
    now = float(parameter_values(applied.loaded.flat, applied.values)[id(variable)])
    found = effects(applied.loaded, applied.values, parameter, now, claims, **applied.options)
    return [{"claim": c.text, **asdict(e)} for c, e in zip(claims, found, strict=True)]


def _applied(project: int, model: str, scenario: str) -> scenarios.Applied:
    taken = projects.snapshot(project)
    asked = scenarios.scenario(taken, model, scenario)
    return scenarios.applied(taken, model, asked.changes, asked.settings)
