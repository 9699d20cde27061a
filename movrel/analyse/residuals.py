"""Predicted against measured: the figures by which a model is judged.

Ljung, System Identification, 2nd ed., 16.6, for the fit and the test of whiteness.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]

#: Lags of the autocorrelation that are told at most.
LAGS = 30


@dataclass(frozen=True, slots=True)
class Agreement:
    """Figures of one output: root mean square, mean absolute error, bias (predicted less measured) in the output's unit;
    the share of the variance that is explained; the fit in per cent; the autocorrelation of the residual by lag, and the
    bound within which that of white noise stays with 95 %."""

    rmse: float
    mean_absolute: float
    bias: float
    r2: float
    fit: float
    autocorrelation: list[float]
    bound: float

    @property
    def white(self) -> bool:
        """Whether the residual looks like white noise: at most one lag in ten beyond the bound."""
        beyond = sum(abs(r) > self.bound for r in self.autocorrelation)
        return beyond <= max(1, len(self.autocorrelation) // 10)

    @property
    def inflation(self) -> float:
        """By how much a correlated residual makes the variance of estimates larger: (1 + r)/(1 - r) for one that remembers
        its last sample; 1 where that is within its bound."""
        if not self.autocorrelation or self.autocorrelation[0] <= self.bound:
            return 1.0
        r = min(self.autocorrelation[0], 0.98)
        return (1 + r) / (1 - r)


def agreement(measured: Array, predicted: Array) -> Agreement:
    """The figures of a prediction, both of shape ``(n,)``; samples that are no numbers are left out."""
    good = np.isfinite(measured) & np.isfinite(predicted)
    y, e = measured[good], predicted[good] - measured[good]
    n = len(e)
    if not n:
        nan = float("nan")
        return Agreement(nan, nan, nan, nan, nan, [], nan)
    around = y - y.mean()
    total, left = float(around @ around), float(e @ e)
    return Agreement(
        float(np.sqrt(left / n)),
        float(np.abs(e).mean()),
        float(e.mean()),
        1.0 - left / total if total > 0 else float("nan"),
        100.0 * (1.0 - np.sqrt(left / total)) if total > 0 else float("nan"),
        autocorrelation(e),
        1.96 / float(np.sqrt(n)),
    )


def autocorrelation(e: Array, lags: int = LAGS) -> list[float]:
    """The autocorrelation of a residual at lags 1, 2, …"""
    around = e - e.mean()
    total = float(around @ around)
    if total <= 0:
        return []
    return [float(around[:-k] @ around[k:]) / total for k in range(1, min(lags, len(e) // 4) + 1)]


def accumulated(time: Array, measured: Array, predicted: Array) -> Array:
    """The integral of the absolute error up to each instant, shape ``(n,)``."""
    off = np.nan_to_num(np.abs(predicted - measured))
    steps = 0.5 * (off[1:] + off[:-1]) * np.diff(time)
    return np.concatenate([[0.0], np.cumsum(steps)])
