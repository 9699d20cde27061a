"""Mechanical parts against closed forms and independent integrations; power that goes in comes out or stays."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import cumulative_trapezoid, solve_ivp
from scipy.special import ellipk

from movrel.errors import MovrelError
from movrel.simulate.trajectory import Trajectory
from tests.library.conftest import example, run

G = 9.80665


def test_a_mass_between_springs_swings_as_the_textbook_says() -> None:
    r = example("Mechanics.Oscillator")
    t = r.time
    w = math.sqrt(500 / 4 - 1)
    s = 0.1 * np.exp(-t) * (np.cos(w * t) + np.sin(w * t) / w)
    assert r["position.s"] == pytest.approx(s, abs=1e-6)
    v = -0.1 * np.exp(-t) * np.sin(w * t) * (w + 1 / w)
    assert r["speed.v"] == pytest.approx(v, abs=1e-5)
    assert 4 * r["acc.acc"] == pytest.approx(-500 * s - 8 * v, abs=1e-3)
    assert r["force.f"] == pytest.approx(100 * s, abs=1e-4)
    # What the springs and the mass lose is what the damper turns to heat.
    energy = (500 * r["body.s"] ** 2 + 4 * r["body.v"] ** 2) / 2
    heat = cumulative_trapezoid(r["damper.loss"], t, initial=0)
    assert energy + heat == pytest.approx(
        np.full(len(t), 2.5), abs=5e-4
    )  # the heat is summed by trapezia


def test_dry_friction_sticks_then_slides() -> None:
    r = example("Mechanics.StickSlip")
    before = r.time < 1.499
    assert np.abs(r["crate.v"][before]).max() < 1e-12 and r["ground.f"][before] == pytest.approx(
        10 * r.time[before], abs=1e-9
    )
    assert any(e.time == pytest.approx(1.5, abs=1e-6) and "forward" in e.cause for e in r.events)

    def slide(t: float, v: np.ndarray) -> list[float]:
        return [(10 * t - 10 - 5 * math.exp(-((v[0] / 0.05) ** 2))) / 2]

    exact = solve_ivp(
        slide, (1.5, 3), [1e-9], rtol=1e-10, atol=1e-13, dense_output=True, max_step=0.005
    )
    late = r.time > 1.75
    assert r["crate.v"][late] == pytest.approx(exact.sol(r.time[late])[0], abs=2e-2)
    assert r["ground.way"][-1] == 1


def test_friction_holds_again_after_the_turn() -> None:
    """A block thrown up a slope: it decelerates with g(sin + mu cos), stops, and stays where mu is large."""
    r = run(
        "Movrel.Translational.Mass m(m=2, v_start=3); Movrel.Translational.DryFriction f(f_c=12); Movrel.Translational.DrivenForce p;"
        " equation p.f = -8; connect(p.b, m.a); connect(m.b, f.a);", 2, 0.01,
    )  # fmt: skip
    assert r["m.s"][-1] == pytest.approx(3**2 / (2 * (20 / 2)), abs=1e-6)
    assert r["m.v"][-1] == pytest.approx(0, abs=1e-7) and r["f.f"][-1] == pytest.approx(-8)
    turned = [e.time for e in r.events if e.time > 0]
    assert turned and turned == pytest.approx([0.3] * len(turned), abs=1e-6)


def test_gears_and_losses() -> None:
    """(J_load + eta i^2 J) dw/dt = eta i tau - d w, seen from the load."""
    r = example("Mechanics.GearTrain")
    exact = 16 * (1 - np.exp(-r.time * 2 / (3 + 0.8 * 400 * 0.01)))
    assert r["speed.w"] == pytest.approx(exact, abs=2e-2) and r["rotor.w"] == pytest.approx(
        20 * r["load.w"]
    )
    assert r["torque.tau"] == pytest.approx(2 * r["load.w"], abs=1e-6)
    late = r.time > 0.5
    assert r["worm.loss"][late] == pytest.approx(0.2 * r["power.P"][late], rel=1e-3)


def test_a_planetary_set_with_its_ring_held_and_free() -> None:
    r = example("Mechanics.Planetary")
    held = r.time < 1.99
    assert r["sun.w"][held] == pytest.approx(
        5 / (0.02 + 0.8 / 16) * r.time[held], rel=1e-6, abs=1e-6
    )
    assert np.abs(r["ring.w"][held]).max() < 1e-7
    assert 4 * r["carrier.w"] == pytest.approx(r["sun.w"] + 3 * r["ring.w"], abs=1e-5)
    x = (5 / 0.02) / (1 / 0.02 + 16 / 0.8 + 9 / 0.1)
    late = r.time > 2.01
    slope = np.polyfit(r.time[late], r["sun.w"][late], 1)[0]
    assert slope == pytest.approx((5 - x) / 0.02, rel=1e-5)


def test_a_clutch_joins_two_shafts_and_a_free_wheel_overruns() -> None:
    r = example("Mechanics.ClutchStart")

    def at(name: str, t: float) -> float:
        return float(np.interp(t, r.time, r[name]))

    joined = 1 + 100 / (40 / 2 + 40 / 1.5)
    common = 2 * 100 / 3.5
    assert at("flywheel.w", joined - 0.1) - at("shaft.w", joined - 0.1) == pytest.approx(
        0.1 * (20 + 40 / 1.5), rel=1e-4
    )
    assert at("flywheel.w", joined + 0.2) == pytest.approx(common, rel=1e-6)
    # The heat of the clutch is the kinetic energy that is lost.
    heat = cumulative_trapezoid(r["clutch.loss"], r.time, initial=0)
    lost = (2 * 100**2 - 3.5 * common**2) / 2
    assert np.interp(joined + 0.1, r.time, heat) == pytest.approx(lost, rel=1e-3)
    # Braked with 50 N.m, flywheel and shaft slow down together; the load runs on.
    assert at("flywheel.w", 5) == pytest.approx(common - 50 / 3, rel=1e-5) and at(
        "load.w", 7.9
    ) == pytest.approx(common, rel=1e-5)
    assert at("clutch.tau", 5) == pytest.approx(-2 * 50 / 3, rel=1e-4) and at(
        "freewheel.tau", 5
    ) == pytest.approx(0, abs=1e-6)
    assert r["shaft.w"][-1] == pytest.approx(0, abs=1e-5)


def test_elastic_stops_and_play_conserve_energy() -> None:
    r = example("Mechanics.StopsAndPlay")
    free = np.abs(r["body.s"]) < 0.098
    assert np.abs(r["body.v"][free]) == pytest.approx(1, abs=1e-5)
    assert r["body.s"].max() == pytest.approx(0.1 + 1 / math.sqrt(1e4), abs=1e-4)
    # Two equal bodies swap their speeds at each flank: first at 0.1 s, again after crossing the whole play.
    contact = math.pi / math.sqrt(2e4)
    first = (r.time > 0.1 + contact + 1e-3) & (r.time < 0.3 + contact - 1e-3)
    second = (r.time > 0.3 + 2 * contact + 1e-3) & (r.time < 0.5 + 2 * contact - 1e-3)
    for times, pushed, pushing in ((first, "driven.w", "rotor.w"), (second, "rotor.w", "driven.w")):
        assert r[pushed][times] == pytest.approx(1, abs=1e-4) and r[pushing][
            times
        ] == pytest.approx(0, abs=1e-4)


def test_a_cart_on_two_wheels_against_an_independent_integration() -> None:
    r = example("Mechanics.Vehicle")

    def rates(t: float, s: np.ndarray) -> list[float]:
        w, v = s
        base = math.sqrt(0.1**2 + max(abs(0.3 * w), abs(v)) ** 2)
        force = 0.9 * 6000 * math.sin(1.6 * math.atan(10 * (0.3 * w - v) / base))
        beta = math.atan(0.05 if t >= 10 else 0)
        road = (
            1200 * G * math.sin(beta)
            + 0.015 * 1200 * G * math.cos(beta) * math.tanh(v / 0.01)
            + 1.2 * 0.5 * 2 * v * abs(v) / 2
        )
        return [(300 - 0.3 * force) / 1, (2 * force - road) / 1200]

    exact = solve_ivp(
        rates,
        (0, 40),
        [0, 0],
        method="LSODA",
        rtol=1e-9,
        atol=1e-10,
        dense_output=True,
        max_step=0.05,
    )
    assert r["cart.v"] == pytest.approx(exact.sol(r.time)[1], abs=2e-3)
    assert r["left.slip"] == pytest.approx(r["right.slip"], abs=1e-9)


def test_a_pendulum_with_rack_and_lever() -> None:
    """Half a large swing takes K(sin(a/2)) sqrt(J/(m g r))/... of elliptic integrals; the lever halves and doubles."""
    r = example("Mechanics.Swing")
    angle = r["angle.phi"] + math.pi / 2
    down = np.nonzero(np.diff(np.sign(angle)))[0]
    crossings = [
        r.time[k] - angle[k] * (r.time[k + 1] - r.time[k]) / (angle[k + 1] - angle[k]) for k in down
    ]
    period = 4 * math.sqrt(2.5 / (10 * G * 0.5)) * ellipk(math.sin(0.05) ** 2)
    assert np.diff(crossings) == pytest.approx(np.full(len(crossings) - 1, period / 2), rel=1e-5)
    assert r["end_.s"] == pytest.approx(-2 * 0.1 * r["angle.phi"], abs=1e-9)


def test_prescribed_motion() -> None:
    r = example("Mechanics.MotionSources")
    assert r["pulley.w"][-1] == pytest.approx(0.1 / 0.3 * 3, rel=1e-6)
    w = 4 * math.pi
    exact = solve_ivp(
        lambda t, v: [10 * (0.02 * w * math.cos(w * t) - v[0])],
        (0, 3),
        [0],
        rtol=1e-9,
        atol=1e-12,
        dense_output=True,
    )
    assert r["body.v"] == pytest.approx(exact.sol(r.time)[0], abs=1e-5)
    assert np.abs(r["power.P"]).max() < 1e-9


def test_turning_and_sliding_parts_follow_the_same_laws() -> None:
    """A rotor and a slider with the same numbers behind the same parts move alike."""
    turning = run(
        "Movrel.Rotational.DrivenAngle p; Movrel.Rotational.SpringDamper c(c=50, d=0.5); Movrel.Rotational.Inertia m(J=0.4);"
        " Movrel.Rotational.DryFriction f(tau_c=0.3, tau_s=0.4); Movrel.Rotational.Accelerometer s; Movrel.Rotational.Tachometer w;"
        " equation p.phi = 0.1*sin(6*time)*(1 - exp(-time)); connect(p.b, c.a); connect(c.b, m.a); connect(m.b, f.a); connect(m.b, s.a);"
        " connect(m.b, w.a);", 3, 0.01, tolerance=1e-9,
    )  # fmt: skip
    sliding = run(
        "Movrel.Translational.DrivenPosition p; Movrel.Translational.SpringDamper c(c=50, d=0.5); Movrel.Translational.Mass m(m=0.4);"
        " Movrel.Translational.DryFriction f(f_c=0.3, f_s=0.4, v_s=0.1); Movrel.Translational.Accelerometer s;"
        " equation p.s = 0.1*sin(6*time)*(1 - exp(-time)); connect(p.b, c.a); connect(c.b, m.a); connect(m.b, f.a); connect(m.b, s.a);",
        3, 0.01, tolerance=1e-9,
    )  # fmt: skip
    times = np.linspace(0, 3, 301)

    def at(r: Trajectory, name: str) -> np.ndarray:
        return np.interp(times, r.time, r[name])

    assert np.ptp(at(turning, "m.w")) > 0.5, "it does move"
    assert at(turning, "m.w") == pytest.approx(at(sliding, "m.v"), abs=1e-4) and at(
        turning, "w.w"
    ) == pytest.approx(at(turning, "m.w"))
    assert at(turning, "f.tau") == pytest.approx(at(sliding, "f.f"), abs=1e-2)
    moving = np.abs(at(turning, "m.w")) > 0.05
    total = at(turning, "c.tau")
    assert (0.4 * at(turning, "s.alpha"))[moving] == pytest.approx(
        (-total - at(turning, "f.tau"))[moving], abs=2e-3
    )


def test_a_rod_with_play_and_a_steady_drive() -> None:
    r = run(
        "Movrel.Translational.DrivenSpeed p; Movrel.Translational.Backlash b(play=0.02, c=1e6, d=2000); Movrel.Translational.Mass m(m=1);"
        " equation p.v = 0.5; connect(p.b, b.a); connect(b.b, m.a);", 0.2, 0.001,
    )  # fmt: skip
    assert np.abs(r["m.v"][r.time < 0.0199]).max() < 1e-9, (
        "it does not move before the play is used up"
    )
    # It is pushed to the speed of the drive and, as the flank only pushes, a little beyond.
    assert 0.5 < r["m.v"][-1] < 0.6 and (0.5 * r.time - r["m.s"]).max() == pytest.approx(
        0.01, abs=2e-3
    )


def test_a_brake_with_a_peak_holds_up_to_it() -> None:
    """Static friction 1.5 times the sliding one: it lets go at 15 N and then pulls with 10 N."""
    r = run(
        "Movrel.Translational.Mass m(m=1); Movrel.Translational.Brake b(f_max=20, peak=1.5); Movrel.Translational.DrivenForce p;"
        " equation b.u = 0.5; p.f = 10*time; connect(p.b, m.a); connect(m.b, b.a);", 2, 0.01,
    )  # fmt: skip
    assert r["m.v"][-1] == pytest.approx(5 * (2**2 - 1.5**2) - 10 * 0.5, rel=1e-5)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("Movrel.Rotational.Gear p(i=0);", "the ratio must not be zero"),
        ("Movrel.Translational.EndStop p(s_max=-1, s_min=1);", "s_max must be above s_min"),
        ("Movrel.Translational.DryFriction p(f_c=5, f_s=3);", "f_s must not be below f_c"),
    ],
)
def test_parts_guard_their_parameters(text: str, words: str) -> None:
    kind = "Movrel.Rotational.Inertia" if "Gear" in text else "Movrel.Translational.Mass"
    second = "" if "Friction" in text else "connect(p.b, b.a);"
    with pytest.raises(MovrelError, match=words):
        run(f"{kind} a, b; {text} equation connect(a.b, p.a); {second}", 1)


def test_a_start_that_a_rigid_coupling_overrules_is_told() -> None:
    r = run(
        "Movrel.Rotational.Inertia a(w_start=10); Movrel.Rotational.Inertia b(w_start=3); equation connect(a.b, b.a);",
        1,
    )
    assert r["b.w"][0] == 10
    assert [
        m
        for m in r.messages
        if m.startswith("'b.w' starts at 10 rad/s, not at its start value 3 rad/s")
    ]
    agreed = run(
        "Movrel.Rotational.Inertia a(w_start=3); Movrel.Rotational.Inertia b(w_start=3); equation connect(a.b, b.a);",
        1,
    )
    assert agreed.messages == []


def test_a_table_follows_through_play_later_and_less() -> None:
    r = example("Mechanics.PlayedDrive")
    apart = r["joint.a.s"] - r["table.s"]
    assert np.abs(apart).max() == pytest.approx(2e-3, abs=1.5e-4), "half the play to either side"


def test_a_wheel_between_springs_keeps_its_equation() -> None:
    r = example("Mechanics.TorsionTest")
    torque = (
        400 * (r["drive.phi"] - r["wheel.phi"])
        - 200 * r["wheel.phi"]
        - 3 * r["wheel.w"]
        - r["seal.tau"]
    )
    assert 2 * r["sensor.alpha"] == pytest.approx(torque, abs=1e-6)
    assert r["drive.phi"] == pytest.approx(0.2 * np.sin(2 * np.pi * r.time), abs=1e-9)


@pytest.mark.parametrize("v", [-1.0, 1.0])
def test_friction_is_against_the_motion_whatever_else_pushes(v: float) -> None:
    """It starts against a force of 8 N that exceeds the friction of 3 N: a = (8 - 3 sign v)/2, held at no instant."""
    r = run(
        f"Movrel.Translational.Mass m(m=2, v_start={v}); Movrel.Translational.DryFriction f(f_c=3); Movrel.Translational.DrivenForce p;"
        " equation p.f = 8; connect(p.b, m.a); connect(m.b, f.a);", 0.5, 0.01,
    )  # fmt: skip
    turn = 0.0 if v > 0 else 1 / 5.5
    exact = np.where(r.time < turn, v + 5.5 * r.time, max(v, 0) + 2.5 * (r.time - turn))
    assert r["m.v"] == pytest.approx(exact, abs=1e-6)
    assert (r["f.loss"] >= -1e-9).all()


@pytest.mark.parametrize("v", [-1.0, 1.0])
def test_viscous_friction_alone_damps_both_ways(v: float) -> None:
    r = run(
        f"Movrel.Translational.Mass m(m=2, v_start={v}); Movrel.Translational.DryFriction f(f_c=0, d=3); equation connect(m.b, f.a);",
        1, 0.1,
    )  # fmt: skip
    assert r["m.v"] == pytest.approx(v * np.exp(-1.5 * r.time), abs=1e-5)


@pytest.mark.parametrize("solver", ["bdf", "dae", "rk45", "radau"])
def test_it_breaks_loose_and_sticks_again_within_one_long_step(solver: str) -> None:
    """While it sticks nothing but the driving force changes: 3 sin(pi t) N exceed 2.8 N from 0.3833 to 0.6167 s."""
    r = run(
        "Movrel.Translational.Mass m(m=2); Movrel.Translational.DryFriction f(f_c=2.8); Movrel.Translational.DrivenForce p;"
        " equation p.f = 3*sin(3.141592653589793*time); connect(p.b, m.a); connect(m.b, f.a);", 1, 0.1, solver=solver,
    )  # fmt: skip
    loose = math.asin(2.8 / 3) / math.pi
    assert min(e.time for e in r.events if e.time > 0) == pytest.approx(loose, abs=1e-6)

    def speed(t: float) -> float:
        return (3 * (math.cos(math.pi * loose) - math.cos(math.pi * t)) / math.pi - 2.8 * (t - loose)) / 2  # fmt: skip

    assert r["m.v"].max() == pytest.approx(speed(1 - loose), rel=1e-3)
    assert r["m.v"][-1] == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize("w", [-5.0, 5.0])
def test_a_clutch_that_closes_brakes_what_turns_against_it(w: float) -> None:
    """Open, then closed with 4 N.m against a drive of 1 N.m: dw/dt of the difference is 1/J1 - 4 sign(w) (1/J1 + 1/J2)."""
    r = run(
        f"Movrel.Rotational.Inertia a(J=2, w_start={w}), b(J=1); Movrel.Rotational.DrivenTorque p(tau=1);"
        " Movrel.Rotational.Clutch c(tau_max=4, u=if time < 0.25 then 0 else 1);"
        " equation connect(p.b, a.a); connect(a.b, c.a); connect(c.b, b.a);", 2, 0.05,
    )  # fmt: skip
    rate = 0.5 - math.copysign(4, w) * 1.5
    meet = 0.25 + (w + 0.125) / -rate
    before = (r.time > 0.25) & (r.time < meet)
    assert (r["a.w"] - r["b.w"])[before] == pytest.approx(
        w + 0.125 + rate * (r.time[before] - 0.25), abs=1e-6
    )
    joined = (2 * w + r.time[-1]) / 3
    assert [r["a.w"][-1], r["b.w"][-1]] == pytest.approx([joined, joined], abs=1e-6)
    assert (r["c.loss"] >= -1e-9).all()


def test_a_clutch_between_two_braked_shafts_settles() -> None:
    """Three holding parts on two bodies: how they share the load is open, and its smallest solution may exceed a limit."""
    r = run(
        "Movrel.Rotational.Inertia a(J=0.8, w_start=-3), b(J=0.4); Movrel.Rotational.DrivenTorque p(tau=-4), q(tau=6);"
        " Movrel.Rotational.Clutch c(tau_max=2, u=1); Movrel.Rotational.Brake d(tau_max=7, u=1), e(tau_max=7, u=1);"
        " equation connect(p.b, a.a); connect(q.b, b.a); connect(a.b, c.a); connect(c.b, b.b); connect(a.b, d.a); connect(b.a, e.a);",
        3, 0.05, solver="radau",
    )  # fmt: skip
    assert [r["a.w"][-1], r["b.w"][-1]] == pytest.approx([0, 0], abs=1e-6)
    assert abs(r["c.tau"][-1]) <= 2 + 1e-9 and abs(r["d.tau"][-1]) <= 7 + 1e-9


def test_a_free_wheel_that_starts_with_a_ahead_slips_to_a_common_speed() -> None:
    """Momentum is kept: (1*5 + 2*0)/3; it takes 5 rad/s of relative speed at tau (1/J1 + 1/J2) = 60 rad/s2."""
    r = run(
        "Movrel.Rotational.Inertia a(J=1, w_start=5), b(J=2); Movrel.Rotational.FreeWheel f(tau_catch=40);"
        " equation connect(a.b, f.a); connect(f.b, b.a);", 0.2, 0.01,
    )  # fmt: skip
    together = np.minimum(r.time, 5 / 60)
    assert r["a.w"] == pytest.approx(5 - 40 * together, abs=1e-6)
    assert r["b.w"] == pytest.approx(20 * together, abs=1e-6)
    assert r["f.drives"][-1] and not r["f.slips"][-1]
