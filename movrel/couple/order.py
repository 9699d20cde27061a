"""The order in which the units of a rig are computed, and which of them depend on each other at one instant."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from graphlib import TopologicalSorter
from typing import Protocol

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from movrel.couple.partition import Connection
from movrel.model.expression import Variable


class HasPorts(Protocol):
    """What is asked of a unit: its ports, and for each output the inputs on which that depends at the same instant."""

    inputs: list[Variable]
    outputs: list[Variable]
    feed_through: dict[Variable, set[Variable]]


class Order:
    """Groups of units (numbers) in an order in which what feeds through is worked out first; a group of several is a loop."""

    def __init__(self, connections: Sequence[Connection], units: Sequence[HasPorts]) -> None:
        acts = _feed_through(connections, units)
        self.groups = _sorted(acts, len(units))
        #: Units that depend on each other, or on themselves, at the same instant.
        self.loops = [g for g in self.groups if len(g) > 1 or (g[0], g[0]) in acts]
        #: Groups that are worked out at each communication point: loops, and units through which something feeds; with
        #: whether it is a loop.
        self.at_points = [
            (g, g in self.loops)
            for g in self.groups
            if g in self.loops or any(units[g[0]].feed_through.values())
        ]


def _feed_through(
    connections: Sequence[Connection], units: Sequence[HasPorts]
) -> set[tuple[int, int]]:
    """Which unit acts on which at the same instant."""
    owner = {v: k for k, u in enumerate(units) for v in u.outputs}
    reader = {v: k for k, u in enumerate(units) for v in u.inputs}
    passed = [set().union(*u.feed_through.values()) for u in units]
    return {
        (owner[c.source], reader[c.target])
        for c in connections
        if c.source in owner and c.target in passed[reader[c.target]]
    }


def _sorted(acts: set[tuple[int, int]], n: int) -> list[list[int]]:
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


def acting_inputs(
    outputs: Sequence[Variable],
    inputs: Sequence[Variable],
    connections: Sequence[Connection],
    feed_through: Mapping[Variable, set[Variable]],
) -> dict[Variable, set[Variable]]:
    """For each signal of a rig the inputs of the rig itself on which it depends at the same instant."""
    source = {c.target: c.source for c in connections}
    own = set(inputs)
    acting: dict[Variable, set[Variable]] = {}
    for v in outputs:
        seen: set[Variable] = set()
        waiting = [v]
        while waiting:
            at = waiting.pop()
            if at in seen:
                continue
            seen.add(at)
            waiting += [source[u] for u in feed_through.get(at, ()) if u in source]
        acting[v] = seen & own
    return acting
