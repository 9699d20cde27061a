"""The units that a rig holds, each as it is loaded within one unit that contains them all."""

from __future__ import annotations

import tempfile
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path

from movrel.couple.foreign_names import foreign_feed_through, foreign_names
from movrel.couple.partition import Partition, UnitPart
from movrel.errors import MovrelError
from movrel.exchange.fmi.compiled import CompiledUnit, compiled_unit
from movrel.fmi.archive import OpenUnit, open_unit, unpack
from movrel.fmi.commands import around_library, command
from movrel.fmi.description import UnitVariable
from movrel.fmi.places import Places, places_of
from movrel.fmi.unit_process import binary_of
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.resource_files import resource_file


@dataclass(frozen=True, slots=True)
class Signal:
    """What a unit gives: a variable of the model, where there is one, and what the unit says of it."""

    variable: Variable | None
    described: UnitVariable
    place: int


@dataclass(slots=True)
class InnerUnit:
    """One unit within a rig; paths are those within the resources, places count from ``base`` on."""

    name: str
    token: str
    version: int
    library: str
    resources: str
    places: Places
    files: dict[str, bytes]
    inputs: list[Variable] = field(default_factory=list)
    outputs: list[Variable] = field(default_factory=list)
    feed_through: dict[Variable, set[Variable]] = field(default_factory=dict)
    #: The numbers that it begins with, by place.
    begins: dict[int, float] = field(default_factory=dict)
    #: What it gives; first the outputs that are coupled.
    signals: list[Signal] = field(default_factory=list)
    input_places: dict[Variable, int] = field(default_factory=dict)
    references: dict[Variable, int] = field(default_factory=dict)
    #: Where each parameter of the rig goes, and values that are to be worked out.
    parameter_places: dict[str, list[int]] = field(default_factory=dict)
    worked_out: dict[int, x.Expr] = field(default_factory=dict)
    texts: bytes = b""
    categories: bytes = b""
    #: Whether it is for model exchange: the rig integrates it.
    exchanged: bool = False
    events: bool = False
    may_return: bool = False
    takes_slopes: bool = False
    stateful: bool = True
    restores: bool = True
    stores: bool = True
    any_step: bool = True
    once: bool = False
    base: int = 0

    def around_library(self) -> tuple[bytes, bytes]:
        """The command that loads it, before and after the path of its library."""
        p = self.places
        kind = "me" if self.exchanged else "cs"
        return around_library(self.version, kind, p.begins(), p.states, p.indicators, p.groups)


def own_unit(
    part: UnitPart, number: int, set_values: Mapping[str, float], extra: Collection[str]
) -> InnerUnit:
    """A part of the model, compiled; ``extra`` names variables besides its outputs that are to be seen.

    Raises :class:`MovrelError` for a part that cannot be a unit.
    """
    assert part.flat is not None
    seen = [v.name for v in part.outputs]
    seen += [v.name for v in part.variables if v.name in extra and v.name not in seen]
    compiled = compiled_unit(part.flat, seen)
    made = compiled_inner(compiled, part.name, number, [v.name for v in part.inputs], seen)
    by_name = {v.name: v for v in part.variables}
    made.inputs, made.outputs = list(part.inputs), list(part.outputs)
    made.signals = [Signal(by_name[s.described.name], s.described, s.place) for s in made.signals]
    made.input_places = {v: made.places.inputs[v.name][0] for v in part.inputs}
    made.feed_through = {
        by_name[name]: {by_name[u] for u in compiled.feed_through.get(name, set())} for name in seen
    }
    for name, value in set_values.items():
        for place in made.parameter_places.get(name, ()):
            made.begins[place] = float(value)
    return made


def compiled_inner(
    compiled: CompiledUnit, name: str, number: int, inputs: Sequence[str], outputs: Sequence[str]
) -> InnerUnit:
    """A compiled model as a unit within another."""
    d = compiled.description
    by_name = {v.name: v for v in compiled.variables}
    chosen = [v for v in compiled.variables if v.causality == "parameter" and v.kind != "String"]
    given, shown = [by_name[n] for n in inputs], [by_name[n] for n in outputs]
    places = places_of(d, "cs", chosen, given, shown)
    library = f"units/{number}/own.so"
    begins = {
        places.parameters[v.name][0]: float(v.start[0]) for v in chosen if v.start is not None
    }
    begins |= {places.inputs[v.name][0]: float(v.start[0]) for v in given if v.start}
    return InnerUnit(
        name, d.token, d.version, library, "", places, {library: compiled.library.read_bytes()},
        begins=begins, signals=[Signal(None, v, places.outputs[v.name][0]) for v in shown],
        parameter_places={v.name: [places.parameters[v.name][0]] for v in chosen},
        stateful=any(s.kind == "MV_STATE" for s in compiled.sources),
    )  # fmt: skip


def foreign_unit(
    part: UnitPart,
    rig: Partition,
    number: int,
    values: Mapping[Variable, Scalar],
    settable: Collection[str],
    extra: Collection[str],
) -> InnerUnit:
    """A unit of others with its whole archive. Raises :class:`MovrelError` for one that cannot be loaded here."""
    own = part.foreign
    assert own is not None
    opened = open_unit(resource_file(own.file, own.folders, own.where))
    d = opened.description
    kind = own.kind
    binary = binary_of(opened, kind)
    if binary.bits != 64:
        raise MovrelError(
            f"'{own.file}' has only a 32-bit binary, which one unit cannot hold beside others.",
            own.where,
            "Ask for a 64-bit binary.",
        )
    names = foreign_names(part, rig.flat, opened)
    by_name = d.by_name()
    shown = [*part.outputs]
    shown += [
        v for v in part.variables if v in names and v not in shown
        and (v.direction == "output" or (v.name in extra and v.direction != "input"))
    ]  # fmt: skip
    rows = {names[v][0]: by_name[names[v][0]] for v in shown}
    given = {p.name: by_name[p.name] for p in own.parameters}
    reads = {i.name: by_name[i.name] for i in own.inputs}
    places = places_of(d, kind, list(given.values()), list(reads.values()), list(rows.values()))
    flags = d.flags.get(kind, {})
    exchanged = kind == "me"
    events = d.version == 3 and not exchanged and flags.get("hasEventMode") == "true"
    state = "FMUState" if d.version == 3 else "FMUstate"
    restores = flags.get(f"canGetAndSet{state}") == "true"
    folder = f"units/{number}"
    made = InnerUnit(
        part.name, d.token, d.version, f"{folder}/{binary.path}", f"{folder}/resources", places,
        _files(opened, folder), list(part.inputs), list(part.outputs),
        foreign_feed_through(part, names, d), exchanged=exchanged, events=events, may_return=events,
        takes_slopes=d.version == 2 and not exchanged and flags.get("canInterpolateInputs") == "true",
        restores=restores, stores=restores and flags.get(f"canSerialize{state}") == "true",
        any_step=exchanged or flags.get("canHandleVariableCommunicationStepSize") == "true",
        once=flags.get("canBeInstantiatedOnlyOncePerProcess") == "true",
    )  # fmt: skip
    made.texts = _texts(own.text_values(dict(values)), by_name)
    if grave := d.grave_categories():
        made.categories = command("categories", names=grave)
    _begin(made, reads, part, names, values)
    for p in own.parameters:
        place = places.parameters[p.name][0] + p.offset
        made.begins[place] = float(x.evaluate(p.value, dict(values)))
        if p.value.op == "var" and p.value.variable.name in settable:
            made.parameter_places.setdefault(p.value.variable.name, []).append(place)
        elif any(True for _ in x.variables(p.value)):
            made.worked_out[place] = p.value
    for v in shown:
        begin, offset = places.outputs[names[v][0]][0], names[v][1]
        made.signals.append(Signal(v, by_name[names[v][0]], begin + offset))
    return made


def _begin(
    made: InnerUnit,
    reads: Mapping[str, UnitVariable],
    part: UnitPart,
    names: Mapping[Variable, tuple[str, int]],
    values: Mapping[Variable, Scalar],
) -> None:
    """The inputs as they are at first."""
    for v in reads.values():
        first = made.places.inputs[v.name][0]
        if v.start:
            made.begins |= {first + k: n for k, n in enumerate([float(n) for n in v.start])}
    for port in part.inputs:
        name, offset = names[port]
        place = made.input_places[port] = made.places.inputs[name][0] + offset
        made.references[port] = reads[name].reference
        if port.start is not None:
            made.begins[place] = float(x.evaluate(port.start, dict(values)))


def _texts(texts: Mapping[str, Sequence[str]], by_name: Mapping[str, UnitVariable]) -> bytes:
    if not texts:
        return b""
    references = [by_name[name].reference for name in texts]
    return command(
        "write_texts", references=references, texts=[t for each in texts.values() for t in each]
    )


def _files(opened: OpenUnit, folder: str) -> dict[str, bytes]:
    """All files of a unit below a folder, but for its sources."""
    with tempfile.TemporaryDirectory() as place:
        root = Path(place)
        unpack(opened, root)
        return {
            f"{folder}/{name}": (root / name).read_bytes()
            for name in opened.files
            if not name.endswith("/") and not name.startswith("sources/")
        }
