"""The signals of a running rig: which number goes where."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from movrel.couple.members import Member
from movrel.couple.order import Order
from movrel.couple.partition import Connection, Partition
from movrel.model.expression import Variable

Array = npt.NDArray[np.float64]


class Network:
    """All outputs in one vector; each unit reads its inputs from it, converted where units differ.

    The inputs of the rig itself stand behind the outputs of the units, with the values ``given``.
    """

    def __init__(
        self, rig: Partition, members: Sequence[Member], given: Mapping[Variable, float] | None = None
    ) -> None:  # fmt: skip
        self.members = list(members)
        self.connections = rig.connections
        place: dict[Variable, int] = {}
        self.spans: list[slice] = []
        for m in members:
            begin = len(place)
            for v in m.outputs:
                place[v] = len(place)
            self.spans.append(slice(begin, len(place)))
        for v in rig.outer:
            place[v] = len(place)
        self.place = place
        self.outputs = np.zeros(len(place))
        for v, value in (given or {}).items():
            self.outputs[place[v]] = value
        #: What is recorded of units that are ahead of the others, as it was when their outputs were taken over.
        self.kept_rows: dict[int, Array] = {}
        by_target = {c.target: c for c in rig.connections}
        self._reads: list[tuple[npt.NDArray[np.int_], npt.NDArray[np.int_], Array, Array]] = []
        #: Inputs at which nothing arrives stay as they were at the start.
        self.given: list[Array] = []
        #: Inputs that may be extrapolated: the others count or are true or false.
        self._smooth: list[npt.NDArray[np.bool_]] = []
        for m in members:
            fed = [(k, by_target[v]) for k, v in enumerate(m.inputs) if v in by_target]
            self._reads.append(
                (
                    np.array([k for k, _ in fed], int),
                    np.array([place[c.source] for _, c in fed], int),
                    np.array([c.factor for _, c in fed]),
                    np.array([c.offset for _, c in fed]),
                )
            )
            self.given.append(m.inputs_now())
            self._smooth.append(np.array([is_smooth(by_target.get(v)) for v in m.inputs], bool))
        begins = np.cumsum([0, *(len(m.inputs) for m in members)])
        self._input_spans = [slice(int(a), int(b)) for a, b in pairwise(begins)]
        columns = zip(*self._reads, strict=True)
        at, *rest = (list(column) for column in columns) if members else ([], [], [], [])
        shifted = [own + begin for own, begin in zip(at, begins[:-1], strict=True)]
        self._all_at, self._all_source, self._all_factor, self._all_offset = (
            np.concatenate(column) if column else np.zeros(0, int) for column in (shifted, *rest)
        )
        smooth = [own[reads[0]] for own, reads in zip(self._smooth, self._reads, strict=True)]
        self._all_smooth = np.concatenate(smooth) if smooth else np.zeros(0, bool)
        order = Order(rig.connections, members)
        self.order, self.loops, self.at_points = order.groups, order.loops, order.at_points

    def all_inputs(self, ahead: Array | None = None) -> list[Array]:
        """The same as :meth:`inputs_of` for every unit."""
        values = np.concatenate(self.given) if self.given else np.zeros(0)
        if len(self._all_at):
            numbers = self.outputs[self._all_source]
            if ahead is not None:
                numbers += np.where(self._all_smooth, ahead[self._all_source], 0.0)
            values[self._all_at] = numbers * self._all_factor + self._all_offset
        return [values[span] for span in self._input_spans]

    def inputs_of(self, k: int, ahead: Array | None = None) -> Array:
        """The inputs of a unit from the present outputs; ``ahead`` is added to these first where a signal is smooth."""
        at, source, factor, offset = self._reads[k]
        values = self.given[k].copy()
        if len(at):
            numbers = self.outputs[source]
            if ahead is not None:
                numbers = numbers + np.where(self._smooth[k][at], ahead[source], 0.0)
            values[at] = numbers * factor + offset
        return values

    def slopes_of(self, k: int, slopes: Array) -> Array:
        """The time derivatives of the inputs of a unit."""
        at, source, factor, _ = self._reads[k]
        values = np.zeros(len(self.given[k]))
        values[at] = np.where(self._smooth[k][at], slopes[source] * factor, 0.0)
        return values

    def row(self, k: int) -> Array:
        """What is recorded of a unit."""
        kept = self.kept_rows.get(k)
        return kept if kept is not None else self.members[k].row()

    def collect(self, k: int) -> None:
        """Take over the outputs of a unit."""
        self.outputs[self.spans[k]] = self.members[k].outputs_now()
        if k in self.kept_rows:
            self.kept_rows[k] = self.members[k].row().copy()


def is_smooth(c: Connection | None) -> bool:
    """Whether a signal may be extrapolated."""
    return c is not None and c.source.type == "Real" and c.source.variability == "continuous"
