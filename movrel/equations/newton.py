"""Newton's method with damping, for blocks that are solved once (at the start of a run).

Deuflhard: Newton Methods for Nonlinear Problems, 3.1: the step is shortened until the residual, each equation divided by
the size of its terms, shrinks; a singular Jacobian gives a least-squares step. When that stalls, MINPACK's hybrid method,
continuation of the residual from its value at the guess to zero (5.1 there), and a few moved starts are tried.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
#: Residual, Jacobian and sizes of the terms at given unknowns; shapes ``(n,)``, ``(n, n)`` and ``(n,)``.
Equations = Callable[[Array], tuple[Array, Array, Array]]

#: Residual and step at which the method ends, as shares of the sizes of terms and unknowns; one more step follows.
TOLERANCE = 1e-10
#: Residual, as a share of the size of its terms, that is rounding.
ROUNDING = 4 * np.finfo(float).eps
#: Share of the guess, or of the declared size, below which an unknown counts as zero.
NOTHING = 1e-6
#: Shortest part of a step that damping tries, and the share of the largest singular value below which one counts as zero.
SHORTEST_PART, SINGULAR = 1e-8, 1e-13
#: Longest and shortest stretch of a continuation.
FIRST_STRETCH, LAST_STRETCH = 0.25, 1e-4
#: Starts that are tried, the first of them not moved, and those with the hybrid method.
ATTEMPTS, HYBRID_ATTEMPTS = 16, 3
#: How far the others are moved, as a share of the size of each unknown: further each time.
FIRST_MOVE, GROWTH = 0.4, 1.3


@dataclass(frozen=True, slots=True)
class Place:
    """Where to look: a guess, declared sizes (0 where there is none) and bounds, all of shape ``(n,)``."""

    guess: Array
    nominal: Array
    low: Array
    high: Array

    @property
    def size(self) -> Array:
        return np.maximum(self.nominal, np.abs(self.guess))

    def holds(self, z: Array) -> bool:
        """Whether unknowns lie within the bounds, but for rounding."""
        slack = TOLERANCE * np.maximum(np.abs(z), self.size)
        return bool(((z >= self.low - slack) & (z <= self.high + slack)).all())


def solve(equations: Equations, place: Place) -> Array | None:
    """A zero of the equations near the guess, if possible within the bounds; None when none is found."""
    outside: Array | None = None
    with np.errstate(all="ignore"):
        for solution in _solutions(equations, place):
            if place.holds(solution):
                return solution
            if outside is None:
                outside = solution
    return outside


def _solutions(equations: Equations, place: Place) -> Iterator[Array]:
    rng = np.random.default_rng(0)
    spread = _spread(equations, place)
    for attempt in range(ATTEMPTS):
        moved = place.guess + (attempt and FIRST_MOVE * GROWTH**attempt) * spread * rng.normal(
            size=len(spread)
        )
        if attempt:
            moved = np.clip(moved, place.low, place.high)
        solution = _damped(equations, moved, place)
        if solution is None and attempt < HYBRID_ATTEMPTS:
            solution = _hybrid(equations, moved, spread, place)
        if solution is None and attempt == 0:
            solution = _continued(equations, moved, place)
        if solution is not None:
            yield solution


def _spread(equations: Equations, place: Place) -> Array:
    """How far starts are moved: the size of each unknown, or what its equations feel of it."""
    size = place.size.copy()
    if (size == 0).any():
        _, slopes, terms = equations(place.guess)
        felt = np.where(slopes != 0, terms[:, None] / np.abs(slopes), np.inf).min(axis=0)
        size = np.where(size > 0, size, np.where((felt > 0) & np.isfinite(felt), felt, 1.0))
    return size


def _sizes(z: Array, slopes: Array, terms: Array, place: Place) -> tuple[Array, Array]:
    """Sizes of the unknowns and of what the equations sum."""
    unknowns = np.maximum(np.abs(z), NOTHING * place.size)
    sums = terms + np.abs(slopes) @ unknowns
    return unknowns, np.where(np.isfinite(sums) & (sums > 0), sums, 1.0)


def _damped(equations: Equations, z: Array, place: Place) -> Array | None:
    r, slopes, terms = equations(z)
    if not np.isfinite(r).all():
        return None
    for _ in range(100):
        if not np.isfinite(slopes).all():
            return None
        unknowns, sums = _sizes(z, slopes, terms, place)
        share = float((np.abs(r) / sums).max(initial=0.0))
        step = _step(slopes, r, sums)
        small = bool((np.abs(step) <= TOLERANCE * unknowns).all())
        if share <= ROUNDING or (share <= TOLERANCE and small):
            return z + step if small and np.isfinite(equations(z + step)[0]).all() else z
        part = 1.0
        while part > SHORTEST_PART:
            trial = z + part * step
            r, slopes, terms = equations(trial)
            if np.isfinite(r).all() and (np.abs(r) / sums).max() < (1 - 0.1 * part) * share:
                break
            part *= 0.5
        else:
            return None
        z = trial
    return None


def _step(slopes: Array, r: Array, sums: Array) -> Array:
    """Newton's step, of least length where the Jacobian is singular; rows and columns are brought to one size."""
    rows = slopes / sums[:, None]
    length = np.linalg.norm(rows, axis=0)
    length[length == 0] = 1.0
    step: Array = np.linalg.lstsq(rows / length, -r / sums, rcond=SINGULAR)[0] / length
    return step


def _hybrid(equations: Equations, z: Array, spread: Array, place: Place) -> Array | None:
    from scipy.optimize import root

    _, slopes, terms = equations(z)
    _, sums = _sizes(z, slopes, terms, place)
    try:
        solution = root(
            lambda v: equations(v * spread)[0] / sums,
            z / spread,
            jac=lambda v: equations(v * spread)[1] * spread / sums[:, None],
            method="hybr",
            options={"xtol": TOLERANCE},
        )
    except (ValueError, np.linalg.LinAlgError):
        return None
    if not solution.success or not np.isfinite(solution.x).all():
        return None
    return _damped(equations, np.asarray(solution.x * spread, dtype=np.float64), place)


def _continued(equations: Equations, z: Array, place: Place) -> Array | None:
    """Follow the solution while the residual is led from what it is at the guess to zero."""
    first = equations(z)[0]
    if not np.isfinite(first).all():
        return None
    reached, stretch = 0.0, FIRST_STRETCH
    while reached < 1.0:
        left = 1.0 - min(reached + stretch, 1.0)

        def eased(at: Array, left: float = left) -> tuple[Array, Array, Array]:
            r, slopes, terms = equations(at)
            return r - left * first, slopes, terms + left * np.abs(first)

        solution = _damped(eased, z, place)
        if solution is None:
            stretch *= 0.5
            if stretch < LAST_STRETCH:
                return None
            continue
        z, reached = solution, 1.0 - left
        stretch = min(2 * stretch, FIRST_STRETCH)
    return z
