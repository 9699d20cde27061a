"""The system at the start of a run (specification 8.6).

Everything is unknown there: derivatives, algebraic variables, states, values before the first event,
and parameters with ``fixed = false``. Start values marked fixed are equations; others are used as far
as equations are missing.
"""

from __future__ import annotations

from movrel.equations.modes import at_start, changed
from movrel.equations.occurrence import incidence
from movrel.equations.sorted_model import Sorted, Surplus
from movrel.equations.sorting import (
    Block,
    described,
    explain_mismatch,
    overdetermined,
    sort_equations,
)
from movrel.equations.starts import Starts
from movrel.matching import match
from movrel.model import expression as x
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation

WHAT = "start of the model"
#: Equations that are named where a start value contradicts them.
MOST_NAMED = 6


def start_blocks(ordered: Sorted, initial: list[FlatEquation]) -> list[Block]:
    """The blocks of the start in solving order; notes on chosen start values go into ``ordered.notes``.

    Raises :class:`StructureFault` when the start is over- or underdetermined.
    """
    chains, starts = ordered.reduction.chains, ordered.reduced.starts
    pre = ordered.pre.all
    solved = ordered.solved_parameters
    unknowns = [*ordered.reduction.variables, *pre, *solved]
    unknowns.sort(key=lambda v: v not in chains.base)
    is_state = set(ordered.states)
    required = [changed(e, at_start) for e in (*ordered.reduction.equations, *initial)]
    required += [
        FlatEquation(x.var(v), v.binding, v.where, v.component, "binding")
        for v in solved
        if v.binding is not None
    ]
    required += _reinit_equations(ordered)
    fixed = [
        v
        for v in (*ordered.reduction.variables, *pre)
        if starts.of(v).fixed and _may_start(v, ordered)
    ]
    required, ordered.surplus = _without_surplus(
        required, [_start_equation(v, starts) for v in fixed], unknowns
    )
    optional = [_start_equation(v, starts) for v in ordered.reduction.variables if not starts.of(v).fixed and v.type == "Real"
                and (v in chains.rates or v in is_state)]  # fmt: skip
    optional.sort(
        key=lambda e: (
            starts.of(e.left.variable).value is None,
            e.left.variable not in is_state,
        )
    )
    before = [
        _before_equation(v, p, starts)
        for v, p in zip(ordered.pre.of, pre, strict=True)
        if not p.fixed
    ]
    loose = [
        _start_equation(v, starts) for v in solved if v.binding is None and v.start is not None
    ]
    equations = [*required, *before, *optional, *loose]
    rows = incidence(equations, unknowns)
    count = len(required)
    column_of, row_of = match(rows, len(unknowns), count)
    unmatched = [r for r, c in enumerate(column_of[:count]) if c < 0]
    if unmatched or -1 in row_of:
        short = bool(unmatched)
        raise explain_mismatch(
            equations[:count] if short else equations, unknowns, rows[:count] if short else rows,
            column_of[:count] if short else column_of, row_of, WHAT,
        )  # fmt: skip
    chosen = [equations[r] for r, c in enumerate(column_of) if r >= count and c >= 0]
    for e in chosen:
        variable = e.left.variable
        if (
            e.kind != "start value"
            or variable.generated
            or variable.type != "Real"
            or wishes(variable, starts)
        ):
            continue
        value = "0" if starts.of(variable).value is None else x.show(e.right)
        ordered.notes.append(
            f"'{variable.name}' starts at {value}: it is not fixed, and no initial equation sets it."
        )
    return sort_equations([*required, *chosen], unknowns, starts, WHAT)


def _without_surplus(
    required: list[FlatEquation], fixed: list[FlatEquation], unknowns: list[Variable]
) -> tuple[list[FlatEquation], list[Surplus]]:
    """What the start requires, without those fixed start values for which everything else leaves no unknown."""
    equations = [*required, *fixed]
    rows = incidence(equations, unknowns)
    if -1 not in match(rows, len(unknowns))[0]:
        return equations, []
    column_of, row_of = match(rows, len(unknowns), len(required))
    dropped = [r for r, c in enumerate(column_of) if c < 0]
    if dropped[0] < len(required):
        return equations, []  # which is refused
    surplus = []
    for row in dropped:
        others = sorted(overdetermined(row, rows, row_of)[0] - {row})
        words = "; ".join(described(equations[r]) for r in others[:MOST_NAMED])
        surplus.append(Surplus(equations[row], words))
    return [e for r, e in enumerate(equations) if column_of[r] >= 0], surplus


def wishes(v: Variable, starts: Starts) -> bool:
    """Whether a part says with ``stateSelect`` where it likes to start: then rigid couplings may overrule it."""
    return starts.of(v).value is not None and starts.attributes(v).state_select in (
        "prefer",
        "always",
    )


def _may_start(v: Variable, ordered: Sorted) -> bool:
    """A discrete variable that is fixed says what it was before, by way of its ``pre`` (8.6)."""
    return v.variability == "continuous" or any(v is p for p in ordered.pre.all)


def _start_equation(variable: Variable, starts: Starts) -> FlatEquation:
    value = starts.of(variable).value
    start = value if value is not None else x.ZERO
    return FlatEquation(x.var(variable), start, variable.where, variable.component, "start value")


def _before_equation(v: Variable, before: Variable, starts: Starts) -> FlatEquation:
    """The value before the first event: the start value, or for a continuous variable the value itself."""
    if v.variability == "continuous":
        return FlatEquation(x.var(before), x.var(v), v.where, v.component, "value before the start")
    start = starts.of(v).value
    if start is None:
        start = {"Boolean": x.FALSE, "enumeration": x.const(1)}.get(v.type, x.ZERO)
    return FlatEquation(x.var(before), start, v.where, v.component, "value before the start")


def _reinit_equations(ordered: Sorted) -> list[FlatEquation]:
    """A reinit under ``initial()`` sets the state at the start."""
    result = []
    for r in ordered.reinits:
        active = at_start(r.active)
        if active.is_const(True):
            result.append(
                FlatEquation(
                    r.state, at_start(r.value), r.where, r.component, "reinit at the start"
                )
            )
    return result
