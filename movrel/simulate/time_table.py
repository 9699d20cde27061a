"""Relations on time alone: when they change is worked out before the run begins.

Between two instants of a grid a change of sign is found by narrowing; the grid is made finer until the number of changes
stays the same, and about every low point that nearly reaches zero.
"""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Callable

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]

#: Points of the first grid, numbers of values at most, points about a low point, rounds of narrowing.
FIRST, MOST, ABOUT, ROUNDS = 4096, 30_000_000, 64, 80


class TimeTable:
    """The instants at which functions of time change their sign, with the side on which they are then."""

    def __init__(
        self, g: Callable[[Array], Array], start: float, stop: float, inclusive: npt.NDArray[np.bool_]
    ) -> None:  # fmt: skip
        """``g`` maps instants, shape ``(n,)``, to values, shape ``(n, functions)``; zero is the upper side of functions that
        are ``inclusive``."""

        def above_at(times: Array) -> npt.NDArray[np.bool_]:
            values = g(times)
            return (values > 0) | (inclusive & (values == 0))

        grid = _grid(g, start, stop)
        above = above_at(grid)
        at, which = np.nonzero(above[1:] != above[:-1])
        instants = _narrowed(above_at, grid[at], grid[at + 1], which, above[at, which])
        order = np.argsort(instants, kind="stable")
        self._instants: list[float] = instants[order].tolist()
        self._changes = [
            (int(k), bool(side)) for k, side in zip(which[order], above[at + 1, which][order], strict=True)
        ]  # fmt: skip
        #: For each function the side at the start, and its own changes in their order.
        self._first: list[bool] = above[0].tolist()
        self._own: list[list[tuple[float, bool]]] = [[] for _ in self._first]
        for instant, (k, side) in zip(self._instants, self._changes, strict=True):
            self._own[k].append((instant, side))

    def sides(self, t: float) -> list[bool]:
        """Whether each function is on its upper side, what changes at ``t`` having changed."""
        sides: list[bool] = []
        for first, changes in zip(self._first, self._own, strict=True):
            count = bisect_right(changes, t, key=lambda change: change[0])
            sides.append(changes[count - 1][1] if count else first)
        return sides

    def after(self, t: float, rounding: float) -> list[tuple[float, int, bool]]:
        """The next changes after an instant that come together: instant, function, whether it is positive from then on."""
        first = bisect_right(self._instants, t)
        if first == len(self._instants):
            return []
        last = bisect_right(self._instants, self._instants[first] + rounding)
        return [(self._instants[k], *self._changes[k]) for k in range(first, last)]


def shortest_swing(rates: Callable[[Array], Array], start: float, stop: float) -> float:
    """The shortest time between two turning points of functions of time whose rates are given; of a single one, the longer
    time to an end; infinite without any."""
    grid = _grid(rates, start, stop)
    up = rates(grid) > 0
    shortest = np.inf
    for k in range(up.shape[1]):
        turns = grid[np.nonzero(up[1:, k] != up[:-1, k])[0]]
        if len(turns) > 1:
            shortest = min(shortest, float(np.diff(turns).min()))
        elif len(turns):
            shortest = min(shortest, max(float(turns[0]) - start, stop - float(turns[0])))
    return shortest


def _grid(g: Callable[[Array], Array], start: float, stop: float) -> Array:
    """Instants fine enough that no change is missed, as far as that can be seen."""
    count, before = FIRST, np.zeros(0)
    while True:
        grid = np.linspace(start, stop, count + 1)
        values = g(grid)
        changes = np.count_nonzero((values[1:] > 0) != (values[:-1] > 0), axis=0)
        if np.array_equal(changes, before) or 2 * count * values.shape[1] > MOST:
            break
        count, before = 2 * count, changes
    # Where three neighbours bend towards zero, a parabola says whether it may be reached in between.
    a, b, c = (np.abs(values[k : len(values) - 2 + k]) for k in range(3))
    same = (values[:-2] > 0) == (values[1:-1] > 0)
    same &= (values[2:] > 0) == (values[1:-1] > 0)
    bend = a - 2 * b + c
    with np.errstate(divide="ignore", invalid="ignore"):
        lowest = b - (c - a) ** 2 / (8 * bend)
    near = np.nonzero((same & (b <= a) & (b <= c) & (bend > 0) & (lowest < 0.5 * b)).any(axis=1))[0]
    if not len(near) or len(near) * ABOUT > MOST:
        return grid
    finer = [np.linspace(grid[i], grid[i + 2], ABOUT) for i in near.tolist()]
    return np.unique(np.concatenate([grid, *finer]))


def _narrowed(
    above: Callable[[Array], npt.NDArray[np.bool_]],
    low: Array,
    high: Array,
    which: npt.NDArray[np.int64],
    below: npt.NDArray[np.bool_],
) -> Array:
    """The instants just behind each change of sign between ``low`` and ``high``, by halving."""
    low, high = low.copy(), high.copy()
    rows = np.arange(len(low))
    for _ in range(ROUNDS):
        middle = 0.5 * (low + high)
        if not ((middle > low) & (middle < high)).any():
            break
        still = above(middle)[rows, which] == below
        low, high = np.where(still, middle, low), np.where(still, high, middle)
    return high
