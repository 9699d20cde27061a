"""Solving one equation for one unknown, and recognising linear dependence."""

from __future__ import annotations

from collections import Counter

from movrel.equations.occurrence import is_held, occurring
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable


def contains(e: Expr, unknowns: set[Variable]) -> bool:
    """Whether any of the variables (by identity) occurs, held relations included."""
    return any(node.op == "var" and node.value in unknowns for node in x.walk(e))


def depends(e: Expr, unknowns: set[Variable]) -> bool:
    """Whether the value depends on any of the variables while held relations stay as they are."""
    return any(v in unknowns for v in occurring(e))


def linear_parts(e: Expr, unknowns: set[Variable]) -> tuple[dict[Variable, Expr], Expr] | None:
    """``e`` as ``sum(coefficient * unknown) + rest``, or None when it is not linear.

    The coefficients are free of the unknowns but for relations that are held between events.
    """
    free: dict[Expr, bool] = {}
    parts: dict[Expr, Parts | None] = {}
    nodes = list(x.post_order(e))
    # The coefficients of a sum that stands in one place become those of the longer sum around it.
    uses = Counter(a for node in nodes for a in node.args)
    for node in nodes:
        is_unknown = node.op == "var" and node.value in unknowns
        if node.op == "delay":
            free[node] = True  # the past is known
        elif node.op in ("noevent", "smooth"):
            free[node] = not contains(node, unknowns)
        else:
            # The outcome of a held relation is known, whatever it compares.
            free[node] = not is_unknown and (all(free[a] for a in node.args) or is_held(node))
        if free[node]:
            parts[node] = ({}, node)
        else:
            parts[node] = (
                ({node.value: x.ONE}, x.ZERO)
                if is_unknown
                else _one_node(node, free, parts, uses, unknowns)
            )
    return parts[e]


Parts = tuple[dict[Variable, Expr], Expr]


def _one_node(
    e: Expr,
    free: dict[Expr, bool],
    parts: dict[Expr, Parts | None],
    uses: Counter[Expr],
    unknowns: set[Variable],
) -> Parts | None:
    """The linear parts of a node that holds an unknown, those of its operands being known."""
    op, a = e.op, e.args
    if op in ("+", "-"):
        left, right = parts[a[0]], parts[a[1]]
        if left is None or right is None:
            return None
        combine = x.add if op == "+" else x.subtract
        coefficients = left[0] if uses[a[0]] == 1 and left[0] else dict(left[0])
        for key, value in right[0].items():
            coefficients[key] = combine(coefficients.get(key, x.ZERO), value)
        return coefficients, combine(left[1], right[1])
    if op == "neg":
        inner = parts[a[0]]
        return (
            None
            if inner is None
            else ({k: x.negate(v) for k, v in inner[0].items()}, x.negate(inner[1]))
        )
    if op in ("noevent", "smooth"):
        inner = parts[a[0]]
        # Its relations are not held, so what decides must be known, too.
        if inner is None or any(
            contains(part, unknowns) for part in (*inner[0].values(), inner[1])
        ):
            return None
        return {k: _wrapped(op, v) for k, v in inner[0].items()}, _wrapped(op, inner[1])
    if op == "*":
        for factor, other in ((a[0], a[1]), (a[1], a[0])):
            if free[factor]:
                inner = parts[other]
                if inner is None:
                    return None
                return {k: x.multiply(factor, v) for k, v in inner[0].items()}, x.multiply(
                    factor, inner[1]
                )
        return None
    if op == "/" and free[a[1]]:
        inner = parts[a[0]]
        if inner is None:
            return None
        return {k: x.divide(v, a[1]) for k, v in inner[0].items()}, x.divide(inner[1], a[1])
    if op == "if" and free[a[0]]:
        then, otherwise = parts[a[1]], parts[a[2]]
        if then is None or otherwise is None:
            return None
        keys = dict.fromkeys([*then[0], *otherwise[0]])
        coefficients = {
            k: x.conditional(a[0], then[0].get(k, x.ZERO), otherwise[0].get(k, x.ZERO))
            for k in keys
        }
        return coefficients, x.conditional(a[0], then[1], otherwise[1])
    return None


def _wrapped(op: str, e: Expr) -> Expr:
    return e if e.op == "const" else Expr(op, (e,))


def solve_for(left: Expr, right: Expr, unknown: Variable) -> Expr | None:
    """The value of ``unknown`` from ``left = right``, or None when it cannot be isolated.

    Only steps that lose no solution and divide by no unknown are taken.
    """
    key = {unknown}
    if left.op == "var" and left.value is unknown and not depends(right, key):
        return right
    if right.op == "var" and right.value is unknown and not depends(left, key):
        return left
    if not depends(right, key):
        isolated = _isolate(left, right, unknown, key)
    elif not depends(left, key):
        isolated = _isolate(right, left, unknown, key)
    else:
        isolated = None
    if isolated is not None:
        return isolated
    parts = linear_parts(x.subtract(left, right), key)
    if parts is None or parts[0][unknown].is_const(0):
        return None
    return x.divide(x.negate(parts[1]), parts[0][unknown])


def _isolate(side: Expr, other: Expr, unknown: Variable, key: set[Variable]) -> Expr | None:
    """Peel operators off the side in which the unknown occurs, as long as it occurs in one operand."""
    while not (side.op == "var" and side.value is unknown):
        op, a = side.op, side.args
        inside = [i for i, operand in enumerate(a) if depends(operand, key)]
        if len(inside) != 1:
            return None
        i = inside[0]
        if op == "neg":
            other = x.negate(other)
        elif op == "+":
            other = x.subtract(other, a[1 - i])
        elif op == "-":
            other = x.add(other, a[1]) if i == 0 else x.subtract(a[0], other)
        elif op == "*":
            other = x.divide(other, a[1 - i])
        elif op == "/" and i == 0:
            other = x.multiply(other, a[1])
        elif op == "not":
            other = x.opposite(other)
        else:
            return None
        side = a[i]
    return other
