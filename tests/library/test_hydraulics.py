"""Hydraulic parts against closed forms and published laws; what flows in stays or flows out."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid, quad
from scipy.optimize import brentq

import movrel
from tests.library.conftest import run

H = "Movrel.Hydraulics"
#: Mineral oil of 46 mm2/s at 40 °C: what the library gives without a part Oil.
K, M, AIR, P_0 = 1.6e9, 11.0, 0.005, 101325.0
RHO = 873 * (1 - 7e-4 * 25)
NU = 46e-6


def volume(p: float | np.ndarray) -> float | np.ndarray:
    """Relative volume of oil with air: Murnaghan's law and a polytropic change of the air."""
    return (1 - AIR) * (1 + M * p / K) ** (-1 / M) + AIR * (1 + p / P_0) ** (-1 / 1.4)


def test_an_oil_has_the_viscosity_and_density_of_its_temperature() -> None:
    for grade, at_40, at_100, density in (
        ("mineral_46", 46e-6, 6.8e-6, 873),
        ("brake_fluid", 7e-6, 2.2e-6, 1050),
    ):
        for degrees, nu in ((40, at_40), (100, at_100)):
            r = run(
                f"inner {H}.Oil oil(grade={H}.OilGrade.{grade}, T_start={273.15 + degrees});", 1
            )
            assert r["oil.nu"][-1] == pytest.approx(nu, rel=1e-9)
        assert run(f"inner {H}.Oil oil(grade={H}.OilGrade.{grade}, T_start=288.15);", 1)["oil.rho"][
            -1
        ] == pytest.approx(density)
    # In DIN 51563's diagram both points and the one between lie on a straight line.
    cold = run(f"inner {H}.Oil oil(T_start=283.15);", 1)["oil.nu"][-1]
    at = [math.log10(math.log10(nu * 1e6 + 0.7)) for nu in (cold, 46e-6, 6.8e-6)]
    lg = [math.log10(t) for t in (283.15, 313.15, 373.15)]
    assert (at[0] - at[1]) / (lg[0] - lg[1]) == pytest.approx((at[1] - at[2]) / (lg[1] - lg[2]))


def test_oil_gets_stiffer_as_its_air_is_pressed_together() -> None:
    r = run(
        f"{H}.HeldFlow pump(q_0=1e-5); {H}.Chamber c(V=1e-3); equation connect(pump.port, c.port);",
        2, 0.01, tolerance=1e-9,
    )  # fmt: skip
    held = 1e-3 / volume(0.0) + 1e-5 * r.time
    exact = [brentq(lambda p, h=h: 1e-3 / volume(p) - h, -1, 1e8, xtol=1e-6) for h in held]
    assert r["c.p"] == pytest.approx(exact, rel=1e-5, abs=1)
    stiffness = np.gradient(r["c.p"], r["c.V_free"]) * 1e-3
    assert stiffness[1] < 0.05 * K and stiffness[-1] == pytest.approx(
        K + M * r["c.p"][-1], rel=0.03
    )


def test_throttles_are_turbulent_laminar_and_the_same_both_ways() -> None:
    def flow(part: str, p: str, given: str = "") -> np.ndarray:
        return run(
            f"{H}.DrivenPressure s; {H}.Tank t; {H}.{part} x{given}; equation s.p = {p};"
            " connect(s.port, x.a); connect(x.b, t.port);", 2, 0.5,
        )["x.q"]  # fmt: skip

    area = math.pi * 1e-6 / 4
    sharp = flow("Orifice", "1e7*(1 - time)")
    assert sharp[0] == pytest.approx(0.62 * area * math.sqrt(2e7 / RHO), rel=2e-3)
    assert sharp[2] == 0 and sharp[::-1] == pytest.approx(-sharp)
    slow = flow("Orifice", "10*(1 - time)")
    # Re = 260 where the laminar line meets the turbulent curve.
    crossing = RHO / 2 * (260 * NU / (0.62 * 1e-3)) ** 2
    assert slow[0] == pytest.approx(
        0.62 * area * math.sqrt(2 / RHO) * 10 / math.sqrt(crossing), rel=1e-6
    )
    assert flow("Capillary", "1e6")[-1] == pytest.approx(
        math.pi * 1e-12 / (128 * RHO * NU * 0.05) * 1e6
    )
    assert flow("Throttle", "4*10e5", "(opening=0.5)")[-1] == pytest.approx(20 / 60000, rel=1e-4)
    held = flow("FlowControlValve", "(0.5 + time)*100e5")
    assert held == pytest.approx(np.full(len(held), 10 / 60000), rel=1e-3)
    one_way = flow("CheckValve", "5.5e5*(1 - time)")
    assert one_way[0] == pytest.approx(40 / 60000, rel=1e-4) and -1e-9 < one_way[-1] < 0


def test_friction_in_a_line_is_that_of_the_chart() -> None:
    def drop(q: float) -> float:
        r = run(
            f"{H}.HeldFlow s(q_0={q}); {H}.Line x(l=10, d=0.012, k=0.02e-3); {H}.Tank t;"
            " equation connect(s.port, x.a); connect(x.b, t.port);", 3,
        )  # fmt: skip
        assert r["x.q[1]"][-1] == pytest.approx(q, rel=1e-4)
        return float(r["s.port.p"][-1])

    area = math.pi * 0.012**2 / 4
    laminar, turbulent = 1e-4, 3e-3
    assert drop(laminar) == pytest.approx(32 * RHO * NU * 10 * laminar / area / 0.012**2, rel=1e-4)
    v = turbulent / area
    reynolds = v * 0.012 / NU
    root = brentq(
        lambda f: 1 / math.sqrt(f)
        + 2 * math.log10(0.02 / (3.7 * 12) + 2.51 / (reynolds * math.sqrt(f))),
        0.005, 0.1,
    )  # fmt: skip
    assert drop(turbulent) == pytest.approx(root * 10 / 0.012 * RHO / 2 * v**2, rel=0.02)


def test_a_stopped_column_of_oil_rings_with_the_pressure_of_joukowsky() -> None:
    """Δp = ρ c Δv and a period of 4 l/c, with the stiffness that the oil has there."""
    r = run(
        f"inner {H}.Oil oil(air=1e-5, nu_40=2e-6, nu_100=1e-6); {H}.HeldPressure s(p_0=50e5);"
        f" {H}.Line x(l=20, d=0.02, n=40, p_start=50e5, q(each start=3.14159e-4)); {H}.DrivenFlow out;"
        " equation connect(s.port, x.a); connect(x.b, out.port); out.q = if time < 1e-3 then -3.14159e-4 else 0;",
        0.1, 1e-4,
    )  # fmt: skip
    c = math.sqrt((K + M * 50e5) / RHO)
    ring = r["x.p[41]"] - 50e5
    first = (r.time > 0.4 * 2 * 20 / c) & (r.time < 0.9 * 2 * 20 / c)
    assert np.mean(ring[first]) == pytest.approx(RHO * c * 1.0, rel=0.04)
    cross = [r.time[i] for i in np.nonzero(np.diff(np.sign(ring)))[0] if r.time[i] > 0.01]
    assert np.mean(np.diff(cross)) == pytest.approx(2 * 20 / c, rel=0.03)


def test_pumps_and_motors_meet_their_rated_points_and_lose_the_rest() -> None:
    r = run(
        f"inner {H}.Oil oil; {H}.Tank t; {H}.Pump p(mu_n={RHO*NU}); {H}.HeldPressure s(p_0=200e5); Movrel.Rotational.DrivenSpeed d;"
        " equation d.w = p.w_n; connect(d.b, p.shaft); connect(t.port, p.a); connect(p.b, s.port);", 1,
    )  # fmt: skip
    q, n = 20e-6 * 25, 50 * math.pi
    assert r["p.q"][-1] == pytest.approx(0.95 * q, rel=1e-4)
    assert r["p.tau"][-1] == pytest.approx(20e-6 / (2 * math.pi) * 200e5 / 0.93, rel=1e-4)
    # The heat is what the shaft gives and the oil does not carry away, the integral of v dp.
    carried = quad(volume, 0, 200e5)[0]
    assert r["p.loss"][-1] == pytest.approx(r["p.tau"][-1] * n - 0.95 * q * carried, rel=1e-4)
    assert r["oil.Q"][-1] == pytest.approx(r["p.loss"][-1])
    r = run(
        f"{H}.Tank t; {H}.DrivenMotor m(mu_n=0.0394); {H}.HeldPressure s(p_0=200e5); Movrel.Rotational.Inertia j(J=0.1);"
        " Movrel.Rotational.DrivenTorque load; equation m.x = 0.5; load.tau = -20; connect(s.port, m.a); connect(m.b, t.port);"
        " connect(m.shaft, j.a); connect(load.b, j.b);", 0.4, 0.01,
    )  # fmt: skip
    ideal = 0.5 * 20e-6 / (2 * math.pi) * 200e5
    gained = 0.1 * np.gradient(r["j.w"], r.time)
    assert (gained + r["m.tau_friction"])[5:-1] == pytest.approx(ideal - 20, rel=2e-2)
    assert r["m.q"][-1] > 0.5 * 20e-6 / (2 * math.pi) * r["j.w"][-1] and np.all(
        r["m.loss"] >= -1e-6
    )


CYLINDER = f"{H}.DoubleRodCylinder c(s_start=0.2, stroke=0.4, d_v=0, m=1, V_dead=1e-6, p_a_start=50e5, p_b_start=50e5)"


def test_the_oil_spring_of_a_cylinder_has_the_frequency_of_the_closed_form() -> None:
    r = run(
        f"{H}.HeldFlow no(q_0=0); {H}.HeldFlow none(q_0=0); {CYLINDER}; Movrel.Translational.Mass load(m=99, s_start=0.2, v_start=0.01);"
        " equation connect(no.port, c.a); connect(none.port, c.b); connect(c.rod, load.a);", 0.2, 1e-4,
        tolerance=1e-8,
    )  # fmt: skip
    area = math.pi * (0.05**2 - 0.028**2) / 4
    v = volume(50e5)
    stiff = -v / ((volume(50e5 + 10) - volume(50e5 - 10)) / 20)
    spring = 2 * stiff * area**2 / (area * 0.2 + 1e-6)
    x = r["load.s"] - 0.2
    cross = [r.time[i] for i in np.nonzero(np.diff(np.sign(x)))[0]]
    assert math.pi / np.mean(np.diff(cross)) == pytest.approx(math.sqrt(spring / 100), rel=2e-3)
    assert np.abs(x[-200:]).max() == pytest.approx(0.01 / math.sqrt(spring / 100), rel=2e-2)


def test_a_cylinder_carries_its_load_by_its_areas_hits_its_stop_and_rests_there() -> None:
    r = run(
        f"{H}.HeldFlow s(q_0=2e-4); {H}.DoubleActingCylinder c(stroke=0.3, f_c=200); {H}.Throttle back; {H}.Tank t;"
        " Movrel.Translational.Mass load(m=500); Movrel.Translational.DrivenForce weight;"
        f" {H}.ReliefValve relief(p_set=150e5); {H}.Tank t2;"
        " equation weight.f = -20000; connect(s.port, c.a); connect(c.b, back.a); connect(back.b, t.port); connect(c.rod, load.a);"
        " connect(load.b, weight.b); connect(s.port, relief.a); connect(relief.b, t2.port);", 5, 0.005,
    )  # fmt: skip
    a, b = math.pi * 0.05**2 / 4, math.pi * (0.05**2 - 0.028**2) / 4
    moving = (r.time > 1.5) & (r.time < 2.5)
    speed = 2e-4 * volume(float(np.mean(r["c.p_a"][moving]))) / a
    assert np.mean(r["load.v"][moving]) == pytest.approx(speed, rel=0.01)
    behind = 10e5 * (b * speed / (20 / 60000)) ** 2
    pressure = (20000 + 200 + 100 * speed + b * behind) / a
    assert np.mean(r["c.p_a"][moving]) == pytest.approx(pressure, rel=0.01)
    rest = r.time > 4.5
    assert np.ptp(r["load.s"][rest]) < 1e-6 and r["load.s"][-1] == pytest.approx(0.3, abs=1e-3)
    # Of the relief valve: q = y q_n sqrt(dp/dp_n), y = (dp - p_set)/p_span.
    limit = brentq(
        lambda p: (p - 150e5) / 5e5 * 40 / 60000 * math.sqrt(p / 10e5) - 2e-4, 150e5, 155e5
    )
    assert r["c.p_a"][-1] == pytest.approx(limit, rel=1e-3)
    assert sum("stroke" in e.cause for e in r.events) < 12


def test_a_cushion_brakes_before_the_end() -> None:
    def impact(more: str) -> float:
        r = run(
            f"{H}.HeldFlow s(q_0=4e-4); {H}.DoubleActingCylinder c(stroke=0.3{more}); {H}.Throttle back(q_n=1e-3); {H}.Tank t;"
            f" Movrel.Translational.Mass load(m=100); {H}.ReliefValve relief(p_set=100e5); {H}.Tank t2;"
            " equation connect(s.port, c.a); connect(c.b, back.a); connect(back.b, t.port); connect(c.rod, load.a);"
            " connect(s.port, relief.a); connect(relief.b, t2.port);", 5, 0.001,
        )  # fmt: skip
        assert r["load.s"][-1] == pytest.approx(0.3, abs=2e-3)
        return float(r["load.v"][np.argmax(r["load.s"] > 0.2999)])

    assert impact(", cushioned=true, d_cushion=0.8e-3") < 0.3 * impact("")


@pytest.mark.parametrize("lap", [0.0, 0.1])
def test_a_servo_valve_lets_its_rated_flow_through_and_lags_as_its_sheet_says(lap: float) -> None:
    r = run(
        f"{H}.HeldPressure s(p_0=70e5); {H}.Tank t; {H}.ProportionalValve v(lap={lap}, dp_n=35e5, f_0=50, D_0=0.7); {H}.FlowMeter f;"
        " equation v.u = 1; connect(s.port, v.P); connect(v.T, t.port); connect(v.A, f.a); connect(f.b, v.B);", 0.2,
    )  # fmt: skip
    assert r["f.q"][-1] == pytest.approx(40 / 60000, rel=1e-3)
    r = run(
        f"{H}.HeldPressure s(p_0=70e5); {H}.Tank t; {H}.ProportionalValve v(lap={lap}, dp_n=35e5, f_0=50, D_0=0.7); {H}.FlowMeter f;"
        " equation v.u = 0.5*sin(100*3.141592653589793*time); connect(s.port, v.P); connect(v.T, t.port); connect(v.A, f.a); connect(f.b, v.B);",
        0.4, 1e-4,
    )  # fmt: skip
    late = r.time > 0.2
    t, x = r.time[late], r["v.x"][late]
    w = 100 * math.pi
    sine, cosine = np.mean(x * np.sin(w * t)), np.mean(x * np.cos(w * t))
    assert math.degrees(math.atan2(cosine, sine)) == pytest.approx(-90, abs=0.5)
    assert 2 * math.hypot(sine, cosine) == pytest.approx(0.5 / 1.4, rel=5e-3)


def test_directional_valves_join_what_their_positions_say() -> None:
    def flows(valve: str, on: str, ends: str, given: str = "") -> dict[str, float]:
        declared = "".join(
            f"{H}.HeldPressure s{e}(p_0={p}e5); "
            for e, p in zip("PTAB", (100, 0, 60, 40), strict=True)
            if e in ends
        )
        wired = "".join(f"connect(s{e}.port, v.{e}); " for e in ends)
        r = run(f"{H}.{valve} v{given}; {declared} equation {on} {wired}", 0.5)
        return {e: float(r[f"v.{e}.q"][-1]) * 60000 for e in ends}

    rest = "v.to_a = false; v.to_b = false;"
    assert all(abs(q) < 0.01 for q in flows("Valve43", rest, "PTAB").values())
    driven = flows("Valve43", "v.to_a = true; v.to_b = false;", "PTAB")
    assert driven["P"] == pytest.approx(40 * math.sqrt(8), rel=1e-3) == -driven["A"]
    assert driven["B"] == pytest.approx(40 * math.sqrt(8), rel=1e-3)
    floating = flows("Valve43", rest, "PTAB", f"(centre={H}.Centre.float)")
    assert abs(floating["P"]) < 0.01 and floating["A"] > 100 and floating["B"] > 100
    assert flows("Valve43", rest, "PTAB", f"(centre={H}.Centre.tandem)")["P"] > 100
    crossed = flows("Valve42", "v.on = false;", "PTAB")
    assert crossed["B"] == pytest.approx(-40 * math.sqrt(12), rel=1e-3) and crossed["A"] > 0
    assert (
        flows("Valve32", "v.on = true;", "PTA")["A"]
        < -100
        < 100
        < flows("Valve32", "v.on = false;", "PTA")["A"]
    )


def test_a_held_load_sinks_only_when_its_valve_is_piloted() -> None:
    lowering = (
        f"{H}.SingleActingCylinder c(s_start=0.4, p_start=200e5/3.92699); Movrel.Translational.Mass load(m=1000, s_start=0.4);"
        " Movrel.Translational.DrivenForce weight; {valve} v; {tank} t; {pilot} x; equation weight.f = -10000; x.p = if time < 1 then 0 else 100e5;"
        " connect(c.rod, load.a); connect(weight.b, load.b); {wires} connect(x.port, v.x);"
    )  # fmt: skip
    for valve, wires in (
        (f"{H}.CounterbalanceValve", "connect(c.a, v.a); connect(v.b, t.port);"),
        (f"{H}.PilotCheckValve", "connect(c.a, v.b); connect(v.a, t.port);"),
    ):
        r = run(
            lowering.replace("{valve}", valve).replace("{wires}", wires)
            .replace("{tank}", f"{H}.Tank").replace("{pilot}", f"{H}.DrivenPressure"), 1.2, 0.002,
        )  # fmt: skip
        held = r.time < 0.99
        assert np.ptp(r["load.s"][held]) < 2e-3 and r["load.s"][-1] < 0.35


def test_an_accumulator_takes_up_oil_by_its_gas_and_gives_its_energy_back() -> None:
    r = run(
        f"{H}.DrivenFlow s; {H}.Accumulator a(V_gas=2e-3, p_precharge=60e5, n=1.3); equation connect(s.port, a.port);"
        " s.q = if time < 5 then 2e-4 elseif time < 5.1 then 0 else -2e-4;", 10.2, 0.01, tolerance=1e-8,
    )  # fmt: skip
    full = np.argmax(r["a.V"])
    gas = 2e-3 * ((60e5 + P_0) / (r["a.p"][full] + P_0)) ** (1 / 1.3)
    assert r["a.V"][full] == pytest.approx(2e-3 - gas, rel=1e-6)
    assert r["a.V"][full] == pytest.approx(1e-3, rel=0.02)
    assert r["a.p"][-1] < 60e5 and not r["a.charged"][-1]
    power = r["s.q"] * r["a.p"]
    assert np.trapezoid(power, r.time) == pytest.approx(0, abs=0.02 * np.abs(power).max() * 5)


CIRCUIT = (
    f"inner {H}.Oil oil(warms=true, V=5e-3); {H}.Tank t(V_start=0.02); {H}.Pump p; Movrel.Rotational.Inertia j(J=0.05, w_start=150);"
    f" {H}.Accumulator acc(V_gas=1e-3, p_precharge=30e5); {H}.ReliefValve relief(p_set=120e5); {H}.ProportionalValve v;"
    f" {H}.DoubleActingCylinder c(stroke=0.4, s_start=0.1, f_c=100, leak=1e-13); Movrel.Translational.Mass load(m=200, s_start=0.1);"
    " Movrel.Rotational.DrivenTorque drive;"
    " equation drive.tau = 40; v.u = sin(2*time); connect(drive.b, j.a); connect(j.b, p.shaft); connect(t.port, p.a); connect(p.b, v.P);"
    " connect(p.b, acc.port); connect(p.b, relief.a); connect(relief.b, t.port); connect(v.T, t.port); connect(v.A, c.a); connect(v.B, c.b);"
    " connect(c.rod, load.a);"
)


def test_oil_and_energy_are_kept_in_a_circuit() -> None:
    r = run(CIRCUIT, 6, 0.002, tolerance=1e-8)
    oil = r["t.V"] + r["c.V_a"] + r["c.V_b"] + r["acc.V_free"]
    assert np.ptp(oil) < 1e-9  # of 21 litres
    # The work of the drive is in the flywheel, the load, the gas, the pressed oil and the heat.
    work = np.trapezoid(40 * r["j.w"], r.time)
    kinetic = 0.05 / 2 * r["j.w"] ** 2 + 202 / 2 * r["load.v"] ** 2
    p = r["acc.p"]
    gas_volume = 1e-3 - r["acc.V"]
    p_gas = np.maximum(p, 30e5) + P_0
    gas = p_gas * gas_volume / 0.2
    atmosphere = P_0 * gas_volume

    def pressed(content: np.ndarray, p: np.ndarray) -> np.ndarray:
        grid = np.linspace(-P_0 * 0.9, 200e5, 40001)
        inner = cumulative_trapezoid(volume(grid), grid, initial=0)
        inner -= np.interp(0, grid, inner)
        return content * (np.interp(p, grid, inner) - p * volume(p))

    stored = (
        kinetic + gas + atmosphere
        + pressed(r["acc.V_free"], p) + pressed(r["c.V_a"], r["c.p_a"]) + pressed(r["c.V_b"], r["c.p_b"])
    )  # fmt: skip
    heat = 873 * 5e-3 * 1900 * (r["oil.T"][-1] - 313.15)
    assert heat > 0.9 * work and work == pytest.approx(stored[-1] - stored[0] + heat, rel=2e-3)


def test_small_and_large_volumes_vacuum_and_standstill_do_not_chatter() -> None:
    r = run(
        f"{H}.Chamber big(V=10e-3, p_start=100e5); {H}.Orifice o(d=2e-3); {H}.Chamber small(V=1e-6); equation connect(big.port, o.a); connect(o.b, small.port);",
        2, 0.001,
    )  # fmt: skip
    assert r["small.p"][-1] == pytest.approx(r["big.p"][-1], rel=1e-6) and not r.events
    assert r["big.V_free"][-1] + r["small.V_free"][-1] == pytest.approx(
        r["big.V_free"][0] + r["small.V_free"][0], rel=1e-9
    )
    drawn = run(
        f"{H}.DrivenFlow s; {H}.Chamber c(V=1e-4); equation s.q = 2e-5*cos(6*time); connect(s.port, c.port); ",
        2,
        0.01,
    )
    sucked = run(
        f"{CYLINDER.replace('50e5', '0')}; {H}.HeldFlow no(q_0=0); {H}.HeldFlow none(q_0=0); Movrel.Translational.DrivenForce f;"
        " equation f.f = 20000*time; connect(f.b, c.rod); connect(no.port, c.a); connect(none.port, c.b);", 1, 0.005,
    )  # fmt: skip
    assert -P_0 < sucked["c.p_a"].min() < -0.8 * P_0
    assert drawn["c.p"].min() > -P_0


def test_seals_stick_up_to_their_limit_and_then_slide() -> None:
    r = run(
        f"{H}.DoubleRodCylinder c(s_start=0.1, f_c=200, peak=1.5, d_v=0); {H}.Tank t; {H}.Tank u; Movrel.Translational.DrivenForce f;"
        " equation f.f = 100*time; connect(f.b, c.rod); connect(t.port, c.a); connect(u.port, c.b);", 4, 0.01,
    )  # fmt: skip
    stuck = r.time < 2.4
    assert np.abs(r["c.s"][stuck] - 0.1).max() < 1.5e-4
    assert r["c.f_friction"][stuck] == pytest.approx(100 * r.time[stuck], abs=1)
    assert r["c.s"][-1] > 0.2
    held = run(
        f"{H}.DoubleRodCylinder c(s_start=0.1, f_c=200); {H}.Tank t; {H}.Tank u; Movrel.Translational.DrivenForce f;"
        " equation f.f = 250; connect(f.b, c.rod); connect(t.port, c.a); connect(u.port, c.b);", 1000, 10,
    )  # fmt: skip
    assert np.ptp(held["c.s"][1:]) < 1e-6


BRAKE = (
    f"inner {H}.Oil oil(grade={H}.OilGrade.brake_fluid, air=1e-4); {H}.MasterCylinder m; Movrel.Translational.DrivenForce foot; {H}.Caliper front;"
    f" {H}.Caliper rear(d_piston=0.04); Movrel.Rotational.Inertia j(J=2, w_start={{w}}); Movrel.Rotational.Inertia k(J=2, w_start={{w}});"
    " {more} equation foot.f = if time < 0.5 then 0 else 1500*min(1, 5*(time - 0.5)); connect(foot.b, m.rod); connect(m.front, front.port);"
    " connect(m.rear, {to}); connect(front.disc, j.a); connect(rear.disc, k.a);"
)


def test_a_brake_presses_and_stops_as_statics_and_energy_say() -> None:
    r = run(BRAKE.replace("{more}", "").replace("{to}", "rear.port").replace("{w}", "60"), 3, 0.002)
    area = math.pi * 0.0222**2 / 4
    still = r.time > 2.5
    pressed = (1500 - 100 - 3000 * (r["m.x_1"] - r["m.x_2"])[-1]) / area
    assert r["m.p_1"][-1] == pytest.approx(pressed, rel=1e-3)
    assert r["m.p_2"][-1] == pytest.approx(
        r["m.p_1"][-1] + (-40 - 3000 * (2 * r["m.x_2"] - r["m.x_1"])[-1]) / area, rel=1e-3
    )
    assert np.abs(r["j.w"][still]).max() < 1e-6 and r["front.way"][-1] == 0
    heat = np.trapezoid(r["front.loss"], r.time)
    assert heat == pytest.approx(2 / 2 * 60**2, rel=0.01)
    # The way of the rear piston is what both calipers take up.
    taken = r["front.V"][-1] + r["rear.V"][-1]
    assert taken < area * r["m.x_1"][-1] < taken + 2 * area * 1e-3


def test_one_circuit_that_leaks_leaves_the_other_its_pressure() -> None:
    text = BRAKE.replace("{more}", f"{H}.Throttle hole; {H}.Tank road;").replace("{w}", "0")
    r = run(
        text.replace("{to}", "hole.a")
        + " connect(hole.b, road.port); connect(rear.port, road.port);",
        2,
        0.002,
    )
    assert r["m.p_1"][-1] < 1e5 and r["m.x_1"][-1] - r["m.x_2"][-1] >= 0.018
    area = math.pi * 0.0222**2 / 4
    assert r["m.p_2"][-1] == pytest.approx((1500 - 140 - 3000 * r["m.x_2"][-1]) / area, rel=5e-3)


def test_a_hydrostatic_drive_turns_by_its_displacements_and_signals_set_valves() -> None:
    r = run(
        f"{H}.Tank t; {H}.DrivenPump p(eta_v=1, eta_hm=1); {H}.Motor m(D=40e-6, eta_v=1, eta_hm=1); {H}.PressureGauge g; {H}.Chamber c(V=1e-4);"
        " Movrel.Rotational.DrivenSpeed d; Movrel.Rotational.Inertia j(J=0.2); Movrel.Rotational.Damper load(d=1); Movrel.Rotational.HeldShaft ground;"
        " equation d.w = 150; p.x = 0.5; connect(d.b, p.shaft); connect(t.port, p.a); connect(p.b, c.port); connect(p.b, m.a); connect(m.b, t.port);"
        " connect(m.shaft, j.a); connect(j.b, load.a); connect(load.b, ground.a); connect(m.a, g.a);", 3, 0.01,
    )  # fmt: skip
    speed = r["j.w"][-1]
    pressure = 2 * math.pi * speed * 1 / 40e-6
    assert r["g.p"][-1] == pytest.approx(pressure, rel=1e-3)
    # The motor takes in oil that is pressed together: its share of the pump's volume is less.
    assert speed == pytest.approx(150 * 0.5 * 20 / 40 * volume(pressure), rel=1e-3)
    r = run(
        f"{H}.HeldPressure s(p_0=100e5); {H}.DrivenThrottle v; {H}.Valve22 on; {H}.Valve22 off(normally_open=true); {H}.Tank t; {H}.Tank u;"
        " equation v.opening = if time < 1 then 0 else 0.25; on.on = time > 1; off.on = time > 1; connect(s.port, v.a); connect(v.b, t.port);"
        " connect(s.port, on.a); connect(on.b, t.port); connect(s.port, off.a); connect(off.b, u.port);", 2, 0.01,
    )  # fmt: skip
    rate = math.sqrt(100 / 10) * 20 / 60000
    assert abs(r["v.q"][50]) < 1e-5 * rate and r["v.q"][-1] == pytest.approx(0.25 * rate, rel=1e-4)
    full = math.sqrt(100 / 5) * 40 / 60000
    assert [float(r[f"{x}.q"][k]) / full for x in ("on", "off") for k in (50, -1)] == pytest.approx(
        [0, 1, 1, 0], abs=1e-4
    )


def test_a_reducing_valve_holds_the_pressure_behind_it() -> None:
    r = run(
        f"{H}.DrivenPressure s; {H}.ReducingValve v(p_set=50e5); {H}.Chamber c(V=1e-4); {H}.Throttle o(q_n=5/60000); {H}.Tank t;"
        " equation s.p = 100e5 + 50e5*time; connect(s.port, v.a); connect(v.b, c.port); connect(v.b, o.a); connect(o.b, t.port);", 2, 0.01,
    )  # fmt: skip
    settled = r["c.p"][r.time > 0.5]
    assert settled.min() > 50e5 and settled.max() < 55e5
    opening = 1 - (r["c.p"][-1] - 50e5) / 5e5
    assert opening * 40 * math.sqrt((200e5 - r["c.p"][-1]) / 10e5) == pytest.approx(
        5 * math.sqrt(r["c.p"][-1] / 10e5), rel=0.02
    )


@pytest.mark.parametrize(
    ("f", "swing", "mean", "d", "length", "p_open", "precharge"),
    [
        (61.34, 1.814e-4, 8.908e-5, 1.508e-3, 4.866, 33608, 68.78e5),
        (75.0, 1.908e-4, 8.530e-5, 1.056e-3, 11.68, 44899, 72.29e5),
    ],
)
def test_a_check_valve_that_the_tolerance_hides_does_not_chatter(
    f: float, swing: float, mean: float, d: float, length: float, p_open: float, precharge: float
) -> None:  # fmt: skip
    """What keeps the valve open is less than the error that the pressures about it may have."""
    text = f"""inner {H}.Oil oil; {H}.DrivenFlow pump; {H}.Chamber outlet; {H}.CheckValve check(p_open={p_open});
      {H}.Line line(l={length}, d=0.02, n=8); {H}.Accumulator accumulator(V_gas=4e-3, p_precharge={precharge});
      {H}.Orifice orifice(d={d}); {H}.Tank tank;
    equation pump.q = {mean} + {swing}*sin(2*{math.pi}*{f}*time); connect(pump.port, outlet.port);
      connect(pump.port, check.a); connect(check.b, line.a); connect(line.b, accumulator.port);
      connect(line.b, orifice.a); connect(orifice.b, tank.port);"""
    exact = run(text, 1, 0.1, tolerance=1e-6)
    for tolerance in (1e-3, 1e-4):
        r = run(text, 1, 0.1, tolerance=tolerance)
        for instant in np.arange(1, 11) / 10:
            p, expected = (np.interp(instant, q.time, q["accumulator.p"]) for q in (r, exact))
            assert p == pytest.approx(expected, rel=20 * tolerance, abs=1e4)
        assert len(r.events) < 600


@pytest.mark.parametrize("solver", ["bdf", "radau"])
def test_a_relief_valve_takes_a_flow_over_from_a_check_valve(solver: str) -> None:
    """Nodes without volume: the check valve closes for good, and the other flow alone goes through the orifice."""
    r = movrel.load(
        text="""model M import Movrel.Hydraulics.*; inner Oil oil; HeldPressure tank(p_0 = 0); PressureGauge g, h;
          Chamber c(V = 1.266e-5, p_start = 50e5); Capillary k(d = 1.2183e-3, l = 0.39); Orifice o(d = 0.95e-3); CheckValve v, w;
          ReliefValve r(p_set = 27.74e5); HeldFlow s(q_0 = 1.791e-4), q(q_0 = 2.343e-4);
          equation connect(tank.port, o.b); connect(o.a, g.a); connect(c.port, k.a); connect(k.b, tank.port); connect(h.a, v.a);
          connect(v.b, g.a); connect(c.port, w.a); connect(w.b, g.a); connect(h.a, r.a); connect(r.b, c.port);
          connect(s.port, g.a); connect(q.port, h.a); end M;"""
    ).simulate(stop=0.03, interval=1e-3, solver=solver, tolerance=1e-7)
    area = math.pi * 0.95e-3**2 / 4
    alone = r["oil.rho"][-1] / 2 * (1.791e-4 / (0.62 * area)) ** 2
    assert r["g.p"][-1] == pytest.approx(alone, rel=2e-3)
    assert r["r.q"][-1] == pytest.approx(2.343e-4, rel=1e-5)
    assert r["r.q"] - r["k.q"] - r["w.q"] == pytest.approx(r["c.port.q"], abs=1e-12)
    assert [e.cause for e in r.events] == ["v.dp > v.p_open"]


@pytest.mark.parametrize("solver", ["bdf", "radau"])
def test_a_dead_end_without_flow_does_not_hold_the_solver_up(solver: str) -> None:
    """What is left of a pressure drop of nothing is rounding; steps follow from what flows elsewhere."""
    r = movrel.load(
        text="""model M import Movrel.Hydraulics.*; inner Oil oil; HeldPressure tank(p_0 = 0), line(p_0 = 48.9e5); PressureGauge g, dead;
          Chamber c(V = 5e-5, p_start = 50e5), d(V = 1.8e-4, p_start = 50e5); Capillary k(d = 1.407e-3, l = 0.128), l(d = 1.6e-3, l = 0.2);
          CheckValve v, w; ReliefValve r(p_set = 42.5e5); HeldFlow s(q_0 = 3.917e-4); Orifice o(d = 1.9e-3);
          equation connect(s.port, g.a); connect(g.a, k.a); connect(k.b, c.port); connect(c.port, v.a); connect(v.b, line.port);
          connect(dead.a, w.a); connect(w.b, tank.port); connect(dead.a, r.a); connect(r.b, g.a); connect(c.port, l.a);
          connect(l.b, d.port); connect(d.port, o.a); connect(o.b, line.port); end M;"""
    ).simulate(stop=0.03, interval=1e-3, solver=solver, tolerance=1e-7)
    assert r.statistics.steps < 300
    poiseuille = 3.917e-4 * 128 * r["oil.mu"][-1] * 0.128 / (math.pi * 1.407e-3**4)
    assert r["g.p"] - r["c.p"] == pytest.approx(poiseuille, rel=1e-9)
    assert np.abs(r["dead.p"]).max() < 1e-5
    assert r["v.q"][-1] + r["o.q"][-1] == pytest.approx(3.917e-4, rel=1e-6)
