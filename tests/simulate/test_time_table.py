"""Relations on time alone are met at every change, and values beyond their limits are said."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel


def high_time(t: float, rate: float, level: float) -> tuple[float, int]:
    """How long sin(rate*s) > level held for s < t, and how often that changed."""
    rise = math.asin(level)
    corners = []
    k = 0
    while (2 * math.pi * k + rise) / rate < t:
        corners.append(((2 * math.pi * k + rise) / rate, (2 * math.pi * k + math.pi - rise) / rate))
        k += 1
    changes = sum((a < t) + (b < t) for a, b in corners)
    return sum(min(b, t) - a for a, b in corners), changes


@pytest.mark.parametrize("solver", ["bdf", "dae", "rk45", "radau", "euler"])
@pytest.mark.parametrize("level", [0.5, 0.99999])
def test_every_change_is_met_beside_a_state_that_rests(solver: str, level: float) -> None:
    text = f"""model M Real c(start = 1, fixed = true); Real x(start = 0, fixed = true); Integer n(start = 0, fixed = true);
      Boolean up = sin(100*time) > {level};
    equation der(c) = 0; der(x) = if up then 1 else 0; when change(up) then n = pre(n) + 1; end when; end M;"""
    found = movrel.load(text=text).simulate(stop=10, interval=1, solver=solver)
    length, changes = high_time(10.0, 100.0, level)
    assert found["n"][-1] == changes == len(found.events)
    assert found["x"][-1] == pytest.approx(length, abs=1e-9)


def test_a_chirp_and_a_touch_are_seen() -> None:
    # cos(t^2) changes faster and faster; 1 + cos(t) - 1e-9 is below zero for 6e-5 s about each odd multiple of pi.
    text = """model M parameter Real a = 1; Real x(start = 0, fixed = true); Integer n(start = 0, fixed = true), m(start = 0, fixed = true);
      Boolean fast = cos(a*time^2) > 0; Boolean touch = 1 + cos(time) > 1e-9;
    equation der(x) = 1; when change(fast) then n = pre(n) + 1; end when; when change(touch) then m = pre(m) + 1; end when; end M;"""
    found = movrel.load(text=text).simulate(stop=40, interval=10)
    assert found["n"][-1] == math.floor(1600 / math.pi + 0.5)
    assert found["m"][-1] == 2 * math.floor((40 / math.pi + 1) / 2)
    other = movrel.load(text=text).simulate(stop=20, interval=10, set={"a": 4})
    assert other["n"][-1] == math.floor(1600 / math.pi + 0.5)


@pytest.mark.parametrize("solver", ["bdf", "adams", "dae", "rk45", "radau"])
def test_a_swing_of_time_against_a_state_is_not_stepped_over(solver: str) -> None:
    text = """model M Real x(start = 0, fixed = true); Integer n(start = 0, fixed = true); parameter Real w = 6;
    equation der(x) = 0.5; when sin(w*time) > x then n = pre(n) + 1; end when; end M;"""
    model = movrel.load(text=text)
    t = np.linspace(0, 1.6, 300_001)
    for rate in (6, 60):
        found = model.simulate(stop=1.6, interval=0.1, solver=solver, set={"w": rate})
        above = np.sin(rate * t) > 0.5 * t
        assert found["n"][-1] == np.count_nonzero(above[1:] & ~above[:-1])


def test_values_beyond_their_limits_are_said_once() -> None:
    text = """model M parameter Real top = 0.8; Real h(start = 1, fixed = true, min = 0, unit = "m"); Real g(max = top) = -h;
      Real fine(min = 0) = 1e-12*sin(time) + 0*h; equation der(h) = -1; end M;"""
    found = movrel.load(text=text).simulate(stop=3, interval=0.5)
    assert found.messages[-2:] == [
        "'h' is -0.5 m at 1.5 s, below its min 0 m.",
        "'g' is 1 at 2 s, above its max 0.8.",
    ]
    quiet = movrel.load(text=text).simulate(stop=0.9, interval=0.1)
    assert not [m for m in quiet.messages if "below" in m or "above" in m]
