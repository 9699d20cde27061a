"""The master against exact discrete maps, closed forms and the same rig solved as one model."""

from __future__ import annotations

import os

import numpy as np
import numpy.typing as npt
import pytest
from scipy.linalg import expm

from movrel.couple.step_check import step_check
from movrel.errors import RunFault
from movrel.session import LoadedModel
from tests.couple.rigs import OSCILLATORS, loaded, prepared, run

Array = npt.NDArray[np.float64]
M1, C1, D1, M2, C2, D2, CC, DC = 1.0, 10.0, 0.2, 2.0, 5.0, 0.1, 4.0, 0.3


@pytest.fixture(scope="module")
def oscillators() -> LoadedModel:
    return loaded(OSCILLATORS, "Oscillators")


def held_step(a: Array, b: Array, h: float) -> tuple[Array, Array]:
    """The exact step of x' = a x + b u with u held."""
    n, m = a.shape[0], b.shape[1]
    whole = expm(h * np.block([[a, b], [np.zeros((m, n + m))]]))
    return whole[:n, :n], whole[:n, n:]


def step_map(h: float, sequential: bool) -> Array:
    """One communication step of both oscillators, inputs held: what a correct master computes."""
    a1 = np.array([[0, 1], [-C1 / M1, -D1 / M1]])
    a2 = np.array([[0, 1], [-(C2 + CC) / M2, -(D2 + DC) / M2]])
    f1, g1 = held_step(a1, np.array([[0], [1 / M1]]), h)
    f2, g2 = held_step(a2, np.array([[0, 0], [CC / M2, DC / M2]]), h)
    force = np.array([[-CC, -DC, CC, DC]])  # of the states (x1, w1, x2, w2)
    first = np.eye(4)
    first[:2] = np.hstack([f1, np.zeros((2, 2))]) + g1 @ force
    seen = first[:2] if sequential else np.eye(4)[:2]
    whole = first.copy()
    whole[2:] = np.hstack([np.zeros((2, 2)), f2]) + g2 @ seen
    return whole


@pytest.mark.parametrize("order", ["parallel", "sequential"])
def test_every_step_is_the_exact_discrete_one(oscillators: LoadedModel, order: str) -> None:
    h = 0.05
    found = run(oscillators, {"order": order, "step": h}, interval=h)
    x = np.array([1.0, 0, 0, 0])
    for k in range(101):
        row = [found[n][k] for n in ("one.x", "one.w", "other.x", "other.w")]
        assert np.abs(np.array(row) - x).max() < 1e-6
        x = step_map(h, order == "sequential") @ x


@pytest.mark.parametrize("order", ["parallel", "sequential"])
def test_the_limit_of_stability_is_where_the_step_map_has_it(
    oscillators: LoadedModel, order: str
) -> None:
    def radius(h: float) -> float:
        return float(np.abs(np.linalg.eigvals(step_map(h, order == "sequential"))).max())

    steps = np.linspace(0.005, 0.6, 1200)
    unstable = steps[[radius(h) > 1 for h in steps]]
    limit = float(unstable[0])
    for h, grows in ((0.7 * limit, False), (1.4 * limit, True)):
        found = run(oscillators, {"order": order, "step": h}, stop=400 * h, interval=h)
        early, late = np.abs(found["one.x"][:100]).max(), np.abs(found["one.x"][-100:]).max()
        assert (late > early) == grows, (order, h, limit, radius(h))


@pytest.mark.parametrize("order", ["parallel", "sequential"])
@pytest.mark.parametrize(("inputs", "expected"), [("held", 1.0), ("extrapolated", 2.0)])
def test_convergence_is_of_the_order_of_the_method(
    oscillators: LoadedModel, order: str, inputs: str, expected: float
) -> None:
    exact = oscillators.simulate(tolerance=1e-11, interval=0.1)
    errors = []
    for step in (0.02, 0.01, 0.005):
        found = run(oscillators, {"order": order, "inputs": inputs, "step": step}, interval=0.1)
        errors.append(np.abs(found["one.x"] - exact["one.x"]).max())
    found_order = np.log2(errors[0] / errors[2]) / 2
    assert found_order == pytest.approx(expected, abs=0.3)


def test_a_variable_step_keeps_its_error(oscillators: LoadedModel) -> None:
    exact = oscillators.simulate(tolerance=1e-11, interval=0.001)
    errors, steps = [], []
    for error in (1e-3, 1e-5):
        found = run(
            oscillators, {"inputs": "extrapolated", "error": error, "step": 0.05}, interval=0.1
        )
        at = np.interp(found.time, exact.time, exact["one.x"])
        errors.append(np.abs(found["one.x"] - at).max())
        steps.append(found.statistics.steps)
    assert errors[0] < 0.03
    assert errors[1] < errors[0] / 5
    assert steps[1] > 2 * steps[0]


def test_power_that_appears_is_measured() -> None:
    # An oscillator gives its speed and gets the force of a spring: in each held step the spring has the speed of the
    # step's beginning, so energy appears that no part has.
    text = """
    model Mass Movrel.Signals.SignalIn f(unit="N"); Movrel.Signals.SignalOut v(unit="m/s"); Real w(start=1, fixed=true);
    equation der(w) = f; v = w; end Mass;
    model Spring Movrel.Signals.SignalIn v(unit="m/s"); Movrel.Signals.SignalOut f(unit="N"); Real s(start=0, fixed=true);
    equation der(s) = v; f = -s; end Spring;
    model Rig Mass mass; Spring spring; equation connect(mass.v, spring.v); connect(spring.f, mass.f);
    annotation(experiment(StopTime=6.283, Tolerance=1e-9), __Movrel(rig=Rig(step=0.01))); end Rig;
    """
    prepared_run = prepared(loaded(text, "Rig"), interval=0.01)
    found = prepared_run.go()
    assert prepared_run.master is not None
    (balance,) = prepared_run.master.power.balances()
    # What the two parts store at the end, less what was there at the start.
    gained = 0.5 * found["mass.w"][-1] ** 2 + 0.5 * found["spring.s"][-1] ** 2 - 0.5
    assert balance.created == pytest.approx(gained, rel=0.02)
    assert balance.created > 0.01
    assert any("appeared in the coupling" in m for m in found.messages)


def test_half_the_step_tells_whether_it_is_small_enough(oscillators: LoadedModel) -> None:
    coarse = step_check(prepared(oscillators, {"step": 0.04}, interval=0.1))
    fine = step_check(prepared(oscillators, {"step": 0.01}, interval=0.1))
    assert {d.source for d in coarse} == {"one.s", "one.v", "other.f"}
    assert coarse[0].largest == max(d.largest for d in coarse)
    assert fine[0].largest == pytest.approx(coarse[0].largest / 4, rel=0.3)
    assert 0 <= coarse[0].mean < coarse[0].largest


LOOP = """
block Half parameter Real k = 0.5; Movrel.Signals.SignalIn u; Movrel.Signals.SignalOut y; equation y = k*u + time; end Half;
model Loop Half a; Half b(k=-3); Movrel.Signals.Gain gain(k=2);
equation connect(a.y, gain.u); connect(gain.y, b.u); connect(b.y, a.u);
annotation(experiment(StopTime=1), __Movrel(rig=Rig(step=0.1))); end Loop;
"""


def test_a_loop_is_named_and_solved() -> None:
    found = run(loaded(LOOP, "Loop"), interval=0.1)
    # a = 0.5 b + t, b = -6 a + t: a = 1.5 t / 4, although going round multiplies by -3.
    assert np.abs(found["a.y"] - 1.5 * found.time / 4).max() < 1e-7
    assert any("depend on each other" in m and "a → b → gain" in m for m in found.messages)


def test_a_loop_without_a_solution_is_refused() -> None:
    with pytest.raises(RunFault, match="do not settle"):
        run(loaded(LOOP.replace("Half b(k=-3)", "Half b(k=1)"), "Loop"))


def test_units_may_take_several_steps_at_once(oscillators: LoadedModel) -> None:
    exact = oscillators.simulate(tolerance=1e-11, interval=0.1)
    found = run(oscillators, {"multiples": {"other": 5}, "step": 0.002}, interval=0.1)
    slow = run(oscillators, {"step": 0.01}, interval=0.1)
    error, slow_error = (np.abs(r["one.x"] - exact["one.x"]).max() for r in (found, slow))
    assert 0.2 * slow_error < error < 1.5 * slow_error
    at_each = run(oscillators, {"multiples": {"other": 5}, "step": 0.01}, interval=0.01)
    # What a slow unit gives changes when its step is over, every fifth time.
    changes = np.flatnonzero(np.diff(at_each["other.x"]) != 0) + 1
    assert set(changes % 5) == {0}


def test_signals_are_converted_between_units() -> None:
    text = """
    model From Movrel.Signals.SignalOut y(unit="kN"); equation y = 2 + time; end From;
    model To Movrel.Signals.SignalIn u(unit="N"); Real x(start=0, fixed=true); equation der(x) = u; end To;
    model Heat Movrel.Signals.SignalOut y(unit="degC"); equation y = 20; end Heat;
    model Warm Movrel.Signals.SignalIn u(unit="K"); Real x; equation x = u; end Warm;
    model Rig From a; To b; Heat c; Warm d; equation connect(a.y, b.u); connect(c.y, d.u);
    annotation(experiment(StopTime=1), __Movrel(rig=Rig(step=0.01, inputs="extrapolated"))); end Rig;
    """
    found = run(loaded(text, "Rig"), interval=0.1)
    assert found["b.u"][-1] == pytest.approx(3000)
    assert found["b.x"][-1] == pytest.approx(2500, rel=1e-3)
    assert found["d.u"][-1] == pytest.approx(293.15)


def test_runs_give_identical_bits(oscillators: LoadedModel) -> None:
    times = 1000 if os.environ.get("MOVREL_FULL") else 10
    first = run(oscillators, {"step": 0.05}).table.tobytes()
    assert all(run(oscillators, {"step": 0.05}).table.tobytes() == first for _ in range(times))


def test_a_constant_is_turned_while_it_runs() -> None:
    text = """
    model Lag Movrel.Signals.SignalIn u; Movrel.Signals.SignalOut y; Real x(start=0, fixed=true);
    equation der(x) = u - x; y = x; end Lag;
    model Rig Movrel.Signals.Constant hand(value=1); Lag lag; equation connect(hand.y, lag.u);
    annotation(experiment(StopTime=2, Tolerance=1e-9), __Movrel(rig=Rig(step=0.01))); end Rig;
    """
    watched = prepared(loaded(text, "Rig"), interval=0.01)

    def poll(t: float) -> None:
        if abs(t - 1.0) < 1e-9:
            watched.turn("hand.value", 3.0)

    watched.control.poll = poll
    found = watched.go()
    at_one = 1 - np.exp(-1)
    expected = 3 - (3 - at_one) * np.exp(-1)
    assert found["lag.y"][-1] == pytest.approx(expected, abs=1e-6)
    assert [e.cause for e in found.events] == ["hand.value turned to 3"]
