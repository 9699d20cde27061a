"""Points at which a model is run many times: lists, grids and samples of the space of its parameters.

Latin hypercubes and Sobol sequences come from SciPy (McKay, Beckman and Conover, Technometrics 21, 1979;
Sobol, USSR Comp. Math. 7, 1967, scrambled after Owen).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import scipy

from movrel.errors import MovrelError

Array = npt.NDArray[np.float64]

#: Points of one sweep at most.
MOST_POINTS = 100_000
SAMPLES = ("grid", "list", "random", "lhs", "sobol")
DISTRIBUTIONS = ("uniform", "log", "normal")


@dataclass(frozen=True, slots=True)
class Vary:
    """How one parameter varies: over given ``values``, or between two bounds.

    ``count`` points of a grid; a sample draws from the ``distribution``: uniform, log (uniform in the
    logarithm) or normal (about the middle, the bounds being two standard deviations away, cut off there).
    """

    name: str
    low: float = 0.0
    high: float = 1.0
    count: int = 5
    values: tuple[float, ...] = ()
    distribution: str = "uniform"

    def __post_init__(self) -> None:
        if self.values:
            return
        if not (math.isfinite(self.low) and math.isfinite(self.high)):
            raise MovrelError(f"the bounds of '{self.name}' must be numbers.")
        if self.low > self.high:
            raise MovrelError(
                f"'{self.name}': the lower bound {self.low:g} is above the upper one {self.high:g}."
            )
        if self.distribution not in DISTRIBUTIONS:
            raise MovrelError(
                f"there is no distribution '{self.distribution}'.",
                hint=f"Take {', '.join(DISTRIBUTIONS)}.",
            )
        if self.distribution == "log" and self.low <= 0:
            raise MovrelError(f"'{self.name}': a logarithmic distribution needs bounds above zero.")
        if self.count < 1:
            raise MovrelError(f"'{self.name}': a grid needs at least one point.")

    def grid(self) -> list[float]:
        """The values of a grid."""
        if self.values:
            return list(self.values)
        if self.distribution == "log":
            return [float(v) for v in np.geomspace(self.low, self.high, self.count)]
        return [float(v) for v in np.linspace(self.low, self.high, self.count)]

    def at(self, share: Array) -> Array:
        """Values for shares between 0 and 1, by the distribution."""
        if self.values:
            chosen = np.minimum((share * len(self.values)).astype(int), len(self.values) - 1)
            return np.array(self.values)[chosen]
        if self.distribution == "log":
            return np.asarray(self.low * (self.high / self.low) ** share)
        if self.distribution == "normal":
            cut = scipy.stats.norm.cdf(2.0)
            quantile = scipy.stats.norm.ppf((1 - cut) + share * (2 * cut - 1))
            return np.asarray(
                0.5 * (self.low + self.high) + 0.25 * (self.high - self.low) * quantile
            )
        return np.asarray(self.low + (self.high - self.low) * share)


def count_points(varied: Sequence[Vary], sample: str, count: int) -> int:
    """How many points a sweep has, without making them. Raises what :func:`points` raises."""
    if not varied:
        raise MovrelError("nothing varies.", hint="Choose a parameter and its range.")
    names = [v.name for v in varied]
    twice = next((n for n in names if names.count(n) > 1), None)
    if twice is not None:
        raise MovrelError(f"'{twice}' is varied twice.")
    if sample not in SAMPLES:
        raise MovrelError(f"there is no sample '{sample}'.", hint=f"Take {', '.join(SAMPLES)}.")
    if sample == "grid":
        count = math.prod(len(v.values) or v.count for v in varied)
    elif sample == "list":
        count = len(varied[0].values)
        if not count or any(len(v.values) != count for v in varied):
            raise MovrelError(
                "the lists of values are not equally long.",
                hint="Give one value of each for every point.",
            )
    _limit(count)
    return count


def points(
    varied: Sequence[Vary], sample: str = "grid", count: int = 100, seed: int = 1
) -> list[dict[str, float]]:
    """The points of a sweep, the same for the same seed. A ``list`` takes the given values row by row.

    Raises :class:`MovrelError` when nothing varies, a name comes twice, or the points are too many.
    """
    count = count_points(varied, sample, count)
    names = [v.name for v in varied]
    if sample == "grid":
        axes = [v.grid() for v in varied]
        return [
            dict(zip(names, combination, strict=True)) for combination in itertools.product(*axes)
        ]
    if sample == "list":
        return [
            dict(zip(names, row, strict=True))
            for row in zip(*(v.values for v in varied), strict=True)
        ]
    shares = _shares(sample, len(varied), count, seed)
    columns = [v.at(shares[:, k]) for k, v in enumerate(varied)]
    return [dict(zip(names, map(float, row), strict=True)) for row in np.column_stack(columns)]


def _limit(count: int) -> None:
    if not 1 <= count <= MOST_POINTS:
        raise MovrelError(
            f"that is {count} points.", hint=f"From 1 to {MOST_POINTS} can be run in one sweep."
        )


def _shares(sample: str, dimensions: int, count: int, seed: int) -> Array:
    if sample == "random":
        return np.random.default_rng(seed).random((count, dimensions))
    if sample == "lhs":
        return np.asarray(scipy.stats.qmc.LatinHypercube(dimensions, rng=seed).random(count))
    # A Sobol sequence is balanced for powers of two; of the next one the first points are taken.
    exponent = max(0, math.ceil(math.log2(count)))
    return np.asarray(scipy.stats.qmc.Sobol(dimensions, rng=seed).random_base2(exponent)[:count])
