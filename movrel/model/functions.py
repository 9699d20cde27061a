"""The built-in functions of the language (specification 3.7 and 10.3)."""

from __future__ import annotations

from collections.abc import Callable

from movrel.errors import LookupFault, Place, TypeFault, Unsupported
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.algorithm import call, construct
from movrel.model.array_functions import ARRAY_FUNCTIONS, Arguments, Builtin
from movrel.model.classes import Definition
from movrel.model.clock_calls import CONVERSIONS, clock_functions, is_clock, sampled
from movrel.model.environment import Environment, FunctionValue, Model, Scope, Value
from movrel.model.evaluate import evaluate_ast, iterate
from movrel.model.expression import Expr, Variable, const
from movrel.model.operators import Operators, operator_record
from movrel.model.values import (
    as_boolean,
    as_scalar,
    each_element,
    elementwise,
    flatten,
)

#: Functions of the language that are understood later in the pipeline than today.
NOT_YET = {
    "reinit", "terminate", "spatialDistribution", "cardinality", "transition", "initialState",
}  # fmt: skip
#: Functions whose arguments may be given by name.
TAKE_NAMES = {"homotopy", "String", "sample", "Clock", *CONVERSIONS}


def call_function(node: s.Call, scope: Scope) -> Value:
    """The value of a function call."""
    name = node.name
    where = scope.place(node)
    if node.indices:
        return _reduce(node, scope)
    builtin = _BUILTIN.get(name)
    if name in MAY_BE_OWN and scope.instance.function(name, scope.definition) is not None:
        builtin = None  # a function of that name may be older than clocks
    if builtin is not None:
        low, high, function = builtin
        if node.named and name not in TAKE_NAMES:
            raise TypeFault(f"'{name}' takes no named arguments.", where)
        arguments = [evaluate_ast(a, scope) for a in node.arguments]
        if name in ABOUT_VARIABLES and len(arguments) == 1 and not scope.instance.is_package:
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
    passed = scope.names.get(name)
    if isinstance(passed, FunctionValue):
        return _first(call(passed, node, scope), passed.definition, where)
    definition = scope.instance.function(name, scope.definition)
    if definition is None and name.startswith("Connections."):
        raise Unsupported(
            "overconstrained connectors cannot be computed.",
            where,
            "Use connectors without surplus variables.",
        )
    if definition is None and name in NOT_YET:
        raise Unsupported(f"the function '{name}' cannot be computed yet.", where)
    if definition is None:
        raise LookupFault(
            f"no function '{name}' is known here.", where, "Correct the name, or load its package."
        )
    if scope.model.tree.is_kind(definition, "record"):
        operators = Operators(scope.model, where)
        made = operators.construct(definition, node, lambda a: evaluate_ast(a, scope))
        return construct(definition, node, scope) if made is None else made
    if definition.node.kind != "function":
        raise TypeFault(f"'{name}' is a {definition.node.kind}, not a function.", where)
    return _first(call(FunctionValue(definition, {}), node, scope), definition, where)


def _first(outputs: list[Value], definition: Definition, where: Place) -> Value:
    if not outputs:
        raise TypeFault(f"the function '{definition.qualified}' has no output.", where)
    return outputs[0]


def call_outputs(node: s.Call, scope: Scope) -> list[Value]:
    """All outputs of a function call, for ``(a, b) = f(x)``."""
    passed = scope.names.get(node.name)
    if isinstance(passed, FunctionValue):
        return call(passed, node, scope)
    function = (
        scope.instance.function(node.name, scope.definition)
        if scope.instance and node.name not in _BUILTIN
        else None
    )
    if function is None or function.node.kind != "function":
        return [call_function(node, scope)]
    return call(FunctionValue(function, {}), node, scope)


def _reduce(node: s.Call, scope: Scope) -> Value:
    values = flatten(iterate(node.arguments[0], node.indices, scope))
    where = scope.place(node)
    if node.name == "sum":
        return _total(values, scope, node)
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


def operator(name: str, operands: list[Value], model: Model, where: Place) -> Value | None:
    """What an operator gives for operator records and arrays of such; None for other operands."""
    if all(operator_record(v, model.tree) is None for v in operands):
        return None
    return Operators(model, where).apply(name, operands)


def _total(values: list[Value], scope: Scope, node: s.Call) -> Value:
    where = scope.place(node)
    if values and operator_record(values[0], scope.model.tree) is not None:
        return Operators(scope.model, where).total(values)
    return x.total([as_scalar(v, where) for v in values])


def _fold(
    values: list[Value], operation: Callable[[Expr, Expr], Expr], start: Value, where: Place
) -> Expr:
    result: Expr = as_scalar(start, where)
    for value in values:
        result = operation(result, as_scalar(value, where))
    return result


def _elementary(name: str) -> Builtin:
    def apply(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
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


def _two(name: str) -> Builtin:
    def apply(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
        return elementwise(
            arguments[0], arguments[1], lambda a, b: x.call(name, a, b), scope.place(node)
        )

    return 2, 2, apply


def _min_max(name: str) -> Builtin:
    def apply(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
        values = arguments if len(arguments) == 2 else flatten(arguments[0])
        if not values:
            raise TypeFault(f"'{name}' of an empty array has no value.", scope.place(node))
        return _fold(values[1:], lambda a, b: x.call(name, a, b), values[0], scope.place(node))

    return 1, 2, apply


def _der(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    def one(e: Expr) -> Expr:
        if e.op == "const":
            return x.ZERO
        if e.op == "var" and e.variable.variability in ("parameter", "constant"):
            return x.ZERO
        return Expr("der", (e,))

    return each_element(arguments[0], one, scope.place(node))


def _no_event(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return each_element(
        arguments[0], lambda e: e if e.op == "const" else Expr("noevent", (e,)), scope.place(node)
    )


def _smooth(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return each_element(
        arguments[1], lambda e: e if e.op == "const" else Expr("smooth", (e,)), scope.place(node)
    )


def _homotopy(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    actual, simplified = arguments
    return elementwise(
        actual,
        simplified,
        lambda a, b: a if a.op == "const" else Expr("homotopy", (a, b)),
        scope.place(node),
    )


def _needs_variable(name: str, e: Expr, scope: Scope, node: s.Call) -> None:
    if e.op not in ("var", "const"):
        raise TypeFault(
            f"'{name}' needs a variable; '{x.show(e)}' is an expression.",
            scope.place(node),
            "Give it a name.",
        )


#: Functions of a variable rather than of its value: they get the value now, then the variable.
ABOUT_VARIABLES = {"pre", "edge", "change", "previous"}


def _before(name: str, e: Expr, scope: Scope, node: s.Call) -> Expr:
    _needs_variable(name, e, scope, node)
    return x.previous(e)


def _pre(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return each_element(arguments[-1], lambda e: _before("pre", e, scope, node), scope.place(node))


def _edge(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    where = scope.place(node)

    def one(now: Expr, e: Expr) -> Expr:
        return x.conjunction(
            as_boolean(now, where), x.opposite(_before("edge", as_boolean(e, where), scope, node))
        )

    return elementwise(arguments[0], arguments[-1], one, where)


def _change(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return elementwise(
        arguments[0],
        arguments[-1],
        lambda now, e: x.call("<>", now, _before("change", e, scope, node)),
        scope.place(node),
    )


def _sample(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    if len(arguments) == 1 or is_clock(arguments[1]):
        return sampled(arguments, scope, node)
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


def _stream_variable(e: Expr, scope: Scope, node: s.Call) -> Variable:
    if e.op != "var":
        raise TypeFault(
            f"'{node.name}' needs a stream variable; '{x.show(e)}' is not one.", scope.place(node)
        )
    return e.variable


def _in_stream(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    streams, where = scope.model.streams, scope.place(node)
    return each_element(
        arguments[0], lambda e: streams.in_stream(_stream_variable(e, scope, node), where), where
    )


def _actual_stream(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    streams, where = scope.model.streams, scope.place(node)

    def one(e: Expr) -> Expr:
        variable = _stream_variable(e, scope, node)
        inward = x.call(">", x.var(streams.flow_of(variable, where)), x.ZERO)
        return Expr("noevent", (x.conditional(inward, streams.in_stream(variable, where), e),))

    return each_element(arguments[0], one, where)


def _semi_linear(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    where = scope.place(node)
    u, up, down = (as_scalar(a, where) for a in arguments)
    return Expr(
        "smooth", (x.conditional(x.call(">=", u, x.ZERO), x.multiply(up, u), x.multiply(down, u)),)
    )


def _delay(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
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


def _active_state(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    where = scope.place(node)
    states, state = scope.model.machine_states, arguments[0]
    active = states.get(state) if isinstance(state, Environment) else None
    if active is None:
        raise TypeFault(
            f"'{state.path if isinstance(state, Environment) else 'this'}' is not a state of a state machine.",
            where,
        )
    return x.var(active)


def _string(arguments: Arguments, scope: Scope, node: s.Call) -> Value:
    return x.call("String", as_scalar(arguments[0], scope.place(node)))


CLOCK_FUNCTIONS = clock_functions(_needs_variable)
MAY_BE_OWN = set(CLOCK_FUNCTIONS) - {"Clock"}

_BUILTIN: dict[str, Builtin] = {
    **ARRAY_FUNCTIONS,
    **{name: _elementary(name) for name in x.UNARY_FUNCTIONS},
    **{name: _two(name) for name in ("atan2", "mod", "rem", "div")},
    "min": _min_max("min"),
    "max": _min_max("max"),
    "der": (1, 1, _der),
    "sum": (1, 1, lambda a, scope, node: _total(flatten(a[0]), scope, node)),
    "product": (
        1,
        1,
        lambda a, scope, node: _fold(flatten(a[0]), x.multiply, x.ONE, scope.place(node)),
    ),
    "array": (1, 99, lambda a, scope, node: a),
    "noEvent": (1, 1, _no_event),
    "smooth": (2, 2, _smooth),
    "homotopy": (2, 2, _homotopy),
    "pure": (1, 1, lambda a, scope, node: a[0]),
    "pre": (1, 1, _pre),
    "delay": (2, 3, _delay),
    "semiLinear": (3, 3, _semi_linear),
    **CLOCK_FUNCTIONS,
    "activeState": (1, 1, _active_state),
    "ticksInState": (0, 0, lambda a, scope, node: Expr("ticksInState")),
    "timeInState": (0, 0, lambda a, scope, node: Expr("timeInState")),
    "getInstanceName": (
        0,
        0,
        lambda a, scope, node: const(scope.instance.path),
    ),
    "inStream": (1, 1, _in_stream),
    "actualStream": (1, 1, _actual_stream),
    "edge": (1, 1, _edge),
    "change": (1, 1, _change),
    "initial": (0, 0, lambda a, scope, node: Expr("initial")),
    "terminal": (0, 0, lambda a, scope, node: Expr("terminal")),
    "sample": (1, 2, _sample),
    "String": (1, 4, _string),
    "Integer": (1, 1, lambda a, scope, node: a[0]),
}
