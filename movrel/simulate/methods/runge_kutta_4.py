"""The classical Runge-Kutta method, of order 4 (Kutta, Z. Math. Phys. 46, 1901)."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.simulate.methods.fixed_step import FixedStep

Array = npt.NDArray[np.float64]


class RungeKutta4(FixedStep):
    """The classical method of order 4."""

    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        k2 = self.f(t + h / 2, y + h / 2 * rate)
        k3 = self.f(t + h / 2, y + h / 2 * k2)
        k4 = self.f(t + h, y + h * k3)
        return y + h / 6 * (rate + 2 * k2 + 2 * k3 + k4)
