"""Functions with algorithms, against closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError
from movrel.simulate.trajectory import Trajectory

FUNCTIONS = """package P
  function poly "Horner" input Real x; input Real c[:]; output Real y;
  algorithm y := 0; for i in size(c, 1):-1:1 loop y := y*x + c[i]; end for; end poly;
  function polar input Real x, y; output Real r, phi; algorithm r := sqrt(x^2 + y^2); phi := atan2(y, x); end polar;
  function clip input Real u; input Real low = -1; input Real high = 1; output Real y;
  algorithm if u < low then y := low; elseif u > high then y := high; else y := u; end if; end clip;
  function sqrtN "Newton's square root" input Real a; output Real x; protected Real old;
  algorithm x := a; for i in 1:60 loop old := x; x := 0.5*(old + a/old); end for; end sqrtN;
  function halves input Integer n; output Integer k; protected Integer m;
  algorithm k := 0; m := n; while m > 1 loop m := div(m, 2); k := k + 1; if k >= 5 then break; end if; end while; end halves;
  function squares input Integer n; output Real v[n]; algorithm for i in 1:n loop v[i] := i^2; end for; end squares;
  function fact input Integer n; output Integer f; algorithm if n <= 1 then f := 1; else f := n*fact(n - 1); end if; end fact;
  function both input Real x; output Real s; protected Real r, phi;
  algorithm (r, phi) := polar(x, 2*x); s := r*cos(phi); end both;
  function early input Real x; output Real y; algorithm y := x; return; y := 0; end early;
"""


def run(model: str, stop: float = 1.0) -> Trajectory:
    return movrel.load(text=f"{FUNCTIONS} model M {model} end M; end P;").simulate(
        stop=stop, interval=stop / 20, tolerance=1e-9
    )


def test_loops_over_array_arguments() -> None:
    r = run("Real y = poly(time, {1, -2, 0.5, 3});")
    assert r["y"] == pytest.approx(1 - 2 * r.time + 0.5 * r.time**2 + 3 * r.time**3, rel=1e-13)


def test_several_outputs() -> None:
    r = run("Real r, phi, only; equation (r, phi) = polar(time + 1, 2); (, only) = polar(1, time);")
    assert r["r"] == pytest.approx(np.hypot(r.time + 1, 2), rel=1e-13)
    assert r["phi"] == pytest.approx(np.arctan2(2, r.time + 1), rel=1e-13)
    assert r["only"] == pytest.approx(np.arctan2(r.time, 1), abs=1e-13)


def test_defaults_named_arguments_and_branches_that_vary() -> None:
    r = run("Real a = clip(4*time - 2); Real b = clip(4*time - 2, high = 0.5);", 1)
    assert r["a"] == pytest.approx(np.clip(4 * r.time - 2, -1, 1), abs=1e-13)
    assert r["b"] == pytest.approx(np.clip(4 * r.time - 2, -1, 0.5), abs=1e-13)
    assert r.events == [], "functions cause no events"


def test_a_function_in_a_differential_equation() -> None:
    r = run("Real x(start = 2, fixed = true); equation der(x) = -clip(x);", 3)
    exact = np.where(r.time < 1, 2 - r.time, np.exp(-(r.time - 1)))
    assert r["x"] == pytest.approx(exact, abs=1e-6)


def test_iteration_while_recursion_calls_and_return() -> None:
    r = run(
        """Real x = sqrtN(2); parameter Integer k = 9; Real h = halves(k); Real h2 = halves(1000); Real f = fact(6);
        Real v[3] = squares(3); Real s = both(time); Real e = early(time);"""
    )
    assert r["x"][-1] == pytest.approx(math.sqrt(2), rel=1e-15)
    assert (r["f"][0], r["h2"][0]) == (math.factorial(6), 5)
    assert [r[f"v[{i}]"][0] for i in (1, 2, 3)] == [1, 4, 9]
    assert r["s"] == pytest.approx(r.time, abs=1e-13)
    assert np.array_equal(r["e"], r.time)


def test_calls_with_the_same_numbers_are_worked_out_once() -> None:
    """Two calls in each: written out they would be more than two million. What a call asserts is asserted each time."""
    r = run(
        """function fib input Integer n; output Integer y; algorithm
          y := if n < 2 then n else fib(n - 1) + fib(n - 2); end fib;
        function warned input Real x; output Real y; algorithm
          assert(x < 1, "too large", AssertionLevel.warning); y := x; end warned;
        function twice input Real x; output Real y; algorithm
          if x > 10 then y := warned(2); else y := 1; end if; y := y + warned(2); end twice;
        function both input Real x; output Real y[2]; algorithm y := {x, 2*x}; end both;
        function changed input Real x; output Real y; protected Real a[2]; Real b[2]; algorithm
          a := both(3); a[1] := x; b := both(3); y := 100*a[1] + 10*b[2] + b[1]; end changed;
        Real f = fib(30)*time; Real t = twice(time); Real c = changed(time);"""
    )
    assert r["c"][-1] == 163, "what is made of a result leaves the result as it is"
    assert r["f"][-1] == 832040
    assert r["t"][-1] == 3 and any("too large" in m for m in r.messages)


@pytest.mark.parametrize(
    ("model", "words"),
    [
        ("Real y = clip();", "'u' of 'clip' is missing"),
        ("Real y = clip(1, 2, 3, 4);", "takes 3 arguments"),
        ("Real y = clip(1, top = 2);", "no input 'top'"),
        ("Real y = poly(1, 2);", "0 dimensions; 1 are needed"),
        ("Real r, p, q; equation (r, p, q) = polar(1, 2);", "has 2 outputs"),

        ("Real y = unknown(1);", "no function 'unknown'"),
        ("function f input Real x; output Real y; algorithm while x >= 0 loop y := 1; end while; end f; Real y = f(time);", "needs more than 100 rounds"),
        ("function f input Real x; output Real y; algorithm while true loop y := 1; end while; end f; Real y = f(1);", "more than"),
        ("function f input Real x; output Real y; algorithm y := f(x); end f; Real y = f(1);", "nested more than"),
        ("function f input Real x; output Real y; algorithm x := 1; y := 2; end f; Real y = f(1);", "input 'x' cannot be assigned"),
        ("function f input Real x; output Real y; end f; Real y = f(1);", "never assigned"),
        ("function f input Real x; output Real y; protected Real z; algorithm y := z; end f; Real y = f(1);", "before it is assigned"),
        ("function f input Real x; output Real y; external \"C\"; end f; Real y = f(1);", "external function"),
    ],
)  # fmt: skip
def test_faults_in_calls_are_said(model: str, words: str) -> None:
    with pytest.raises(MovrelError) as fault:
        run(model)
    assert words in fault.value.sentence()
    assert fault.value.where is not None
