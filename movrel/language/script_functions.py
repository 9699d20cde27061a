"""What a start script may call, and how large its values may become."""

from __future__ import annotations

import ast
import math
from collections.abc import Callable
from typing import Any, TypeAlias

import numpy as np

from movrel.errors import EditFault, Place
from movrel.language.python_code import WORDS

#: Steps that a script may take, elements that a list or array may have, and calls inside each other.
MOST_STEPS, MOST_ELEMENTS, DEEPEST = 300_000, 100_000, 40
#: A number or a table of numbers; inside a script also true and false, lists and ranges.
Value: TypeAlias = Any
Located: TypeAlias = ast.stmt | ast.expr
CONSTANTS = {"pi": math.pi, "e": math.e, "inf": math.inf, "True": True, "False": False}
_UFUNCS = [
    "sin", "cos", "tan", "arcsin", "arccos", "arctan", "arctan2", "sinh", "cosh", "tanh", "exp", "log", "log10", "log2",
    "sqrt", "floor", "ceil", "sign", "hypot", "radians", "degrees", "square", "minimum", "maximum",
]  # fmt: skip
_ARRAYS = [
    "sum",
    "mean",
    "cumsum",
    "cumprod",
    "diff",
    "interp",
    "dot",
    "cross",
    "prod",
    "std",
    "var",
    "trapezoid",
    "concatenate",
]
SIZED = ["linspace", "arange", "zeros", "ones", "full", "eye"]
_SAME = {"asin": "arcsin", "acos": "arccos", "atan": "arctan", "atan2": "arctan2"}
_PLAIN: dict[str, Callable[..., Any]] = {
    "abs": abs, "min": min, "max": max, "len": len, "round": round, "float": float, "int": int, "bool": bool,
    "enumerate": lambda *a: list(enumerate(*a)), "zip": lambda *a: list(zip(*a, strict=False)), "sorted": sorted,
    "list": list, "reversed": lambda a: list(reversed(a)), "array": lambda a: np.array(a, dtype=float), "print": lambda *_: None,
    "any": any, "all": all,
}  # fmt: skip
#: What a script may call.
FUNCTIONS: dict[str, Callable[..., Any]] = {
    **{name: getattr(np, name) for name in (*_UFUNCS, *_ARRAYS, *SIZED)},
    **{name: getattr(np, known) for name, known in _SAME.items()},
    **_PLAIN,
}


def sized(
    node: ast.expr, name: str, arguments: tuple[Value, ...], named: dict[str, Value]
) -> Value:
    """A range, or an array of a given size, that is not too large."""
    if name == "range":
        counted = range(*arguments)
        check_size(node, len(counted))
        return list(counted)
    if name == "arange":
        first, last, step = (0, arguments[0], 1) if len(arguments) == 1 else (*arguments, 1)[:3]
        check_size(node, (last - first) / step if step else math.inf)
    elif name == "linspace":
        check_size(node, float(named.get("num") or (arguments[2] if len(arguments) > 2 else 50)))
    else:
        check_size(
            node,
            float(np.prod(np.asarray(arguments[0], dtype=float)))
            * (1 if name != "eye" else arguments[0]),
        )
    return FUNCTIONS[name](*arguments, **named)


def power(base: Value, exponent: Value) -> Value:
    """A power in floating point, as soon as whole numbers would become long."""
    if isinstance(base, int) and isinstance(exponent, int) and exponent >= 0:
        size = exponent * math.log2(abs(base)) if base else 0.0
        return base**exponent if size < 53 else float(base) ** exponent
    if isinstance(base, list) or isinstance(exponent, list):
        raise TypeError("a list has no powers; make it an array with array(…)")
    return np.asarray(base, dtype=float) ** exponent if np.ndim(base) else float(base) ** exponent


def check_size(node: Located, size: float) -> None:
    if not size <= MOST_ELEMENTS:
        raise refusal(node.lineno, f"that would be more than {MOST_ELEMENTS} elements.")


def check_list(node: Located, value: list[Value], depth: int = 1) -> int:
    """The number of elements of a list and of those inside it. Raises where they are too many, or too deep."""
    if depth > 3:
        raise refusal(
            node.lineno, "lists stand more than three deep.", "Use tables of rows and columns."
        )
    count = len(value)
    for item in value:
        if isinstance(item, list):
            count += check_list(node, item, depth + 1)
        check_size(node, count)
    return count


def unallowed(node: ast.AST, words: str = "") -> EditFault:
    what = words or WORDS.get(type(node).__name__, f"'{type(node).__name__}'")
    return refusal(getattr(node, "lineno", 1), f"{what} is not allowed here.")


def refusal(line: int, message: str, hint: str = "") -> EditFault:
    return EditFault(
        f"line {line} of the start script: {message}", Place("start script", line, 1), hint
    )
