"""Running one unit by itself, as its default experiment or whoever runs it says."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError, did_you_mean
from movrel.exchange.fmi.integration import UnitIntegration
from movrel.fmi.archive import OpenUnit
from movrel.fmi.description import Interface, UnitVariable
from movrel.fmi.unit_process import Message, UnitFault, UnitProcess

Array = npt.NDArray[np.float64]
#: An input over time: its value at an instant, arrays one after the other.
Input = Callable[[float], float]
#: Points of a run for which nobody said how many.
USUAL_POINTS = 500


@dataclass(slots=True)
class UnitRun:
    """What a run of a unit gave: one column for each value, with its unit and the unit in which it is shown; ``texts`` by
    name, a text for each instant."""

    time: Array
    names: list[str]
    units: list[str]
    table: Array
    messages: list[Message] = field(default_factory=list)
    ended: str = ""
    events: int = 0
    texts: dict[str, list[str]] = field(default_factory=dict)

    def __getitem__(self, name: str) -> Array:
        return self.table[:, self.names.index(name)]


@dataclass(frozen=True, slots=True)
class UnitOptions:
    """Settings of a run; what is None comes from the default experiment of the unit."""

    interface: Interface | None = None
    start: float | None = None
    stop: float | None = None
    interval: float | None = None
    tolerance: float | None = None
    values: Mapping[str, float | str] = field(default_factory=dict)
    inputs: Mapping[str, Input] = field(default_factory=dict)


def run_unit(unit: OpenUnit, options: UnitOptions) -> UnitRun:
    """Run a unit in a process of its own.

    Raises :class:`MovrelError` for settings that do not fit the unit, :class:`UnitFault` for what the unit does.
    """
    d = unit.description
    interface = options.interface or ("cs" if "cs" in d.interfaces else "me")
    if interface not in d.interfaces:
        words = {"me": "model exchange", "cs": "co-simulation"}
        raise MovrelError(
            f"the unit is not for {words[interface]}.", hint=f"It is for {words[d.interfaces[0]]}."
        )
    start = options.start if options.start is not None else d.experiment.start or 0.0
    stop = options.stop if options.stop is not None else d.experiment.stop
    stop = stop if stop is not None else start + 1.0
    if not stop > start:
        raise MovrelError(f"the run would stop at {stop:g} s, not after its start at {start:g} s.")
    interval = options.interval or d.experiment.step or (stop - start) / USUAL_POINTS
    tolerance = options.tolerance or d.experiment.tolerance
    by_name = d.by_name()
    settings = _settings(by_name, options.values)
    inputs = [by_name[name] for name in _known_inputs(by_name, options.inputs)]
    outputs = [
        v
        for v in _first_names(d.variables)
        if v.kind in ("Real", "Integer", "Boolean", "Enumeration")
        and v.variability in ("continuous", "discrete")
        and v.causality != "independent"
        and v.reference not in d.indicators
    ]
    numeric = [(v, value) for v, value in settings if v.kind != "String"]
    texts = {v.name: [str(value)] * v.count for v, value in settings if v.kind == "String"}
    changing = [v for v in d.variables if v.kind == "String" and v.variability == "discrete"]
    with UnitProcess(unit, interface, [v for v, _ in numeric], inputs, outputs) as process:
        for v, value in numeric:
            process.read(process.parameter_places[v.name])[:] = float(value)
        process.write_texts(texts)
        runner = _Runner(
            process, options.inputs, outputs, start, stop, interval, tolerance, changing
        )
        runner.write_inputs(start)
        process.ask("start", start=start, stop=stop, tolerance=tolerance)
        (runner.cosimulate if interface == "cs" else runner.exchange)()
        process.ask("terminate")
        said, _ = process.messages()
        process.ask("free")
    return runner.result(said)


def _first_names(variables: list[UnitVariable]) -> list[UnitVariable]:
    """Each value once, under its first name."""
    first: dict[tuple[str, int], UnitVariable] = {}
    for v in variables:
        kind = "Integer" if v.kind == "Enumeration" else v.kind
        first.setdefault((kind, v.reference), v)
    return list(first.values())


def _settings(
    by_name: dict[str, UnitVariable], values: Mapping[str, float | str]
) -> list[tuple[UnitVariable, float | str]]:
    """The variables to set before the start, with their values."""
    found: list[tuple[UnitVariable, float | str]] = []
    for name, value in values.items():
        v = by_name.get(name)
        if v is None:
            raise MovrelError(
                f"the unit has no variable '{name}'.", hint=did_you_mean(name, by_name, "")
            )
        settable = ("parameter", "structuralParameter", *(["input"] if v.kind == "String" else []))
        if v.causality not in settable and v.initial not in ("exact", "approx"):
            raise MovrelError(f"'{name}' is {_what(v)}; it cannot be set.")
        if v.variability == "constant":
            raise MovrelError(f"'{name}' is a constant; it cannot be set.")
        if isinstance(value, str) != (v.kind == "String"):
            wanted = "a text" if v.kind == "String" else "a number"
            raise MovrelError(f"'{name}' wants {wanted}, not '{value}'.")
        found.append((v, value))
    return found


def _what(v: UnitVariable) -> str:
    return {
        "local": "an internal variable",
        "output": "an output",
        "calculatedParameter": "a calculated parameter",
    }.get(v.causality, f"an {v.causality}")


def _known_inputs(by_name: dict[str, UnitVariable], inputs: Mapping[str, Input]) -> list[str]:
    for name in inputs:
        v = by_name.get(name)
        if v is None or v.causality != "input":
            raise MovrelError(
                f"the unit has no input '{name}'.",
                hint=did_you_mean(
                    name, [n for n, v in by_name.items() if v.causality == "input"], ""
                ),
            )
    return list(inputs)


class _Runner:
    """A run of a loaded unit; what is stored goes into ``times`` and ``rows``."""

    def __init__(
        self, process: UnitProcess, inputs: Mapping[str, Input], outputs: list[UnitVariable], start: float, stop: float,
        interval: float, tolerance: float | None, texts: list[UnitVariable],
    ) -> None:  # fmt: skip
        self.texts = texts
        self.text_rows: list[list[str]] = []
        self.process = process
        self.inputs = inputs
        self.outputs = outputs
        self.start, self.stop, self.interval = start, stop, interval
        self.tolerance = tolerance
        self.times: list[float] = []
        self.rows: list[Array] = []
        self.ended = ""
        self.events = 0
        self._output_places = [process.output_places[v.name] for v in outputs]
        self._points = self._grid()

    def _grid(self) -> list[float]:
        """The communication points, or points of output, after the start."""
        count = max(1, math.ceil((self.stop - self.start) / self.interval - 1e-9))
        return [min(self.start + k * self.interval, self.stop) for k in range(1, count)] + [
            self.stop
        ]

    def write_inputs(self, t: float) -> None:
        """Put the inputs of an instant into the shared memory."""
        for name, value in self.inputs.items():
            self.process.read(self.process.input_places[name])[:] = value(t)

    def _store(self, t: float) -> None:
        self.times.append(t)
        self.rows.append(
            np.concatenate(
                [self.process.read(place) for place in self._output_places] or [np.zeros(0)]
            )
        )
        if self.texts:
            self.text_rows.append(self.process.texts(self.texts))

    # --- co-simulation ---

    def cosimulate(self) -> None:
        """Communication step after communication step."""
        process, t = self.process, self.start
        process.ask("outputs")
        self._store(t)
        for point in self._points:
            self.write_inputs(t)
            reached, ended = process.step(t, point - t)
            if reached <= t and not ended:
                raise UnitFault(f"the unit did not advance from {t:g} s.")
            t = point if abs(reached - point) <= 1e-9 * max(abs(point), self.interval) else reached
            self._store(t)
            if ended:
                self.ended = f"the unit ended the run at {t:g} s"
                return

    # --- model exchange ---

    def exchange(self) -> None:
        """Integrate the states of the unit by CVODE, event after event."""
        integration = UnitIntegration(
            self.process, self.write_inputs, self.tolerance, interval=self.interval
        )
        integration.settle()
        t = self.start
        self._store(t)
        while self._points and not integration.ended:
            target = min(self.stop, integration.next_time)
            t, happened = integration.stretch(t, target, self._points, self._output)
            if integration.ended:
                break
            while self._points and self._points[0] <= t:
                self._output(self._points.pop(0))
            if happened or t >= integration.next_time:
                if self.times[-1] < t:
                    self._output(t)
                self.process.ask("enter_event")
                integration.settle()
                self.events += 1
                self._store(t)
                while self._points and self._points[0] <= t:
                    self._points.pop(0)
        self.ended = integration.ended

    def _output(self, t: float) -> None:
        self.write_inputs(t)
        self.process.at(b"o", t)
        self._store(t)

    # --- result ---

    def result(self, messages: list[Message]) -> UnitRun:
        """All that was stored, one column for each value."""
        names: list[str] = []
        units: list[str] = []
        for v in self.outputs:
            names += _element_names(v)
            units += [v.unit] * v.count
        table = np.array(self.rows) if self.rows else np.zeros((0, len(names)))
        texts = {
            name: [row[k] for row in self.text_rows]
            for k, name in enumerate(name for v in self.texts for name in _element_names(v))
        }
        return UnitRun(
            np.array(self.times), names, units, table, messages, self.ended, self.events, texts
        )


def _element_names(v: UnitVariable) -> list[str]:
    """The name of a variable, or those of the elements of an array."""
    if not v.sizes:
        return [v.name]
    return [f"{v.name}[{','.join(str(i + 1) for i in at)}]" for at in np.ndindex(v.sizes)]
