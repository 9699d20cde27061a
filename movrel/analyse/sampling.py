"""Reading a curve: thinned out for a picture, at an instant, on a grid, in a window.

A curve is given by its instants ``t``, shape ``(n,)``, never decreasing, and its values ``y`` of the same shape. Between
instants it is straight; at an event two values share an instant, and the later one counts there.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
from tsdownsample import MinMaxDownsampler

Array = npt.NDArray[np.float64]


def thin(
    time: Array, values: Array, width: int, low: float | None, high: float | None
) -> tuple[Array, Array]:
    """At most ``2 * width + 2`` points of a curve between two times: the extremes of every pixel.

    The times given are both included, with one point beyond each.
    """
    first = 0 if low is None else max(int(np.searchsorted(time, low, "left")) - 1, 0)
    last = (
        len(time) if high is None else min(int(np.searchsorted(time, high, "right")) + 1, len(time))
    )
    time, values = time[first:last], values[first:last]
    chosen = thinned(values, width)
    return time[chosen], values[chosen]


def thinned(values: Array, width: int) -> npt.NDArray[np.int64]:
    """The places of the extremes of every pixel, both ends included; all places of a short curve."""
    wanted = max(2 * width, 100)
    if len(values) <= wanted:
        return np.arange(len(values))
    # By position, not by time: at an event two points have the same time, and both must stay.
    inner = MinMaxDownsampler().downsample(np.ascontiguousarray(values), n_out=wanted)
    return np.asarray(np.unique(np.concatenate([[0], inner.astype(np.int64), [len(values) - 1]])))


def value_at(time: Array, values: Array, instant: float) -> float | None:
    """The value at an instant; at an event the one after it, between points interpolated."""
    if not len(time) or instant < time[0] or instant > time[-1]:
        return None
    after = int(np.searchsorted(time, instant, "right"))
    if after == len(time) or time[after - 1] == instant:
        return float(values[after - 1])
    t0, t1 = time[after - 1], time[after]
    share = (instant - t0) / (t1 - t0)
    return float(values[after - 1] + share * (values[after] - values[after - 1]))


def on_grid(time: Array, values: Array, grid: Array) -> Array:
    """Values at the instants of a grid within the curve, shape of ``grid``."""
    after = np.clip(np.searchsorted(time, grid, "right"), 1, len(time) - 1)
    t0, t1 = time[after - 1], time[after]
    share = np.divide(grid - t0, t1 - t0, out=np.zeros(len(grid)), where=t1 > t0)
    return np.asarray(
        values[after - 1] + np.clip(share, 0, 1) * (values[after] - values[after - 1])
    )


def window(time: Array, low: float | None, high: float | None) -> slice:
    """The places of the instants from ``low`` to ``high``, both included; None leaves an end open."""
    first = 0 if low is None else int(np.searchsorted(time, low, "left"))
    last = len(time) if high is None else int(np.searchsorted(time, high, "right"))
    return slice(first, last)
