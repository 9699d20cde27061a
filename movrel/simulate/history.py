"""The past of delayed expressions (specification 3.7.4.1)."""

from __future__ import annotations

from bisect import bisect_left, bisect_right

import numpy as np
import numpy.typing as npt

from movrel.simulate.instants import rounding

Array = npt.NDArray[np.float64]

#: Points after which those that nobody can ask for any more are dropped.
PRUNE_AT = 4096


class History:
    """Values and rates of the delayed expressions at all accepted steps, interpolated by cubics.

    An instant may occur twice: the sides of an event. ``delays`` are in seconds.
    """

    def __init__(self, delays: Array) -> None:
        self.delays = delays
        self._longest = float(delays.max(initial=0.0))
        self._times: list[float] = []
        self._values: list[Array] = []
        self._rates: list[Array] = []
        self._segment = -np.inf

    def set_past(self, t: float, values: Array) -> None:
        """Take ``values`` for everything until ``t``."""
        self._times, self._values, self._rates = [t], [values.copy()], [np.zeros(len(values))]

    def add(self, t: float, values: Array, rates: Array) -> None:
        """Keep the delayed expressions after a step: ``values`` and ``rates``, shape ``(n,)``; the far past is dropped."""
        self._times.append(t)
        self._values.append(values.copy())
        self._rates.append(np.where(np.isfinite(rates), rates, 0.0))
        if len(self._times) >= PRUNE_AT:
            keep = max(0, bisect_left(self._times, t - 1.01 * self._longest) - 2)
            if keep > PRUNE_AT // 2:
                for items in (self._times, self._values, self._rates):
                    del items[:keep]

    def begin_segment(self, t: float) -> None:
        """From here on the later side of whatever jumped until now is meant."""
        self._segment = t

    def at(self, t: float) -> Array:
        """The delayed values at an instant, shape ``(delays,)``."""
        out = np.empty(len(self.delays))
        later = t <= self._segment + self._rounding(t)
        for k, delay in enumerate(self.delays):
            out[k] = self._one(k, t - delay, later)
        return out

    def rates_at(self, t: float) -> Array:
        """The rates of the delayed values at an instant, shape ``(delays,)``: the slopes of the cubics."""
        out = np.zeros(len(self.delays))
        later = t <= self._segment + self._rounding(t)
        for k, delay in enumerate(self.delays):
            out[k] = self._slope(k, t - delay, later)
        return out

    def _rounding(self, t: float) -> float:
        return rounding(t, self._longest)

    def _place(self, t: float, later: bool) -> int:
        """The number of the first kept instant behind ``t``, on the later side of a jump or the earlier one."""
        slack, times = self._rounding(t), self._times
        return bisect_right(times, t + slack) if later else bisect_left(times, t - slack)

    def _slope(self, k: int, t: float, later: bool) -> float:
        times = self._times
        i = self._place(t, later)
        if i <= 0 or not times:
            return 0.0
        if i >= len(times):
            return float(self._rates[-1][k])
        a, b = times[i - 1], times[i]
        if b <= a:
            return float(self._rates[i if later else i - 1][k])
        h, s = b - a, (t - a) / (b - a)
        return float(
            6 * s * (s - 1) / h * (self._values[i - 1][k] - self._values[i][k])
            + (1 - s) * (1 - 3 * s) * self._rates[i - 1][k] + s * (3 * s - 2) * self._rates[i][k]
        )  # fmt: skip

    def _one(self, k: int, t: float, later: bool) -> float:
        times = self._times
        if not times:
            return 0.0
        i = self._place(t, later)
        if i <= 0:
            return float(self._values[0][k])
        if i >= len(times):
            return float(self._values[-1][k] + (t - times[-1]) * self._rates[-1][k])
        a, b = times[i - 1], times[i]
        if b <= a:
            return float(self._values[i if later else i - 1][k])
        h, s = b - a, (t - a) / (b - a)
        return float(
            (1 + 2 * s) * (1 - s) ** 2 * self._values[i - 1][k] + s * (1 - s) ** 2 * h * self._rates[i - 1][k]
            + s**2 * (3 - 2 * s) * self._values[i][k] - s**2 * (1 - s) * h * self._rates[i][k]
        )  # fmt: skip
