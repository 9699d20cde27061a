"""Vehicle parts against statics, the laws that they state, and energy."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.library.conftest import run

V = "Movrel.Vehicles"
R = "Movrel.Rotational"
G = 9.80665


def test_a_torque_converter_multiplies_at_stall_and_couples_near_the_speed_of_its_pump() -> None:
    def at(pump: float, turbine: float) -> tuple[float, float, float]:
        r = run(
            f"{V}.TorqueConverter c; {R}.DrivenSpeed a; {R}.DrivenSpeed b; equation a.w = {pump}; b.w = {turbine}; connect(a.b, c.a); connect(c.b, b.b);", 1
        )  # fmt: skip
        return float(r["c.tau_a"][-1]), float(r["c.tau_b"][-1]), float(r["c.loss"][-1])

    tau_a, tau_b, loss = at(200, 0)
    assert (tau_a, tau_b) == pytest.approx((0.004 * 200**2, 2 * 0.004 * 200**2), rel=1e-5)
    assert loss == pytest.approx(tau_a * 200)
    tau_a, tau_b, loss = at(200, 180)
    assert (tau_a, tau_b) == pytest.approx((0.45 * 160, 0.45 * 160), rel=1e-5)
    assert loss == pytest.approx(0.1 * tau_a * 200)
    assert at(200, 200)[:2] == pytest.approx((0, 0))
    tau_a, tau_b, loss = at(180, 200)
    assert tau_a == tau_b == pytest.approx(-0.45 * 160, rel=1e-5) and loss > 0


def test_an_engine_idles_by_itself_and_gives_its_map_under_load() -> None:
    r = run(
        f"{V}.Engine e(w_start=60); {R}.DrivenTorque load; equation e.throttle = 0; load.tau = if time < 5 then 0 else -15; connect(load.b, e.b);", 15, 0.01
    )  # fmt: skip
    assert r["e.w"][np.argmin(np.abs(r.time - 4.9))] == pytest.approx(84, rel=2e-3)
    assert r["e.w"][-1] == pytest.approx(84, rel=2e-3) and r["e.w"].min() > 55
    driven = run(
        f"{V}.Engine e; {R}.DrivenSpeed d; equation e.throttle = 1; d.w = 315; connect(d.b, e.b);",
        2,
    )
    assert driven["e.tau"][-1] == pytest.approx(230)
    power = (230 + 40) * 315
    assert driven["e.fuel"][-1] == pytest.approx(power / (0.4 * 42.8e6), rel=1e-6)


def test_a_gearbox_turns_torque_by_its_ratio_and_shifts_without_a_jump() -> None:
    r = run(
        f"{V}.Gearbox g(ratios={{4, 2, 1}}); {R}.Inertia a(J=0.2); {R}.Inertia b(J=10); {R}.DrivenTorque t; {R}.DrivenTorque load;"
        " equation g.gear = if time < 3 then 1 elseif time < 6 then 2 else 0; t.tau = 50; load.tau = -100; connect(t.b, a.a); connect(a.b, g.a);"
        " connect(g.b, b.a); connect(load.b, b.b);", 7, 0.001,
    )  # fmt: skip
    first, second = (r.time > 1) & (r.time < 2.9), (r.time > 5) & (r.time < 5.9)
    for held, i in ((first, 4), (second, 2)):
        rise = np.polyfit(r.time[held], r["b.w"][held], 1)[0]
        assert rise == pytest.approx((i * 50 - 100) / (10 + i**2 * 0.2), rel=0.01, abs=0.02)
        assert np.abs(r["g.w_slip"][held]).max() < 0.1
    assert np.abs(np.diff(r["b.w"])).max() < 0.1
    free = r.time > 6.5
    assert np.polyfit(r.time[free], r["a.w"][free], 1)[0] == pytest.approx(50 / 0.2, rel=0.01)
    # What the drive gives is in both flywheels, in the load and in the heat of the clutch.
    work = np.trapezoid(50 * r["a.w"] - 100 * r["b.w"], r.time)
    kept = 0.1 * r["a.w"][-1] ** 2 + 5 * r["b.w"][-1] ** 2
    assert work == pytest.approx(kept + np.trapezoid(r["g.loss"], r.time), rel=0.01)


def test_a_controller_goes_through_any_number_of_gears_and_an_actuator_fills_first() -> None:
    r = run(
        f"{V}.ShiftSchedule c(up={{3, 6}}, down={{2, 5}}, t_wait=0); equation c.v = 8*sin(0.5*time);",
        6.2,
        0.01,
    )
    shifts = [(round(float(t), 1), int(g)) for t, g, d in zip(r.time[1:], r["c.gear"][1:], np.diff(r["c.gear"]), strict=True) if d]  # fmt: skip
    expected = [2 * math.asin(3 / 8), 2 * math.asin(6 / 8), 2 * (math.pi - math.asin(5 / 8)), 2 * (math.pi - math.asin(2 / 8))]  # fmt: skip
    assert [g for _, g in shifts] == [2, 3, 2, 1]
    assert [t for t, _ in shifts] == pytest.approx(expected, abs=0.11)
    a = run(f"{V}.EngagementActuator a; equation a.on = time > 0.1 and time < 1;", 1.2, 0.001)
    at = [float(a["a.y"][np.argmin(np.abs(a.time - t))]) for t in (0.17, 0.255, 0.4, 1.1)]
    assert at == pytest.approx([0, 0.5, 1, 0], abs=0.02)


TYRE = (
    f"{V}.Tyre t; {V}.Vehicle car(v_start={{v}}); {R}.Inertia hub(J=1, w_start={{w}}); {R}.DrivenTorque m;"
    " equation t.load = car.load_rear; car.grade = {grade}; car.wind = 0; m.tau = {tau}; connect(m.b, hub.a); connect(hub.b, t.a);"
    " connect(t.b, car.rear);"
)


def test_tyre_and_vehicle_follow_the_slip_curve_and_the_moments_about_the_axles() -> None:
    r = run(TYRE.format(v=10, w=10 / 0.35, grade=0, tau=800), 3, 0.01)
    settled = r.time > 0.5
    slip, load = r["t.slip"][settled], r["t.load"][settled]
    assert r["t.F"][settled] == pytest.approx(
        load * 0.9 * np.sin(1.6 * np.arctan(10 * slip)), rel=1e-3
    )
    assert slip == pytest.approx(((0.35 * r["t.w"] - r["t.v"]) / r["t.v"])[settled], rel=0.05)
    late = r.time > 2
    assert r["car.load_rear"][late] == pytest.approx(
        1500 * (G * 1.2 + r["car.acc"][late] * 0.55) / 2.6, rel=1e-3
    )
    total = r["car.load_rear"] + r["car.load_front"]
    assert total == pytest.approx(np.full(len(total), 1500 * G))
    work = np.trapezoid(800 * r["hub.w"], r.time)
    kinetic = 750 * r["car.v"] ** 2 + 0.5 * r["hub.w"] ** 2
    lost = np.trapezoid(r["t.loss"] + r["car.f_air"] * r["car.v"], r.time)
    assert work == pytest.approx(kinetic[-1] - kinetic[0] + lost, rel=5e-3)


def test_a_parked_vehicle_stays_where_it_is_on_a_slope() -> None:
    held = TYRE.format(v=0, w=0, grade=0.1, tau=0).replace(
        f"{R}.DrivenTorque m;", f"{R}.Brake m(tau_max=3000);"
    ).replace("m.tau = 0", "m.u = 1").replace("connect(m.b", "connect(m.a")  # fmt: skip
    r = run(held, 20, 0.05)
    assert abs(r["car.v"][-1]) < 1e-3 and np.ptp(r["car.s"][r.time > 10]) < 0.01


def test_a_driver_follows_the_cycle() -> None:
    r = run(
        f"{V}.DriveCycle c; {V}.Driver d; {V}.Vehicle car; Movrel.Translational.DrivenForce f; equation f.f = 6000*(d.throttle - d.brake);"
        " connect(c.v_ahead, d.v_set); connect(car.v, d.v); connect(f.b, car.rear); car.grade = 0.02; car.wind = 2;",
        50, 0.05,
    )  # fmt: skip
    assert np.abs(r["car.v"] - r["c.v"]).max() < 1.0
    assert r["c.v"][np.argmin(np.abs(r.time - 10))] == pytest.approx(5)
    assert r["car.v"][np.argmin(np.abs(r.time - 28))] == pytest.approx(10, abs=0.1)
    # Pedals at their limits for long do not wind up.
    far = run(
        f"{V}.Driver d; Real v(start=0, fixed=true); equation der(v) = 2*(d.throttle - d.brake); d.v = v; d.v_set = if time < 20 then 30 else 10;", 40, 0.05
    )  # fmt: skip
    assert far["v"].max() < 32 and far["v"][-1] == pytest.approx(10, abs=0.25)
