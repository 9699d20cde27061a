"""A run that is taken up where it stood gives what it would have given anyway."""

from __future__ import annotations

import numpy as np
import pytest

from movrel.session import load
from movrel.simulate.recording import Listener
from movrel.simulate.trajectory import FinalState
from tests.test_kept_models import VALVES

PENDULUM = """
model Pendulum
  Real x(start = 1, fixed = true), y(start = 0), vx, vy(start = 0, fixed = true), pull;
equation
  der(x) = vx;
  der(y) = vy;
  der(vx) = pull*x;
  der(vy) = pull*y - 9.81;
  x^2 + y^2 = 1;
  annotation(experiment(StopTime = 6, Tolerance = 1e-8));
end Pendulum;
"""
#: What happens at instants and is remembered from one to the next.
COUNTER = """
model Counter
  Integer n(start = 0, fixed = true);
  discrete Real held(start = 0, fixed = true);
  Real x(start = 1, fixed = true), ramp = if time < 3.3 then time else 6.6 - time;
equation
  when sample(0.15, 0.4) then
    n = pre(n) + 1;
    held = x + 0.5*pre(held);
  end when;
  der(x) = held - x + sin(7*time);
  annotation(experiment(StopTime = 6, Interval = 0.13, Tolerance = 1e-8));
end Counter;
"""


@pytest.mark.parametrize(
    ("text", "names", "solver"),
    [
        (VALVES, ["level[1]", "p", "on"], "bdf"),
        (VALVES, ["level[1]", "p", "on"], "dae"),
        (VALVES, ["level[1]", "p", "on"], "rk4"),
        (PENDULUM, ["x", "y", "vx"], "bdf"),
        (COUNTER, ["x", "n", "held", "ramp"], "bdf"),
        (COUNTER, ["x", "n", "held", "ramp"], "rk45"),
    ],
)
def test_the_rest_of_a_run_is_as_it_was(text: str, names: list[str], solver: str) -> None:
    model = load(text=text)
    whole = model.simulate(solver=solver, tolerance=1e-8)
    stands: list[tuple[FinalState, int]] = []
    rows = 0

    def count(time: np.ndarray, _table: np.ndarray) -> None:
        nonlocal rows
        rows += len(time)

    def look(_reached: object) -> None:
        state = run.standing()
        if state is not None:
            stands.append((state, rows))

    run = model.prepare(
        solver=solver, tolerance=1e-8, listener=Listener(look, count, lambda: False, 0.0)
    )
    run.go()
    assert len(stands) > 3
    for state, stored in stands[1 :: max(1, len(stands) // 4)]:
        rest = load(text=text).prepare(solver=solver, tolerance=1e-8, resume=state).go()
        # Every row comes once: the first ones before, the others now.
        assert np.array_equal(rest.time, whole.time[stored:]) or np.allclose(
            rest.time, whole.time[stored:], atol=1e-5
        )
        for name in names:
            np.testing.assert_allclose(rest[name], whole[name][stored:], rtol=1e-4, atol=2e-5)


def test_what_has_a_past_cannot_be_taken_up() -> None:
    text = "model Late Real x(start=1, fixed=true); equation der(x) = -delay(x, 0.3); end Late;"
    seen: list[object] = []
    run = load(text=text).prepare(
        stop=2.0,
        listener=Listener(
            lambda _: seen.append(run.standing()), lambda *_: None, lambda: False, 0.0
        ),
    )
    run.go()
    assert seen and not any(seen)
