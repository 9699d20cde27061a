"""The built-in functions that make and take apart arrays (specification 10.3)."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import TypeAlias

from movrel.errors import TypeFault
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.environment import Scope, Value
from movrel.model.expression import Expr, const
from movrel.model.lookup import whole_number
from movrel.model.values import ARRAY_LIMIT, as_array, as_scalar, flatten, shape

Arguments: TypeAlias = list[Value]
#: Fewest and most arguments, and what works out the value.
Builtin: TypeAlias = tuple[int, int, Callable[[Arguments, Scope, s.Call], Value]]


def _size(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    sizes = shape(arguments[0])
    if len(arguments) == 1:
        return [const(n) for n in sizes]
    dimension = whole_number(arguments[1], scope, node, "the dimension")
    if not 1 <= dimension <= len(sizes):
        raise TypeFault(
            f"there is no dimension {dimension}; the array has {len(sizes)}.", scope.place(node)
        )
    return const(sizes[dimension - 1])


def _checked(sizes: list[int], node: s.Call, scope: Scope) -> list[int]:
    if math.prod(max(size, 0) for size in sizes) > ARRAY_LIMIT:
        raise TypeFault(
            f"'{node.name}' would make {math.prod(sizes)} elements; at most {ARRAY_LIMIT} are allowed.",
            scope.place(node),
        )
    return sizes


def _filled(value: Value, sizes: list[int]) -> Value:
    if not sizes:
        return value
    return [_filled(value, sizes[1:]) for _ in range(sizes[0])]


def _fill(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return _filled(
        arguments[0],
        _checked([whole_number(a, scope, node, "the size") for a in arguments[1:]], node, scope),
    )


def _constant_fill(value: float) -> Builtin:
    return 1, 99, lambda a, scope, node: _fill([const(value), *a], scope, node)


def _identity(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    n = whole_number(arguments[0], scope, node, "the size")
    _checked([n, n], node, scope)
    return [[const(1 if i == j else 0) for j in range(n)] for i in range(n)]


def _diagonal(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    values = as_array(arguments[0], scope.place(node))
    _checked([len(values), len(values)], node, scope)
    return [[v if i == j else x.ZERO for j in range(len(values))] for i, v in enumerate(values)]


def _linspace(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    where = scope.place(node)
    first, last = as_scalar(arguments[0], where), as_scalar(arguments[1], where)
    n = whole_number(arguments[2], scope, node, "the number of points")
    _checked([n], node, scope)
    if n < 2:
        raise TypeFault("'linspace' needs at least two points.", where)
    step = x.divide(x.subtract(last, first), const(float(n - 1)))
    return [x.add(first, x.multiply(const(float(i)), step)) for i in range(n)]


def _transpose(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return [list(column) for column in zip(*_whole_matrix(arguments, scope, node), strict=True)]


def _cat(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    dimension, where = whole_number(arguments[0], scope, node, "the dimension"), scope.place(node)

    def join(parts: list[Value], level: int) -> Value:
        arrays = [as_array(part, where) for part in parts]
        if level == 1:
            return [item for array in arrays for item in array]
        if any(len(array) != len(arrays[0]) for array in arrays):
            raise TypeFault("the arrays that 'cat' joins have different sizes.", where)
        return [join(list(rows), level - 1) for rows in zip(*arrays, strict=True)]

    return join(arguments[1:], dimension)


def _whole_matrix(arguments: Arguments, scope: Scope, node: s.Call) -> list[list[Value]]:
    where = scope.place(node)
    if len(shape(arguments[0])) != 2:
        raise TypeFault(f"'{node.name}' needs a matrix.", where)
    return [as_array(row, where) for row in as_array(arguments[0], where)]


def _scalars(value: Value, scope: Scope, node: s.Call) -> list[Expr]:
    """The elements of a vector, each a single value."""
    where = scope.place(node)
    return [as_scalar(item, where) for item in as_array(value, where)]


def _cross(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    a, b = (_scalars(v, scope, node) for v in arguments)
    if len(a) != 3 or len(b) != 3:
        raise TypeFault("'cross' needs two vectors of three.", scope.place(node))
    return [
        x.subtract(x.multiply(a[i], b[j]), x.multiply(a[j], b[i]))
        for i, j in ((1, 2), (2, 0), (0, 1))
    ]


def _skew(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    vector = _scalars(arguments[0], scope, node)
    if len(vector) != 3:
        raise TypeFault("'skew' needs a vector of three.", scope.place(node))
    p, q, r = vector
    return [[x.ZERO, x.negate(r), q], [r, x.ZERO, x.negate(p)], [x.negate(q), p, x.ZERO]]


def _outer_product(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    first, second = (_scalars(v, scope, node) for v in arguments)
    _checked([len(first), len(second)], node, scope)
    return [[x.multiply(a, b) for b in second] for a in first]


def _symmetric(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    rows = _whole_matrix(arguments, scope, node)
    return [[rows[min(i, j)][max(i, j)] for j in range(len(rows))] for i in range(len(rows))]


def _scalar(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    values = flatten(arguments[0])
    if len(values) != 1:
        raise TypeFault(f"'scalar' needs one element; there are {len(values)}.", scope.place(node))
    return values[0]


def _vector(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    if sum(size > 1 for size in shape(arguments[0])) > 1:
        raise TypeFault(
            f"'vector' needs one dimension larger than 1; the sizes are {shape(arguments[0])}.",
            scope.place(node),
        )
    return flatten(arguments[0])


def _matrix(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    value, where = arguments[0], scope.place(node)
    if not isinstance(value, list):
        return [[value]]
    if len(shape(value)) == 1:
        return [[item] for item in value]
    return [[_first(item) for item in as_array(row, where)] for row in value]


def _first(value: Value) -> Value:
    while isinstance(value, list):
        value = value[0]
    return value


def _ndims(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return const(len(shape(arguments[0])))


#: By name.
ARRAY_FUNCTIONS: dict[str, Builtin] = {
    "size": (1, 2, _size),
    "ndims": (1, 1, _ndims),
    "fill": (2, 99, _fill),
    "zeros": _constant_fill(0.0),
    "ones": _constant_fill(1.0),
    "identity": (1, 1, _identity),
    "diagonal": (1, 1, _diagonal),
    "linspace": (3, 3, _linspace),
    "transpose": (1, 1, _transpose),
    "cat": (2, 99, _cat),
    "cross": (2, 2, _cross),
    "skew": (1, 1, _skew),
    "outerProduct": (2, 2, _outer_product),
    "symmetric": (1, 1, _symmetric),
    "scalar": (1, 1, _scalar),
    "vector": (1, 1, _vector),
    "matrix": (1, 1, _matrix),
}
