"""Slopes of a run by its parameters, worked out along what the run went through.

Between events the variational equations are solved on the run's own steps. At an event the instant moves with the
parameters, as the relation that brought it says, and the slopes jump by what every round of the event does to states and
discrete variables (Galan, Feehery and Barton, Applied Numerical Mathematics 31, 1999).
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.analyse.linear_steps import NODES, LinearSteps
from movrel.analyse.moving import Directions, Move, Moving, Place
from movrel.equations.graphs import graphs_of
from movrel.equations.system import System
from movrel.errors import MovrelError
from movrel.simulate.buffered import Buffered
from movrel.simulate.columns import Columns
from movrel.simulate.dense import interpolate
from movrel.simulate.trace import Jump, Round, Stretch, Trace

Array = npt.NDArray[np.float64]

#: Numbers that are worked out at once.
AT_ONCE = 4_000_000
#: States and implicit unknowns of a model up to which its slopes are worked out here: beyond, other ways cost less.
MOST_STATES, MOST_IMPLICIT = 500, 100


class NoTangent(MovrelError):
    """The slopes of a run do not follow from its equations, for the reason given."""


def has_tangents(system: System) -> bool:
    """Whether runs of a system have slopes here: it has states, not too many, the same all the way, and no units or delays."""
    return (
        0 < len(system.states) <= MOST_STATES
        and len(system.implicit) <= MOST_IMPLICIT
        and not system.ordered.units
        and not system.memory.delays
        and not system.ordered.reduction.dynamic
    )


class Tangents:
    """Slopes of the runs of one system, by ``count`` parameters at once."""

    def __init__(self, system: System, count: int, rows: Sequence[int]) -> None:
        """``rows`` are the wanted outputs: places among states and solved unknowns."""
        self.system, self.count, self.rows = system, count, list(rows)
        self.states, self.implicit = len(system.states), len(system.implicit)
        made = graphs_of(system.ordered)
        graph = made.running
        directions = Directions(made, count)
        equations = ca.vertcat(made.rates, graph.open_residuals())
        slopes = ca.jacobian(equations, ca.vertcat(graph.x, graph.s))
        pattern = slopes.sparsity()
        self._steps = LinearSteps(
            self.states, equations.shape[0], np.array(pattern.row(), np.int64), np.array(pattern.get_col(), np.int64)
        )  # fmt: skip
        self._entries = slopes.nnz()
        entries = ca.vertcat(*slopes.nonzeros()) if slopes.nnz() else ca.SX(0, 1)
        self._variations = directions.function(
            ca.vertcat(entries, *directions.of(equations, with_states=False))
        )
        solved = [r - self.states for r in self.rows if r >= self.states]
        self._outputs = Moving(directions, made.values[solved]) if solved else None
        place = {v: k for k, v in enumerate([*system.states, *system.solved])}
        pre = [place[v] for v in system.ordered.pre.of]
        everything = ca.vertcat(graph.x, made.values)
        self._pre_from = pre
        self._pre_count = len(pre)
        # What an event needs: rates, values before the next event, relations, and what its clauses do.
        self._event = Moving(
            directions, ca.vertcat(made.rates, everything[pre], made.indicators, made.acting)
        )
        ends = np.cumsum([self.states, len(pre), made.indicators.shape[0], made.acting.shape[0]])
        self._of_rates, self._of_pre, self._of_relations, self._of_acts = (
            slice(int(a), int(b)) for a, b in zip([0, *ends[:-1]], ends, strict=True)
        )
        self._reinit_at = [place[r.state.variable] for r in system.ordered.reinits]
        self._p, self._m, self._w = (np.zeros(system.derivatives.size1_in(k)) for k in (2, 3, 4))
        self._derivatives = Buffered(system.derivatives, self._p, self._m, self._w)
        self._rates = Columns(system.derivatives)
        self._dp: Array = np.zeros((0, count))

    def along(
        self, trace: Trace, p: Array, dp: Array, dx: Array, dm: Array, instants: Array
    ) -> Array:
        """The slopes of the outputs, ``(instants, rows, count)``.

        ``dp`` ``(parameters, count)`` says how all parameters change, ``dx`` and ``dm`` how states and values before the
        event do at the first instant. Raises :class:`NoTangent` where a run does not follow from its parameters smoothly.
        """
        if trace.systems != [self.system]:
            raise NoTangent("the run went over to another form of the model.")
        if not trace.whole:
            raise NoTangent("the run has too many steps.")
        self._p[:], self._dp = p, dp
        slopes = np.zeros((len(instants), len(self.rows), self.count))
        first = 0
        try:
            for piece in trace.pieces:
                if isinstance(piece, Jump):
                    dx, dm = self._over(piece, dx, dm)
                    continue
                last = int(np.searchsorted(instants, piece.times[-1], side="right"))
                last = len(instants) if piece is trace.pieces[-1] else last
                dx, slopes[first:last] = self._through(piece, dx, dm, instants[first:last])
                first = last
        except (RuntimeError, np.linalg.LinAlgError):
            raise NoTangent("the variational equations are singular.") from None
        if not np.isfinite(slopes).all():
            raise NoTangent("the slopes are not finite.")
        return slopes

    def _solved(
        self, times: Array, states: Array, memory: Array, guesses: Array
    ) -> tuple[Array, Array]:
        """Rates ``(k, n)`` and implicit unknowns ``(k, s)`` at instants, each searched from the one before."""
        k = len(times)
        if not self.implicit:
            held = np.repeat(memory[:, None], k, axis=1)
            rates = self._rates(times, states.T, self._p, held, guesses)
            return rates[:, : self.states], np.zeros((k, 0))
        rates, solved = np.zeros((k, self.states)), np.zeros((k, self.implicit))
        self._m[:], self._w[:] = memory, guesses
        for at in range(k):
            rates[at] = self._derivatives(times[at], states[at])[: self.states]
            solved[at] = self._derivatives.results[1][: self.implicit]
            if np.isfinite(solved[at]).all():
                self._w[: self.implicit] = solved[at]
        return rates, solved

    # --- between events ---

    def _through(
        self, piece: Stretch, dx: Array, dm: Array, instants: Array
    ) -> tuple[Array, Array]:
        """The slopes of the states at the end of a stretch, and those of the outputs at instants in it."""
        times, states = piece.times, piece.states
        n, q, steps = self.states, self.count, len(times) - 1
        size = n + self.implicit
        memory = np.concatenate([piece.memory, dm.T.reshape(-1)])
        p = np.concatenate([self._p, self._dp.T.reshape(-1)])
        unused = np.zeros(n * q + q)

        def variations(at: Array, x: Array, solved: Array) -> tuple[Array, Array]:
            given = np.hstack([x, solved, np.repeat(unused[None], len(at), axis=0)])
            every = self._variations(
                at, given.T, p, np.repeat(memory[:, None], len(at), axis=1), np.zeros(0)
            )
            gains = every[:, self._entries :].reshape(-1, q, size).transpose(0, 2, 1)
            return every[:, : self._entries], gains

        rates, solved = self._solved(times, states, piece.memory, piece.guesses)
        width = np.diff(times)
        s, speed = np.zeros((steps + 1, n, q)), np.zeros((steps + 1, n, q))
        s[0] = dx
        entries, gains = variations(times[:1], states[:1], solved[:1])
        speed[0] = self._steps.speed(dx, entries[0], gains[0])
        chunk = max(1, AT_ONCE // (3 * (len(memory) + self._entries + size * q + n * q) + self._steps.numbers))  # fmt: skip
        for first in range(0, steps, chunk):
            last = min(first + chunk, steps)
            inner = times[first:last, None] + width[first:last, None] * NODES[:2]
            near = interpolate(times, states, rates, inner.reshape(-1))
            at = np.hstack([inner, times[first + 1 : last + 1, None]]).reshape(-1)
            x = np.hstack([near.reshape(-1, 2 * n), states[first + 1 : last + 1]]).reshape(-1, n)
            guesses = piece.guesses.copy()
            guesses[: self.implicit] = solved[first]
            _, within = self._solved(at, x, piece.memory, guesses)
            entries, gains = variations(at, x, within)
            s[first + 1 : last + 1], speed[first + 1 : last + 1] = self._steps.go(
                s[first],
                width[first:last],
                entries.reshape(-1, 3, self._entries),
                gains.reshape(-1, 3, size, q),
            )
        return s[-1], self._looked(piece, dm, rates, s, speed, instants)

    def _looked(
        self, piece: Stretch, dm: Array, rates: Array, s: Array, speed: Array, instants: Array
    ) -> Array:
        """The slopes of the outputs at instants of a stretch."""
        count, n, q = len(instants), self.states, self.count
        dy = np.zeros((count, len(self.rows), q))
        if not count:
            return dy
        times = piece.times
        both = np.hstack([piece.states, s.reshape(len(times), -1)])
        moving = np.hstack([rates, speed.reshape(len(times), -1)])
        whole = interpolate(times, both, moving, np.clip(instants, times[0], times[-1]))
        x, dx = whole[:, :n], whole[:, n:].reshape(count, n, q)
        direct = [k for k, r in enumerate(self.rows) if r < n]
        dy[:, direct] = dx[:, [self.rows[k] for k in direct]]
        if self._outputs is None:
            return dy
        other = [k for k in range(len(self.rows)) if k not in direct]
        _, solved = self._solved(instants, x, piece.memory, piece.guesses)
        move = Move(np.zeros(q), dx, self._dp, dm)
        chunk = max(1, AT_ONCE // (len(piece.memory) + (self.implicit + n) * (self.implicit + q)))
        for first in range(0, count, chunk):
            own = slice(first, first + chunk)
            place = Place(instants[own], x[own], solved[own], piece.memory)
            _, moved = self._outputs(place, self._p, replace(move, states=dx[own]))
            dy[own, other] = moved
        return dy

    # --- at events ---

    def _moved(self, t: float, made: Round, move: Move) -> tuple[Array, Array]:
        """All that an event needs, ``(rows,)``, and its changes, ``(rows, count)``."""
        at, x = np.array([t]), made.states[None]
        _, solved = self._solved(at, x, made.memory, made.guesses)
        values, moved = self._event(Place(at, x, solved, made.memory), self._p, move)
        return values[0], moved[0]

    def _over(self, jump: Jump, dx: Array, dm: Array) -> tuple[Array, Array]:
        """The slopes of states and values before the event after an event, at a fixed instant as those before."""
        t, still = jump.time, np.zeros(self.count)
        move = Move(still, dx[None], self._dp, dm)
        values, moved = self._moved(t, jump.begin, move)
        rates = values[self._of_rates]
        dt = still
        if jump.slots:
            dt = self._instant(jump, moved[self._of_relations], rates)
        # From here on everything moves along with the instant of the event.
        move = replace(move, time=dt, states=(dx + np.outer(rates, dt))[None])
        if any(v.variability == "continuous" for v in self.system.ordered.pre.of):
            _, moved = self._moved(t, jump.begin, move)
            move = replace(move, memory=moved[self._of_pre])
        for made in jump.rounds:
            values, moved = self._moved(t, made, move)
            states = move.states[0].copy()
            acts, pre = values[self._of_acts], moved[self._of_pre]
            for k, at in enumerate(self._reinit_at):
                if acts[k]:
                    states[at] = moved[self._of_acts][len(self._reinit_at) + k]
            for k, row in enumerate(self._pre_from):
                if row < self.states:
                    pre[k] = states[row]
            move = replace(move, states=states[None], memory=pre)
        assert jump.end is not None
        values, _ = self._moved(t, jump.end, move)
        return move.states[0] - np.outer(values[self._of_rates], dt), move.memory

    def _instant(self, jump: Jump, moved: Array, rates: Array) -> Array:
        """How the instant of an event moves: the relation that brought it stays at zero."""
        q = self.count
        onwards = Move(
            np.ones(q), np.repeat(rates[None, :, None], q, axis=2), np.zeros_like(self._dp), np.zeros((self._pre_count, q))
        )  # fmt: skip
        _, speed = self._moved(jump.time, jump.begin, onwards)
        for slot in jump.slots:
            towards = speed[self._of_relations][slot, 0]
            if towards != 0 and np.isfinite(towards):
                return np.asarray(-moved[slot] / towards)
        text = self.system.slots[jump.slots[0]].text
        raise NoTangent(f"'{text}' changes at {jump.time:g} s without crossing zero.")
