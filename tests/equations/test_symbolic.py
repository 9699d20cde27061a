"""Expressions, derivatives, linear parts and isolation, against numbers."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from movrel.equations.derivative import time_derivative
from movrel.equations.linear import linear_parts, solve_for
from movrel.errors import Unsupported
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable, const, evaluate, show

A, B, C = (Variable(name) for name in "abc")
LEAVES = st.one_of(
    st.sampled_from([x.var(A), x.var(B), x.var(C)]),
    st.integers(-3, 3).map(lambda n: const(float(n))),
    st.floats(0.1, 3).map(const),
)


def grow(inner: st.SearchStrategy[Expr]) -> st.SearchStrategy[Expr]:
    pair = st.tuples(inner, inner)
    return st.one_of(
        *(pair.map(lambda p, f=f: f(*p)) for f in (x.add, x.subtract, x.multiply)),
        inner.map(x.negate),
        *(inner.map(lambda e, n=n: x.call(n, e)) for n in ("sin", "cos", "tanh", "atan")),
        st.tuples(inner, inner, inner).map(
            lambda t: x.conditional(x.call(">", t[0], t[1]), t[1], t[2])
        ),
    )


EXPRESSIONS = st.recursive(LEAVES, grow, max_leaves=12)
NUMBERS = st.floats(-2, 2, allow_nan=False)


def values(a: float, b: float, c: float) -> dict[int, float]:
    return {A: a, B: b, C: c}


@settings(max_examples=150, deadline=None)
@given(EXPRESSIONS, NUMBERS, NUMBERS, NUMBERS)
def test_what_is_shown_means_the_same(e: Expr, a: float, b: float, c: float) -> None:
    """The text of an expression, parsed and evaluated, gives its value: brackets are where they must be."""
    text = show(e).replace("^", "**")
    meaning = {
        "a": a,
        "b": b,
        "c": c,
        "sin": math.sin,
        "cos": math.cos,
        "tanh": math.tanh,
        "atan": math.atan,
    }
    if "if " in text:
        return  # Python writes these another way round; the next test covers them
    assert eval(text, {"__builtins__": {}}, meaning) == pytest.approx(
        evaluate(e, values(a, b, c)), rel=1e-9, abs=1e-9
    )


@settings(max_examples=150, deadline=None)
@given(EXPRESSIONS, NUMBERS, NUMBERS, NUMBERS)
def test_the_time_derivative_agrees_with_differences(e: Expr, a: float, b: float, c: float) -> None:
    rates = {A: 0.7, B: -1.3, C: 0.4}
    derivative = time_derivative(e, lambda v: const(rates[v]), None)
    step = 1e-5

    def at(expression: Expr, s: float) -> float:
        return float(evaluate(expression, values(a + 0.7 * s, b - 1.3 * s, c + 0.4 * s)))

    def moved(s: float) -> float:
        return at(e, s)

    exact = at(derivative, 0.0)

    middle, far = (
        (moved(step) - moved(-step)) / (2 * step),
        (moved(2 * step) - moved(-2 * step)) / (4 * step),
    )

    def gap(s: float) -> float:
        """Difference of the slopes on both sides: it shrinks with the distance but at a kink."""
        return abs(moved(s) - 2 * moved(0.0) + moved(-s)) / s

    assume(abs(middle - far) < 1e-4 * (1 + abs(middle)) and gap(step) < 1e-2)
    assume(gap(step) < 5e-5 or gap(2 * step) > 1.5 * gap(step))  # not at a kink
    # nor where a condition holds at this very point alone, so that another branch is taken on both sides of it
    assume(abs(at(derivative, step) - exact) < 1e-2 or abs(at(derivative, -step) - exact) < 1e-2)
    assert exact == pytest.approx(middle, rel=1e-4, abs=1e-4)


@settings(max_examples=150, deadline=None)
@given(EXPRESSIONS, NUMBERS, NUMBERS, NUMBERS, NUMBERS)
def test_linear_parts_add_up(e: Expr, a: float, b: float, c: float, other: float) -> None:
    parts = linear_parts(e, {A})
    if parts is None:
        return
    factor = parts[0].get(A, x.ZERO)
    for value in (a, other):
        at = values(a, b, c)  # conditions are held, as between events
        rebuilt = evaluate(factor, at) * value + evaluate(parts[1], at)
        direct = values(value, b, c)
        if any(node.op == "if" for node in x.walk(e)):
            direct = at
            rebuilt = evaluate(factor, at) * a + evaluate(parts[1], at)
        assert rebuilt == pytest.approx(evaluate(e, direct), rel=1e-9, abs=1e-9)


def test_one_unknown_is_isolated_without_dividing_by_it() -> None:
    k, y = x.var(B), x.var(C)
    cases = {
        "k*a = y": (x.multiply(k, x.var(A)), y, 3 / 2),
        "y = k - a": (y, x.subtract(k, x.var(A)), -1.0),
        "a + k*a = y": (x.add(x.var(A), x.multiply(k, x.var(A))), y, 1.0),
        "a/k + 1 = y": (x.add(x.divide(x.var(A), k), x.ONE), y, 4.0),
    }
    for text, (left, right, expected) in cases.items():
        solution = solve_for(left, right, A)
        assert solution is not None, text
        assert evaluate(solution, values(math.nan, 2.0, 3.0)) == pytest.approx(expected), text
    assert solve_for(x.power(x.var(A), const(2.0)), y, A) is None
    assert solve_for(x.multiply(x.var(A), x.var(A)), y, A) is None
    assert solve_for(x.divide(k, x.var(A)), y, A) is None


def test_what_has_no_derivative_is_refused() -> None:
    with pytest.raises(Unsupported, match="time derivative"):
        time_derivative(Expr("mod", (x.var(A), x.var(B))), lambda v: x.ONE, None)


def test_simplification_keeps_the_value() -> None:
    a = x.var(A)
    assert show(x.add(a, x.negate(a))) == "a - a" and show(x.multiply(const(1.0), a)) == "a"
    assert x.multiply(a, x.ZERO).is_const(0) and x.power(a, x.ZERO).is_const(1)
    assert show(x.negate(x.subtract(a, x.var(B)))) == "b - a"
    assert np.isclose(evaluate(x.call("sin", const(0.5)), {}), math.sin(0.5))
