"""Explicit Euler, of order 1."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.simulate.methods.fixed_step import FixedStep

Array = npt.NDArray[np.float64]


class Euler(FixedStep):
    """y + h f(t, y)."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        return y + h * rate
