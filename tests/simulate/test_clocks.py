"""Sampled control of a continuous plant against its exact recursion."""

from __future__ import annotations

import numpy as np
import pytest

import movrel

PLANT = """
model Loop
  block Controller
    input Real u; output Real y; parameter Real k = 2; parameter Real Ti = 0.4;
    Real i(start = 0) = previous(i) + interval(u)*u/Ti;
  equation
    y = k*(u + i);
  end Controller;
  parameter Real h = 0.1;
  Real x(start = 0, fixed = true);
  Clock c = Clock(h);
  Controller pi;
  Integer slow(start = 0);
equation
  der(x) = -x + hold(pi.y);
  pi.u = 1 - sample(x, c);
  when subSample(c, 5) then slow = previous(slow) + 1; end when;
end Loop;
"""


def exact(h: float, stop: float) -> tuple[np.ndarray, np.ndarray]:
    """Plant and controller at each tick, by the exact solution between ticks."""
    x = i = 0.0
    states, outputs = [], []
    for _ in range(round(stop / h) + 1):
        error = 1 - x
        i += h * error / 0.4
        y = 2 * (error + i)
        states.append(x)
        outputs.append(y)
        x = x * np.exp(-h) + y * (1 - np.exp(-h))
    return np.array(states), np.array(outputs)


@pytest.mark.parametrize("solver", ["bdf", "rk45", "radau", "dae"])
@pytest.mark.parametrize("h", [0.1, 0.25])
def test_a_sampled_controller_follows_its_recursion(solver: str, h: float) -> None:
    run = movrel.load(text=PLANT).simulate(stop=2, solver=solver, tolerance=1e-9, set={"h": h})
    states, outputs = exact(h, 2)
    at = np.arange(len(states)) * h
    assert np.interp(at[1:-1], run.time, run["x"]) == pytest.approx(states[1:-1], abs=1e-6)
    between = at[:-1] + h / 2
    assert np.interp(between, run.time, run["pi.y"]) == pytest.approx(outputs[:-1], rel=1e-6)
    assert run["slow"][-1] == 1 + np.floor(2 / (5 * h) + 1e-9)
