"""The units of a rig while it runs: models of our own, compiled, and foreign ones in processes of their own."""

from __future__ import annotations

from abc import ABC
from collections.abc import Callable, Mapping, Sequence
from typing import Any, TypeVar

import numpy as np
import numpy.typing as npt

from movrel.couple.foreign_names import foreign_feed_through, foreign_names
from movrel.couple.partition import UnitPart
from movrel.errors import MovrelError, RunFault, did_you_mean
from movrel.exchange.fmi.compiled import CompiledUnit, compiled_unit
from movrel.exchange.fmi.integration import UnitIntegration
from movrel.fmi.archive import OpenUnit, open_unit
from movrel.fmi.description import UnitVariable
from movrel.fmi.permission import check_permission
from movrel.fmi.unit_here import UnitHere
from movrel.fmi.unit_process import UnitFault, UnitProcess
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import FlatModel
from movrel.model.resource_files import resource_file

Array = npt.NDArray[np.float64]
T = TypeVar("T")

#: Messages of one unit that are passed on.
MESSAGES = 20


Places = slice | npt.NDArray[np.int_]


def places(at: Sequence[int]) -> Places:
    """Places of numbers as an index: a slice, which is faster, where they follow each other."""
    listed = list(at)
    if listed and listed == list(range(listed[0], listed[0] + len(listed))):
        return slice(listed[0], listed[0] + len(listed))
    return np.array(listed, int)


class Member(ABC):
    """A loaded unit. ``inputs``, ``outputs`` and ``recorded`` are variables of the rig, in the order of the numbers that
    :meth:`give` takes and :meth:`outputs_now` and :meth:`row` give."""

    part: UnitPart
    unit: UnitHere | UnitProcess
    #: Whether its whole state can be kept and brought back.
    restores = False
    #: Whether it takes time derivatives of its inputs.
    takes_slopes = False
    #: Whether it has states, or may have.
    stateful = True
    #: Whether a step may end before its time, at an event.
    may_return = False

    def __init__(self, part: UnitPart) -> None:
        self.part = part
        self.name = part.name
        self.inputs, self.outputs = part.inputs, part.outputs
        #: Variables that are recorded, each with the place in :meth:`row` and a sign.
        self.recorded: dict[Variable, tuple[int, int]] = {}
        #: For each output the inputs on which it depends at the same instant.
        self.feed_through: dict[Variable, set[Variable]] = {}
        self._input_at: Places = np.zeros(0, int)
        self._output_at: Places = np.zeros(0, int)
        self._row_at = np.zeros(0, int)

    def give(self, values: Array) -> None:
        """Inputs for the coming step, shape ``(len(inputs),)``."""
        self.unit.numbers[self._input_at] = values

    def inputs_now(self) -> Array:
        return self.unit.numbers[self._input_at].copy() if self.inputs else np.zeros(0)

    def outputs_now(self) -> Array:
        return self.unit.numbers[self._output_at]

    def row(self) -> Array:
        """What is recorded at this instant."""
        return self.unit.numbers[self._row_at]

    # --- the life of a unit ---

    def enter(self, start: float, stop: float, tolerance: float) -> None:
        """Begin the initialization."""
        self.ask("enter", start=start, stop=stop, tolerance=tolerance)
        self.ask("outputs")

    def look(self) -> None:
        """Inputs in and outputs out, without a step."""
        try:
            self.unit.exchange()
        except UnitFault as fault:
            raise self._with_name(fault) from None

    def leave(self) -> None:
        """End the initialization."""
        self.ask("leave")

    def step(self, t: float, width: float, slopes: Array | None) -> tuple[float, bool]:
        """To ``t + width`` or less far; the time reached, and whether the unit ended the run."""
        try:
            return self.unit.step(t, width)
        except UnitFault as fault:
            raise self._with_name(fault) from None

    def save(self, slot: int) -> None:
        self.ask("save", slot=slot)

    def restore(self, slot: int) -> None:
        self.ask("restore", slot=slot)

    def turn(self, values: Mapping[Variable, Scalar]) -> bool:
        """Take the values that all parameters have from now on; whether that changes what it gives."""
        return False

    def messages(self) -> list[str]:
        """What the unit warned of, each thing once."""
        try:
            said, _ = self.unit.messages()
        except UnitFault:
            return []  # it is not there any more; why was said
        texts = dict.fromkeys(m.text.strip().rstrip(".") for m in said if m.status >= 1)
        return [f"{self.name} says: {text}." for text in list(texts)[:MESSAGES]]

    def close(self) -> None:
        self.unit.close()

    def ask(self, command: str, **arguments: Any) -> dict[str, Any]:
        return self._named(lambda: self.unit.ask(command, **arguments))

    def _named(self, action: Callable[[], T]) -> T:
        """The same action; what the unit does wrong is said with its name."""
        try:
            return action()
        except UnitFault as fault:
            raise self._with_name(fault) from None

    def _with_name(self, fault: UnitFault) -> RunFault:
        text = fault.message.replace("the unit", f"the unit '{self.name}'", 1)
        return RunFault(text, None, fault.hint, component=self.name)


# --- models of our own ---


class OwnMember(Member):
    """A part of the model, compiled; see :func:`compile_part`."""

    restores = True

    def __init__(
        self, part: UnitPart, compiled: CompiledUnit, values: Mapping[str, Scalar]
    ) -> None:
        super().__init__(part)
        d = compiled.description
        by_name = {v.name: v for v in compiled.variables}
        chosen = [v for v in compiled.variables if v.name in values and v.causality == "parameter"]
        self.stateful = any(s.kind == "MV_STATE" for s in compiled.sources)
        rows, self._places = self._recorded(compiled)
        inputs = [by_name[v.name] for v in part.inputs]
        self.unit = UnitHere(d, compiled.library, chosen, inputs, rows)
        for v in chosen:
            self.unit.read(self.unit.parameter_places[v.name])[:] = float(values[v.name])
        for v in inputs:
            if v.start:
                self.unit.read(self.unit.input_places[v.name])[:] = float(v.start[0])
        at = self.unit.output_places
        self._input_at = places([self.unit.input_places[v.name][0] for v in part.inputs])
        self._row_at = np.array([at[v.name][0] for v in rows], int)
        known = {v.name: v for v in part.variables}
        outputs = [known[v.name] for v in part.outputs]
        self.recorded = {
            known[name]: place for name, place in self._places.items() if name in known
        }
        self._output_at = places([int(self._row_at[self._places[v.name][0]]) for v in outputs])
        signs = np.array([self._places[v.name][1] for v in outputs], float)
        self._signs = None if (signs == 1.0).all() else signs
        self.feed_through = {
            v: {known[u] for u in compiled.feed_through.get(v.name, set())} for v in part.outputs
        }

    def outputs_now(self) -> Array:
        numbers = self.unit.numbers[self._output_at]
        return numbers if self._signs is None else numbers * self._signs

    @staticmethod
    def _recorded(
        compiled: CompiledUnit,
    ) -> tuple[list[UnitVariable], dict[str, tuple[int, int]]]:
        """One variable for each distinct value, and how each name is found among them."""
        rows: list[UnitVariable] = []
        first: dict[tuple[str, str, int, float], tuple[int, int]] = {}
        places: dict[str, tuple[int, int]] = {}
        for v, source in zip(compiled.variables, compiled.sources, strict=True):
            if v.causality in ("parameter", "calculatedParameter", "independent") or (
                v.kind == "String" or source.kind in ("MV_TIME", "MV_INDICATOR")
            ):
                continue
            key = (v.kind, source.kind, source.index, source.value)
            if key not in first:
                first[key] = len(rows), source.sign
                rows.append(v)
            at, sign = first[key]
            places[v.name] = at, sign * source.sign
        return rows, places


def compile_part(part: UnitPart) -> CompiledUnit:
    """Compile a unit of our own. Raises :class:`MovrelError` naming the unit that cannot be one."""
    assert part.flat is not None
    return compiled_unit(part.flat, {v.name for v in part.outputs})


# --- units of others ---


class ForeignMember(Member):
    """A unit of others, in a process of its own."""

    def __init__(self, part: UnitPart, flat: FlatModel, values: Mapping[Variable, Scalar]) -> None:
        super().__init__(part)
        assert part.foreign is not None
        own = self._flat = part.foreign
        opened = self._opened(own.file)
        d = opened.description
        if own.kind not in d.interfaces:
            words = {"cs": "co-simulation", "me": "model exchange"}
            raise MovrelError(
                f"'{part.name}' is used for {words[own.kind]}, which '{own.file}' does not offer.",
                own.where,
                f"It is for {' and '.join(words[k] for k in d.interfaces)}.",
            )
        names = foreign_names(part, flat, opened)
        known = d.by_name()
        given = {p.name: self._variable(known, p.name) for p in own.parameters}
        reads = {i.name: self._variable(known, i.name) for i in own.inputs}
        shown = [v for v in names if v.direction != "input" and v in set(part.variables)]
        rows = {names[v][0]: self._variable(known, names[v][0]) for v in shown}
        flags = d.flags.get(own.kind, {})
        events = d.version == 3 and own.kind == "cs" and flags.get("hasEventMode") == "true"
        self.unit = process = self._named(
            lambda: UnitProcess(
                opened, own.kind, list(given.values()), list(reads.values()), list(rows.values()), events=events
            )
        )  # fmt: skip
        try:
            for p in own.parameters:
                place = process.parameter_places[p.name]
                process.numbers[place[0] + p.offset] = float(x.evaluate(p.value, dict(values)))
            process.write_texts(own.text_values(dict(values)))
            for v in reads.values():
                if v.start:
                    process.read(process.input_places[v.name])[:] = [float(n) for n in v.start]
        except BaseException:
            process.close()
            raise

        def place_of(v: Variable, spans: Mapping[str, tuple[int, int]]) -> int:
            name, offset = names[v]
            return spans[name][0] + offset

        self._input_at = places([place_of(v, process.input_places) for v in self.inputs])
        self._row_at = np.array([place_of(v, process.output_places) for v in shown], int)
        self.recorded = {v: (k, 1) for k, v in enumerate(shown)}
        self._output_at = places([place_of(v, process.output_places) for v in self.outputs])
        for port in self.inputs:
            if port.start is not None:
                begin = float(x.evaluate(port.start, dict(values)))
                process.numbers[place_of(port, process.input_places)] = begin
        self._references = [known[names[v][0]].reference for v in self.inputs]
        self.feed_through = foreign_feed_through(part, names, d)
        state = "canGetAndSetFMUState" if d.version == 3 else "canGetAndSetFMUstate"
        self.restores = flags.get(state) == "true"
        self.may_return = events
        self.takes_slopes = (
            d.version == 2 and own.kind == "cs" and flags.get("canInterpolateInputs") == "true"
        )
        self._integration = UnitIntegration(process) if own.kind == "me" else None

    def _opened(self, file: str) -> OpenUnit:
        path = resource_file(file, self._flat.folders, self._flat.where)
        opened = self._named(lambda: open_unit(path))
        check_permission(opened)
        return opened

    def _variable(self, by_name: Mapping[str, UnitVariable], name: str) -> UnitVariable:
        v = by_name.get(name)
        if v is None:
            raise MovrelError(
                f"'{self._flat.file}' has no variable '{name}', which '{self.name}' declares.",
                self._flat.where,
                did_you_mean(name, by_name, "Exchange the file again, which lists what vanished."),
            )
        return v

    def enter(self, start: float, stop: float, tolerance: float) -> None:
        super().enter(start, stop, tolerance)
        if self._integration is not None:
            self._integration.tolerance = tolerance

    def leave(self) -> None:
        super().leave()
        if self._integration is not None:
            self._named(self._integration.settle)

    def step(self, t: float, width: float, slopes: Array | None) -> tuple[float, bool]:
        if self._integration is not None:
            integration = self._integration
            return self._named(lambda: integration.advance(t, t + width))
        if slopes is not None and self.takes_slopes and len(self._references):
            self.ask("slopes", references=self._references, slopes=slopes.tolist())
        return super().step(t, width, slopes)

    def look(self) -> None:
        # The outputs of a unit for model exchange are worked out at its states; they are there after each step.
        if self._integration is None or not self._integration.running:
            super().look()
        else:
            self._named(self._integration.look)

    def save(self, slot: int) -> None:
        super().save(slot)
        if self._integration is not None:
            self._integration.save(slot)

    def restore(self, slot: int) -> None:
        super().restore(slot)
        if self._integration is not None:
            self._integration.restore(slot)


# --- constants ---


class ConstantMember(Member):
    """A part that gives numbers made of parameters alone, which can be turned while the rig runs."""

    restores, stateful = True, False

    def __init__(
        self, part: UnitPart, values: Mapping[Variable, Scalar], expressions: Mapping[Variable, x.Expr]
    ) -> None:  # fmt: skip
        super().__init__(part)
        self._values = dict(values)
        self._expressions = expressions
        self._now = np.zeros(len(expressions))
        self.recorded = {v: (k, 1) for k, v in enumerate(expressions)}
        self._output_at = places([self.recorded[v][0] for v in self.outputs])
        self._work_out()

    def _work_out(self) -> None:
        self._now[:] = [float(x.evaluate(e, self._values)) for e in self._expressions.values()]

    def turn(self, values: Mapping[Variable, Scalar]) -> bool:
        before = self._now.copy()
        self._values = dict(values)
        self._work_out()
        return not np.array_equal(before, self._now)

    def give(self, values: Array) -> None: ...

    def outputs_now(self) -> Array:
        return self._now[self._output_at]

    def row(self) -> Array:
        return self._now

    def enter(self, start: float, stop: float, tolerance: float) -> None: ...

    def look(self) -> None: ...

    def leave(self) -> None: ...

    def step(self, t: float, width: float, slopes: Array | None) -> tuple[float, bool]:
        return t + width, False

    def save(self, slot: int) -> None: ...

    def restore(self, slot: int) -> None: ...

    def messages(self) -> list[str]:
        return []

    def close(self) -> None: ...


def constant_expressions(part: UnitPart) -> dict[Variable, x.Expr] | None:
    """What a part gives where that is made of parameters alone, by variable; None for any other part."""
    flat = part.flat
    if flat is None or part.inputs or flat.assertions or flat.reinits or flat.terminations:
        return None
    expressions: dict[Variable, x.Expr] = {}
    for e in flat.equations:
        if e.left.op != "var" or e.left.variable in expressions or e.right.traits:
            return None
        if any(v.variability not in ("parameter", "constant") for v in x.variables(e.right)):
            return None
        expressions[e.left.variable] = e.right
    complete = all(v in expressions for v in part.variables)
    return expressions if complete and expressions else None
