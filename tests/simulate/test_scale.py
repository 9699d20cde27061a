"""Nothing in the engine has an absolute size: small and large numbers, branches of loops, times that lie close."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.integrate import quad

import movrel
from movrel.errors import StructureFault
from movrel.simulate.trajectory import Trajectory

SOLVERS = ("bdf", "rk45", "radau", "dae")


def run(text: str, stop: float = 1.0, solver: str = "bdf", tolerance: float = 1e-6) -> Trajectory:
    return movrel.load(text=text).simulate(
        stop=stop, interval=stop / 50, tolerance=tolerance, solver=solver
    )


@pytest.mark.parametrize("solver", SOLVERS)
@pytest.mark.parametrize("size", [1e-13, 1e-10, 1.0, 1e8])
def test_a_quadratic_loop_of_any_size(size: float, solver: str) -> None:
    """q + q^2/s = s*(1 + time), so q/s = (sqrt(5 + 4*time) - 1)/2."""
    r = run(f"model M Real q; equation q + q^2/{size} = {size}*(1 + time); end M;", solver=solver)
    assert r["q"] / size == pytest.approx((np.sqrt(5 + 4 * r.time) - 1) / 2, rel=1e-11)


@pytest.mark.parametrize("solver", SOLVERS)
def test_a_turbulent_restriction_is_solved_through_zero(solver: str) -> None:
    r = run(
        "model M Real p, q; equation p = 1e11*q*abs(q); p = 3e4*cos(time); end M;",
        2 * math.pi,
        solver,
    )
    assert r["q"] == pytest.approx(
        np.sign(r["p"]) * np.sqrt(np.abs(r["p"]) / 1e11), rel=1e-6, abs=1e-10
    )


@pytest.mark.parametrize(
    ("saturation", "resistance", "voltage"),
    [(1e-13, 1e3, 5.0), (1e-13, 1e6, 1.0), (1e-15, 10.0, 12.0), (1e-9, 1e3, 230.0)],
)
def test_a_diode_finds_its_point_from_nothing(
    saturation: float, resistance: float, voltage: float
) -> None:
    """A source, a resistor and a diode; the reference is found by halving."""
    r = run(
        f"""model M parameter Real Is = {saturation}, R = {resistance}; Real i, v;
        equation i = Is*(exp(v/0.025) - 1); {voltage}*cos(time) = R*i + v; end M;""",
        6.0,
    )
    for source, v in zip(voltage * np.cos(r.time), r["v"], strict=True):
        low, high = -voltage - 1, 2.0
        while high - low > 1e-13 * voltage:
            middle = 0.5 * (low + high)
            current = saturation * (math.exp(middle / 0.025) - 1)
            low, high = (middle, high) if resistance * current + middle < source else (low, middle)
        assert v == pytest.approx(0.5 * (low + high), abs=1e-11 * voltage)


def test_a_diode_at_a_tenth_of_a_picoampere_is_torn_at_its_voltage() -> None:
    r = run(
        "model M Real i, v; equation i = 1e-13*(exp(v/0.025) - 1); 1e-13*(1 + time) = i + 1e-15*v; end M;"
    )
    assert r["v"] == pytest.approx(0.025 * np.log(2 + r.time), rel=3e-2)
    assert r["i"] + 1e-15 * r["v"] == pytest.approx(1e-13 * (1 + r.time), rel=1e-12)


@pytest.mark.parametrize("solver", SOLVERS)
def test_a_turning_phasor_stays_on_its_branch(solver: str) -> None:
    """A load of constant power behind a reactance: v^2 solves v^4 + (2*X*Q - E^2)*v^2 + X^2*(P^2 + Q^2) = 0, twice."""
    r = run(
        """model M parameter Real E = 1, X = 0.3, P = 0.5, Q = 0.2; Real delta(start = 0, fixed = true);
        Real ir, ii, vr(start = 1), vi;
        equation der(delta) = 6.28*0.5; -X*ii = E*cos(delta) - vr; X*ir = E*sin(delta) - vi;
        P = vr*ir + vi*ii; Q = vi*ir - vr*ii; end M;""",
        60.0,
        solver,
    )
    middle, last = 1 - 2 * 0.3 * 0.2, 0.3**2 * (0.5**2 + 0.2**2)
    upper = math.sqrt((middle + math.sqrt(middle**2 - 4 * last)) / 2)
    assert np.hypot(r["vr"], r["vi"]) == pytest.approx(upper, rel=1e-6)


@pytest.mark.parametrize("solver", SOLVERS)
def test_a_small_state_without_nominal_is_spoken_of_and_with_one_is_right(solver: str) -> None:
    text = "model M Real x(start = 1e-9, fixed = true%s); equation der(x) = -x; end M;"
    vague = run(text % "", 5.0, solver)
    assert any("'x' stays near" in m and "nominal" in m for m in vague.messages)
    sharp = run(text % ", nominal = 1e-9", 5.0, solver)
    assert not any("nominal" in m for m in sharp.messages)
    assert sharp["x"] == pytest.approx(1e-9 * np.exp(-sharp.time), abs=1e-9 * 1e-5)


@pytest.mark.parametrize("solver", SOLVERS)
@pytest.mark.parametrize(("begin", "width", "stop"), [(1e-12, 4e-13, 1e-11), (0.5, 4e-13, 1.0)])
def test_a_pulse_shorter_than_a_picosecond_counts(
    begin: float, width: float, stop: float, solver: str
) -> None:
    r = run(
        f"""model M Real x(start = 0, fixed = true);
        equation der(x) = if time > {begin} and time < {begin} + {width} then 1e12 else 0; end M;""",
        stop,
        solver,
    )
    assert len(r.events) == 2
    assert r["x"][-1] == pytest.approx(1e12 * ((begin + width) - begin), rel=1e-3)


def test_fixed_starts_that_meet_in_one_quantity_agree_or_are_refused() -> None:
    text = """model M Real a(start = %s, fixed = true);
      Real b(start = %s, fixed = true);
    equation der(a) = -a; a = %sb; end M;"""
    assert run(text % (2, 2, ""))["b"][0] == 2
    assert run(text % (2, -2, "-"))["b"][0] == -2
    with pytest.raises(StructureFault) as caught:
        run(text % (2, 3, ""))
    assert "'a'" in str(caught.value)
    assert "'b'" in str(caught.value)
    assert ":1:" in str(caught.value)
    assert ":2:" in str(caught.value)
    with pytest.raises(
        StructureFault, match=r"'b' is to start at 3, and 'a' \(.*\) at 3, .* 'b = -a'"
    ):
        run(
            """model M Real a(start = 3, fixed = true), b(start = 3, fixed = true), c;
            equation der(c) = -c; c = -b; c = a; end M;"""
        )
    with pytest.raises(StructureFault, match="an equation says that it is 4"):
        run("model M Real a(start = 2, fixed = true); equation a = 4; end M;")


def test_attributes_of_equal_variables_are_joined() -> None:
    r = run(
        """model M Real a(nominal = 1e-9); Real b(start = 1e-9, fixed = true, min = 0, max = 2e-9);
        equation a = -b; der(a) = -a; end M;""",
        5.0,
    )
    assert r["b"] == pytest.approx(1e-9 * np.exp(-r.time), abs=1e-14)
    bounded = run("model M Real a(min = 0); Real b; equation a = b; b^2 = 4; end M;")
    assert bounded["b"][0] == 2


@pytest.mark.parametrize("restitution", [0.3, 0.5, 0.7, 0.9])
def test_a_ball_that_falls_through_the_floor_is_spoken_of(restitution: float) -> None:
    text = f"""model M Real h(start = 1, fixed = true), v(start = 0, fixed = true);
      equation der(h) = v; der(v) = -9.81; when h <= 0 then reinit(v, -{restitution}*pre(v)); end when; end M;"""
    r = run(text, 12.0)
    assert r["h"][-1] < 0
    assert any("'h <= 0' stayed true after the reinit" in m for m in r.messages)
    short = run(text, 0.6)
    assert not any("stayed true" in m for m in short.messages)


@pytest.mark.parametrize("period", [0.012, 0.1, 0.24])
def test_a_ball_beside_something_that_is_sampled_misses_no_bounce(period: float) -> None:
    r = run(
        f"""model M Real h(start = 1, fixed = true), v(start = 0, fixed = true); discrete Integer n(start = 0, fixed = true);
        equation der(h) = v; der(v) = -9.81; when h <= 0 then reinit(v, -0.7*pre(v)); end when;
        when sample(0, {period}) then n = pre(n) + 1; end when; end M;""",
        3.0, tolerance=1e-9,
    )  # fmt: skip
    hits = [e.time for e in r.events if "h <= 0" in e.cause]
    first = math.sqrt(2 / 9.81)
    expected = first * (1 + 2 * np.cumsum(0.7 ** np.arange(1, 16)))
    for instant in [first, *expected]:
        assert min(abs(hit - instant) for hit in hits) < 1e-6
    assert r["n"][-1] == 1 + math.floor(3 / period + 1e-9)


@pytest.mark.parametrize("solver", SOLVERS)
@pytest.mark.parametrize("relation", ["g > 0", "not g <= 0", "-g < 0"])
def test_what_leaves_a_dead_band_is_noticed(relation: str, solver: str) -> None:
    # Until s is 0.6 the operand is zero exactly, at the start of every step.
    r = run(
        f"""model M Real s(start = 0, fixed = true), x(start = 0, fixed = true), g = max(s - 0.6, 0);
        discrete Real left(start = -1, fixed = true);
        equation der(s) = 1 + 0.5*sin(s); der(x) = if {relation} then 1 else 0;
        when {relation} then left = time; end when; end M;""",
        2.0, solver, 1e-8,
    )  # fmt: skip
    within = quad(lambda s: 1 / (1 + 0.5 * math.sin(s)), 0, 0.6)[0]
    assert r["left"][-1] == pytest.approx(within, rel=1e-6)
    assert r["x"][-1] == pytest.approx(2 - within, rel=1e-6)


@pytest.mark.parametrize("tolerance", [1e-4, 1e-6, 1e-9])
@pytest.mark.parametrize("solver", SOLVERS)
@pytest.mark.parametrize("relation", ["g > 0", "not g <= 0", "-g < 0"])
def test_what_comes_into_a_dead_band_is_noticed_where_it_does(
    relation: str, solver: str, tolerance: float
) -> None:
    # From s = 0.6 on the operand is zero exactly, wherever a step ends.
    r = run(
        f"""model M Real s(start = 1, fixed = true), x(start = 0, fixed = true), g = max(s - 0.6, 0);
        Real n(start = 0, fixed = true);
        equation der(s) = -1; der(x) = if {relation} then 1 else 0;
        when not ({relation}) then reinit(n, n + 1); end when; der(n) = 0; end M;""",
        1.0, solver, tolerance,
    )  # fmt: skip
    assert r["x"][-1] == pytest.approx(0.4, rel=1e-9)
    assert r["n"][-1] == 1


@pytest.mark.parametrize("size", [0.7, 0.93, 1.31, 2.2])
@pytest.mark.parametrize("solver", SOLVERS)
def test_roundings_change_at_both_ends_of_what_they_hold(size: float, solver: str) -> None:
    # The argument passes each whole number upwards and downwards, zero too.
    r = run(
        f"""model M Real y(start = 0, fixed = true), v(start = {3 * size}, fixed = true), q(start = 0, fixed = true);
        equation der(y) = v; der(v) = -9*y; der(q) = floor(2*y); end M;""",
        6.0, solver, 1e-9,
    )  # fmt: skip
    levels = np.arange(-9, 10) / 2
    within = levels[np.abs(levels) < size]
    rises = np.arcsin(within / size)
    instants = (np.concatenate([rises, np.pi - rises])[:, None] + 2 * np.pi * np.arange(-1, 4)) / 3
    inside = instants[(instants > 0) & (instants < 6)]
    ends = np.sort(np.concatenate([inside, [0.0, 6.0]]))
    middles = (ends[1:] + ends[:-1]) / 2
    exact = float((np.floor(2 * size * np.sin(3 * middles)) * np.diff(ends)).sum())
    assert r["q"][-1] == pytest.approx(exact, abs=1e-5)
