"""Delays against closed forms, with every solver."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError
from movrel.simulate.options import SOLVERS

#: Error that the method itself makes with the step of this test.
ACCURACY = {"euler": 1e-2, "implicit-euler": 1e-2, "trapezoidal": 2e-5}


def retarded(t: float) -> float:
    """y' = -y(t - 1), y = 1 before the start: polynomials from step to step."""
    return sum((-1) ** k * (t - (k - 1)) ** k / math.factorial(k) for k in range(20) if t >= k - 1)


@pytest.mark.parametrize("solver", list(SOLVERS))
def test_a_retarded_equation(solver: str) -> None:
    model = movrel.load(
        text="model M Real y(start = 1, fixed = true); equation der(y) = -delay(y, 1); end M;"
    )
    r = model.simulate(stop=4, interval=0.01, tolerance=1e-8, solver=solver)
    assert r["y"] == pytest.approx([retarded(t) for t in r.time], abs=ACCURACY.get(solver, 2e-6))


def test_a_jump_comes_out_at_its_time_on_both_sides() -> None:
    r = movrel.load(text="model M Real u = if time > 0.5 then 1 else 0; Real y = delay(u, 0.73); Real x(start = 0, fixed = true); equation der(x) = y; end M;"
                    ).simulate(stop=2, interval=0.1)  # fmt: skip
    at = np.nonzero(np.isclose(r.time, 1.23, atol=1e-10))[0]
    assert list(r["y"][at]) == [0, 1]
    assert r["x"][-1] == pytest.approx(2 - 1.23, abs=1e-9)


def test_delays_in_a_row() -> None:
    r = movrel.load(
        text="model M Real a = delay(sin(3*time), 0.2); Real b = delay(a, 0.3); end M;"
    ).simulate(stop=2, interval=0.01)
    assert r["b"] == pytest.approx(np.where(r.time < 0.5, 0, np.sin(3 * (r.time - 0.5))), abs=2e-6)


def test_a_jump_through_two_delays_keeps_its_slope() -> None:
    """A pulse with a slope through one pipe and a second one; z by quadrature of the closed form between its corners."""
    text = """model Late Real x(start=1, fixed=true); Real gust; Real y; Real far; Real z(start=0, fixed=true);
    equation der(x) = -3*delay(x, 0.3); gust = if time > 0.15 and time < 0.35 then 1 + x else 0; y = delay(gust, 0.2);
      far = delay(2*y + gust, 0.1); der(z) = far - z; end Late;"""
    found = movrel.load(text=text).simulate(stop=0.65, interval=0.05, tolerance=1e-9)

    def x(t: float) -> float:
        return 1 - 3 * t + (4.5 * (t - 0.3) ** 2 if t > 0.3 else 0)

    z = 0.0
    for begin, end in ((0.25, 0.4), (0.4, 0.45), (0.45, 0.6), (0.6, 0.65)):
        far = (lambda t: 1 + x(t - 0.1)) if end <= 0.45 else (lambda t: 2 * (1 + x(t - 0.3)))
        nodes, weights = np.polynomial.legendre.leggauss(12)
        t = begin + (end - begin) * (nodes + 1) / 2
        part = sum(w * far(s) * math.exp(s - end) for s, w in zip(t, weights, strict=True))
        z = z * math.exp(begin - end) + (end - begin) / 2 * part
        at = np.nonzero(np.isclose(found.time, end))[0][0]
        assert found["z"][at] == pytest.approx(z, abs=5e-8)


def test_delay_times_that_do_not_serve() -> None:
    for text, words in (
        ("Real y = delay(time, -1);", "Only the past is known"),
        ("Real y = delay(time, time);", "only parameters can be delay times"),
        ("parameter Real T = -2; Real y = delay(sin(time), T);", "delay time is -2"),
    ):
        with pytest.raises(MovrelError, match=words):
            movrel.load(text=f"model M {text} end M;").simulate(stop=1)
