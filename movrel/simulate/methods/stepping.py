"""One-step methods, with events found between the ends of each step."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

import numpy as np
import numpy.typing as npt
from scipy.sparse import csc_matrix

from movrel.equations.system import SPARSE_FROM
from movrel.simulate.branch import BranchEnded
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import StepFailure, Steps, block_steps
from movrel.simulate.methods.kinks import Kinks
from movrel.simulate.methods.turning import (
    RootColumns,
    instants_within,
    turning_instants,
)
from movrel.simulate.options import RunOptions
from movrel.simulate.phases import PhaseBound

Array = npt.NDArray[np.float64]


class RightSide:
    """The right-hand side and its Jacobian, counted."""

    def __init__(self, machine: Machine, look: Callable[[float], None]) -> None:
        self._machine = machine
        self._look = look
        self.n = machine.state_count
        self.evaluations = self.jacobian_evaluations = 0
        pattern = machine.system.jacobian.sparsity_out(0) if machine.state_count else None
        self._rows = np.array(pattern.row() if pattern else [], int)
        self._columns = np.array(pattern.get_col() if pattern else [], int)
        self.sparse = self.n > SPARSE_FROM
        #: Whether the Jacobian is known: units do not tell theirs.
        self.exact = not machine.live

    def __call__(self, t: float, y: Array) -> Array:
        self.evaluations += 1
        if not self.evaluations & 255:
            self._look(t)
        return self._machine.rates_if_solved(t, y).copy()

    def jacobian(self, t: float, y: Array) -> Any:
        assert self._machine.jacobian is not None
        self.jacobian_evaluations += 1
        values = self._machine.jacobian(t, y)[: len(self._rows)]
        if self.sparse:
            return csc_matrix((values.copy(), (self._rows, self._columns)), shape=(self.n, self.n))
        dense = np.zeros((self.n, self.n))
        dense[self._rows, self._columns] = values
        return dense


#: A step: where it ended, and a function that gives the state at any instant within.
Step = tuple[float, Array, Callable[[float], Array]]


class Method(Protocol):
    """A one-step method."""

    f: RightSide
    #: Whether it chooses its steps.
    varies: bool

    def __init__(self, f: RightSide, options: RunOptions, nominal: Array) -> None: ...

    def restart(self, t: float, y: Array, until: float) -> None:
        """Begin at a state from which the past is of no use."""

    def step(self, until: float) -> Step:
        """One step, not beyond ``until``. Raises :class:`StepFailure`."""


class SteppingIntegrator:
    """Steps of a one-step method between events; a crossing is found by halving the step it lies in."""

    def __init__(
        self, machine: Machine, method: Method, look: Callable[[float], None], span: float
    ) -> None:
        self._machine, self._span = machine, span
        self._method = method
        self._look = look
        self._g = np.zeros(2 * len(machine.rooted))
        self._block_steps = block_steps(machine)
        self._phases, self._kinks = PhaseBound(machine), Kinks(machine)
        self.steps = 0

    @property
    def evaluations(self) -> int:
        return self._method.f.evaluations

    @property
    def jacobian_evaluations(self) -> int:
        return self._method.f.jacobian_evaluations

    def _signs(self, t: float, y: Array) -> Array:
        self._machine.crossings(t, y, self._g)
        return np.sign(self._g)

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool], quiet: bool = False
    ) -> tuple[float, Array, list[tuple[int, int]]]:  # fmt: skip
        """See :class:`movrel.simulate.methods.integrator.Integrator`."""
        machine, f = self._machine, self._method.f
        machine.watches_zero = False
        steps = Steps()
        steps.add(machine, t, state, f(t, state))
        self._method.restart(t, state, until)
        self._phases.restart()
        self._kinks.restart()
        signs = self._signs(t, state) if len(self._g) else self._g
        #: Root functions at the last two steps, from which those are seen that turn back within the next.
        earlier, before = (t, self._g.copy()), (t, self._g.copy())
        new = 0
        while True:
            try:
                limit = until
                if self._method.varies:
                    limit = self._phases.limit(t, steps.states[-1], steps.rates[-1], until)
                reached, y, within = self._method.step(limit)
            except (StepFailure, BranchEnded):
                if new:
                    block(steps, new)
                raise
            self.steps += 1
            fired: list[tuple[int, int]] = []
            if len(self._g):
                after = self._signs(reached, y)
                last = (reached, self._g.copy())
                turns = turning_instants(earlier, before, last)
                for instant in sorted([*turns, *self._looked_at(t, reached, y, within)]):
                    trial = within(instant)
                    if machine.overlooked(instant, trial):
                        reached, y = self._first_contradiction(t, instant, trial, within)
                        fired, after = machine.overlooked(reached, y), self._signs(reached, y)
                        break
                else:
                    if ((after != signs) & (signs != 0)).any():
                        reached, y, after = self._located(t, reached, y, within, signs)
                        changed = (after != signs) & (signs != 0)
                        fired = [
                            (int(i), int(after[i] or -signs[i])) for i in np.nonzero(changed)[0]
                        ]
                    elif (signs == 0).any() and (fired := machine.overlooked(reached, y)):
                        reached, y = self._first_contradiction(t, reached, y, within)
                        fired, after = machine.overlooked(reached, y), self._signs(reached, y)
                earlier, before = before, last
                signs = after
            try:
                steps.add(machine, reached, y, f(reached, y))
            except BranchEnded:
                if new:
                    block(steps, new)
                raise
            new += 1
            if fired or reached >= until:
                block(steps, new)
                if steps.times[-1] < reached:  # the step was taken back
                    return steps.times[-1], steps.states[-1], []
                return reached, y, fired
            if new >= self._block_steps or machine.worn_out(reached, y):
                if block(steps, new):
                    return steps.times[-1], steps.states[-1], []
                steps.forget_all_but(3)
                new = 0
                self._look(reached)
            t = reached
            if not self.steps & 63:
                self._look(reached)

    def _looked_at(
        self, t: float, end: float, y: Array, within: Callable[[float], Array]
    ) -> list[float]:
        """Where a root function has a kink, or where, in a long step, what is held seems contradicted."""

        def between(instants: Array) -> Array:
            return np.array([within(float(instant)) for instant in instants])

        turns = []
        if self._kinks.any and self._kinks.passed([t, end], [within(t), y]):
            turns = self._kinks.within(np.array([t, end]), between)
        at = instants_within(t, end, self._span) if self._method.varies else ()
        if not len(at):
            return turns
        roots = RootColumns(self._machine)
        return turns + roots.contradicting(np.asarray(at), between(np.asarray(at))).tolist()

    def _first_contradiction(
        self, t: float, end: float, y: Array, within: Callable[[float], Array]
    ) -> tuple[float, Array]:
        """The earliest instant in a step at which a relation that began at zero is on its other side."""
        low, high, at_high = t, end, y
        while high - low > 1e-12 * max(abs(end), end - t):
            middle = 0.5 * (low + high)
            trial = within(middle)
            if self._machine.overlooked(middle, trial):
                high, at_high = middle, trial
            else:
                low = middle
        return high, at_high

    def _located(
        self, t: float, end: float, y: Array, within: Callable[[float], Array], signs: Array
    ) -> tuple[float, Array, Array]:
        """The earliest crossing in a step: the first instant at which a sign has changed."""
        low, high, at_high = t, end, y
        tolerance = 4e-15 * max(abs(t), abs(end), end - t)
        while high - low > tolerance:
            middle = 0.5 * (low + high)
            if not low < middle < high:
                break
            trial = within(middle)
            after = self._signs(middle, trial)
            if ((after != signs) & (signs != 0)).any():
                high, at_high = middle, trial
            else:
                low = middle
        return high, at_high, self._signs(high, at_high)
