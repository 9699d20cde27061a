"""The library's examples of fluid power and vehicles against hand calculations."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import solve_ivp

from movrel.simulate.trajectory import Trajectory
from tests.library.conftest import example

#: Gas constant of air in J/(kg.K), and its density at 1 bar and 20 °C.
R_S, RHO_0 = 287.06, 1.188
AMBIENT = 101325.0


def at(r: Trajectory, name: str, t: float) -> float:
    return float(np.interp(t, r.time, r[name]))


def circle(d: float) -> float:
    return math.pi * d**2 / 4


def test_what_a_pump_delivers_goes_through_consumer_and_relief_valve() -> None:
    r = example("Hydraulics.PowerPack")
    consumed = 12 / 60000 * math.sqrt(at(r, "consumer.dp", 10) / 50e5)
    assert at(r, "consumer.q", 10) == pytest.approx(consumed, rel=1e-3)
    assert at(r, "pump.q", 10) == pytest.approx(consumed + at(r, "relief.q", 10), rel=1e-4)
    assert at(r, "pump.q", 10) == pytest.approx(16e-6 / (2 * math.pi) * 150, rel=0.05)


def test_flows_through_resistances_of_every_kind() -> None:
    r = example("Hydraulics.FlowCurves")
    rho, nu = 873 * (1 - 7e-4 * 25), 46e-6
    for t, sign in ((0.5, 1), (1.5, -1)):
        turbulent = 0.62 * circle(2e-3) * math.sqrt(2 * 60e5 / rho)
        assert at(r, "orifice.q", t) == pytest.approx(sign * turbulent, rel=0.02)
        laminar = math.pi * 1.5e-3**4 * 60e5 / (128 * rho * nu * 0.5)
        assert at(r, "capillary.q", t) == pytest.approx(sign * laminar, rel=1e-3)
    assert at(r, "meter.q", 0.5) == pytest.approx(6 / 60000, rel=1e-3)


def test_a_spring_returns_what_a_valve_lets_go() -> None:
    r = example("Hydraulics.SpringReturn")
    rising = (at(r, "cylinder.s", 1.2) - at(r, "cylinder.s", 0.8)) / 0.4
    assert rising == pytest.approx(3 / 60000 / circle(0.03), rel=0.01)
    assert at(r, "cylinder.s", 2.4) == pytest.approx(0.1, abs=1e-4)
    assert at(r, "cylinder.s", 5) == pytest.approx(0, abs=1e-4)


def test_a_counterbalance_valve_lowers_a_load_as_fast_as_oil_comes() -> None:
    r = example("Hydraulics.LoadHolding")
    lowering = (at(r, "load.s", 5.5) - at(r, "load.s", 6.0)) / 0.5
    ring = circle(0.05) - circle(0.028)
    q = 10 / 60000 * math.sqrt((150e5 - at(r, "cylinder.p_b", 5.8)) / 5e5)
    assert lowering == pytest.approx(q / ring, rel=0.03)
    # While nothing is switched, the weight of 8 kN stays where it is.
    assert at(r, "load.s", 4.9) == pytest.approx(at(r, "load.s", 4.0), abs=2e-4)


def test_a_clamp_presses_with_the_reduced_pressure() -> None:
    r = example("Hydraulics.Clamp")
    assert at(r, "manifold.p", 2.4) == pytest.approx(45e5, rel=0.01)
    pressed = at(r, "cylinder.p_a", 2.4) * circle(0.04)
    assert -at(r, "workpiece.f", 2.4) == pytest.approx(pressed, abs=1.5 * 60 + 1)
    assert at(r, "cylinder.s", 6) == pytest.approx(0, abs=1e-4)


def test_a_servo_axis_reaches_its_place_within_the_lap() -> None:
    r = example("Hydraulics.ServoAxis")
    assert abs(at(r, "slide.s", 4) - 0.3) < 2e-3
    assert at(r, "cylinder.p_a", 4) == pytest.approx(70e5, rel=0.02)


def test_a_hydrostatic_drive_turns_as_the_volumes_say() -> None:
    r = example("Hydraulics.HydrostaticDrive")
    assert at(r, "pump.q", 6) == pytest.approx(at(r, "motor.q", 6) + at(r, "fan.q", 6), rel=2e-3)
    ideal = 28e-6 * 150
    taken = 45e-6 * at(r, "load.w", 6) + 0.5 * 10e-6 * at(r, "blades.w", 6)
    assert 0.88 * ideal < taken < ideal
    torque = 45e-6 / (2 * math.pi) * (at(r, "high.p", 6) - at(r, "low.p", 6))
    assert 0.85 * torque < 0.8 * at(r, "load.w", 6) < torque


def test_brakes_of_two_circuits() -> None:
    r = example("Hydraulics.DiscBrake")
    p = at(r, "front.port.p", 1.0)
    torque = 2 * 0.38 * (p - 0.5e5) * circle(0.054) * 0.11
    assert at(r, "front.tau", 1.0) == pytest.approx(torque, rel=1e-3)
    slowing = (at(r, "front_wheel.w", 0.9) - at(r, "front_wheel.w", 1.0)) / 0.1
    assert slowing == pytest.approx(torque / 2, rel=0.01)
    assert at(r, "rear_wheel.w", 3) == pytest.approx(0, abs=1e-6)


def test_air_is_neither_lost_nor_made_in_a_receiver() -> None:
    r = example("Pneumatics.Receiver")
    before = AMBIENT * 5e-3 / (R_S * 293.15)
    left = r["receiver.p"][-1] * 5e-3 / (R_S * r["receiver.T"][-1])
    gone = r["outside.vented"][-1] + r["outside_2.vented"][-1]
    assert left + gone == pytest.approx(before + 0.08, rel=1e-3)
    assert at(r, "receiver.p", 7.9) < 9.2e5


def test_an_axis_moves_as_its_exhaust_is_throttled() -> None:
    r = example("Pneumatics.HandlingAxis")
    # The choked flow of the throttle alone; valve and silencer behind it hardly count.
    speed = 0.2 * 1e-8 * RHO_0 * R_S * math.sqrt(293.15 * 290) / circle(0.04)
    moved = (at(r, "slide.s", 3.8) - at(r, "slide.s", 4.4)) / 0.6
    assert moved == pytest.approx(speed, rel=0.1)
    assert at(r, "slide.s", 2.4) == pytest.approx(0.3, abs=1e-3)
    quiet = at(r, "cylinder.chamber_a.p", 2.4)
    assert quiet == pytest.approx(7e5, rel=0.01)


def test_pneumatic_drives_end_where_they_are_asked_to() -> None:
    r = example("Pneumatics.PositionedCylinder")
    assert at(r, "slide.s", 6) == pytest.approx(0.2, abs=1e-3)
    r = example("Pneumatics.HoldingPress")
    assert at(r, "ram.s", 2.4) == pytest.approx(0.05, abs=5e-4)
    assert at(r, "ram.s", 6) == pytest.approx(0, abs=1e-4)
    r = example("Pneumatics.SuctionGripper")
    assert 2e4 < at(r, "cup.p", 2.4) < 2.1e4
    assert at(r, "cup.p", 6) == pytest.approx(AMBIENT, rel=1e-3)


def test_a_diaphragm_stands_where_spring_and_pressure_agree() -> None:
    r = example("Pneumatics.ControlValve")
    for t in (12.0, 20.0):
        s = ((at(r, "actuator.a.p", t) - AMBIENT) * 200e-4 - 400) / 5e4
        assert at(r, "actuator.s", t) == pytest.approx(s, abs=3e-4)


def test_a_driven_chamber_keeps_its_air() -> None:
    r = example("Pneumatics.BellowsOfAPump")
    moved = r["room.vented"] + r["outside.vented"]
    held = r["receiver.p"] * 1e-3 / (R_S * r["receiver.T"])
    assert np.ptp(moved + held + r["bellows.m_gas"]) < 2e-3 * np.max(held)
    assert r["receiver.p"][-1] > 1.25 * AMBIENT


def test_air_motors_turn_where_their_torque_meets_the_load() -> None:
    r = example("Pneumatics.AirMotors")
    stall, free = r["by_map.tau_stall"][-1], r["by_map.w_free"][-1]
    assert at(r, "drum_2.w", 3) == pytest.approx(stall / (0.02 + stall / free), rel=0.01)
    assert at(r, "drum.w", 3) == pytest.approx(at(r, "drum.w", 2.8), rel=2e-3)


def test_a_servo_boosts_the_force_of_a_foot() -> None:
    r = example("Pneumatics.BrakeServo")
    assert -at(r, "master.f", 3) == pytest.approx(5 * 200, rel=0.05)


def test_an_actuated_clutch_slips_until_speeds_are_equal() -> None:
    def rates(t: float, w: np.ndarray) -> list[float]:
        torque = 200 * min(max((t - 0.6) / 0.3, 0), 1)
        return [-torque, (torque - 0.2 * w[1]) / 0.5]

    def apart(t: float, w: np.ndarray) -> float:
        return float(w[0] - w[1])

    apart.terminal = True  # type: ignore[attr-defined]
    slip = solve_ivp(rates, (0.6, 2), [100, 0], events=apart, rtol=1e-10, atol=1e-10)
    r = example("Vehicles.EngagedClutch")
    locked = next(e.time for e in r.events if e.time > 0.7)
    assert locked == pytest.approx(slip.t[-1], rel=1e-4)
    # Together they slow down until the clutch lets go, as 1.5 kg.m2 at 0.2 N.m.s/rad do.
    expected = slip.y[0, -1] * math.exp(-0.2 / 1.5 * (2.4 - slip.t[-1]))
    assert at(r, "load.w", 2.4) == pytest.approx(expected, rel=1e-4)
    assert at(r, "flywheel.w", 2.4) == pytest.approx(expected, rel=1e-4)


def test_a_car_follows_its_cycle() -> None:
    r = example("Vehicles.CarOnACycle")
    assert np.abs(r["car.v"] - r["cycle.v"]).max() < 1.2
    assert {1, 2, 3} <= set(r["schedule.gear"].astype(int))
    # The load on the axles is the weight.
    assert r["car.load_front"] + r["car.load_rear"] == pytest.approx(1300 * 9.80665, rel=1e-4)


def test_tables_lengths_means_and_comparisons() -> None:
    r = example("Signals.LookUps")
    assert r["map.y"] == pytest.approx(r.time + 1, abs=1e-6)
    assert r["length.y"] == pytest.approx(1, abs=1e-9)
    assert at(r, "power.y", 4) == pytest.approx(0.5, abs=1e-3)
    assert at(r, "curve.y", 2) == pytest.approx(4)


def test_a_converter_steps_down_by_its_duty() -> None:
    r = example("Electrical.StepDown")
    late = r.time > 0.003
    mean = np.trapezoid(r["buffer.v"][late], r.time[late]) / np.ptp(r.time[late])
    assert mean == pytest.approx(0.25 * 48, rel=0.02)


def test_a_cold_battery_by_its_maps() -> None:
    r = example("Electrical.ColdBattery")
    assert r["battery.soc"] == pytest.approx(0.9 - 3 * r.time / 7200, abs=1e-6)
    resistance = 8e-3 + (7e-3 - 8e-3) * (0.9 - 0.2) / 0.8
    assert r["battery.v"][0] == pytest.approx(14 * (3.98 - 3 * resistance), rel=1e-6)
    # What heats it is in its heat capacity or has left it.
    heated = np.trapezoid(r["battery.loss"] - r["battery.Q_out"], r.time)
    assert 14 * 80 * np.ptp(r["battery.T"]) == pytest.approx(heated, rel=5e-3)
