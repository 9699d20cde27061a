"""Newton's method with damping, for blocks that are solved once (at the start of a run).

Deuflhard: Newton Methods for Nonlinear Problems, 3.1: the step is shortened until the residual,
each equation scaled by its row of the Jacobian, shrinks; a singular Jacobian gives a least-squares
step. When that stalls, MINPACK's hybrid method and a few moved starts are tried.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]
Residual = Callable[[Array], Array]

TOLERANCE = 1e-10


def solve(residual: Residual, jacobian: Callable[[Array], Array], start: Array) -> Array | None:
    """A zero of ``residual`` near ``start``, shapes ``(n,)``; None when none is found."""
    rng = np.random.default_rng(0)
    scale = np.maximum(np.abs(start), 1.0)
    for attempt in range(8):
        moved = (
            start if attempt == 0 else start + scale * rng.normal(size=len(start)) * 0.5 * attempt
        )
        solution = _damped(residual, jacobian, moved)
        if solution is None and attempt < 3:
            solution = _hybrid(residual, jacobian, moved)
        if solution is not None:
            return solution
    return None


def _row_scale(matrix: Array, z: Array) -> Array:
    size = np.abs(matrix) @ np.maximum(np.abs(z), 1.0)
    return np.where(np.isfinite(size) & (size > 0), size, 1.0)


def _damped(residual: Residual, jacobian: Callable[[Array], Array], z: Array) -> Array | None:
    r = residual(z)
    if not np.isfinite(r).all():
        return None
    for _ in range(100):
        matrix = jacobian(z)
        if not np.isfinite(matrix).all():
            return None
        weight = 1.0 / _row_scale(matrix, z)
        size = float(np.abs(r * weight).max(initial=0.0))
        step = np.linalg.lstsq(matrix * weight[:, None], -r * weight, rcond=1e-13)[0]
        if size <= 1e-14 or (
            size <= TOLERANCE
            and np.abs(step).max(initial=0.0) <= TOLERANCE * (1 + np.abs(z).max(initial=0.0))
        ):
            return z + step if np.isfinite(residual(z + step)).all() else z
        share = 1.0
        while share > 1e-8:
            trial = z + share * step
            r_trial = residual(trial)
            if (
                np.isfinite(r_trial).all()
                and np.abs(r_trial * weight).max() < (1 - 0.1 * share) * size
            ):
                break
            share *= 0.5
        else:
            return None
        z, r = trial, r_trial
    return None


def _hybrid(residual: Residual, jacobian: Callable[[Array], Array], z: Array) -> Array | None:
    from scipy.optimize import root

    with np.errstate(all="ignore"):
        try:
            solution = root(residual, z, jac=jacobian, method="hybr", options={"xtol": 1e-12})
        except (ValueError, np.linalg.LinAlgError):
            return None
    if not solution.success or not np.isfinite(solution.x).all():
        return None
    return _damped(residual, jacobian, np.asarray(solution.x, dtype=np.float64))
