"""Interpolation between the solver's steps."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import movrel
from movrel.simulate.dense import interpolate


@settings(max_examples=100, deadline=None)
@given(st.integers(0, 2**31), st.integers(8, 30))
def test_polynomials_of_degree_five_are_met_exactly(seed: int, count: int) -> None:
    rng = np.random.default_rng(seed)
    times = np.cumsum(rng.uniform(0.5, 2, count))
    # Steps of a solver are short against the course of what it follows; wild ones are not believed.
    coefficients = rng.normal(size=6) / np.array([1, 1, 4, 16, 64, 256])
    polynomial = np.polynomial.Polynomial(
        coefficients, domain=[times[0], times[-1]], window=[-1, 1]
    )
    at = np.sort(rng.uniform(times[0], times[-1], 50))
    found = interpolate(times, polynomial(times)[:, None], polynomial.deriv()(times)[:, None], at)[
        :, 0
    ]
    assert found == pytest.approx(polynomial(at), rel=1e-7, abs=1e-7)


def test_steps_of_very_different_length_lose_no_digits() -> None:
    times = np.array([0, 1e-9, 2e-9, 1e-4, 1.0, 1.0 + 1e-8, 3.0])
    at = np.linspace(0, 3, 1001)
    found = interpolate(times, (2 * times + 1)[:, None], np.full((len(times), 1), 2.0), at)[:, 0]
    assert found == pytest.approx(2 * at + 1, abs=1e-12)


def test_two_steps_and_several_columns() -> None:
    times = np.array([0.0, 1.0])
    values = np.array([[0.0, 1.0], [1.0, 0.0]])
    rates = np.array([[0.0, 0.0], [3.0, 0.0]])
    found = interpolate(times, values, rates, np.array([0.0, 0.5, 1.0]))
    assert found[:, 0] == pytest.approx([0, 0.125, 1]) and found[:, 1] == pytest.approx([1, 0.5, 0])


def test_rates_that_contradict_the_values_are_not_believed() -> None:
    """Near the end of an equalisation the slope of a root swings wildly while nothing moves any more."""
    times = np.linspace(0, 10, 11)
    values = np.full((11, 1), 5.0) + 1e-3 * np.sin(times)[:, None]
    rates = 400.0 * np.array([[(-1) ** k] for k in range(11)])
    found = interpolate(times, values, rates, np.linspace(0, 10, 101))
    assert np.abs(found - 5).max() < 0.01


def test_a_peak_between_two_equal_steps_stays() -> None:
    times = np.array([-3.0, -1.0, 1.0, 3.0])
    found = interpolate(times, (-(times**2))[:, None], (-2 * times)[:, None], np.array([0.0, 2.0]))
    assert found[:, 0] == pytest.approx([0.0, -4.0], abs=1e-9)


@pytest.mark.parametrize("solver", ["bdf", "dae", "radau"])
@pytest.mark.parametrize("stiffness", [1e3, 1e6, 1e9])
def test_a_stiff_variable_is_as_exact_between_steps_as_at_them(
    stiffness: float, solver: str
) -> None:
    """x follows cos(t)*z^2 by a time constant of 1/k; its rate at a step is the solver's error times k."""
    r = movrel.load(
        text=f"""model M Real x(start = 1, fixed = true), z(start = 1, fixed = true);
        equation der(x) = -{stiffness}*(x - cos(time)*z^2); der(z) = 0.01*sin(z*time); end M;"""
    ).simulate(stop=10, interval=0.003, tolerance=1e-6, solver=solver)
    followed = np.cos(r.time) * r["z"] ** 2
    slope = np.gradient(followed, r.time)
    # Radau's steps are so long here that a polynomial of degree five over three of them is off by more.
    allowed = 5e-4 if solver == "radau" else 2e-5
    assert r["x"] == pytest.approx(followed - slope / stiffness, abs=allowed)
