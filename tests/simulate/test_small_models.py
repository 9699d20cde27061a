"""A dozen small models, each for one ability of the pipeline, against closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel
from movrel.errors import LookupFault, MovrelError, RunFault, StructureFault, TypeFault
from movrel.simulate.trajectory import Trajectory

CIRCUIT = """
package Circuit
  connector Pin Real v(unit="V"); flow Real i(unit="A"); end Pin;
  partial model TwoPin Pin p, n; Real v; equation v = p.v - n.v; p.i + n.i = 0; end TwoPin;
  model Resistor extends TwoPin; parameter Real R = 1; equation v = R*p.i; end Resistor;
  model Capacitor extends TwoPin(v(start = 0, fixed = true)); parameter Real C = 1; equation C*der(v) = p.i; end Capacitor;
  model Source extends TwoPin; parameter Real V = 1; equation v = V; end Source;
  model Ground Pin p; equation p.v = 0; end Ground;
"""


def run(text: str, stop: float = 1.0, **settings: float) -> Trajectory:
    return movrel.load(text=text).simulate(
        stop=stop, interval=stop / 50, tolerance=1e-9, set=settings
    )


def test_decay() -> None:
    r = run(
        "model M parameter Real k = 2; Real x(start = 3, fixed = true); equation der(x) = -k*x; end M;",
        2,
    )
    assert r["x"] == pytest.approx(3 * np.exp(-2 * r.time), rel=1e-7)


def test_balance_as_derived_with_both_factors_varying() -> None:
    """der(V*c) = ... with V and c both states: c follows from the product, V grows linearly."""
    r = run(
        """model M Real V(start = 1, fixed = true); Real c(start = 0, fixed = true);
        equation der(V) = 2; der(V*c) = 2*5; end M;""", 3,
    )  # fmt: skip
    volume = 1 + 2 * r.time
    assert r["V"] == pytest.approx(volume, rel=1e-9)
    assert r["c"] == pytest.approx(10 * r.time / volume, abs=1e-7)


def test_nesting_extends_and_modification() -> None:
    r = run(
        """package P
          partial model Lag parameter Real T = 1; parameter Real k = 1; Real y(start = 0, fixed = true); Real u;
          equation T*der(y) + y = k*u; end Lag;
          model Twice extends Lag(k = 2); end Twice;
          model Pair Twice a(T = 0.5); Twice b(T = a.T*2, k = 3); Real u; equation a.u = u; b.u = a.y; end Pair;
          model M Pair pair(b(k = 4)); equation pair.u = 1; end M;
        end P;""", 8,
    )  # fmt: skip
    assert r["pair.a.y"] == pytest.approx(2 * (1 - np.exp(-r.time / 0.5)), abs=1e-7)
    # Two lags in series of 0.5 s and 1 s, gain 2 * 4.
    exact = 8 * (1 - 2 * np.exp(-r.time) + np.exp(-2 * r.time))
    assert r["pair.b.y"] == pytest.approx(exact, abs=1e-6)


def test_connectors_with_flow() -> None:
    r = run(
        CIRCUIT
        + """model M Source s(V = 10); Resistor r1(R = 2), r2(R = 3); Capacitor c(C = 0.1); Ground g;
        equation connect(s.p, r1.p); connect(r1.n, r2.p); connect(r2.n, c.p); connect(c.n, s.n); connect(s.n, g.p);
        end M; end Circuit;""", 2,
    )  # fmt: skip
    assert r["c.v"] == pytest.approx(10 * (1 - np.exp(-r.time / 0.5)), abs=1e-7)
    assert r["s.p.i"] == pytest.approx(-r["r1.p.i"], rel=1e-12)
    assert np.all(r["g.p.i"] == 0)


def test_a_linear_loop_is_solved() -> None:
    """A bridge of five resistors has no order in which its voltages follow one by one."""
    r = run(
        CIRCUIT
        + """model M Source s(V = 10); Resistor a(R = 1), b(R = 2), c(R = 3), d(R = 4), e(R = 5); Ground g;
        equation connect(s.p, a.p); connect(s.p, c.p); connect(a.n, b.p); connect(c.n, d.p); connect(b.n, s.n);
        connect(d.n, s.n); connect(a.n, e.p); connect(c.n, e.n); connect(s.n, g.p); end M; end Circuit;"""
    )
    conductance = np.array([[1 + 1 / 2 + 1 / 5, -1 / 5], [-1 / 5, 1 / 3 + 1 / 4 + 1 / 5]])
    left, right = np.linalg.solve(conductance, [10.0, 10 / 3])
    assert r["a.n.v"][-1] == pytest.approx(left, rel=1e-12)
    assert r["c.n.v"][-1] == pytest.approx(right, rel=1e-12)


def test_a_nonlinear_loop_is_solved() -> None:
    r = run(
        "model M Real x(start = 1); Real y(start = 1); equation x^2 + y^2 = 1 + time; y = x*exp(-x*y); end M;",
        2,
    )
    assert r["x"] ** 2 + r["y"] ** 2 == pytest.approx(1 + r.time, rel=1e-9)
    assert r["y"] == pytest.approx(r["x"] * np.exp(-r["x"] * r["y"]), rel=1e-9)


def test_parameters_by_expression_follow_a_changed_one() -> None:
    text = """model M parameter Real D = 0.1; parameter Real A = D^2*3; final parameter Real B = 2*A;
    Real x(start = B, fixed = true); equation der(x) = 0; end M;"""
    assert run(text)["x"][0] == pytest.approx(0.06)
    assert run(text, D=0.2)["x"][0] == pytest.approx(0.24)
    assert run(text, A=1.0)["x"][0] == pytest.approx(2.0)


def test_if_expressions_switch_at_the_crossing() -> None:
    r = run(
        "model M Real x(start = 0, fixed = true); equation der(x) = if x < 1 then 2 else 0.5; end M;",
        2,
    )
    exact = np.where(r.time < 0.5, 2 * r.time, 1 + 0.5 * (r.time - 0.5))
    assert r["x"] == pytest.approx(exact, abs=1e-8)
    assert [e.time for e in r.events] == pytest.approx([0.5], abs=1e-9)


def test_aliases_keep_their_signs() -> None:
    r = run(
        """model M Real a, b, c, d; Real x(start = 1, fixed = true);
        equation der(x) = -x; a = x; b + a = 0; c = -b; d = 3; end M;"""
    )
    assert (
        np.array_equal(r["b"], -r["x"]) and np.array_equal(r["c"], r["x"]) and np.all(r["d"] == 3)
    )


def test_arrays_loops_and_array_functions() -> None:
    r = run(
        """model M parameter Integer n = 4; parameter Real w[n] = {i^2 for i in 1:n}; Real x[n](each start = 1, each fixed = true);
        Real total = sum(x); Real last = x[end]; Real dot = w*x;
        equation for i in 1:n loop der(x[i]) = -i*x[i]; end for; end M;"""
    )
    exact = np.array([np.exp(-i * r.time) for i in range(1, 5)])
    assert r["total"] == pytest.approx(exact.sum(axis=0), rel=1e-7)
    assert r["last"] == pytest.approx(exact[3], rel=1e-6)
    assert r["dot"] == pytest.approx(
        (np.array([1, 4, 9, 16])[:, None] * exact).sum(axis=0), rel=1e-7
    )


def test_initial_equations_find_a_steady_start() -> None:
    r = run(
        """model M Real x, y; initial equation der(x) = 0; der(y) = 0;
        equation der(x) = 2 - x*y; der(y) = x - 0.5*y; end M;"""
    )
    assert r["x"] == pytest.approx(np.ones_like(r.time), abs=1e-6)
    assert r["y"] == pytest.approx(2 * np.ones_like(r.time), abs=1e-6)


def test_a_structural_parameter_leads_to_another_system() -> None:
    text = "model M parameter Integer n = 2; Real x[n](each start = 1, each fixed = true); equation der(x) = -x; end M;"
    assert "x[3]" not in run(text).names
    assert "x[3]" in run(text, n=3).names


def test_a_bouncing_mass_on_a_stiff_floor_keeps_its_energy() -> None:
    r = run(
        """model M parameter Real k = 1e5; Real h(start = 1, fixed = true); Real v(start = 0, fixed = true);
        Real energy = v^2/2 + 9.81*h + (if h < 0 then k*h^2/2 else 0);
        equation der(h) = v; der(v) = -9.81 + (if h < 0 then -k*h else 0); end M;""", 3,
    )  # fmt: skip
    assert r["energy"] == pytest.approx(9.81 * np.ones_like(r.time), rel=1e-5)
    first = math.sqrt(2 / 9.81)
    assert r.events[0].time == pytest.approx(first, rel=1e-7)


def test_stored_points_between_solver_steps_are_as_good_as_the_steps() -> None:
    model = movrel.load(
        text="model M Real x(start=1,fixed=true), v(start=0,fixed=true); equation der(x)=v; der(v)=-x; end M;"
    )
    for solver in ("bdf", "adams"):
        r = model.simulate(stop=20, interval=0.01, tolerance=1e-9, solver=solver)
        assert np.abs(r["x"] - np.cos(r.time)).max() < 3e-7


def test_many_states_use_the_sparse_solver() -> None:
    """Heat rod with 80 cells and cold ends: the first mode decays at its exact rate."""
    r = run(
        """model M parameter Integer n = 80; constant Real pi = 3.141592653589793;
        Real T[n](start = {sin(pi*i/(n + 1)) for i in 1:n}, each fixed = true);
        equation der(T[1]) = -2*T[1] + T[2]; for i in 2:n-1 loop der(T[i]) = T[i-1] - 2*T[i] + T[i+1]; end for;
        der(T[n]) = T[n-1] - 2*T[n]; end M;""", 200,
    )  # fmt: skip
    rate = 2 * (1 - math.cos(math.pi / 81))
    assert r["T[40]"] == pytest.approx(
        math.sin(math.pi * 40 / 81) * np.exp(-rate * r.time), rel=1e-5
    )


@pytest.mark.parametrize(
    ("text", "kind", "words"),
    [
        (
            "model M Real x; equation der(y) = 1; end M;",
            LookupFault,
            "text.mo:1:30: no variable 'y' is known here",
        ),
        ("model M Reel x; end M;", LookupFault, "Did you mean 'Real'?"),
        ("model M Real x; equation x = 1; x = 2; end M;", StructureFault, "given twice"),
        ("model M Real x, y; equation x = 1; end M;", StructureFault, "no equation determines y"),
        (
            "model M Real x, y, z; equation x + y = 1; x - y = 2; x*y = 3; end M;",
            StructureFault,
            "x, y",
        ),
        (
            "model M Real x[2] = {1, 2, 3}; equation end M;",
            TypeFault,
            "3 elements where 2 are needed",
        ),
        ("model M Real x[2]; equation x = {1, 2, 3}; end M;", TypeFault, "sizes [2] and [3]"),
        ("model M parameter Real p; Real x = p; end M;", StructureFault, "'p' has no value"),
        (
            "model M parameter Real p = q; parameter Real q = p; Real x = p; end M;",
            StructureFault,
            "p → q → p",
        ),
        ("model M Real x = 1/0; end M;", TypeFault, "division by zero"),
        ("model M Boolean b = 3; end M;", TypeFault, "Boolean"),
        ("model M Real x = true; end M;", TypeFault, "Real"),
        ("model M Real x(start = 1, stat = 2); end M;", LookupFault, "no attribute 'stat'"),
        ("model M algorithm x := 1; end M;", LookupFault, "'x' cannot be assigned here"),
        (
            "model M Real x; equation when x > 1 then x + 1 = 2; end when; end M;",
            TypeFault,
            "must be a variable",
        ),
        (
            "model M Real x, y; equation der(x) = 1; der(y) = 2; x + y = 1; end M;",
            StructureFault,
            "'x + y = 1'",
        ),
        ("partial model M end M;", LookupFault, "'M' is partial"),
        ("model M extends M; end M;", MovrelError, "M"),
        ("model M M m; end M;", MovrelError, "contains itself"),
        ("model M parameter Real p(min = 0) = -1; Real x = p; end M;", StructureFault, "minimum"),
    ],
)
def test_what_is_wrong_or_not_yet_possible_is_said(
    text: str, kind: type[MovrelError], words: str
) -> None:
    with pytest.raises(kind) as fault:
        run(text)
    assert words in fault.value.sentence()


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("model M Real x = sqrt(1 - time); end M;", "'x' is not a finite number at 2 s"),
        ("model M Real x(start = 1, fixed = true); equation der(x) = -1; assert(x > 0.5, \"too low\"); end M;", "too low"),
        ("model M Real x(start = 1); equation x^2 + 1 = 0; end M;", "no solution"),
        ("model M Real x(start=1,fixed=true); equation der(x) = x^2; end M;", "could not go on at 0.99"),
    ],
)  # fmt: skip
def test_runs_that_fail_say_where_and_why(text: str, words: str) -> None:
    with pytest.raises(RunFault) as fault:
        movrel.load(text=text).simulate(stop=4, interval=2)
    assert words in fault.value.sentence()


def test_a_crossing_right_after_an_event_is_not_overlooked() -> None:
    """At x = 0 the slope turns round; the relation must follow the sign of x, not its value at the event."""
    r = run(
        """model M Real x(start = 1, fixed = true); Real up; equation der(x) = if time < 1 then -1 else 1;
        up = if x > 0 then 1 else 0; end M;""", 3,
    )  # fmt: skip
    assert r["x"][-1] == pytest.approx(2, abs=1e-8)
    assert r["up"][-1] == 1


def test_what_a_sampling_sets_is_foreseen_until_the_next_one() -> None:
    """A saw against a level taken once a second from a state: its crossing is met exactly, as a time event."""
    text = """model M Real x(start=2, fixed=true); discrete Real d(start=0, fixed=true); Integer n(start=-1, fixed=true); Real saw, y;
    equation der(x) = -0.1*x; when sample(0, 1) then d = 0.2 + 0.2/x; n = pre(n) + 1; end when;
    saw = time - n; y = if saw < d then 1 else 0; end M;"""
    r = movrel.load(text=text).simulate(stop=3, interval=0.01, tolerance=1e-9)
    crossings = [e.time for e in r.events if e.cause == "saw < d"]
    assert crossings == pytest.approx(
        [k + 0.2 + 0.1 * math.exp(0.1 * k) for k in range(3)], abs=1e-8
    )
    assert r.statistics.state_events == 0


def test_a_step_that_ends_next_to_an_event_goes_on() -> None:
    # Radau's second step ends one floating-point number before the sampling, which is shorter than SciPy would step.
    found = movrel.load(
        text="""model M Real x(start=-0.413, fixed=true); Real y; discrete Real s(start=0, fixed=true);
    Integer n(start=0, fixed=true);
    equation 1.467*y + 2.314*sinh(y) = -0.945*x + 0.893*sin(7.698*time); when y > 0.2 then n = pre(n) + 1; end when;
    when sample(0.007, 0.358) then s = x; end when; der(x) = -1.244*x + 0.845*sin(3.475*time) + 0.342*y + 0.212*s; end M;"""
    )
    runs = [found.simulate(stop=4, solver=s, tolerance=1e-8) for s in ("radau", "rk45")]
    assert runs[0]["x"][-1] == pytest.approx(runs[1]["x"][-1], abs=1e-7)
    assert runs[0]["n"][-1] == runs[1]["n"][-1] > 2
