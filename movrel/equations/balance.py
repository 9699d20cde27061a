"""Whether a component by itself has as many equations as unknowns, as its author must know (specification 4.7).

A physical port brings, from whatever it will be connected to, one equation for each of its flows; an
input is given from outside.
"""

from __future__ import annotations

from collections import defaultdict
from dataclasses import dataclass, field

from movrel.equations.occurrence import incidence
from movrel.matching import match
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation, FlatModel


@dataclass(slots=True)
class Balance:
    unknowns: int
    equations: int
    #: How many of the equations come through ports.
    through_ports: int
    open: list[str] = field(default_factory=list)
    surplus: list[FlatEquation] = field(default_factory=list)

    @property
    def words(self) -> str:
        """The state of affairs in a sentence, empty when all is well."""
        parts = []
        if self.open:
            n = len(self.open)
            parts.append(
                f"{n} unknown{'s' if n > 1 else ''} without an equation: {', '.join(self.open)}"
            )
        if self.surplus:
            n = len(self.surplus)
            parts.append(
                f"{n} equation{'s' if n > 1 else ''} too many: {'; '.join(e.as_written() for e in self.surplus[:3])}"
            )
        return ". ".join(parts)


def balance(flat: FlatModel, ports: set[str]) -> Balance:
    """Match equations with unknowns; ``ports`` are the names of the physical ports of the component."""
    unknowns = [v for v in flat.unknowns() if not v.generated and not v.stream]
    own = [e for e in flat.equations if e.kind != "unconnected flow"]
    number = {v: i for i, v in enumerate(unknowns)}
    rows = incidence(own, unknowns)
    members: dict[str, list[Variable]] = defaultdict(list)
    for v in unknowns:
        if v.component in ports or any(v.component.startswith(p + ".") for p in ports):
            members[v.component].append(v)
    boundary: list[list[int]] = []
    for inside in members.values():
        flows = [v for v in inside if v.flow]
        boundary += [[number[v] for v in inside] for _ in flows]
    # What ports bring comes first: no equation of the component may take its place.
    column_of, row_of = match([*boundary, *rows], len(unknowns), len(boundary))
    missing = [unknowns[c] for c, r in enumerate(row_of) if r < 0]
    # Of the unknowns that could be the open ones, the component's own are named, not those of ports.
    named = [_preferred(v, unknowns, [*boundary, *rows], column_of, ports) for v in missing]
    surplus = [own[r] for r, c in enumerate(column_of[len(boundary) :]) if c < 0]
    return Balance(
        len(unknowns),
        len(own) + len(boundary),
        len(boundary),
        sorted(dict.fromkeys(named)),
        surplus,
    )


def _preferred(
    v: Variable,
    unknowns: list[Variable],
    rows: list[list[int]],
    column_of: list[int],
    ports: set[str],
) -> str:
    if v.component not in ports:
        return v.name
    by_column: dict[int, list[int]] = defaultdict(list)
    for r, row in enumerate(rows):
        for c in row:
            by_column[c].append(r)
    seen: set[int] = set()
    stack = [next(i for i, u in enumerate(unknowns) if u is v)]
    while stack:
        c = stack.pop()
        if c in seen:
            continue
        seen.add(c)
        if unknowns[c].component not in ports:
            return unknowns[c].name
        stack += [column_of[r] for r in by_column[c] if column_of[r] >= 0]
    return v.name
