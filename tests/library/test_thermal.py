"""Thermal parts against closed forms, series and independent integrations."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid, solve_ivp
from scipy.linalg import expm

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
        series = 80 * (1 - at) - 160 / math.pi * np.sum(
            np.sin(k * math.pi * at) / k * decay, axis=0
        )
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
    [
        ("CylinderWall p(r_a=0.02, r_b=0.01)", "r_b must be above"),
        ("Wall p(d={0.1}, k={0})", "conductivity of each layer"),
    ],
)
def test_parts_guard_their_parameters(part: str, words: str) -> None:
    ends = "Movrel.Thermal.HeldTemperature a; Movrel.Thermal.HeatCapacity b;"
    with pytest.raises(MovrelError, match=words):
        run(f"{ends} Movrel.Thermal.{part}; equation connect(a.b, p.a); connect(p.b, b.a);", 1)


def test_a_slipping_clutch_warms_its_disc() -> None:
    """What slips away is J1 J2/(J1 + J2) w^2/2; then the disc cools exponentially."""
    r = example("Thermal.ClutchHeat")
    assert np.trapezoid(r["clutch.loss"], r.time) == pytest.approx(
        0.5 * 0.5 * 2 / 2.5 * 100**2, rel=1e-4
    )
    given = cumulative_trapezoid(r["clutch.loss"] - 3 * (r["disc.T"] - 293.15), r.time, initial=0)
    assert 400 * (r["disc.T"] - 293.15) == pytest.approx(given, abs=0.5)
    late = r.time > 10
    start = r["disc.T"][late][0] - 293.15
    assert r["disc.T"][late] - 293.15 == pytest.approx(
        start * np.exp(-(r.time[late] - r.time[late][0]) * 3 / 400), rel=1e-5
    )


BRIDGE = """Movrel.Electrical.BridgeLeg part(heated=true, R_on=0.05, V_f=0.7);
  Movrel.Electrical.VoltageSource source(V=24); Movrel.Electrical.Ground ground;
  Movrel.Electrical.Inductor coil(L=1e-3); Movrel.Electrical.Resistor r(R=4);
  Boolean on = mod(time*1000, 1) < 0.4;"""
BRIDGE_WIRES = """connect(source.a, part.plus); connect(source.b, part.minus); connect(source.b, ground.a);
  connect(part.mid, coil.a); connect(coil.b, r.a); connect(r.b, source.b); part.high = on; part.low = false;"""


@pytest.mark.parametrize(
    "parts, wires",
    [
        ("Movrel.Electrical.Resistor part(R=3, heated=true); Movrel.Electrical.AlternatingVoltage s(V_rms=10, f=2); Movrel.Electrical.Ground g;",
         "connect(s.a, part.a); connect(s.b, part.b); connect(s.b, g.a);"),
        ("Movrel.Electrical.Diode part(heated=true); Movrel.Electrical.Resistor r(R=3); Movrel.Electrical.AlternatingVoltage s(V_rms=10, f=2); Movrel.Electrical.Ground g;",
         "connect(s.a, part.a); connect(part.b, r.a); connect(s.b, r.b); connect(s.b, g.a);"),
        ("Movrel.Translational.Damper part(d=5, heated=true); Movrel.Translational.Mass m(m=2, v_start=3); Movrel.Translational.HeldRod f;",
         "connect(m.b, part.a); connect(part.b, f.a);"),
        ("Movrel.Rotational.Bearing part(heated=true, d=0.5, tau_dry=2); Movrel.Rotational.Inertia j(J=2, w_start=30);", "connect(j.b, part.a);"),
        ("Movrel.Electrical.Battery part(heated=true); Movrel.Electrical.Resistor r(R=0.1); Movrel.Electrical.Ground g;",
         "connect(part.a, r.a); connect(part.b, r.b); connect(part.b, g.a);"),
        (BRIDGE, BRIDGE_WIRES),
    ],
    ids=["resistor", "diode", "damper", "bearing", "battery", "bridge leg"],
)  # fmt: skip
def test_the_losses_of_a_part_arrive_at_its_heat_port(parts: str, wires: str) -> None:
    stop = 0.05 if parts is BRIDGE else 0.5  # a bridge switches a thousand times in that
    r = run(
        f"{parts} Movrel.Thermal.HeatCapacity body(C=7); equation {wires} connect(part.heat, body.a);",
        stop,
        1e-5,
        tolerance=1e-9,
    )
    lost = np.trapezoid(r["part.loss"], r.time)
    assert lost > 0.2 * stop
    assert 7 * (r["body.T"][-1] - 293.15) == pytest.approx(lost, rel=2e-4)


MOTOR = """Movrel.Electrical.VoltageSource source(V=6); Movrel.Electrical.Ground ground; Movrel.Rotational.HeldShaft locked;
  Movrel.Electrical.PermanentMagnetMotor motor(R_a=2, alpha=%g, warms=%s, heated=%s, R_wh=3, R_ha=8, t_w=30, t_h=600, T_ambient=293.15);"""
MOTOR_WIRES = """connect(source.a, motor.a); connect(source.b, motor.b); connect(source.b, ground.a); connect(motor.shaft, locked.a);"""


def test_a_stalled_motor_warms_up_by_its_thermal_data() -> None:
    """Two heat capacities in a row, heated with V^2/R; exact by the matrix exponential."""
    r = run(MOTOR % (0, "true", "false") + "equation " + MOTOR_WIRES, 3000, 10, tolerance=1e-8)
    winding, housing = 30 / 3, 600 / 8
    matrix = np.array(
        [
            [-1 / 3 / winding, 1 / 3 / winding, 18 / winding],
            [1 / 3 / housing, -(1 / 3 + 1 / 8) / housing, 0],
            [0, 0, 0],
        ]
    )
    exact = np.array([expm(matrix * t) @ [0, 0, 1] for t in r.time])
    late = r.time > 1  # the current has risen
    assert r["motor.T_w"][late] - 293.15 == pytest.approx(exact[late, 0], abs=0.01)
    assert r["motor.T_h"][late] - 293.15 == pytest.approx(exact[late, 1], abs=0.01)


def test_a_warm_motor_draws_less_and_says_when_it_is_too_hot() -> None:
    """At rest R = R_a (1 + alpha dT) and dT = 11 K/W V^2/R: a quadratic equation."""
    r = run(MOTOR % (4e-3, "true", "false") + "equation " + MOTOR_WIRES, 20000, 100)
    rise = (-1 + math.sqrt(1 + 4 * 4e-3 * 11 * 36 / 2)) / (2 * 4e-3)
    assert r["motor.T_w"][-1] - 293.15 == pytest.approx(rise, rel=1e-4)
    assert r["motor.i"][-1] == pytest.approx(6 / (2 * (1 + 4e-3 * rise)), rel=1e-4)
    hot = run(
        MOTOR.replace("V=6", "V=14") % (4e-3, "true", "false") + "equation " + MOTOR_WIRES,
        20000,
        100,
    )
    assert [m for m in hot.messages if m.startswith("motor: the winding is hotter")]


@pytest.mark.parametrize("warms", ["true", "false"])
def test_the_heat_of_a_motor_leaves_through_its_port(warms: str) -> None:
    text = (
        MOTOR % (0, warms, "true")
        + "Movrel.Thermal.HeatCapacity frame(C=500); equation "
        + MOTOR_WIRES
        + "connect(motor.heat, frame.a);"
    )
    r = run(text, 2000, 1, tolerance=1e-8)
    stored = 500 * (r["frame.T"][-1] - 293.15)
    if warms == "true":
        stored += 10 * (r["motor.T_w"][-1] - 293.15) + 75 * (r["motor.T_h"][-1] - 293.15)
    assert stored == pytest.approx(18 * 2000, rel=1e-3)


def test_a_heat_port_that_leads_nowhere_is_named() -> None:
    with pytest.raises(MovrelError, match=r"no equation determines d\.heat\.T"):
        run(
            "Movrel.Rotational.Inertia j(w_start=3); Movrel.Rotational.Damper d(heated=true); Movrel.Rotational.HeldShaft f; equation connect(j.b, d.a); connect(d.b, f.a);",
            1,
        )
