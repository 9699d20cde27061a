"""Signal parts against formulas, SciPy's linear systems and independent integrations."""

from __future__ import annotations

import math
from pathlib import Path

import numpy as np
import pytest
from scipy import signal
from scipy.integrate import solve_ivp

import movrel
from movrel.simulate.trajectory import Trajectory
from tests.library.conftest import example, run


@pytest.fixture(scope="module")
def sources() -> Trajectory:
    return example("Signals.Sources")


def test_sources_follow_their_formulas(sources: Trajectory) -> None:
    r, t = sources, sources.time
    assert r["ramp.y"] == pytest.approx(1 + 2 * np.clip((t - 1) / 3, 0, 1), abs=1e-9)
    beside = np.abs(t - 1) > 1e-9
    sine = 1 + np.where(t < 1, 0, 2 * np.sin(math.pi * (t - 1) + 0.5))
    assert r["sine.y"][beside] == pytest.approx(sine[beside], abs=1e-9)
    swept = np.where(t < 4, 0.2 * t + 0.1 * t**2, 2.4 + (t - 4))
    assert r["chirp.y"] == pytest.approx(np.sin(2 * math.pi * swept), abs=1e-8)
    assert r["straight.y"] == pytest.approx(np.interp(t, [0, 1, 3], [0, 2, 1]), abs=1e-9)
    away = np.abs((t + 0.5) % 1 - 0.5) > 1e-6  # beside its jumps
    assert r["cyclic.y"][away] == pytest.approx(np.where(t % 3 < 1, 0.0, 2.0)[away])
    for at, value in ((1, 4), (3, 2), (5, 2)):
        assert np.interp(at, t, r["smooth.y"]) == pytest.approx(value, abs=1e-6)
    calm = np.abs(t - 2) > 1e-9
    assert r["step.y"][calm] == pytest.approx(np.where(t >= 2, 3, 1)[calm]) and r[
        "steady.y"
    ] == pytest.approx(4)
    phase = (t - 0.25) % 1
    clear = np.minimum(np.minimum(phase, 1 - phase), np.abs(phase - 0.3)) > 1e-6
    assert r["pulse.y"][clear] == pytest.approx(np.where((t >= 0.25) & (phase < 0.3), 3, 1)[clear])


def test_a_set_point_moves_by_a_trapezoid(sources: Trajectory) -> None:
    """4 at no more than 1.5 per second and 1 per second squared: T = 1.5 + 4/1.5."""
    r, t = sources, sources.time
    assert r["profile.T"][0] == pytest.approx(1.5 + 4 / 1.5)
    once = np.concatenate([[True], np.diff(t) > 1e-9])
    slope = np.gradient(r["profile.y"][once], t[once])
    assert slope[5:-5] == pytest.approx(r["profile.v"][once][5:-5], abs=0.02)
    assert np.interp(0.5 + 1.5 + 4 / 1.5, t, r["profile.y"]) == pytest.approx(5, abs=1e-6)
    assert r["profile.v"].max() == pytest.approx(1.5, abs=1e-9)


def test_noise_has_its_moments_and_its_row(sources: Trajectory) -> None:
    values = []
    row = 16807 * 7 % 2147483647
    for _ in range(600):
        a = 16807 * row % 2147483647
        row = b = 16807 * a % 2147483647
        values.append(
            3
            + 0.5
            * math.sqrt(-2 * math.log(a / 2147483647))
            * math.cos(2 * math.pi * b / 2147483647)
        )
    middle = np.interp(np.arange(600) * 0.01 + 0.005, sources.time, sources["noise.y"])
    seen = sources["noise.y"][
        np.searchsorted(sources.time, np.arange(600) * 0.01 + 1e-7, side="left")
    ]
    assert len(middle) == 600 and seen == pytest.approx(values, abs=1e-9)
    assert np.mean(values) == pytest.approx(3, abs=0.1) and np.std(values) == pytest.approx(
        0.5, abs=0.05
    )
    assert example("Signals.Sources", **{"noise.seed": 8})["noise.y"][5] != sources["noise.y"][5]


def test_operations_without_memory() -> None:
    r = example("Signals.Arithmetic")
    u = r["u.y"]
    w = -0.5
    expected = {
        "gain": 3 * u, "power": u**3, "root": np.tanh(u), "absolute": abs(u), "change": 1.8 * u + 32,
        "limiter": np.clip(u, -0.5, 1.5), "product": u * w, "division": u / -0.75, "least": np.minimum(u, w),
        "largest": np.maximum(u, w), "sum": u - w, "total": 3 * u - abs(u) + w,
        "band": np.where(u > 0.5, u - 0.5, np.where(u < -1, u + 1, 0)),
    }  # fmt: skip
    for name, values in expected.items():
        assert r[f"{name}.y"] == pytest.approx(values, abs=1e-7), name
    clear = np.abs((u / 0.25 + 0.5) % 1 - 0.5) < 0.49
    assert r["quantiser.y"][clear] == pytest.approx(
        (0.25 * np.floor(u / 0.25 + 0.5))[clear], abs=1e-9
    )


@pytest.mark.parametrize(
    "f",
    [
        "sin",
        "cos",
        "tan",
        "asin",
        "acos",
        "atan",
        "exp",
        "log",
        "log10",
        "sqrt",
        "tanh",
        "square",
        "reciprocal",
    ],
)
def test_functions_of_one_variable(f: str) -> None:
    text = f"model M Movrel.Signals.Function1 p(f=Movrel.Signals.Elementary.{f}); equation p.u = 0.1 + 0.8*time; end M;"
    r = movrel.load(text=text).simulate(stop=1, interval=0.1)
    u = 0.1 + 0.8 * r.time
    numpy = {"asin": np.arcsin, "acos": np.arccos, "atan": np.arctan}.get(f) or getattr(np, f)
    assert r["p.y"] == pytest.approx(numpy(u), rel=1e-9)


def test_step_responses_are_those_of_linear_systems() -> None:
    r = example("Signals.StepResponses")
    t = r.time - 0.5
    late = t >= 0

    def close(name: str, b: list[float], a: list[float], tolerance: float = 2e-5) -> None:
        keep = np.concatenate([[True], np.diff(t[late]) > 0])
        exact = signal.step((b, a), T=np.linspace(0, 4.5, 4501))
        assert r[name][late][keep] == pytest.approx(
            np.interp(t[late][keep], *exact), abs=tolerance
        ), name

    assert r["lag.y"][late] == pytest.approx(2 * (1 - np.exp(-t[late] / 0.5)), abs=1e-5)
    wd = 4 * math.sqrt(1 - 0.25**2)
    closed = 1 - np.exp(-t[late]) * (np.cos(wd * t[late]) + 1 / wd * np.sin(wd * t[late]))
    assert r["second.y"][late] == pytest.approx(closed, abs=1e-5)
    close("transfer.y", [1, 3], [1, 2, 5])
    close("poles.y", [5, 10], [1, 2, 5])
    assert r["space.y[1]"] == pytest.approx(r["transfer.y"], abs=1e-6)
    assert r["integrator.y"][late] == pytest.approx(0.5 * t[late], abs=1e-6)
    assert r["rate.y"] == pytest.approx(np.clip(0.5 * t, 0, 1), abs=2e-3)
    beside = np.abs(t - 0.75) > 1e-6
    assert r["dead.y"][beside] == pytest.approx(np.where(t >= 0.75, 1, 0)[beside], abs=1e-9)
    assert r["derivative.y"][late][2:] == pytest.approx(np.exp(-t[late][2:] / 0.2) / 0.2, abs=1e-4)


def test_a_body_hits_its_stops_and_rests_there() -> None:
    """Acceleration 2 from 0 to a stop at 1: it arrives after one second at speed 2 and leaves with half of it."""
    r = example("Signals.Stops")
    t, x, v = r.time, r["body.y"], r["body.v"]
    assert np.interp(0.999, t, v) == pytest.approx(2, abs=0.01) and np.interp(
        1.001, t, v
    ) == pytest.approx(-1, abs=0.01)
    assert x.max() < 1 + 1e-6 and x.min() > -0.5 - 1e-6
    # Pushed back at 1.5 it flies to the lower stop and comes to rest there.
    assert x[-1] == pytest.approx(-0.5, abs=1e-5) and abs(v[-1]) < 1e-3
    limited = r["limited.y"]
    assert limited.max() == pytest.approx(1, abs=1e-6) and limited.min() == pytest.approx(
        -0.25, abs=1e-6
    )
    # It is set back to 0.5 when the ramp passes 0.5 at 3.5 s, from its lower limit.
    assert np.interp(3.499, t, limited) == pytest.approx(-0.25, abs=1e-3)
    assert np.interp(3.502, t, limited) == pytest.approx(0.5 - 0.002, abs=1e-3)


def test_logic_switches_at_the_crossings() -> None:
    r = example("Signals.Logic")
    t = r.time

    def at(name: str, when: float) -> bool:
        return bool(r[name][np.searchsorted(t, when, side="right") - 1])

    on, off = math.asin(0.5) / (2 * math.pi), 0.5 + math.asin(0.5) / (2 * math.pi)
    for name, edges in {"on.y": (on, off), "timer.y": (on + 0.2, off)}.items():
        for edge, then in zip(edges, (True, False), strict=True):
            assert at(name, edge - 2e-3) is not then and at(name, edge + 2e-3) is then, (name, edge)
    high = math.asin(0.8) / (2 * math.pi)
    assert not at("both.y", high - 2e-3) and at("both.y", high + 2e-3) and at("either.y", on + 2e-3)
    assert (
        at("latch.y", high + 2e-3) and at("latch.y", off - 2e-3) and not at("latch.y", off + 2e-3)
    )
    assert r["off.y"] == pytest.approx(1 - r["on.y"])
    assert r["switch.y"] == pytest.approx(np.where(r["latch.y"] > 0.5, 2, -1))
    counted = run(
        "Movrel.Signals.Edge p; Integer n(start=0, fixed=true); equation p.u = sin(2*3.141592653589793*time) > 0.5;"
        " when p.y then n = pre(n) + 1; end when;", 3,
    )  # fmt: skip
    assert counted["n"][-1] == 3


def test_sampled_parts_count_as_their_difference_equations() -> None:
    r = example("Signals.Sampled")
    k = np.arange(40)
    u = np.sin(math.pi * 0.1 * k)

    def after(name: str) -> np.ndarray:
        return r[name][np.searchsorted(r.time, 0.1 * k + 1e-6, side="left")]

    assert after("hold.y") == pytest.approx(u, abs=1e-9)
    assert after("sum.y")[1:] == pytest.approx(np.cumsum(2 * 0.1 * u[1:]), abs=1e-9)
    assert after("filter.y") == pytest.approx(signal.lfilter([0.2, 0.1], [1, -0.7], u), abs=1e-9)
    assert after("mean.y") == pytest.approx(signal.lfilter(np.full(5, 0.2), [1], u), abs=1e-9)


def test_controllers_with_limits_against_independent_integrations() -> None:
    r = example("Signals.ControlLoops")

    def pi(t: float, s: np.ndarray) -> list[float]:
        integral, x = s
        e = 1 - x
        free = 4 * e + integral
        y = min(max(free, 0), 1.5)
        return [4 * e / 0.8 + (y - free) / 0.4, y - x]

    def pid(t: float, s: np.ndarray) -> list[float]:
        f, integral, x, v = s
        t_f = 0.2 / 10
        rate = (0 - x - f) / t_f
        free = 6 * (1 - x) + integral + 6 * 0.2 * rate
        y = min(max(free, -3), 3)
        return [rate, 6 / 1.5 * (1 - x) + (y - free) / 0.5, v, (y - x) - 2 * v]

    for rates, start, x, column, part in (
        (pi, [0, 0], 1, "plant.y", "pi"),
        (pid, [0, 0, 0, 0], 2, "plant2.y", "pid"),
    ):
        exact = solve_ivp(
            rates, (0, 7.8), start, rtol=1e-9, atol=1e-11, max_step=0.01, dense_output=True
        )
        late = r.time >= 0.2
        assert r[column][late] == pytest.approx(exact.sol(r.time[late] - 0.2)[x], abs=2e-4), part
    assert r["pi.y"].max() == pytest.approx(1.5, abs=1e-6) and r["pid.y"].max() == pytest.approx(
        3, abs=1e-6
    )
    # They begin where they are told, without a jump.
    assert example("Signals.ControlLoops", **{"pi.y_start": 0.4})["pi.y"][0] == pytest.approx(0.4)
    y = r["plant2.y"]
    assert r["watch.mean"][-1] == pytest.approx(np.trapezoid(y, r.time) / 8, abs=1e-4)
    assert r["watch.rms"][-1] == pytest.approx(math.sqrt(np.trapezoid(y**2, r.time) / 8), abs=1e-4)
    assert r["watch.y_max"][-1] == pytest.approx(y.max(), abs=1e-4) and r["watch.y_min"][
        -1
    ] == pytest.approx(0, abs=1e-6)


def test_a_table_from_a_file_beside_the_model(tmp_path: Path) -> None:
    (tmp_path / "wind.csv").write_text("s; m/s\n0; 2\n2; 6\n4; 4\n")
    text = 'model M Movrel.Signals.FileTable p(file="wind.csv", scale=2); end M;'
    (tmp_path / "M.mo").write_text(text)
    r = movrel.load(str(tmp_path / "M.mo")).simulate(stop=5, interval=0.1)
    assert r["p.y"] == pytest.approx(2 * np.interp(r.time, [0, 2, 4], [2, 6, 4]), abs=1e-9)


def test_a_state_machine_fills_and_drains() -> None:
    """It ticks every 0.1 s; a delayed transition is taken one tick after its condition was seen."""
    r = example("Signals.Sequence")
    level, filling = r["level.y"], r["filling.active"] > 0.5
    late = r.time > 6
    assert (
        2 <= level.max() <= 2 + 0.5 * 0.2 + 1e-6
        and 0.5 - 0.25 * 0.2 - 1e-6 <= level[late].min() <= 0.5
    )
    slope = np.diff(level) / np.maximum(np.diff(r.time), 1e-12)
    moving = np.diff(r.time) > 1e-3
    assert slope[moving] == pytest.approx(np.where(filling[:-1], 0.5, -0.25)[moving], abs=1e-6)
    states = r["idle.active"] + r["filling.active"] + r["draining.active"]
    assert (states == 1).all()


def test_a_sampled_loop_against_its_recursion() -> None:
    """Between samples the process is exact: x' = (u - x)/T with u held."""
    r = example("Signals.DigitalLoop")
    assert r["process.y"][-1] == pytest.approx(1, abs=2e-3)
    samples = [float(r["controller.y"][np.searchsorted(r.time, k / 10 + 0.05)]) for k in range(80)]
    x = 0.0
    for k, u in enumerate(samples):
        assert r["process.y"][np.searchsorted(r.time, k / 10 + 1e-9) - 1] == pytest.approx(
            x, abs=2e-4
        )
        x = u + (x - u) * math.exp(-0.1)


def test_tables_clocks_and_means_give_what_they_say() -> None:
    r = run(
        "Movrel.Signals.LookUp a(table=[0, 1; 1, 3; 2, 0]); Movrel.Signals.LookUp c(table=[0, 1; 1, 3; 2, 0], smooth=true);"
        " Movrel.Signals.LookUp2 b(table=[0, 0, 2; 0, 1, 3; 4, 5, 11]); Movrel.Signals.Clock k(t_0=0.5); Movrel.Signals.VectorLength l;"
        " Movrel.Signals.Comparison g(band=0.5); Movrel.Signals.NumberDisplay n; Movrel.Signals.PeriodMean m(period=0.5);"
        " equation a.u = time; c.u = time; b.u_1 = 2; b.u_2 = time; l.u[1] = 3*time; l.u[2] = 4*time; g.u_1 = sin(3.141592653589793*time); g.u_2 = 0.5; n.u = time;"
        " m.u = 2 + sin(4*3.141592653589793*time);", 3, 0.05, tolerance=1e-8,
    )  # fmt: skip
    t = r.time
    assert r["a.y"] == pytest.approx(np.interp(t, [0, 1, 2], [1, 3, 0]))
    assert [float(r["c.y"][np.argmin(np.abs(t - x))]) for x in (0, 1, 2.5)] == pytest.approx(
        [1, 3, 0]
    )
    assert r["b.y"] == pytest.approx(np.interp(t, [0, 2], [3, 7]))
    assert r["k.y"] == pytest.approx(t - 0.5) and r["l.y"] == pytest.approx(5 * t)
    assert r["n.shown"] == pytest.approx(t)
    late = t > 0.55
    assert r["m.y"][late] == pytest.approx(np.full(late.sum(), 2), abs=1e-4)
    switched = t[1:][np.diff(np.asarray(r["g.y"], float)) != 0]
    assert switched == pytest.approx([1 / 6, 1, 2 + 1 / 6, 3][: len(switched)], abs=0.06)


def test_a_double_integrator_has_no_stops_that_nobody_set() -> None:
    r = run("Movrel.Signals.DoubleIntegrator i; equation i.u = 2;", 5, 0.5)
    assert r["i.y"] == pytest.approx(r.time**2, rel=1e-5)
