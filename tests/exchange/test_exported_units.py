"""Exported units: driven by an importer of foreign hand under sanitizers, and run alone, against the core's own runs."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import numpy.typing as npt
import pytest

import movrel
from movrel.errors import MovrelError
from movrel.exchange.fmi.export import Exported, export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.exchange.fmi.run_unit import UnitOptions, UnitRun, run_unit
from movrel.fmi.archive import open_unit
from movrel.fmi.description import Interface
from movrel.fmi.unit_process import UnitFault
from tests.exchange.importing import Importer, states_of

Array = npt.NDArray[np.float64]

BALL = """model Ball parameter Real e = 0.7; parameter Real g(unit="m/s2") = 9.81; output Real h(start=1, fixed=true);
  Real v(start=0, fixed=true); discrete Integer count(start=0, fixed=true);
equation der(h) = v; der(v) = -g;
  when h <= 0 then reinit(v, -e*pre(v)); count = pre(count) + 1; end when; annotation(experiment(StopTime=2)); end Ball;"""
SAMPLED = """model Sampled "A controller in steps of 0.1 s" parameter Real k = 2; output Real y(start=0, fixed=true); discrete Real u(start=0, fixed=true);
  Boolean late; Integer n(start=0, fixed=true);
equation der(y) = u - y; late = time > 0.55; when sample(0.05, 0.1) then u = k*(1 - y) + (if late then 1 else 0); n = pre(n) + 1; end when;
  annotation(experiment(StopTime=1)); end Sampled;"""
STIFF = """model Robertson "Three species (Robertson 1966)" output Real a(start=1, fixed=true); Real b(start=0, fixed=true, nominal=1e-4); Real c;
equation der(a) = -0.04*a + 1e4*b*c; der(b) = 0.04*a - 1e4*b*c - 3e7*b^2; a + b + c = 1;
  annotation(experiment(StopTime=40, Tolerance=1e-7)); end Robertson;"""
LOOPS = """model Loops "A diode, a linear loop and a table" parameter Real R = 100; output Real v; Real i; Real p; Real q; Real w(start=0, fixed=true);
  parameter Real t[:] = {0, 1, 4, 9};
equation i = 1e-9*(exp(v/0.025) - 1); sin(3*time) + 1.5 = R*i + v; 2*p + q = w; p - 3*q = i; der(w) = t[2] - w + p;
  annotation(experiment(StopTime=1)); end Loops;"""
ROUNDED = """model Rounded output Real x(start=0.3, fixed=true); Real y; Integer n; Real m;
equation der(x) = 1 + 0.5*sin(x); n = integer(2*x); y = x - n/2; m = mod(time*3, 1); annotation(experiment(StopTime=2)); end Rounded;"""
ENDING = """model Ending output Real x(start=0, fixed=true); equation der(x) = 1;
  when x > 0.505 then terminate("far enough"); end when; annotation(experiment(StopTime=1)); end Ending;"""
ARRAYS = """model Arrays parameter Real k[3] = {1, 2, 3}; output Real T[3](start={3, 2, 1}, each fixed=true); Real q[2];
equation for i in 1:3 loop der(T[i]) = -k[i]*T[i]; end for; for i in 1:2 loop q[i] = T[i + 1] - T[i]; end for; end Arrays;"""
NO_STATE = """model NoState output Real y; Boolean b; equation b = sin(6*time) > 0.5; y = if b then 1 else time; end NoState;"""
LATE = """model Late "A feedback that comes late, and a pulse that comes out of two pipes one behind the other"
  parameter Real T = 0.3; output Real x(start=1, fixed=true); Real gust; Real y; Real far; Real z(start=0, fixed=true);
equation der(x) = -3*delay(x, T); gust = if time > 0.15 and time < 0.35 then 1 + x else 0; y = delay(gust, 0.2);
  far = delay(2*y + gust, 0.1); der(z) = far - z; annotation(experiment(StopTime=1, Tolerance=1e-7)); end Late;"""
CLOCKED = """model Clocked "A sampled controller, one that ticks at times of its own and one that waits for a condition"
  output Real x(start=0, fixed=true); Clock c = Clock(0.1); Real s = 1 - sample(x, c); Real i(start=0) = previous(i) + interval(s)*s/0.4;
  Integer n(start=0); Integer k(start=0); Real dt(start=0); equation der(x) = -x + hold(2*(s + i)); when Clock(n, 10) then n = previous(n) + 1; end when;
  when Clock(x > 0.2*(1 + hold(k))) then k = previous(k) + 1; dt = interval(); end when; annotation(experiment(StopTime=1)); end Clocked;"""
PENDULUM = """model Pendulum "In positions, against a wall" parameter Real L = 2; Real x(start=1.2, fixed=true); output Real y(start=-1.6);
  Real vx(start=0, fixed=true); Real vy; Real T; Integer hits(start=0, fixed=true);
equation der(x) = vx; der(y) = vy; der(vx) = -T*x; der(vy) = -T*y - 9.81; x^2 + y^2 = L^2;
  when x < -0.5 then reinit(vx, -0.8*vx); hits = pre(hits) + 1; end when; annotation(experiment(StopTime=4, Tolerance=1e-8)); end Pendulum;"""
DEAD_BAND = """model DeadBand "What becomes exactly zero" output Real x(start=1, fixed=true); Real y(start=0, fixed=true); Real z(start=0, fixed=true);
  Boolean pressed; Boolean free; equation der(x) = -1; pressed = max(x - 0.6, 0) > 0; free = min(x - 0.3, 0) >= 0; der(y) = if pressed then 1 else 0;
  der(z) = if free then 1 else 0; annotation(experiment(StopTime=1)); end DeadBand;"""
JUMPING = """model Jumping "Rates that jump at the first instant" output Real x(start=0, fixed=true); equation der(x) = -x + sign(time);
  annotation(experiment(StopTime=1)); end Jumping;"""
DOUBLE = """model Double Real x1(start=0.8, fixed=true); output Real y1(start=0.6); output Real x2(start=0.8, fixed=true); Real y2(start=1.6);
  Real u1(start=0, fixed=true); Real v1; Real u2(start=0, fixed=true); Real v2; Real S; Real T;
equation der(x1) = u1; der(y1) = v1; der(x2) = u2; der(y2) = v2; x1^2 + y1^2 = 1; (x2 - x1)^2 + (y2 - y1)^2 = 1;
  der(u1) = -S*x1 + T*(x2 - x1); der(v1) = -S*y1 + T*(y2 - y1) - 9.81; der(u2) = -T*(x2 - x1); der(v2) = -T*(y2 - y1) - 9.81; end Double;"""
MODELS = {
    text.split()[1]: text
    for text in (
        BALL,
        SAMPLED,
        STIFF,
        LOOPS,
        ROUNDED,
        ENDING,
        ARRAYS,
        NO_STATE,
        LATE,
        CLOCKED,
        PENDULUM,
        DEAD_BAND,
        JUMPING,
    )
}


def made(text: str, version: int = 3, **choices: object) -> Exported:
    return export_unit(movrel.load(text=text), ExportOptions(version=version, **choices))  # type: ignore[arg-type]


def run_alone(exported: Exported, folder: Path, interface: Interface, **options: object) -> UnitRun:
    path = folder / f"unit{exported.description.version}.fmu"
    path.write_bytes(exported.archive)
    return run_unit(open_unit(path), UnitOptions(interface=interface, **options))  # type: ignore[arg-type]


@pytest.fixture(scope="module")
def exported() -> dict[tuple[str, int], Exported]:
    return {}


@pytest.mark.parametrize("version", [2, 3])
@pytest.mark.parametrize("name", MODELS)
def test_an_importer_of_foreign_hand_gets_what_the_core_computes(
    name: str, version: int, importer: Importer
) -> None:
    text = MODELS[name]
    unit = made(text, version, platforms=())
    core = movrel.load(text=text)
    stop = core.flat.experiment.stop
    names = [v.name for v in unit.description.variables if v.kind == "Real" and v.causality in ("output", "local") and v.count == 1
             and v.variability != "constant" and not v.name.startswith(("eventIndicator", "der("))]  # fmt: skip
    # The importer has an explicit method in fixed steps: what is stiff or jumps is beyond it in model exchange.
    for kind in ("cs",) if name in ("Robertson", "Jumping") else ("cs", "me"):
        rows = importer.run(unit, kind, names, stop=stop, step=stop / 40)
        reference = core.simulate(interval=stop / 40, tolerance=1e-9)
        at = np.searchsorted(reference.time, rows[:, 0] - 1e-9 * stop)
        smooth = (
            np.abs(reference.time[np.minimum(at, len(reference.time) - 1)] - rows[:, 0])
            <= 1e-9 * stop
        )
        assert smooth.all() or name == "Ending"
        for k, variable in enumerate(names, 1):
            expected = reference[variable][at[smooth]]
            # At an instant with an event the core has both sides; any of them will do.
            after = reference[variable][
                np.minimum(
                    np.searchsorted(reference.time, rows[smooth, 0] + 1e-9 * stop) - 1,
                    len(reference.time) - 1,
                )
            ]
            size = max(np.ptp(reference[variable]), 1e-3)
            error = np.minimum(np.abs(rows[smooth, k] - expected), np.abs(rows[smooth, k] - after))
            assert error.max() < 2e-5 * size, (kind, variable, error.max(), size)


@pytest.mark.parametrize("version", [2, 3])
@pytest.mark.parametrize("name", ["Robertson", "Loops", "Rounded"])
def test_derivatives_in_a_direction_agree_with_differences(
    name: str, version: int, importer: Importer
) -> None:
    unit = made(MODELS[name], version, platforms=())
    d = unit.description
    states = states_of(d)
    unknowns = [v.name for v in d.variables if v.kind == "Real" and (v.name.startswith("der(") or (v.variability == "continuous" and v.causality in ("output", "local") and v.count == 1 and not v.name.startswith("event")))]  # fmt: skip
    rows = importer.run(unit, "derive", [*states, *unknowns])
    assert len(rows) == len(states) * len(unknowns)
    slope, difference, adjoint = rows.T
    assert np.abs(slope).max() > 0.01
    assert slope == pytest.approx(difference, rel=1e-4, abs=1e-6 * np.abs(slope).max())
    assert adjoint == pytest.approx(slope, rel=1e-12, abs=1e-12 * np.abs(slope).max())


def test_the_solver_inside_is_of_order_four(tmp_path: Path) -> None:
    """A linear stiff pair: the error falls with the tolerance, as the closed form says."""
    text = """model Pair output Real a(start=1, fixed=true); Real b(start=0, fixed=true);
      equation der(a) = -a + sin(5*time); der(b) = 1000*(a - b); annotation(experiment(StopTime=3)); end Pair;"""
    unit = made(text)
    errors = []
    for tolerance in (1e-4, 1e-6, 1e-8):
        found = run_alone(unit, tmp_path, "cs", tolerance=tolerance, interval=0.1)
        t = found.time
        exact = (1 + 5 / 26) * np.exp(-t) + (np.sin(5 * t) - 5 * np.cos(5 * t)) / 26
        errors.append(np.abs(found["a"] - exact).max())
    assert errors[0] < 1e-3
    assert errors[1] < 1e-5
    assert errors[2] < 1e-7
    assert errors[2] < errors[0] / 1000


def test_fixed_steps_are_of_order_four(tmp_path: Path) -> None:
    text = "model Wave output Real x(start=0, fixed=true); Real v(start=1, fixed=true); equation der(x) = v; der(v) = -x; end Wave;"
    errors = []
    for step in (0.1, 0.05):
        found = run_alone(made(text, solver="fixed", step=step), tmp_path, "cs", interval=0.2)
        errors.append(np.abs(found["x"] - np.sin(found.time)).max())
    assert 12 < errors[0] / errors[1] < 20


def test_bounces_happen_when_a_hand_calculation_says(tmp_path: Path) -> None:
    found = run_alone(made(BALL), tmp_path, "me", tolerance=1e-10, stop=1.5)
    first = math.sqrt(2 / 9.81)
    second = first * (1 + 2 * 0.7)
    jumps = found.time[1:][(np.diff(found.time) == 0) & (np.diff(found["v"]) > 0.5)]
    assert jumps[:2] == pytest.approx([first, second], abs=1e-8)


@pytest.mark.parametrize("interface", ["me", "cs"])
def test_double_pendulum_in_positions_keeps_lengths_and_energy(
    interface: Interface, tmp_path: Path
) -> None:
    run = run_alone(made(DOUBLE), tmp_path, interface, stop=20.0, tolerance=1e-8)
    x1, y1, x2, y2, u1, v1, u2, v2 = (
        run[n] for n in ("x1", "y1", "x2", "y2", "u1", "v1", "u2", "v2")
    )
    assert np.abs(x1**2 + y1**2 - 1).max() < 1e-5
    assert np.abs((x2 - x1) ** 2 + (y2 - y1) ** 2 - 1).max() < 1e-5
    energy = 9.81 * (y1 + y2) + (u1**2 + v1**2 + u2**2 + v2**2) / 2
    assert np.ptp(energy) < 1e-4 * 9.81 * 4
    assert x2.min() < -1 and x2.max() > 1  # it swings through


def test_parameters_and_start_values_are_set_and_inputs_follow(tmp_path: Path) -> None:
    text = """model Tank parameter Real A(unit="m2", min=0) = 2; parameter Real B = 2*A; input Real q(unit="m3/s"); output Real h(unit="m", start=1, fixed=true);
      input Boolean open; Real out; equation A*der(h) = q - out; out = if open then 0.1*h else 0; end Tank;"""
    for version in (2, 3):
        unit = made(text, version)
        for interface in ("me", "cs"):
            found = run_alone(
                unit, tmp_path, interface, values={"A": 4.0, "h": 3.0}, interval=0.01,
                inputs={"q": lambda t: 2.0, "open": lambda t: 0.0},
            )  # fmt: skip
            assert np.abs(found["h"] - (3 + found.time / 2)).max() < 1e-9
        assert unit.description.by_name()["B"].causality == "calculatedParameter"
    with pytest.raises(MovrelError, match="must be at least 0 m2"):
        run_alone(unit, tmp_path, "cs", values={"A": -1.0})
    with pytest.raises(MovrelError, match="a calculated parameter; it cannot be set"):
        run_alone(unit, tmp_path, "cs", values={"B": 1.0})


def test_a_step_beyond_the_instant_is_dropped_when_an_input_changes(tmp_path: Path) -> None:
    text = """model Lag input Real u; output Real x(start=0, fixed=true); Boolean high(start=false, fixed=true);
      equation der(x) = (u - x)/0.2; when x > 0.75 then high = true; end when; end Lag;"""
    for version in (2, 3):
        run = run_alone(
            made(text, version), tmp_path, "cs", interval=0.05,
            inputs={"u": lambda t: float(0.475 < t < 0.725)},
        )  # fmt: skip
        rise = 1 - np.exp(-np.clip(run.time - 0.5, 0, 0.25) / 0.2)
        exact = rise * np.exp(-np.clip(run.time - 0.75, 0, None) / 0.2)
        assert np.abs(run["x"] - exact).max() < 1e-4
        assert run["x"].max() == pytest.approx(1 - math.exp(-1.25), rel=1e-4)  # 0.7135
        assert not run["high"].any()  # with the input kept it would have passed 0.75


def test_messages_are_those_that_were_chosen() -> None:
    everything = made(BALL, 2)
    assert set(everything.description.log_categories) == {
        "logEvents", "logSteps", "logStatusWarning", "logStatusError",
    }  # fmt: skip
    few = made(BALL, 2, log=("events",))
    assert set(few.description.log_categories) == {"logEvents", "logStatusError"}
    assert few.description.token != everything.description.token


@pytest.mark.parametrize("version", [2, 3])
def test_a_unit_says_what_it_was_asked_for(version: int, importer: Importer) -> None:
    def said(unit: Exported, *categories: str) -> list[str]:
        return importer.messages(unit, categories, stop=0.6, step=0.1)

    unit = made(BALL, version, platforms=())
    assert said(unit) == []
    bounced = [line for line in said(unit, "logEvents") if "'h <= 0' became true" in line]
    assert len(bounced) == 1 and "at 0.451524 s" in bounced[0]  # sqrt(2/9.81)
    assert any("a step from 0 s to" in line for line in said(unit, "logSteps"))
    quiet = made(BALL, version, platforms=(), log=("warnings",))
    assert "there is no log category 'logEvents'." in said(quiet, "logEvents")[0]


def test_an_assertion_is_the_units_own_sentence(tmp_path: Path) -> None:
    text = """model Full Real h(start=0, fixed=true); equation der(h) = 1; assert(h < 0.5, "the tank runs over"); end Full;"""
    for interface in ("me", "cs"):
        with pytest.raises(MovrelError, match="the tank runs over"):
            run_alone(made(text), tmp_path, interface)


def test_arrays_are_arrays_in_version_3_and_scalars_in_version_2() -> None:
    three, two = (made(ARRAYS, version, platforms=()).description for version in (3, 2))
    by_name = three.by_name()
    assert by_name["T"].sizes == (3,)
    assert by_name["T"].start == [3.0, 2.0, 1.0]
    assert by_name["der(T)"].derivative_of == by_name["T"].reference
    assert by_name["k"].sizes == (3,)
    assert by_name["q"].sizes == (2,)
    assert len(three.derivatives) == 1
    assert {"T[1]", "T[2]", "T[3]", "der(T[3])"} <= set(two.by_name())
    assert len(two.derivatives) == 3


def test_dependencies_are_exact_with_their_kinds() -> None:
    text = """model Deps parameter Real k = 2; input Real u; input Real w; output Real y; output Real z; output Real d; Real x(start=0, fixed=true); discrete Real s(start=1, fixed=true);
      equation der(x) = k*u; y = 3*x; z = w*w + x; when sample(0.1, 0.1) then s = pre(s) + 1; end when; d = s*x; end Deps;"""
    for version in (2, 3):
        d = made(text, version, platforms=()).description
        at = {v.name: v.reference for v in d.variables}
        found = {u.reference: u.dependencies for u in (*d.outputs, *d.derivatives)}
        assert found[at["y"]] == {at["x"]: "constant"}
        assert found[at["z"]] == {at["w"]: "dependent", at["x"]: "constant"}
        assert found[at["d"]] == {at["x"]: "discrete"}
        assert found[at["der(x)"]] == {at["u"]: "fixed"}


def test_a_sealed_unit_tells_nothing_of_its_inside(tmp_path: Path) -> None:
    unit = made(LOOPS, 3, sealed=True, parameters=frozenset({"R"}), outputs=frozenset({"p"}))
    names = {v.name for v in unit.description.variables}
    assert names == {"time", "R", "v", "p", "state", "der(state)"}
    assert unit.description.by_name()["p"].causality == "output"
    path = tmp_path / "sealed.fmu"
    path.write_bytes(unit.archive)
    assert not [n for n in open_unit(path).files if n.startswith("sources/")]
    assert run_alone(unit, tmp_path, "cs").table.shape[0] > 10


@pytest.mark.parametrize("interface", ["me", "cs"])
@pytest.mark.parametrize("version", [2, 3])
def test_a_delay_gives_the_solution_by_the_method_of_steps(
    interface: Interface, version: int, tmp_path: Path
) -> None:
    unit = made(
        "model D output Real x(start=1, fixed=true); equation der(x) = -delay(x, 1); end D;",
        version,
    )
    found = run_alone(unit, tmp_path, interface, stop=5.0, interval=0.1, tolerance=1e-9)

    def exact(t: float) -> float:
        return sum((-1) ** k * (t - (k - 1)) ** k / math.factorial(k) for k in range(int(t) + 2))

    expected = np.array([exact(t) for t in found.time])
    assert np.abs(found["x"] - expected).max() < 1e-5


def test_a_delay_time_is_a_parameter_and_must_be_positive(tmp_path: Path) -> None:
    unit = made(
        "model D parameter Real T = 0.5; output Real y; equation y = delay(time^2, T); end D;", 2
    )
    found = run_alone(unit, tmp_path, "cs", stop=2.0, interval=0.1, values={"T": 0.25})
    assert np.abs(found["y"] - np.maximum(found.time - 0.25, 0) ** 2).max() < 1e-9
    with pytest.raises(UnitFault, match="a delay time is -1 s; it must be positive"):
        run_alone(unit, tmp_path, "cs", stop=2.0, values={"T": -1.0})


def test_what_cannot_be_a_unit_is_refused_in_words() -> None:
    with pytest.raises(MovrelError, match="no parameter 'Q' to stay visible"):
        made(LOOPS, parameters=frozenset({"Q"}))
    with pytest.raises(MovrelError, match="no variable 'r' to become an output"):
        made(LOOPS, outputs=frozenset({"r"}))
    with pytest.raises(MovrelError, match="no compiler for 'win64'"):
        made(LOOPS, platforms=("win64",))
