"""A CasADi function with fixed memory, called without making Python objects."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


class Buffered:
    """Evaluates ``function(t, x, p, m, w)`` into arrays that are reused at every call."""

    def __init__(self, function: Any, p: Array, m: Array, w: Array, strict: bool = True) -> None:
        """Results of an evaluation that comes to no end are not numbers; unless ``strict``, they stay what they were."""
        self._function = function
        self._buffer, self.evaluate = function.buffer()
        self.t = np.zeros(1)
        self.x = np.zeros(max(function.size1_in(1), 1))
        # Zero-length vectors have no memory of their own; a spare element stands in for them.
        self._inputs = [self.t, self.x, *(a if a.size else np.zeros(1) for a in (p, m, w))]
        for i, array in enumerate(self._inputs):
            self._buffer.set_arg(i, array.data)
        self.results = [np.zeros(max(function.nnz_out(i), 1)) for i in range(function.n_out())]
        for i, array in enumerate(self.results):
            self._buffer.set_res(i, array.data)
        self.result = self.results[0]
        self._n = function.size1_in(1)
        #: Whether the last evaluation came to no end, as a linear block was singular.
        self.failed = False
        # Blocks that are solved inside may be singular; then the results would stay as they were.
        self._buffer_eval = self.evaluate
        if strict and function.class_name() != "SXFunction":
            self.evaluate = self._checked
        #: Called with time and states before each evaluation, where something depends on the past or on units.
        self.before: Callable[[float, Array], None] | None = None

    def _checked(self) -> None:
        self._buffer_eval()
        self.failed = bool(self._buffer.ret())
        if self.failed:
            for result in self.results:
                result.fill(math.nan)

    def __call__(self, t: float, x: Array) -> Array:
        """The first result; the array is overwritten by the next call."""
        if self.before is not None:
            self.before(t, x)
        self.t[0] = t
        if self._n:
            self.x[: self._n] = x
        self.evaluate()
        return self.result
