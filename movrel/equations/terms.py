"""The terms of equations: what stands between the plus and minus signs of both sides, and what each is worth."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from movrel.equations.sorted_model import Sorted
from movrel.model import expression as x
from movrel.model.expression import Expr, Scalar, Variable
from movrel.model.flat import FlatEquation

#: Gives a value to a variable; None where it has none.
ValueOf = Callable[[Variable], Scalar | None]


@dataclass(frozen=True, slots=True)
class Term:
    """``sign`` times an expression, on the left or on the right of its equation."""

    sign: int
    of: Expr
    left: bool


def terms(e: FlatEquation) -> list[Term]:
    """The terms of an equation as it stands in the text; zeros are left out."""
    left, right = e.original or (e.left, e.right)
    parts = [(sign, part, True) for sign, part in _parts(left, 1)]
    parts += [(sign, part, False) for sign, part in _parts(right, 1)]
    return [Term(*p) for p in parts if not p[1].is_const(0)]


def _parts(e: Expr, sign: int) -> list[tuple[int, Expr]]:
    if e.size > x.SHOW_LIMIT:
        return [(sign, e)]
    if e.op == "+":
        return _parts(e.args[0], sign) + _parts(e.args[1], sign)
    if e.op == "-":
        return _parts(e.args[0], sign) + _parts(e.args[1], -sign)
    if e.op == "neg":
        return _parts(e.args[0], -sign)
    return [(sign, e)]


def unit_of(parts: list[Term]) -> str:
    """The unit of all terms, as far as one of them is a plain variable or its rate; else empty."""
    for term in parts:
        if term.of.op == "var":
            return term.of.variable.unit
        if term.of.op == "der" and term.of.args[0].op == "var" and term.of.args[0].variable.unit:
            return f"{term.of.args[0].variable.unit}/s"
    return ""


def names_in(e: FlatEquation) -> list[str]:
    """The names of the variables of an equation, each once."""
    sides = e.original or (e.left, e.right)
    return list(dict.fromkeys(v.name for side in sides for v in x.variables(side)))


def term_values(
    parts: list[Term], value_of: ValueOf, rates: dict[str, Variable]
) -> list[float | None]:
    """What each term is worth, with its sign; None for what has no number, as texts and what happens at events.

    ``value_of`` knows the variables of the model and the ``rates`` of its states, see :func:`rates_of`.
    """
    memo: dict[Variable, Scalar] = {}
    worth: list[float | None] = []
    for term in parts:
        try:
            plain = x.transform(term.of, lambda node: _rate(node, value_of, rates))
            for v in x.variables(plain):
                if v not in memo and (value := value_of(v)) is not None:
                    memo[v] = value
            worth.append(term.sign * float(x.evaluate(plain, memo)))
        except (KeyError, ArithmeticError, ValueError, TypeError):
            worth.append(None)
    return worth


def rates_of(ordered: Sorted) -> dict[str, Variable]:
    """By name of a variable: what stands for its derivative."""
    unknowns = [*ordered.solved, *ordered.reduced.aliases]
    return {v.name[4:-1]: v for v in unknowns if v.generated and v.name.startswith("der(")}


def _rate(node: Expr, value_of: ValueOf, rates: dict[str, Variable]) -> Expr | None:
    """The value of a derivative, where it is that of a variable whose rate is solved for."""
    if node.op != "der" or node.args[0].op != "var":
        return None
    rate = rates.get(node.args[0].variable.name)
    value = value_of(rate) if rate is not None else None
    return None if value is None else x.const(float(value))
