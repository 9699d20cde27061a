"""The run loop: start, integrate between events, find and handle events, store."""

from __future__ import annotations

import time as clock
from collections.abc import Callable

import numpy as np
import numpy.typing as npt

from movrel.equations.system import System
from movrel.errors import RunCancelled, StructureFault
from movrel.model.expression import Variable
from movrel.simulate.between_steps import between_steps, side_before
from movrel.simulate.branch import BranchEnded
from movrel.simulate.chatter import STANDSTILL, Chatter, Crawling, chattering, crawling
from movrel.simulate.coupling import Coupling
from movrel.simulate.events import EventHandler
from movrel.simulate.explanation import Explanation
from movrel.simulate.failure import failure
from movrel.simulate.forms import Forms
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import StepFailure, Steps
from movrel.simulate.options import FIXED_STEP, RunOptions
from movrel.simulate.pace import Pace
from movrel.simulate.recipes import Recipe, recipes_of
from movrel.simulate.recording import Listener, Progress, Recording, table_of
from movrel.simulate.remarks import exhausted, small_states
from movrel.simulate.result_columns import result_columns
from movrel.simulate.returns import Returns
from movrel.simulate.run_parameters import judged, parameters_of
from movrel.simulate.slides import Slides
from movrel.simulate.standing import Standing, state_at
from movrel.simulate.start import Start
from movrel.simulate.step_bound import with_bounded_steps
from movrel.simulate.trace import Trace
from movrel.simulate.trajectory import Column, Event, FinalState, Statistics, Trajectory

Array = npt.NDArray[np.float64]

#: Events that are kept with their cause.
EVENT_LIMIT = 100_000


class Run:
    """One run of a system; :meth:`go` gives the trajectory.

    ``begin`` is the final state of an earlier run from which this one goes on; ``resume`` one where this very run stood
    (:meth:`standing`), of which the rows up to there exist. When the run fails or
    is stopped, :meth:`partial` is what was computed until then.
    """

    def __init__(
        self, system: System, options: RunOptions, settings: dict[str, float], listener: Listener | None = None,
        begin: FinalState | None = None, resume: FinalState | None = None,
    ) -> None:  # fmt: skip
        self.system = system
        self.options = options
        self.begin = resume or begin
        self._resumes = resume is not None
        self._standing = Standing()
        #: What takes note of the steps and events of the run, where somebody wants them.
        self.trace: Trace | None = None
        self.statistics = Statistics()
        self.events: list[Event] = []
        self.parameters, self.p = parameters_of(system, settings)
        doubts = judged(system, self.parameters, self.p)
        self._order: list[Variable] = system.once("order", lambda: [*system.states, *system.solved])
        self._last_look = clock.perf_counter()
        self._pace = Pace(options.start)
        self._reselect: bool = False
        self._ended: str | None = None
        self._returns = Returns()
        self._chatter = Chatter(options.stop - options.start)
        self._crawling, self._crawls = Crawling(), False
        machine = Machine(system, self.p)
        self._unit_event = False
        self.explanation = Explanation(system, self.parameters)
        self.start = Start(machine, self.parameters, self.p, self.explanation)
        self.recording = Recording(
            machine, options, listener or Listener(listens=False), self.explanation
        )
        self.recording.messages += [*system.notes, *doubts]
        self.forms = Forms(self.start, self._order, options, self.recording, self._look)
        self._slides = Slides(self.forms.other, self.messages.append)

    @property
    def machine(self) -> Machine:
        """The machine that runs."""
        return self.forms.machine

    @property
    def events_of(self) -> EventHandler:
        """Its events."""
        return self.forms.events

    @property
    def units(self) -> Coupling | None:
        """The units of the model."""
        return self.forms.units

    @property
    def listener(self) -> Listener:
        return self.recording.listener

    @listener.setter
    def listener(self, listener: Listener) -> None:
        self.recording.listener = listener

    @property
    def messages(self) -> list[str]:
        return self.recording.messages

    # --- the whole run ---

    def go(self) -> Trajectory:
        """Compute until the stop time.

        Raises :class:`RunFault` when the computation cannot go on and :class:`RunCancelled` when the
        listener stopped it.
        """
        if not self.system.ordered.units:
            return self._go()
        if self.begin is not None:
            raise StructureFault(
                "a model with units cannot go on from the end of an earlier run: units do not give their state away.",
                hint="Run it from the start.",
            )
        units = self.forms.units = Coupling(self.system, self.parameters)
        try:
            self.machine.couple(units)
            trajectory = self._go()
            self.messages.extend(units.messages())
            return trajectory
        finally:
            units.close()

    def first_instant(self) -> Trajectory:
        """The first instant alone, its events settled, of a model without units; raises what :meth:`go` raises."""
        t = self.options.start
        states = self.start.states(t, self.units, self.options)
        states = self._begin_machine(t, states)
        self._store_now(t, self._settle(t, states, {}, self.events_of.due(t)[1], record=False))
        self.recording.work_off()
        self.recording.flush()
        return self.partial()

    def _go(self) -> Trajectory:
        began = clock.perf_counter()
        t = self.options.start
        if self._resumes and self.begin is not None:
            t = self._pace.looked_at = self.recording.kept_until = self.begin.time
            self.recording.skip(t)
        if self.begin is None:
            states = self.start.states(t, self.units, self.options)
            self.messages.extend(self.start.remarks)
        else:
            states = self.start.go_on(self.begin)
        self.statistics.seconds["start"] = clock.perf_counter() - began
        began = clock.perf_counter()
        try:
            states = self._begin_machine(t, states)
            if self.begin is None:
                states = self._settle(t, states, {}, self.events_of.due(t)[1], record=False)
            if not self._resumes:
                self._store_now(t, states)
            try:
                t, states = self._integrate(t, states)
            finally:
                self.recording.work_off()  # may find an earlier and better reason for a failure
            self._finish(t, states)
        finally:
            self.statistics.seconds["integration"] = clock.perf_counter() - began
        self.recording.flush()
        return self.partial(complete=True)

    def unsent(self) -> list[tuple[Array, Array]]:
        """Stored rows that the listener has not been given, after a run that ended early."""
        return self.recording.unsent()

    def summary(self) -> Trajectory:
        """Everything but the rows."""
        return Trajectory(
            np.zeros(0),
            np.zeros((0, 0)),
            self._describe,
            self.events,
            self.statistics,
            self.messages,
            self.recording.kept_until,
        )

    def ended_at(self) -> FinalState | None:
        """The state in which the run ended, None unless it reached its end."""
        return self._final() if self._final is not None else None

    def partial(self, complete: bool = False) -> Trajectory:
        """What has been stored so far."""
        time, table = table_of(self.recording, len(self._order))
        final = float(time[-1]) if len(time) else self.options.start
        trajectory = Trajectory(
            time,
            table,
            self._describe,
            self.events,
            self.statistics,
            self.messages,
            final,
            complete,
        )
        trajectory.ended_at = self._final
        return trajectory

    _final: Callable[[], FinalState] | None = None

    def recipes(self) -> dict[int, Recipe]:
        """How columns of the result follow from others, by their number."""
        return recipes_of(self.system, self.p)

    def _describe(self) -> list[Column]:
        return result_columns(self.system, self.parameters, self.p)

    def _finish(self, t: float, states: Array) -> None:
        """The last instant: terminal events, and the state from which a later run can go on."""
        if self.system.once("terminal", self.system.ordered.asks_for_the_end):
            states = self._settle(t, states, {}, [], terminal=True)
            self._store_now(t, states)
        self.recording.work_off()
        if self.options.solver not in FIXED_STEP:
            self.messages.extend(
                small_states(self.system, self.recording.largest, self.options.tolerance)
            )
        if self.machine.system is self.system:
            self.messages.extend(
                exhausted(
                    self.machine,
                    self._returns,
                    t,
                    states,
                    lambda v: self.options.tolerance * self.start.nominal(v),
                )  # fmt: skip
            )
        self._final = state_at(self.machine, self._order, t, states)

    def standing(self) -> FinalState | None:
        """Where the run stands, asked by its listener, who is given all rows until then first; see :meth:`Standing.state`."""
        state = self._standing.state(self.machine, self._order)
        if state is not None:
            self.recording.work_off()
            self.recording.flush()
        return state

    # --- forms of the model ---

    def _begin_machine(self, t: float, states: Array) -> Array:
        self.options = self.forms.options = with_bounded_steps(
            self.machine, self.options, t, states
        )
        self.forms.begin_sizes(self.machine, t, states)
        self.forms.adopt(self.machine)
        self.machine.start_history(t, states)
        self.events_of.echoes += self.machine.breaks(t)
        self.events_of.begin_sampling(
            t if self.begin is None else t + 2 * self.events_of.rounding(t)
        )
        return self._choose_states(t, states)

    def _choose_states(self, t: float, states: Array) -> Array:
        """Go over to other states where the present choice is no longer good."""
        wanted, self._reselect = self._reselect, False
        better = self.forms.with_better_states(t, states, wanted)
        if better is None:
            return states
        self.forms.go_on_with(better[0])
        self.statistics.state_changes += 1
        return better[1]

    def _slide(self, entered: tuple[Machine, Array] | None, t: float) -> Array | None:
        """Go on along a surface, if that can be; the states there."""
        if entered is None:
            return None
        self.forms.go_on_with(entered[0])
        self._chatter.helped()
        states = self._settle(t, entered[1], {}, [], record=False)
        self._store_now(t, states)
        return states

    def _unheld(self, t: float, states: Array) -> tuple[Machine, Array] | None:
        return self._slides.unheld(self.machine, t, states, self._tolerances(states))

    def _refuse_to_crawl(self, t: float, states: Array) -> None:
        """End the run where something that jumps, and cannot be slid along, has held it up for thousands of steps."""
        if self._crawling.is_hopeless(t, self.options.stop - self.options.start):
            near = self._slides.near(self.machine, t, states, self._tolerances(states))
            if near:
                raise crawling(t, near[0].text)

    def _smallest(self, t: float, states: Array) -> Array:
        """Go on with the smallest solution of equations that have become singular, if they have one."""
        smallest = self.forms.with_smallest_solution(t, states)
        if smallest is None:
            return states
        (machine, states), left_open = smallest
        self.forms.go_on_with(machine)
        message = (
            f"the equations leave open how {', '.join(left_open)} share what they carry together: "
            "the smallest values are taken."
        )
        if not any(m.endswith(message) for m in self.messages):
            self.messages.append(f"at {t:g} s {message}")
        return self._settle(t, states, {}, [])

    def _leave_surfaces(self, t: float, states: Array) -> Array:
        left = self._slides.left(self.machine, t, states, self.forms.tolerances)
        if left is None:
            return states
        machine, states, sides = left
        self.forms.go_on_with(machine)
        states = self._settle(t, states, sides, [])
        self._store_now(t, states)
        return states

    # --- integration ---

    def _look(self, t: float) -> None:
        now = clock.perf_counter()
        if self._standing.wanted(t) or now - self._last_look >= self.listener.period:
            self._last_look = now
            self.recording.hand_on()
            if t >= self._pace.looked_at:  # a stretch may be gone through a second time
                size = self._pace.step_size(t, *self.forms.work())
                self.listener.progress(Progress(t, size, len(self.events)))
            if self.listener.stopped():
                raise RunCancelled(f"the run was stopped at {t:g} s.")

    def _integrate(self, t: float, states: Array) -> tuple[float, Array]:
        options = self.options
        chatter, quiet = self._chatter, False
        while t < options.stop and self._ended is None:
            self._standing.note(t, states)
            self._look(t)
            if t >= self.forms.closer_until:
                self.forms.look_as_usual()
            until = min(options.stop, self.events_of.next_time(t), self.forms.closer_until)
            t, states, fired = self._advance(t, states, until, quiet)
            quiet = False
            timed, sampled = self.events_of.due(t)
            echo = self.events_of.echo_due(t)
            wanted, self._unit_event = self._unit_event, False
            if not fired and not timed and not sampled and not echo and not wanted:
                crawls, self._crawls = self._crawls, False
                if crawls:
                    there = self._slide(self._unheld(t, states), t)
                    if there is None:
                        self._refuse_to_crawl(t, states)
                    else:
                        states = there
                states = self._choose_states(t, states)
                continue
            if self.recording.stored_until < t:
                self._store_now(t, self._side_before(t, states) if fired else states)
            self.statistics.state_events += bool(fired)
            self.statistics.time_events += bool(timed or sampled or echo)
            machine, before, earlier = self.machine, states, self.machine.m.copy()
            states = self._settle(t, states, machine.forced(fired) | timed, sampled)
            self._store_now(t, states)
            if fired and states is not before and machine is self.machine:
                self._returns.note(machine.rooted[[f[0] // 2 for f in fired]].tolist(), t)
            states = self._choose_states(t, states)
            quiet = not fired and states is before and machine is self.machine
            if quiet:
                felt = machine.felt()
                quiet = np.array_equal(machine.m[felt], earlier[felt])
            states = self._leave_surfaces(t, states)
            if timed or sampled or machine is not self.machine:
                chatter.moved_on()
            elif len(fired) == 1 and options.solver not in FIXED_STEP:
                slot, upper = int(self.machine.rooted[fired[0][0] // 2]), fired[0][1] > 0
                if chatter.turning(slot, fired[0][1], self.statistics.steps):
                    there = self._slide(self._slides.held(self.machine, slot, upper, t, states), t)
                    if there is not None:
                        states = there
                    elif self.forms.look_closer(t):
                        chatter.helped()
                    else:
                        # What is less than the errors of its operands is no crossing.
                        self.machine.blur(fired[0][0] // 2, self.forms.tolerance_now())
            if chatter.stands_still(t, states, self._tolerances(states)):
                if not self.forms.look_closer(t):
                    raise chattering(self.events[-STANDSTILL:], t)
                chatter.helped()
        if self.recording.stored_until < t:
            self._store_now(t, states)
        if self._ended is not None:
            self.messages.append(f"the model ended the run at {t:g} s: {self._ended}.")
        return t, states

    def _tolerances(self, states: Array) -> Array:
        return self.forms.tolerances(self.machine, states)

    def _settle(
        self,
        t: float,
        states: Array,
        forced: dict[int, float],
        sampled: list[int],
        record: bool = True,
        terminal: bool = False,
    ) -> Array:
        trace = self.trace if record else None
        if trace is not None:
            trace.begin(t, states, self.machine, list(forced))
        outcome = self.events_of.settle(t, states, forced, sampled, terminal, trace)
        if record and outcome.causes and len(self.events) < EVENT_LIMIT:
            self.events.append(Event(t, ", ".join(outcome.causes)))
        if outcome.ended is not None:
            self._ended = outcome.ended
        self.machine.note_scales(t, outcome.states)
        if self.machine.may_be_singular:
            return self._smallest(t, outcome.states)
        return outcome.states

    def _store_now(self, t: float, states: Array) -> None:
        self.recording.store(np.array([t]), states.reshape(1, -1))

    def _advance(
        self, t: float, states: Array, until: float, quiet: bool
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """To the next event or ``until``, storing the points of the output grid on the way."""
        integrator = self.forms.integrator
        if integrator is None or until - t <= self.events_of.rounding(t):
            for grid in self.recording.grid_points(until):
                self.recording.store(grid, np.tile(states, (len(grid), 1)))
            return until, states, []
        self._earlier = states
        counted = integrator.steps, integrator.evaluations, integrator.jacobian_evaluations
        try:
            return integrator.advance(t, states, until, self._store_steps, quiet)
        except (StepFailure, BranchEnded) as fault:
            there = self._slide(self._unheld(fault.time, fault.state), fault.time)
            if there is None:
                explanation = self.recording.explanation
                raise failure(self.machine, explanation, fault) from None
            return fault.time, there, []
        finally:
            self.statistics.steps += integrator.steps - counted[0]
            self.statistics.evaluations += integrator.evaluations - counted[1]
            self.statistics.jacobians += integrator.jacobian_evaluations - counted[2]

    def _store_steps(self, steps: Steps, new: int) -> bool:
        """Store the grid points of new steps; true when another choice of states is to be made.

        Where the choice wore out within the last step, that step is taken back: beyond the point at which the states
        determine nothing more, it may have turned into another branch.
        """
        worn = self.machine.worn_out(steps.times[-1], steps.states[-1])
        if (
            worn
            and len(steps.times) > 1
            and self.forms.better_selection(steps.times[-2], steps.states[-2])
        ):
            steps.take_back()
            self._reselect = True
            if steps.implicit:
                self.machine.guesses[:] = steps.implicit[-1]
                self.machine.branch.note(steps.times[-1], steps.states[-1])
            new -= 1
            if not new:
                return True
        times, states = np.asarray(steps.times), np.asarray(steps.states)
        if self.trace is not None:
            self.trace.steps(self.machine, times, states, steps)
        if self.machine.any_rests:
            self.machine.note_scales(float(times[-1]), states[-1])
        if len(steps.states) > 1:
            self._earlier = steps.states[-2]
            middle = len(times) // 2
            self.machine.note_sizes(float(times[middle]), states[middle])
        if self.recording.next_point <= times[-1]:
            self._store_between(times, states, steps)
        if self.machine.history is not None:
            for k in range(len(times) - new, len(times)):
                self.machine.remember(times[k], states[k])
        if self.machine.live and self.units is not None:
            self._unit_event = self.units.completed(float(times[-1]), states[-1])
            if self._unit_event:
                return True
        if self.machine.system.switches and self.options.solver not in FIXED_STEP:
            self._crawls = self._crawling.holds(
                float(times[-1]), states, self._tolerances(states[-1])
            )
        self._standing.note(float(times[-1]), states[-1])
        return worn or self._crawls

    def _store_between(self, times: Array, states: Array, steps: Steps) -> None:
        """Store the points of the output grid that lie within steps."""
        between = steps.between
        if between is None:
            fixed = self.options.solver in FIXED_STEP
            error = None if fixed else self._tolerances(np.abs(states).max(axis=0))
            between = between_steps(
                self.machine, steps, lambda: self._side_before(times[-1], states[-1]), error
            )
        for grid in self.recording.grid_points(times[-1]):
            rows = between(grid)
            exact = np.searchsorted(times, grid)
            hits = times[exact] == grid
            rows[hits] = states[exact[hits]]
            if hits[-1] and exact[-1] == len(times) - 1:
                rows[-1] = self._side_before(times[-1], states[-1])
            self.recording.store(grid, rows, steps.implicit_at(grid))

    def _side_before(self, t: float, states: Array) -> Array:
        return side_before(self.machine, t, states, self._earlier)

    _earlier: Array = np.zeros(0)
