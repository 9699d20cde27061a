"""Variable-step integration with SUNDIALS' CVODE (Hindmarsh et al., ACM TOMS 31, 2005)."""

from __future__ import annotations

import warnings
from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.simulate.columns import Columns
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import StepFailure, Steps
from movrel.simulate.methods.structure import Structure
from movrel.simulate.methods.sundials import SundialsIntegrator, plain_reason
from movrel.simulate.methods.turning import first_missed
from movrel.simulate.options import RunOptions

Array = npt.NDArray[np.float64]

#: Evaluations of a small model between two looks at what was computed.
EVALUATIONS_AT_ONCE = 20_000
#: Steps for which derivatives are evaluated one by one.
FEW_STEPS = 60


class CvodeIntegrator(SundialsIntegrator):
    """CVODE with the exact Jacobian.

    Where nothing has to be known about a step as soon as it is taken, many steps are taken at once,
    without coming back here in between.
    """

    def __init__(
        self, machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]
    ) -> None:
        super().__init__(machine, options, nominal, look)
        assert machine.jacobian is not None
        jacobian = machine.jacobian
        pattern = machine.system.jacobian.sparsity_out(0)
        rows, columns = np.array(pattern.row(), int), np.array(pattern.get_col(), int)
        count = len(rows)
        if machine.live:
            # What units add to it is not known: the solver takes differences.
            self.structure = structure = Structure("dense", rows, columns, self._n)
        else:
            self.structure = structure = self._structure(rows, columns, self._n)

        def jacobian_values(t: float, y: Array, yp: Array, out: Array) -> None:
            self.jacobian_evaluations += 1
            structure.fill(out, jacobian(t, structure.natural(y))[:count])

        def root_functions(t: float, y: Array, out: Array) -> None:
            machine.crossings(t, structure.natural(y), out)
            self._watch_turns.note(t, out)

        self._watch(root_functions)
        self._keywords |= {
            "method": "Adams" if options.solver == "adams" else "BDF",
            "atol": options.tolerance * structure.ordered(nominal),
        }
        if not machine.live:
            self._keywords["jacfn"] = jacobian_values
        self._solver = self._make(self._keywords)
        self._many = not (
            machine.nonlinear
            or machine.dynamic
            or machine.live
            or machine.history is not None
            or self._phases.any
        )
        if self._many:
            self._budget = max(100, round(EVALUATIONS_AT_ONCE / (1 + self._n / 300)))
            self._limit = self._budget
            self._halting: Any = None
            self._rates: Columns = machine.system.once(
                "rate columns", lambda: Columns(machine.system.derivatives)
            )

    def _make(self, keywords: dict[str, Any]) -> Any:
        from movrel.sundials import CVODE  # slow to import, and not needed to check a model

        with warnings.catch_warnings():
            # It warns that the pattern serves the exact Jacobian only, which is what is meant.
            warnings.simplefilter("ignore", UserWarning)
            return CVODE(self._right_side(), **keywords)

    def _right_side(self) -> Callable[[float, Array, Array], None]:
        machine, look = self._machine, self._look
        derivatives = machine.derivatives
        time, state, result, evaluate = (
            derivatives.t,
            derivatives.x,
            derivatives.result,
            derivatives.evaluate,
        )
        careful = machine.nonlinear or derivatives.before is not None
        structure = self.structure
        order, place = structure.order, structure.place

        def right_side(t: float, y: Array, yp: Array) -> None:
            self.evaluations += 1
            if not self.evaluations & 255:
                look(t)
            if careful:
                yp[:] = structure.ordered(machine.rates_if_solved(t, structure.natural(y)))
                return
            time[0] = t
            if order is None:
                state[:] = y
                evaluate()
                yp[:] = result
            else:
                state[:] = y[place]
                evaluate()
                yp[:] = result[order]
            if self.evaluations == self._limit and self._halting is None:
                raise _TooMany

        return right_side

    _limit = 0
    _halting: Any = None
    _many = False

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool], quiet: bool = False
    ) -> tuple[float, Array, list[tuple[int, int]]]:  # fmt: skip
        """See :class:`Integrator`."""
        # A root function that is exactly zero is not watched at first; then every step is looked at.
        if not self._many or (
            len(self._machine.rooted)
            and not self._machine.indicators(t, state)[self._machine.rooted].all()
        ):
            self._limit = -1
            return super().advance(t, state, until, block, quiet)
        self._machine.watches_zero = True
        while True:
            self._limit = self.evaluations + self._budget
            self._forget_crossings()
            try:
                solution = (self._halting or self._solver).solve(
                    (t, until), self.structure.ordered(state)
                )
            except _TooMany:
                self._make_halting()
                continue
            times, states = solution.t, self.structure.natural(solution.y)
            self.steps += len(times) - 1
            fired = self._fired()
            if not solution.success or len(times) < 2 or times[-1] <= t:
                self._keep(times[:-1], states[:-1], block)
                at = max(len(times) - 2, 0)
                reason = (
                    "its steps became too small to move on."
                    if solution.success
                    else plain_reason(solution.message)
                )
                raise StepFailure(reason, float(times[at]), states[at])
            if fired and len(self._machine.rooted):
                early = self._machine.overlooked(float(times[1]), states[1])
                if early:
                    times, states, fired = times[:2], states[:2], early
            if (
                missed := first_missed(
                    self._machine,
                    times,
                    states,
                    partial(self._rates_at, times, states),
                    self._span,
                    bool(fired),
                )
            ) is not None:
                # From there step by step, the one that missed a crossing in two.
                k, self._looked = missed
                worn = self._keep(times[: k + 1], states[: k + 1], block)
                t, state = float(times[k]), states[k].copy()
                if worn:
                    return t, state, []
                self._limit = -1
                return super().advance(t, state, until, block)
            halted = bool(fired) and fired[-1][0] == 2 * len(self._machine.rooted)
            fired = [f for f in fired if f[0] < 2 * len(self._machine.rooted)]
            worn = self._keep(times, states, block)
            t, state = float(times[-1]), states[-1].copy()
            if fired or worn or not halted or t >= until:
                return t, state, fired
            self._look(t)

    def _keep(self, times: Array, states: Array, block: Callable[[Steps, int], bool]) -> bool:
        """Hand the steps on with their rates; equal instants count once."""
        kept = np.concatenate([np.diff(times) > 0, [True]]) if len(times) else np.zeros(0, bool)
        times, states = times[kept], states[kept]
        if len(times) < 2:
            return False
        return block(Steps(times, states, lambda: self._rates_at(times, states)), len(times) - 1)

    def _rates_at(self, times: Array, states: Array) -> Array:
        machine = self._machine
        if len(times) <= FEW_STEPS:
            return np.array(
                [
                    machine.derivatives(t, y)[: self._n].copy()
                    for t, y in zip(times, states, strict=True)
                ]
            )
        memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
        return self._rates(times, states.T, machine.p, memory, machine.w)

    def _make_halting(self) -> None:
        """A solver with one more root function, by which it can be asked to return after a number of evaluations.

        The number does not depend on the clock, so that the same run gives the same result again.
        """
        machine, count = self._machine, 2 * len(self._machine.rooted)

        def root_functions(t: float, y: Array, out: Array) -> None:
            if count:
                machine.crossings(t, self.structure.natural(y), out[:count])
            out[count] = 1.0 if self.evaluations < self._limit else -1.0

        self._roots = root_functions
        self._halting = self._make(
            self._keywords | {"eventsfn": root_functions, "num_events": count + 1}
        )


class _TooMany(Exception):
    """More evaluations than should go by without anything being stored."""
