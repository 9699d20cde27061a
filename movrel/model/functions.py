"""The built-in functions of the language (specification 3.7 and 10.3)."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Any

from movrel.errors import LookupFault, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.algorithm import call, construct
from movrel.model.evaluate import ARRAY_LIMIT, Scope, evaluate_ast, iterate, whole_number
from movrel.model.expression import Expr, const
from movrel.model.values import as_boolean, as_scalar, each_element, elementwise, flatten, shape

#: Functions of the language that are understood later in the pipeline than today.
NOT_YET = {
    "reinit", "terminate", "spatialDistribution", "cardinality", "hold", "subSample", "superSample", "shiftSample",
    "backSample", "noClock", "interval", "firstTick", "transition", "initialState",
}  # fmt: skip


def call_function(node: s.Call, scope: Scope) -> Any:
    """The value of a function call."""
    name = node.name
    where = scope.place(node)
    if node.indices:
        return _reduce(node, scope)
    builtin = _BUILTIN.get(name)
    if builtin is not None:
        low, high, function = builtin
        if node.named and name not in ("homotopy", "String"):
            raise TypeFault(f"'{name}' takes no named arguments.", where)
        arguments = [evaluate_ast(a, scope) for a in node.arguments]
        if (
            name in ABOUT_VARIABLES
            and len(arguments) == 1
            and scope.instance is not None
            and not scope.instance.is_package
        ):
            # In an algorithm a name means its present value; these ask about the variable itself.
            loose = {n: v for n, v in scope.names.items() if n not in scope.instance.declared}
            arguments += [
                evaluate_ast(a, Scope(scope.instance, scope.definition, loose))
                for a in node.arguments
            ]
            return function(arguments, scope, node)
        arguments += [evaluate_ast(n.value, scope) for n in node.named]
        if not low <= len(arguments) <= high:
            wanted = (
                str(low) if low == high else f"{low} to {high}" if high < 99 else f"at least {low}"
            )
            raise TypeFault(
                f"'{name}' takes {wanted} arguments; {len(arguments)} are given.", where
            )
        return function(arguments, scope, node)
    found = scope.instance.function(name, scope.definition) if scope.instance else None
    if found is None and name.startswith("Connections."):
        raise Unsupported(
            "overconstrained connectors cannot be computed.",
            where,
            "Use connectors without surplus variables.",
        )
    if found is None and name in NOT_YET:
        raise Unsupported(f"the function '{name}' cannot be computed yet.", where)
    if found is None:
        raise LookupFault(
            f"no function '{name}' is known here.", where, "Correct the name, or load its package."
        )
    assert scope.instance is not None
    if scope.instance.model.tree.is_kind(found, "record"):
        return construct(found, node, scope)
    if found.node.kind != "function":
        raise TypeFault(f"'{name}' is a {found.node.kind}, not a function.", where)
    outputs = call(found, node, scope)
    if not outputs:
        raise TypeFault(f"the function '{found.qualified}' has no output.", where)
    return outputs[0]


def call_outputs(node: s.Call, scope: Scope) -> list[Any]:
    """All outputs of a function call, for ``(a, b) = f(x)``."""
    found = (
        scope.instance.function(node.name, scope.definition)
        if scope.instance and node.name not in _BUILTIN
        else None
    )
    if found is None or found.node.kind != "function":
        return [call_function(node, scope)]
    return call(found, node, scope)


def _reduce(node: s.Call, scope: Scope) -> Any:
    values = flatten(iterate(node.arguments[0], node.indices, scope))
    where = scope.place(node)
    if node.name == "sum":
        return x.total([as_scalar(v, where) for v in values])
    if node.name == "product":
        return _fold(values, x.multiply, x.ONE, where)
    if node.name in ("min", "max"):
        if not values:
            raise TypeFault(f"'{node.name}' over nothing has no value.", where)
        return _fold(values[1:], lambda a, b: x.call(node.name, a, b), values[0], where)
    if node.name == "array":
        return iterate(node.arguments[0], node.indices, scope)
    raise TypeFault(
        f"'{node.name}' cannot run over a loop.", where, "sum, product, min, max and array can."
    )


def _fold(
    values: list[Any], operation: Callable[[Expr, Expr], Expr], start: Any, where: Any
) -> Expr:
    result: Expr = as_scalar(start, where)
    for value in values:
        result = operation(result, as_scalar(value, where))
    return result


Arguments = list[Any]


def _elementary(name: str) -> tuple[int, int, Callable[[Arguments, Scope, s.Call], Any]]:
    def apply(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
        where = scope.place(node)

        def one(e: Expr) -> Expr:
            if (
                e.op == "const"
                and name in ("sqrt", "log", "log10")
                and not isinstance(e.value, str)
                and e.value < 0
            ):
                raise TypeFault(f"'{name}' of the negative number {e.value}.", where)
            return x.call(name, e)

        return each_element(arguments[0], one, where)

    return 1, 1, apply


def _two(name: str) -> tuple[int, int, Callable[[Arguments, Scope, s.Call], Any]]:
    def apply(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
        return elementwise(
            arguments[0], arguments[1], lambda a, b: x.call(name, a, b), scope.place(node)
        )

    return 2, 2, apply


def _min_max(name: str) -> tuple[int, int, Callable[[Arguments, Scope, s.Call], Any]]:
    def apply(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
        values = arguments if len(arguments) == 2 else flatten(arguments[0])
        if not values:
            raise TypeFault(f"'{name}' of an empty array has no value.", scope.place(node))
        return _fold(values[1:], lambda a, b: x.call(name, a, b), values[0], scope.place(node))

    return 1, 2, apply


def _der(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    def one(e: Expr) -> Expr:
        if e.op == "const":
            return x.ZERO
        if e.op == "var" and e.variable.variability in ("parameter", "constant"):
            return x.ZERO
        return Expr("der", (e,))

    return each_element(arguments[0], one, scope.place(node))


def _size(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
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


def _filled(value: Any, sizes: list[int]) -> Any:
    if not sizes:
        return value
    return [_filled(value, sizes[1:]) for _ in range(sizes[0])]


def _fill(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return _filled(
        arguments[0],
        _checked([whole_number(a, scope, node, "the size") for a in arguments[1:]], node, scope),
    )


def _constant_fill(value: float) -> tuple[int, int, Callable[[Arguments, Scope, s.Call], Any]]:
    return 1, 99, lambda a, scope, node: _fill([const(value), *a], scope, node)


def _identity(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    n = whole_number(arguments[0], scope, node, "the size")
    _checked([n, n], node, scope)
    return [[const(1 if i == j else 0) for j in range(n)] for i in range(n)]


def _diagonal(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    values = arguments[0]
    _checked([len(values), len(values)], node, scope)
    return [[v if i == j else x.ZERO for j in range(len(values))] for i, v in enumerate(values)]


def _linspace(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    where = scope.place(node)
    first, last = as_scalar(arguments[0], where), as_scalar(arguments[1], where)
    n = whole_number(arguments[2], scope, node, "the number of points")
    _checked([n], node, scope)
    if n < 2:
        raise TypeFault("'linspace' needs at least two points.", where)
    step = x.divide(x.subtract(last, first), const(float(n - 1)))
    return [x.add(first, x.multiply(const(float(i)), step)) for i in range(n)]


def _transpose(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    if len(shape(arguments[0])) != 2:
        raise TypeFault("'transpose' needs a matrix.", scope.place(node))
    return [list(column) for column in zip(*arguments[0], strict=True)]


def _cat(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    dimension = whole_number(arguments[0], scope, node, "the dimension")

    def join(parts: list[Any], level: int) -> Any:
        if level == 1:
            return [item for part in parts for item in part]
        return [join(list(rows), level - 1) for rows in zip(*parts, strict=True)]

    return join(arguments[1:], dimension)


def _no_event(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return each_element(
        arguments[0], lambda e: e if e.op == "const" else Expr("noevent", (e,)), scope.place(node)
    )


def _smooth(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return each_element(
        arguments[1], lambda e: e if e.op == "const" else Expr("smooth", (e,)), scope.place(node)
    )


def _homotopy(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    actual, simplified = arguments
    return elementwise(
        actual,
        simplified,
        lambda a, b: a if a.op == "const" else Expr("homotopy", (a, b)),
        scope.place(node),
    )


def _whole_matrix(arguments: Arguments, scope: Scope, node: s.Call) -> list[list[Any]]:
    value = arguments[0]
    if len(shape(value)) != 2:
        raise TypeFault(f"'{node.name}' needs a matrix.", scope.place(node))
    return value


def _cross(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    a, b = arguments
    if shape(a) != [3] or shape(b) != [3]:
        raise TypeFault("'cross' needs two vectors of three.", scope.place(node))
    return [
        x.subtract(x.multiply(a[i], b[j]), x.multiply(a[j], b[i]))
        for i, j in ((1, 2), (2, 0), (0, 1))
    ]


def _skew(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    if shape(arguments[0]) != [3]:
        raise TypeFault("'skew' needs a vector of three.", scope.place(node))
    p, q, r = arguments[0]
    return [[x.ZERO, x.negate(r), q], [r, x.ZERO, x.negate(p)], [x.negate(q), p, x.ZERO]]


def _outer_product(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    _checked([len(arguments[0]), len(arguments[1])], node, scope)
    return [[x.multiply(a, b) for b in arguments[1]] for a in arguments[0]]


def _symmetric(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    rows = _whole_matrix(arguments, scope, node)
    return [[rows[min(i, j)][max(i, j)] for j in range(len(rows))] for i in range(len(rows))]


def _scalar(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    values = flatten(arguments[0])
    if len(values) != 1:
        raise TypeFault(f"'scalar' needs one element; there are {len(values)}.", scope.place(node))
    return values[0]


def _vector(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    if sum(size > 1 for size in shape(arguments[0])) > 1:
        raise TypeFault(
            f"'vector' needs one dimension larger than 1; the sizes are {shape(arguments[0])}.",
            scope.place(node),
        )
    return flatten(arguments[0])


def _matrix(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    sizes = shape(arguments[0])
    if len(sizes) == 0:
        return [[arguments[0]]]
    if len(sizes) == 1:
        return [[item] for item in arguments[0]]
    return [[_first(item) for item in row] for row in arguments[0]]


def _first(value: Any) -> Any:
    while isinstance(value, list):
        value = value[0]
    return value


def _needs_variable(name: str, e: Expr, scope: Scope, node: s.Call) -> None:
    if e.op not in ("var", "const"):
        raise TypeFault(
            f"'{name}' needs a variable; '{x.show(e)}' is an expression.",
            scope.place(node),
            "Give it a name.",
        )


#: Functions of a variable rather than of its value: they get the value now, then the variable.
ABOUT_VARIABLES = {"pre", "edge", "change"}


def _before(name: str, e: Expr, scope: Scope, node: s.Call) -> Expr:
    _needs_variable(name, e, scope, node)
    return x.previous(e)


def _pre(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return each_element(arguments[-1], lambda e: _before("pre", e, scope, node), scope.place(node))


def _edge(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    where = scope.place(node)

    def one(now: Expr, e: Expr) -> Expr:
        return x.conjunction(
            as_boolean(now, where), x.opposite(_before("edge", as_boolean(e, where), scope, node))
        )

    return elementwise(arguments[0], arguments[-1], one, where)


def _change(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return elementwise(
        arguments[0],
        arguments[-1],
        lambda now, e: x.call("<>", now, _before("change", e, scope, node)),
        scope.place(node),
    )


def _sample(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    where = scope.place(node)
    parts = tuple(as_scalar(a, where) for a in arguments)
    for part in parts:
        if any(v.variability not in ("parameter", "constant") for v in x.variables(part)):
            raise TypeFault(f"'{x.show(part)}' varies in time; 'sample' needs parameters.", where)
    if parts[1].op == "const" and parts[1].value <= 0:
        raise TypeFault(
            f"the interval of 'sample' is {parts[1].value}.", where, "Give a positive interval."
        )
    return Expr("sample", parts)


def _stream_variable(e: Expr, scope: Scope, node: s.Call) -> Any:
    if e.op != "var":
        raise TypeFault(
            f"'{node.name}' needs a stream variable; '{x.show(e)}' is none.", scope.place(node)
        )
    return e.variable


def _in_stream(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    assert scope.instance is not None
    streams, where = scope.instance.model.streams, scope.place(node)
    return each_element(
        arguments[0], lambda e: streams.in_stream(_stream_variable(e, scope, node), where), where
    )


def _actual_stream(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    assert scope.instance is not None
    streams, where = scope.instance.model.streams, scope.place(node)

    def one(e: Expr) -> Expr:
        variable = _stream_variable(e, scope, node)
        inward = x.call(">", x.var(streams.flow_of(variable, where)), x.ZERO)
        return Expr("noevent", (x.conditional(inward, streams.in_stream(variable, where), e),))

    return each_element(arguments[0], one, where)


def _semi_linear(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    where = scope.place(node)
    u, up, down = (as_scalar(a, where) for a in arguments)
    return Expr(
        "smooth", (x.conditional(x.call(">=", u, x.ZERO), x.multiply(up, u), x.multiply(down, u)),)
    )


def _delay(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    where = scope.place(node)
    duration = as_scalar(arguments[1], where)
    if any(v.variability not in ("parameter", "constant") for v in x.variables(duration)):
        raise Unsupported(
            f"the delay time '{x.show(duration)}' varies; only parameters can be delay times.",
            where,
            "Use a constant delay.",
        )
    if duration.op == "const" and duration.value < 0:
        raise TypeFault(
            f"the delay time is {duration.value}.",
            where,
            "Only the past is known; give a positive time.",
        )
    if duration.is_const(0):
        return arguments[0]
    return each_element(
        arguments[0], lambda e: e if e.op == "const" else Expr("delay", (e, duration)), where
    )


def _previous(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    def one(e: Expr) -> Expr:
        _needs_variable("previous", e, scope, node)
        return e if e.op == "const" else Expr("previous", (e,))

    return each_element(arguments[0], one, scope.place(node))


def _clock(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    """A clock with an interval in seconds, or a whole number of parts of a second."""
    where = scope.place(node)
    interval = as_scalar(arguments[0], where)
    if len(arguments) == 2:
        interval = x.divide(interval, as_scalar(arguments[1], where))
    return _sample([x.ZERO, interval], scope, node)


def _active_state(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    where = scope.place(node)
    assert scope.instance is not None
    states = scope.instance.model.machine_states
    found = states.get(id(arguments[0]))
    if found is None:
        raise TypeFault(
            f"'{getattr(arguments[0], 'path', 'this')}' is not a state of a state machine.", where
        )
    return x.var(found)


def _string(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return x.call("String", as_scalar(arguments[0], scope.place(node)))


def _ndims(arguments: Arguments, scope: Scope, node: s.Call) -> Any:
    return const(len(shape(arguments[0])))


_BUILTIN: dict[str, tuple[int, int, Callable[[Arguments, Scope, s.Call], Any]]] = {
    **{name: _elementary(name) for name in x.UNARY_FUNCTIONS},
    **{name: _two(name) for name in ("atan2", "mod", "rem", "div")},
    "min": _min_max("min"),
    "max": _min_max("max"),
    "der": (1, 1, _der),
    "sum": (
        1,
        1,
        lambda a, scope, node: x.total([as_scalar(v, scope.place(node)) for v in flatten(a[0])]),
    ),
    "product": (
        1,
        1,
        lambda a, scope, node: _fold(flatten(a[0]), x.multiply, x.ONE, scope.place(node)),
    ),
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
    "array": (1, 99, lambda a, scope, node: a),
    "noEvent": (1, 1, _no_event),
    "smooth": (2, 2, _smooth),
    "homotopy": (2, 2, _homotopy),
    "pure": (1, 1, lambda a, scope, node: a[0]),
    "pre": (1, 1, _pre),
    "delay": (2, 3, _delay),
    "semiLinear": (3, 3, _semi_linear),
    "previous": (1, 1, _previous),
    "Clock": (1, 2, _clock),
    "activeState": (1, 1, _active_state),
    "ticksInState": (0, 0, lambda a, scope, node: Expr("ticksInState")),
    "timeInState": (0, 0, lambda a, scope, node: Expr("timeInState")),
    "getInstanceName": (
        0,
        0,
        lambda a, scope, node: const(scope.instance.path if scope.instance else ""),
    ),
    "inStream": (1, 1, _in_stream),
    "actualStream": (1, 1, _actual_stream),
    "edge": (1, 1, _edge),
    "change": (1, 1, _change),
    "initial": (0, 0, lambda a, scope, node: Expr("initial")),
    "terminal": (0, 0, lambda a, scope, node: Expr("terminal")),
    "sample": (2, 2, _sample),
    "String": (1, 4, _string),
    "Integer": (1, 1, lambda a, scope, node: a[0]),
    "cross": (2, 2, _cross),
    "skew": (1, 1, _skew),
    "outerProduct": (2, 2, _outer_product),
    "symmetric": (1, 1, _symmetric),
    "scalar": (1, 1, _scalar),
    "vector": (1, 1, _vector),
    "matrix": (1, 1, _matrix),
}
