"""How results of a model change when time, states, parameters and values before an event do."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.graphs import Graphs
from movrel.simulate.columns import Columns

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Place:
    """Where a model stands at ``k`` instants: states ``(k, n)``, implicit unknowns ``(k, s)``, and the memory of all."""

    time: Array
    states: Array
    implicit: Array
    memory: Array


@dataclass(frozen=True, slots=True)
class Move:
    """Changes in ``q`` directions: of time ``(q,)``, states ``(k, n, q)``, parameters ``(p, q)``, values before the event
    ``(m, q)``."""

    time: Array
    states: Array
    parameters: Array
    memory: Array


class Directions:
    """Symbols for changes in ``count`` directions over the symbols of a graph."""

    def __init__(self, made: Graphs, count: int) -> None:
        self.made, self.count = made, count
        graph, memory = made.running, made.memory
        self.pre = slice(memory.pre_at, memory.sample_at)
        self.time = ca.SX.sym("dt", count)
        self.states = ca.SX.sym("dx", graph.x.shape[0], count)
        self.parameters = ca.SX.sym("dp", graph.p.shape[0], count)
        self.memory = ca.SX.sym("dm", self.pre.stop - self.pre.start, count)

    def of(self, result: Any, with_states: bool) -> list[Any]:
        """How a result changes in each direction while the implicit unknowns stay, and time and states, too, unless they
        are to move."""
        graph, changes = self.made.running, []
        pre = self.made.memory.symbols[self.pre]
        for k in range(self.count):
            along = [(graph.p, self.parameters[:, k]), (pre, self.memory[:, k])]
            if with_states:
                along += [(graph.t, self.time[k]), (graph.x, self.states[:, k])]
            parts = [ca.jtimes(result, symbol, by) for symbol, by in along if symbol.shape[0]]
            changes.append(ca.densify(sum(parts, ca.SX.zeros(result.shape[0]))))
        return changes

    def function(self, result: Any) -> Columns:
        """``(t, [x, s, dx, dt], [p, dp], [m, dm], -) -> result``, for columns of instants."""
        graph, memory = self.made.running, self.made.memory
        inputs = [
            graph.t,
            ca.vertcat(graph.x, graph.s, ca.vec(self.states), self.time),
            ca.vertcat(graph.p, ca.vec(self.parameters)),
            ca.vertcat(memory.symbols, ca.vec(self.memory)),
            ca.SX(0, 1),
        ]
        return Columns(ca.Function("moving", inputs, [result]))


class Moving:
    """A result of a model, and how it changes along with what it is worked out from, implicit unknowns included."""

    def __init__(self, directions: Directions, result: Any) -> None:
        graph = directions.made.running
        self._rows, self._count = result.shape[0], directions.count
        self._implicit = graph.s.shape[0]
        whole = ca.vertcat(result, graph.open_residuals())
        slopes = ca.densify(ca.jacobian(whole, graph.s)) if self._implicit else ca.SX(0, 1)
        parts = [ca.densify(result), ca.vec(slopes), *directions.of(whole, with_states=True)]
        self._function = directions.function(ca.vertcat(*parts))

    def __call__(self, place: Place, p: Array, move: Move) -> tuple[Array, Array]:
        """The result, ``(k, rows)``, and its changes, ``(k, rows, q)``. Raises :class:`numpy.linalg.LinAlgError`."""
        k, rows, q, implicit = len(place.time), self._rows, self._count, self._implicit
        still = np.repeat(move.time[None], k, axis=0)
        states = move.states.transpose(0, 2, 1).reshape(k, -1)
        memory = np.concatenate([place.memory, move.memory.T.reshape(-1)])
        every = self._function(
            place.time,
            np.hstack([place.states, place.implicit, states, still]).T,
            np.concatenate([p, move.parameters.T.reshape(-1)]),
            np.repeat(memory[:, None], k, axis=1),
            np.zeros(0),
        )
        size = rows + implicit
        values, rest = every[:, :rows], every[:, rows + size * implicit :]
        moved = rest.reshape(k, q, size).transpose(0, 2, 1)
        if not implicit:
            return values, moved
        slopes = every[:, rows : rows + size * implicit].reshape(k, implicit, size)
        slopes = slopes.transpose(0, 2, 1)
        solved = np.linalg.solve(slopes[:, rows:], moved[:, rows:])
        return values, moved[:, :rows] - slopes[:, :rows] @ solved
