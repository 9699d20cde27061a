"""The forms of a model that one run goes through: other states, a surface, the smallest of many solutions."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from movrel.equations.state_choice import Selection
from movrel.equations.system import System
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.simulate.coupling import Coupling
from movrel.simulate.events import EventHandler
from movrel.simulate.explanation import Explanation
from movrel.simulate.machine import Machine
from movrel.simulate.methods.choose import STRICTEST, make_integrator
from movrel.simulate.methods.integrator import Integrator
from movrel.simulate.options import FIXED_STEP, RunOptions
from movrel.simulate.recording import Recording
from movrel.simulate.start import Start

Array = npt.NDArray[np.float64]

#: A machine with the states in which it goes on.
Going = tuple[Machine, Array]

#: Tolerances near a threshold that the run cannot tell apart from its own errors, as shares of the one asked for.
CLOSER = (1e-2, 1e-4)
#: For how long the first time, as a share of the run.
BRIEFLY = 1e-3


class Forms:
    """One of the forms runs, with its machine, events and integrator; the others are kept for when they run again.

    Tables list the variables of ``order``; ``look`` is called now and then by integrators.
    """

    def __init__(
        self, start: Start, order: list[Variable], options: RunOptions, recording: Recording, look: Callable[[float], None]
    ) -> None:  # fmt: skip
        self.machine = start.machine
        self.options = options
        self.units: Coupling | None = None
        self.events: EventHandler
        self.integrator: Integrator | None = None
        self._start, self._order, self._recording, self._look = start, order, recording, look
        self._known: dict[System, tuple[Machine, EventHandler, Integrator | None]] = {}
        self._nominals: dict[System, Array] = {}
        #: Until when the run looks closer.
        self.closer_until = math.inf
        self._closer: Integrator | None = None
        self._closeness, self._earlier_work = 0, (0, 0)
        self._brief = BRIEFLY * abs(options.stop - options.start)

    def adopt(self, machine: Machine) -> None:
        """Make a machine the one that runs."""
        if machine.system not in self._known:
            self._known[machine.system] = machine, self._events_of(machine), self._steps_of(machine)
        self.machine, self.events, _ = self._known[machine.system]
        self.look_as_usual()
        self._recording.machine = machine
        self._recording.explanation = Explanation(machine.system, self._start.parameters)

    def look_closer(self, t: float) -> bool:
        """Integrate with a smaller tolerance for a while, each time for longer; False where that is of no use.

        An operand that stays nearer to its threshold than the tolerance seems to cross it again and again, though
        the solution itself does not.
        """
        level = self._closeness
        if (
            self.integrator is None
            or self.options.solver in FIXED_STEP
            or level == len(CLOSER)
            or CLOSER[level] * self.options.tolerance < STRICTEST
        ):
            return False
        options = replace(self.options, tolerance=CLOSER[level] * self.options.tolerance)
        self.look_as_usual()
        self.integrator = self._closer = make_integrator(
            self.machine, options, self.nominals(self.machine), self._look
        )
        self._closeness = level + 1
        self.closer_until = t + self._brief
        self._brief *= 2
        return True

    def tolerance_now(self) -> float:
        """The relative tolerance with which the run goes on at present."""
        closer = CLOSER[self._closeness - 1] if self._closeness else 1.0
        return closer * self.options.tolerance

    def look_as_usual(self) -> None:
        """Integrate with the tolerance that was asked for."""
        if self._closer is not None:
            steps, evaluations = self._earlier_work
            self._earlier_work = (
                steps + self._closer.steps,
                evaluations + self._closer.evaluations,
            )
        self._closer, self._closeness, self.closer_until = None, 0, math.inf
        self.integrator = self._known[self.machine.system][2]

    def _events_of(self, machine: Machine) -> EventHandler:
        explanation = Explanation(machine.system, self._start.parameters)

        def say(message: x.Expr, t: float, states: Array) -> str:
            return explanation.say(message, t, machine.everything(t, states))

        span = abs(self.options.stop - self.options.start)
        warn = self._recording.messages.append
        events = EventHandler(machine, self._start.parameters, span, say, warn)
        events.stop = self.options.stop
        return events

    def _steps_of(self, machine: Machine) -> Integrator | None:
        if not (machine.state_count or len(machine.rooted) or machine.history is not None):
            return None
        return make_integrator(machine, self.options, self.nominals(machine), self._look)

    def nominals(self, machine: Machine) -> Array:
        """The sizes by which the tolerances of a machine's states count, shape ``(states,)``."""
        system = machine.system
        if system not in self._nominals:
            self._nominals[system] = np.array(
                [self._start.nominal(v) for v in system.states], float
            )
        return self._nominals[system]

    def tolerances(self, machine: Machine, states: Array) -> Array:
        """How exact each state of a machine is asked to be, for given ones."""
        return self.options.tolerance * (self.nominals(machine) + np.abs(states))

    def work(self) -> tuple[int, int]:
        """Steps and evaluations of all forms so far."""
        at_work = [
            i for i in (self._closer, *(i for *_, i in self._known.values())) if i is not None
        ]
        steps, evaluations = self._earlier_work
        return steps + sum(i.steps for i in at_work), evaluations + sum(
            i.evaluations for i in at_work
        )

    def other(self, system: System, t: float, states: Array) -> Going:
        """Another form of the model where the present one stands."""
        form = self._known.get(system)
        machine = form[0] if form else Machine(system, self._start.p, self._order)
        machine.history = self.machine.history
        if self.units is not None:
            machine.couple(self.units)
        states = machine.take_over(self.machine, t, states)
        if not form:
            self.begin_sizes(machine, t, states)
        return machine, states

    def begin_sizes(self, machine: Machine, t: float, states: Array) -> None:
        machine.begin_sizes(t, states, lambda v: self._start.look_for(v)[1])

    def go_on_with(self, machine: Machine) -> None:
        """Go over to another form; samplings and delayed jumps that are to come stay what they are."""
        self._recording.work_off()
        sampling, echoes = list(self.events.next_sample), self.events.echoes
        self.adopt(machine)
        self.events.next_sample, self.events.echoes = sampling, echoes

    def with_better_states(self, t: float, states: Array, wanted: bool) -> Going | None:
        """The form with other states, where the present choice is worn out or another is ``wanted``."""
        machine = self.machine
        if not machine.dynamic or not (wanted or machine.worn_out(t, states)):
            return None
        better = self.better_selection(t, states)
        return None if better is None else self.other(machine.system.with_states(better), t, states)

    def better_selection(self, t: float, states: Array) -> Selection | None:
        """A choice of states that is better than the present one."""
        ordered, matrices = self.machine.system.ordered, self.machine.matrices(t, states)
        if not all(np.isfinite(m).all() for m in matrices):
            return None
        better = ordered.reduction.improved(ordered.selection, matrices)
        return None if better == ordered.selection else better

    def with_smallest_solution(self, t: float, states: Array) -> tuple[Going, list[str]] | None:
        """The form that takes the smallest solution of equations that have become singular, and what they leave open."""
        left_open = self.machine.loops.undetermined(t, states)
        if not left_open or self.machine.system.takes_smallest:
            return None
        machine, there = self.other(self.machine.system.smallest(), t, states)
        if not np.isfinite(machine.everything(t, there)).all():
            return None
        return (machine, there), left_open
