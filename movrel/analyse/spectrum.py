"""The spectrum of a part of a curve, for ripple and vibration.

The curve is put on an even grid, its mean taken off, and a window laid over it (Harris, Proc. IEEE 66, 1978);
amplitudes are corrected for the window's mean, so that a sine of amplitude a shows the height a.
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
import scipy

from movrel.errors import MovrelError

Array = npt.NDArray[np.float64]

WINDOWS = ("hann", "hamming", "blackman", "flattop", "boxcar")
#: Points of the even grid at most.
MOST_POINTS = 1 << 18


def spectrum(
    t: Array, y: Array, window: str = "hann", points: int | None = None
) -> tuple[Array, Array]:
    """Frequencies in Hz and amplitudes in the unit of the curve, shape ``(points//2 + 1,)`` each.

    ``t`` and ``y`` have shape ``(n,)``. Raises :class:`MovrelError` for another window or too short a curve.
    """
    if window not in WINDOWS:
        raise MovrelError(f"there is no window '{window}'.", hint=f"Take {', '.join(WINDOWS)}.")
    span = float(t[-1] - t[0]) if len(t) else 0.0
    if len(t) < 8 or not span > 0:
        raise MovrelError(
            "this part of the run is too short for a spectrum.",
            hint="Move the marks A and B apart.",
        )
    if points is None:
        steps = np.diff(t)
        finest = float(np.median(steps[steps > 0]))
        points = int(np.clip(2 * span / finest, 64, MOST_POINTS))
    grid = t[0] + span / points * np.arange(points)
    values = np.interp(grid, t, y)
    shape = scipy.signal.get_window(window, points)
    transform = np.fft.rfft((values - values.mean()) * shape)
    amplitudes = np.abs(transform) * 2.0 / shape.sum()
    return np.asarray(np.fft.rfftfreq(points, span / points)), np.asarray(amplitudes)
