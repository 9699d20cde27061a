"""Intervals of fitted values that do not take the model for a straight line, or the noise for white: on demand, as they cost
many fits.

Profiles of the likelihood: Bates and Watts, Nonlinear Regression Analysis, 1988, 6.1. The moving-block bootstrap of
residuals: Künsch, The jackknife and the bootstrap for general stationary observations, Ann. Stat. 17, 1989.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import scipy

from movrel.analyse.fit import Fit
from movrel.analyse.fit_certainty import CONFIDENCE
from movrel.analyse.residuals import agreement
from movrel.errors import MovrelError

Array = npt.NDArray[np.float64]

#: Points of a profile at each side at most; how far the first lies, as a share of what a straight line would have, and each
#: next one beyond the one before, as a share of the distance from the value.
POINTS, FIRST, FARTHER = 12, 0.35, 0.5
#: Fits of a bootstrap at most.
MOST = 2000


@dataclass(frozen=True, slots=True)
class Profile:
    """Values of one parameter, rising, with the weighted residual that the others leave at best, and the residual up to which a
    value is within the interval. An end of the interval is None where a bound comes first."""

    name: str
    experiment: str
    values: list[float]
    costs: list[float]
    limit: float
    low: float | None
    high: float | None


@dataclass(frozen=True, slots=True)
class Resampled:
    """The interval of one parameter from fits to resampled residuals, and its values in these fits."""

    name: str
    experiment: str
    low: float
    high: float
    values: list[float]


def _unknown(fit: Fit, name: str, experiment: str) -> int:
    for k, (f, own) in enumerate(fit.free):
        if f.name == name and own == experiment:
            return k
    raise MovrelError(f"the fit has no parameter '{name}'.")


def profile(fit: Fit, name: str, experiment: str = "") -> Profile:
    """The profile of one parameter of a fit that was run. Raises :class:`MovrelError` for a name that there is not."""
    k = _unknown(fit, name, experiment)
    f, _ = fit.free[k]
    low, high = fit.bounds[0][k], fit.bounds[1][k]
    best = float(np.sum(fit.residual(fit.theta) ** 2))
    freedoms = max(fit.count - len(fit.free), 1)
    remembered = _inflation(fit)
    limit = best * (1.0 + remembered * float(scipy.stats.f.ppf(CONFIDENCE, 1, freedoms)) / freedoms)
    slopes = fit.slopes(fit.theta)
    deviation = np.sqrt(limit - best) / max(float(np.linalg.norm(_own_part(slopes, k))), 1e-300)
    points = [(float(fit.theta[k]), best)]
    ends: list[float | None] = []
    for side, bound in ((-1.0, low), (1.0, high)):
        step, theta, last = (
            min(FIRST * deviation, abs(bound - fit.theta[k])),
            fit.theta,
            (0.0, best),
        )
        end = None
        for _ in range(POINTS):
            at = fit.theta[k] + side * step
            cost, theta = fit.with_one_held(k, at, theta)
            points.append((at, cost))
            if cost >= limit:
                # Between the last two the root of the excess is nearly straight.
                inner, outer = (np.sqrt(max(c - best, 0.0)) for c in (last[1], cost))
                share = (np.sqrt(limit - best) - inner) / max(outer - inner, 1e-300)
                end = fit.theta[k] + side * (last[0] + share * (step - last[0]))
                break
            if at in (low, high):
                break
            last = step, cost
            step = min(step * (1 + FARTHER), abs(bound - fit.theta[k]))
        ends.append(None if end is None else f.outer(float(end)))
    points.sort()
    return Profile(
        name, experiment, [f.outer(v) for v, _ in points], [c for _, c in points], limit, ends[0], ends[1]
    )  # fmt: skip


def _own_part(slopes: Array, k: int) -> Array:
    """The part of a column of slopes that the others cannot make up for."""
    others = np.delete(slopes, k, axis=1)
    if not others.shape[1]:
        return np.asarray(slopes[:, k])
    fitted, *_ = np.linalg.lstsq(others, slopes[:, k], rcond=None)
    return np.asarray(slopes[:, k] - others @ fitted)


def _inflation(fit: Fit) -> float:
    """By how much a residual that remembers its past makes variances larger, at most over the outputs."""
    predicted = fit.predicted(fit.theta)
    return max(
        agreement(np.asarray(y, float), p[o]).inflation
        for d, p in zip(fit.data, predicted, strict=True)
        for o, y in d.outputs.items()
    )


def bootstrap(fit: Fit, count: int = 100, seed: int = 1) -> list[Resampled]:
    """Intervals of all parameters of a fit that was run, by as many fits to its own prediction with residuals drawn in blocks,
    which keep what the noise remembers. Raises :class:`MovrelError` for a count out of range."""
    if not 20 <= count <= MOST:
        raise MovrelError(f"{count} fits were asked for.", hint=f"Ask for 20 to {MOST}.")
    chance = np.random.default_rng(seed)
    predicted = fit.predicted(fit.theta)
    found: list[Array] = []
    for _ in range(count):
        drawn = [
            {o: _resampled(np.asarray(y, float), p[o], chance) for o, y in d.outputs.items()}
            for d, p in zip(fit.data, predicted, strict=True)
        ]
        found.append(fit.found_again(drawn))
    table = np.array(found)
    tail = 100 * (1 - CONFIDENCE) / 2
    resampled: list[Resampled] = []
    for k, (f, own) in enumerate(fit.free):
        values = [f.outer(float(v)) for v in table[:, k]]
        low, high = np.percentile(values, [tail, 100 - tail])
        resampled.append(Resampled(f.name, own, float(low), float(high), sorted(values)))
    return resampled


def _resampled(measured: Array, predicted: Array, chance: np.random.Generator) -> Array:
    """A prediction with the residuals of an output, centred and drawn in blocks; nothing where nothing was measured."""
    good = np.isfinite(measured)
    residual = (measured - predicted)[good]
    residual = residual - residual.mean()
    n = len(residual)
    length = _block(residual)
    starts = chance.integers(0, max(n - length, 0) + 1, -(-n // length))
    drawn = np.concatenate([residual[k : k + length] for k in starts])[:n]
    made = np.full(len(measured), np.nan)
    made[good] = predicted[good] + drawn
    return made


def _block(residual: Array) -> int:
    """The length of blocks: some times what the residual remembers, at least the cube root of its length."""
    n = len(residual)
    bound = 1.96 / np.sqrt(n)
    around = residual - residual.mean()
    total = float(around @ around)
    remembered = 1
    for lag in range(1, n // 4):
        if total <= 0 or abs(float(around[:-lag] @ around[lag:])) / total <= bound:
            break
        remembered = lag + 1
    return int(min(max(3 * remembered, round(n ** (1 / 3)), 1), max(n // 4, 1)))
