"""Profiles and bootstraps of fitted values, against sums of squares by hand and the known spread of means."""

from __future__ import annotations

import numpy as np
import pytest
import scipy
from scipy.optimize import brentq

from movrel.analyse.fit import Fit, FitOptions
from movrel.analyse.fit_intervals import bootstrap, profile
from movrel.analyse.fit_samples import Uncertain, drawn
from movrel.analyse.free_parameter import Free
from movrel.analyse.measured_model import MeasuredData
from movrel.errors import MovrelError
from movrel.session import load

DECAY = """model Decay parameter Real k = 1; parameter Real offset = 0; Real x(start = 1, fixed = true); Real y;
equation der(x) = -k*x; y = x + offset; end Decay;"""


def test_a_profile_of_one_parameter_is_its_sum_of_squares() -> None:
    """y = exp(-k t), so noisy and short that the interval is far from symmetric."""
    t = np.linspace(0, 1, 41)
    y = np.exp(-0.2 * t) + 0.6 * np.random.default_rng(4).standard_normal(len(t))
    made = Fit(
        load(text=DECAY), [MeasuredData("m", t, {"y": y})], [Free("k", -5, 1, 20)], FitOptions()
    )
    found = made.run().parameters[0].value
    seen = profile(made, "k")

    def squares(k: float) -> float:
        return float(np.sum((np.exp(-k * t) - y) ** 2))

    limit = squares(found) * (1 + scipy.stats.f.ppf(0.95, 1, 40) / 40)
    exact = [brentq(lambda k: squares(k) - limit, *ends) for ends in ((-5, found), (found, 20))]
    assert [seen.low, seen.high] == [
        pytest.approx(e, abs=0.03 * (exact[1] - exact[0])) for e in exact
    ]
    assert exact[1] - found > 1.15 * (found - exact[0])
    weight = seen.costs[0] / squares(seen.values[0])
    assert np.array(seen.costs) == pytest.approx(
        weight * np.array([squares(k) for k in seen.values]), rel=1e-4
    )


def test_a_profile_with_others_that_make_up_for_it_and_at_a_bound() -> None:
    t = np.linspace(0, 4, 81)
    y = np.exp(-t) + 0.3 + 0.02 * np.random.default_rng(9).standard_normal(len(t))
    free = [Free("k", 0.5, 0.8, 1.02), Free("offset", -1, 0, 1)]
    made = Fit(load(text=DECAY), [MeasuredData("m", t, {"y": y})], free, FitOptions())
    result = made.run()
    offset = next(p for p in result.parameters if p.name == "offset")
    seen = profile(made, "offset")
    assert seen.low == pytest.approx(offset.low, abs=0.15 * (offset.high - offset.low))
    beyond = profile(made, "k")
    assert beyond.high is None and max(beyond.values) == pytest.approx(1.02)
    with pytest.raises(MovrelError, match="no parameter 'K'"):
        profile(made, "K")


def test_a_bootstrap_in_blocks_knows_what_the_noise_remembers() -> None:
    """The mean under noise of first order: its deviation is that of white noise times sqrt((1 + r)/(1 - r))."""
    r, n = 0.8, 1500
    chance = np.random.default_rng(3)
    noise = scipy.signal.lfilter([1], [1, -r], 0.1 * np.sqrt(1 - r * r) * chance.standard_normal(n))
    t = np.linspace(0, 50, n)
    free = [Free("offset", -1, 0, 1)]
    data = MeasuredData("m", t, {"y": np.exp(-t) + noise})
    made = Fit(load(text=DECAY), [data], free, FitOptions())
    value = made.run().parameters[0].value
    (seen,) = bootstrap(made, 100)
    half = 1.96 * 0.1 / np.sqrt(n) * np.sqrt((1 + r) / (1 - r))
    assert seen.high - seen.low == pytest.approx(2 * half, rel=0.3)
    assert seen.low < value < seen.high
    with pytest.raises(MovrelError, match="20 to 2000"):
        bootstrap(made, 3)


def test_draws_keep_deviations_correlation_and_bounds() -> None:
    both = [Uncertain("a", 10.0, 1.0, 0, 20), Uncertain("b", 0.1, 0.02, 1e-6, 1, log=True)]
    values = drawn(both, np.array([[1, -0.8], [-0.8, 1]]), 4000)
    a, b = np.array(values["a"]), np.log(values["b"])
    assert (a.mean(), a.std()) == (pytest.approx(10, abs=0.06), pytest.approx(1, rel=0.05))
    assert (b.mean(), b.std()) == (
        pytest.approx(np.log(0.1), abs=0.02),
        pytest.approx(0.2, rel=0.05),
    )
    assert np.corrcoef(a, b)[0, 1] == pytest.approx(-0.8, abs=0.02)
    half = drawn([Uncertain("a", 10.0, 1.0, 10.0, 20)], np.eye(1), 500)
    assert min(half["a"]) >= 10
    with pytest.raises(MovrelError, match="did not determine"):
        drawn([Uncertain("a", 10.0, float("inf"), 0, 20)], np.eye(1), 10)
