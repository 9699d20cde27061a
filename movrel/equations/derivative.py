"""Total time derivatives of expressions."""

from __future__ import annotations

from collections.abc import Callable

from movrel.errors import Place, Unsupported
from movrel.model import expression as x
from movrel.model.expression import TIME_VARIABLE, Expr, Variable
from movrel.model.traits import DER

_TWO = x.const(2.0)

#: d f(u) / du for the elementary functions.
_OUTER: dict[str, Callable[[Expr], Expr]] = {
    "sqrt": lambda u: x.divide(x.const(0.5), x.call("sqrt", u)),
    "exp": lambda u: x.call("exp", u),
    "log": lambda u: x.divide(x.ONE, u),
    "log10": lambda u: x.divide(x.const(0.4342944819032518), u),
    "sin": lambda u: x.call("cos", u),
    "cos": lambda u: x.negate(x.call("sin", u)),
    "tan": lambda u: x.add(x.ONE, x.power(x.call("tan", u), _TWO)),
    "asin": lambda u: x.divide(x.ONE, x.call("sqrt", x.subtract(x.ONE, x.power(u, _TWO)))),
    "acos": lambda u: x.divide(x.const(-1.0), x.call("sqrt", x.subtract(x.ONE, x.power(u, _TWO)))),
    "atan": lambda u: x.divide(x.ONE, x.add(x.ONE, x.power(u, _TWO))),
    "sinh": lambda u: x.call("cosh", u),
    "cosh": lambda u: x.call("sinh", u),
    "tanh": lambda u: x.subtract(x.ONE, x.power(x.call("tanh", u), _TWO)),
    "abs": lambda u: x.conditional(x.call(">=", u, x.ZERO), x.ONE, x.const(-1.0)),
}


def time_derivative(e: Expr, rate: Callable[[Variable], Expr], where: Place | None) -> Expr:
    """d e/dt by the chain rule; ``rate`` gives the derivative of a time-varying variable.

    Piecewise functions are differentiated branch by branch. Raises :class:`Unsupported` for an
    operator that has no derivative.
    """
    done: dict[x.Expr, Expr] = {}
    for node in x.post_order(e):
        done[node] = _one_derivative(node, lambda u: done[u], rate, where)
    return done[e]


def _one_derivative(
    e: Expr, d: Callable[[Expr], Expr], rate: Callable[[Variable], Expr], where: Place | None
) -> Expr:
    """The derivative of one node, those of its operands being known."""
    op, a = e.op, e.args
    if op in x.RELATIONS or op in ("and", "or", "not", "initial", "terminal", "sample", "fires"):
        return x.ZERO
    if op == "const":
        return x.ZERO
    if op == "unit":
        raise Unsupported(
            "what a unit gives would have to be differentiated, as something rigid hangs on it.", where,
            "Put a part with storage between them: a spring, a capacity, an inertia.",
        )  # fmt: skip
    if op == "var":
        if e.variable is TIME_VARIABLE:
            return x.ONE
        if e.variable.variability in ("parameter", "constant", "discrete"):
            return x.ZERO
        return rate(e.variable)
    if op in ("+", "-"):
        return (x.add if op == "+" else x.subtract)(d(a[0]), d(a[1]))
    if op == "neg":
        return x.negate(d(a[0]))
    if op == "*":
        return x.add(x.multiply(d(a[0]), a[1]), x.multiply(a[0], d(a[1])))
    if op == "/":
        top = x.divide(d(a[0]), a[1])
        below = d(a[1])
        return top if below.is_const(0) else x.subtract(top, x.divide(x.multiply(e, below), a[1]))
    if op == "^":
        return _power(e, d)
    if op == "if":
        return x.conditional(a[0], d(a[1]), d(a[2]))
    if op in ("noevent", "smooth"):
        inner = d(a[0])
        return inner if inner.op == "const" else Expr("noevent", (inner,))
    if op in ("min", "max"):
        relation = x.call("<" if op == "min" else ">", a[0], a[1])
        return x.conditional(relation, d(a[0]), d(a[1]))
    if op == "atan2":
        square = x.add(x.power(a[0], _TWO), x.power(a[1], _TWO))
        return x.divide(x.subtract(x.multiply(d(a[0]), a[1]), x.multiply(a[0], d(a[1]))), square)
    if op in ("sign", "floor", "ceil", "integer", "div"):
        return x.ZERO
    if op in _OUTER:
        inner = d(a[0])
        return x.ZERO if inner.is_const(0) else x.multiply(_OUTER[op](a[0]), inner)
    raise Unsupported(f"the time derivative of '{x.show(e)}' cannot be formed.", where)


def _power(e: Expr, d: Callable[[Expr], Expr]) -> Expr:
    base, exponent = e.args
    base_rate, exponent_rate = d(base), d(exponent)
    result = x.multiply(x.multiply(exponent, x.power(base, x.subtract(exponent, x.ONE))), base_rate)
    if not exponent_rate.is_const(0):
        result = x.add(result, x.multiply(x.multiply(e, x.call("log", base)), exponent_rate))
    return result


def expand_derivatives(e: Expr, rate: Callable[[Variable], Expr], where: Place | None) -> Expr:
    """Replace every ``der(expression)`` by derivatives of single variables."""
    if not e.traits & DER:
        return e
    return x.transform(
        e, lambda node: time_derivative(node.args[0], rate, where) if node.op == "der" else None
    )
