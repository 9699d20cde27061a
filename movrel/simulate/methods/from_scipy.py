"""What the variable-step methods of SciPy share."""

from __future__ import annotations

import warnings
from abc import ABC, abstractmethod
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.simulate.methods.integrator import StepFailure
from movrel.simulate.methods.stepping import RightSide, Step
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]

#: Distances between neighbouring numbers below which SciPy takes no step.
CLOSE = 10


class FromScipy(ABC):
    """A variable-step method of SciPy."""

    varies = True

    def __init__(self, f: RightSide, options: RunOptions, nominal: Array) -> None:
        self.f = f
        self._settings: dict[str, Any] = {
            "rtol": max(options.tolerance, 2.3e-14), "atol": options.tolerance * nominal, "max_step": options.step or np.inf,
        }  # fmt: skip

    @abstractmethod
    def _make(self, t: float, y: Array, until: float) -> Any:
        """The method of SciPy, started at ``t``."""

    def restart(self, t: float, y: Array, until: float) -> None:
        self._solver = self._make(t, y, until)

    def step(self, until: float) -> Step:
        solver = self._solver
        if until > solver.t:
            solver.max_step = min(self._settings["max_step"], until - solver.t)
        with np.errstate(all="ignore"), warnings.catch_warnings():
            warnings.simplefilter("ignore")
            try:
                message = solver.step()
            except (ValueError, np.linalg.LinAlgError, RuntimeError):
                message = "not finite"
        if solver.status == "failed" or message == "not finite":
            raise StepFailure(
                "the step had to be made too small to keep the tolerance.",
                float(solver.t),
                solver.y,
            )
        if 0 < until - solver.t <= CLOSE * np.spacing(until):
            solver.t = until  # SciPy would take no step as short as what is left
        return float(solver.t), solver.y.copy(), solver.dense_output()
