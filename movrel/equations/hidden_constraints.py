"""Constraints that structure does not show.

A loop of capacitors and voltage sources, or a node at which only inductors meet, ties states to each other through equations
such as ``v = a - b`` and sums of flows. Each potential in them could be determined by some equation, so a matching finds
nothing wrong; that the equations only determine differences shows in their coefficients. Where these are plain numbers, the
algebraic unknowns are eliminated exactly, and an equation that loses them all is replaced by what is left of it: a relation
between states, which index reduction then differentiates.
"""

from __future__ import annotations

from fractions import Fraction

from movrel.equations.linear import linear_parts
from movrel.equations.occurrence import occurring
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation

#: Entries that an elimination may go through: loops of capacitors take hundreds, a grid of resistors millions.
MOST_WORK = 100_000
_Row = dict[Variable, Fraction]


def expose_constraints(
    equations: list[FlatEquation], algebraic: set[Variable], rates: dict[Variable, Variable]
) -> list[FlatEquation]:
    """The same equations, with those replaced that constrain states once the ``algebraic`` unknowns are eliminated.

    ``rates`` gives the derivative of each state; what holds a derivative constrains nothing and stays as it is.
    """
    derivatives = set(rates.values())
    rows: dict[int, _Row] = {}
    rests: dict[int, Expr] = {}
    for i, e in enumerate(equations):
        parts = _with_numbers(e, algebraic)
        if parts is not None:
            rows[i], rests[i] = parts
    changed = list(equations)
    moving = {i for i, rest in rests.items() if not derivatives.isdisjoint(occurring(rest))}
    vanishing = [pair for part in _parts(_core(rows)) for pair in _vanishing(part, moving)]
    for i, combination in vanishing:
        total: Expr = x.ZERO
        for k, factor in combination.items():
            term = rests[k] if factor == 1 else x.multiply(x.const(float(factor)), rests[k])
            total = x.add(total, term)
        left = set(occurring(total))
        if left & rates.keys() and not left & derivatives:
            e = equations[i]
            original = e.original or (e.left, e.right)
            changed[i] = FlatEquation(
                total, x.ZERO, e.where, e.component, e.kind, original=original
            )
    return changed


def _with_numbers(e: FlatEquation, algebraic: set[Variable]) -> tuple[_Row, Expr] | None:
    """Coefficients of algebraic unknowns, all plain numbers, and the rest of an equation; None if they are not."""
    inside = {v for side in (e.left, e.right) for v in occurring(side) if v in algebraic}
    if not inside:
        return None
    parts = linear_parts(x.subtract(e.left, e.right), inside)
    if parts is None:
        return None
    row: _Row = {}
    for v, coefficient in parts[0].items():
        if coefficient.op != "const":
            return None
        if coefficient.value:
            row[v] = Fraction(coefficient.value)
    return row, parts[1]


def _core(rows: dict[int, _Row]) -> dict[int, _Row]:
    """The rows that are left when those with an unknown of their own are taken out, again and again."""
    left = dict(rows)
    holders: dict[Variable, set[int]] = {}
    for i, row in rows.items():
        for v in row:
            holders.setdefault(v, set()).add(i)
    alone = [v for v, of in holders.items() if len(of) == 1]
    while alone:
        own = holders[alone.pop()]
        if not own:
            continue
        (i,) = own
        for v in left.pop(i):
            holders[v].discard(i)
            if len(holders[v]) == 1:
                alone.append(v)
    return left


def _parts(rows: dict[int, _Row]) -> list[dict[int, _Row]]:
    """Rows that share unknowns, directly or by way of others, together."""
    holders: dict[Variable, list[int]] = {}
    for i, row in rows.items():
        for v in row:
            holders.setdefault(v, []).append(i)
    parts: list[dict[int, _Row]] = []
    open_rows = dict(rows)
    while open_rows:
        part: dict[int, _Row] = {}
        stack = [next(iter(open_rows))]
        while stack:
            i = stack.pop()
            if i in open_rows:
                part[i] = open_rows.pop(i)
                stack += [k for v in part[i] for k in holders.pop(v, [])]
        parts.append(part)
    return parts


def _vanishing(rows: dict[int, _Row], moving: set[int]) -> list[tuple[int, dict[int, Fraction]]]:
    """The rows that elimination makes empty, each with the combination of given rows that does so; none where that is too
    much work.

    Those that are ``moving``, as they hold derivatives, come last: what the others say of states they would hide.
    """
    work = 0
    pivots: dict[Variable, tuple[_Row, dict[int, Fraction]]] = {}
    vanishing: list[tuple[int, dict[int, Fraction]]] = []
    for i, given in sorted(rows.items(), key=lambda item: (item[0] in moving, len(item[1]))):
        row, combination = dict(given), {i: Fraction(1)}
        while row:
            v = next((v for v in row if v in pivots), None)
            if v is None:
                pivots[next(iter(row))] = row, combination
                break
            pivot, of_pivot = pivots[v]
            work += len(pivot) + len(of_pivot)
            if work > MOST_WORK:
                return []
            factor = -row[v] / pivot[v]
            for target, source in ((row, pivot), (combination, of_pivot)):
                _add(target, source, factor)
        else:
            vanishing.append((i, combination))
    return vanishing


def _add(target: dict, source: dict, factor: Fraction) -> None:  # type: ignore[type-arg]
    for key, value in source.items():
        total = target.get(key, Fraction(0)) + factor * value
        if total:
            target[key] = total
        else:
            target.pop(key, None)
