"""Step tests: known plants are recovered, settings agree with hand calculations, components give the same response."""

from __future__ import annotations

import numpy as np
import pytest

from movrel.analyse.controller_settings import ControllerSettings, settings_for
from movrel.analyse.step_component import step_component
from movrel.analyse.step_models import StepModel, step_models
from movrel.errors import MovrelError
from movrel.session import load

TIME = np.linspace(0.0, 400.0, 401)
LEVEL = np.where(TIME < 20, 2.0, 5.0) - np.where(TIME >= 220, 1.5, 0.0)


def first_order(gain: float, lag: float, dead: float) -> np.ndarray:
    """At rest at 20, then steps of 3 at 20 s and of -1.5 at 220 s."""
    return 20 + gain * sum(
        h * np.where(t + dead < TIME, 1 - np.exp(-(TIME - t - dead) / lag), 0.0)
        for t, h in ((20, 3.0), (220, -1.5))
    )


def of_kind(models: list[StepModel], kind: str) -> StepModel:
    return next(m for m in models if m.kind == kind)


def test_intervals_hold_the_true_values_as_often_as_they_say() -> None:
    rng = np.random.default_rng(5)
    hits = {"gain": 0, "time_constant": 0, "dead_time": 0}
    truth = {"gain": 1.4, "time_constant": 45.0, "dead_time": 12.3}
    likeliest = 0
    for _ in range(30):
        noisy = first_order(*truth.values()) + 0.1 * rng.standard_normal(len(TIME))
        models = step_models(TIME, LEVEL, noisy)
        likeliest += models[0].kind == "first order"
        intervals = of_kind(models, "first order").intervals
        for name, true in truth.items():
            hits[name] += intervals[name][0] <= true <= intervals[name][1]
    # 95 % of 30, less three standard deviations of that count.
    assert min(hits.values()) >= 25
    assert likeliest >= 27


@pytest.mark.parametrize("damping", [0.4, 1.0, 1.7])
def test_a_second_order_and_its_component(damping: float) -> None:
    plant = StepModel(
        "second order", -0.8, 7.0, 2.0, 11.0, damping, 6.0, {}, TIME, None, 0.0, []  # type: ignore[arg-type]
    )  # fmt: skip
    driven = (
        f"{step_component(plant, 'Plant')}\nmodel Driven Plant plant; equation "
        "plant.u = 2 + (if time >= 20 then 3 else 0) - (if time >= 220 then 1.5 else 0); end Driven;"
    )
    run = load(text=driven).simulate(stop=400, interval=0.5, tolerance=1e-9)
    response = np.interp(TIME, run.time, run["plant.y"])
    best = step_models(TIME, LEVEL, response)[0]
    assert best.kind == "second order"
    assert (best.gain, best.base, best.input_base) == pytest.approx((-0.8, 7.0, 2.0), rel=1e-4)
    assert (best.time_constant, best.damping, best.dead_time) == pytest.approx(
        (11.0, damping, 6.0), rel=2e-3
    )


def test_an_integrator_with_dead_time() -> None:
    filled = 3.0 * np.maximum(TIME - 30, 0) - 1.5 * np.maximum(TIME - 230, 0)
    best = step_models(TIME, LEVEL, 1 + 0.004 * filled)[0]
    assert best.kind == "integrator"
    assert (best.gain, best.base, best.dead_time) == pytest.approx((0.004, 1.0, 10.0), rel=1e-6)
    # By hand: 1/(2 k theta), 8 theta.
    setting = settings_for(best)
    assert isinstance(setting, ControllerSettings)
    assert (setting.gain, setting.integral_time) == pytest.approx((12.5, 80.0), rel=1e-5)
    run = load(
        text=f"{step_component(best, 'Tank')}\nmodel M Tank tank; equation tank.u = 3; end M;"
    ).simulate(stop=50)
    assert run["tank.y"][-1] == pytest.approx(1 + 0.004 * 1 * 50, rel=1e-5)


def test_settings_by_hand() -> None:
    best = of_kind(step_models(TIME, LEVEL, first_order(2.0, 40.0, 8.0)), "first order")
    setting = settings_for(best)
    assert isinstance(setting, ControllerSettings)
    # T/(2 K theta), min(T, 8 theta).
    assert (setting.controller, setting.gain, setting.integral_time) == (
        "PI", pytest.approx(40 / (2 * 2 * 8), rel=1e-3), pytest.approx(40, rel=1e-3)
    )  # fmt: skip


def test_what_is_no_step_test() -> None:
    still = np.full_like(TIME, 3.0)
    with pytest.raises(MovrelError, match="input stays at 3"):
        step_models(TIME, still, TIME)
    with pytest.raises(MovrelError, match="response stays at 3"):
        step_models(TIME, LEVEL, still)
    with pytest.raises(MovrelError, match="more than 100 times"):
        step_models(TIME, np.sin(TIME), TIME)
    with pytest.raises(MovrelError, match="there are 4"):
        step_models(TIME[:4], LEVEL[:4], TIME[:4])
    with pytest.raises(MovrelError, match="after the first step"):
        step_models(TIME[:24], LEVEL[:24], TIME[:24])
