"""Units through equations: what agrees is quiet, what does not is shown with both sides and the line."""

from __future__ import annotations

import pytest

import movrel

QUIET = [
    'Real F(unit = "N") = m*a; parameter Real m(unit = "kg") = 2; parameter Real a(unit = "m/s2") = 3;',
    'Real w(unit = "rad/s") = sqrt(k/m); parameter Real m(unit = "kg") = 2; parameter Real k(unit = "N/m") = 3;',
    'Real E(unit = "J") = 0.5*m*v^2; parameter Real m(unit = "kg") = 2; parameter Real v(unit = "m/s") = 3;',
    'Real K(unit = "K") = T + 273.15; parameter Real T(unit = "degC") = 20;',
    'parameter Real tau(unit = "s") = 2; Real x(unit = "m", start = 1, fixed = true); equation tau*der(x) + x = 0;',
    'Real y = sin(w*time); parameter Real w(unit = "rad/s") = 2;',
    'Real Q(unit = "W") = G*(T - 280); parameter Real G = 3; parameter Real T(unit = "K") = 300;',
    'Real p(unit = "Pa") = max(q, 0); parameter Real q(unit = "Pa") = 3; Boolean high = p > 2;',
]
LOUD = [
    ("Real F(unit = \"N\") = m*v; parameter Real m(unit = \"kg\") = 2; parameter Real v(unit = \"m/s\") = 3;",
     ["1:9", "'F' is a force (N)", "'m*v' is a quantity in kg.m.s-1"]),
    ("Real q(unit = \"Pa\") = p; parameter Real p(unit = \"bar\") = 1;", ["a pressure (Pa)", "a pressure (bar)"]),
    ("Real y = sin(x); parameter Real x(unit = \"m\") = 1;", ["sin needs a plain number", "a length (m)"]),
    ("Boolean b = x > t; parameter Real x(unit = \"m\") = 1; parameter Real t(unit = \"s\") = 1;", ["a length (m)", "a time (s)"]),
    ("Real y = if time > 1 then x else t; parameter Real x(unit = \"m\") = 1; parameter Real t(unit = \"s\") = 1;", ["a length", "a time"]),
    ("Real x(unit = \"furlong\") = 1;", ["'furlong' is not a known unit"]),
    ("parameter Real a(unit = \"m/s2\") = 1; Real x(unit = \"m\", start = 0, fixed = true); equation der(x) = a;",
     ["a velocity", "an acceleration (m/s2)"]),
    ("Real T(unit = \"K\") = t; parameter Real t(unit = \"degC\") = 1;", ["a temperature (K)", "a temperature (degC)"]),
]  # fmt: skip


@pytest.mark.parametrize("text", QUIET)
def test_what_agrees_is_quiet(text: str) -> None:
    assert movrel.load(text=f"model M {text} end M;").warnings == []


@pytest.mark.parametrize(("text", "words"), LOUD)
def test_what_does_not_agree_is_said(text: str, words: list[str]) -> None:
    model = movrel.load(text=f"model M {text} end M;")
    warnings = " ".join(model.warnings)
    assert len(model.warnings) == 1 and all(word in warnings for word in words)
    model.simulate(stop=1)  # a warning does not keep it from running


def test_units_are_inferred_through_several_equations() -> None:
    """b has no unit; it is a force because a is, and then c, a length, does not fit."""
    model = movrel.load(
        text="""model M parameter Real a(unit = "N") = 1; Real b; Real c(unit = "m"); Real d(start = 0, fixed = true);
        equation b = 2*a; der(d) = b; c = d; end M;"""
    )
    assert len(model.warnings) == 1 and "'c' is a length (m)" in model.warnings[0]
