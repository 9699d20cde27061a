"""The run loop: start, integrate between events, find and handle events, store."""

from __future__ import annotations

import math
import time as clock
from collections import Counter
from collections.abc import Callable
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from movrel.equations.parameters import (
    parameter_vector,
    start_value,
)
from movrel.equations.start_solver import NoStart, Places
from movrel.equations.system import System
from movrel.errors import RunCancelled, RunFault, StructureFault
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.simulate.columns import Columns
from movrel.simulate.coupling import Coupling
from movrel.simulate.dense import interpolate
from movrel.simulate.events import EventHandler, RelationIteration
from movrel.simulate.explanation import Explanation
from movrel.simulate.limits import number_of
from movrel.simulate.machine import Machine
from movrel.simulate.methods.choose import make_integrator
from movrel.simulate.methods.integrator import Integrator, StepFailure, Steps
from movrel.simulate.options import FIXED_STEP, RunOptions
from movrel.simulate.recording import Listener, Progress, Recording, table_of
from movrel.simulate.remarks import exhausted, failed_wishes, small_states
from movrel.simulate.result_columns import result_columns
from movrel.simulate.returns import Returns
from movrel.simulate.run_parameters import judged, parameters_of
from movrel.simulate.time_table import shortest_swing
from movrel.simulate.trajectory import Column, Event, FinalState, Statistics, Trajectory

Array = npt.NDArray[np.float64]

#: Longest step as a share of the shortest swing that time makes in a relation.
SHARE_OF_SWING = 0.2
#: Rounds in which units and model must agree about the start.
START_ROUNDS = 50
#: Events within one thousandth of the run after which it counts as chattering.
CHATTER_LIMIT = 200
#: Events that are kept with their cause.
EVENT_LIMIT = 100_000
#: Evaluations that a step takes as long as fewer steps than this are known.
USUAL_EVALUATIONS, FEW_STEPS = 1.3, 20


class Run:
    """One run of a system; :meth:`go` gives the trajectory.

    ``begin`` is the final state of an earlier run from which this one goes on. When the run fails or
    is stopped, :meth:`partial` is what was computed until then.
    """

    def __init__(
        self, system: System, options: RunOptions, settings: dict[str, float], listener: Listener | None = None,
        begin: FinalState | None = None,
    ) -> None:  # fmt: skip
        self.system = system
        self.options = options
        self.begin = begin
        self.statistics = Statistics()
        self.events: list[Event] = []
        self.parameters, self.p = parameters_of(system, settings)
        doubts = judged(system, self.parameters, self.p)
        self._order: list[Variable] = system.once("order", lambda: [*system.states, *system.solved])
        self._machines: dict[System, tuple[Machine, EventHandler, Integrator | None]] = {}
        self._last_look = clock.perf_counter()
        self._looked_at, self._evaluations_then = options.start, 0
        self._reselect: bool = False
        self._ended: str | None = None
        self._returns = Returns()
        self._nominals: dict[System, Array] = {}
        machine = Machine(system, self.p)
        self.units: Coupling | None = None
        self._unit_event = False
        self.explanation = Explanation(system, self.parameters)
        self.recording = Recording(
            machine, options, listener or Listener(listens=False), self.explanation
        )
        self.recording.messages += [*system.notes, *doubts]
        self.machine = machine

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
        self.units = Coupling(self.system, self.parameters)
        try:
            self.machine.couple(self.units)
            trajectory = self._go()
            self.messages.extend(self.units.messages())
            return trajectory
        finally:
            self.units.close()

    def _go(self) -> Trajectory:
        began = clock.perf_counter()
        t = self.options.start
        states = self._initialise(t) if self.begin is None else self._resume(self.begin)
        self.statistics.seconds["start"] = clock.perf_counter() - began
        began = clock.perf_counter()
        try:
            states = self._begin_machine(t, states)
            if self.begin is None:
                states = self._settle(t, states, {}, self.events_of.due(t)[1], record=False)
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

    def _describe(self) -> list[Column]:
        return result_columns(self.system, self.parameters, self.p)

    def _finish(self, t: float, states: Array) -> None:
        """The last instant: terminal events, and the state from which a later run can go on."""
        if self.system.once("terminal", self._asks_for_the_end):
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
                    lambda v: self.options.tolerance * self._nominal(v),
                )  # fmt: skip
            )
        machine = self.machine
        values, memory = machine.everything(t, states), machine.m.copy()

        def ended() -> FinalState:
            names = {v.name: float(values[machine.position[v]]) for v in self._order}
            held = {s.text: float(memory[i]) for i, s in enumerate(machine.system.slots)}
            return FinalState(t, names, held)

        self._final = ended

    def _asks_for_the_end(self) -> bool:
        ordered = self.system.ordered
        sides = [side for e in ordered.equations for side in (e.left, e.right)]
        sides += [*(r.active for r in ordered.reinits), *(a.condition for a in ordered.assertions)]
        return any(node.op == "terminal" for e in sides for node in x.walk(e))

    # --- start ---

    def _initialise(self, t: float) -> Array:
        """The states at the start; units take part in finding them."""
        units, options = self.units, self.options
        if units is None:
            return self._solve_start(t)
        units.enter(t, options.stop, options.tolerance)
        for _ in range(START_ROUNDS):
            states = self._solve_start(t)
            if not units.exchange(t, states):
                break
        units.leave(t, states)
        for _ in range(START_ROUNDS):
            states = self._solve_start(t)
            if units.agrees_at_start(t, states):
                return states
        raise RunFault(
            "no start was found at which the inputs and outputs of the units agree.",
            hint="Put something with storage, or a delay, between them.",
        )

    def _solve_start(self, t: float) -> Array:
        system, machine = self.system, self.machine
        system.reduced.starts.refuse_contradictions(self.parameters)
        values = self._consistent_start(t, Places(self._look_for))
        if not np.isfinite(values).all():
            self.explanation.refuse_not_finite(
                t, list(zip(system.initial_solved, values, strict=True)), "at the start"
            )
        place: dict[Variable, int] = system.once(
            "start positions", lambda: {v: i for i, v in enumerate(system.initial_solved)}
        )

        def at_start(variables: list[Variable]) -> Array:
            return values[[place[v] for v in variables]]

        for v, value in zip(
            system.ordered.solved_parameters,
            at_start(system.ordered.solved_parameters),
            strict=True,
        ):
            self.parameters[v] = value
        if system.ordered.solved_parameters:
            self.p[:] = parameter_vector(system.parameters, self.parameters)
        self.messages.extend(
            failed_wishes(system, self.parameters, {k: values[at] for k, at in place.items()})
        )
        machine.guesses[:] = at_start(system.implicit)
        machine.m[system.memory.pre_at : system.memory.sample_at] = at_start(system.ordered.pre.of)
        return at_start(system.states)

    def _look_for(self, v: Variable) -> tuple[float, float, float, float]:
        """Guess, declared size (0 without one) and bounds of an unknown of the start."""
        starts = self.system.reduced.starts
        own = starts.attributes(v)
        low, high = (number_of(e, self.parameters) for e in (own.minimum, own.maximum))
        return (
            start_value(v, self.parameters, starts),
            abs(number_of(own.nominal, self.parameters) or 0.0),
            -math.inf if low is None else low,
            math.inf if high is None else high,
        )

    def _consistent_start(self, t: float, places: Places) -> Array:
        """Solve the start until its relations agree with the solution."""
        machine, initial = self.machine, self.system.initial
        count = len(self.system.slots)
        iteration = RelationIteration(count)
        while iteration.go_on(machine.m[:count]):
            try:
                values, g = initial.solve_with_homotopy(t, self.p, machine.m, places)
            except NoStart as fault:
                raise self.explanation.no_start(fault) from None
            held = machine.held_literally(g)
            different = np.nonzero(held != machine.m[:count])[0]
            if not len(different):
                return np.asarray(values)
            chosen = different[:1] if iteration.one_by_one else different
            machine.m[chosen] = held[chosen]
        names = ", ".join(f"'{slot.text}'" for slot in self.system.slots[:5])
        raise RunFault(f"no consistent state of the relations was found at the start ({names}).")

    def _resume(self, begin: FinalState) -> Array:
        """Take states, discrete values and relations from the end of an earlier run."""
        machine, system = self.machine, self.system
        missing = [v.name for v in system.states if v.name not in begin.values]
        if missing:
            raise StructureFault(f"the earlier run has no '{missing[0]}'; it was of another model.")
        pre = [begin.values.get(v.name, 0.0) for v in system.ordered.pre.of]
        machine.m[system.memory.pre_at : system.memory.sample_at] = pre
        machine.guesses[:] = [begin.values.get(v.name, 0.0) for v in system.implicit]
        states = np.array([begin.values[v.name] for v in system.states], dtype=float)
        for i, slot in enumerate(system.slots):
            machine.m[i] = begin.held.get(slot.text, machine.m[i])
        return states

    # --- machines: one for each choice of states ---

    def _begin_machine(self, t: float, states: Array) -> Array:
        self._bound_steps(t, states)
        self.machine.begin_sizes(t, states, lambda v: self._look_for(v)[1])
        self._adopt(self.machine)
        self.machine.start_history(t, states)
        self.events_of.echoes += self.machine.breaks(t)
        self.events_of.begin_sampling(
            t if self.begin is None else t + 2 * self.events_of.rounding(t)
        )
        return self._choose_states(t, states)

    def _bound_steps(self, t: float, states: Array) -> None:
        """Steps no longer than a share of a swing that time alone makes in a relation, so that none is stepped over."""
        machine, options = self.machine, self.options
        function = machine.system.mixed_rates
        if not function.size1_out(0) or options.solver in FIXED_STEP or not options.stop > t:
            return
        columns: Columns = machine.system.once("mixed columns", lambda: Columns(function))

        def rates(times: Array) -> Array:
            rows = np.repeat(states.reshape(-1, 1), len(times), axis=1)
            memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
            return columns(times, rows, machine.p, memory, machine.w)

        longest = SHARE_OF_SWING * shortest_swing(rates, t, options.stop)
        if longest < options.stop - t:
            self.options = replace(options, step=min(options.step or math.inf, longest))

    def _adopt(self, machine: Machine) -> None:
        """Make a machine the one that runs, with its events and integrator."""
        key = machine.system
        if key not in self._machines:
            span = abs(self.options.stop - self.options.start)
            explanation = Explanation(machine.system, self.parameters)

            def say(message: x.Expr, t: float, states: Array) -> str:
                return explanation.say(message, t, machine.everything(t, states))

            events = EventHandler(machine, self.parameters, span, say, self.messages.append)
            events.stop = self.options.stop
            nominal = np.array([self._nominal(v) for v in machine.system.states], dtype=float)
            self._nominals[key] = nominal
            stepped = machine.state_count or len(machine.rooted) or machine.history is not None
            integrator = (
                make_integrator(machine, self.options, nominal, self._look) if stepped else None
            )
            self._machines[key] = machine, events, integrator
        self.machine, self.events_of, self.integrator = self._machines[key]
        self.recording.machine = machine
        self.recording.explanation = Explanation(machine.system, self.parameters)

    def _choose_states(self, t: float, states: Array) -> Array:
        """Go over to other states where the present choice is no longer good."""
        reduction = self.system.ordered.reduction
        if not reduction.dynamic:
            return states
        wanted, self._reselect = self._reselect, False
        if not wanted and not self.machine.worn_out(t, states):
            return states
        matrices = self.machine.matrices(t, states)
        selection = self.machine.system.ordered.selection
        if not all(np.isfinite(m).all() for m in matrices):
            return states
        better = reduction.improved(selection, matrices)
        if better == selection:
            return states
        self.recording.work_off()
        other = self.system.with_states(better)
        visited = self._machines.get(other)
        machine = visited[0] if visited else Machine(other, self.p, self._order)
        machine.history = self.machine.history
        if self.units is not None:
            machine.couple(self.units)
        states = machine.take_over(self.machine, t, states)
        if not visited:
            machine.begin_sizes(t, states, lambda v: self._look_for(v)[1])
        sampling = list(self.events_of.next_sample)
        self._adopt(machine)
        self.events_of.next_sample = sampling
        self.statistics.state_changes += 1
        return states

    def _nominal(self, variable: Variable) -> float:
        nominal = self.system.reduced.starts.attributes(variable).nominal
        if nominal is not None:
            return abs(float(x.evaluate(nominal, self.parameters))) or 1.0
        return 1.0

    # --- integration ---

    def _look(self, t: float) -> None:
        now = clock.perf_counter()
        if now - self._last_look >= self.listener.period:
            self._last_look = now
            self.recording.work_off()
            if t >= self._looked_at:  # a stretch may be gone through a second time
                self.listener.progress(Progress(t, self._step_size(t), len(self.events)))
            if self.listener.stopped():
                raise RunCancelled(f"the run was stopped at {t:g} s.")

    def _step_size(self, t: float) -> float:
        """About how large the steps since the last look were, from the evaluations that they took.

        The solver tells its steps only when it comes back from many.
        """
        at_work = [
            integrator for _, _, integrator in self._machines.values() if integrator is not None
        ]
        evaluations, steps = sum(i.evaluations for i in at_work), sum(i.steps for i in at_work)
        for_one = evaluations / steps if steps > FEW_STEPS else USUAL_EVALUATIONS
        size = (t - self._looked_at) / max((evaluations - self._evaluations_then) / for_one, 1.0)
        self._looked_at, self._evaluations_then = t, evaluations
        return size

    def _integrate(self, t: float, states: Array) -> tuple[float, Array]:
        options = self.options
        chatter_from, chatter_count = t, 0
        quiet = False
        while t < options.stop and self._ended is None:
            self._look(t)
            until = min(options.stop, self.events_of.next_time(t))
            t, states, fired = self._advance(t, states, until, quiet)
            quiet = False
            timed, sampled = self.events_of.due(t)
            echo = self.events_of.echo_due(t)
            wanted, self._unit_event = self._unit_event, False
            if not fired and not timed and not sampled and not echo and not wanted:
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
            chatter_count += 1
            if timed or sampled or t - chatter_from > 1e-3 * (options.stop - options.start):
                chatter_from, chatter_count = t, 0
            elif chatter_count > CHATTER_LIMIT and self.events:
                self._give_up_chattering(t)
        if self.recording.stored_until < t:
            self._store_now(t, states)
        if self._ended is not None:
            self.messages.append(f"the model ended the run at {t:g} s: {self._ended}.")
        return t, states

    def _settle(
        self,
        t: float,
        states: Array,
        forced: dict[int, float],
        sampled: list[int],
        record: bool = True,
        terminal: bool = False,
    ) -> Array:
        outcome = self.events_of.settle(t, states, forced, sampled, terminal)
        if record and outcome.causes and len(self.events) < EVENT_LIMIT:
            self.events.append(Event(t, ", ".join(outcome.causes)))
        if outcome.ended is not None:
            self._ended = outcome.ended
        return outcome.states

    def _store_now(self, t: float, states: Array) -> None:
        self.recording.store(np.array([t]), states.reshape(1, -1))

    def _advance(
        self, t: float, states: Array, until: float, quiet: bool
    ) -> tuple[float, Array, list[tuple[int, int]]]:
        """To the next event or ``until``, storing the points of the output grid on the way."""
        if self.integrator is None or until - t <= self.events_of.rounding(t):
            for grid in self.recording.grid_points(until):
                self.recording.store(grid, np.tile(states, (len(grid), 1)))
            return until, states, []
        self._earlier = states
        integrator = self.integrator
        counted = integrator.steps, integrator.evaluations, integrator.jacobian_evaluations
        try:
            return integrator.advance(t, states, until, self._store_steps, quiet)
        except StepFailure as fault:
            raise self._failed(fault) from None
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
        if worn and len(steps.times) > 1 and self._can_improve(steps.times[-2], steps.states[-2]):
            steps.take_back()
            self._reselect = True
            if steps.implicit:
                self.machine.guesses[:] = steps.implicit[-1]
                self.machine.branch.note(steps.times[-1], steps.states[-1])
            new -= 1
            if not new:
                return True
        times, states = np.asarray(steps.times), np.asarray(steps.states)
        if len(steps.states) > 1:
            self._earlier = steps.states[-2]
        if self.recording.next_point <= times[-1]:
            self._store_between(times, states, steps)
        if self.machine.history is not None:
            for k in range(len(times) - new, len(times)):
                self.machine.remember(times[k], states[k])
        if self.machine.live and self.units is not None:
            self._unit_event = self.units.completed(float(times[-1]), states[-1])
            if self._unit_event:
                return True
        return worn

    def _can_improve(self, t: float, states: Array) -> bool:
        ordered = self.machine.system.ordered
        matrices = self.machine.matrices(t, states)
        return (
            bool(all(np.isfinite(m).all() for m in matrices))
            and ordered.reduction.improved(ordered.selection, matrices) != ordered.selection
        )

    def _store_between(self, times: Array, states: Array, steps: Steps) -> None:
        """Store the points of the output grid that lie within steps."""
        between = steps.between or self._interpolation(times, states, steps)
        for grid in self.recording.grid_points(times[-1]):
            rows = between(grid)
            exact = np.searchsorted(times, grid)
            hits = times[exact] == grid
            rows[hits] = states[exact[hits]]
            if hits[-1] and exact[-1] == len(times) - 1:
                rows[-1] = self._side_before(times[-1], states[-1])
            self.recording.store(grid, rows, steps.implicit_at(grid))

    def _interpolation(self, times: Array, states: Array, steps: Steps) -> Callable[[Array], Array]:
        """States between steps, from the steps and the rates at them."""
        rates = np.array(steps.rates() if callable(steps.rates) else steps.rates)
        if not np.isfinite(rates[-1]).all():
            # The last step lies past a crossing, where the old branch may have no value.
            before = self._side_before(times[-1], states[-1])
            rates[-1] = self.machine.derivatives(times[-1], before)[: len(before)]
        machine, tolerance = self.machine, self.options.tolerance
        error = tolerance * (np.abs(states).max(axis=0) + self._nominals[machine.system])
        noise = (
            None
            if self.options.solver in FIXED_STEP
            else machine.noise_of_rates(times, states, error)
        )
        return lambda instants: interpolate(times, states, rates, instants, noise)

    def _side_before(self, t: float, states: Array) -> Array:
        """The state just before a crossing.

        A crossing is found a rounding error late; where the old branch has no value there, such as
        the root of a level that reached zero, the state is taken a hair earlier.
        """
        if len(self._earlier) != len(states):
            return states
        for back in (0.0, 1e-12, 1e-9, 1e-6, 1e-3):
            candidate: Array = states + back * (self._earlier - states)
            if np.isfinite(self.machine.values(t, candidate)[: self.machine.solved_count]).all():
                return candidate
        return states

    _earlier: Array = np.zeros(0)

    def _failed(self, fault: StepFailure) -> RunFault:
        t, states, machine = fault.time, fault.state, self.machine
        dx = machine.derivatives(t, states)[: machine.state_count].copy()
        if not np.isfinite(dx).all():
            everything = machine.everything(t, states)
            values = list(
                zip([*machine.system.states, *machine.system.solved], everything, strict=True)
            )
            self.recording.explanation.refuse_not_finite(t, values, f"at {t:g} s")
        return self.recording.explanation.gave_up(t, states, dx, fault.reason)

    def _give_up_chattering(self, t: float) -> None:
        recent = self.events[-CHATTER_LIMIT:]
        cause, count = Counter(e.cause for e in recent).most_common(1)[0]
        raise RunFault(
            f"the run chatters at {t:g} s: '{cause}' switched {count} times within {t - recent[0].time:.3g} s.",
            hint="It drives its own operands back; add hysteresis, or smooth the switching.",
        )
