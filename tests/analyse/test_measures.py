"""Measures against closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest

from movrel.analyse import measures as m

T = np.linspace(0, 30, 30001)


def second_order(zeta: float, w: float = 2.0) -> np.ndarray:
    """Unit step response of w^2/(s^2 + 2 zeta w s + w^2)."""
    wd = w * math.sqrt(1 - zeta**2)
    return 1 - np.exp(-zeta * w * T) * (np.cos(wd * T) + zeta * w / wd * np.sin(wd * T))


@pytest.mark.parametrize("zeta", [0.2, 0.4, 0.6])
def test_the_step_response_of_second_order(zeta: float) -> None:
    y, w = second_order(zeta), 2.0
    wd = w * math.sqrt(1 - zeta**2)
    assert m.overshoot(T, y) == pytest.approx(
        math.exp(-math.pi * zeta / math.sqrt(1 - zeta**2)), rel=1e-5
    )
    assert m.time_of_max(T, y) == pytest.approx(math.pi / wd, abs=1e-3)
    assert m.steady(T, y) == pytest.approx(1, abs=1e-4) and m.is_steady(T, y) == 1
    late = T[np.abs(y - 1) > 0.05].max()
    assert m.settle(T, y, 0.05) == pytest.approx(late, abs=2e-3)


@pytest.mark.parametrize("zeta", [0.02, 0.1, 0.3])
def test_a_decaying_oscillation(zeta: float) -> None:
    w = 5.0
    wd = w * math.sqrt(1 - zeta**2)
    y = 3 + 2 * np.exp(-zeta * w * T) * np.cos(wd * T)
    assert m.period(T, y) == pytest.approx(2 * math.pi / wd, rel=2e-3)
    assert m.frequency(T, y) == pytest.approx(wd / 2 / math.pi, rel=2e-3)
    assert m.damping(T, y) == pytest.approx(zeta, rel=2e-2)


def test_a_first_order_lag() -> None:
    y = 1 - np.exp(-np.maximum(T - 0.5, 0) / 2)
    assert m.rise(T, y) == pytest.approx(2 * math.log(9), rel=1e-3)
    assert m.dead_time(T, y) == pytest.approx(0.5 - 2 * math.log(0.98), rel=2e-3)
    assert m.settle(T, y, 0.02) == pytest.approx(0.5 - 2 * math.log(0.02), rel=1e-3)
    assert m.overshoot(T, y) == 0


def test_the_ripple_of_a_triangle() -> None:
    """Between 1 and 4 with period 2: mean 2.5, rms by its closed form."""
    t = np.arange(0, 21.0)
    y = np.where(t % 2 == 0, 1.0, 4.0)
    assert (m.minimum(t, y), m.maximum(t, y), m.peak_to_peak(t, y), m.mean(t, y)) == (1, 4, 3, 2.5)
    assert m.rms(t, y) == pytest.approx(math.sqrt((1 + 4 + 16) / 3))
    assert m.period(t, y) == pytest.approx(2) and m.integral(t, y) == pytest.approx(50)


def test_jumps_and_windows() -> None:
    t, y = np.array([0.0, 1, 1, 2]), np.array([0.0, 0, 5, 5])
    assert m.at(t, y, 1.0) == 5 and m.at(t, y, 0.999) == 0
    assert m.integral(t, y) == 5 and m.mean(t, y) == 2.5
    assert m.crossing(t, y, 2.5) == 1
    early = m.window(t, y, None, 1.0)
    late = m.window(t, y, 1.0, 2.0)
    assert m.maximum(*early) == 0 and m.minimum(*late) == 5
    assert m.mean(*m.window(t, y, 0.5, 1.5)) == pytest.approx(2.5)


def test_crossings_are_counted_and_interpolated() -> None:
    y = np.sin(T)
    assert m.crossing(T, y, 0.5) == pytest.approx(math.pi / 6, abs=1e-6)
    assert m.crossing(T, y, 0.5, 2) == pytest.approx(5 * math.pi / 6, abs=1e-6)
    with pytest.raises(m.NotMeasurable, match="never crosses 2"):
        m.crossing(T, y, 2)


@pytest.mark.parametrize(
    "measure, y, why",
    [
        (m.period, T, "no oscillation"),
        (m.damping, np.ones_like(T), "no oscillation"),
        (m.rise, np.sin(math.pi * T / 30), "ends where it began"),
        (m.steady, T, "not at rest"),
        (lambda t, y: m.at(t, y, 40.0), T, "has no 40 s"),
        (lambda t, y: m.window(t, y, 31, 40), T, "nothing between"),
    ],
)
def test_what_cannot_be_measured_is_said(measure: object, y: np.ndarray, why: str) -> None:
    with pytest.raises(m.NotMeasurable, match=why):
        measure(T, y)  # type: ignore[operator]


def test_a_response_is_counted_from_the_event_that_it_answers_to() -> None:
    """A first-order lag with a dead time of 0.5 s and a time constant of 2 s after a step at 3 s."""
    y = 7 + 4 * (1 - np.exp(-np.maximum(T - 3.5, 0) / 2))
    events = np.array([1.0, 3.0, 3.5, 20.0])
    # What came before the curve moved: the end of the dead time is an event of its own here, a filter's would be none.
    assert m.change_instant(T, y, events) == 3.5
    begin = m.change_instant(T, y, np.array([1.0, 3.0, 20.0]))
    assert begin == 3.0
    t, after = m.window(T, y, begin, None)
    assert m.dead_time(t, after) == pytest.approx(0.5 - 2 * math.log(0.98), rel=1e-3)
    assert m.settle(t, after) == pytest.approx(0.5 - 2 * math.log(0.02), rel=1e-3)
    # What moves from the beginning answers to the beginning; what never moves, to nothing.
    assert m.change_instant(T, np.sin(T), events) == 0.0
    assert m.change_instant(T, np.ones_like(T), events) == 0.0


def test_the_highest_point_lies_between_the_points_where_the_curve_is_round() -> None:
    t = np.linspace(0.1, 6.5, 41)
    y = 2 + 3 * np.sin(t)
    assert y.max() < 4.9990
    assert m.maximum(t, y) == pytest.approx(5, abs=2e-4)
    assert m.time_of_max(t, y) == pytest.approx(math.pi / 2, abs=2e-3)
    assert m.minimum(t, y) == pytest.approx(-1, abs=2e-4)
    # At a limit and at a corner nothing is added.
    limited = np.minimum(y, 4.5)
    assert m.maximum(t, limited) == 4.5
    corner = 1 - np.abs(t - t[17])
    assert (m.maximum(t, corner), m.time_of_max(t, corner)) == (1, t[17])


def test_what_comes_back_is_no_step() -> None:
    pulse = np.exp(-((T - 5) ** 2)) + 1e-4 * T
    for measure in (m.rise, m.settle, m.dead_time, m.overshoot):
        with pytest.raises(m.NotMeasurable, match="no step"):
            measure(T, pulse)
