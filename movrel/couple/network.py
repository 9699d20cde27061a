"""The signals of a running rig: which number goes where, in which order units are computed, and which loops there are."""

from __future__ import annotations

from collections.abc import Sequence
from graphlib import TopologicalSorter
from itertools import pairwise

import numpy as np
import numpy.typing as npt
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from movrel.couple.members import Member
from movrel.couple.partition import Connection, Partition
from movrel.model.expression import Variable

Array = npt.NDArray[np.float64]


class Network:
    """All outputs in one vector; each unit reads its inputs from it, converted where units differ."""

    def __init__(self, rig: Partition, members: Sequence[Member]) -> None:
        self.members = list(members)
        self.connections = rig.connections
        place: dict[Variable, int] = {}
        self.spans: list[slice] = []
        for m in members:
            begin = len(place)
            for v in m.outputs:
                place[v] = len(place)
            self.spans.append(slice(begin, len(place)))
        self.place = place
        self.outputs = np.zeros(len(place))
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
            self._smooth.append(np.array([_is_smooth(by_target.get(v)) for v in m.inputs], bool))
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
        acts = self._feed_through()
        #: Groups of units in an order in which what feeds through is worked out first; a group of several is a loop.
        self.order = self._sorted(acts)
        #: Units that depend on each other, or on themselves, at the same instant.
        self.loops = [g for g in self.order if len(g) > 1 or (g[0], g[0]) in acts]

    def _feed_through(self) -> set[tuple[int, int]]:
        """Which unit acts on which at the same instant."""
        owner = {v: k for k, m in enumerate(self.members) for v in m.outputs}
        reader = {v: k for k, m in enumerate(self.members) for v in m.inputs}
        passed = [set().union(*m.feed_through.values()) for m in self.members]
        return {
            (owner[c.source], reader[c.target])
            for c in self.connections
            if c.target in passed[reader[c.target]]
        }

    def _sorted(self, acts: set[tuple[int, int]]) -> list[list[int]]:
        n = len(self.members)
        pairs = sorted(acts)
        rows, columns = [a for a, _ in pairs], [b for _, b in pairs]
        graph = coo_array((np.ones(len(pairs)), (rows, columns)), shape=(n, n))
        _, group = connected_components(graph, connection="strong")
        first = {int(g): int(np.flatnonzero(group == g)[0]) for g in group}
        sorter: TopologicalSorter[int] = TopologicalSorter({g: set() for g in first})
        for a, b in pairs:
            if group[a] != group[b]:
                sorter.add(int(group[b]), int(group[a]))
        sorter.prepare()
        order: list[list[int]] = []
        while sorter.is_active():
            for g in sorted(sorter.get_ready(), key=first.__getitem__):
                order.append([int(k) for k in np.flatnonzero(group == g)])
                sorter.done(g)
        return order

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


def _is_smooth(c: Connection | None) -> bool:
    return c is not None and c.source.type == "Real" and c.source.variability == "continuous"
