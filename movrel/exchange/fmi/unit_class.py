"""The class by which a unit of others becomes a part: its text, from what the unit says of itself."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

from movrel.errors import MovrelError, UnitFault
from movrel.fmi.archive import OpenUnit
from movrel.fmi.description import Interface, UnitDescription, UnitVariable
from movrel.language.class_annotation import TILE, quoted
from movrel.language.names import FUNCTIONS, RESERVED, is_name
from movrel.units import unit

#: Communication step in s where the unit suggests none: this share of its default experiment, else 10 ms.
SHARE, STEP = 500, 0.01
_PORTS = {
    ("input", "Real"): "SignalIn", ("output", "Real"): "SignalOut", ("input", "Boolean"): "LogicIn",
    ("output", "Boolean"): "LogicOut", ("input", "Integer"): "CountIn", ("output", "Integer"): "CountOut",
}  # fmt: skip
_STEM = re.compile(r"([^._\[]+)[._\[]")
_SETTABLE = ("parameter", "structuralParameter")


@dataclass(frozen=True, slots=True)
class PartChoices:
    """How a unit becomes a part: ``names`` are the class's names of variables that are called otherwise there,
    ``hidden`` those that do not appear, ``shown`` internal ones that do; ``groups`` are the headings under which inputs and
    outputs stand on the symbol."""

    name: str
    kind: Interface
    file: str
    names: Mapping[str, str] = field(default_factory=dict)
    hidden: frozenset[str] = frozenset()
    shown: frozenset[str] = frozenset()
    groups: Mapping[str, str] = field(default_factory=dict)
    step: float | None = None


def can_be_shown(v: UnitVariable) -> bool:
    """Whether a variable can appear in a part: numbers and truth values can, and texts that are set."""
    if v.kind == "String":
        return is_settable(v)
    return v.kind not in ("Binary", "Clock") and v.causality != "independent"


def left_out(d: UnitDescription) -> str:
    """What of a unit cannot be used here, in a sentence; empty when everything can."""
    names = [f"'{v.name}' ({v.kind})" for v in d.variables if v.kind in ("Binary", "Clock")]
    if not names:
        return ""
    listed = ", ".join(names[:5]) + (f" and {len(names) - 5} more" if len(names) > 5 else "")
    return f"Left as they are: {listed}. Numbers, truth values and texts can be used."


def is_settable(v: UnitVariable) -> bool:
    """Whether it is a parameter in a part; a text that is an input is, as no signal carries texts."""
    text = v.kind == "String" and v.causality == "input"
    return (text or v.causality in _SETTABLE) and v.variability != "constant"


def names_in_class(d: UnitDescription, given: Mapping[str, str] | None = None) -> dict[str, str]:
    """What each variable is called in the class: as in the unit where that is a name there, else much like it.

    Raises :class:`MovrelError` for a given name that is none, or that two have.
    """
    given = given or {}
    names: dict[str, str] = {}
    used: set[str] = set()
    for name, wanted in given.items():
        if not is_name(wanted) or wanted in used:
            raise MovrelError(
                f"'{wanted}' cannot be the name of '{name}'"
                + (", another variable has it." if wanted in used else "."),
                hint="Use letters, digits and _, beginning with a letter.",
            )
        names[name] = wanted
        used.add(wanted)
    for v in d.variables:
        if v.name in names:
            continue
        stem = re.sub(r"\W+", "_", v.name, flags=re.ASCII).strip("_") or "value"
        if not is_name(stem) or stem in RESERVED | FUNCTIONS:
            stem = f"v_{stem}"
        free, k = stem, 2
        while free in used:
            free, k = f"{stem}_{k}", k + 1
        names[v.name] = free
        used.add(free)
    return names


def terminal_of(d: UnitDescription) -> dict[str, str]:
    """The terminal to which each variable belongs, by its name."""
    return {name: t.name for t in d.terminals for name in t.members.values()}


def name_groups(names: Sequence[str]) -> dict[str, str]:
    """The beginning that each name shares with others, up to a dot, an underscore or a bracket; names alone have none."""
    stems = {n: _STEM.match(n) for n in names}
    shared = Counter(m[1] for m in stems.values() if m)
    return {n: m[1] for n, m in stems.items() if m and shared[m[1]] > 1}


def suggested_step(d: UnitDescription) -> float:
    """A communication step in s."""
    e = d.experiment
    if e.step:
        return e.step
    return (e.stop - (e.start or 0.0)) / SHARE if e.stop else STEP


def class_of_unit(opened: OpenUnit, choices: PartChoices) -> str:
    """The text of the class. Raises :class:`MovrelError` for choices that do not fit the unit."""
    d = opened.description
    if choices.kind not in d.interfaces:
        raise MovrelError(f"the unit does not offer '{choices.kind}'.")
    if not is_name(choices.name):
        raise MovrelError(
            f"'{choices.name}' cannot be a name.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    names = names_in_class(d, choices.names)
    states = _state_numbers(d) if choices.kind == "me" else {}
    seen: set[tuple[str, int]] = set()
    parameters: list[str] = []
    inputs: list[UnitVariable] = []
    outputs: list[UnitVariable] = []
    inner: list[str] = []
    for v in d.variables:
        key = ("Integer" if v.kind == "Enumeration" else v.kind, v.reference)
        wanted = v.name not in choices.hidden and key not in seen
        if not can_be_shown(v) or not wanted:
            continue
        if is_settable(v):
            parameters.append(_declaration(v, names[v.name], d, {}))
        elif v.causality == "input":
            inputs.append(v)
        elif v.causality == "output":
            outputs.append(v)
        elif v.name in choices.shown or (v.reference in states and v.kind == "Real"):
            inner.append(_declaration(v, names[v.name], d, states))
        else:
            continue
        seen.add(key)
    lines = [f"block {choices.name}{_text(d.description or d.name)}"]
    lines += [f"  {line}" for line in parameters]
    if choices.kind == "cs":
        period = choices.step or suggested_step(d)
        step = "communication_step"
        while step in names.values():
            step += "_"
        lines.append(
            f'  parameter Real {step}(unit="s", min=1e-9) = {period:.15g} "Time between two exchanges of inputs and outputs" '
            "annotation (__Movrel(step=true));"
        )
    columns = [_column(ports, names, choices.groups) for ports in (inputs, outputs)]
    for column, side in zip(columns, (-100.0, 100.0), strict=True):
        for k, row in enumerate(column):
            if row.variable is not None:
                v, place = row.variable, _place(side, k, len(column))
                group = choices.groups.get(v.name, "")
                lines.append(f"  {_declaration(v, names[v.name], d, states, place, group)}")
    if inner:
        lines += ["protected", *(f"  {line}" for line in inner)]
    lines += _annotation(opened, choices, *columns)
    lines.append(f"end {choices.name};")
    return "\n".join(lines)


def _state_numbers(d: UnitDescription) -> dict[int, int]:
    """The number of the first element of each state, counted from 1, by reference."""
    by_reference = d.by_reference()
    numbers: dict[int, int] = {}
    position = 1
    for unknown in d.derivatives:
        derivative = by_reference[unknown.reference]
        if derivative.derivative_of is not None:
            numbers[derivative.derivative_of] = position
        position += derivative.count
    return numbers


def _declaration(
    v: UnitVariable, name: str, d: UnitDescription, states: Mapping[int, int], place: str = "", group: str = "",
) -> str:  # fmt: skip
    kind = "Integer" if v.kind == "Enumeration" else v.kind
    port = _PORTS.get((v.causality, kind))
    kept = is_settable(v)
    attributes = _attributes(v, kind, bounds=kept)
    size = f"[{', '.join(map(str, v.sizes))}]" if v.sizes else ""
    head = f"Movrel.Signals.{port}" if port else f"parameter {kind}" if kept else kind
    value = f" = {_value(v, kind)}" if kept and v.start is not None else ""
    said = [f"variable={quoted(v.name)}"] if name != v.name else []
    if kind == "Real" and v.reference in states:
        said.append(f"state={states[v.reference]}")
    if group:
        said.append(f"group={quoted(group)}")
    notes = ([place] if place else []) + ([f"__Movrel({', '.join(said)})"] if said else [])
    words = v.description
    if v.enumeration:
        meaning = ", ".join(f"{i} {item}" for i, item in enumerate(v.enumeration, 1))
        words = f"{words} ({meaning})" if words else meaning
    annotation = f" annotation ({', '.join(notes)})" if notes else ""
    return f"{head} {name}{size}{attributes}{value}{_text(words)}{annotation};"


def _attributes(v: UnitVariable, kind: str, bounds: bool) -> str:
    each = "each " if v.sizes else ""
    items: list[str] = []
    if kind == "Real":
        items += [
            f"{each}{name}={quoted(text)}"
            for name, text in (("unit", v.unit), ("displayUnit", v.display_unit))
            if text and _is_known(text)
        ]
    if bounds and kind in ("Real", "Integer"):
        items += [
            f"{each}{name}={_number(value, kind)}"
            for name, value in (("min", v.minimum), ("max", v.maximum))
            if value is not None
        ]
    return f"({', '.join(items)})" if items else ""


def _is_known(text: str) -> bool:
    try:
        unit(text)
    except UnitFault:
        return False
    return True


def _number(value: float | str, kind: str) -> str:
    if kind == "String":
        return quoted(str(value))
    if kind == "Boolean":
        return "true" if float(value) else "false"
    return f"{int(float(value))}" if kind == "Integer" else repr(float(value))


def _value(v: UnitVariable, kind: str) -> str:
    """The start value, an array in braces."""
    assert v.start is not None
    numbers = [_number(n, kind) for n in v.start]
    for size in reversed(v.sizes):
        numbers = [
            "{" + ", ".join(numbers[i : i + size]) + "}" for i in range(0, len(numbers), size)
        ]
    return numbers[0]


def _text(words: str) -> str:
    return f" {quoted(' '.join(words.split()))}" if words.strip() else ""


@dataclass(frozen=True, slots=True)
class _Row:
    """A line on one side of the symbol: the heading of a group, or a port."""

    words: str
    variable: UnitVariable | None = None


def _column(
    ports: Sequence[UnitVariable], names: Mapping[str, str], groups: Mapping[str, str]
) -> list[_Row]:
    """The lines of one side: each group stands together under its heading, where its first port would stand."""
    rows: list[_Row] = []
    done: set[str] = set()
    for v in ports:
        group = groups.get(v.name, "")
        if not group:
            rows.append(_Row(names[v.name], v))
        elif group not in done:
            done.add(group)
            rows.append(_Row(group))
            stem = re.sub(r"\W+", "_", group, flags=re.ASCII) + "_"
            rows += [
                _Row(names[u.name].removeprefix(stem), u)
                for u in ports
                if groups.get(u.name) == group
            ]
    return rows


def _height(k: int, count: int) -> tuple[float, float]:
    """Where the port number ``k`` of one side stands, and half of its size."""
    return round(100 - 200 * (k + 1) / (count + 1), 1), min(10.0, round(80 / max(count, 1), 1))


def _place(side: float, k: int, count: int) -> str:
    y, half = _height(k, count)
    x = side + (half if side > 0 else -half)
    extent = f"{{{{{x - half:g},{y - half:g}}},{{{x + half:g},{y + half:g}}}}}"
    return f"Placement(transformation(extent={extent}))"


def _annotation(
    opened: OpenUnit, choices: PartChoices, inputs: Sequence[_Row], outputs: Sequence[_Row]
) -> list[str]:
    """The symbol, a tile with the names of the ports, and which unit it is."""
    graphics = [TILE[0], 'Text(extent={{-150,140},{150,104}}, textString="%name")']
    for column, x in ((inputs, (-92, -4)), (outputs, (4, 92))):
        side = "Left" if column is inputs else "Right"
        for k, row in enumerate(column):
            y, half = _height(k, len(column))
            graphics.append(
                f"Text(extent={{{{{x[0]},{y - half:g}}},{{{x[1]},{y + half:g}}}}}, textString={quoted(row.words)}, "
                f"horizontalAlignment=TextAlignment.{side})"
            )
            if row.variable is None:
                graphics.append(
                    f"Line(points={{{{{x[0]},{y - half:g}}},{{{x[1]},{y - half:g}}}}}, color={140, 140, 140})"
                )
    drawn = ",\n      ".join(graphics)
    d = opened.description
    counts = ""
    if choices.kind == "me":
        by_reference = d.by_reference()
        count = sum(by_reference[u.reference].count for u in d.derivatives)
        counts = f", states={count}, indicators={d.event_indicators}"
    made = f"Unit(file={quoted(choices.file)}, kind={quoted(choices.kind)}{counts})"
    return [f"  annotation (Icon(graphics={{\n      {drawn}}}),", f"    __Movrel(unit={made}));"]
