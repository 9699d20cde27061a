"""Damaged and generated models: whatever comes in, the answer is a model or a sentence, and soon."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import movrel
from movrel.errors import MovrelError

CONFORMANCE = Path(__file__).parents[1] / "conformance"
TEXTS = [
    part.partition("\n")[2]
    for path in sorted(CONFORMANCE.glob("*.mo"))
    for part in path.read_text(encoding="utf-8").split("//#")[1:]
]
TOKEN = re.compile(r"\s+|\w+|\"[^\"]*\"|.", re.DOTALL)
SPARE = [
    "der", "pre", "(", ")", "[", "]", "{", "}", ";", ",", "=", ":=", ":", "1", "0", "1e400", "-1", "x", "M", "end", "equation", "when", "then",
    "if", "for", "in", "loop", "true", "Real", "parameter", "time", ".", "^", "/", "connect", "extends", "each", "\"", "'",
]  # fmt: skip
QUICK = settings(
    max_examples=250,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much],
)


def answered(text: str) -> None:
    """Load, sort and, if that works, run for a moment; only sentences may come out as errors."""
    try:
        model = movrel.load(text=text)
        model.ordered  # noqa: B018 sorting is what is tried
        assert isinstance(model.warnings, list)
        if len(model.flat.variables) < 200:
            model.simulate(stop=0.01, interval=0.01)
    except MovrelError as fault:
        assert fault.message


@QUICK
@given(st.sampled_from(TEXTS), st.data())
def test_damaged_models(text: str, data: st.DataObject) -> None:
    tokens = TOKEN.findall(text)
    for _ in range(data.draw(st.integers(1, 3))):
        at = data.draw(st.integers(0, len(tokens) - 1))
        what = data.draw(st.sampled_from(["drop", "double", "swap", "put", "replace"]))
        if what == "drop":
            del tokens[at]
        elif what == "double":
            tokens.insert(at, tokens[at])
        elif what == "swap":
            other = data.draw(st.integers(0, len(tokens) - 1))
            tokens[at], tokens[other] = tokens[other], tokens[at]
        else:
            word = data.draw(st.sampled_from(SPARE))
            if what == "put":
                tokens.insert(at, f" {word} ")
            else:
                tokens[at] = f" {word} "
    answered("".join(tokens))


@QUICK
@given(
    st.sampled_from(TEXTS), st.sampled_from(TEXTS), st.integers(0, 10_000), st.integers(0, 10_000)
)
def test_spliced_models(one: str, other: str, cut: int, join: int) -> None:
    answered(one[: cut % (len(one) + 1)] + other[join % (len(other) + 1) :])


NAMES = st.sampled_from(["a", "b", "c", "p", "x", "y", "M", "A"])
ATOMS = st.one_of(
    st.integers(-3, 5).map(str), st.floats(-10, 10, allow_nan=False).map(lambda v: f"({v})"), NAMES,
    st.sampled_from(["time", "true", "false", "1e300", "1e-300", "{1, 2}", "[1, 2; 3, 4]", "1:3", "a.x", "b[2]", "\"text\""]),
)  # fmt: skip
EXPRESSIONS = st.recursive(
    ATOMS,
    lambda inner: st.one_of(
        st.tuples(inner, st.sampled_from(["+", "-", "*", "/", "^", ".*", "<", ">=", "==", " and ", " or "]), inner).map("".join),
        st.tuples(st.sampled_from(["sin", "sqrt", "log", "der", "pre", "sum", "size", "abs", "noEvent", "edge", "integer", "max", "fill",
                                   "transpose", "initial", "sample", "delay", "inStream", "previous", "ones"]), inner).map(lambda p: f"{p[0]}({p[1]})"),
        st.tuples(st.sampled_from(["mod", "min", "atan2", "div", "cross", "sample", "delay", "fill", "linspace"]), inner, inner).map(
            lambda p: f"{p[0]}({p[1]}, {p[2]})"),
        st.tuples(inner, inner, inner).map(lambda p: f"(if {p[0]} then {p[1]} else {p[2]})"),
        st.tuples(inner, NAMES, inner).map(lambda p: f"sum({p[0]} for {p[1]} in {p[2]})"),
        inner.map(lambda e: f"{{{e}, {e}}}"),
        inner.map(lambda e: f"b[{e}]"),
    ),
    max_leaves=10,
)  # fmt: skip
DECLARATIONS = st.one_of(
    st.tuples(st.sampled_from(["Real", "Integer", "Boolean", "parameter Real", "discrete Real", "parameter Integer", "A"]), NAMES, EXPRESSIONS).map(
        lambda p: f"{p[0]} {p[1]} = {p[2]};"),
    st.tuples(st.sampled_from(["Real", "Boolean"]), NAMES, EXPRESSIONS).map(lambda p: f"{p[0]} {p[1]}(start = {p[2]}, fixed = true);"),
    st.tuples(NAMES, EXPRESSIONS).map(lambda p: f"Real {p[0]}[{p[1]}];"),
    st.tuples(NAMES, NAMES, EXPRESSIONS).map(lambda p: f"A {p[0]}({p[1]} = {p[2]});"),
)  # fmt: skip
EQUATIONS = st.one_of(
    st.tuples(EXPRESSIONS, EXPRESSIONS).map(lambda p: f"{p[0]} = {p[1]};"),
    st.tuples(NAMES, EXPRESSIONS).map(lambda p: f"der({p[0]}) = {p[1]};"),
    st.tuples(EXPRESSIONS, NAMES, EXPRESSIONS).map(
        lambda p: f"when {p[0]} then {p[1]} = {p[2]}; end when;"
    ),
    st.tuples(EXPRESSIONS, NAMES, EXPRESSIONS).map(
        lambda p: f"when {p[0]} then reinit({p[1]}, {p[2]}); end when;"
    ),
    st.tuples(EXPRESSIONS, NAMES, EXPRESSIONS, EXPRESSIONS).map(
        lambda p: f"if {p[0]} then {p[1]} = {p[2]}; else {p[1]} = {p[3]}; end if;"
    ),
    st.tuples(NAMES, EXPRESSIONS, EXPRESSIONS).map(
        lambda p: f"for {p[0]} in {p[1]} loop b[{p[0]}] = {p[2]}; end for;"
    ),
    st.tuples(NAMES, NAMES).map(lambda p: f"connect({p[0]}, {p[1]});"),
)


@QUICK
@given(
    st.lists(DECLARATIONS, min_size=1, max_size=5),
    st.lists(EQUATIONS, max_size=4),
    st.lists(DECLARATIONS, max_size=2),
)
def test_generated_models(declarations: list[str], equations: list[str], others: list[str]) -> None:
    inner = f"model A {' '.join(others)} end A;"
    answered(
        f"package P {inner} model M {' '.join(declarations)} equation {' '.join(equations)} end M; end P;"
    )


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (f"model M Real x = {'(' * 3000}1{')' * 3000}; end M;", "nested"),
        (f"model M Real x = {'-' * 3000}1; end M;", ""),
        ("model M Real x = " + "+".join(["time"] * 20_000) + "; end M;", ""),
        ("model M Real x[2000000] = ones(2000000); end M;", "elements"),
        ("model M Real x = sum(i for i in 1:100000000); end M;", "at most"),
        ("model M parameter Integer n = 10000000; Real x = sum(fill(1, n)); end M;", "at most"),
        ("model A A a; end A;", "nested more than"),
        ("package P model A extends B; end A; model B extends A; end B; model M A a; end M; end P;", "extends itself"),
        ("model M function f input Real x; output Real y; algorithm y := f(x + 1); end f; Real y = f(1); end M;", "nested more than"),
        ("model M function f input Real x; output Real y; algorithm y := x; for i in 1:1000000 loop y := y + i; end for; end f;"
         " Real y = f(time); end M;", "statements"),
        ("model M function f input Integer n; input Real a[1]; output Real y; algorithm "
         "y := if n < 2 then a[1] else f(n - 1, a) + f(n - 2, a); end f; Real y = f(40, {time}); end M;", "statements"),
        ("model M parameter Integer n = n + 1; Real x[n]; end M;", "itself"),
        ("model M Real x[size(x, 1)]; end M;", "itself"),
        ("package P " + "".join(f"package Q{i} " for i in range(200)) + "model M Real x = 1; end M;"
         + "".join(f" end Q{i};" for i in reversed(range(200))) + " end P;", ""),
    ],
)  # fmt: skip
def test_limits_have_their_own_sentences(text: str, words: str) -> None:
    """Either it works, or the sentence says which limit was met."""
    if not words:
        answered(text)
        return
    with pytest.raises(MovrelError) as fault:
        movrel.load(text=text).simulate(stop=1)
    assert words in fault.value.sentence()
