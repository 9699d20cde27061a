"""What is recorded of a rig: a column for each variable of its units, and for what passes through its own ports."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
import numpy.typing as npt

from movrel.couple.members import Member
from movrel.couple.network import Network
from movrel.couple.partition import Connection, Partition, UnitPart
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.simulate.trajectory import Column

Array = npt.NDArray[np.float64]


def recorded_of(part: UnitPart) -> list[Variable]:
    """The variables of a unit that are recorded, in the order of their columns."""
    return [v for v in part.variables if not v.generated and v.type != "String"]


def rig_columns(rig: Partition, parameters: dict[Variable, Scalar]) -> list[Column]:
    """How every variable of a rig is found in its table."""
    place: dict[Variable, int] = {}
    for part in rig.parts:
        for v in recorded_of(part):
            place[v] = len(place)
    changed = _converted(rig)
    place |= {c.target: len(place) + k for k, c in enumerate(changed)}
    units = _units(rig)
    columns: list[Column] = []
    for v in rig.flat.variables:
        if v.generated:
            continue
        unit, shown = units.get(v, (v.unit, v.display_unit))

        def column(
            at: int | None,
            constant: float = 0.0,
            kind: str = "",
            v: Variable = v,
            unit: str = unit,
            shown: str = shown,
        ) -> Column:
            return Column(v.name, unit, shown, v.description, at, 1, constant, kind or v.type)

        if v.variability in ("parameter", "constant"):
            value = parameters[v]
            if not isinstance(value, str):
                columns.append(column(None, float(value), "parameter"))
        elif v in place:
            columns.append(column(place[v]))
        elif v in rig.through and rig.through[v].source in place:
            columns.append(column(place[rig.through[v].source]))
        else:
            columns.append(column(None, start_of(v, parameters)))
    return columns


#: Strips of a first layout, and curves on one.
STRIPS, CURVES = 3, 4


def rig_layout(rig: Partition, claimed: Sequence[str] = ()) -> list[list[str]]:
    """The strips that are shown first: what is claimed, then the signals between units, those of one unit together."""
    known = {v.name: v for part in rig.parts for v in recorded_of(part)}
    names = [n for n in claimed if n in known] + [c.source.name for c in rig.connections]
    strips: dict[str, list[str]] = {}
    for name in dict.fromkeys(names):
        v = known[name]
        strips.setdefault(v.display_unit or v.unit, []).append(name)
    return [names[:CURVES] for names in list(strips.values())[:STRIPS]]


def start_of(v: Variable, parameters: dict[Variable, Scalar]) -> float:
    """The start value of an input that nothing feeds."""
    return float(x.evaluate(v.start, parameters)) if v.start is not None else 0.0


def _converted(rig: Partition) -> list[Connection]:
    """The signals through ports of the rig whose numbers change on the way."""
    return [c for c in rig.through.values() if c.converted]


def _units(rig: Partition) -> dict[Variable, tuple[str, str]]:
    """The units of signals that are declared without one, from the other end of their connection."""
    units: dict[Variable, tuple[str, str]] = {}
    for c in [*rig.connections, *rig.through.values()]:
        for one, other in ((c.source, c.target), (c.target, c.source)):
            if not one.unit and other.unit:
                units.setdefault(one, (other.unit, other.display_unit))
    return units


class Recorder:
    """Gives the row of the table for the present instant of a running rig."""

    def __init__(self, rig: Partition, members: Sequence[Member], network: Network) -> None:
        self.network = network
        self.count = sum(len(recorded_of(part)) for part in rig.parts) + len(_converted(rig))
        self._parts: list[tuple[npt.NDArray[np.int_], npt.NDArray[np.int_], Array]] = []
        self._inputs: list[tuple[npt.NDArray[np.int_], npt.NDArray[np.int_]]] = []
        at = 0
        column: dict[Variable, int] = {}
        for m in members:
            reads = {v: k for k, v in enumerate(m.inputs)}
            variables = recorded_of(m.part)
            column |= {v: at + k for k, v in enumerate(variables)}
            rows = [
                (at + k, *m.recorded[v])
                for k, v in enumerate(variables)
                if v not in reads and v in m.recorded
            ]
            fed = [(at + k, reads[v]) for k, v in enumerate(variables) if v in reads]
            self._parts.append(
                (
                    np.array([r[0] for r in rows], int),
                    np.array([r[1] for r in rows], int),
                    np.array([r[2] for r in rows], float),
                )
            )
            self._inputs.append(
                (np.array([f[0] for f in fed], int), np.array([f[1] for f in fed], int))
            )
            at += len(variables)
        through = [
            (at + k, column[c.source], c)
            for k, c in enumerate(_converted(rig))
            if c.source in column
        ]
        self._through = (
            np.array([k for k, _, _ in through], int),
            np.array([s for _, s, _ in through], int),
            np.array([c.factor for *_, c in through]),
            np.array([c.offset for *_, c in through]),
        )

    def row(self) -> Array:
        """Shape ``(count,)``; what a unit does not tell is not a number."""
        values = np.full(self.count, np.nan)
        for k, (to, at, sign) in enumerate(self._parts):
            values[to] = self.network.row(k)[at] * sign
            to_inputs, reads = self._inputs[k]
            if len(to_inputs):
                values[to_inputs] = self.network.inputs_of(k)[reads]
        to, source, factor, offset = self._through
        if len(to):
            values[to] = values[source] * factor + offset
        return values
