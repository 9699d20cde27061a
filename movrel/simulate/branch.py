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
#: Share of the way over which the tangent is taken.
AHEAD = 1e-6
#: Shortest stretch, as a share of the way.
SHORTEST = 1e-6


@dataclass(frozen=True, slots=True)
class Solved:
    """A function that solves the implicit equations: ``unknowns()`` gives their solution in its last evaluation, and
    ``share`` is the place of the largest share of a residual among its results."""

    function: Buffered
    unknowns: Callable[[], Array]
    share: int
    #: Whether a solution at an instant is as near as rounding lets it be, though the residual is no small share.
    close: Callable[[float, Array, Array], bool]

    def good(self, t: float, states: Array) -> bool:
        share = self.function.results[self.share][0]
        return bool(share <= SOLVED) or (
            math.isfinite(share) and self.close(t, states, self.unknowns())
        )


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

    def note(self, t: float, states: Array) -> None:
        """The present guesses are the solution at an instant."""
        self._t, self._x[:] = t, states

    def place(self) -> tuple[float, Array]:
        """Where the guesses belong: the instant and the states."""
        return self._t, self._x.copy()

    def evaluate(self, solved: Solved, t: float, states: Array, hint: Array | None = None) -> Array:
        """The first result of a function at an instant, with implicit unknowns on the branch of the guesses.

        Newton's method starts at a ``hint``, shape ``(unknowns,)``, where there is one.
        """
        guesses = self._guesses.copy()
        if hint is not None:
            self._guesses[:] = hint
        result = solved.function(t, states)
        self._guesses[:] = guesses
        if solved.good(t, states) and self._believed(solved.unknowns(), t, states):
            return result
        if self._follow(solved, t, states):
            return solved.function.result
        self._guesses[:] = guesses if hint is None else hint
        result = solved.function(t, states)
        self._guesses[:] = guesses
        return result

    def _believed(self, solution: Array, t: float, states: Array) -> bool:
        """Whether a solution belongs to the branch of the guesses: it is near, or changes as the equations say."""
        size = np.maximum(self._sizes.largest, np.abs(solution))
        change = solution - self._guesses
        if (np.abs(change) <= NEAR * size).all():
            return True
        tangent = self._newton_step(
            self._t + AHEAD * (t - self._t), self._x + AHEAD * (states - self._x)
        )
        tangent /= AHEAD
        return bool(
            (np.abs(tangent) <= LONG * size).all()
            and (np.abs(change - tangent) <= STRAIGHT * size).all()
        )

    def _follow(self, solved: Solved, t: float, states: Array) -> bool:
        begin_t, begin, reached, stretch = self._t, self._x.copy(), 0.0, 0.5
        while reached < 1.0:
            share = min(reached + stretch, 1.0)
            at, there = begin_t + share * (t - begin_t), begin + share * (states - begin)
            solved.function(at, there)
            solution = solved.unknowns()
            if solved.good(at, there) and self._believed(solution, at, there):
                self._guesses[:] = solution
                self.note(at, there)
                reached = share
                stretch *= 2.0
                continue
            stretch *= 0.5
            if stretch < SHORTEST:
                self.note(begin_t, begin)
                return False
        return True
