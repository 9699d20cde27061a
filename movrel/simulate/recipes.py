"""Columns of a result that follow from others by a short formula, so that they need not be stored.

A recipe is a list in postfix order: ``["column", 5]``, ``["number", 2.5]``, ``["time"]``, or an operator of one or two
operands, ``["-"]``. It is taken from the equation that gives the variable, in the order of its operations, and can
therefore be carried out later without the model, to the last bit.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from typing import Any, TypeAlias

import numpy as np
import numpy.typing as npt

from movrel.equations.system import System
from movrel.model.expression import TIME_VARIABLE, Expr, Variable

Array = npt.NDArray[np.float64]
Recipe: TypeAlias = list[list[Any]]

#: Operations of a recipe, and stored columns that it needs in the end, at most: curves are to be read fast.
MOST_OPERATIONS, MOST_COLUMNS = 12, 5

#: Operations that NumPy and the graph carry out alike, to the last bit (IEEE 754).
_UNARY: dict[str, Callable[[Any], Any]] = {
    "neg": np.negative, "abs": np.abs, "sqrt": np.sqrt, "square": np.square, "noevent": lambda a: a,
}  # fmt: skip
_BINARY: dict[str, Callable[[Any, Any], Any]] = {
    "+": np.add, "-": np.subtract, "*": np.multiply, "/": np.divide,
}  # fmt: skip


def recipes_of(system: System, p: Array) -> dict[int, Recipe]:
    """The recipes of those solved variables that have a short one, by the number of their column.

    ``p`` are the values of ``system.parameters``. A recipe refers to columns without one, or to columns with one that
    does so in the end.
    """
    column = {v: k for k, v in enumerate([*system.states, *system.solved])}
    number = {v: float(value) for v, value in zip(system.parameters, p, strict=True)}
    needs: dict[int, set[int]] = {}
    recipes: dict[int, Recipe] = {}
    for block in system.blocks:
        solutions = (
            [(block.unknowns[0], block.solution)] if block.kind == "explicit" else block.inner
        )
        for variable, solution in solutions:
            if variable not in column or solution is None:
                continue
            recipe = _recipe(solution, column, number)
            if recipe is None:
                continue
            needed = set().union(*(needs.get(k, {k}) for k in inputs_of(recipe)))
            if len(needed) <= MOST_COLUMNS:
                recipes[column[variable]], needs[column[variable]] = recipe, needed
    return recipes


def _recipe(
    e: Expr, column: Mapping[Variable, int], number: Mapping[Variable, float]
) -> Recipe | None:
    """An expression in postfix order; None where it is long or holds anything else than columns and numbers."""
    recipe: Recipe = []
    stack = [e]
    while stack:
        node = stack.pop()
        operands = list(node.args)
        if node.op == "const":
            recipe.append(["number", float(node.value)])
        elif node.op == "var":
            if node.variable is TIME_VARIABLE:
                recipe.append(["time"])
            elif node.variable in column:
                recipe.append(["column", column[node.variable]])
            elif node.variable in number:
                recipe.append(["number", number[node.variable]])
            else:
                return None
        elif node.op == "^" and operands[1].is_const(2):
            recipe.append(["square"])
            operands = operands[:1]
        elif node.op in _UNARY or node.op in _BINARY:
            recipe.append([node.op])
        else:
            return None
        if len(recipe) > 2 * MOST_OPERATIONS:
            return None
        stack.extend(operands)
    if not all(_plain(entry[1]) for entry in recipe if entry[0] == "number"):
        return None
    # Operators first and their right operand next: turned round, that is postfix order.
    return recipe[::-1]


def _plain(value: float) -> bool:
    """Whether a number comes back from the database as it is: neither infinite nor a negative zero."""
    return math.isfinite(value) and (value != 0 or math.copysign(1.0, value) > 0)


def inputs_of(recipe: Recipe) -> set[int]:
    """The columns to which a recipe refers."""
    return {entry[1] for entry in recipe if entry[0] == "column"}


def carried_out(recipe: Recipe, columns: Mapping[int, Array], time: Array) -> Array:
    """The column that a recipe gives from others, all of shape ``(n,)`` as is ``time``."""
    stack: list[Any] = []
    with np.errstate(all="ignore"):
        for entry in recipe:
            kind = entry[0]
            if kind == "column":
                stack.append(columns[entry[1]])
            elif kind == "number":
                stack.append(np.float64(entry[1]))
            elif kind == "time":
                stack.append(time)
            elif kind in _UNARY:
                stack.append(_UNARY[kind](stack.pop()))
            else:
                right = stack.pop()
                stack.append(_BINARY[kind](stack.pop(), right))
    return np.array(np.broadcast_to(stack.pop(), time.shape), dtype=np.float64)
