"""How sure fitted values are: intervals, correlation, and what the data cannot tell.

Intervals from the covariance at the optimum (Bates and Watts, Nonlinear Regression Analysis, 1988), widened where the
residual is correlated.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import TypeAlias

import numpy as np
import numpy.typing as npt
import scipy

from movrel.analyse.fit_result import Fitted
from movrel.analyse.free_parameter import Free
from movrel.analyse.residuals import Agreement

Array = npt.NDArray[np.float64]
#: A free parameter, and the experiment that has a value of its own of it, if any.
Asked: TypeAlias = tuple[Free, str]

#: Confidence of the intervals.
CONFIDENCE = 0.95
#: A direction is not determined when its standard deviation, in parameters scaled by their ranges, exceeds this, or its
#: effect is this share of the largest.
OPEN, WEAK = 2.0, 1e-5


@dataclass(frozen=True, slots=True)
class Certainty:
    """Values with their intervals, the correlation of shape ``(p, p)``, and what the data leave open, in words."""

    parameters: list[Fitted]
    correlation: list[list[float]]
    undetermined: list[str]
    notes: list[str]


def certainty(
    free: Sequence[Asked],
    theta: Array,
    r: Array,
    slopes: Array,
    bounds: tuple[Array, Array],
    after: Mapping[str, Mapping[str, Agreement]],
) -> Certainty:
    """How sure the values ``theta`` of shape ``(p,)`` are, on the parameters' own scales.

    ``r`` are the weighted residuals, shape ``(n,)``, ``slopes`` their derivatives, ``bounds`` of shape ``(p,)`` each;
    ``after`` holds figures by experiment and output.
    """
    n, p = len(r), len(theta)
    notes: list[str] = []
    variance = float(r @ r) / max(n - p, 1) * _inflation(after, notes)
    _, singular, rows = np.linalg.svd(slopes * (bounds[1] - bounds[0]), full_matrices=False)
    open_ones = _open_directions(singular, rows, np.sqrt(variance))
    scaled = np.where(singular > WEAK * 1e-3 * singular.max(initial=0.0), singular, np.inf)
    covariance = (rows.T / scaled**2) @ rows * variance
    covariance *= np.outer(bounds[1] - bounds[0], bounds[1] - bounds[0])
    deviations = np.sqrt(np.maximum(np.diag(covariance), 0.0))
    lost = {k for direction in open_ones for k in np.flatnonzero(np.abs(direction) > 0.1)}
    quantile = float(scipy.special.stdtrit(max(n - p, 1), 0.5 + CONFIDENCE / 2))
    parameters: list[Fitted] = []
    for k, ((f, own), inner) in enumerate(zip(free, theta, strict=True)):
        half = quantile * deviations[k]
        low, high = (
            f.outer(float(np.clip(inner + s * half, *(b[k] for b in bounds)))) for s in (-1, 1)
        )
        if k in lost:
            low, high = f.low, f.high
        span = bounds[1][k] - bounds[0][k]
        at = (
            "lower"
            if inner - bounds[0][k] < 1e-6 * span
            else "upper"
            if bounds[1][k] - inner < 1e-6 * span
            else ""
        )
        value = f.outer(float(inner))
        deviation = float(deviations[k]) * (value if f.scale == "log" else 1.0)
        parameters.append(Fitted(f.name, value, low, high, deviation, at, own))
        if at:
            notes.append(f"'{f.name}' ran into its {at} bound, {value:g}.")
    sizes = np.where(deviations > 0, deviations, 1.0)
    correlation = covariance / np.outer(sizes, sizes)
    undetermined = [_words(direction, free, theta, bounds) for direction in open_ones]
    return Certainty(parameters, np.clip(correlation, -1, 1).tolist(), undetermined, notes)


def _inflation(after: Mapping[str, Mapping[str, Agreement]], notes: list[str]) -> float:
    """By how much correlated residuals make the variance of the estimates larger, with a note for each."""
    worst = 1.0
    for experiment, figures in after.items():
        of = f" in {experiment}" if len(after) > 1 else ""
        for name, a in figures.items():
            if a.inflation == 1:
                continue
            worst = max(worst, a.inflation)
            notes.append(
                f"the residual of '{name}'{of} is correlated ({a.autocorrelation[0]:.2f} from sample to sample); "
                "the intervals are wider for that."
            )
    return worst


def _open_directions(singular: Array, rows: Array, sigma: float) -> list[Array]:
    """Directions in scaled parameters that the data leave open."""
    largest = float(singular.max(initial=0.0))
    return [
        rows[k]
        for k, s in enumerate(singular)
        if s <= WEAK * largest or (s > 0 and sigma / s > OPEN) or s == 0
    ]


def _words(
    direction: Array, free: Sequence[Asked], theta: Array, bounds: tuple[Array, Array]
) -> str:
    """What a direction means: parameters that appear only together, or not at all."""
    span = bounds[1] - bounds[0]
    relative = np.array(
        [
            d * w / (1.0 if f.scale == "log" else (v if v else w))
            for d, w, v, (f, _) in zip(direction, span, theta, free, strict=True)
        ]
    )
    size = np.abs(relative).max()
    part = [k for k in range(len(relative)) if abs(relative[k]) > 0.1 * size]
    names = [free[k][0].name for k in part]
    if len(part) == 1:
        return f"'{names[0]}' has no effect on what was measured."
    listed = ", ".join(f"'{n}'" for n in names[:-1]) + f" and '{names[-1]}'"
    if len(part) == 2:
        ratio = relative[part[0]] / relative[part[1]]
        if abs(ratio + 1) < 0.1:
            return f"{listed} appear only as a product."
        if abs(ratio - 1) < 0.1:
            return f"{listed} appear only as a quotient."
    return f"the data determine only a combination of {listed}."
