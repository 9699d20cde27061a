"""Runs as a whole: the same again, in pieces, watched, stopped, with every solver."""

from __future__ import annotations

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError, RunCancelled
from movrel.simulate.options import FIXED_STEP, SOLVERS
from movrel.simulate.recording import Listener, Progress

HYBRID = """model Hybrid
  Real x(start = 0, fixed = true), v(start = 2, fixed = true), q(start = 0.5); Integer n(start = 0, fixed = true); discrete Real u(start = 0, fixed = true);
  parameter Real k = 40;
equation
  der(x) = v; der(v) = -k*x + u; q^3 + q = x + 1;
  when sample(0.05, 0.1) then u = 3*sin(5*time); end when;
  when x > 0.2 then n = pre(n) + 1; reinit(v, 0.9*pre(v)); end when;
end Hybrid;"""

PENDULUM = """model Pendulum Real x(start = 1, fixed = true), y(start = 0), vx, vy(start = 0, fixed = true), F;
equation der(x) = vx; der(y) = vy; der(vx) = -F*x; der(vy) = -F*y - 9.81; x^2 + y^2 = 1; end Pendulum;"""


@pytest.mark.parametrize("text", [HYBRID, PENDULUM])
@pytest.mark.parametrize("solver", list(SOLVERS))
def test_the_same_run_gives_the_same_bytes(text: str, solver: str) -> None:
    step = 1e-3 if solver in FIXED_STEP else None
    model = movrel.load(text=text)
    one = model.simulate(stop=1, interval=0.01, solver=solver, step=step)
    two = model.simulate(stop=1, interval=0.01, solver=solver, step=step)
    fresh = movrel.load(text=text).simulate(stop=1, interval=0.01, solver=solver, step=step)
    for other in (two, fresh):
        assert one.time.tobytes() == other.time.tobytes()
        assert one.table.tobytes() == other.table.tobytes()
        assert one.events == other.events


@pytest.mark.parametrize("solver", list(SOLVERS))
def test_every_solver_agrees_with_a_sharp_run(solver: str) -> None:
    model = movrel.load(text=HYBRID)
    exact = model.simulate(stop=2, interval=0.1, tolerance=1e-11)
    first_order = solver in ("euler", "implicit-euler")

    def end(step: float) -> np.ndarray:
        r = model.simulate(stop=2, interval=0.1, tolerance=1e-8, solver=solver, step=step)
        assert r["n"][-1] == exact["n"][-1] > 0
        return np.array([r[name][-1] for name in "xvq"])

    # A method of first order is led to its limit by Richardson's extrapolation.
    reached = 2 * end(1e-4) - end(2e-4) if first_order else end(1e-3)
    assert reached == pytest.approx(
        [exact[name][-1] for name in "xvq"], abs=5e-3 if first_order else 2e-5
    )


def test_going_on_from_the_end_of_a_run() -> None:
    model = movrel.load(text=HYBRID)
    whole = model.simulate(stop=2, interval=0.1, tolerance=1e-9)
    first = model.simulate(stop=0.97, interval=0.1, tolerance=1e-9)
    second = model.simulate(stop=2, interval=0.1, tolerance=1e-9, go_on=first)
    assert second.time[0] == pytest.approx(0.97)
    for name in ("x", "v", "q", "n", "u"):
        assert second[name][-1] == pytest.approx(whole[name][-1], abs=1e-6)


def test_only_a_finished_run_can_be_continued() -> None:
    model = movrel.load(
        text='model M Real x(start = 1, fixed = true); equation der(x) = -x; assert(x > 0.5, "too low"); end M;'
    )
    run = model.prepare(stop=2)
    with pytest.raises(MovrelError, match="too low"):
        run.go()
    with pytest.raises(MovrelError, match="did not reach its end"):
        model.simulate(stop=3, go_on=run.partial())


def test_a_run_is_watched_and_its_rows_arrive_in_order() -> None:
    rows: list[np.ndarray] = []
    seen: list[Progress] = []
    listener = Listener(progress=seen.append, chunk=lambda t, table: rows.append(t), period=0.0)
    r = movrel.load(text=HYBRID).simulate(stop=20, interval=0.001, listener=listener)
    assert np.array_equal(np.concatenate(rows), r.time)
    times = [p.time for p in seen]
    assert times == sorted(times) and len(seen) > 3
    assert (
        all(0 <= p.step <= 20 for p in seen)
        and any(p.step > 0 for p in seen)
        and seen[-1].events <= len(r.events)
    )
    assert max(p.events for p in seen) > 0


def test_the_size_of_steps_is_told_while_a_run_goes_on() -> None:
    seen: list[Progress] = []
    text = "model M Real x(start=1, fixed=true), v(start=0, fixed=true); equation der(x) = v; der(v) = -25*x; end M;"
    r = movrel.load(text=text).simulate(
        stop=1500, interval=1, tolerance=1e-9, listener=Listener(progress=seen.append, period=0.0)
    )
    mean = 1500 / r.statistics.steps
    sizes = [p.step for p in seen if p.time > 100]
    # An oscillation is gone through in steps of one size.
    assert len(sizes) > 20 and 0.7 * mean < np.median(sizes) < 1.4 * mean
    assert [p.time for p in seen] == sorted(p.time for p in seen)


def test_a_run_can_be_stopped_and_keeps_what_it_has() -> None:
    asked: list[int] = []

    def stopped() -> bool:
        asked.append(1)
        return len(asked) > 5

    run = movrel.load(text=HYBRID).prepare(
        stop=1000, listener=Listener(stopped=stopped, period=0.0)
    )
    with pytest.raises(RunCancelled):
        run.go()
    part = run.partial()
    assert 0 < part.final_time < 1000 and not part.complete and len(part.time) > 5


def test_statistics_count_what_happened() -> None:
    r = movrel.load(text=HYBRID).simulate(stop=2, interval=0.1)
    assert r.statistics.time_events == 20
    assert r.statistics.state_events >= r["n"][-1] > 0
    assert r.statistics.evaluations >= r.statistics.steps > 0
    assert set(r.statistics.seconds) >= {"start", "integration"}


def test_both_sides_of_an_event_are_stored() -> None:
    r = movrel.load(text="model M Real x(start = 0, fixed = true); equation der(x) = 1; when time > 0.5 then reinit(x, 5); end when; end M;"
                    ).simulate(stop=1, interval=0.3)  # fmt: skip
    at = np.nonzero(np.isclose(r.time, 0.5, atol=1e-12))[0]
    assert list(r["x"][at]) == pytest.approx([0.5, 5.0])


def test_a_longest_step_is_kept() -> None:
    model = movrel.load(
        text="model M Real x(start = 1, fixed = true); equation der(x) = -0.001*x; end M;"
    )
    assert model.simulate(stop=10, step=0.05).statistics.steps >= 200
    with pytest.raises(MovrelError, match="positive step"):
        model.simulate(stop=1, step=-1)
