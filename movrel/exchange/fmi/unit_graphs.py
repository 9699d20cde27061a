"""A model as explicit functions of time, states, parameters, event memory and implicit unknowns: what C is made of."""

from __future__ import annotations

from dataclasses import dataclass, field

import casadi as ca
import numpy as np

from movrel.equations.free_constraints import FreeConstraints, with_free_constraints
from movrel.equations.graph import Graph, Translator
from movrel.equations.graphs import Graphs, graphs_of, vector
from movrel.equations.judging import about_parameters
from movrel.equations.modes import during_run
from movrel.equations.parameters import parameter_values, parameter_vector, start_value
from movrel.equations.sort_model import sort_model
from movrel.equations.sorting import Block
from movrel.equations.symbolic import Compiled, Symbolic
from movrel.errors import StructureFault, Unsupported
from movrel.model import expression as x
from movrel.model.expression import Expr, Scalar, Variable
from movrel.model.flat import FlatModel


@dataclass(slots=True)
class UnitGraphs:
    """A sorted model with the columns that a unit needs, and the values of its parameters.

    ``start_parameters`` are the parameters that stand for start values, by the variable that starts there;
    ``constraints`` are the values of what is ``free``, group by group: zero, and kept by projection as integration does
    not keep them.
    """

    flat: FlatModel
    made: Graphs
    start_parameters: dict[Variable, Variable]
    values: dict[Variable, Scalar]
    free: list[FreeConstraints]
    constraints: Symbolic
    #: The parameters as the text has them, inputs at their start values.
    defaults: list[float] = field(init=False)

    def __post_init__(self) -> None:
        self.defaults = [float(v) for v in parameter_vector(self.parameters, self.values)]

    @property
    def parameters(self) -> list[Variable]:
        return self.made.parameters

    @property
    def inputs(self) -> list[int]:
        """Places of the inputs among the parameters."""
        return [i for i, v in enumerate(self.parameters) if v.causality == "input"]


def unit_graphs(flat: FlatModel) -> UnitGraphs:
    """The expressions of a model that is to become a unit; the flat model is changed, so it must be one's own.

    Raises :class:`Unsupported` for what a unit cannot do: hold units of others.
    """
    start_parameters = _start_parameters(flat)
    ordered = sort_model(flat)
    free: list[FreeConstraints] = []
    if ordered.reduction.dynamic:
        ordered, free = with_free_constraints(ordered)
    for r in ordered.reinits:
        if r.state.op != "var" or r.state.value not in ordered.states:
            raise StructureFault(
                f"reinit sets '{x.show(r.state)}', which is not a state of the sorted system.",
                r.where,
                "Reinit a variable whose derivative is solved for, or give it stateSelect=StateSelect.always.",
            )
    made = graphs_of(ordered)
    if made.memory.units:
        raise Unsupported(
            "the model has units of others inside; it cannot be exported as a unit itself.",
            hint="Hand on their files, and export what is yours.",
        )
    running = during_run(ordered.pre)
    constraints = vector(
        [
            made.running.translate(running(x.subtract(e.left, e.right)))
            for group in free
            for e in group.equations
        ]
    )
    values = parameter_values(flat, {})
    return UnitGraphs(flat, made, start_parameters, values, free, constraints)


def _start_parameters(flat: FlatModel) -> dict[Variable, Variable]:
    """Give each number that stands as a start value a parameter of its own, so that it can be set in the unit."""
    made: dict[Variable, Variable] = {}
    for v in list(flat.variables):
        start = v.start
        if (
            v.variability != "continuous"
            or v.type != "Real"
            or v.causality == "input"
            or v.generated
            or start is None
            or start.op != "const"
        ):
            continue
        parameter = Variable(
            f"start of {v.name}", "Real", "parameter", v.unit, component=v.component, where=v.where
        )
        parameter.binding, parameter.generated = start, True
        made[v] = parameter
        v.start = x.var(parameter)
    flat.variables += made.values()
    return made


# --- expressions of parameters -------------------------------------------------------------------


class ParameterExpressions:
    """Expressions of parameters over one column ``p``."""

    def __init__(self, unit: UnitGraphs) -> None:
        self.unit = unit
        self.p = ca.SX.sym("p", len(unit.parameters))
        self._elements = (
            dict(zip(unit.parameters, ca.vertsplit(self.p), strict=True)) if unit.parameters else {}
        )
        self._translate = Translator(dict(self._elements), unit.made.memory)

    def __call__(self, e: Expr) -> Symbolic:
        return self._translate(e, False)

    def bound(self) -> Symbolic:
        """All parameters, those that follow from others worked out."""
        solved = set(self.unit.made.ordered.solved_parameters)
        done: dict[Variable, Symbolic] = {}

        def value(v: Variable) -> Symbolic:
            if v in done:
                return done[v]
            if v in solved or v.binding is None or v.binding.op == "const":
                done[v] = self._elements[v]
            else:
                inner = Translator(
                    {u: value(u) for u in x.variables(v.binding)}, self.unit.made.memory
                )
                done[v] = inner(v.binding, False)
            return done[v]

        return vector([value(v) for v in self.unit.parameters])

    def guesses(self) -> Symbolic:
        """Where the search for the implicit unknowns of the start begins."""
        unit = self.unit
        starts = unit.made.ordered.reduced.starts
        out = []
        for v in unit.made.start.implicit:
            start = starts.of(v).value
            out.append(self(start) if start is not None else ca.SX(start_value(v, unit.values)))
        return vector(out)

    def samples(self) -> Symbolic:
        """First instants, then intervals, of all samplings."""
        samples = self.unit.made.memory.samples
        return vector([self(e.args[k]) for k in (0, 1) for e in samples])

    def delays(self) -> Symbolic:
        """All delay times."""
        return vector([self(e.args[1]) for e in self.unit.made.memory.delays])

    def margins(self) -> tuple[Symbolic, list[tuple[bool, str]]]:
        """What must not be negative for the parameters to be right, and what to say otherwise (warning, text)."""
        rows, texts = [], []
        for v in self.unit.flat.parameters():
            if v.type not in ("Real", "Integer") or v not in self._elements:
                continue
            unit = f" {v.unit}" if v.unit else ""
            for bound, sign, words in ((v.minimum, 1, "at least"), (v.maximum, -1, "at most")):
                if bound is not None:
                    rows.append(sign * (self._elements[v] - self(bound)))
                    texts.append((False, f"'{v.name}' must be {words} {x.show(bound)}{unit}."))
        for a in self.unit.made.ordered.assertions:
            if not a.at_events and about_parameters(a):
                rows.append(self(a.condition) - 0.5)
                texts.append((a.level != "error", said(a.component, a.message)))
        return vector(rows), texts


def said(component: str, message: Expr) -> str:
    """A message of an assertion; one that holds values is written as the text has it."""
    text = str(message.value) if message.op == "const" else x.show(message)
    return f"{component}: {text}" if component else text


# --- implicit equations --------------------------------------------------------------------------


@dataclass(slots=True)
class OpenBlock:
    """Equations that are solved together: matrix and vector of linear ones, else matrix, residual and sizes of terms."""

    block: Block
    position: int
    function: Compiled

    @property
    def linear(self) -> bool:
        return self.block.kind == "linear"

    @property
    def size(self) -> int:
        return len(self.block.implicit)


def symbols(graph: Graph) -> list[Symbolic]:
    """``t, x, p, m, s``."""
    return [graph.t, graph.x, graph.p, graph.memory.symbols, graph.s]


def open_blocks(graph: Graph, prefix: str) -> list[OpenBlock]:
    """The implicit equations of a graph, block by block, over its symbols."""
    given = symbols(graph)
    blocks = []
    for k, (block, position, function) in enumerate(graph.solvers):
        if block.kind == "linear":
            matrix, column = function(*given)
            outputs = [ca.densify(matrix), ca.densify(column)]
        else:
            residual = function(*given)
            own = graph.s[position : position + len(block.implicit)]
            outputs = [
                ca.densify(ca.jacobian(residual, own)),
                ca.densify(residual),
                ca.densify(
                    vector(
                        [
                            graph.size_of_terms(e.left) + graph.size_of_terms(e.right)
                            for e in block.residuals
                        ]
                    )
                ),
            ]
        blocks.append(OpenBlock(block, position, ca.Function(f"{prefix}_{k}", given, outputs)))
    return blocks


def timed_slots(unit: UnitGraphs) -> list[int]:
    """Slots that time alone changes between events; what depends on an input is none of them."""
    made = unit.made
    timed = made.timed.copy()
    inputs = unit.inputs
    if inputs and len(timed):
        pattern = ca.jacobian_sparsity(made.indicators, made.running.p)
        rows, columns = pattern.row(), pattern.get_col()
        among = set(inputs)
        for row, column in zip(rows, columns, strict=True):
            if column in among:
                timed[row] = False
    return [int(i) for i in np.nonzero(timed)[0]]


def indicator_count(unit: UnitGraphs) -> int:
    """Number of event indicators: one for a relation, two for a rounding; none for what time alone changes."""
    timed = set(timed_slots(unit))
    slots = unit.made.memory.slots
    return sum(2 if s.kind == "floor" else 1 for i, s in enumerate(slots) if i not in timed)
