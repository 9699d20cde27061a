"""Radau IIA of order 5 (Hairer and Wanner, Solving Ordinary Differential Equations II, IV.8), by SciPy."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt
import scipy

from movrel.simulate.methods.from_scipy import FromScipy

Array = npt.NDArray[np.float64]


class RadauMethod(FromScipy):
    """Radau IIA of order 5 with the exact Jacobian, but where units have a share in it."""

    def _make(self, t: float, y: Array, until: float) -> Any:
        return scipy.integrate.Radau(
            self.f, t, y, until, jac=self.f.jacobian if self.f.exact else None, **self._settings
        )
