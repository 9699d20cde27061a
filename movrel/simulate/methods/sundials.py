"""The loop over the steps of a SUNDIALS solver (Hindmarsh et al., ACM TOMS 31, 2005)."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.simulate.branch import BranchEnded
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import StepFailure, Steps, block_steps
from movrel.simulate.methods.structure import Places, Structure, choose_structure
from movrel.simulate.methods.turning import Turning
from movrel.simulate.options import RunOptions
from movrel.simulate.phases import PhaseBound

Array = npt.NDArray[np.float64]

#: Steps in which time may stand still before the solver is said to be stuck.
STALL_LIMIT = 50
#: How often a solver that fails is begun anew within a share of the way to the next event.
RESTARTS, ROOM = 20, 1e-2


class SundialsIntegrator:
    """The loop over the steps of a SUNDIALS solver; a subclass makes ``_solver``."""

    _solver: Any
    #: How the matrix of a step is kept, and in which order the solver has the unknowns.
    structure: Structure

    def __init__(
        self, machine: Machine, options: RunOptions, nominal: Array, look: Callable[[float], None]
    ) -> None:
        self.evaluations = 0
        self.jacobian_evaluations = 0
        self.steps = 0
        #: Where the solver stands with a past that it can go on with.
        self._reached = math.nan
        self._machine = machine
        self._look = look
        self._block_steps = block_steps(machine)
        #: Where a step that missed a crossing is to end when it is taken anew.
        self._looked = -math.inf
        self._phases, self._watch_turns = (
            PhaseBound(machine),
            Turning(machine, options.stop - options.start),
        )
        self._n = machine.state_count
        self._roots: Any = None
        self._span = options.stop - options.start
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

    def _structure(self, rows: Places, columns: Places, size: int) -> Structure:
        """Choose how the matrix of a step is kept; made once for all runs of a system."""
        name = f"structure of {type(self).__name__}"
        structure = self._machine.system.once(name, lambda: choose_structure(rows, columns, size))
        self._keywords |= structure.keywords
        return structure

    def _count(self, t: float) -> None:
        self.evaluations += 1
        if not self.evaluations & 255:
            self._look(t)

    def _restart(self, t: float, state: Array) -> None:
        self._solver.init_step(t, self.structure.ordered(state))

    def advance(
        self, t: float, state: Array, until: float, block: Callable[[Steps, int], bool], quiet: bool = False
    ) -> tuple[float, Array, list[tuple[int, int]]]:  # fmt: skip
        """See :class:`Integrator`."""
        rates, n = self._machine.rates, self._n
        self._forget_crossings()
        steps = Steps()
        steps.add(self._machine, t, state, rates(t, state).copy())
        self._watch_turns.begin(t, state)
        self._phases.restart()
        if not (quiet and t == self._reached):
            self._machine.watches_zero = False
            self._restart(t, state)
        self._reached = math.nan
        new = stalled = 0
        fresh = True
        tried, again, since = -math.inf, 0, t
        looked, self._looked = self._looked, -math.inf
        while True:
            here = steps.times[-1]
            limit = self._phases.limit(here, steps.states[-1], steps.rates[-1], until)
            limit = min(limit, looked) if looked > here else limit
            try:
                step = self._solver.step(limit, "onestep", limit)
            except BranchEnded:
                if new:
                    block(steps, new)
                raise
            if not step.success:
                if here - since > ROOM * (until - since):
                    again, since = 0, here
                again += 1
                if here > tried and again <= RESTARTS:
                    # From here without a past, and with loops that are solved exactly.
                    tried = here
                    self._restart(tried, steps.states[-1])
                    fresh = True
                    continue
                if new:
                    block(steps, new)
                raise StepFailure(plain_reason(step.message), steps.times[-1], steps.states[-1])
            self.steps += 1
            self._machine.watches_zero = True
            reached, fired = float(step.t), self._fired()
            stalled = 0 if reached > steps.times[-1] else stalled + 1
            if stalled > STALL_LIMIT:
                raise StepFailure(
                    "its steps became too small to move on.", steps.times[-1], steps.states[-1]
                )
            if reached > steps.times[-1]:
                states = self.structure.natural(step.y)[:n]
                try:
                    steps.add(self._machine, reached, states, rates(reached, states).copy())
                except BranchEnded:
                    if new:
                        block(steps, new)
                    raise
                new += 1
                if not fired and fresh:
                    # A root function that is exactly zero at a restart is not watched during the first step.
                    fired = self._machine.overlooked(reached, states)
                fresh = False
                turn = self._watch_turns.missed(steps, bool(fired)) if reached > looked else None
                if turn is not None:
                    self._forget_crossings()
                    steps.take_back()
                    self._watch_turns.take_back()
                    self._phases.restart()
                    new, looked, fresh = new - 1, turn, True
                    self._machine.watches_zero = False
                    self._restart(steps.times[-1], steps.states[-1])
                    continue
            if fired or reached >= until:
                if new:
                    block(steps, new)
                if steps.times[-1] < reached:  # the step was taken back
                    return steps.times[-1], steps.states[-1], []
                if not fired:
                    self._reached = reached
                return reached, steps.states[-1], fired
            if new >= self._block_steps or (new and self._machine.worn_out(reached, states)):
                if block(steps, new):
                    return steps.times[-1], steps.states[-1], []
                steps.forget_all_but(3)
                new = 0
                self._look(reached)
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


def plain_reason(message: str) -> str:
    """The solver's own words in plain ones."""
    text = message.lower()
    if "error test" in text:
        return "the step had to be made too small to keep the tolerance."
    if "convergence" in text or "converge" in text:
        return "the implicit step equations could not be solved."
    if "too much work" in text or "max" in text:
        return "too many steps were needed."
    return "it found no usable step."
