"""The run loop: start, integrate between events, find and handle events, store."""

from __future__ import annotations

import math
import time as clock
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.equations.graph import NoStart
from movrel.equations.system import System, broken_limit, parameter_values, parameter_vector, start_value
from movrel.errors import RunCancelled, RunFault, StructureFault
from movrel.model import expression as x
from movrel.simulate.buffered import Buffered
from movrel.simulate.columns import Columns
from movrel.simulate.dense import interpolate
from movrel.simulate.integrator import CvodeIntegrator, StepFailure, Steps
from movrel.simulate.options import RunOptions
from movrel.simulate.result_columns import result_columns
from movrel.simulate.trajectory import Event, Statistics, Trajectory

Array = npt.NDArray[np.float64]

#: Instants for which algebraic values are computed together.
BATCH = 2000
#: Rounds of event iteration before the relations are said not to settle.
ITERATION_LIMIT = 100
#: Events within one thousandth of the run after which it counts as chattering.
CHATTER_LIMIT = 2_000


@dataclass(slots=True)
class Listener:
    """Callbacks of a run; all are called from the run's own thread.

    ``progress`` gets the time reached, ``chunk`` the stored rows ``(time, table)`` since the last
    call, ``stopped`` says whether somebody wants the run to end.
    """

    progress: Callable[[float], None] = lambda t: None
    chunk: Callable[[Array, Array], None] = lambda t, table: None
    stopped: Callable[[], bool] = lambda: False
    #: Seconds of wall time between calls of ``progress`` and ``stopped``.
    period: float = 0.1
    #: Whether rows are kept for the trajectory after ``chunk`` was given them.
    keep: bool = True


class Run:
    """One run of a system; :meth:`go` gives the trajectory.

    When the run fails or is stopped, :attr:`partial` is what was computed until then.
    """

    def __init__(self, system: System, options: RunOptions, settings: dict[str, float], listener: Listener | None = None) -> None:
        self.system = system
        self.options = options
        self.listener = listener or Listener()
        self.statistics = Statistics()
        self.events: list[Event] = []
        self.messages: list[str] = list(system.notes)
        self.parameters = parameter_values(system, settings)
        self.p = parameter_vector(system, self.parameters)
        self.m = np.zeros(system.indicators.size1_in(3))
        self.w = np.zeros(len(system.implicit))
        self._times: list[Array] = []
        self._tables: list[Array] = []
        self._last_look = clock.perf_counter()
        self._warned: set[int] = set()
        self._unsent = 0
        self._stored_until = -math.inf
        self._kept_until = options.start
        self._pending: list[tuple[Array, Array, Array]] = []
        self._pending_count = 0
        self._position = 1
        self._value_columns = Columns(system.values)
        self._assertion_columns = Columns(system.assertion_values)
        self._nonlinear = [b for b in system.blocks if b.kind == "nonlinear"]
        self._check_limits()
        for v in system.flat.variables:
            if v.variability in ("parameter", "constant") and not math.isfinite(float(self._number(v))):
                raise StructureFault(f"the value of '{v.name}' is {self.parameters[id(v)]}.", v.where)
        self.columns = result_columns(system, self.parameters, self.p)

    def _number(self, variable: Any) -> float:
        value = self.parameters.get(id(variable), 0.0)
        return 0.0 if isinstance(value, str) else float(value)

    def _check_limits(self) -> None:
        for v in self.system.flat.parameters():
            broken = broken_limit(v, self.parameters)
            if broken is not None:
                unit = f" {v.unit}" if v.unit else ""
                value = self.parameters[id(v)]
                raise StructureFault(
                    f"'{v.name}' is {value:g}{unit}; its {broken[0]} is {broken[1]:g}{unit}.",
                    v.where,
                    "Give a value within its limits.",
                )

    # --- the whole run ---

    def go(self) -> Trajectory:
        """Compute until the stop time.

        Raises :class:`RunFault` when the computation cannot go on and :class:`RunCancelled` when the
        listener stopped it.
        """
        began = clock.perf_counter()
        options = self.options
        t = options.start
        states = self._initialise(t)
        self.statistics.seconds["start"] = clock.perf_counter() - began
        began = clock.perf_counter()
        try:
            self._make_functions()
            self._settle(t, states, {})
            self._store(np.array([t]), states.reshape(1, -1))
            try:
                self._integrate(t, states)
            finally:
                self._work_off()  # may find an earlier and better reason for a failure
        finally:
            self.statistics.seconds["integration"] = clock.perf_counter() - began
        self._flush()
        return self.partial(complete=True)

    def unsent(self) -> list[tuple[Array, Array]]:
        """Stored rows that the listener has not been given, after a run that ended early."""
        count, self._unsent = self._unsent, 0
        return list(zip(self._times[-count:], self._tables[-count:], strict=True)) if count else []

    def summary(self) -> Trajectory:
        """Everything but the rows."""
        return Trajectory(
            np.zeros(0), np.zeros((0, 0)), self.columns, self.events, self.statistics, self.messages, self._kept_until
        )

    def partial(self, complete: bool = False) -> Trajectory:
        """What has been stored so far."""
        width = len(self.system.states) + len(self.system.solved)
        time = np.concatenate(self._times) if self._times else np.zeros(0)
        table = np.concatenate(self._tables) if self._tables else np.zeros((0, width))
        final = float(time[-1]) if len(time) else self.options.start
        return Trajectory(time, table, self.columns, self.events, self.statistics, self.messages, final, complete)

    # --- start ---

    def _initialise(self, t: float) -> Array:
        system = self.system
        guesses = {id(v): start_value(v, self.parameters) for v in (*system.initial_solved, *system.initial_implicit)}
        w = np.array([guesses[id(v)] for v in system.initial_implicit], dtype=float)
        for _ in range(ITERATION_LIMIT):
            try:
                values, g = system.initial.solve(t, self.p, self.m, w)
            except NoStart as fault:
                raise self._no_start(fault) from None
            held = self._held_at_start(g)
            if np.array_equal(held, self.m[: len(held)]):
                break
            self.m[: len(held)] = held
        else:
            raise RunFault(f"no consistent state of the relations was found at the start ({self._relations()}).")
        found = {id(v): values[i] for i, v in enumerate(system.initial_solved)}
        self._refuse_not_finite(t, [(v, found[id(v)]) for v in system.initial_solved], "at the start")
        self.w[:] = [found[id(v)] for v in system.implicit]
        return np.array([found[id(v)] for v in system.states], dtype=float)

    def _no_start(self, fault: NoStart) -> RunFault:
        block = fault.block
        listed = "; ".join(f"'{x.show(e.left)} = {x.show(e.right)}'" for e in block.equations[:4])
        names = ", ".join(v.name for v in block.unknowns[:6])
        return RunFault(
            f"no solution was found at the start for {listed} (unknowns {names}).",
            block.equations[0].where,
            "Give start values near the solution, or check whether there is one.",
        )

    def _held_at_start(self, g: Array) -> Array:
        held = np.zeros(len(self.system.slots))
        for i, slot in enumerate(self.system.slots):
            if slot.kind == "floor":
                held[i] = math.floor(g[i] + self.m[i]) if math.isfinite(g[i]) else 0.0
            else:
                held[i] = float(g[i] >= 0 if slot.inclusive else g[i] > 0)
        return held

    def _relations(self) -> str:
        return ", ".join(f"'{slot.text}'" for slot in self.system.slots[:5])

    # --- integration ---

    def _make_functions(self) -> None:
        system = self.system
        self.derivatives = Buffered(system.derivatives, self.p, self.m, self.w)
        self.indicators = Buffered(system.indicators, self.p, self.m, self.w)
        self.rates = Buffered(system.indicator_rates, self.p, self.m, self.w)
        self.values = Buffered(system.values, self.p, self.m, self.w)
        self.rooted = [i for i in range(len(system.slots)) if not system.timed[i]]
        if system.states:
            jacobian = Buffered(system.jacobian, self.p, self.m, self.w)
            self.integrator = CvodeIntegrator(
                self.derivatives, jacobian, system.jacobian.sparsity_out(0), self._crossings, 2 * len(self.rooted),
                self.options, np.array([self._nominal(v) for v in system.states]), self._look, self._overlooked,
            )  # fmt: skip

    def _nominal(self, variable: Any) -> float:
        if variable.nominal is not None:
            return abs(float(x.evaluate(variable.nominal, self.parameters))) or 1.0
        return 1.0

    def _crossings(self, t: float, states: Array, out: Array) -> None:
        """Root functions: for a relation g; for a floor both g and g - 1."""
        g = self.indicators(t, states)
        for k, i in enumerate(self.rooted):
            out[2 * k] = g[i]
            out[2 * k + 1] = g[i] - 1.0 if self.system.slots[i].kind == "floor" else 1.0

    def _overlooked(self, t: float, states: Array) -> list[tuple[int, int]]:
        """Crossings that the held relations contradict, as the solver would report them."""
        self.indicators(t, states)
        g, scale = self.indicators.results
        found: list[tuple[int, int]] = []
        for k, i in enumerate(self.rooted):
            small = 1e-12 * scale[i] + 1e-300
            if self.system.slots[i].kind == "floor":
                if g[i] >= 1.0 + small:
                    found.append((2 * k + 1, 1))
                elif g[i] < -small:
                    found.append((2 * k, -1))
            elif abs(g[i]) > small and bool(self.m[i]) != (g[i] > 0):
                found.append((2 * k, 1 if g[i] > 0 else -1))
        return found

    def _look(self, t: float) -> None:
        now = clock.perf_counter()
        if now - self._last_look >= self.listener.period:
            self._last_look = now
            self._work_off()
            self.listener.progress(t)
            if self.listener.stopped():
                raise RunCancelled(f"the run was stopped at {t:g} s.")

    def _integrate(self, t: float, states: Array) -> None:
        options = self.options
        self._position = 1  # number of the next point of the output grid
        chatter_from, chatter_count = t, 0
        while t < options.stop:
            self._look(t)
            until = min(options.stop, self._next_time_event(t))
            t, states, fired = self._advance(t, states, until)
            timed = self._timed_now(t)
            if not fired and not timed:
                continue
            if self._stored_until < t:
                kept = self._side_before(t, states) if fired else states
                self._store(np.array([t]), kept.reshape(1, -1))
            self.statistics.state_events += bool(fired)
            self.statistics.time_events += bool(timed)
            before = self.m.copy()
            self._settle(t, states, self._forced(fired) | timed)
            self._record_event(t, before)
            self._store(np.array([t]), states.reshape(1, -1))
            chatter_count += 1
            if t - chatter_from > 1e-3 * (options.stop - options.start):
                chatter_from, chatter_count = t, 0
            elif chatter_count > CHATTER_LIMIT:
                self._give_up_chattering(t)
        if self._stored_until < t:
            self._store(np.array([t]), states.reshape(1, -1))

    def _advance(self, t: float, states: Array, until: float) -> tuple[float, Array, list[tuple[int, int]]]:
        """To the next event or ``until``, storing the points of the output grid on the way."""
        if not self.system.states or until - t <= self._rounding(t):
            for grid in self._grid_points(until):
                self._store(grid, np.tile(states, (len(grid), 1)))
            return until, states, []
        self._earlier = states
        try:
            return self.integrator.advance(t, states, until, self._store_steps)
        except StepFailure as fault:
            raise self._failed(fault) from None
        finally:
            self.statistics.steps = self.integrator.steps
            self.statistics.evaluations = self.integrator.evaluations
            self.statistics.jacobians = self.integrator.jacobian_evaluations

    def _store_steps(self, steps: Steps, new: int) -> None:
        times, states = np.array(steps.times), np.array(steps.states)
        rates = np.array(steps.rates)
        if len(steps.states) > 1:
            self._earlier = steps.states[-2]
        if not np.isfinite(rates[-1]).all():
            # The last step lies past a crossing, where the old branch may have no value.
            before = self._side_before(times[-1], states[-1])
            rates[-1] = self.derivatives(times[-1], before)[: len(before)]
        for grid in self._grid_points(times[-1]):
            rows = interpolate(times, states, rates, grid)
            exact = np.searchsorted(times, grid)
            hits = times[exact] == grid
            rows[hits] = states[exact[hits]]
            if hits[-1] and exact[-1] == len(times) - 1:
                rows[-1] = self._side_before(times[-1], states[-1])
            self._store(grid, rows)
        if self._nonlinear:
            self._update_guesses(times[-1], states[-1])

    def _grid_points(self, until: float) -> Iterator[Array]:
        """The points of the output grid up to ``until`` that are not stored yet, a block at a time."""
        options = self.options
        while self._position < options.points:
            count = min(4096, options.points - self._position)
            numbers = np.arange(self._position, self._position + count)
            instants: Array = np.asarray(options.start + numbers * options.interval, dtype=np.float64)
            if self._position + count == options.points and abs(instants[-1] - options.stop) <= 1e-9 * options.interval:
                instants[-1] = options.stop
            block = instants[instants <= until]
            if not len(block):
                return
            self._position += len(block)
            yield block

    def _side_before(self, t: float, states: Array) -> Array:
        """The state just before a crossing.

        A crossing is found a rounding error late; where the old branch has no value there, such as
        the root of a level that reached zero, the state is taken a hair earlier.
        """
        for back in (0.0, 1e-12, 1e-9, 1e-6, 1e-3):
            candidate = states + back * (self._earlier - states)
            if np.isfinite(self.values(t, candidate)).all():
                return candidate
        return states

    def _failed(self, fault: StepFailure) -> RunFault:
        t, states = fault.time, fault.state
        dx = np.array(self.system.derivatives(t, states, self.p, self.m, self.w)).ravel()
        bad = [v.name for v, d in zip(self.system.states, dx, strict=True) if not math.isfinite(d)]
        if bad:
            y = np.array(self.system.values(t, states, self.p, self.m, self.w)).ravel()
            self._refuse_not_finite(t, list(zip(self.system.solved, y, strict=True)), f"at {t:g} s")
        fastest = int(np.argmax(np.abs(dx) / np.maximum(np.abs(states), 1e-3)))
        return RunFault(
            f"the solver could not go on at {t:g} s: {fault.reason} '{self.system.states[fastest].name}' changes fastest there "
            f"({dx[fastest]:.4g} per second at {states[fastest]:.4g}).",
            hint="Look for a division by something near zero, or take a larger tolerance.",
        )

    # --- events ---

    def _forced(self, fired: list[tuple[int, int]]) -> dict[int, float]:
        """The value that each slot takes because its root function crossed zero in a direction."""
        forced: dict[int, float] = {}
        for number, direction in fired:
            i = self.rooted[number // 2]
            if self.system.slots[i].kind == "floor":
                forced[i] = self.m[i] + (1 if number % 2 else -1)
            else:
                forced[i] = float(direction > 0)
        return forced

    def _time_events(self, t: float) -> list[tuple[float, int, float]]:
        """(instant, slot, value it takes) of each slot that time alone will change."""
        found: list[tuple[float, int, float]] = []
        timed = np.nonzero(self.system.timed)[0]
        if not len(timed):
            return found
        nothing = np.zeros(len(self.system.states))
        g, rate = self.indicators(t, nothing), self.rates(t, nothing)
        for i in timed:
            if rate[i] == 0 or not math.isfinite(g[i]) or not math.isfinite(rate[i]):
                continue
            rising = rate[i] > 0
            if self.system.slots[i].kind == "floor":
                distance = (1.0 - g[i]) / rate[i] if rising else -g[i] / rate[i]
                found.append((t + max(distance, 0.0), int(i), self.m[i] + (1 if rising else -1)))
            elif bool(self.m[i]) != rising:
                found.append((t + max(-g[i] / rate[i], 0.0), int(i), float(rising)))
        return found

    def _next_time_event(self, t: float) -> float:
        instants = [instant for instant, _, _ in self._time_events(t)]
        if not instants:
            return math.inf
        # Events that differ by rounding are one; the latest of them has them all behind it.
        first = min(instants)
        return max(instant for instant in instants if instant <= first + self._rounding(first))

    def _rounding(self, t: float) -> float:
        """Times closer than this are the same instant."""
        return 1e-12 * max(1.0, abs(t), abs(self.options.stop - self.options.start))

    def _timed_now(self, t: float) -> dict[int, float]:
        return {i: value for instant, i, value in self._time_events(t) if instant <= t + self._rounding(t)}

    def _settle(self, t: float, states: Array, forced: dict[int, float]) -> None:
        """Event iteration: change relations until they agree with the values that follow from them.

        A slot that just crossed zero takes the side it crossed to, as its g is zero but for rounding.
        """
        first: Array | None = None
        for _ in range(ITERATION_LIMIT):
            self.indicators(t, states)
            g, scale = self.indicators.results
            if first is None:
                first = g.copy()
            held = self.m.copy()
            for i, slot in enumerate(self.system.slots):
                small = 1e-12 * scale[i] + 1e-300
                if i in forced and abs(g[i] - first[i]) <= 1e-9 * (abs(first[i]) + scale[i]):
                    held[i] = forced[i]
                elif slot.kind == "floor":
                    if g[i] < -1e-12 * (1.0 + scale[i]) or g[i] >= 1.0:
                        held[i] = math.floor(self.m[i] + g[i])
                elif abs(g[i]) > small:
                    held[i] = float(g[i] > 0)
            for i in [i for i in forced if self.system.slots[i].kind == "floor"]:
                first[i] = math.nan  # its g jumps with the new value; from now on g decides
            if np.array_equal(held, self.m):
                self._update_guesses(t, states)
                return
            self.m[:] = held
        changing = [s.text for i, s in enumerate(self.system.slots) if held[i] != self.m[i]] or [
            s.text for s in self.system.slots
        ]
        raise RunFault(
            f"the relations do not settle at {t:g} s: '{changing[0]}' switches itself on and off.",
            hint="A relation's outcome reverses what it depends on; add hysteresis or a small delay.",
        )

    def _update_guesses(self, t: float, states: Array) -> None:
        if self.system.implicit:
            y = self.values(t, states)
            position = {id(v): i for i, v in enumerate(self.system.solved)}
            for k, v in enumerate(self.system.implicit):
                if math.isfinite(y[position[id(v)]]):
                    self.w[k] = y[position[id(v)]]

    def _record_event(self, t: float, before: Array) -> None:
        if len(self.events) >= 100_000:
            return
        changed = [s.text for i, s in enumerate(self.system.slots) if self.m[i] != before[i]]
        if changed:
            self.events.append(Event(t, ", ".join(dict.fromkeys(changed))))

    def _give_up_chattering(self, t: float) -> None:
        from collections import Counter

        cause, count = Counter(e.cause for e in self.events[-1000:]).most_common(1)[0]
        raise RunFault(
            f"the run chatters at {t:g} s: '{cause}' switched {count} times among the last {min(len(self.events), 1000)} events.",
            hint="Add hysteresis, or smooth the switching.",
        )

    # --- storing ---

    def _store(self, times: Array, rows: Array) -> None:
        """Take note of states; what follows from them is worked out for many instants together."""
        if not len(times):
            return
        rows = rows.reshape(len(times), -1)
        self._stored_until = float(times[-1])
        if self._nonlinear:
            self._keep_checked(times, rows, self._implicit_rows(times, rows), self.m)
            return
        self._pending.append((times, rows, np.repeat(self.m.reshape(-1, 1), len(times), axis=1)))
        self._pending_count += len(times)
        if self._pending_count >= BATCH:
            self._work_off()

    def _work_off(self) -> None:
        """Compute and check everything else for the noted states."""
        if not self._pending:
            return
        times = np.concatenate([part[0] for part in self._pending])
        rows = np.concatenate([part[1] for part in self._pending])
        memory = np.concatenate([part[2] for part in self._pending], axis=1)
        self._pending.clear()
        self._pending_count = 0
        y = self._value_columns(times, rows.T, self.p, memory, self.w)
        self._keep_checked(times, rows, y, memory)

    def _keep_checked(self, times: Array, rows: Array, y: Array, memory: Array) -> None:
        system = self.system
        table = np.hstack([rows, y])
        finite = np.isfinite(table).all(axis=1)
        bad = len(times) if finite.all() else int(np.argmin(finite))
        failed = self._check_assertions(times[:bad], rows[:bad], memory if memory.ndim == 1 else memory[:, :bad])
        keep = bad if failed is None else failed[0] + 1
        self._keep(times[:keep], table[:keep])
        if failed is not None:
            raise failed[1]
        if bad < len(times):
            values = list(zip([*system.states, *system.solved], table[bad], strict=True))
            self._refuse_not_finite(times[bad], values, f"at {times[bad]:g} s")

    def _implicit_rows(self, times: Array, rows: Array) -> Array:
        """Values row by row, so that each solution is the guess for the next."""
        system = self.system
        out = np.empty((len(times), len(system.solved)))
        for k, t in enumerate(times):
            out[k] = self.values(t, rows[k])[: len(system.solved)]
            self._check_residual(t, rows[k], out[k])
            self._update_guesses(t, rows[k])
        return out

    def _check_residual(self, t: float, state: Array, y: Array) -> None:
        nonlinear = self._nonlinear
        if not np.isfinite(y).all():
            return
        position = {id(v): i for i, v in enumerate(self.system.solved)}
        s = np.array([y[position[id(v)]] for v in self.system.implicit])
        residual = np.abs(np.array(self.system.residuals(t, state, self.p, self.m, s)).ravel())
        if (residual > 1e-6 * (1 + np.abs(s).max())).any():
            k = int(np.argmax(residual))
            equation = [e for b in nonlinear for e in b.equations][k]
            names = ", ".join(v.name for b in nonlinear for v in b.unknowns if equation in b.equations)
            raise RunFault(
                f"no solution was found at {t:g} s for '{x.show(equation.left)} = {x.show(equation.right)}' "
                f"(off by {residual[k]:.3g}; unknowns {names}).", equation.where, "Give start values near the solution.",
            )  # fmt: skip

    def _keep(self, times: Array, table: Array) -> None:
        if len(times):
            self._times.append(times)
            self._tables.append(table)
            self._kept_until = float(times[-1])
            self._unsent += 1
            if self._unsent >= 64 or len(times) >= 500:
                self._flush()

    def _flush(self) -> None:
        count = self._unsent
        if count:
            self.listener.chunk(np.concatenate(self._times[-count:]), np.concatenate(self._tables[-count:]))
            self._unsent = 0
            if not self.listener.keep:
                self._times.clear()
                self._tables.clear()

    def _check_assertions(self, times: Array, rows: Array, memory: Array) -> tuple[int, RunFault] | None:
        system = self.system
        if not system.assertions or not len(times):
            return None
        if memory.ndim == 1:
            memory = np.repeat(memory.reshape(-1, 1), len(times), axis=1)
        held = self._assertion_columns(times, rows.T, self.p, memory, self.w).T
        for i, assertion in enumerate(system.assertions):
            broken = np.nonzero(held[i] < 0.5)[0]
            if not len(broken):
                continue
            t = times[broken[0]]
            owner = f"{assertion.component}: " if assertion.component else ""
            text = f"{owner}{assertion.message} (at {t:g} s; '{x.show(assertion.condition)}' does not hold)"
            if assertion.level == "error":
                return int(broken[0]), RunFault(text + ".", assertion.where)
            if i not in self._warned:
                self._warned.add(i)
                self.messages.append(text + ".")
        return None

    def _refuse_not_finite(self, t: float, values: list[tuple[Any, float]], when: str) -> None:
        """Name the first variable in solving order that is not finite, with its equation and values."""
        numbers = {id(v): value for v, value in values}
        for block in (*self.system.initial_blocks, *self.system.blocks):
            for v in block.unknowns:
                value = numbers.get(id(v))
                if value is None or math.isfinite(value):
                    continue
                e = block.equations[0]
                needed = [u for u in x.variables(e.left) + x.variables(e.right) if u is not v]
                known = {**{k: float(n) for k, n in self.parameters.items() if not isinstance(n, str)}, **numbers}
                shown = ", ".join(f"{u.name} = {known[id(u)]:g}" for u in dict.fromkeys(needed) if id(u) in known)
                raise RunFault(
                    f"'{v.name}' is not a finite number {when}: it follows from '{x.show(e.left)} = {x.show(e.right)}'"
                    + (f" with {shown}." if shown else "."), e.where, "Guard the division, root or logarithm in it.",
                )  # fmt: skip
