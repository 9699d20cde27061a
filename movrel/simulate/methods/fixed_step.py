"""What the fixed-step methods share (Hairer and Wanner, Solving Ordinary Differential Equations II, IV)."""

from __future__ import annotations

from abc import ABC, abstractmethod

import numpy as np
import numpy.typing as npt
from scipy.sparse import eye
from scipy.sparse.linalg import splu

from movrel.simulate.methods.integrator import StepFailure
from movrel.simulate.methods.stepping import RightSide, Step
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]


class FixedStep(ABC):
    """A fixed-step method; the steps are counted from the last restart."""

    varies = False

    def __init__(self, f: RightSide, options: RunOptions, nominal: Array) -> None:
        self.f = f
        self._h = options.step or options.interval
        self._tolerance = max(1e-3 * options.tolerance, 1e-13) * nominal

    def restart(self, t: float, y: Array, until: float) -> None:
        self._t, self._y, self._rate = t, y, self.f(t, y)

    def step(self, until: float) -> Step:
        t, y, rate = self._t, self._y, self._rate
        h = self._h if t + self._h < until - 1e-9 * self._h else until - t
        new = self._advance(t, y, rate, h)
        end = until if h != self._h else t + h
        if not np.isfinite(new).all():
            raise StepFailure(
                "the values are no longer finite; the fixed step may be too long.", t, y
            )
        new_rate = self.f(end, new)
        self._t, self._y, self._rate = end, new, new_rate

        def within(at: float) -> Array:
            s = (at - t) / h
            return (
                (1 + 2 * s) * (1 - s) ** 2 * y + s * (1 - s) ** 2 * h * rate
                + s**2 * (3 - 2 * s) * new - s**2 * (1 - s) * h * new_rate
            )  # fmt: skip

        return end, new, within

    @abstractmethod
    def _advance(self, t: float, y: Array, rate: Array, h: float) -> Array:
        """The values of the states one step ``h`` later."""

    def solved_implicitly(self, t: float, y: Array, known: Array, h: float, weight: float) -> Array:
        """Solve z = known + weight*h*f(t + h, z) by Newton's method with the exact Jacobian."""
        z = y + h * self._rate
        for _ in range(25):
            residual = z - known - weight * h * self.f(t + h, z)
            matrix = self.f.jacobian(t + h, z)
            if self.f.sparse:
                change = splu((eye(self.f.n, format="csc") - weight * h * matrix).tocsc()).solve(
                    -residual
                )
            else:
                change = np.linalg.solve(np.eye(self.f.n) - weight * h * matrix, -residual)
            z = z + change
            if not np.isfinite(z).all():
                break
            if (np.abs(change) <= self._tolerance * np.maximum(1.0, np.abs(z))).all():
                return z
        raise StepFailure(
            "the implicit step equations could not be solved; take a shorter step.", t, y
        )
