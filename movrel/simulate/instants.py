"""When two times are the same instant."""

from __future__ import annotations

import numpy as np

#: Difference between two times, as a share of the larger one or of what is simulated, that is rounding.
SHARE = 64 * float(np.finfo(float).eps)


def rounding(t: float, length: float) -> float:
    """Times closer than this are the same instant; ``length`` is that of a run, or of a delay within it."""
    return SHARE * max(abs(t), length)
