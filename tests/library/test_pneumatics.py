"""Pneumatic parts against ISO 6358, the laws of ideal gases, and balances of mass and energy."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel
from movrel.simulate.trajectory import Trajectory
from tests.library.conftest import run

P = "Movrel.Pneumatics"
R, KAPPA, T_0, P_0 = 287.05, 1.4, 293.15, 101325.0
CP, CV, RHO_0 = 1004.675, 717.625, 1e5 / (287.05 * 293.15)


def through(part: str, p_a: str, given: str = "", more: str = "") -> np.ndarray:
    """The flow of a part from a driven pressure into the open, from 0 s to 2 s."""
    r = run(
        f"{P}.DrivenPressure s; {P}.Atmosphere t; {P}.{part} x{given}; equation s.p = {p_a}; {more}"
        " connect(s.port, x.a); connect(x.b, t.port);", 2, 0.5,
    )  # fmt: skip
    return np.asarray(r["x.m"])


def test_a_restriction_follows_iso_6358_both_ways() -> None:
    given = "(C=2e-8, b_c=0.3)"
    choked = through("Restriction", "(4 + 2*time)*101325", given)
    assert choked == pytest.approx(2e-8 * RHO_0 * P_0 * np.array([4, 5, 6, 7, 8]), rel=2e-5)
    for ratio in (0.5, 0.7, 0.9, 0.99):
        flow = 2e-8 * RHO_0 * P_0 / ratio * math.sqrt(1 - ((ratio - 0.3) / 0.7) ** 2)
        assert through("Restriction", f"101325/{ratio}", given)[-1] == pytest.approx(flow, rel=3e-3)
        back = 2e-8 * RHO_0 * P_0 * math.sqrt(1 - ((ratio - 0.3) / 0.7) ** 2)
        assert through("Restriction", f"101325*{ratio}", given)[-1] == pytest.approx(
            -back, rel=3e-3
        )
    near = through("Restriction", "101325 + (time - 1)", given)
    assert near == pytest.approx(np.arange(-2, 3) / 2 * near[-1], rel=1e-4, abs=1e-12)
    half = through("DrivenRestriction", "5*101325", given, "x.opening = 0.5;")
    assert half[-1] == pytest.approx(choked[2] / 6 * 5 / 2, rel=1e-5)
    # Warmer gas is thinner: the flow falls with the root of the temperature.
    r = run(
        f"{P}.HeldPressure s(T=4*293.15); {P}.Atmosphere t; {P}.Restriction x; equation connect(s.port, x.a); connect(x.b, t.port);", 1
    )  # fmt: skip
    assert r["x.m"][-1] == pytest.approx(2e-8 * RHO_0 * 7e5 / 2, rel=1e-4)


def test_valves_open_and_close_at_their_pressures() -> None:
    one_way = through("CheckValve", "101325 + 1e5*(1 - time)")
    assert one_way[0] > 1e-3 and -1e-7 < one_way[-1] < 0
    control = through("FlowControlValve", "101325 + 2e5*(1 - time)/(1 + time)", "(opening=0.1)")
    assert control[0] < 0.35 * -control[-1]
    relief = through("ReliefValve", "(3 + 4*time)*1e5", "(p_set=6e5)")
    assert abs(relief[0]) < 1e-7 and relief[-1] == pytest.approx(2e-8 * RHO_0 * 11e5, rel=1e-3)
    r = run(
        f"{P}.HeldPressure s(p_0=10e5); {P}.ReducingValve x(p_set=5e5); {P}.Chamber c(G=1e4); {P}.Restriction o(C=1e-9); {P}.Atmosphere t;"
        " equation connect(s.port, x.a); connect(x.b, c.a); connect(c.b, o.a); connect(o.b, t.port);", 3, 0.01,
    )  # fmt: skip
    # In balance the valve lets through what flows out: y C p_s = C_o p.
    p = r["c.p"][-1]
    lift = (5e5 - p) / 0.3e5
    assert lift * 2e-8 * 10e5 * math.sqrt(1 - ((p / 10e5 - 0.3) / 0.7) ** 2) == pytest.approx(
        1e-9 * p, rel=1e-3
    )
    held = run(
        f"{P}.DrivenPressure s; {P}.PilotCheckValve x; {P}.Chamber c(p_start=6e5); {P}.DrivenPressure pilot; equation s.p = 101325;"
        " pilot.p = if time < 1 then 101325 else 6e5; connect(s.port, x.a); connect(x.b, c.a); connect(pilot.port, x.x);", 2, 0.01,
    )  # fmt: skip
    assert held["c.p"][np.argmin(np.abs(held.time - 0.99))] > 5.99e5 > 1.1e5 > held["c.p"][-1]


def test_tanks_fill_and_empty_as_the_laws_say() -> None:
    """An evacuated tank that is filled gets warm by the ratio of the heat capacities; slowly it stays as it is."""
    filled = run(
        f"{P}.HeldPressure s; {P}.Restriction x; {P}.Chamber c(p_start=10, V_0=1e-3); equation connect(s.port, x.a); connect(x.b, c.a);",
        2, 0.01, tolerance=1e-8,
    )  # fmt: skip
    # All that came in has the enthalpy of the supply; the 10 Pa before do not count.
    assert filled["c.T"][-1] == pytest.approx(KAPPA * T_0, rel=1e-3)
    emptied = run(
        f"{P}.Chamber c(p_start=8e5, V_0=1e-3, G=1e4); {P}.Restriction x(C=1e-9, b_c=0.2); {P}.Atmosphere t; equation connect(c.b, x.a); connect(x.b, t.port);",
        4, 0.01,
    )  # fmt: skip
    tau = 1e-3 / (1e-9 * RHO_0 * R * T_0)
    assert emptied["c.p"] == pytest.approx(8e5 * np.exp(-emptied.time / tau), rel=1e-3)
    vacuum = run(
        f"{P}.VacuumSource v(p_low=1e4); {P}.Chamber c(V_0=5e-3, G=1e4); equation connect(v.port, c.a);",
        40,
        0.1,
    )
    rate = 50 / 60000 * P_0 / (5e-3 * (P_0 - 1e4))
    assert vacuum["c.p"] == pytest.approx(1e4 + (P_0 - 1e4) * np.exp(-rate * vacuum.time), rel=1e-3)


def test_trapped_gas_is_a_spring_and_changes_its_state_by_its_law() -> None:
    def ring(g: float) -> Trajectory:
        return run(
            f"{P}.DoubleRodCylinder c(stroke=0.4, s_start=0.2, V_dead=1e-9, m=1, d_v=0, G={g}, p_a_start=6e5, p_b_start=6e5); Movrel.Translational.Mass l(m=9, s_start=0.2, v_start=0.1);"
            " equation connect(c.rod, l.a);", 0.5, 5e-4, tolerance=1e-8,
        )  # fmt: skip

    area = math.pi * (0.05**2 - 0.02**2) / 4
    for g, n in ((0.0, KAPPA), (1e5, 1.0)):
        r = ring(g)
        x = r["l.s"] - 0.2
        cross = [r.time[i] for i in np.nonzero(np.diff(np.sign(x)))[0] if r.time[i] > 0]
        w = math.sqrt(2 * n * 6e5 * area / 0.2 / 10)
        assert math.pi / np.mean(np.diff(cross)) == pytest.approx(w, rel=3e-3)
        p, v = r["c.chamber_a.p"], r["c.chamber_a.V"]
        assert p * v**n == pytest.approx(np.full(len(p), p[0] * v[0] ** n), rel=1e-4)


CIRCUIT = (
    f"{P}.Chamber tank(p_start=8e5, V_0=5e-3); {P}.Valve52 valve; {P}.Silencer r(G=0); {P}.Silencer s(G=0);"
    f" {P}.DoubleActingCylinder c(stroke=0.3, f_c=20, G=0{{more}}); Movrel.Translational.Mass load(m=10);"
    " Movrel.Translational.DrivenForce weight; equation valve.on = mod(time, 2) < 1; weight.f = -200; connect(tank.b, valve.P);"
    " connect(valve.R, r.a); connect(valve.S, s.a); connect(valve.A, c.a); connect(valve.B, c.b); connect(c.rod, load.a); connect(weight.b, load.b);"
)


def test_gas_and_energy_are_kept_in_a_circuit() -> None:
    r = run(CIRCUIT.replace("{more}", ""), 1.8, 0.0005, tolerance=1e-8)
    spaces = ("tank", "c.chamber_a", "c.chamber_b", "r", "s")
    gas = sum(r[f"{s}.m_gas"] for s in spaces) + r["r.vented"] + r["s.vented"]
    assert gas == pytest.approx(np.full(len(r.time), gas[0]), rel=1e-6)
    inner = sum(r[f"{s}.p"] * r[f"{s}.V"] for s in spaces) / (KAPPA - 1)
    out = [np.trapezoid(r[f"{s}.m"] * CP * r[f"{s}.T"], r.time) for s in ("r", "s")]
    mechanical = 12 / 2 * r["load.v"] ** 2 + 200 * r["load.s"]
    friction = np.trapezoid(r["c.loss"], r.time)
    open_air = P_0 * (r["c.A_a"] - r["c.A_b"]) * r["c.s"] if "c.A_a" in r.names else 0
    open_air = P_0 * math.pi * 0.02**2 / 4 * r["c.s"]
    kept = inner + mechanical + open_air
    assert kept[0] - kept[-1] == pytest.approx(sum(out) + friction, rel=5e-3)


def test_a_cylinder_lifts_its_load_hits_softly_with_cushions_and_stays_at_the_end() -> None:
    r = run(CIRCUIT.replace("{more}", ""), 5, 0.001)
    assert r["load.s"][np.argmin(np.abs(r.time - 0.95))] == pytest.approx(0.3, abs=1e-3)
    assert r["load.s"][np.argmin(np.abs(r.time - 1.95))] == pytest.approx(0, abs=1e-3)
    assert len(r.events) < 80
    soft = run(
        CIRCUIT.replace("{more}", ", cushioned=true, l_cushion=0.1, C_cushion=5e-11"), 0.95, 5e-4
    )
    hit = [float(x["load.v"][np.argmax(x["load.s"] > 0.2995)]) for x in (r, soft)]
    assert 0 <= hit[1] < 0.4 * hit[0]


def test_directional_valves_join_what_their_positions_say() -> None:
    ends = f"{P}.HeldPressure sP; {P}.Atmosphere sR; {P}.Atmosphere sS; {P}.Restriction sA(C=1e-9); {P}.Restriction sB(C=1e-9); {P}.Atmosphere tA; {P}.Atmosphere tB;"
    wires = " connect(sP.port, v.P); connect(sR.port, v.R); connect(sS.port, v.S); connect(v.A, sA.a); connect(v.B, sB.a); connect(sA.b, tA.port); connect(sB.b, tB.port);"

    def pressures(valve: str, on: str) -> list[float]:
        r = run(f"{P}.{valve} v; {ends} equation {on} {wires}", 0.5)
        return [float(r[f"v.{e}.p"][-1]) / 1e5 for e in "AB"]

    assert pressures("Valve52", "v.on = true;") == pytest.approx([7, 1.013], abs=0.02)
    assert pressures("Valve52", "v.on = false;") == pytest.approx([1.013, 7], abs=0.02)
    assert pressures("Valve53", "v.to_a = false; v.to_b = false;") == pytest.approx(
        [1.013, 1.013], abs=0.01
    )
    assert pressures("Valve53", "v.to_a = false; v.to_b = true;")[1] > 6.9
    assert pressures("ProportionalValve", "v.u = 0.5;") == pytest.approx([6.97, 1.013], abs=0.05)
    for on, p in (("true", 7), ("false", 1.013)):
        r = run(
            f"{P}.Valve32 v; {P}.HeldPressure s; {P}.Atmosphere t; {P}.Chamber c(p_start=3e5); equation v.on = {on}; connect(s.port, v.P); connect(v.R, t.port); connect(v.A, c.a);",
            5,
        )  # fmt: skip
        assert r["c.p"][-1] / 1e5 == pytest.approx(p, abs=0.01)


def test_a_spring_returns_the_single_acting_actuators() -> None:
    for part, area in (
        ("SingleActingCylinder", math.pi * 0.04**2 / 4),
        ("DiaphragmActuator", 0.02),
    ):
        pressure = P_0 + (50 + 2000 * 0.02) / area
        r = run(
            f"{P}.{part} x; {P}.DrivenPressure s; {P}.Restriction o; equation s.p = if time < 2 then {pressure} else 101325; connect(s.port, o.a); connect(o.b, x.a);",
            6, 0.01,
        )  # fmt: skip
        assert r["x.s"][np.argmin(np.abs(r.time - 1.99))] == pytest.approx(0.02, abs=2e-4)
        assert abs(r["x.s"][-1]) < 2e-4


def test_meters_show_what_is_there() -> None:
    r = run(
        f"{P}.HeldPressure s(T=400); {P}.FlowMeter f; {P}.Thermometer t; {P}.Restriction x; {P}.Chamber c; {P}.PressureGauge g;"
        " equation connect(s.port, f.a); connect(f.b, t.a); connect(t.b, x.a); connect(x.b, c.a); connect(c.c, g.a);", 1, 0.1,
    )  # fmt: skip
    assert r["f.m"] == pytest.approx(r["x.m"]) and r["g.p"] == pytest.approx(r["c.p"])
    assert r["t.T"][0] == pytest.approx(400)


def test_a_vane_motor_by_its_map_keeps_its_curve_and_its_energy() -> None:
    r = run(
        f"{P}.HeldPressure s; {P}.VaneMotorByMap m; {P}.Thermometer t; {P}.Atmosphere o; Movrel.Rotational.Inertia j(J=0.02); Movrel.Rotational.DrivenTorque load;"
        " equation load.tau = -4; connect(s.port, m.a); connect(m.b, t.a); connect(t.b, o.port); connect(m.shaft, j.a); connect(load.b, j.b);",
        4, 0.01,
    )  # fmt: skip
    assert r["m.tau"][0] == pytest.approx(12)
    assert r["m.w"][-1] == pytest.approx(300 * (1 - 4 / 12), rel=1e-3)
    gone = r["m.m"][-1] * CP * (T_0 - r["t.T"][-1])
    assert gone == pytest.approx(4 * 200, rel=1e-3)


def test_a_vane_motor_by_its_chambers_works_between_filling_and_expansion() -> None:
    """The work of a turn lies between that of full pressure all the way in, and nothing; gas and energy are kept."""
    r = run(
        f"{P}.HeldPressure s; {P}.VaneMotor m(G=0, C_leak=0, d=0); {P}.Thermometer t; {P}.Atmosphere o; Movrel.Rotational.DrivenSpeed drive;"
        " equation drive.w = 60; connect(drive.b, m.shaft); connect(s.port, m.a); connect(m.b, t.a); connect(t.b, o.port);", 1.05, 1e-4,
        tolerance=1e-7,
    )  # fmt: skip
    turns = r.time >= 1.05 - 4 * 2 * math.pi / 60
    t = r.time[turns]
    work = np.trapezoid(r["m.tau"][turns] * 60, t) / 4
    full = 6 * 19e-6 * (7e5 - P_0)
    assert 0.4 * full < work < full
    carried = np.trapezoid((r["m.m"] * CP * T_0 + r["m.b.m"] * CP * r["t.T"])[turns], t) / 4
    assert work == pytest.approx(carried, rel=0.01)
    assert np.trapezoid((r["m.m"] + r["m.b.m"])[turns], t) == pytest.approx(
        0, abs=2e-3 * np.trapezoid(r["m.m"][turns], t)
    )
    starts = run(
        f"{P}.HeldPressure s; {P}.VaneMotor m; {P}.Atmosphere o; Movrel.Rotational.Inertia j(J=0.01); equation connect(s.port, m.a); connect(m.b, o.port); connect(m.shaft, j.a);",
        3, 0.01,
    )  # fmt: skip
    assert starts["j.w"][-1] > 100


BOOSTER = (
    f"{P}.ServoAssistedActuator x; {P}.HeldPressure low(p_0=3e4); {P}.Atmosphere o; Movrel.Translational.DrivenForce foot; Movrel.Translational.Mass pedal(m=0.2);"
    " Movrel.Translational.Spring load(c=2e5); Movrel.Translational.HeldRod wall; equation foot.f = {f}; connect(foot.b, pedal.a); connect(pedal.b, x.rod_in);"
    " connect(low.port, x.vacuum); connect(o.port, x.air); connect(x.rod_out, load.a); connect(load.b, wall.a);"
)


def test_a_servo_assisted_actuator_multiplies_force_until_its_vacuum_is_used_up() -> None:
    for force in (100, 200):
        r = run(
            BOOSTER.replace("{f}", f"if time < 1 then 0 else {force}*min(1, time - 1)"), 4, 0.01
        )
        out, back = r["x.f_out"][-1], 150 + 2000 * r["x.s"][-1]
        assert out == pytest.approx(
            force + 0.035 * (r["x.p_rear"] - r["x.p_front"])[-1] - back, rel=1e-3
        )
        assert out == pytest.approx(5 * force, rel=0.12)
    r = run(BOOSTER.replace("{f}", "if time < 1 then 0 else 1500*min(1, time - 1)"), 5, 0.01)
    spent = 1500 + 0.035 * (P_0 - 3e4) - 150 - 2000 * r["x.s"][-1]
    assert r["x.f_out"][-1] == pytest.approx(spent, rel=0.01)
    released = run(BOOSTER.replace("{f}", "if time < 2 then 200*min(1, time) else 0"), 5, 0.01)
    assert abs(released["x.s"][-1]) < 2e-4


def test_gases_differ_and_chambers_take_what_is_driven_into_them() -> None:
    r = run(
        f"inner {P}.Gas gas(kind={P}.GasKind.helium, T_ambient=300); {P}.DrivenFlow f; {P}.Chamber c(V_0=1e-3, G=1e4); {P}.Valve22 v; {P}.Atmosphere t;"
        " equation f.m = if time < 1 then 1e-4 else 0; v.on = time > 2; connect(f.port, c.a); connect(c.b, v.a); connect(v.b, t.port);", 6, 0.01,
    )  # fmt: skip
    filled = np.argmin(np.abs(r.time - 1.9))
    at_rest = P_0 * 1e-3 / (2077.1 * 300)
    assert r["c.m_gas"][filled] == pytest.approx(at_rest + 1e-4, rel=1e-4)
    assert r["c.p"][filled] == pytest.approx((at_rest + 1e-4) * 2077.1 * 300 / 1e-3, rel=1e-3)
    assert r["c.p"][-1] == pytest.approx(P_0, rel=1e-3)
    assert r["gas.rho_ambient"][-1] == pytest.approx(P_0 / (2077.1 * 300))
    pressed = run(
        f"{P}.DrivenChamber c(A=0.01, V_dead=1e-9); equation c.s = 0.1 - 0.05*time; c.v = -0.05;", 1, 0.01, tolerance=1e-8
    )  # fmt: skip
    assert pressed["c.p"][-1] == pytest.approx(P_0 * 2**KAPPA, rel=1e-5)
    assert pressed["c.T"][-1] == pytest.approx(T_0 * 2 ** (KAPPA - 1), rel=1e-5)


@pytest.mark.parametrize("solver", ["bdf", "radau", "dae"])
def test_a_vessel_fills_through_a_bypass_without_volume_until_nothing_flows(solver: str) -> None:
    """Nodes with gauges in series and in parallel: the resistances share the flow by their conductances."""
    r = movrel.load(
        text="""model M import Movrel.Pneumatics.*; inner Gas gas; HeldPressure s(p_0 = 6e5); Chamber c(V_0 = 1e-3);
          Restriction f(C = 2e-8), g(C = 3e-8), e(C = 1e-8), h(C = 1e-8), k(C = 1e-8); PressureGauge A, n, B;
          equation connect(s.port, f.a); connect(f.b, A.a); connect(A.a, e.a); connect(e.b, n.a); connect(n.a, h.a); connect(h.b, B.a);
          connect(A.a, k.a); connect(k.b, B.a); connect(B.a, g.a); connect(g.b, c.a); end M;"""
    ).simulate(stop=4, interval=0.01, solver=solver, tolerance=1e-7)
    assert r["f.m"] == pytest.approx(r["g.m"], abs=1e-9)
    assert r["e.m"] + r["k.m"] == pytest.approx(r["g.m"], abs=1e-9)
    assert r["e.m"] == pytest.approx(r["h.m"], abs=1e-9)
    # Filled from a supply at rest: the gas that came in brings its enthalpy (closed form of an adiabatic filling).
    mass = 101325e-3 / (287.05 * 293.15)
    energy = 101325e-3 / 0.4 + (r["c.m_gas"][-1] - mass) * 1.4 / 0.4 * 287.05 * 293.15
    assert r["c.p"][-1] == pytest.approx(6e5, rel=1e-5)
    assert r["c.p"][-1] * 1e-3 / 0.4 == pytest.approx(energy, rel=1e-5)
