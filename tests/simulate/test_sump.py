"""Physics of the storm-water sump against closed forms."""

from __future__ import annotations

import math

import numpy as np
import pytest

import movrel
from movrel.session import LoadedModel
from tests.conftest import SUMP

G = 9.80665


@pytest.fixture(scope="module")
def sump() -> LoadedModel:
    return movrel.load(str(SUMP))


def test_the_default_run_conserves_water(sump: LoadedModel) -> None:
    r = sump.simulate(tolerance=1e-9)
    assert (r.time[0], r.time[-1]) == (0.0, 3600.0)
    # 2 l/s always and 40 l/s more during three gusts of 300 s each.
    came = 0.002 * 3600 + 0.040 * 3 * 300
    stored = r["basin.volume"][-1] - r["basin.volume"][0]
    assert r["harbour.discharged"][-1] + stored == pytest.approx(came, abs=1e-6)
    assert r["basin.volume"] == pytest.approx(12 * r["basin.level"], rel=1e-12)
    assert r.units["basin.level"] == "m" and r.units["basin.q_in"] == "m3/s"


@pytest.mark.parametrize(
    ("q", "diameter", "c_d"), [(0.02, 0.15, 0.62), (0.005, 0.1, 0.62), (0.03, 0.2, 0.8)]
)
def test_steady_level_under_constant_inflow(
    sump: LoadedModel, q: float, diameter: float, c_d: float
) -> None:
    """The level at which Torricelli's outflow equals the inflow: (q/(C_d A))^2/(2 g)."""
    r = sump.simulate(
        stop=60_000,
        interval=60,
        tolerance=1e-9,
        set={"gusts.height": 0, "gusts.rest": q, "outlet.diameter": diameter, "outlet.C_d": c_d},
    )
    area = math.pi * diameter**2 / 4
    assert r["basin.level"][-1] == pytest.approx((q / (c_d * area)) ** 2 / (2 * G), rel=1e-6)
    assert r["outlet.q"][-1] == pytest.approx(q, rel=1e-6)


@pytest.mark.parametrize("level", [0.3, 1.0, 2.0])
def test_emptying_follows_torricelli_and_stays_empty(sump: LoadedModel, level: float) -> None:
    """sqrt(h) falls linearly; the basin is empty at t = A_basin/(C_d A) sqrt(2 h/g), then stays so."""
    settings = {"gusts.height": 0, "gusts.rest": 0, "basin.level_start": level}
    r = sump.simulate(stop=3600, interval=1, tolerance=1e-10, set=settings)
    outlet = 0.62 * math.pi * 0.15**2 / 4
    empty = 12 / outlet * math.sqrt(2 * level / G)
    exact = np.where(r.time < empty, level * (1 - np.minimum(r.time / empty, 1)) ** 2, 0)
    assert np.abs(r["basin.level"] - exact).max() < 2e-8
    event = next(e for e in r.events if "outlet.dp > 0" in e.cause)
    assert event.time == pytest.approx(empty, rel=1e-4)
    after = r.time > event.time
    assert after.any()
    assert np.abs(r["basin.level"][after]).max() < 1e-12
    assert np.all(r["outlet.q"][after] == 0)


def test_filling_between_two_gusts_matches_an_independent_integration(sump: LoadedModel) -> None:
    from scipy.integrate import solve_ivp

    r = sump.simulate(stop=420, interval=5, tolerance=1e-10)
    outlet = 0.62 * math.pi * 0.15**2 / 4

    def rate(inflow: float) -> object:
        return lambda t, h: [(inflow - outlet * math.sqrt(2 * G * h[0])) / 12]

    first = solve_ivp(rate(0.002), (0, 120), [0.3], method="DOP853", rtol=1e-12, atol=1e-13)
    second = solve_ivp(
        rate(0.042),
        (120, 420),
        [first.y[0, -1]],
        method="DOP853",
        rtol=1e-12,
        atol=1e-13,
        dense_output=True,
    )
    inside = (r.time > 120) & (r.time <= 420)
    assert r["basin.level"][inside] == pytest.approx(second.sol(r.time[inside])[0], rel=1e-8)


def test_gusts_begin_and_end_exactly_on_time(sump: LoadedModel) -> None:
    r = sump.simulate()
    flanks = r.time[1:][np.diff(r["gusts.y"]) != 0]
    assert list(flanks) == [120.0, 420.0, 1320.0, 1620.0, 2520.0, 2820.0]
    # Both sides of each flank are stored.
    for flank in flanks:
        sides = r["gusts.y"][r.time == flank]
        assert {round(v, 12) for v in sides} == {0.002, 0.042}


def test_a_short_gust_is_not_skipped_by_a_long_interval(sump: LoadedModel) -> None:
    settings = {
        "gusts.width": 0.5,
        "gusts.period": 10_000,
        "gusts.delay": 1000.25,
        "gusts.height": 1.0,
        "gusts.rest": 0,
    }
    r = sump.simulate(stop=3600, interval=1800, tolerance=1e-8, set=settings)
    came = 12 * (r["basin.level"][-1] - 0.3) + r["harbour.discharged"][-1]
    assert came == pytest.approx(0.5, rel=1e-6)


def test_the_same_run_gives_the_same_bytes(sump: LoadedModel) -> None:
    a, b = sump.simulate(), sump.simulate()
    assert a.table.tobytes() == b.table.tobytes() and a.time.tobytes() == b.time.tobytes()


def test_a_second_run_builds_nothing(sump: LoadedModel) -> None:
    system = sump.system
    sump.simulate(set={"outlet.diameter": 0.2})
    assert sump.system is system and sump.system_for({}) is system
