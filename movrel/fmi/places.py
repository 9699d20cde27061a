"""Where the numbers of a loaded unit stand in one piece of memory, as doubles."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from movrel.errors import MovrelError
from movrel.fmi.description import Interface, UnitDescription, UnitVariable

#: A group's values of one type: the type, references, number of values, and where they begin.
GroupRow = tuple[str, list[int], int, int]
#: Where a variable's values begin, and how many they are.
Span = tuple[int, int]


@dataclass(slots=True)
class Places:
    """Parameters, inputs and outputs of a unit by type, then states, their rates, event indicators and the clock."""

    version: int
    states: int
    indicators: int
    size: int = 0
    groups: dict[str, list[GroupRow]] = field(default_factory=dict)
    at: dict[str, Span] = field(default_factory=dict)
    parameters: dict[str, Span] = field(default_factory=dict)
    inputs: dict[str, Span] = field(default_factory=dict)
    outputs: dict[str, Span] = field(default_factory=dict)

    def begins(self) -> dict[str, int]:
        """Where states, rates, indicators and the clock begin."""
        return {name: self.at[name][0] for name in ("x", "dx", "z", "clock")}

    def _room(self, name: str, count: int) -> int:
        begin = self.size
        self.at[name] = (begin, count)
        self.size += max(count, 1)
        return begin

    def _group(self, name: str, variables: Sequence[UnitVariable]) -> dict[str, Span]:
        """Lay variables out by type; gives the span of each by its name."""
        spans: dict[str, Span] = {}
        rows: list[GroupRow] = []
        for kind in dict.fromkeys(type_name(v, self.version) for v in variables):
            own = [v for v in variables if type_name(v, self.version) == kind]
            count = sum(v.count for v in own)
            begin = offset = self._room(f"{name} {kind}", count)
            for v in own:
                spans[v.name] = (offset, v.count)
                offset += v.count
            rows.append((kind, [v.reference for v in own], count, begin))
        self.groups[name] = rows
        return spans


def places_of(
    d: UnitDescription,
    interface: Interface,
    parameters: Sequence[UnitVariable],
    inputs: Sequence[UnitVariable],
    outputs: Sequence[UnitVariable],
) -> Places:
    """The places for some variables of a unit. Raises :class:`MovrelError` for texts, binary variables and clocks."""
    by_reference = d.by_reference()
    exchanged = interface == "me"
    places = Places(
        d.version,
        sum(by_reference[u.reference].count for u in d.derivatives) if exchanged else 0,
        d.event_indicators if exchanged else 0,
    )
    places.parameters = places._group("parameters", parameters)
    places.inputs = places._group("inputs", inputs)
    places.outputs = places._group("outputs", outputs)
    for name, count in (
        ("x", places.states),
        ("dx", places.states),
        ("z", places.indicators),
        ("clock", 4),
    ):
        places._room(name, count)
    # Groups of one variable each, at the places where they stand among the inputs.
    places.groups["continuous"] = [
        (type_name(v, d.version), [v.reference], v.count, places.inputs[v.name][0])
        for v in inputs
        if v.kind == "Real" and v.variability == "continuous"
    ]
    return places


def type_name(v: UnitVariable, version: int) -> str:
    """How the functions of a version name the type of a variable. Raises :class:`MovrelError` for texts and the like."""
    if v.kind in ("String", "Binary", "Clock"):
        raise MovrelError(
            f"'{v.name}' is of type {v.kind}; numbers, truth values and texts can be set and read."
        )
    if version == 2:
        return "Integer" if v.kind == "Enumeration" else v.kind
    if v.kind == "Enumeration":
        return "Int64"
    return v.width or {"Real": "Float64", "Integer": "Int32", "Boolean": "Boolean"}[v.kind]
