"""What a parameter does to the claims of a model in one of its scenarios."""

from __future__ import annotations

from dataclasses import dataclass

from movrel.analyse.claim_text import read
from movrel.analyse.sensitivity import Effect, effects
from movrel.couple.rig import coupled
from movrel.edits.scenario_model import of_scenario, scenario_of
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.project.snapshot import Snapshot, definition_of
from movrel.project.vendor_annotation import claims_of


@dataclass(frozen=True, slots=True)
class Candidates:
    parameters: list[str]


@dataclass(frozen=True, slots=True)
class Effects:
    parameter: str
    effects: list[Effect]


def candidates(snapshot: Snapshot, model: str, scenario: str) -> Candidates:
    """The parameters that are numbers somebody chose: those of the model itself first, then those of its parts."""
    flat = of_scenario(snapshot, model, scenario).loaded.flat
    chosen = [
        v for v in flat.parameters()
        if v.variability == "parameter" and v.type == "Real" and not v.final and not v.structural and not v.protected
        and (v.binding is None or v.binding.op == "const") and "[" not in v.name
    ]  # fmt: skip
    return Candidates([v.name for v in sorted(chosen, key=lambda v: v.component != "")])


def of_parameter(snapshot: Snapshot, model: str, scenario: str, parameter: str) -> Effects:
    """Its effect on each claim that the scenario judges. Raises :class:`MovrelError` where there is none to judge."""
    prepared = of_scenario(snapshot, model, scenario)
    off = scenario_of(snapshot, model, scenario).off
    claims = [read(c.text) for c in claims_of(definition_of(snapshot, model)) if c.text not in off]
    if not claims:
        raise MovrelError(
            "the model has no claims.",
            hint="Write down what must hold; then it is seen what matters for it.",
        )
    variable = prepared.loaded.by_name.get(parameter)
    if variable is None or variable.variability != "parameter":
        raise MovrelError(f"the model has no parameter '{parameter}'.")
    now = float(parameter_values(prepared.loaded.flat, prepared.values)[variable])
    return Effects(
        parameter,
        effects(
            coupled(prepared.loaded), prepared.values, parameter, now, claims, **prepared.options
        ),
    )
