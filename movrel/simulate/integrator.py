"""Variable-step integration with SUNDIALS' CVODE (Hindmarsh et al., ACM TOMS 31, 2005)."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt
from sksundae.cvode import CVODE

from movrel.simulate.buffered import Buffered
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]

#: Above this many states the Jacobian is kept sparse.
SPARSE_FROM = 50
#: Steps between two calls of ``block``.
BLOCK_STEPS = 200
#: Steps in which time may stand still before the solver is said to be stuck.
STALL_LIMIT = 50


class StepFailure(Exception):
    """The solver gave up at a time with a state, for a reason in plain words."""

    def __init__(self, reason: str, time: float, state: Array) -> None:
        super().__init__(reason)
        self.reason, self.time, self.state = reason, time, state


@dataclass(slots=True)
class Steps:
    """The solver's own steps, each with state and derivative, to interpolate between."""

    times: list[float] = field(default_factory=list)
    states: list[Array] = field(default_factory=list)
    rates: list[Array] = field(default_factory=list)

    def add(self, t: float, state: Array, rate: Array) -> None:
        self.times.append(t)
        self.states.append(state)
        self.rates.append(rate)

    def forget_all_but(self, count: int) -> None:
        for items in (self.times, self.states, self.rates):
            del items[:-count]


class CvodeIntegrator:
    """Integrates one system between events; a restart needs no new set-up."""

    def __init__(
        self,
        derivatives: Buffered,
        jacobian: Buffered,
        jacobian_pattern: Any,
        crossings: Callable[[float, Array, Array], None],
        crossing_count: int,
        options: RunOptions,
        nominal: Array,
        look: Callable[[float], None],
        overlooked: Callable[[float, Array], list[tuple[int, int]]],
    ) -> None:
        self.evaluations = 0
        self.jacobian_evaluations = 0
        self.steps = 0
        self._derivatives = derivatives
        self._look = look
        self._overlooked = overlooked
        n = self._n = len(nominal)

        def right_side(t: float, y: Array, yp: Array) -> None:
            self.evaluations += 1
            if not self.evaluations & 255:
                look(t)
            yp[:] = derivatives(t, y)

        keywords: dict[str, Any] = {
            "method": "Adams" if options.solver == "adams" else "BDF",
            "max_order": 5,
            "rtol": options.tolerance,
            "atol": options.tolerance * nominal,
            "max_num_steps": 2_000_000,
        }
        rows, columns = np.array(jacobian_pattern.row(), int), np.array(jacobian_pattern.get_col(), int)
        count = len(rows)
        if n > SPARSE_FROM and count:
            from scipy.sparse import csc_matrix

            keywords["linsolver"] = "sparse"
            keywords["sparsity"] = csc_matrix((np.ones(count), (rows, columns)), shape=(n, n))

            def jacobian_values(t: float, y: Array, yp: Array, out: Array) -> None:
                self.jacobian_evaluations += 1
                out[:] = jacobian(t, y)
        else:

            def jacobian_values(t: float, y: Array, yp: Array, out: Array) -> None:
                self.jacobian_evaluations += 1
                out[rows, columns] = jacobian(t, y)[:count]

        keywords["jacfn"] = jacobian_values
        self._roots: Any = None
        if crossing_count:

            def root_functions(t: float, y: Array, out: Array) -> None:
                crossings(t, y, out)

            keywords["eventsfn"] = self._roots = root_functions
            keywords["num_events"] = crossing_count
        with warnings.catch_warnings():
            # It warns that the pattern serves the exact Jacobian only, which is what is meant.
            warnings.simplefilter("ignore", UserWarning)
            self._solver = CVODE(right_side, **keywords)

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], None]
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """Integrate to ``until`` or to the first crossing.

        ``block(steps, new)`` is called now and then, and at the end, with the steps taken, the last
        ``new`` of which it has not seen. Returns the time and state reached and the numbers of the
        root functions that crossed zero, with their directions. Raises :class:`StepFailure`.
        """
        self._forget_crossings()
        steps = Steps()
        steps.add(t, state, self._derivatives(t, state)[: self._n].copy())
        self._solver.init_step(t, state)
        new = stalled = 0
        while True:
            step = self._solver.step(until, "onestep", until)
            if not step.success:
                if new:
                    block(steps, new)
                raise StepFailure(_reason(step.message), steps.times[-1], steps.states[-1])
            self.steps += 1
            reached, fired = float(step.t), self._fired()
            stalled = 0 if reached > steps.times[-1] else stalled + 1
            if stalled > STALL_LIMIT:
                raise StepFailure("its steps became too small to move on.", steps.times[-1], steps.states[-1])
            if reached > steps.times[-1]:
                steps.add(reached, step.y, self._derivatives(reached, step.y)[: self._n].copy())
                new += 1
                if not fired and new == 1 and len(steps.times) == 2:
                    # A root function that is exactly zero at a restart is not watched during the first step.
                    fired = self._overlooked(reached, step.y)
            if fired or reached >= until:
                if new:
                    block(steps, new)
                return reached, steps.states[-1], fired
            if new >= BLOCK_STEPS:
                block(steps, new)
                steps.forget_all_but(3)
                new = 0
            if not self.steps & 63:
                self._look(reached)

    def _forget_crossings(self) -> None:
        """Empty the solver's growing list of crossings."""
        if self._roots is not None and hasattr(self._roots, "_t"):
            for record in (self._roots._i, self._roots._t, self._roots._y):
                record.clear()

    def _fired(self) -> list[tuple[int, int]]:
        if self._roots is None or not self._roots._i:
            return []
        last = self._roots._i[-1]
        return [(int(i), int(last[i])) for i in np.nonzero(last)[0]]


def _reason(message: str) -> str:
    """The solver's own words in plain ones."""
    text = message.lower()
    if "error test" in text:
        return "the step had to be made too small to keep the tolerance."
    if "convergence" in text or "converge" in text:
        return "the implicit step equations could not be solved."
    if "too much work" in text or "max" in text:
        return "too many steps were needed."
    return "it found no usable step."
