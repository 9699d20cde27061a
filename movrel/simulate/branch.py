"""Implicit unknowns kept on their branch: nonlinear equations may have several solutions, of which the one goes on that
was there before.

From a guess far away Newton's method finds any of them. Where the solution is far from the guess, or there is none, it is
followed from the last one that is known, in stretches short enough for each to be near the one before (Allgower and Georg,
Introduction to Numerical Continuation Methods, SIAM 2003, 2.2).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.equations.sizes import SOLVED, Sizes
from movrel.simulate.buffered import Buffered

Array = npt.NDArray[np.float64]

#: Distance from the guess, as a share of the largest size of an unknown, that a solution may have to be believed at once;
#: and from the tangent of the branch to be believed as well, if this is not longer than the last share.
NEAR, STRAIGHT, LONG = 1e-3, 0.1, 0.5
#: Share of a residual above which a solution, though it counts as one, may be far enough off to seem another.
EXACT = 1e-9
#: Share of the way over which the tangent is taken.
AHEAD = 1e-6
#: Shortest stretch, as a share of the way.
SHORTEST = 1e-6
#: Of the way to where nothing more is near: the share that begins at a distance, the share that is close to it, and how many
#: times steeper the branch is there than at a distance where it turns round.
DISTANT, CLOSE, STEEPER = 0.1, 1e-4, 10.0
#: Distance to the end of a branch, as a share of its instant, that is none.
AT_END = 1e-7
#: Least part of the way that has to lie before its end to see how the branch comes to it, and shortest way looked at.
SEEN, SHORTEST_WAY = 0.1, 1e-12


class BranchEnded(Exception):
    """There is no solution beyond an instant, in s, and states, shape ``(states,)``, that goes on from the ones before."""

    def __init__(self, time: float, states: Array) -> None:
        super().__init__("the solution comes to an end.")
        self.time, self.state = time, states


@dataclass(frozen=True, slots=True)
class Solved:
    """A function that solves the implicit equations: ``unknowns()`` gives their solution in its last evaluation, and
    ``share`` is the place of the largest share of a residual among its results."""

    function: Buffered
    unknowns: Callable[[], Array]
    share: int
    #: Whether a solution at an instant is as near as rounding lets it be, though the residual is no small share.
    close: Callable[[float, Array, Array], bool]

    def fail(self) -> None:
        """Make the results those of an evaluation that found no solution."""
        self.function.result[:] = math.nan
        self.function.results[self.share][0] = math.inf

    def good(self, t: float, states: Array) -> bool:
        share = self.function.results[self.share][0]
        # Far away a residual may be small beside terms that are as large: infinite unknowns solve nothing.
        if not (math.isfinite(share) and np.isfinite(self.unknowns()).all()):
            return False
        return bool(share <= SOLVED) or self.close(t, states, self.unknowns())


class Branch:
    """Guesses with the instant and states to which they belong; ``newton_step(t, states)`` is the first step of
    Newton's method from them."""

    def __init__(
        self,
        guesses: Array,
        sizes: Sizes,
        states: int,
        newton_step: Callable[[float, Array], Array],
    ) -> None:
        self._guesses, self._sizes, self._newton_step = guesses, sizes, newton_step
        self._t, self._x = 0.0, np.zeros(states)
        #: Whether the last evaluation found its solution elsewhere than on the branch.
        self._left = False
        #: An instant up to which the branch could be followed towards one at which there was no solution at all.
        self._barrier = math.inf
        #: What was gone through when the branch was last followed: shares of the way, and solutions there.
        self._trail: list[tuple[float, Array]] = []

    def note(self, t: float, states: Array) -> None:
        """The present guesses are the solution at an instant."""
        self._t, self._x[:] = t, states
        if t >= self._barrier:
            self._barrier = math.inf

    def place(self) -> tuple[float, Array]:
        """Where the guesses belong: the instant and the states."""
        return self._t, self._x.copy()

    def evaluate(self, solved: Solved, t: float, states: Array, hint: Array | None = None) -> Array:
        """The first result of a function at an instant, with implicit unknowns on the branch of the guesses.

        Newton's method starts at a ``hint``, shape ``(unknowns,)``, where there is one.
        """
        guesses = self._guesses.copy()
        self._left = False
        left = self._barrier - self._t
        beyond = t > self._barrier + LONG * left and not self._stands_at_barrier()
        if beyond or not np.isfinite(states).all():
            solved.fail()
            return solved.function.result
        if hint is not None:
            self._guesses[:] = hint
        result = self._solve(solved, t, states)
        self._guesses[:] = guesses
        if solved.good(t, states) and self._believed(solved.unknowns(), t, states):
            return result
        if self._follow(solved, t, states):
            return solved.function.result
        self._guesses[:] = guesses if hint is None else hint
        result = self._solve(solved, t, states)
        self._guesses[:] = guesses
        self._left = True
        if not solved.good(t, states) and t > self._t:
            self._barrier = self._t + self._trail[-1][0] * (t - self._t)
        return result

    def _solve(self, solved: Solved, t: float, states: Array) -> Array:
        """Newton's method from the guesses; it goes on where it was cut short with a solution that is none too exact."""
        result = solved.function(t, states)
        if EXACT < solved.function.results[solved.share][0] <= SOLVED:
            guesses = self._guesses.copy()
            self._guesses[:] = solved.unknowns()
            result = solved.function(t, states)
            self._guesses[:] = guesses
        return result

    def _stands_at_barrier(self) -> bool:
        left = self._barrier - self._t
        return math.isfinite(left) and left <= AT_END * abs(self._barrier)

    def stands_at_end(self, solved: Solved) -> bool:
        """Whether the branch cannot be followed at all towards the instant of the last evaluation, which failed, as far as
        instants can be told apart."""
        if not self._stands_at_barrier():
            return False
        tried = solved.function
        t, states = float(tried.t[0]), tried.x[: len(self._x)].copy()
        begin_t, begin, guesses = self._t, self._x.copy(), self._guesses.copy()
        way = min(AT_END * abs(self._barrier) / (t - begin_t), 1.0) if t > begin_t else 1.0
        ends = not self._follow(
            solved, begin_t + way * (t - begin_t), begin + way * (states - begin)
        )
        self._guesses[:] = guesses
        self.note(begin_t, begin)
        if not ends:
            self._barrier = math.inf
        return ends

    def refuse_end(self, solved: Solved, t: float, states: Array) -> None:
        """Raise :class:`BranchEnded` if the last evaluation, at this instant, lies beyond a point at which the branch turns
        round, as the square root of a falling number does at zero.

        A solution that jumps as its equations do, or goes on behind a point at which it is steep, has no such end. The turning
        point is told by how the branch comes to it: its slope grows beyond all bounds (ibid., 2.1).
        """
        if not self._left:
            return
        begin_t, begin, guesses = self._t, self._x.copy(), self._guesses.copy()
        way, end_t, end = 1.0, t, states
        try:
            while True:
                end_t, end = begin_t + way * (t - begin_t), begin + way * (states - begin)
                if self._follow(solved, end_t, end):
                    return
                if self._trail[-1][0] >= SEEN:
                    break
                way *= max(2.0 * self._trail[-1][0], 2.0 * SHORTEST)
                if way < SHORTEST_WAY:
                    return
                self._guesses[:] = guesses
            trail = self._trail
            share, last = trail[-1]
            if self._grows_steep(trail, end_t - begin_t, begin_t, end - begin, begin):
                beyond = share + 2.0 * SHORTEST
                at, there = begin_t + beyond * (end_t - begin_t), begin + beyond * (end - begin)
                self._guesses[:] = last
                solved.function(at, there)
                size = np.maximum(self._sizes.largest, np.abs(last))
                away = np.abs(solved.unknowns() - last) > STRAIGHT * size
                if not solved.good(at, there) or away.any():
                    raise BranchEnded(
                        begin_t + share * (end_t - begin_t), begin + share * (end - begin)
                    )
        finally:
            self._guesses[:] = guesses
            self.note(begin_t, begin)
            solved.function(t, states)

    def _grows_steep(
        self,
        trail: list[tuple[float, Array]],
        way_t: float,
        begin_t: float,
        way: Array,
        begin: Array,
    ) -> bool:
        """Whether the branch grows steep towards the end of a trail, against how it was at a distance from that."""
        reached = trail[-1][0]
        early = late = 0.0
        for share, solution in trail:
            self._guesses[:] = solution
            self.note(begin_t + share * way_t, begin + share * way)
            # Backwards, as the equations may be others ahead.
            tangent = self._tangent(self._t - way_t, self._x - way)
            size = np.maximum(self._sizes.largest, np.abs(solution))
            steep = float(np.max(np.abs(tangent) / size, initial=0.0))
            if reached - share >= DISTANT * reached:
                early = max(early, steep)
            elif reached - share <= CLOSE * reached:
                late = max(late, steep)
        return late > STEEPER * early

    def _tangent(self, t: float, states: Array) -> Array:
        """How far the branch goes straight on from the guesses to an instant, shape ``(unknowns,)``."""
        step = self._newton_step(
            self._t + AHEAD * (t - self._t), self._x + AHEAD * (states - self._x)
        )
        return step / AHEAD

    def _believed(self, solution: Array, t: float, states: Array) -> bool:
        """Whether a solution belongs to the branch of the guesses: it is near, or changes as the equations say."""
        size = np.maximum(self._sizes.largest, np.abs(solution))
        change = solution - self._guesses
        if (np.abs(change) <= np.maximum(NEAR * size, self._sizes.rounding)).all():
            return True
        tangent = self._tangent(t, states)
        return bool(
            (np.abs(tangent) <= LONG * size).all()
            and (np.abs(change - tangent) <= STRAIGHT * size).all()
        )

    def _follow(self, solved: Solved, t: float, states: Array) -> bool:
        begin_t, begin, reached, stretch = self._t, self._x.copy(), 0.0, 0.5
        self._trail = [(0.0, self._guesses.copy())]
        while reached < 1.0:
            share = min(reached + stretch, 1.0)
            at, there = begin_t + share * (t - begin_t), begin + share * (states - begin)
            self._solve(solved, at, there)
            solution = solved.unknowns()
            if solved.good(at, there) and self._believed(solution, at, there):
                self._guesses[:] = solution
                self.note(at, there)
                reached = share
                self._trail.append((share, solution.copy()))
                stretch *= 2.0
                continue
            stretch *= 0.5
            if stretch < SHORTEST:
                self.note(begin_t, begin)
                return False
        return True
