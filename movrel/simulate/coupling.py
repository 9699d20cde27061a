"""Units in a run: what they give is put into the event memory, what they need is read from the model.

A unit for co-simulation is stepped at its own period: over a step it has the inputs of the step's beginning, and what
it gives is held until the next. One for model exchange is asked for rates, outputs and event indicators before every
evaluation of the model; its states are integrated with the model's, its events are settled with the model's
(FMI 2.0.4, chapters 3 and 4; FMI 3.0.2, chapters 3 and 4).
"""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from movrel.equations.event_memory import EventMemory
from movrel.equations.system import System
from movrel.errors import MovrelError, RunFault, StructureFault, did_you_mean
from movrel.fmi.archive import OpenUnit, open_unit
from movrel.fmi.description import UnitVariable
from movrel.fmi.permission import check_permission
from movrel.fmi.unit_process import UnitFault, UnitProcess
from movrel.model import expression as x
from movrel.model.expression import Expr, Scalar, Variable
from movrel.model.flat import FlatUnit
from movrel.model.resource_files import resource_file
from movrel.simulate.instants import rounding

Array = npt.NDArray[np.float64]
T = TypeVar("T")

#: Rounds in which inputs and outputs that depend on each other at one instant must agree, and how closely, as a share of
#: the largest size that each number had in them.
ROUNDS, AGREEMENT = 100, 1e-12
#: Messages of one unit that are passed on.
MESSAGES = 20
_WORDS = {"cs": "co-simulation", "me": "model exchange"}


class Coupling:
    """The units of one run; :meth:`bind` says which machine they stand in."""

    def __init__(self, system: System, parameters: dict[Variable, Scalar]) -> None:
        self.units: list[_Unit] = []
        self.live = any(u.kind == "me" for u in system.ordered.units)
        #: The instant of the next event that a unit knows in advance.
        self.next_time = math.inf
        #: The units that asked for the event that is handled, in words.
        self.asked: list[str] = []
        #: Why a unit ended the run.
        self.ended: str | None = None
        self._key: tuple[float, bytes] | None = None
        self._running = False
        at = 0
        try:
            for number, flat in enumerate(system.ordered.units):
                self.units.append(_Unit(flat, number, at, parameters))
                at += len(flat.inputs) + len(flat.states)
        except BaseException:
            self.close()
            raise
        self._exchanged = [u for u in self.units if u.flat.kind == "me"]
        self._stepped = [u for u in self.units if u.flat.kind == "cs"]

    def bind(
        self, system: System, m: Array, inputs: Callable[[float, Array], Array], position: dict[Variable, int]
    ) -> None:  # fmt: skip
        """Stand in a machine of that system with the event memory ``m`` and a function for what the units are given."""
        self._m, self._inputs = m, inputs
        self._key = None
        for unit in self.units:
            unit.bind(system.memory, position, len(system.states))

    # --- the start ---

    def enter(self, t: float, stop: float, tolerance: float) -> None:
        """Begin the initialization of all units; what they give with their own start values is taken over."""
        for unit in self.units:
            unit.ask("enter", start=t, stop=stop, tolerance=tolerance)
            unit.ask("outputs")
            unit.take_outputs(self._m)
            unit.take_starts(self._m)
            unit.time = t

    def exchange(self, t: float, states: Array) -> bool:
        """Give the units the inputs of the start; whether that changed what they give."""
        before = self._m.copy()
        given = self._inputs(t, states)
        for unit in self.units:
            unit.give_inputs(given)
            unit.ask("exchange")
            unit.take_outputs(self._m)
            unit.take_starts(self._m)
        return not _agree(self._m, before, np.fmax(np.abs(self._m), np.abs(before)))

    def leave(self, t: float, states: Array) -> None:
        """End the initialization; units for model exchange settle their first event."""
        given = self._inputs(t, states)
        for unit in self.units:
            unit.give_inputs(given)
            unit.ask("leave")
        for unit in self._exchanged:
            self._settle(unit)
            unit.take_states_as_starts(self._m)
        self._running = True
        for unit in self._stepped:
            unit.hold(given)

    def agrees_at_start(self, t: float, states: Array) -> bool:
        """Whether the start that was solved is that of the units."""
        before = self._m.copy()
        self.fill(t, states)
        return _agree(self._m, before, np.fmax(np.abs(self._m), np.abs(before)))

    # --- between events ---

    def fill(self, t: float, states: Array) -> None:
        """Put what the units for model exchange give at an instant into the memory.

        Raises :class:`RunFault` where inputs and outputs depend on each other and do not agree.
        """
        if not self._running:
            return
        last: Array | None = None
        largest = 0.0 * self._inputs(t, states)
        for _ in range(ROUNDS):
            given = self._inputs(t, states)
            key = (t, given.tobytes())
            largest = np.fmax(largest, np.abs(given))
            if key == self._key or (last is not None and _agree(given, last, largest)):
                return
            last = given.copy()
            for unit in self._exchanged:
                unit.evaluate(t, given, self._m)
            self._key = key
        raise RunFault(
            f"inputs and outputs of units depend on each other at {t:g} s and do not settle.",
            hint="Put something with storage, or a delay, between them.",
        )

    def completed(self, t: float, states: Array) -> bool:
        """Tell the units that a step was accepted; whether one wants an event."""
        wanted = False
        given = self._inputs(t, states)
        for unit in self._exchanged:
            unit.pending |= self._completed(unit, t, given)
            wanted |= unit.pending
        self._key = None
        return wanted

    def _completed(self, unit: _Unit, t: float, given: Array) -> bool:
        unit.give(given)
        unit.at(b"c", t)
        clock = unit.process.view("clock")
        if clock[3]:
            self.ended = f"{unit.name} ended the run"
        return bool(clock[2]) or bool(clock[3])

    # --- at events ---

    def step(self, t: float, sampled: list[int]) -> None:
        """Step the units for co-simulation whose communication point this is."""
        for unit in self._stepped:
            if unit.sampling in sampled:
                reason = unit.step(t)
                self.ended = self.ended or reason
                unit.take_outputs(self._m)

    def hold(self, t: float, states: Array, sampled: list[int]) -> None:
        """Take the inputs for the communication step that begins now."""
        due = [unit for unit in self._stepped if unit.sampling in sampled]
        if due:
            given = self._inputs(t, states)
            for unit in due:
                unit.hold(given)

    def begin_event(self, t: float, states: Array, limit: float) -> None:
        """An event begins; events that units know in advance are due up to ``limit``."""
        self.fill(t, states)
        given = self._inputs(t, states)
        for unit in self._exchanged:
            unit.pending |= unit.next_time <= limit
            unit.note(given, self._m)
        self.asked = [f"event of {unit.name}" for unit in self._exchanged if unit.pending]

    def settle(self, t: float, states: Array) -> tuple[Array, bool]:
        """Have the units for model exchange settle an event that concerns them: their inputs jumped, a crossing was
        passed, or they asked for it. Gives the states after it, and whether it changed anything."""
        self.fill(t, states)
        given = self._inputs(t, states)
        concerned = [u for u in self._exchanged if u.pending or u.differs(given, self._m)]
        if not concerned:
            return states, False
        before, after = self._m.copy(), states
        for unit in concerned:
            unit.pending = False
            unit.note(given, self._m)
            unit.give(given)
            unit.ask("enter_event")
            self._settle(unit)
            # Another event of the same instant, as a rounding that one brought it to.
            unit.pending = unit.next_time <= t
            after = unit.moved(after)
        self._key = None
        self.fill(t, after)
        for unit in concerned:
            unit.adopt_crossings(self._m)
        again = any(unit.pending for unit in concerned)
        return after, again or after is not states or not np.array_equal(self._m, before)

    def _settle(self, unit: _Unit) -> None:
        outcome = unit.ask("event")
        following = outcome["next_time"]
        unit.next_time = math.inf if following is None else float(following)
        self.next_time = min(u.next_time for u in self._exchanged)
        if outcome["terminate"]:
            self.ended = f"{unit.name} ended the run"

    def samplings(self) -> set[int]:
        """The samplings that are communication points."""
        return {unit.sampling for unit in self._stepped}

    # --- the end ---

    def messages(self) -> list[str]:
        """What the units warned of."""
        said: list[str] = []
        for unit in self.units:
            texts, _ = unit.process.messages()
            said += [
                f"{unit.name} says: {m.text.strip()}." for m in texts[:MESSAGES] if m.status >= 1
            ]
        return said

    def close(self) -> None:
        """End the processes of the units."""
        for unit in self.units:
            unit.process.close()


def _agree(a: Array, b: Array, sizes: Array) -> bool:
    return bool((np.abs(a - b) <= AGREEMENT * sizes).all())


class _Unit:
    """One unit in its process, with the places of its numbers in the model and in the shared memory."""

    def __init__(
        self, flat: FlatUnit, number: int, at: int, parameters: dict[Variable, Scalar]
    ) -> None:
        self.flat = flat
        self.number = number
        #: Whether it asked for an event.
        self.pending = True
        self.name = f"the unit '{flat.component or flat.file}'"
        self.time, self.next_time = 0.0, math.inf
        path = resource_file(flat.file, flat.folders, flat.where)
        unit = self._named(lambda: open_unit(path))
        check_permission(unit)
        self._check_kind(unit)
        by_name = unit.description.by_name()
        given = self._variables(by_name, [(p.name, p.offset) for p in flat.parameters], whole=True)
        inputs = self._variables(by_name, [(i.name, i.offset) for i in flat.inputs], whole=True)
        outputs = self._variables(by_name, flat.outputs, whole=False)
        states = _state_variables(unit) if flat.kind == "me" else []
        seen = {v.name for v in outputs}
        process = self.process = self._named(
            lambda: UnitProcess(
                unit,
                flat.kind,
                given,
                inputs,
                [*outputs, *(s for s in states if s.name not in seen)],
            )
        )
        try:
            self._check_counts()
            for p in flat.parameters:
                value = float(x.evaluate(p.value, parameters))
                process.numbers[process.parameter_places[p.name][0] + p.offset] = value
            process.write_texts(flat.text_values(parameters))
        except BaseException:
            process.close()
            raise
        places = process.output_places
        self._input_at = np.array(
            [process.input_places[i.name][0] + i.offset for i in flat.inputs], int
        )
        self._output_at = np.array([places[name][0] + k for name, k in flat.outputs], int)
        self._start_at = np.array(
            [places[v.name][0] + k for v in states for k in range(v.count)], int
        )
        self._given = slice(at, at + len(flat.inputs))
        self._states = slice(at + len(flat.inputs), at + len(flat.inputs) + len(flat.states))
        self._held = np.zeros(len(flat.inputs))

    def bind(self, memory: EventMemory, position: dict[Variable, int], count: int) -> None:
        """Where its numbers stand in an event memory, and its states among ``count`` states of the model."""
        rows = {key: memory.unit_at + k for k, key in enumerate(memory.units)}
        self._rows = {
            role: np.array([rows[(self.number, role, k)] for k in range(n)], int)
            for role, n in self.flat.counts()
        }
        own = (self.number, "indicator")
        watched = [
            (k, slot.expression.value[2])
            for k, slot in enumerate(memory.slots)
            if slot.expression.op == "unit" and slot.expression.value[:2] == own
        ]
        self._crossings = np.array([k for k, _ in watched], int)
        self._crossed = self._rows["indicator"][[index for _, index in watched]]
        if self.flat.kind == "me":
            self.find_states(position, count)
        else:
            self.sampling = memory.sample_number(Expr("sample", (x.ZERO, self.flat.step)))

    def note(self, given: Array, m: Array) -> None:
        """Take note of what it is given, and of its crossings."""
        self._noted = given[self._given].copy(), m[self._crossings].copy()

    def adopt_crossings(self, m: Array) -> None:
        """After its event a unit is settled: where its indicators stand then is no crossing."""
        m[self._crossings] = m[self._crossed] > 0
        self._noted = self._noted[0], m[self._crossings].copy()

    def differs(self, given: Array, m: Array) -> bool:
        """Whether inputs or crossings are others than were noted."""
        inputs, crossings = self._noted
        return not (
            np.array_equal(given[self._given], inputs)
            and np.array_equal(m[self._crossings], crossings)
        )

    def _check_kind(self, unit: OpenUnit) -> None:
        offered = unit.description.interfaces
        if self.flat.kind not in offered:
            raise MovrelError(
                f"{self.name} is used for {_WORDS[self.flat.kind]}, which '{self.flat.file}' does not offer.",
                self.flat.where,
                f"It is for {' and '.join(_WORDS[k] for k in offered)}.",
            )

    def _check_counts(self) -> None:
        counts = self.process.states, self.process.indicators
        if self.flat.kind == "me" and counts != (len(self.flat.states), self.flat.indicators):
            raise StructureFault(
                f"{self.name} has {counts[0]} states and {counts[1]} event indicators; its class says "
                f"{len(self.flat.states)} and {self.flat.indicators}.", self.flat.where,
                "The file was exchanged for another: take the part from it anew.",
            )  # fmt: skip

    def _variables(
        self, by_name: dict[str, UnitVariable], wanted: list[tuple[str, int]], whole: bool
    ) -> list[UnitVariable]:
        """The variables of the unit that are meant; ``whole`` asks for all elements of an array."""
        counts: dict[str, int] = {}
        for name, offset in wanted:
            counts[name] = max(counts.get(name, 0), offset + 1)
        variables: list[UnitVariable] = []
        for name, count in counts.items():
            v = by_name.get(name)
            if v is None:
                raise MovrelError(
                    f"'{self.flat.file}' has no variable '{name}', which {self.name} declares.",
                    self.flat.where,
                    did_you_mean(name, by_name, "Take the part from the unit anew."),
                )
            if count > v.count or (whole and count != v.count):
                raise StructureFault(
                    f"'{name}' of {self.name} has {v.count} elements, not {count}.", self.flat.where
                )
            variables.append(v)
        return variables

    def _named(self, action: Callable[[], T]) -> T:
        """The same action; what the unit does wrong is said with its name."""
        try:
            return action()
        except UnitFault as fault:
            text = fault.message.replace("the unit", self.name, 1)
            raise RunFault(text, self.flat.where, component=self.flat.component) from None

    def ask(self, command: str, **arguments: float) -> dict[str, Any]:
        return self._named(lambda: self.process.ask(command, **arguments))

    def at(self, code: bytes, t: float) -> bool:
        return self._named(lambda: self.process.at(code, t))

    def find_states(self, position: dict[Variable, int], count: int) -> None:
        """Where the states of the unit stand among the model's, with their signs."""
        at: list[int] = []
        signs: list[float] = []
        for e in self.flat.states:
            sign, inner = (-1.0, e.args[0]) if e.op == "neg" else (1.0, e)
            place = position.get(inner.value, count) if inner.op == "var" else count
            if place >= count:
                raise StructureFault(
                    f"'{x.show(e)}' is a state of {self.name}, but the model determines it otherwise.", self.flat.where,
                    "Something rigid holds it; put a part with storage between them.",
                )  # fmt: skip
            at.append(place)
            signs.append(sign)
        self._state_at, self._state_signs = np.array(at, int), np.array(signs)

    # --- numbers to the unit ---

    def give_inputs(self, given: Array) -> None:
        self.process.numbers[self._input_at] = given[self._given]

    def give(self, given: Array) -> None:
        """Inputs and states."""
        self.give_inputs(given)
        self.process.view("x")[: self._states.stop - self._states.start] = given[self._states]

    def hold(self, given: Array) -> None:
        self._held = given[self._given].copy()

    def evaluate(self, t: float, given: Array, memory: Array) -> None:
        """Rates, outputs and event indicators at an instant, into the event memory."""
        self.give(given)
        if not self.at(b"a", t):
            memory[self._rows["rate"]] = np.nan  # the solver's step becomes shorter
            return
        self.take_outputs(memory)
        n = len(self._rows["rate"])
        memory[self._rows["rate"]] = self.process.view("dx")[:n]
        memory[self._rows["indicator"]] = self.process.view("z")[: len(self._rows["indicator"])]

    def step(self, t: float) -> str | None:
        """A communication step until ``t`` with the inputs of its beginning; the reason if the unit ended the run."""
        self.process.numbers[self._input_at] = self._held
        while t - self.time > rounding(t, abs(self.time)):
            begin = self.time
            reached, ended = self._named(partial(self.process.step, begin, t - begin))
            if ended:
                return f"{self.name} ended the run"
            if not reached > begin:
                raise RunFault(
                    f"{self.name} did not advance from {begin:g} s.",
                    component=self.flat.component,
                )
            self.time = reached
        self.time = t
        return None

    # --- numbers from the unit ---

    def take_outputs(self, memory: Array) -> None:
        memory[self._rows["output"]] = self.process.numbers[self._output_at]

    def take_starts(self, memory: Array) -> None:
        memory[self._rows["start"]] = self.process.numbers[self._start_at]

    def take_states_as_starts(self, memory: Array) -> None:
        memory[self._rows["start"]] = self.process.view("x")[: len(self._rows["start"])]

    def moved(self, states: Array) -> Array:
        """The model's states with those of the unit after an event; the same array if none moved."""
        own = self._state_signs * self.process.view("x")[: len(self._state_at)]
        if np.array_equal(states[self._state_at], own):
            return states
        changed = states.copy()
        changed[self._state_at] = own
        return changed


def _state_variables(unit: OpenUnit) -> list[UnitVariable]:
    """The continuous states of a unit, in the order of its derivatives."""
    by_reference = unit.description.by_reference()
    derivatives = [by_reference[u.reference] for u in unit.description.derivatives]
    return [by_reference[d.derivative_of] for d in derivatives if d.derivative_of is not None]
