"""Tearing: fewer unknowns for Newton's method in a block (Elmqvist and Otter, ESM 1994).

Some unknowns are guessed ("torn"); as many of the others as possible then follow one by one, and the
equations that are left over are the residuals.
"""

from __future__ import annotations

from collections.abc import Sequence

from movrel.equations.linear import depends, linear_parts, solve_for
from movrel.equations.occurrence import incidence
from movrel.equations.starts import Starts
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation

#: Blocks larger than this are torn without looking for the best tear.
SEARCH_LIMIT = 400
#: Functions that are so steep that Newton's method does better with their argument than with their value.
STEEP = {"exp", "sinh", "cosh", "tan"}


def tear(
    equations: Sequence[FlatEquation], unknowns: Sequence[Variable], starts: Starts
) -> tuple[list[tuple[Variable, Expr]], Sequence[Variable], Sequence[FlatEquation]]:
    """Inner unknowns with their values in order, the torn unknowns, and the residual equations.

    Only equations that give an unknown without a division by something that may vanish are used for
    inner unknowns, and no nonlinear function is applied to the outcome of another one: exponentials of
    exponentials would defeat Newton's method. An unknown to which such a function is applied must
    therefore be torn or follow linearly from torn ones.
    """
    if len(unknowns) == 1 or len(unknowns) > SEARCH_LIMIT:
        return [], unknowns, equations
    rows = [set(row) for row in incidence(equations, unknowns)]
    known: set[int] = set()
    open_rows = set(range(len(equations)))
    inner: list[tuple[Variable, Expr]] = []
    tears: list[int] = []
    safe: dict[tuple[int, int], Expr | None] = {}
    curved = _in_nonlinear_terms(equations, unknowns, rows)
    steep = _in_steep_functions(equations)
    bent: set[Variable] = set()  # unknowns that depend nonlinearly on the torn ones
    while len(known) < len(unknowns):
        inner_next = _next_inner(rows, known, open_rows, equations, unknowns, safe, bent, curved)
        if inner_next is not None:
            row, column, value = inner_next
            inner.append((unknowns[column], value))
            straight = {unknowns[c] for c in known} - bent
            if depends(value, bent) or linear_parts(value, straight) is None:
                bent.add(unknowns[column])
            known.add(column)
            open_rows.discard(row)
            continue
        column = _best_tear(rows, known, open_rows, unknowns, starts, steep)
        tears.append(column)
        known.add(column)
    return inner, [unknowns[c] for c in tears], [equations[r] for r in sorted(open_rows)]


def _next_inner(
    rows: list[set[int]], known: set[int], open_rows: set[int], equations: Sequence[FlatEquation],
    unknowns: Sequence[Variable], safe: dict[tuple[int, int], Expr | None], bent: set[Variable],
    curved: set[Variable],
) -> tuple[int, int, Expr] | None:  # fmt: skip
    for row in sorted(open_rows):
        missing = rows[row] - known
        if len(missing) != 1:
            continue
        (column,) = missing
        key = (row, column)
        if key not in safe:
            safe[key] = safe_solution(equations[row], unknowns[column])
        value = safe[key]
        if value is None or linear_parts(value, bent) is None:
            continue
        straight = {unknowns[c] for c in known} - bent
        if unknowns[column] not in curved or (
            not depends(value, bent) and linear_parts(value, straight) is not None
        ):
            return row, column, value
    return None


def _in_nonlinear_terms(
    equations: Sequence[FlatEquation], unknowns: Sequence[Variable], rows: list[set[int]]
) -> set[Variable]:
    """Identities of the unknowns that occur nonlinearly in some equation."""
    curved: set[Variable] = set()
    for equation, row in zip(equations, rows, strict=True):
        whole = x.subtract(equation.left, equation.right)
        for column in row:
            key = unknowns[column]
            if key not in curved and linear_parts(whole, {key}) is None:
                curved.add(key)
    return curved


def _in_steep_functions(equations: Sequence[FlatEquation]) -> set[Variable]:
    """Variables in the arguments of steep functions."""
    return {
        v
        for e in equations
        for side in (e.left, e.right)
        for node in x.walk(side)
        if node.op in STEEP
        for v in x.variables(node)
    }


def _best_tear(
    rows: list[set[int]],
    known: set[int],
    open_rows: set[int],
    unknowns: Sequence[Variable],
    starts: Starts,
    steep: set[Variable],
) -> int:
    """The unknown that stands in most of the shortest open equations; those in steep functions and with a start value
    first."""
    score: dict[int, float] = {}
    for row in open_rows:
        missing = rows[row] - known
        for column in missing:
            score[column] = score.get(column, 0.0) + 1.0 / len(missing)
    candidates = [c for c in range(len(unknowns)) if c not in known]
    real = [c for c in candidates if unknowns[c].type == "Real"] or candidates
    return max(
        real,
        key=lambda c: (
            score.get(c, 0.0)
            + (1.0 if unknowns[c] in steep else 0.0)
            + (0.5 if starts.of(unknowns[c]).value is not None else 0.0),
            -c,
        ),
    )


def safe_solution(equation: FlatEquation, unknown: Variable) -> Expr | None:
    """The value of an unknown from an equation if nothing that varies is divided by."""
    value = solve_for(equation.left, equation.right, unknown)
    if value is None or value.size > 100_000:
        return None
    before = {node for side in (equation.left, equation.right) for node in x.walk(side)}
    for node in x.walk(value):
        if node.op == "/" and node not in before and not _firm(node.args[1]):
            return None
    return value


def _firm(e: Expr) -> bool:
    """Whether an expression does not change during a run."""
    return all(v.variability in ("parameter", "constant") for v in x.variables(e)) and not (
        e.is_const(0)
    )
