"""Switches whose sides lead back to each other: the motion on their surface, against closed forms."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.optimize import brentq

import movrel
from movrel.errors import RunFault
from movrel.simulate.trajectory import Trajectory

SOLVERS = ["bdf", "rk45", "radau", "dae"]


def run(
    text: str, stop: float, solver: str = "bdf", tolerance: float = 1e-6, interval: float = 0.01
) -> Trajectory:
    return movrel.load(text=text).simulate(
        stop=stop, interval=interval, solver=solver, tolerance=tolerance
    )


def at(r: Trajectory, name: str, t: float) -> float:
    return float(np.interp(t, r.time, r[name]))


@pytest.mark.parametrize("solver", SOLVERS)
@pytest.mark.parametrize(
    "switch", ["sign(x)", "(if x > 0 then 1 else -1)", "noEvent(if x > 0 then 1 else -1)", "(if on then 1 else -1)"]
)  # fmt: skip
def test_it_stays_until_one_side_is_stronger(switch: str, solver: str) -> None:
    """x rests at 0 until 2*sin(t) exceeds 1 at pi/6, rises, falls back to 0 and rests again."""
    boolean = "Boolean on;" if "on" in switch and "noEvent" not in switch else ""
    r = run(
        f"""model M Real x(start = 0.1, fixed = true); Real push = {switch}; {boolean}
        equation der(x) = 2*sin(time) - push; {"on = x > 0;" if boolean else ""} end M;""",
        3.4, solver=solver, tolerance=1e-8,
    )  # fmt: skip

    def from_rest(t: float) -> float:
        return float(2 * (np.cos(np.pi / 6) - np.cos(t)) - (t - np.pi / 6))

    def fall(t: float) -> float:
        return float(0.1 + 2 * (1 - np.cos(t)) - t)

    lands = brentq(fall, 0.05, 0.4)
    assert at(r, "x", 0.05) == pytest.approx(fall(0.05), abs=1e-6)
    rest = (r.time > lands + 1e-3) & (r.time < np.pi / 6 - 1e-3)
    assert np.abs(r["x"][rest]).max() < 1e-7
    assert r["push"][rest] == pytest.approx(2 * np.sin(r.time[rest]), abs=1e-6)
    for t in (0.8, 1.5, 2.5):
        assert at(r, "x", t) == pytest.approx(from_rest(t), abs=2e-5)


@pytest.mark.parametrize("solver", SOLVERS)
def test_a_block_on_a_spring_sticks_where_friction_holds_it(solver: str) -> None:
    """Half swings about +-0.3: from the amplitude a, every turn loses 0.6 until the spring is weaker than friction."""
    r = run(
        """model Block Real x(start = 2, fixed = true), v(start = 0, fixed = true), friction;
        equation der(x) = v; der(v) = -x - friction; friction = 0.3*sign(v); end Block;""",
        14, solver=solver, tolerance=1e-8,
    )  # fmt: skip
    # 2 -> -1.4 -> 0.8 -> -0.2, where it stays: friction balances the spring.
    turns = [at(r, "x", k * np.pi) for k in (1, 2, 3, 4)]
    assert turns == pytest.approx([-1.4, 0.8, -0.2, -0.2], abs=2e-5)
    assert r["friction"][-1] == pytest.approx(0.2, abs=2e-5)
    assert np.abs(r["v"][r.time > 9.5]).max() < 1e-5


def test_two_surfaces_at_once() -> None:
    """Both switches hold at the end; the share of each is what its disturbance asks for."""
    r = run(
        """model Two Real x(start = 1, fixed = true), y(start = -1.5, fixed = true), u, w; equation
        u = if x > 0 then -1 else 1; w = if y > 0 then -1 else 1;
        der(x) = u + 0.2*sin(time) + 0.1*w; der(y) = w + 0.3*cos(time); end Two;""",
        6,
    )  # fmt: skip
    end = r.time[-1]
    assert abs(r["x"][-1]) < 1e-9 and abs(r["y"][-1]) < 1e-9
    assert r["w"][-1] == pytest.approx(-0.3 * np.cos(end), abs=1e-6)
    assert r["u"][-1] == pytest.approx(-0.2 * np.sin(end) + 0.03 * np.cos(end), abs=1e-6)


def test_a_surface_across_two_states_leads_to_its_own_dynamics() -> None:
    """On 2*x + v = 0 the distance falls as exp(-2*t), whatever disturbs, as long as the switch is stronger."""
    r = run(
        """model Controller Real x(start = 1, fixed = true), v(start = 0, fixed = true), s = 2*x + v; equation
        der(x) = v; der(v) = -6*(if s > 0 then 1 else -1) + 0.5*sin(20*time); end Controller;""",
        3, tolerance=1e-8,
    )  # fmt: skip
    x0, x1 = at(r, "x", 1.0), at(r, "x", 2.0)
    assert x1 / x0 == pytest.approx(np.exp(-2), rel=2e-4)
    assert np.abs(r["s"][r.time > 1]).max() < 1e-9


@pytest.mark.parametrize(
    "more", ["Integer n(start = 0, fixed = true); equation when x > 0 then n = pre(n) + 1; end when;",
             "Boolean on(start = true, fixed = true); equation on = x > 0 or false and pre(on);"]
)  # fmt: skip
def test_where_turns_are_counted_chattering_is_refused_with_its_cause(more: str) -> None:
    with pytest.raises(RunFault) as fault:
        text = f"model M Real x(start = 1, fixed = true); {more} der(x) = if x > 0 then -1 else 1; end M;"
        run(text.replace("and pre(on)", "or pre(on) and x > 0"), 10)
    assert "chatters at 1" in fault.value.sentence() and "'x > 0'" in fault.value.sentence()


def test_a_narrow_hysteresis_is_lawful() -> None:
    """Several hundred switchings within a thousandth of the run, each after a way that the tolerance resolves."""
    r = run(
        """model Controller Real x(start = 0, fixed = true); Boolean on(start = true, fixed = true); equation
        on = not pre(on) and x <= 0 or pre(on) and x < 0.002; der(x) = if on then 1 else -1;
        when time > 1 then terminate("enough"); end when; end Controller;""",
        1000, interval=1000,
    )  # fmt: skip
    assert (
        r.time[-1] == pytest.approx(1, abs=1e-6)
        and r["x"].min() + 1e-9 >= 0
        and r["x"].max() < 0.002 + 1e-9
    )


@pytest.mark.parametrize("solver", SOLVERS)
def test_a_body_at_rest_breaks_away_as_often_as_the_force_exceeds_friction(solver: str) -> None:
    """While it sticks no state moves; the swing of the force must not be stepped over. 6 crests in 3 s."""
    r = movrel.load(
        text="""model Rest
          Movrel.Translational.HeldRod wall; Movrel.Translational.Spring spring(c = 2000);
          Movrel.Translational.Mass mass(m = 1); Movrel.Translational.DryFriction friction(f_c = 1);
          Movrel.Translational.DrivenForce force; Movrel.Signals.Sine sine(amplitude = 1.6, f = 1);
        equation
          connect(wall.a, spring.a); connect(spring.b, mass.a); connect(friction.a, mass.b);
          connect(sine.y, force.f); connect(force.b, mass.a);
        end Rest;"""
    ).simulate(stop=3, interval=0.01, solver=solver, tolerance=1e-8)  # fmt: skip
    assert np.abs(r["friction.f"]).max() < 1 + 1e-6
    first = np.arcsin(1 / 1.6) / (2 * np.pi)
    assert r.events[0].time == pytest.approx(first, abs=1e-6)
    quarter = 0.25
    assert all(any(abs(e.time - quarter - k / 2) < 0.25 for e in r.events) for k in range(6))


@pytest.mark.parametrize("solver", SOLVERS)
def test_two_locks_on_one_shaft_share_what_they_carry(solver: str) -> None:
    """A brake and dry friction both hold; the sum is the driving torque, how they share it is said to be open."""
    r = movrel.load(
        text="""model Locked
          Movrel.Rotational.Inertia disc(J = 2, w_start = 3); Movrel.Rotational.DryFriction friction(tau_c = 5);
          Movrel.Rotational.Brake brake(tau_max = 7); Movrel.Signals.Constant hand(value = 1);
          Movrel.Rotational.DrivenTorque drive; Movrel.Signals.Constant torque(value = 4);
        equation
          connect(disc.a, friction.a); connect(disc.a, brake.a); connect(hand.y, brake.u);
          connect(torque.y, drive.tau); connect(drive.b, disc.b);
        end Locked;"""
    ).simulate(stop=2, interval=0.01, solver=solver)  # fmt: skip
    stops = 3 * 2 / (5 + 7 - 4)  # w falls at (5 + 7 - 4)/2
    assert at(r, "disc.w", 0.5) == pytest.approx(3 - 0.5 * 8 / 2, abs=1e-6)
    held = r.time > stops + 0.02
    assert np.abs(r["disc.w"][held]).max() < 1e-6
    assert r["friction.tau"][held] + r["brake.tau"][held] == pytest.approx(4, abs=1e-6)
    assert any("leave open" in m and "'friction.tau'" in m for m in r.messages)


def test_a_free_wheel_that_overruns_makes_no_events() -> None:
    """Its torque is zero by the equations: rounding about zero is not a crossing."""
    r = movrel.load(
        text="""model Overrun
          Movrel.Rotational.Inertia slow(J = 2, w_start = 1), fast(J = 0.01, w_start = 4);
          Movrel.Rotational.FreeWheel wheel; Movrel.Rotational.Damper damper(d = 0.5), loss(d = 0.02);
          Movrel.Rotational.HeldShaft bearing;
        equation
          connect(slow.b, wheel.a); connect(wheel.b, fast.a); connect(slow.b, damper.a); connect(damper.b, fast.a);
          connect(fast.b, loss.a); connect(loss.b, bearing.a);
        end Overrun;"""
    ).simulate(stop=1, interval=0.01, solver="dae")  # fmt: skip
    assert len(r.events) < 8
    # Once it drives, both turn alike and lose speed as exp(-d t/(J1 + J2)).
    late = r.time > 0.5
    assert r["slow.w"][late] == pytest.approx(r["fast.w"][late], abs=1e-5)
    assert r["slow.w"][-1] / at(r, "slow.w", 0.6) == pytest.approx(
        np.exp(-0.02 * 0.4 / 2.01), rel=1e-4
    )


def test_a_jump_that_cannot_be_slid_along_ends_a_run_that_does_not_get_on() -> None:
    text = """model M Real x(start = 0.5, fixed = true), y(start = 0, fixed = true);
      equation der(x) = -0.1; der(y) = tanh(max(sign(x - y) - 0.3, 0)) - 0.3; end M;"""
    with pytest.raises(RunFault, match=r"does not get on at 1\.\d+ s: 'sign\(x - y\)' jumps there"):
        movrel.load(text=text).simulate(stop=3, tolerance=1e-8)
