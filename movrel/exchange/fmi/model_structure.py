"""On which knowns each unknown of a unit depends, and how (section 2.2.8 of FMI 2, 2.4.8 of FMI 3)."""

from __future__ import annotations

from collections.abc import Iterable

import casadi as ca

from movrel.equations.graph import Graph
from movrel.equations.graphs import Graphs
from movrel.equations.symbolic import Symbolic
from movrel.exchange.fmi.unit_graphs import ParameterExpressions, UnitGraphs
from movrel.exchange.fmi.unit_table import Entry, UnitTable
from movrel.fmi.description import DependencyKind, Unknown

#: A known by the kind of its source and its place there.
Known = tuple[str, int]


class Dependencies:
    """Dependencies of the elements of a column on states (``x``), parameters and inputs (``p``)."""

    def __init__(self, graph: Graph) -> None:
        self.graph = graph
        self._memory = {e.__hash__() for e in graph.memory.elements}
        self._of_implicit: list[set[Known]] = self._closure()

    def of(self, column: Symbolic) -> list[dict[Known, DependencyKind]]:
        """For each element the knowns that it depends on."""
        graph = self.graph
        found: list[dict[Known, DependencyKind]] = [{} for _ in range(column.shape[0])]
        for letter, group in (("x", graph.x), ("p", graph.p)):
            if not group.shape[0] or not column.shape[0]:
                continue
            slope = ca.jacobian(column, group)
            for k, (row, at) in enumerate(
                zip(slope.sparsity().row(), slope.sparsity().get_col(), strict=True)
            ):
                found[row][letter, at] = self._kind(slope.nz[k])
        if graph.s.shape[0] and column.shape[0]:
            pattern = ca.jacobian_sparsity(column, graph.s)
            for row, at in zip(pattern.row(), pattern.get_col(), strict=True):
                for known in self._of_implicit[at]:
                    found[row][known] = "dependent"
        return found

    def _kind(self, slope: Symbolic) -> DependencyKind:
        if slope.is_constant():
            return "constant"
        inside = ca.symvar(slope)
        graph = self.graph
        if any(
            ca.depends_on(slope, group) for group in (graph.t, graph.x, graph.s) if group.shape[0]
        ):
            return "dependent"
        if any(v.__hash__() in self._memory for v in inside):
            return "discrete"
        inputs = self._inputs
        if inputs is not None and ca.depends_on(slope, inputs):
            return "dependent"
        return "fixed"

    _inputs: Symbolic | None = None

    def with_inputs(self, places: list[int]) -> Dependencies:
        """The same, knowing which of the parameters are inputs."""
        self._inputs = self.graph.p[places] if places else None
        return self

    def _closure(self) -> list[set[Known]]:
        """What each implicit unknown depends on, block after block."""
        graph = self.graph
        count = graph.s.shape[0]
        of: list[set[Known]] = [set() for _ in range(count)]
        if not count:
            return of
        rest = graph.open_residuals()
        rows: list[set[Known]] = [set() for _ in range(count)]
        for letter, group in (("x", graph.x), ("p", graph.p)):
            if group.shape[0]:
                pattern = ca.jacobian_sparsity(rest, group)
                for row, at in zip(pattern.row(), pattern.get_col(), strict=True):
                    rows[row].add((letter, at))
        by_others: list[set[int]] = [set() for _ in range(count)]
        pattern = ca.jacobian_sparsity(rest, graph.s)
        for row, at in zip(pattern.row(), pattern.get_col(), strict=True):
            by_others[row].add(at)
        for block, position, _ in graph.solvers:
            own = range(position, position + len(block.implicit))
            known: set[Known] = set()
            for row in own:
                known |= rows[row]
                for at in by_others[row]:
                    if at not in own:
                        known |= of[at]
            for row in own:
                of[row] = known
        return of


def model_structure(
    unit: UnitGraphs, table: UnitTable
) -> tuple[list[Unknown], list[Unknown], list[Unknown]]:
    """Outputs, derivatives of the states and unknowns of the start, by reference."""
    made = unit.made
    inputs = unit.inputs
    running = Dependencies(made.running).with_inputs(inputs)
    knowns = {("x", i): reference for i, reference in enumerate(table.states)}
    for reference, entry in enumerate(table.entries):
        if (
            entry.source.kind == "MV_PARAMETER"
            and entry.source.index in inputs
            and entry.source.sign > 0
        ):
            knowns.setdefault(("p", entry.source.index), reference)
    of_rates, of_values = running.of(made.rates), running.of(made.values)

    def during_run(entry: Entry) -> dict[int, DependencyKind]:
        source = entry.source
        if source.kind == "MV_RATE":
            found = of_rates[source.index]
        elif source.kind == "MV_SOLVED":
            found = of_values[source.index]
        elif source.kind == "MV_STATE":
            found = {("x", source.index): "constant"}
        elif source.kind == "MV_PARAMETER":
            found = {("p", source.index): "constant"}
        else:
            found = {}
        return {knowns[k]: kind for k, kind in found.items() if k in knowns}

    discrete = {
        r
        for r, e in enumerate(table.entries)
        if e.variable.kind != "Real" or e.variable.variability == "discrete"
    }
    outputs = []
    for first, entry in _first_of(table, range(len(table.entries))):
        if entry.variable.causality == "output":
            outputs.append(Unknown(first, _together(table, first, during_run, discrete)))
    derivatives = [
        Unknown(r, _together(table, r, during_run, discrete))
        for r, _ in _first_of(table, table.rates)
    ]
    return outputs, derivatives, _initial_unknowns(unit, made, table)


def _first_of(table: UnitTable, references: Iterable[int]) -> list[tuple[int, Entry]]:
    return [(r, table.entries[r]) for r in references if table.entries[r].length]


def _together(
    table: UnitTable, first: int, of: object, discrete: set[int]
) -> dict[int, DependencyKind]:
    """The dependencies of a variable; those of an array are of all its elements, on whole arrays."""
    found: dict[int, DependencyKind] = {}
    for k in range(table.entries[first].length):
        for known, kind in of(table.entries[first + k]).items():  # type: ignore[operator]
            whole = _array_of(table, known)
            if first in discrete and kind in ("constant", "fixed", "discrete"):
                kind = "dependent"
            found[whole] = kind if found.get(whole, kind) == kind else "dependent"
    return dict(sorted(found.items()))


def _array_of(table: UnitTable, reference: int) -> int:
    while table.entries[reference].length == 0:
        reference -= 1
    return reference


def _initial_unknowns(unit: UnitGraphs, made: Graphs, table: UnitTable) -> list[Unknown]:
    """Outputs, calculated parameters, states and their derivatives whose start follows from others."""
    of_start = Dependencies(made.start)
    start_at = {v: i for i, v in enumerate(made.start.order)}
    found = of_start.of(made.start_values)
    parameters = ParameterExpressions(unit)
    pattern = ca.jacobian_sparsity(parameters.bound(), parameters.p) if unit.parameters else None
    behind: list[set[int]] = [set() for _ in unit.parameters]
    if pattern is not None:
        for row, at in zip(pattern.row(), pattern.get_col(), strict=True):
            behind[row].add(at)
    known_at: dict[int, int] = {}
    for reference, entry in enumerate(table.entries):
        source, variable = entry.source, entry.variable
        if source.kind == "MV_PARAMETER" and (
            variable.initial == "exact" or variable.causality == "input"
        ):
            known_at.setdefault(source.index, reference)
        elif source.start >= 0 and variable.initial == "exact":
            known_at.setdefault(source.start, reference)

    def of_parameters(places: Iterable[int]) -> set[int]:
        return {known_at[q] for p in places for q in behind[p] if q in known_at}

    states, order, rates = (
        made.ordered.states,
        made.running.order,
        made.ordered.reduction.chains.rates,
    )

    def at_start(entry: Entry) -> set[int]:
        source = entry.source
        if source.kind == "MV_PARAMETER":
            v = unit.parameters[source.index]
            if v not in start_at:
                return of_parameters([source.index])
        elif source.kind == "MV_STATE":
            v = states[source.index]
        elif source.kind == "MV_RATE":
            v = rates[states[source.index]]
        elif source.kind == "MV_SOLVED":
            v = order[source.index]
        else:
            return set()
        return (
            of_parameters(at for letter, at in found[start_at[v]] if letter == "p")
            if v in start_at
            else set()
        )

    unknowns = []
    wanted = {*table.states, *table.rates}
    for first, entry in _first_of(table, range(len(table.entries))):
        variable = entry.variable
        if variable.initial not in ("approx", "calculated"):
            continue
        if variable.causality not in ("output", "calculatedParameter") and first not in wanted:
            continue
        knowns: set[int] = set()
        for k in range(entry.length):
            knowns |= {_array_of(table, known) for known in at_start(table.entries[first + k])}
        unknowns.append(Unknown(first, dict.fromkeys(sorted(knowns), "dependent")))
    return unknowns
