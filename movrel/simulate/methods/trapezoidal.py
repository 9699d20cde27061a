"""The trapezoidal rule, of order 2."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.simulate.methods.fixed_step import FixedStep

Array = npt.NDArray[np.float64]


class Trapezoidal(FixedStep):
    """z = y + h/2 (f(t, y) + f(t + h, z))."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        return self.solved_implicitly(t, y, y + h / 2 * rate, h, 0.5)
