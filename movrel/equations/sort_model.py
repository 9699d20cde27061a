"""From a flat model to its equations in solving order."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from movrel.equations.alias import Reduced, remove_aliases
from movrel.equations.derivative import expand_derivatives
from movrel.equations.hidden_constraints import expose_constraints
from movrel.equations.index_reduction import (
    Chains,
    Reduction,
    guessed_matrices,
    reduce_index,
)
from movrel.equations.modes import PreVariables, changed, during_run
from movrel.equations.occurrence import incidence
from movrel.equations.open_quantities import open_quantities
from movrel.equations.parameters import parameter_values, solved_parameters
from movrel.equations.sorted_model import Sorted
from movrel.equations.sorting import explain_mismatch, sort_equations
from movrel.equations.start import start_blocks
from movrel.equations.state_choice import Selection
from movrel.errors import MovrelError, Place
from movrel.matching import match
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import (
    Assertion,
    FlatEquation,
    FlatModel,
    FlatUnit,
    Reinit,
    Termination,
    UnitValue,
)


def chosen_and_sorted(ordered: Sorted) -> Sorted:
    """A model whose constraints are new, with states chosen for them and its equations in order."""
    reduction = ordered.reduction
    values = _guesses(ordered.flat, ordered.reduced, reduction)
    ordered.selection = reduction.select(guessed_matrices(reduction, values))
    return _with_blocks(ordered, None)


def sort_model(flat: FlatModel) -> Sorted:
    """Find states and solving order of a flat model.

    Raises :class:`StructureFault` when equations and unknowns do not match.
    """
    reduced = remove_aliases(flat)
    replacement = reduced.replacement()
    pre = PreVariables(reduced.starts)
    chains = Chains(set(reduced.unknowns), reduced.starts)

    def prepared(e: x.Expr, where: Place | None, reduced_already: bool = False) -> x.Expr:
        reduced_one = e if reduced_already else x.substitute(e, replacement)
        return expand_derivatives(pre.in_place_of_pre(reduced_one), chains.rate, where)

    equations = [
        changed(e, partial(prepared, where=e.where, reduced_already=True))
        for e in reduced.equations
    ]
    initial = [changed(e, partial(prepared, where=e.where)) for e in flat.initial_equations]
    for e in initial:
        e.kind = "initial equation"
    assertions = [
        Assertion(
            prepared(a.condition, a.where),
            prepared(a.message, a.where),
            a.level,
            a.where,
            a.component,
            a.at_events,
        )
        for a in flat.assertions
    ]
    reinits = [
        Reinit(
            prepared(r.active, r.where),
            x.substitute(r.state, replacement),
            prepared(r.value, r.where),
            r.where,
            r.component,
        )
        for r in flat.reinits
    ]
    terminations = [
        Termination(prepared(e.active, e.where), prepared(e.message, e.where), e.where)
        for e in flat.terminations
    ]
    still = {v for v in reduced.unknowns if v.type == "Real" and v.variability == "continuous"}
    equations = expose_constraints(
        equations, still - set(chains.rates) - set(chains.base), chains.rates
    )
    _check_structure(
        equations,
        reduced.unknowns,
        chains,
        lambda open_ones: open_quantities(open_ones, reduced, flat),
    )
    reduction = reduce_index(equations, reduced.unknowns, chains)
    selection: Selection = ()
    if reduction.constraints:
        selection = reduction.select(
            guessed_matrices(reduction, _guesses(flat, reduced, reduction))
        )
    ordered = Sorted(
        flat, reduced, reduction, selection, pre, [], [], [], [*reduction.equations, *initial], assertions, reinits, terminations,
        solved_parameters(flat), [], [_prepared_unit(u, prepared) for u in flat.units],
    )  # fmt: skip
    return _with_blocks(ordered, initial)


def _prepared_unit(unit: FlatUnit, prepared: Callable[..., x.Expr]) -> FlatUnit:
    """The unit with its inputs and states in terms of the variables that are left."""
    inputs = [UnitValue(i.name, i.offset, prepared(i.value, where=unit.where)) for i in unit.inputs]
    states = [prepared(e, where=unit.where) for e in unit.states]
    return replace(unit, inputs=inputs, states=states)


def _check_structure(
    equations: list[FlatEquation],
    unknowns: list[Variable],
    chains: Chains,
    cause: Callable[[list[Variable]], tuple[str, str] | None],
) -> None:
    """Refuse what no index reduction can mend: a variable and its derivatives count as one here."""
    base = {v: i for i, v in enumerate(unknowns)}
    together = list(unknowns)
    for v in unknowns:
        while v in chains.rates:
            base[chains.rates[v]] = base[v]
            v = chains.rates[v]
            together.append(v)
    rows = [sorted({base[together[c]] for c in row}) for row in incidence(equations, together)]
    column_of, row_of = match(rows, len(unknowns))
    if -1 in column_of or -1 in row_of:
        raise explain_mismatch(equations, unknowns, rows, column_of, row_of, "model", cause)


def _guesses(flat: FlatModel, reduced: Reduced, reduction: Reduction) -> dict[Variable, Scalar]:
    """Numbers for a first look at the constraints: parameter values and start values."""
    try:
        values = parameter_values(flat, {})
    except MovrelError:
        values = {}
    for v in reduction.variables:
        start = reduced.starts.of(v).value
        if start is not None:
            try:
                values[v] = x.evaluate(start, values)
            except (ArithmeticError, ValueError, KeyError, TypeError):
                continue
    return values


def resort(before: Sorted, selection: Selection) -> Sorted:
    """The same equations sorted for another choice of states; the start stays as it is."""
    other = Sorted(
        before.flat, before.reduced, before.reduction, selection, before.pre, [], [], before.initial_blocks, before.equations,
        before.assertions, before.reinits, before.terminations, before.solved_parameters, before.notes, before.units,
        surplus=before.surplus,
    )  # fmt: skip
    return _with_blocks(other, None)


def _with_blocks(ordered: Sorted, initial: list[FlatEquation] | None) -> Sorted:
    reduction = ordered.reduction
    ordered.states = reduction.states(ordered.selection)
    is_state = set(ordered.states)
    unknowns = [v for v in reduction.variables if v not in is_state]
    # Rates come first, so that in a tie a derivative is what an equation determines.
    unknowns.sort(key=lambda v: v not in reduction.chains.base)
    running = during_run(ordered.pre)
    ordered.blocks = sort_equations(
        [changed(e, running) for e in reduction.equations], unknowns, ordered.reduced.starts
    )
    if initial is not None:
        ordered.initial_blocks = start_blocks(ordered, initial)
    return ordered
