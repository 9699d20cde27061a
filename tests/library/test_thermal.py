"""Thermal parts against closed forms, series and independent integrations."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid, solve_ivp

from movrel.errors import MovrelError
from tests.library.conftest import example, run

SIGMA = 5.670374419e-8


def test_a_body_cools_by_convection_and_radiation() -> None:
    r = example("Thermal.Cooling")
    exact = solve_ivp(
        lambda _, x: [-(12 * 0.4 * (x[0] - 293.15) + 0.9 * 0.4 * SIGMA * (x[0] ** 4 - 293.15**4)) / 2000],
        (0, 1800), [373.15], rtol=1e-10, dense_output=True,
    )  # fmt: skip
    assert r["sensor.T"] == pytest.approx(exact.sol(r.time)[0], abs=1e-3)
    gone = cumulative_trapezoid(r["meter.Q"] + r["sky.Q"], r.time, initial=0)
    assert 2000 * (373.15 - r["body.T"]) == pytest.approx(gone, rel=1e-4, abs=2.0)


def test_walls_in_parallel() -> None:
    """Three ways side by side: 1/R = 10/(0.2/0.8 + 0.1/0.04) + 2 pi l k/ln(r_b/r_a) + 1/(1/2 + 1/2)."""
    r = example("Thermal.Walls")
    wall, tube, bridge = 10 / (0.25 + 2.5), 2 * math.pi * 2 * 0.04 / math.log(2.5), 1.0
    total = wall + tube + bridge
    exact = 273.15 + 500 / total + (15 - 500 / total) * np.exp(-total * r.time / 2e5)
    assert r["room.T"] == pytest.approx(exact, abs=1e-3)
    for name, conductance in (("wall.Q", wall), ("tube.Q", tube), ("joint.Q", bridge)):
        assert r[name][-1] == pytest.approx(500 * conductance / total, rel=1e-4)


def test_a_rod_against_fouriers_series() -> None:
    r = example("Thermal.Rods")
    a = 50 / (7800 * 460)
    for cell, at in ((10, 9.5 / 40), (20, 19.5 / 40), (30, 29.5 / 40)):
        k = np.arange(1, 200)[:, None]
        decay = np.exp(-((k * math.pi / 0.2) ** 2) * a * r.time[None, :])
        series = 80 * (1 - at) - 160 / math.pi * np.sum(np.sin(k * math.pi * at) / k * decay, axis=0)
        late = r.time > 20
        assert r[f"rod.T[{cell}]"][late] == pytest.approx(293.15 + series[late], abs=0.08)
    m = math.sqrt(20 * 0.1 / (200 * 1e-4))
    assert r["fin.Q"] == pytest.approx(math.sqrt(20 * 0.1 * 200 * 1e-4) * math.tanh(m * 0.05) * 80)


def test_a_contact_that_closes_a_fan_and_losses() -> None:
    r = example("Thermal.Rods")
    bath = 330 + 10 * np.sin(2 * math.pi * 0.01 * r.time)

    def rates(t: float, x: np.ndarray) -> list[float]:
        q = 5 * (330 + 10 * math.sin(2 * math.pi * 0.01 * t) - x[0]) if t >= 50 else 0.0
        return [(q + 20 - 3 * (x[0] - 293.15)) / 100]

    exact = solve_ivp(rates, (0, 400), [293.15], rtol=1e-9, max_step=0.5, dense_output=True)
    assert r["block_.T"] == pytest.approx(exact.sol(r.time)[0], abs=0.02)
    assert r["bath.b.T"] == pytest.approx(bath)


@pytest.mark.parametrize(
    ("part", "words"),
    [("CylinderWall p(r_a=0.02, r_b=0.01)", "r_b must be above"), ("Wall p(d={0.1}, k={0})", "conductivity of each layer")],
)
def test_parts_guard_their_parameters(part: str, words: str) -> None:
    ends = "Movrel.Thermal.FixedTemperature a; Movrel.Thermal.HeatCapacity b;"
    with pytest.raises(MovrelError, match=words):
        run(f"{ends} Movrel.Thermal.{part}; equation connect(a.b, p.a); connect(p.b, b.a);", 1)
