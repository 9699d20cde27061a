"""The sorted system of a model: what is solved, in which order, and the functions that solve it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.alias import Reduced, remove_aliases
from movrel.equations.derivative import expand_derivatives
from movrel.equations.graph import EventMemory, Graph, Slot, StartSolver, count_event_nodes
from movrel.equations.sorting import Block, explain_mismatch, incidence, match, sort_equations
from movrel.errors import StructureFault, Unsupported
from movrel.model import expression as x
from movrel.model.flat import Assertion, FlatEquation, FlatModel, Variable

Array = npt.NDArray[np.float64]


@dataclass(slots=True)
class System:
    """A model ready to be initialised and integrated.

    The functions take ``(t, x, p, m, w)``: time, states, parameters, event memory and guesses for
    implicit unknowns. ``solved`` lists the unknowns in the order of the vector that ``values``
    returns; ``initial_solved`` the same for ``initial``.
    """

    flat: FlatModel
    reduced: Reduced
    states: list[Variable]
    parameters: list[Variable]
    blocks: list[Block]
    initial_blocks: list[Block]
    slots: list[Slot]
    solved: list[Variable]
    implicit: list[Variable]
    initial_solved: list[Variable]
    initial_implicit: list[Variable]
    derivatives: Any  # -> dx
    values: Any  # -> values of ``solved``
    jacobian: Any  # -> d dx / d x, sparse
    indicators: Any  # -> g of all slots, their scale |left|+|right|
    indicator_rates: Any  # -> d g / d t of all slots, meaningful where ``timed``
    timed: npt.NDArray[np.bool_]  # slots whose g is a straight line in time between events
    initial: StartSolver  # -> values of ``initial_solved``, g of all slots
    assertions: list[Assertion]
    assertion_values: Any
    residuals: Any
    notes: list[str] = field(default_factory=list)


@dataclass(slots=True)
class Sorted:
    """The equations in solving order, before any function is made."""

    flat: FlatModel
    reduced: Reduced
    states: list[Variable]
    rates: dict[int, Variable]
    blocks: list[Block]
    initial_blocks: list[Block]
    equations: list[FlatEquation]
    notes: list[str]

    @property
    def solved(self) -> list[Variable]:
        """The unknowns in the order of the vector of values."""
        return [v for block in self.blocks for v in block.unknowns]

    @property
    def parameters(self) -> list[Variable]:
        return _numeric_parameters(self.flat)


def sort_model(flat: FlatModel) -> Sorted:
    """Find states and solving order of a flat model.

    Raises :class:`StructureFault` when equations and unknowns do not match.
    """
    reduced = remove_aliases(flat)
    rates: dict[int, Variable] = {}
    states: list[Variable] = []
    allowed = {id(v) for v in reduced.unknowns}

    def rate(variable: Variable) -> x.Expr:
        if id(variable) not in allowed:
            raise Unsupported(f"the derivative of the input '{variable.name}' is not known.", variable.where)
        if id(variable) not in rates:
            derivative = Variable(f"der({variable.name})", component=variable.component, where=variable.where)
            derivative.unit = f"({variable.unit})/s" if variable.unit else ""
            rates[id(variable)] = derivative
            states.append(variable)
        return x.var(rates[id(variable)])

    equations = [_expanded(e, rate) for e in reduced.equations]
    _refuse_discrete_derivatives(states)
    is_state = {id(v) for v in states}
    unknowns = [rates[id(v)] for v in states] + [v for v in reduced.unknowns if id(v) not in is_state]
    _check_index(equations, unknowns, states, rates)
    blocks = sort_equations(equations, unknowns)

    replacement = reduced.replacement()
    initial_equations = []
    for e in flat.initial_equations:
        left, right = x.substitute(e.left, replacement), x.substitute(e.right, replacement)
        initial_equations.append(_expanded(FlatEquation(left, right, e.where, e.component, "initial equation"), rate))
    notes: list[str] = []
    initial_blocks = _initial_blocks(equations, initial_equations, states, unknowns, notes)
    return Sorted(flat, reduced, states, rates, blocks, initial_blocks, [*equations, *initial_equations], notes)


def build_system(flat: FlatModel, ordered: Sorted | None = None) -> System:
    """Sort the equations of a flat model, unless that was done, and make its functions."""
    found = ordered or sort_model(flat)
    parameters = _numeric_parameters(flat)
    replacement = found.reduced.replacement()
    assertions = [
        Assertion(x.substitute(a.condition, replacement), a.message, a.level, a.where, a.component) for a in flat.assertions
    ]
    expressions = [side for e in found.equations for side in (e.left, e.right)]
    bound = count_event_nodes([*expressions, *(a.condition for a in assertions)]) + 2 * len(found.initial_blocks)
    memory = EventMemory(bound)
    graph = Graph(found.blocks, found.states, parameters, memory)
    initial_graph = Graph(found.initial_blocks, [], parameters, memory)
    return _with_functions(found, parameters, memory, graph, initial_graph, assertions)


def _with_functions(
    found: Sorted,
    parameters: list[Variable],
    memory: EventMemory,
    graph: Graph,
    initial_graph: Graph,
    assertions: list[Assertion],
) -> System:
    states = found.states
    dx = ca.vertcat(*[graph.value(found.rates[id(v)]) for v in states]) if states else ca.SX(0, 1)
    y = ca.vertcat(*[graph.value(v) for v in graph.order]) if graph.order else ca.SX(0, 1)
    judged = [graph.translate(a.condition, False) for a in assertions]
    g, scale = _indicator_vectors(memory, graph)
    g0, _ = _indicator_vectors(memory, initial_graph)
    slots = list(memory.slots)
    g_t = ca.jacobian(g, graph.t) if slots else ca.SX(0, 1)
    timed = _timed_slots(g, g_t, graph) if slots else np.zeros(0, bool)
    derivatives = graph.function("derivatives", [dx])
    return System(
        flat=found.flat,
        reduced=found.reduced,
        states=states,
        parameters=parameters,
        blocks=found.blocks,
        initial_blocks=found.initial_blocks,
        slots=slots,
        solved=graph.order,
        implicit=graph.implicit,
        initial_solved=initial_graph.order,
        initial_implicit=initial_graph.implicit,
        derivatives=derivatives,
        values=graph.function("values", [y]),
        jacobian=_jacobian(graph, dx, derivatives),
        indicators=graph.function("indicators", [g, scale]),
        indicator_rates=graph.function("rates", [ca.densify(g_t)]),
        timed=timed,
        initial=initial_graph.start_solver(
            [ca.vertcat(*[initial_graph.value(v) for v in initial_graph.order]) if initial_graph.order else ca.SX(0, 1), g0]
        ),
        assertions=assertions,
        assertion_values=graph.function("assertions", [ca.vertcat(*judged) if judged else ca.SX(0, 1)]),
        residuals=graph.residuals(),
        notes=found.notes,
    )


def _expanded(e: FlatEquation, rate: Any) -> FlatEquation:
    left = expand_derivatives(e.left, rate, e.where)
    right = expand_derivatives(e.right, rate, e.where)
    return FlatEquation(left, right, e.where, e.component, e.kind, e.original or (e.left, e.right))


def _refuse_discrete_derivatives(states: list[Variable]) -> None:
    for v in states:
        if v.type != "Real":
            raise StructureFault(f"'{v.name}' is {v.type}; only Real variables have a derivative.", v.where)


def _check_index(
    equations: list[FlatEquation], unknowns: list[Variable], states: list[Variable], rates: dict[int, Variable]
) -> None:
    """Tell a model whose states are tied together by equations from one that is plainly wrong."""
    rows = incidence(equations, unknowns)
    column_of, _ = match(rows, len(unknowns))
    if -1 not in column_of or len(equations) != len(unknowns):
        return
    with_states = incidence(equations, [*unknowns, *states])
    number = {id(v): i for i, v in enumerate(unknowns)}
    for row in with_states:
        row.extend(number[id(rates[id(states[c - len(unknowns)])])] for c in list(row) if c >= len(unknowns))
    solvable, _ = match([sorted({c for c in row if c < len(unknowns)}) for row in with_states], len(unknowns))
    if -1 in solvable:
        return
    tied = [equations[r] for r, c in enumerate(column_of) if c < 0]
    raise Unsupported(
        f"the states are tied to each other by '{x.show(tied[0].left)} = {x.show(tied[0].right)}'; such models (of higher "
        "index) cannot be solved yet.", tied[0].where, "Let one part carry the state, or put an elastic part between them.",
    )  # fmt: skip


def _initial_blocks(
    equations: list[FlatEquation], initial_equations: list[FlatEquation], states: list[Variable],
    unknowns: list[Variable], notes: list[str],
) -> list[Block]:  # fmt: skip
    """The system at the start: start values marked fixed hold; others are used as far as needed (8.6)."""
    all_unknowns = [*unknowns, *states]
    is_state = {id(v) for v in states}
    required = [*equations, *initial_equations]
    required += [_start_equation(v) for v in all_unknowns if v.fixed and not v.name.startswith("der(")]
    optional = [_start_equation(v) for v in states if not v.fixed]
    optional.sort(key=lambda e: e.left.variable.start is None)
    rows = incidence([*required, *optional], all_unknowns)
    column_of, row_of = match(rows, len(all_unknowns))
    unmatched = [r for r, c in enumerate(column_of[: len(required)]) if c < 0]
    if unmatched or -1 in row_of:
        raise explain_mismatch(
            required if unmatched else [*required, *optional], all_unknowns,
            rows[: len(required)] if unmatched else rows, column_of[: len(required)] if unmatched else column_of,
            row_of, "start of the model",
        )  # fmt: skip
    chosen = [optional[r - len(required)] for r, c in enumerate(column_of) if r >= len(required) and c >= 0]
    for e in chosen:
        value = "0" if e.left.variable.start is None else x.show(e.right)
        notes.append(f"'{e.left.variable.name}' starts at {value}: it is not fixed, and no initial equation sets it.")
    assert all(id(e.left.variable) in is_state for e in chosen)
    return sort_equations([*required, *chosen], all_unknowns, "start of the model")


def _start_equation(variable: Variable) -> FlatEquation:
    start = variable.start if variable.start is not None else x.ZERO
    return FlatEquation(x.var(variable), start, variable.where, variable.component, "start value")


def _numeric_parameters(flat: FlatModel) -> list[Variable]:
    """Everything with a value that is the same during a run, inputs without a source included."""
    found = [v for v in flat.parameters() if v.type != "String"]
    return found + [v for v in flat.variables if v.causality == "input" and v.variability in ("continuous", "discrete")]


def _indicator_vectors(memory: EventMemory, graph: Graph) -> tuple[Any, Any]:
    """g and |left| + |right| of every slot; translating may find further slots, so the loop rechecks."""
    g: list[Any] = []
    scale: list[Any] = []
    position = 0
    while position < len(memory.slots):
        slot = memory.slots[position]
        value = graph.translate(slot.expression)
        if slot.expression.op == "-" and slot.kind == "relation":
            parts = [graph.translate(a) for a in slot.expression.args]
            scale.append(ca.fabs(parts[0]) + ca.fabs(parts[1]))
        else:
            scale.append(ca.fabs(value))
        if slot.kind == "floor":
            value = value - memory.elements[position]
        g.append(value)
        position += 1
    return (ca.vertcat(*g), ca.vertcat(*scale)) if g else (ca.SX(0, 1), ca.SX(0, 1))


def _timed_slots(g: Any, g_t: Any, graph: Graph) -> npt.NDArray[np.bool_]:
    """Slots that depend on time, parameters and memory only, and on time linearly."""
    n = g.shape[0]
    timed = np.zeros(n, bool)
    by_time = set(g_t.sparsity().row())
    other: set[int] = set()
    for group in (graph.x, graph.s):
        if group.shape[0]:
            other |= set(ca.jacobian_sparsity(g, group).row())
    curved = set(ca.jacobian_sparsity(ca.densify(g_t), graph.t).row())
    for i in by_time - other - curved:
        timed[i] = True
    return timed


def _jacobian(graph: Graph, dx: Any, derivatives: Any) -> Any:
    if not graph.states:
        return None
    if not graph.implicit:
        return graph.function("jacobian", [ca.jacobian(dx, graph.x)])
    sizes = [derivatives.size1_in(i) for i in range(5)]
    inputs = [ca.MX.sym(f"i{k}", n) for k, n in enumerate(sizes)]
    return ca.Function("jacobian", inputs, [ca.jacobian(derivatives(*inputs), inputs[1])])


def parameter_values(system_or_flat: System | Sorted | FlatModel, settings: dict[str, float]) -> dict[int, Any]:
    """The value of every parameter and constant by ``id(variable)``, bindings worked out in order.

    Raises :class:`StructureFault` for a parameter without a value or a cycle.
    """
    flat = system_or_flat if isinstance(system_or_flat, FlatModel) else system_or_flat.flat
    values: dict[int, Any] = {}
    working: list[Variable] = []

    def value(v: Variable) -> Any:
        key = id(v)
        if key in values:
            return values[key]
        if v.name in settings and v.variability == "parameter":
            values[key] = settings[v.name]
            return values[key]
        if v in working:
            names = " → ".join(w.name for w in [*working[working.index(v) :], v])
            raise StructureFault(f"parameters depend on each other in a circle: {names}.", v.where)
        source = v.binding if v.binding is not None else v.start
        if source is None:
            if v.variability == "parameter" and v.type == "String":
                values[key] = ""
                return ""
            raise StructureFault(f"the parameter '{v.name}' has no value.", v.where, "Give it one.")
        working.append(v)
        try:
            needed = {id(u): value(u) for u in x.variables(source)}
            values[key] = x.evaluate(source, needed)
        except (ArithmeticError, ValueError, TypeError) as fault:
            raise StructureFault(
                f"the value of '{v.name}' cannot be worked out: {fault} in '{x.show(source)}'.", v.where
            ) from None
        except KeyError as fault:
            raise StructureFault(f"the value of '{v.name}' needs {fault}, which is not constant.", v.where) from None
        finally:
            working.pop()
        return values[key]

    for v in flat.parameters():
        value(v)
    return values


def start_value(variable: Variable, values: dict[int, Any]) -> float:
    """The start attribute as a number; 0 where none is given."""
    if variable.start is None:
        return 0.0
    try:
        return float(x.evaluate(variable.start, values))
    except (ArithmeticError, ValueError, KeyError):
        raise StructureFault(f"the start value of '{variable.name}' cannot be worked out.", variable.where) from None


def parameter_vector(system: System | Sorted, values: dict[int, Any]) -> Array:
    """The vector ``p`` of the functions."""
    return np.array([float(values[id(v)]) if id(v) in values else start_value(v, values) for v in system.parameters], dtype=float)


def broken_limit(variable: Variable, values: dict[int, Any]) -> tuple[str, float] | None:
    """``("minimum" | "maximum", bound)`` that the value of a parameter violates, or None."""
    value = values.get(id(variable))
    if value is None or isinstance(value, str | bool):
        return None
    if variable.minimum is not None and value < (bound := float(x.evaluate(variable.minimum, values))):
        return "minimum", bound
    if variable.maximum is not None and value > (bound := float(x.evaluate(variable.maximum, values))):
        return "maximum", bound
    return None
