"""What the screen shows of a rig: its units, the signals between them, what is open, and what could be wired."""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.couple.partition import Connection, Partition, UnitPart
from movrel.couple.power import power_pairs
from movrel.couple.proposals import Proposal, proposals
from movrel.couple.recorded import start_of
from movrel.couple.rig import cut
from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError
from movrel.model.expression import Scalar, Variable
from movrel.project.rig_settings import RigSettings, rig_settings
from movrel.project.snapshot import Snapshot, definition_of, loaded_model
from movrel.units import pretty
from movrel.views.fault_view import Fault, fault_view


@dataclass(frozen=True, slots=True)
class RigUnit:
    """A unit of a rig; ``file`` of one of others."""

    name: str
    kind: str
    file: str
    inputs: list[str]
    outputs: list[str]


@dataclass(frozen=True, slots=True)
class RigSignal:
    """A connection with what happens to its numbers on the way, in words."""

    source: str
    target: str
    from_unit: str
    to_unit: str
    unit: str
    conversion: str


@dataclass(frozen=True, slots=True)
class OpenInput:
    """An input that nothing feeds, with the value that it has throughout."""

    name: str
    unit: str
    start: float


@dataclass(frozen=True, slots=True)
class RigView:
    """A model as a rig; ``settings`` None where it is computed as one model."""

    settings: RigSettings | None
    units: list[RigUnit] = field(default_factory=list)
    signals: list[RigSignal] = field(default_factory=list)
    open_inputs: list[OpenInput] = field(default_factory=list)
    proposals: list[Proposal] = field(default_factory=list)
    #: Pairs of signals whose product is power.
    power: list[str] = field(default_factory=list)
    problem: Fault | None = None


def rig_view(snapshot: Snapshot, qualified: str) -> RigView:
    """A model as a rig. Raises :class:`movrel.errors.NotFound`."""
    definition = definition_of(snapshot, qualified)
    settings = rig_settings(definition)
    try:
        rig = cut(loaded_model(snapshot, qualified))
        values = parameter_values(rig.flat, {})
        return _view(rig, settings, values)
    except MovrelError as fault:
        return RigView(settings, problem=fault_view(fault))


def _view(rig: Partition, settings: RigSettings | None, values: dict[Variable, Scalar]) -> RigView:
    owner = {v: part for part in rig.parts for v in part.variables}
    taken = {c.target for c in rig.connections}
    return RigView(
        settings,
        [_unit(part) for part in rig.parts],
        [_signal(c, owner) for c in rig.connections if not c.is_own],
        [OpenInput(v.name, v.unit, start_of(v, values)) for v in rig.unfed],
        proposals(rig.parts, taken),
        [p.name for p in power_pairs(rig)],
    )


def _unit(part: UnitPart) -> RigUnit:
    if part.foreign is None:
        kind, file = "own model", ""
    else:
        words = {"cs": "co-simulation", "me": "model exchange"}
        kind, file = words[part.foreign.kind], part.foreign.file
    inputs, outputs = ([v.name for v in part.ports(d)] for d in ("input", "output"))
    return RigUnit(part.name, kind, file, inputs, outputs)


def _signal(c: Connection, owner: dict[Variable, UnitPart]) -> RigSignal:
    words = ""
    if c.converted:
        words = f"{pretty(c.source.unit)} → {pretty(c.target.unit)}: × {c.factor:g}"
        words += f" + {c.offset:g}" if c.offset else ""
    return RigSignal(
        c.source.name, c.target.name, owner[c.source].name if c.source in owner else "", owner[c.target].name,
        c.source.unit or c.target.unit, words,
    )  # fmt: skip
