"""Variable-step integration with SUNDIALS' CVODE (Hindmarsh et al., ACM TOMS 31, 2005)."""

from __future__ import annotations

import math
import os
import warnings
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt
from sksundae.cvode import CVODE

from movrel.simulate.columns import Columns
from movrel.simulate.machine import Machine
from movrel.simulate.options import FIXED_STEP, RunOptions

Array = npt.NDArray[np.float64]

# SUNDIALS would print its warnings; what matters comes out as a sentence of ours.
for _stream in ("ERROR", "WARNING"):
    os.environ.setdefault(f"SUNLOGGER_{_stream}_FILENAME", os.devnull)

#: Above this many states the Jacobian is kept sparse.
SPARSE_FROM = 50
#: Steps between two calls of ``block``.
BLOCK_STEPS = 200
#: Evaluations of a small model between two looks at what was computed.
EVALUATIONS_AT_ONCE = 20_000
#: Steps for which derivatives are evaluated one by one.
FEW_STEPS = 60
#: Steps at least within the shortest delay, so that the past is known well.
DELAY_STEPS = 4
#: Steps at least in a run of a model without states.
LEAST_STEPS = 500
#: Steps in which time may stand still before the solver is said to be stuck.
STALL_LIMIT = 50


class StepFailure(Exception):
    """The solver gave up at a time with a state, for a reason in plain words."""

    def __init__(self, reason: str, time: float, state: Array) -> None:
        super().__init__(reason)
        self.reason, self.time, self.state = reason, time, state


@dataclass(slots=True)
class Steps:
    """The solver's own steps, each with state, derivative and implicit unknowns, to interpolate between."""

    times: Any = field(default_factory=list)
    states: Any = field(default_factory=list)
    rates: Any = field(default_factory=list)  # or a function that works them out
    implicit: list[Array] = field(default_factory=list)
    #: States at instants within the steps, shape ``(instants, states)``, where the solver itself knows them.
    between: Callable[[Array], Array] | None = None

    def add(self, machine: Machine, t: float, state: Array, rate: Array) -> None:
        """Take note of a step that was accepted; its derivatives were evaluated last."""
        self.times.append(t)
        self.states.append(state)
        self.rates.append(rate)
        if machine.nonlinear:
            machine.accept()
            self.implicit.append(machine.w.copy())

    def forget_all_but(self, count: int) -> None:
        for items in (self.times, self.states, self.rates, self.implicit):
            del items[:-count]

    def implicit_at(self, instants: Array) -> Array | None:
        """The implicit unknowns between steps, for a guess; shape ``(len(instants), unknowns)``."""
        if not self.implicit:
            return None
        known = np.array(self.implicit)
        return np.column_stack([np.interp(instants, self.times, column) for column in known.T])


class Integrator(Protocol):
    """Integrates one machine between events; a restart needs no new set-up."""

    @property
    def evaluations(self) -> int:
        """Evaluations of the right-hand side so far."""

    @property
    def jacobian_evaluations(self) -> int: ...

    @property
    def steps(self) -> int: ...

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool]
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """Integrate to ``until`` or to the first crossing.

        ``block(steps, new)`` is called now and then, and at the end, with the steps taken, the last
        ``new`` of which it has not seen; when it returns true, integration ends early. Returns the
        time and state reached and the numbers of the root functions that crossed zero, with their
        directions. Raises :class:`StepFailure`.
        """


def block_steps(machine: Machine) -> int:
    """Steps between two calls of ``block``: what is remembered for a delay is needed at once."""
    if machine.history is not None:
        return 1
    # A choice of states that wears out must be noticed soon.
    return 10 if machine.dynamic else BLOCK_STEPS


def make_integrator(machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]) -> Integrator:
    """The integrator that the options name, for a machine with at least one state."""
    if machine.history is not None:
        # No step may ask for what is not known yet.
        shortest = float(machine.history.delays.min()) / DELAY_STEPS
        options = replace(options, step=min(options.step or math.inf, options.interval if options.solver in FIXED_STEP else
                                            math.inf, shortest))  # fmt: skip
    if not machine.state_count:
        # Only time moves: it is walked through in short steps to see what it changes.
        walk = min(options.step or math.inf, options.interval, (options.stop - options.start) / LEAST_STEPS)
        options = replace(options, solver="euler", step=walk)
    if options.solver in ("bdf", "adams"):
        from movrel.simulate.affine import AffineIntegrator, is_affine

        return (AffineIntegrator if is_affine(machine) else CvodeIntegrator)(machine, options, nominal, look)
    from movrel.simulate.stepping import make_stepping

    return make_stepping(machine, options, nominal, look)


class SundialsIntegrator:
    """The loop over the steps of a SUNDIALS solver; a subclass makes ``_solver``."""

    _solver: Any

    def __init__(self, machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]) -> None:
        self.evaluations = 0
        self.jacobian_evaluations = 0
        self.steps = 0
        self._machine = machine
        self._look = look
        self._block_steps = block_steps(machine)
        self._n = machine.state_count
        self._roots: Any = None
        self._keywords: dict[str, Any] = {
            "max_order": 5,
            "rtol": options.tolerance,
            "max_num_steps": 2_000_000,
            "max_step": options.step or 0.0,
        }

    def _watch(self, root_functions: Any) -> None:
        """Have the solver look for the crossings of the machine."""
        if len(self._machine.rooted):
            self._keywords["eventsfn"] = self._roots = root_functions
            self._keywords["num_events"] = 2 * len(self._machine.rooted)

    def _sparse(self, rows: npt.NDArray[np.int64], columns: npt.NDArray[np.int64], size: int) -> bool:
        """Choose how the Jacobian is kept; true for sparse."""
        if size <= SPARSE_FROM or not len(rows):
            return False
        from scipy.sparse import csc_matrix

        self._keywords["linsolver"] = "sparse"
        self._keywords["sparsity"] = csc_matrix((np.ones(len(rows)), (rows, columns)), shape=(size, size))
        return True

    def _count(self, t: float) -> None:
        self.evaluations += 1
        if not self.evaluations & 255:
            self._look(t)

    def _restart(self, t: float, state: Array) -> None:
        self._solver.init_step(t, state)

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool]
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """See :class:`Integrator`."""
        derivatives, n = self._machine.derivatives, self._n
        self._forget_crossings()
        steps = Steps()
        steps.add(self._machine, t, state, derivatives(t, state)[:n].copy())
        self._restart(t, state)
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
                states = step.y[:n]
                steps.add(self._machine, reached, states, derivatives(reached, states)[:n].copy())
                new += 1
                if not fired and new == 1 and len(steps.times) == 2:
                    # A root function that is exactly zero at a restart is not watched during the first step.
                    fired = self._machine.overlooked(reached, states)
            if fired or reached >= until:
                if new:
                    block(steps, new)
                return reached, steps.states[-1], fired
            if new >= self._block_steps:
                if block(steps, new):
                    return reached, steps.states[-1], []
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


class CvodeIntegrator(SundialsIntegrator):
    """CVODE with the exact Jacobian.

    Where nothing has to be known about a step as soon as it is taken, many steps are taken at once,
    without coming back here in between.
    """

    def __init__(self, machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]) -> None:
        super().__init__(machine, options, nominal, look)
        assert machine.jacobian is not None
        jacobian = machine.jacobian
        pattern = machine.system.jacobian.sparsity_out(0)
        rows, columns = np.array(pattern.row(), int), np.array(pattern.get_col(), int)
        count = len(rows)
        if self._sparse(rows, columns, self._n):

            def jacobian_values(t: float, y: Array, yp: Array, out: Array) -> None:
                self.jacobian_evaluations += 1
                out[:] = jacobian(t, y)
        else:

            def jacobian_values(t: float, y: Array, yp: Array, out: Array) -> None:
                self.jacobian_evaluations += 1
                out[rows, columns] = jacobian(t, y)[:count]

        def root_functions(t: float, y: Array, out: Array) -> None:
            machine.crossings(t, y, out)

        self._watch(root_functions)
        self._keywords |= {
            "method": "Adams" if options.solver == "adams" else "BDF",
            "atol": options.tolerance * nominal,
            "jacfn": jacobian_values,
        }
        self._solver = self._make(self._keywords)
        self._many = not (machine.nonlinear or machine.dynamic or machine.history is not None)
        if self._many:
            self._budget = max(100, round(EVALUATIONS_AT_ONCE / (1 + self._n / 300)))
            self._limit = self._budget
            self._halting: Any = None
            self._rates: Columns = machine.system.once("rate columns", lambda: Columns(machine.system.derivatives))

    def _make(self, keywords: dict[str, Any]) -> Any:
        with warnings.catch_warnings():
            # It warns that the pattern serves the exact Jacobian only, which is what is meant.
            warnings.simplefilter("ignore", UserWarning)
            return CVODE(self._right_side(), **keywords)

    def _right_side(self) -> Callable[[float, Array, Array], None]:
        machine, look = self._machine, self._look
        derivatives = machine.derivatives
        time, state, result, evaluate = derivatives.t, derivatives.x, derivatives.result, derivatives.evaluate
        careful = machine.nonlinear or derivatives.before is not None

        def right_side(t: float, y: Array, yp: Array) -> None:
            self.evaluations += 1
            if not self.evaluations & 255:
                look(t)
            if careful:
                yp[:] = derivatives(t, y)
                if machine.unsolved:
                    yp[:] = math.nan  # the solver then tries a shorter step
                return
            time[0] = t
            state[:] = y
            evaluate()
            yp[:] = result
            if self.evaluations == self._limit and self._halting is None:
                raise _TooMany

        return right_side

    _limit = 0
    _halting: Any = None
    _many = False

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool]
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """See :class:`Integrator`."""
        # A root function that is exactly zero is not watched at first; then every step is looked at.
        if not self._many or (len(self._machine.rooted) and not self._machine.indicators(t, state)[self._machine.rooted].all()):
            self._limit = -1
            return super().advance(t, state, until, block)
        while True:
            self._limit = self.evaluations + self._budget
            self._forget_crossings()
            try:
                found = (self._halting or self._solver).solve((t, until), state)
            except _TooMany:
                self._make_halting()
                continue
            times, states = found.t, found.y
            self.steps += len(times) - 1
            fired = self._fired()
            if not found.success or len(times) < 2 or times[-1] <= t:
                self._keep(times[:-1], states[:-1], block)
                at = max(len(times) - 2, 0)
                reason = "its steps became too small to move on." if found.success else _reason(found.message)
                raise StepFailure(reason, float(times[at]), states[at])
            if fired and len(self._machine.rooted):
                early = self._machine.overlooked(float(times[1]), states[1])
                if early:
                    times, states, fired = times[:2], states[:2], early
            halted = bool(fired) and fired[-1][0] == 2 * len(self._machine.rooted)
            fired = [f for f in fired if f[0] < 2 * len(self._machine.rooted)]
            worn = self._keep(times, states, block)
            t, state = float(times[-1]), states[-1].copy()
            if fired or worn or not halted or t >= until:
                return t, state, fired

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
            return np.array([machine.derivatives(t, y)[: self._n].copy() for t, y in zip(times, states, strict=True)])
        memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
        return self._rates(times, states.T, machine.p, memory, machine.w)

    def _make_halting(self) -> None:
        """A solver with one more root function, by which it can be asked to return after a number of evaluations.

        The number does not depend on the clock, so that the same run gives the same result again.
        """
        machine, count = self._machine, 2 * len(self._machine.rooted)

        def root_functions(t: float, y: Array, out: Array) -> None:
            if count:
                machine.crossings(t, y, out[:count])
            out[count] = 1.0 if self.evaluations < self._limit else -1.0

        self._roots = root_functions
        self._halting = self._make(self._keywords | {"eventsfn": root_functions, "num_events": count + 1})


class _TooMany(Exception):
    """More evaluations than should go by without anything being stored."""


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
