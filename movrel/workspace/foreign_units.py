"""Units of others in a project: what is in them, whether they may run, a run of each alone."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from movrel.edits.target import Target, target_of
from movrel.edits.unit_exchange import ExchangePlan, class_choices, exchange_plan, unit_classes
from movrel.errors import MovrelError
from movrel.exchange.fmi.run_unit import UnitRun
from movrel.exchange.fmi.unit_class import (
    PartChoices,
    can_be_shown,
    class_of_unit,
    is_settable,
    left_out,
    name_groups,
    names_in_class,
    suggested_step,
    terminal_of,
)
from movrel.fmi.archive import OpenUnit, open_unit
from movrel.fmi.description import Interface, UnitVariable
from movrel.fmi.rules import BrokenRule, findings
from movrel.fmi.unit_process import binary_of
from movrel.workspace import projects, resources
from movrel.workspace.permissions import may_run
from movrel.workspace.tables import ProjectResource

#: Variables that are listed of a unit, and curves and points that a trial keeps.
LISTED, CURVES, POINTS = 2_000, 200, 600


@dataclass(frozen=True, slots=True)
class ForeignUnit:
    """A unit in the list of a project."""

    id: int
    project: int
    name: str
    path: str
    size: int
    allowed: bool
    #: "", waiting, running, done or failed
    trial: str
    created: str


@dataclass(frozen=True, slots=True)
class ForeignVariable:
    """A variable of a unit; ``name_in_class`` is what a part calls it, ``role`` how it appears there if it does;
    ``terminal`` is where it belongs by the unit, ``stem`` the beginning that its name shares with others."""

    name: str
    name_in_class: str
    role: str
    kind: str
    causality: str
    variability: str
    size: str
    start: str
    unit: str
    description: str
    terminal: str
    stem: str


@dataclass(frozen=True, slots=True)
class TrialCurve:
    """One value of a trial over its instants."""

    name: str
    unit: str
    values: list[float]


@dataclass(frozen=True, slots=True)
class Trial:
    """A run of a unit by itself."""

    state: str = ""
    reason: str = ""
    interface: str = ""
    messages: list[str] = field(default_factory=list)
    time: list[float] = field(default_factory=list)
    curves: list[TrialCurve] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class ForeignUnitPage:
    """Everything that is shown of one unit; ``obstacle`` is why it cannot run on this machine."""

    unit: ForeignUnit
    title: str
    description: str
    version: int
    interfaces: list[Interface]
    made: str
    capabilities: list[str]
    platforms: list[str]
    sources: bool
    obstacle: str
    experiment: str
    step: float
    states: int
    indicators: int
    class_name: str
    variables: list[ForeignVariable]
    more: int
    left_out: str
    findings: list[BrokenRule]
    trial: Trial


def add(project: int, name: str, data: bytes) -> ProjectResource:
    """Take a unit into a project. Raises :class:`MovrelError` for what is not a unit."""
    stem = Path(name.replace("\\", "/")).name
    if not stem.lower().endswith(".fmu"):
        raise MovrelError(f"'{stem}' is not a unit.", hint="Choose a file that ends in .fmu.")
    kept = resources.keep(project, f"{resources.UNITS}/{stem}", data)
    try:
        open_unit(resources.file_of(kept))
    except MovrelError:
        resources.delete(kept.id)
        raise
    return kept


def foreign_units(project: int) -> list[ForeignUnit]:
    """The units of others in a project, by name."""
    return [_listed(r) for r in resources.resources(project) if r.path.lower().endswith(".fmu")]


def _listed(kept: ProjectResource) -> ForeignUnit:
    return ForeignUnit(
        kept.id, kept.project_id, Path(kept.path).name, kept.path, kept.size, may_run(kept.digest),
        kept.trial.get("state", ""), kept.created.isoformat() + "Z",
    )  # fmt: skip


def opened(number: int) -> OpenUnit:
    """A unit with its description. Raises :class:`movrel.errors.NotFound`."""
    return open_unit(resources.file_of(resources.resource(number)))


def page(number: int) -> ForeignUnitPage:
    """What is in a unit, what it can do, and what looks wrong."""
    kept = resources.resource(number)
    unit = opened(number)
    d = unit.description
    names = names_in_class(d)
    states = {v.derivative_of for v in d.variables if v.derivative_of is not None}
    by_reference = d.by_reference()
    shown = [v for v in d.variables if can_be_shown(v)]
    terminals = terminal_of(d)
    stems = name_groups([v.name for v in shown if v.causality in ("input", "output")])
    order = {"parameter": 0, "input": 1, "output": 2, "state": 3, "": 4}
    rows = [
        ForeignVariable(
            v.name, names[v.name], _role(v, states), v.kind, v.causality, v.variability,
            "x".join(map(str, v.sizes)), _start(v), v.unit, v.description, terminals.get(v.name, ""), stems.get(v.name, ""),
        )
        for v in shown
    ]  # fmt: skip
    rows.sort(key=lambda row: order[row.role])
    e = d.experiment
    return ForeignUnitPage(
        unit=_listed(kept),
        title=d.name,
        description=d.description,
        version=d.version,
        interfaces=list(d.interfaces),
        made=", ".join(p for p in (d.tool, d.made) if p),
        capabilities=_capabilities(unit),
        platforms=sorted(unit.binaries()),
        sources=any(n.startswith("sources/") for n in unit.files),
        obstacle=_obstacle(unit),
        experiment="" if e.stop is None else f"{e.start or 0:g} s to {e.stop:g} s",
        step=suggested_step(d),
        states=sum(by_reference[u.reference].count for u in d.derivatives),
        indicators=d.event_indicators,
        class_name=_class_name(d.name or Path(kept.path).stem),
        variables=rows[:LISTED],
        more=max(len(rows) - LISTED, 0),
        left_out=left_out(d),
        findings=findings(unit)[:200],
        trial=_trial(kept.trial),
    )


def _role(v: UnitVariable, states: set[int]) -> str:
    if is_settable(v):
        return "parameter"
    if v.causality in ("input", "output"):
        return v.causality
    return "state" if v.kind == "Real" and v.reference in states else ""


def _start(v: UnitVariable) -> str:
    if v.start is None:
        return ""
    shown = ", ".join(f"{n:g}" if isinstance(n, float) else n for n in v.start[:6])
    return shown + (", …" if len(v.start) > 6 else "")


def _capabilities(unit: OpenUnit) -> list[str]:
    """The flags that are set, as the standard names them, for each interface."""
    words = {"me": "model exchange", "cs": "co-simulation"}
    listed: list[str] = []
    for interface, flags in unit.description.flags.items():
        names = [name for name, value in flags.items() if value == "true"]
        if names:
            listed.append(f"{words[interface]}: {', '.join(names)}")
    return listed


def _obstacle(unit: OpenUnit) -> str:
    try:
        binary_of(unit, unit.description.interfaces[0])
    except MovrelError as fault:
        return fault.sentence()
    return ""


def _class_name(name: str) -> str:
    stem = re.sub(r"\W+", "", name.rpartition(".")[2], flags=re.ASCII) or "Part"
    return stem[0].upper() + stem[1:] if stem[0].isalpha() else f"Unit{stem}"


def _trial(kept: dict[str, Any]) -> Trial:
    curves = [TrialCurve(**c) for c in kept.get("curves", [])]
    return Trial(**{**kept, "curves": curves})


def class_text(number: int, choices: PartChoices) -> str:
    """The text of the class by which the unit becomes a part."""
    kept = resources.resource(number)
    return class_of_unit(
        opened(number),
        PartChoices(
            choices.name, choices.kind, kept.path, choices.names, choices.hidden, choices.shown, choices.groups,
            choices.step,
        ),
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Exchange:
    """A class of a model that is another unit, and what comes of exchanging that for this one; ``fault`` where it cannot be."""

    class_name: str
    file: str
    text: str
    plan: ExchangePlan
    fault: str = ""


def exchanges(number: int, model: str) -> list[Exchange]:
    """The units of a model that could be exchanged for a unit of the same project; one whose own file was taken in anew
    where variables of its class vanish or change. Raises :class:`NotFound`."""
    kept = resources.resource(number)
    target = target_of(projects.snapshot(kept.project_id), model)
    offered = [
        _exchange(kept, target, class_name, file)
        for class_name, file in unit_classes(target).items()
    ]
    return [
        e for e in offered if e.file != kept.path or e.fault or e.plan.vanished or e.plan.changed
    ]


def _exchange(kept: ProjectResource, target: Target, class_name: str, file: str) -> Exchange:
    unit = opened(kept.id)
    try:
        text = class_of_unit(unit, _choices_again(kept, target, class_name, file, unit))
        return Exchange(class_name, file, text, exchange_plan(target, class_name, text))
    except MovrelError as fault:
        return Exchange(class_name, file, "", ExchangePlan([]), fault.sentence())


def _choices_again(
    kept: ProjectResource, target: Target, class_name: str, file: str, unit: OpenUnit
) -> PartChoices:
    """The choices by which a class was made, as far as its text tells them, for another unit."""
    said = class_choices(target, class_name)
    names = {
        v: own for v, own in said.names.items() if v in {u.name for u in unit.description.variables}
    }
    hidden: frozenset[str] = frozenset()
    earlier = resources.by_path(kept.project_id, file)
    if earlier is not None and earlier.id != kept.id:
        # What the class left out of the earlier unit stays out; what is new comes in.
        there = {v.name for v in opened(earlier.id).description.variables}
        hidden = frozenset(there - set(said.names))
    kind = said.kind if said.kind in unit.description.interfaces else unit.description.interfaces[0]
    shown = frozenset(said.names)
    return PartChoices(class_name, kind, kept.path, names, hidden, shown, said.groups, said.step)


def keep_trial(number: int, **content: object) -> None:
    """Keep how a trial stands."""
    ProjectResource.update(trial=content).where(ProjectResource.id == number).execute()


def trial_of(run: UnitRun, interface: str) -> dict[str, object]:
    """What is kept of a run: its first curves at so many instants."""
    every = max(1, -(-len(run.time) // POINTS))
    names, units = run.names[:CURVES], run.units[:CURVES]
    messages = [m.text.strip() for m in run.messages[:50]]
    messages += [f"{name}: {texts[-1]}" for name, texts in run.texts.items()]
    if run.ended:
        messages.append(run.ended)
    return {
        "state": "done",
        "interface": interface,
        "messages": messages,
        "time": run.time[::every].tolist(),
        "curves": [
            {"name": n, "unit": u, "values": run.table[::every, k].tolist()}
            for k, (n, u) in enumerate(zip(names, units, strict=True))
        ],
    }
