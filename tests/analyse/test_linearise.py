"""Linear models against closed forms, differences, and textbook margins."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.optimize import brentq

from movrel.analyse.linear_model import LinearModel
from movrel.analyse.linearise import linearise
from movrel.errors import MovrelError, RunFault
from movrel.session import LoadedModel, load
from tests.conftest import EXAMPLES

PENDULUM = """model Pendulum parameter Real g = 9.81; parameter Real L = 2; parameter Real d = 0.3; input Real tau(start=0);
output Real phi; Real w(start=0, fixed=true); Real height;
equation der(phi) = w; der(w) = -g/L*sin(phi) - d*w + tau; height = L*(1 - cos(phi)); initial equation phi = 0.2; end Pendulum;"""
MOTOR = """model Motor parameter Real R = 2; parameter Real Li = 0.5; parameter Real k = 0.1; parameter Real J = 0.02;
parameter Real b = 0.2; input Real v(start=0); output Real w; Real i(start=0, fixed=true); Real torque; Real emf;
equation Li*der(i) = v - R*i - emf; emf = k*w; torque = k*i; J*der(w) = torque - b*w; initial equation w = 0; end Motor;"""
REACTOR = """model Reactor "Exothermic stirred tank" parameter Real q = 1; parameter Real k0 = 7.2e10; parameter Real E = 8750;
input Real Tc(start=300); Real c(start=0.5, fixed=true); Real T(start=350, fixed=true); Real rate;
equation rate = k0*exp(-E/T)*c; der(c) = q*(1 - c) - rate; der(T) = q*(350 - T) + 209.2*rate + 2.09*(Tc - T); end Reactor;"""


def model(text: str) -> LoadedModel:
    return load(text=text, model=text.split()[1])


@pytest.mark.parametrize("steady", [True, False])
def test_a_pendulum(steady: bool) -> None:
    found = linearise(
        model(PENDULUM), ["tau", "L"], ["phi", "height"], None if steady else 0.0, steady
    )
    phi = 0.0 if steady else 0.2
    stiffness = 9.81 / 2 * math.cos(phi)
    assert dict(zip(found.states, found.a.tolist(), strict=True)) == {
        "phi": pytest.approx([0, 1], abs=1e-9), "w": pytest.approx([-stiffness, -0.3], rel=1e-6),
    }  # fmt: skip
    assert found.b[1] == pytest.approx([1, 9.81 / 4 * math.sin(phi)], abs=1e-6)
    assert found.c[1] == pytest.approx([2 * math.sin(phi), 0], abs=1e-6)
    if steady:
        (mode,) = found.modes()
        assert mode.frequency == pytest.approx(math.sqrt(stiffness))
        assert mode.damping == pytest.approx(0.3 / (2 * math.sqrt(stiffness)))
        assert mode.time_constant == pytest.approx(2 / 0.3)


SMALL = """model Small parameter Real R = 1e10; parameter Real C = 1e-13; parameter Real rate = 1/(R*C); parameter Real q = 1e-9;
Real x(start=0, fixed=true); Real slow(start=0, fixed=true);
equation der(x) = rate*(1 - x); 100*der(slow) = q - slow; annotation(experiment(StopTime=1)); end Small;"""


def test_small_states_and_parameters() -> None:
    # By hand: der(x) = (1 - x)/(R C), so its slope by C is -1e16 at x = 0; slow rests at q only.
    start = linearise(model(SMALL), ["C"], ["x"], 0.0)
    # The start is taken a billionth of the run later, when x is 1e-6.
    assert start.b[start.states.index("x"), 0] == pytest.approx(-1e16, rel=2e-6)
    rest = linearise(model(SMALL), ["q"], ["slow"], steady=True)
    assert rest.point["slow"] == pytest.approx(1e-9, rel=1e-6)
    assert rest.gain("q", "slow") == pytest.approx(1)


def test_a_motor() -> None:
    found = linearise(model(MOTOR), ["v"], ["w", "torque"], steady=True)
    # J L s^2 + (J R + b L) s + b R + k^2
    roots = np.roots([0.02 * 0.5, 0.02 * 2 + 0.2 * 0.5, 0.2 * 2 + 0.01])
    assert sorted(found.poles().real) == pytest.approx(sorted(roots.real))
    assert found.gain("v", "w") == pytest.approx(0.1 / 0.41)
    assert found.zeros("v", "torque").real == pytest.approx([-10])
    num, den = found.transfer("v", "w")
    assert num / den[0] == pytest.approx([0, 0, 0.1 / 0.01], abs=1e-9)
    _, y = found.step("v", "w", 5.0)
    assert y[-1] == pytest.approx(0.1 / 0.41, rel=1e-3)
    assert found.controllable() == found.observable() == 2


def test_a_reactor_against_differences() -> None:
    loaded = model(REACTOR)
    found = linearise(loaded, ["Tc"], ["rate"], steady=True)
    c, temperature = found.point["c"], found.point["T"]

    def rates(x: np.ndarray) -> np.ndarray:
        rate = 7.2e10 * math.exp(-8750 / x[1]) * x[0]
        return np.array([(1 - x[0]) - rate, (350 - x[1]) + 209.2 * rate + 2.09 * (300 - x[1])])

    x = np.array([c, temperature])
    assert np.abs(rates(x)).max() < 1e-6
    for j, step in enumerate((1e-6, 1e-4)):
        d = np.zeros(2)
        d[j] = step
        assert found.a[:, j] == pytest.approx((rates(x + d) - rates(x - d)) / (2 * step), rel=1e-5)


def test_index_reduction_and_loops_are_in_it() -> None:
    text = """model Two Movrel.Signals.SignalIn f; Movrel.Translational.DrivenForce drive; Movrel.Translational.Mass a(m=2);
    Movrel.Translational.Mass b(m=3); Movrel.Translational.Spring spring(c=20); Movrel.Translational.HeldRod ground;
    Movrel.Signals.SignalOut y;
    equation connect(f, drive.f); connect(drive.b, a.a); connect(a.b, b.a); connect(b.b, spring.a); connect(spring.b, ground.a);
    y = b.s; end Two;"""
    found = linearise(load(text=text, model="Two"), ["f"], ["y"])
    # Two rigidly joined masses are one of 5 kg on a spring.
    assert np.abs(found.poles().imag) == pytest.approx([2, 2])
    assert found.gain("f", "y") == pytest.approx(1 / 20)


def test_margins_of_textbook_loops() -> None:
    # G = 10/(s (s + 1) (s + 5)): crosses over at 1.2271 rad/s; phase crossing at sqrt(5), gain there 1/3.
    a = np.array([[0.0, 1, 0], [0, 0, 1], [0, -5, -6]])
    found = LinearModel(["x1", "x2", "x3"], ["u"], ["y"], a, np.array([[0.0], [0], [1]]), np.array([[10.0, 0, 0]]), np.zeros((1, 1)))  # fmt: skip
    margins = found.margins("u", "y")
    assert margins.gain == pytest.approx(3.0, rel=1e-6)
    assert margins.gain_at == pytest.approx(math.sqrt(5), rel=1e-6)
    w = margins.phase_at
    assert abs(10 / (1j * w * (1j * w + 1) * (1j * w + 5))) == pytest.approx(1.0)
    assert margins.phase == pytest.approx(
        180 - 90 - math.degrees(math.atan(w)) - math.degrees(math.atan(w / 5)), rel=1e-6
    )
    assert found.gain("u", "y") == math.inf
    assert not found.stable()


def test_modes_name_the_states_that_take_part_and_ranks_what_cannot_be_reached() -> None:
    a = np.diag([-1.0, -50.0, -2.0])
    found = LinearModel(["slow", "fast", "idle"], ["u"], ["y"], a, np.array([[1.0], [1], [0]]), np.array([[1.0, 0, 1]]), np.zeros((1, 1)))  # fmt: skip
    assert [list(m.states) for m in found.modes()] == [["slow"], ["idle"], ["fast"]]
    assert (found.controllable(), found.observable()) == (2, 2)


def test_the_leaf_of_the_bridge_against_its_closed_form() -> None:
    leaf = load(EXAMPLES / "VarrowQuay", model="VarrowQuay.Leaf")
    found = linearise(leaf, ["gust.scale"], ["leaf.phi"], steady=True)
    # Weights of 26 and 9 t at 2 and 6 m, a column of 2 MN.m/rad, bearings of 120 kN.m.s, 420 t.m2.
    weight = (9000 * 6 - 26000 * 2) * 9.80665
    angle = brentq(lambda p: 2e6 * (p - 0.5320913) + weight * math.cos(p), 0.3, 0.7)
    assert found.point["leaf.phi"] == pytest.approx(angle, rel=1e-9)
    poles = np.roots([420e3, 120e3, 2e6 - weight * math.sin(angle)])
    assert np.sort_complex(np.asarray(found.poles())) == pytest.approx(
        np.sort_complex(poles), rel=1e-7
    )


def test_a_component_of_it_answers_like_the_linear_model() -> None:
    found = linearise(model(MOTOR), ["v"], ["w"], steady=True)
    text = f"{found.as_component('Small')}\nmodel Test Small small; equation small.v = 2; end Test;"
    run = load(text=text, model="Test").simulate(stop=5, tolerance=1e-9)
    _, y = found.step("v", "w", 5.0)
    assert run["small.w"][-1] == pytest.approx(2 * y[-1], rel=1e-6)


def test_where_there_is_none_it_says_so() -> None:
    text = "model Edge Real x(start=0, fixed=true); equation der(x) = if time > 1 then 1 else -x; end Edge;"
    with pytest.raises(RunFault, match="just about to change"):
        linearise(load(text=text, model="Edge"), [], ["x"], at=1.0)
    runaway = "model Away Real x(start=1, fixed=true); equation der(x) = 1; end Away;"
    with pytest.raises(RunFault, match=r"no steady state.*'x'"):
        linearise(load(text=runaway, model="Away"), [], ["x"], steady=True)
    with pytest.raises(MovrelError, match="neither an input nor a parameter"):
        linearise(model(MOTOR), ["nothing"], ["w"])
    with pytest.raises(MovrelError, match="no variable 'speed'"):
        linearise(model(MOTOR), ["v"], ["speed"])
