"""Short pieces that are affine in the states: exact, watched, and left alone where they are stiff or curved."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from scipy.linalg import expm

import movrel

OSCILLATOR = """model M "x'' = u - 0.4 x' - 9 x, u sampled"
  Real x(start = 1, fixed = true); Real v(start = 0, fixed = true); discrete Real u(start = 0, fixed = true);
equation
  der(x) = v; der(v) = u - 0.4*v - 9*x;
  when sample(0, 0.01) then u = 1 - pre(u); end when;
end M;"""


@pytest.mark.parametrize("tolerance", [1e-3, 1e-8])
def test_a_sampled_oscillator_is_exact_at_any_tolerance(tolerance: float) -> None:
    r = movrel.load(text=OSCILLATOR).simulate(stop=2, interval=0.0025, tolerance=tolerance)
    matrix = np.array([[0, 1, 0], [-9, -0.4, 1], [0, 0, 0]])
    found, state, u = {0.0: 1.0}, np.array([1.0, 0.0, 1.0]), 1.0
    for k in range(1, 801):
        state = expm(matrix * 0.0025) @ state
        found[k] = state[0]
        if k % 4 == 0:
            u = 1 - u
            state[2] = u
    rows = [int(np.argmin(np.abs(r.time - 0.0025 * k))) for k in range(1, 801)]
    assert r["x"][rows] == pytest.approx([found[k] for k in range(1, 801)], abs=1e-11)


def test_a_crossing_within_a_short_piece() -> None:
    r = movrel.load(text="""model M "falls and is thrown back; something else is sampled all the time"
      Real h(start = 1, fixed = true); Real v(start = 0, fixed = true); discrete Integer n(start = 0, fixed = true);
    equation
      der(h) = v; der(v) = -9.81;
      when h < 0 then reinit(v, -0.5*pre(v)); end when;
      when sample(0.001, 0.01) then n = pre(n) + 1; end when;
    end M;""").simulate(stop=1.2, interval=0.05)  # fmt: skip
    fall = math.sqrt(2 / 9.81)
    bounces = sorted({round(e.time, 9) for e in r.events if "h < 0" in e.cause})
    assert bounces == pytest.approx([fall, 2 * fall, 2.5 * fall], abs=2e-9)
    assert r["h"].min() > -1e-12


def test_a_relation_that_turns_back_within_a_piece_is_seen() -> None:
    """A fast oscillation crosses twice between two samplings."""
    r = movrel.load(text="""model M
      Real x(start = 1, fixed = true); Real v(start = 0, fixed = true); discrete Integer n(start = 0, fixed = true);
      discrete Integer k(start = 0, fixed = true);
    equation
      der(x) = v; der(v) = -(20*Modelica.Constants.pi)^2*x;
      when x < -0.9 then n = pre(n) + 1; end when;
      when sample(0, 0.1) then k = pre(k) + 1; end when;
    end M;""".replace("Modelica.Constants.pi", "3.141592653589793")).simulate(stop=10, interval=1)  # fmt: skip
    assert r["n"][-1] == 100


def test_a_stiff_piece_keeps_the_tolerance() -> None:
    r = movrel.load(text="""model M
      Real x(start = 0, fixed = true); Real y(start = 0, fixed = true); discrete Real u(start = 0, fixed = true);
    equation
      der(x) = 1e7*(u - x); der(y) = x - y;
      when sample(0, 0.1) then u = sin(10*time); end when;
    end M;""").simulate(stop=10, interval=0.1, tolerance=1e-8)  # fmt: skip
    y = 0.0
    for k in range(100):
        y = (y - math.sin(k)) * math.exp(-0.1) + math.sin(k)
    assert r["y"][-1] == pytest.approx(y, abs=1e-6)


@pytest.mark.parametrize("rate", ["u - x*abs(x)", "u - x + sin(3*time)"])
def test_what_is_not_affine_is_integrated(rate: str) -> None:
    r = movrel.load(text=f"""model M
      Real x(start = 1, fixed = true); discrete Real u(start = 0, fixed = true);
    equation
      der(x) = {rate};
      when sample(0, 0.01) then u = 1 - pre(u); end when;
    end M;""").simulate(stop=2, interval=0.1, tolerance=1e-9)  # fmt: skip
    x = np.array([1.0])
    for k in range(200):
        u = 1 - k % 2
        x = solve_ivp(
            lambda t, x, u=u: u - x * abs(x) if "abs" in rate else u - x + np.sin(3 * t), (k / 100, (k + 1) / 100), x, "DOP853",
            rtol=1e-12, atol=1e-12,
        ).y[:, -1]  # fmt: skip
    assert r["x"][-1] == pytest.approx(x[0], abs=5e-7)
