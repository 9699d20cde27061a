"""The variables of a unit in the order of their references, each with the place of its value."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Literal, TypeAlias

from movrel.errors import MovrelError, did_you_mean
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.unit_graphs import UnitGraphs, indicator_count
from movrel.fmi.description import Causality, Kind, UnitVariable
from movrel.model import expression as x
from movrel.model.expression import Expr, Scalar, Variable

SourceKind: TypeAlias = Literal[
    "MV_TIME", "MV_PARAMETER", "MV_STATE", "MV_SOLVED", "MV_RATE", "MV_FIXED", "MV_INDICATOR"
]
NEVER, BEFORE_START, INPUT = 0, 1, 2
_ELEMENT = re.compile(r"(.+)\[(\d+(?:,\d+)*)\]")
_DERIVATIVE = re.compile(r"der\((.+)\)")


@dataclass(frozen=True, slots=True)
class Source:
    """Where a value is found: ``sign`` times an element of a vector; ``start`` is the parameter of its start."""

    kind: SourceKind
    index: int = 0
    sign: int = 1
    value: float = 0.0
    start: int = -1
    settable: int = NEVER


@dataclass(slots=True)
class Entry:
    """A scalar with its reference (its place in the table); ``length`` counts the values under that reference."""

    variable: UnitVariable
    source: Source
    length: int = 1


@dataclass(frozen=True, slots=True)
class Text:
    """A text of the model: a constant."""

    variable: UnitVariable
    text: str


@dataclass(slots=True)
class UnitTable:
    """All variables; ``listed`` are those of the description, arrays joined."""

    entries: list[Entry] = field(default_factory=list)
    texts: list[Text] = field(default_factory=list)
    listed: list[UnitVariable] = field(default_factory=list)
    #: References of states and of their derivatives, in the order of the state vector.
    states: list[int] = field(default_factory=list)
    rates: list[int] = field(default_factory=list)
    indicators: list[int] = field(default_factory=list)


def unit_table(unit: UnitGraphs, options: ExportOptions) -> UnitTable:
    """The variables of a unit. Raises :class:`MovrelError` for a chosen parameter that there is not."""
    return _Builder(unit, options).build()


class _Builder:
    def __init__(self, unit: UnitGraphs, options: ExportOptions) -> None:
        self.unit = unit
        self.options = options
        ordered = unit.made.ordered
        self.ordered = ordered
        self.parameter_at = {v: i for i, v in enumerate(unit.parameters)}
        self.state_at = {v: i for i, v in enumerate(ordered.states)}
        self.solved_at = {v: i for i, v in enumerate(unit.made.running.order)}
        self.rates = [ordered.reduction.chains.rates[v] for v in ordered.states]
        self.direct_starts = _direct_starts(unit)
        self.table = UnitTable()
        names = {v.name for v in unit.flat.parameters() if not v.generated}
        for name in sorted(options.parameters or ()):
            if name not in names:
                raise MovrelError(
                    f"there is no parameter '{name}' to stay visible.",
                    hint=did_you_mean(name, names, ""),
                )

        curves = {v.name for v in unit.flat.unknowns() if not v.generated}
        for name in sorted(options.outputs):
            if name not in curves:
                raise MovrelError(
                    f"there is no variable '{name}' to become an output.",
                    hint=did_you_mean(name, curves, ""),
                )

    def _is_output(self, v: Variable) -> bool:
        return v.causality == "output" or v.name in self.options.outputs

    def build(self) -> UnitTable:
        table, flat = self.table, self.unit.flat
        clock = UnitVariable(
            "time", 0, "Real", "independent", "continuous", unit="s", description="Time"
        )
        table.entries.append(Entry(clock, Source("MV_TIME")))
        of_state: dict[int, int] = {}
        for v in flat.variables:
            if v.generated:
                continue
            if v.type == "String":
                self._text(v)
                continue
            entry = self._entry(v)
            if entry is None:
                continue
            if (
                entry.source.kind == "MV_STATE"
                and entry.source.sign > 0
                and entry.source.index not in of_state
            ):
                of_state[entry.source.index] = len(table.entries)
            table.entries.append(entry)
        for i, v in enumerate(self.ordered.states):
            if i not in of_state:  # a state that is not listed otherwise must be there all the same
                of_state[i] = len(table.entries)
                table.entries.append(self._hidden_state(i, v))
        for i in range(len(self.ordered.states)):
            state = table.entries[of_state[i]].variable
            unit = _per_second(state.unit)
            name = f"der({state.name})"
            rate = UnitVariable(
                name, 0, "Real", "local", "continuous", "calculated", unit=unit, derivative_of=of_state[i],
                description=f"Derivative of {state.name}",
            )  # fmt: skip
            table.rates.append(len(table.entries))
            table.entries.append(Entry(rate, Source("MV_RATE", i)))
        if self.options.version >= 3 and "me" in self.options.interfaces:
            self._indicators()
        table.states = [of_state[i] for i in range(len(self.ordered.states))]
        for reference, entry in enumerate(table.entries):
            entry.variable.reference = reference
        for k, text in enumerate(table.texts):
            text.variable.reference = len(table.entries) + k
        self._join_arrays()
        table.listed = [e.variable for e in table.entries if e.length] + [
            t.variable for t in table.texts
        ]
        return table

    def _indicators(self) -> None:
        """The event indicators, which FMI 3 wants among the variables."""
        for i in range(indicator_count(self.unit)):
            self.table.indicators.append(len(self.table.entries))
            variable = UnitVariable(
                f"eventIndicator[{i + 1}]", 0, "Real", "local", "continuous", "calculated",
                description="An event happens where it changes its sign",
            )  # fmt: skip
            self.table.entries.append(Entry(variable, Source("MV_INDICATOR", i)))

    # --- one variable ---

    def _text(self, v: Variable) -> None:
        if self.options.sealed or v.protected:
            return
        value = self.unit.values.get(v)
        text = value if isinstance(value, str) else ""
        variable = UnitVariable(
            v.name, 0, "String", "local", "constant", "exact", [text], description=v.description
        )
        self.table.texts.append(Text(variable, text))

    def _entry(self, v: Variable) -> Entry | None:
        if v.variability in ("parameter", "constant"):
            return self._parameter(v)
        causality: Causality = (
            "input" if v.causality == "input" else "output" if self._is_output(v) else "local"
        )
        hidden = v.protected or self.options.sealed
        if causality == "local" and hidden and v not in self.state_at:
            return None
        if causality == "input":
            at = self.parameter_at[v]
            variable = self._described(v, "input", start=self.unit.defaults[at])
            return Entry(variable, Source("MV_PARAMETER", at, settable=INPUT))
        if causality == "local" and hidden:
            return None  # a hidden state gets a name of its own below
        source = self._source(v)
        if source is None:
            return None
        variable = self._described(v, causality)
        variable.initial = "calculated"
        if source.kind == "MV_FIXED":
            variable.variability, variable.initial = "constant", "exact"
            variable.start = [source.value]
        elif source.kind == "MV_STATE":
            state = self.ordered.states[source.index]
            start = self.direct_starts.get(state)
            if start is not None:
                variable.initial = "exact"
                source = replace(source, start=self.parameter_at[start], settable=BEFORE_START)
                variable.start = [source.sign * self.unit.defaults[source.start]]
        return Entry(variable, source)

    def _hidden_state(self, i: int, v: Variable) -> Entry:
        name = v.name if not (self.options.sealed or v.protected) else f"state[{i + 1}]"
        name = name if not v.generated else f"state[{i + 1}]"
        variable = UnitVariable(name, 0, "Real", "local", "continuous", "calculated")
        if not self.options.sealed:
            variable.unit, variable.nominal = v.unit, self._number(v.nominal)
        return Entry(variable, Source("MV_STATE", i))

    def _source(self, v: Variable) -> Source | None:
        reduced = self.ordered.reduced
        sign = 1
        target = v
        alias = reduced.aliases.get(v)
        if alias is not None:
            target, sign = alias.of, alias.sign
        if target in self.state_at:
            return Source("MV_STATE", self.state_at[target], sign)
        if target in self.solved_at:
            return Source("MV_SOLVED", self.solved_at[target], sign)
        if target in reduced.fixed:
            return Source("MV_FIXED", value=sign * reduced.fixed[target])
        if target in self.parameter_at:
            return Source("MV_PARAMETER", self.parameter_at[target], sign)
        return None

    def _parameter(self, v: Variable) -> Entry | None:
        if v not in self.parameter_at or v.protected:
            return None
        at = self.parameter_at[v]
        chosen = self.options.parameters
        visible = chosen is None or v.name in chosen
        if self.options.sealed and not (visible and v.variability == "parameter"):
            return None
        value = self.unit.defaults[at]
        source = Source("MV_PARAMETER", at)
        solved = v in self.ordered.solved_parameters
        literal = v.binding is None or v.binding.op == "const"
        if v.variability == "constant" or v.structural or (literal and v.final and not solved):
            variable = self._described(v, "local", start=value)
            variable.variability, variable.initial = "constant", "exact"
        elif solved or not literal:
            variable = self._described(v, "calculatedParameter")
            variable.variability, variable.initial = "fixed", "calculated"
        elif visible:
            variable = self._described(v, "parameter", start=value)
            variable.variability, variable.initial = "fixed", "exact"
            source = replace(source, settable=BEFORE_START)
        else:
            variable = self._described(v, "local", start=value)
            variable.variability, variable.initial = "constant", "exact"
        return Entry(variable, source)

    def _described(
        self, v: Variable, causality: Causality, start: float | None = None
    ) -> UnitVariable:
        return described(v, causality, self.unit.values, start)

    def _number(self, e: Expr | None) -> float | None:
        return _number(e, self.unit.values)

    # --- arrays ---

    def _join_arrays(self) -> None:
        """Elements that stand in a row and are alike become one array (FMI 3 only)."""
        if self.options.version < 3:
            return
        entries = self.table.entries
        position = 0
        while position < len(entries):
            run = self._run_from(position)
            if run is not None:
                base, sizes = run
                count = 1
                for size in sizes:
                    count *= size
                first = entries[position].variable
                starts = [entries[position + k].variable.start for k in range(count)]
                first.name, first.sizes = base, sizes
                if first.start is not None:
                    first.start = [float(s[0]) for s in starts if s is not None]
                entries[position].length = count
                for k in range(1, count):
                    entries[position + k].length = 0
                position += count
            else:
                position += 1

    def _run_from(self, position: int) -> tuple[str, tuple[int, ...]] | None:
        entries = self.table.entries
        first = entries[position]
        parsed = _element(first.variable.name)
        if parsed is None or any(i != 1 for i in parsed[1]):
            return None
        base, index = parsed
        count, sizes = 0, list(index)
        while position + count < len(entries):
            other = _element(entries[position + count].variable.name)
            if other is None or other[0] != base or len(other[1]) != len(index):
                break
            sizes = [max(a, b) for a, b in zip(sizes, other[1], strict=True)]
            count += 1
        product = 1
        for size in sizes:
            product *= size
        if product != count or not all(
            self._alike(first, entries[position + k], k) for k in range(count)
        ):
            return None
        return base, tuple(sizes)

    def _alike(self, a: Entry, b: Entry, k: int) -> bool:
        u, v = a.variable, b.variable
        same = (
            u.kind, u.causality, u.variability, u.initial, u.unit, u.display_unit, u.minimum, u.maximum, u.nominal,
            u.enumeration, u.quantity, u.start is None,
        ) == (
            v.kind, v.causality, v.variability, v.initial, v.unit, v.display_unit, v.minimum, v.maximum, v.nominal,
            v.enumeration, v.quantity, v.start is None,
        )  # fmt: skip
        if not same:
            return False
        if v.derivative_of is not None and u.derivative_of is not None:
            state = self.table.entries[u.derivative_of]
            return v.derivative_of == u.derivative_of + k and state.length > k
        canonical = self._is_the_state(a)
        if canonical != self._is_the_state(b):
            return False
        return not canonical or b.source.index == a.source.index + k

    def _is_the_state(self, e: Entry) -> bool:
        """Whether an entry is what the vector of states refers to, not just a variable that equals a state."""
        kind, reference = e.source.kind, e.variable.reference
        return kind == "MV_STATE" and self.table.states[e.source.index] == reference


def described(
    v: Variable,
    causality: Causality,
    values: Mapping[Variable, Scalar],
    start: float | None = None,
) -> UnitVariable:
    """What a unit says of a variable of the model, but for its reference; ``values`` are those of the parameters."""
    kind: Kind = {"Integer": "Integer", "Boolean": "Boolean", "enumeration": "Enumeration"}.get(
        v.type, "Real"
    )  # type: ignore[assignment]
    variable = UnitVariable(
        v.name, 0, kind, causality, "continuous" if kind == "Real" and v.variability == "continuous" else "discrete",
        description=v.description, quantity=v.quantity, enumeration=v.enumeration,
    )  # fmt: skip
    if kind == "Real":
        variable.unit = v.unit
        variable.display_unit = v.display_unit if v.display_unit != v.unit else ""
        variable.nominal = _number(v.nominal, values)
    if kind in ("Real", "Integer"):
        variable.minimum, variable.maximum = _number(v.minimum, values), _number(v.maximum, values)
    if start is not None:
        variable.start = [start]
    return variable


def _number(e: Expr | None, values: Mapping[Variable, Scalar]) -> float | None:
    if e is None:
        return None
    try:
        return float(x.evaluate(e, values))
    except (ArithmeticError, ValueError, KeyError, TypeError):
        return None


def _per_second(unit: str) -> str:
    if not unit:
        return ""
    return f"({unit})/s" if set(unit) & set("./") else f"{unit}/s"


def _element(name: str) -> tuple[str, tuple[int, ...]] | None:
    """The array and the indices of an element; ``der(T[2])`` is the second of ``der(T)``."""
    derivative = _DERIVATIVE.fullmatch(name)
    match = _ELEMENT.fullmatch(derivative[1] if derivative else name)
    if match is None:
        return None
    base = f"der({match[1]})" if derivative else match[1]
    return base, tuple(int(i) for i in match[2].split(","))


def _direct_starts(unit: UnitGraphs) -> dict[Variable, Variable]:
    """States whose start is exactly a parameter of its own: then it can be set."""
    by_parameter = {parameter: v for v, parameter in unit.start_parameters.items()}
    found: dict[Variable, Variable] = {}
    states = set(unit.made.ordered.states)
    for block in unit.made.ordered.initial_blocks:
        if block.kind != "explicit" or block.equations[0].kind != "start value":
            continue
        state, solution = block.unknowns[0], block.solution
        if (
            state in states
            and solution is not None
            and solution.op == "var"
            and solution.value in by_parameter
        ):
            found[state] = solution.value
    return found
