"""States at rest with given values, opened loops and large steps against closed forms; every example against differences."""

from __future__ import annotations

import math

import numpy as np
import pytest
import scipy

from movrel.analyse.balance import Rest
from movrel.analyse.large_steps import step_response
from movrel.analyse.linear_model import LinearModel
from movrel.analyse.linearise import linear_at, linearise, operating_point
from movrel.analyse.opened_loop import OpenedLoop
from movrel.errors import MovrelError, RunFault
from movrel.session import LoadedModel, load
from tests.conftest import EXAMPLES

PENDULUM = """model Pendulum parameter Real L = 2; parameter Real d = 0.3; input Real tau(start=0); Real phi(start=0.1, fixed=true);
Real w(start=0, fixed=true); equation der(phi) = w; der(w) = -9.81/L*sin(phi) - d*w + tau; end Pendulum;"""
LIFT = """model Lift parameter Real F = 1; parameter Real m = 12; Real over; Real s(start=0, fixed=true); Real v(start=0, fixed=true);
equation v = der(s); m*der(v) = F - m*9.81 - 3*v; over = s - 1; end Lift;"""
SHAFT = """model Shaft parameter Real M = 3; Real phi(start=0, fixed=true); Real w(start=0, fixed=true);
equation der(phi) = w; 2*der(w) = M - 0.5*w - 0.02*w^2; end Shaft;"""
#: G(s) = 10/(s (s + 1) (s + 5)) about a gain of K.
LOOP = """model Loop parameter Real K = 1; Movrel.Signals.Constant target(value=0.5); Movrel.Signals.Sum error(k_2=-1); Movrel.Signals.Gain control(k=K);
Movrel.Signals.Integrator drive(k=2); Movrel.Signals.Lag first; Movrel.Signals.Lag second(T=0.2);
equation connect(target.y, error.u_1); connect(second.y, error.u_2); connect(error.y, control.u); connect(control.y, drive.u);
connect(drive.y, first.u); connect(first.y, second.u); annotation(experiment(StopTime=20)); end Loop;"""


def model(text: str) -> LoadedModel:
    return load(text=text, model=text.split()[1])


def test_an_input_is_found_that_holds_a_value() -> None:
    found = linearise(model(PENDULUM), ["tau"], ["phi"], rest=Rest({"phi": 0.7}, ("tau",)), at=0.0)
    assert found.point["tau"] == pytest.approx(9.81 / 2 * math.sin(0.7), rel=1e-8)
    assert found.a[1] == pytest.approx([-9.81 / 2 * math.cos(0.7), -0.3], rel=1e-8)
    assert max(abs(rate) for rate in found.rates.values()) < 1e-6


def test_an_unstable_point_and_one_without_a_restoring_force_are_found() -> None:
    upright = linearise(model(PENDULUM), [], ["w"], rest=Rest({"phi": 3.0}, ("tau",)), at=0.0)
    assert not upright.stable() and upright.point["tau"] == pytest.approx(9.81 / 2 * math.sin(3.0))
    # The load falls unless the force is its weight: no run leads there.
    lift = linearise(model(LIFT), ["F"], ["s"], rest=Rest({"over": 1.5}, ("F",)), at=0.0)  # fmt: skip
    assert lift.point["F"] == pytest.approx(12 * 9.81) and lift.point["s"] == pytest.approx(2.5)  # fmt: skip


def test_a_shaft_may_go_on_turning() -> None:
    freely = linearise(model(SHAFT), [], ["w"], rest=Rest({"w": 5.0}, ("M",)))
    assert freely.point["M"] == pytest.approx(3.0) and "phi may go on" in freely.notes[0]
    found = linearise(model(SHAFT), ["M"], ["w"], rest=Rest({"w": 5.0}, ("M",), ("phi",)))
    assert found.point["M"] == pytest.approx(0.5 * 5 + 0.02 * 25)
    assert found.rates["phi"] == pytest.approx(5) and found.rates["w"] == pytest.approx(0, abs=1e-7)
    assert found.a[found.states.index("w")].tolist()[-1] == pytest.approx(-(0.5 + 0.04 * 5) / 2)


def test_what_cannot_be_at_rest_is_named() -> None:
    with pytest.raises(RunFault, match=r"in which 'phi' is 0\.7|'w' goes on changing"):
        linearise(model(PENDULUM), [], ["w"], rest=Rest({"phi": 0.7}, ("d",)), at=0.0)
    with pytest.raises(MovrelError, match="2 inputs are to be found for 1"):
        linearise(model(PENDULUM), [], ["w"], rest=Rest({"phi": 0.7}, ("d", "tau")))
    with pytest.raises(MovrelError, match="no state 'angle'"):
        linearise(model(PENDULUM), [], ["w"], rest=Rest(moving=("angle",)))


@pytest.mark.parametrize("at", ["control.y", "error.u_2", "second.y", "drive.u"])
def test_a_loop_opened_at_any_wire_is_the_textbook_one(at: str) -> None:
    loop = OpenedLoop(model(LOOP), at)
    closed = linearise(loop.loaded, [loop.disturbance], [loop.source], steady=True)
    opened = loop.opened(closed)
    (u,), (y,) = opened.inputs, opened.outputs
    w = np.geomspace(0.01, 100, 40)
    s = 1j * w
    assert opened.response(u, y, w) == pytest.approx(10 / (s * (s + 1) * (s + 5)), rel=1e-7)
    margins = opened.margins(u, y)
    assert margins.gain == pytest.approx(3.0, rel=1e-5)
    assert margins.phase == pytest.approx(
        90 - math.degrees(math.atan(margins.phase_at) + math.atan(margins.phase_at / 5)), rel=1e-5
    )
    assert closed.point["second.y"] == pytest.approx(0.5), (
        "the operating point is that of the whole"
    )


def test_there_must_be_a_wire_with_a_signal() -> None:
    with pytest.raises(MovrelError, match=r"no wire at 'control\.k'"):
        OpenedLoop(model(LOOP), "control.k")
    with pytest.raises(MovrelError, match="carries no signal"):
        OpenedLoop(load(EXAMPLES / "VarrowQuay", model="VarrowQuay.OilCooler"), "shell.a.T")


def test_a_root_locus_crosses_where_the_gain_margin_says() -> None:
    a = np.array([[0.0, 1, 0], [0, 0, 1], [0, -5, -6]])
    g = LinearModel(["x1", "x2", "x3"], ["u"], ["y"], a, np.array([[0.0], [0], [1]]), np.array([[10.0, 0, 0]]), np.zeros((1, 1)))  # fmt: skip
    gains = np.array([0.0, 1.0, 2.9, 3.0, 3.1])
    poles = g.root_locus("u", "y", gains)
    for k, gain in enumerate(gains):
        roots = np.roots([1, 6, 5, 10 * gain])
        assert sorted(poles[k], key=lambda p: (p.real, p.imag)) == pytest.approx(
            sorted(roots.astype(complex), key=lambda p: (p.real, p.imag)), abs=1e-6
        )
    assert poles[2].real.max() < 0 < poles[4].real.max()
    assert poles[3].real.max() == pytest.approx(0, abs=1e-9)
    assert np.abs(np.diff(poles[1:], axis=0)).max() < 1.0, "each along its branch"
    t, y = g.impulse("u", "y", 30.0, 3001)
    _, step = g.step("u", "y", 30.0, 3001)
    assert scipy.integrate.cumulative_trapezoid(y, t) == pytest.approx(step[1:], abs=1e-4)


def test_a_narrow_peak_does_not_fall_between_frequencies() -> None:
    a = np.array([[0.0, 1], [-1, -2e-5]])
    found = LinearModel(["x", "v"], ["u"], ["y"], a, np.array([[0.0], [1]]), np.array([[1e-3, 0]]), np.zeros((1, 1)))  # fmt: skip
    w = found.frequencies("u", "y", 1.0, 50)
    assert np.abs(found.response("u", "y", w)).max() == pytest.approx(1e-3 / 2e-5, rel=1e-6)
    # It crosses 1 on both sides of the peak: |G| = 1 at w^2 = 1 +- 1e-3 nearly.
    margins = found.margins("u", "y")
    assert margins.phase_at == pytest.approx(math.sqrt(1 + 1e-3), rel=1e-5)


def test_small_steps_agree_with_the_linear_model_and_large_ones_with_the_own_run() -> None:
    loaded = model(PENDULUM)
    point = operating_point(loaded, {}, rest=Rest({"phi": 0.7}, ("tau",)), at=0.0)
    linear = linear_at(loaded, point, ["tau", "L"], ["phi"], {})
    for name in ("tau", "L"):
        t, y = linear.step(name, "phi", 20.0, 201)
        small = step_response(loaded, point, {}, name, 1e-3, ["phi"], t).deviations["phi"]
        assert small == pytest.approx(1e-3 * y, abs=1e-6)
    large = step_response(loaded, point, {}, "tau", -3.0, ["phi"], t).deviations["phi"]
    text = PENDULUM.replace("tau(start=0)", f"tau(start={point.trimmed['tau'] - 3})")
    own = model(text.replace("phi(start=0.1", "phi(start=0.7")).simulate(stop=20, interval=0.1, tolerance=1e-9)  # fmt: skip
    assert large == pytest.approx(own["phi"] - 0.7, abs=1e-4)


def _examples() -> list[str]:
    names = [p.stem for p in sorted((EXAMPLES / "VarrowQuay").glob("*.mo"))]
    return [
        n
        for n in names
        if n not in ("package", "LiftRig", "TugGearbox", "OneSpeedGearbox", "TugOneSpeed")
    ]


@pytest.mark.parametrize("name", _examples())
def test_the_linear_models_of_the_examples_against_differences(name: str) -> None:
    loaded = load(EXAMPLES / "VarrowQuay", model=f"VarrowQuay.{name}")
    experiment = loaded.flat.experiment
    span = experiment.stop - experiment.start
    parameters = [
        v.name for v in loaded.flat.parameters()
        if v.variability == "parameter" and v.type == "Real" and not v.final and not v.structural
    ][:2]  # fmt: skip
    if not loaded.ordered.states:
        pytest.skip("it has no states")
    outputs = [
        v.name for v in loaded.system.solved if v.type == "Real" and not v.name.startswith("der(")
    ][:3]
    for share in (0.011, 0.017, 0.023):
        try:
            point = operating_point(loaded, {}, experiment.start + share * span)
            linear = linear_at(loaded, point, parameters, outputs, {})
            break
        except RunFault as fault:
            assert "just about to change" in fault.message
    machine, t, x = point.machine, point.time, point.states
    seen = [machine.position[v] - len(x) for v in machine.system.solved if v.name in outputs]

    def both(states: np.ndarray) -> np.ndarray:
        rates = np.array(machine.rates(t, states)[: len(x)])
        return np.concatenate([rates, np.array(machine.row(t, states, None))[seen]])

    exact = np.vstack([linear.a, linear.c])
    size = np.where(point.sizes > 0, point.sizes, 1.0)
    largest = np.maximum(np.abs(exact * size).max(axis=1), 1e-9 * np.abs(both(x)))
    # What is locked moves by rounding only.
    locked = largest <= 1e-12 * largest.max()
    largest[locked] = 1e-6 * largest.max()
    for j in range(len(x)):
        step = np.zeros(len(x))
        step[j] = 1e-6 * size[j]
        slope = (both(x + step) - both(x - step)) / (2 * step[j])
        assert slope * size[j] / largest == pytest.approx(
            exact[:, j] * size[j] / largest, abs=2e-4
        ), linear.states[j]


def test_a_steady_motion_is_a_steady_state_where_the_rest_is_at_rest() -> None:
    found = linearise(model(SHAFT), ["M"], ["w"], steady=True)
    assert 0.5 * found.point["w"] + 0.02 * found.point["w"] ** 2 == pytest.approx(3)
    assert found.notes == ["phi goes on changing, at a steady rate."]
    # The angle counts on, which is nothing to the way from torque to speed.
    assert found.gain("M", "w") == pytest.approx(1 / (0.5 + 0.04 * found.point["w"]))
    assert len(found.transfer("M", "w")[1]) == 2 and found.observable() == 1


def test_limits_of_inputs_hold_and_counted_quantities_go_on() -> None:
    sump = load(EXAMPLES / "VarrowQuay", model="VarrowQuay.Sump")
    rest = Rest({"basin.level": 0.8}, ("outlet.diameter",))
    found = linearise(sump, ["outlet.diameter"], ["basin.level"], rest=rest)
    # The inflow leaves through the opening: V = C_d A sqrt(2 g h); the square has a negative root, too.
    inflow = found.rates["harbour.discharged"]
    area = inflow / (0.62 * math.sqrt(2 * 9.81 * 0.8))
    assert found.point["outlet.diameter"] == pytest.approx(math.sqrt(4 * area / math.pi), rel=1e-3)
    assert found.notes == ["harbour.discharged may go on changing: nothing depends on it."]
