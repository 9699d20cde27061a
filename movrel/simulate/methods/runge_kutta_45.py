"""Runge-Kutta 4(5) (Dormand and Prince, J. Comput. Appl. Math. 6, 1980), by SciPy."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt
import scipy

from movrel.simulate.methods.from_scipy import FromScipy

Array = npt.NDArray[np.float64]


class RungeKutta45(FromScipy):
    """Dormand and Prince's embedded pair of orders 4 and 5."""

    def _make(self, t: float, y: Array, until: float) -> Any:
        return scipy.integrate.RK45(self.f, t, y, until, **self._settings)
