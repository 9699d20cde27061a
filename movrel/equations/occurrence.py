"""Which unknowns an expression really depends on between events.

The outcome of a relation on continuous quantities is held between events, so the relation does not
tie its operands into the equation in which it stands; ``noEvent`` undoes that.
"""

from __future__ import annotations

from collections.abc import Sequence

from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation
from movrel.model.traits import DELAY, RELATION, ROUNDING

#: Roundings that are held whole.
ROUNDINGS = {"floor", "ceil", "integer", "div"}
_LITERAL = {"noevent", "smooth"}


def is_held(e: Expr) -> bool:
    """Whether this node is a relation or rounding whose outcome changes at state or time events."""
    if not e.traits & (RELATION | ROUNDING) or (e.op not in x.RELATIONS and e.op not in ROUNDINGS):
        return False
    return e.op not in ("==", "<>") and any(
        node.op == "unit" or (node.op == "var" and node.variable.variability == "continuous")
        for node in x.walk(e)
    )


def occurring(e: Expr) -> list[Variable]:
    """The variables on which the value depends while all held relations stay as they are."""
    variables: dict[Variable, None] = {}
    if not e.traits & (RELATION | ROUNDING | DELAY):
        return _all(e)
    seen: set[tuple[Expr, bool]] = set()
    stack = [(e, False)]
    while stack:
        node, literal = stack.pop()
        if node.op == "var":
            variables[node.value] = None
            continue
        if not node.args or (node, literal) in seen:
            continue
        seen.add((node, literal))
        if node.op == "delay" or (not literal and is_held(node)):
            continue
        literal = literal or node.op in _LITERAL
        stack.extend((a, literal) for a in reversed(node.args))
    return list(variables)


def _all(e: Expr) -> list[Variable]:
    """The variables of an expression in which nothing is held, from left to right."""
    variables: dict[Variable, None] = {}
    seen: set[Expr] = set()
    stack = [e]
    while stack:
        node = stack.pop()
        if node.op == "var":
            variables[node.value] = None
        elif node.args and node not in seen:
            seen.add(node)
            stack.extend(reversed(node.args))
    return list(variables)


def incidence(equations: Sequence[FlatEquation], unknowns: Sequence[Variable]) -> list[list[int]]:
    """For each equation the numbers of the unknowns that occur in it."""
    number = {v: i for i, v in enumerate(unknowns)}
    rows = []
    for equation in equations:
        columns: dict[int, None] = {}
        for side in (equation.left, equation.right):
            for variable in occurring(side):
                if (i := number.get(variable)) is not None:
                    columns[i] = None
        rows.append(list(columns))
    return rows
