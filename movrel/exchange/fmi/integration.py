"""Integrating a unit for model exchange: its states by CVODE, from event to event."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.fmi.unit_process import UnitFault, UnitProcess
from movrel.simulate.dense import interpolate
from movrel.simulate.methods.sundials import STALL_LIMIT, plain_reason
from movrel.sundials import CVODE

Array = npt.NDArray[np.float64]
#: Instants between two points of output at which a unit without states is looked at for crossings.
LOOKS = 10
#: Events within one step of a rig after which a unit is said not to go on.
EVENT_LIMIT = 100_000


class UnitIntegration:
    """The states of a loaded unit over time; ``write_inputs`` puts the inputs of an instant where the unit reads them."""

    def __init__(
        self,
        process: UnitProcess,
        write_inputs: Callable[[float], None] = lambda t: None,
        tolerance: float | None = None,
        interval: float = 0.0,
    ) -> None:
        self.process = process
        self.write_inputs = write_inputs
        self.tolerance = tolerance
        #: How far apart indicators are looked at within a longer step, in s; 0 where they are not.
        self.interval = interval
        #: Why the unit ended the run, and when its next event is known in advance.
        self.ended, self.next_time = "", math.inf
        self.time = 0.0
        #: Whether the initialization is over.
        self.running = False
        self._crossing: Any = None
        self._last_indicators = np.zeros(process.indicators)
        self._kept: dict[int, tuple[float, float, Array]] = {}

    def settle(self) -> None:
        """The event iteration of the unit."""
        outcome = self.process.ask("event")
        if outcome["terminate"]:
            self.ended = "the unit ended the run at an event"
        following = outcome["next_time"]
        self.next_time = math.inf if following is None else float(following)
        self.running = True

    def stretch(
        self, t: float, target: float, points: list[float], output: Callable[[float], None]
    ) -> tuple[float, bool]:
        """To the target or to the first event before it; ``output`` is called at the points on the way, which are taken
        out of the list. Gives the time reached and whether there is an event."""
        way = self._integrate if self.process.states else self._algebraic
        return way(t, target, points, output)

    # --- as a unit of a rig ---

    def advance(self, t: float, target: float) -> tuple[float, bool]:
        """A communication step with the inputs that are there now, events settled on the way.

        Gives the time reached, and whether the unit ended the run.
        """
        self.process.ask("enter_event")  # the inputs jumped
        self.settle()
        for _ in range(EVENT_LIMIT):
            if self.ended or t >= target:
                break
            t, happened = self.stretch(t, min(target, max(self.next_time, t)), [], lambda at: None)
            if not self.ended and (happened or t >= self.next_time):
                self.process.ask("enter_event")
                self.settle()
        else:
            raise UnitFault(f"the unit has more than {EVENT_LIMIT} events before {target:g} s.")
        self.time = t
        self.look()
        return t, bool(self.ended)

    def look(self) -> None:
        """Outputs at the states that are there now."""
        self.process.at(b"o", self.time)

    def save(self, slot: int) -> None:
        """Keep what does not stand in the unit itself."""
        self._kept[slot] = self.time, self.next_time, self.process.view("x").copy()

    def restore(self, slot: int) -> None:
        self.time, self.next_time, states = self._kept[slot]
        self.process.view("x")[:] = states

    def _integrate(
        self, t: float, target: float, points: list[float], output: Callable[[float], None]
    ) -> tuple[float, bool]:
        process, n = self.process, self.process.states
        if target - t <= 64 * np.finfo(float).eps * max(abs(t), abs(target)):
            return (
                target,
                False,
            )  # events that differ by rounding leave nothing to integrate between them
        solver = self._solver()
        before = process.view("x").copy()
        solver.init_step(t, before)
        stalled = 0
        #: Where a step that missed a crossing is to end when it is taken anew.
        looked = -math.inf
        while t < target:
            limit = min(target, looked) if looked > t else target
            step = solver.step(limit, "onestep", limit)
            if not step.success:
                raise UnitFault(
                    f"the solver found no way on at {t:g} s: {plain_reason(step.message)}"
                )
            reached, states = float(step.t), np.array(step.y[:n])
            stalled = 0 if reached > t else stalled + 1
            if stalled > STALL_LIMIT:
                raise UnitFault(f"the steps of the solver became too small at {t:g} s.")
            crossed = self._crossing is not None and bool(self._crossing._i)
            ends = (t, before), (reached, states)
            if reached > looked and (turn := self._missed(*ends)) is not None:
                looked = turn
                if crossed:
                    self._crossing._i.clear()
                solver.init_step(t, before)
                continue
            if reached > t and points and points[0] <= reached:
                within = self._within(*ends)
                while points and points[0] <= reached:
                    point = points.pop(0)
                    process.view("x")[:] = within(point)
                    output(point)
            process.view("x")[:] = states
            happened = self._completed(reached)
            t, before = reached, states
            if crossed or happened or self.ended:
                return t, True
        return t, False

    def _within(
        self, start: tuple[float, Array], end: tuple[float, Array]
    ) -> Callable[[float], Array]:
        """The states between the ends of a step."""
        times, values = np.array([start[0], end[0]]), np.array([start[1], end[1]])
        rates = np.zeros_like(values)
        for k in (0, 1):
            self._rates(float(times[k]), values[k], rates[k])
        return lambda at: np.asarray(interpolate(times, values, rates, np.array([at]))[0])

    def _missed(self, start: tuple[float, Array], end: tuple[float, Array]) -> float | None:
        """An instant within a long step at which an indicator has another sign than at its start: of several crossings a
        solver finds any."""
        t, reached = start[0], end[0]
        if self._crossing is None or not 0 < self.interval < reached - t:
            return None
        within = self._within(start, end)
        before, seen = (np.zeros(self.process.indicators) for _ in range(2))
        self._indicators(t, start[1], before)
        count = math.ceil((reached - t) / self.interval)
        for instant in np.linspace(t, reached, count + 1)[1:-1].tolist():
            self._indicators(instant, within(instant), seen)
            if ((seen > 0) != (before > 0)).any():
                return float(instant)
        return None

    def _completed(self, t: float) -> bool:
        """Tell the unit that a step was accepted; whether it wants an event."""
        self.write_inputs(t)
        self.process.at(b"c", t)
        clock = self.process.view("clock")
        if clock[3]:
            self.ended = f"the unit ended the run at {t:g} s"
        return bool(clock[2])

    def _rates(self, t: float, states: Array, out: Array) -> None:
        self.process.view("x")[:] = states
        self.write_inputs(t)
        # What is not finite makes the solver's step shorter.
        out[:] = self.process.view("dx") if self.process.at(b"r", t) else np.nan

    def _indicators(self, t: float, states: Array, out: Array) -> None:
        if self.process.states:
            self.process.view("x")[:] = states
        self.write_inputs(t)
        if not self.process.at(b"z", t):
            out[:] = self._last_indicators
            return
        z = self.process.view("z")
        # Zero belongs to the negative side (section 3.1 of the standard); a solver would not see z leave zero.
        out[:] = np.where(z == 0.0, -np.finfo(float).tiny, z)
        self._last_indicators = out.copy()

    def _solver(self) -> CVODE:
        """A solver that ends at crossings, for one stretch between events."""
        process, n, roots = self.process, self.process.states, self.process.indicators
        nominals = np.array(process.ask("nominals")["nominals"][:n], dtype=float)
        relative = self.tolerance or 1e-6
        keywords: dict[str, Any] = {
            "rtol": relative,
            "atol": relative * np.where(nominals > 0, nominals, 1.0),
            "max_num_steps": 100_000,
        }
        if roots:

            def events(t: float, y: Array, out: Array) -> None:
                self._indicators(t, y, out)

            self._crossing = events
            keywords |= {"eventsfn": events, "num_events": roots}

        def rates(t: float, y: Array, out: Array) -> None:
            self._rates(t, y, out)

        return CVODE(rates, **keywords)

    def _algebraic(
        self, t: float, target: float, points: list[float], output: Callable[[float], None]
    ) -> tuple[float, bool]:
        """A unit without states: from point to point of output, looking for crossings."""
        happened = False
        while t < target and not happened and not self.ended:
            following = min(points[0], target) if points else target
            if self.process.indicators:
                t, happened = self._scan(t, following)
            else:
                t = following
            happened |= self._completed(t)
            if points and t >= points[0]:
                output(points.pop(0))
        return t, happened

    def _scan(self, t: float, target: float) -> tuple[float, bool]:
        """The first crossing of a unit without states, by bisection between points on the way."""
        none, roots = np.zeros(0), self.process.indicators
        before, after = np.zeros(roots), np.zeros(roots)
        self._indicators(t, none, before)
        low, high = t, target
        for k in range(1, LOOKS + 1):
            high = t + (target - t) * k / LOOKS
            self._indicators(high, none, after)
            if ((before > 0) != (after > 0)).any():
                break
            low = high
        else:
            return target, False
        while high - low > 4 * np.finfo(float).eps * max(abs(high), target - t):
            middle = 0.5 * (low + high)
            if not low < middle < high:
                break
            self._indicators(middle, none, after)
            if ((before > 0) != (after > 0)).any():
                high = middle
            else:
                low = middle
        return high, True
