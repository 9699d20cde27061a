"""Claims: reading, units, judging by runs whose answers are known."""

from __future__ import annotations

import math

import pytest

import movrel
from movrel.analyse.claim_text import ClaimFault, read, read_expression, renamed
from movrel.analyse.claims import judge, value_of
from movrel.analyse.curves import RunCurves

SWING = """model Swing "a mass on a spring, and a tank that fills"
  parameter Real m(unit="kg") = 2; parameter Real k(unit="N/m") = 50;
  Real x(unit="m", displayUnit="cm", start=0.1, fixed=true); Real v(unit="m/s", start=0, fixed=true);
  Real level(unit="m", start=0, fixed=true); Real T(unit="K", displayUnit="degC") = 300 + 10*level;
  Real T_hot[2](each unit="K") = {T, T + 50}; Boolean wet = level > 0.5;
equation
  der(x) = v; m*der(v) = -k*x; der(level) = 1 - level;
  annotation (experiment(StopTime=20, Interval=0.01, Tolerance=1e-8));
end Swing;"""


@pytest.fixture(scope="module")
def run() -> RunCurves:
    return RunCurves(movrel.load(text=SWING).simulate())


@pytest.mark.parametrize(
    "claim, holds",
    [
        ("max(x) < 11 cm", True),
        ("max(x) < 9 cm", False),
        ("max(x) <= 0.1 m + 1e-6 m", True),
        ("period(x) ≈ 2*pi*sqrt(m/k) ± 0.1 %", True),
        ("period(x) ~= 2*pi*sqrt(m/k) +- 0.1 %", True),
        ("period(x) ≈ 1.2 s ± 10 ms", False),
        ("frequency(x) ≈ 47.7 1/min ± 1 %", True),
        ("at(level, 3 s) >= 95 %*final(level)", True),
        ("at(level, 3 s) >= 96 %*final(level)", False),
        ("settle(level, 2 %) < 4 s", True),
        ("settle(level, 2 %) ≈ -log(0.02)*1 s ± 1 %", True),
        ("level < 1 m", True),
        ("level < 0.9 m", False),
        ("level >= -1 mm and max(x) > 5 cm", True),
        ("level < 0.5 m or max(x) > 5 cm", True),
        ("not max(x) > 20 cm", True),
        ("max(T) < 38 degC", True),
        ("peak_to_peak(T) ≈ 10 K ± 0.1 K", True),
        ("T_hot[2] > T_hot[1] + 49 K", True),
        ("m*max(v)^2/2 ≈ k*max(x)^2/2 ± 0.1 %", True),
        ("max(level, from=2 s, to=3 s) ≈ 0.9502 ± 0.0001", True),
        ("integral(v) ≈ final(x) - initial(x) ± 1e-5 m", True),
        ("time_of_max(v) ≈ 0.75*2*pi*sqrt(m/k) ± 1 %", False),
        ("rms(x) ≈ 10 cm/sqrt(2) ± 1 %", True),
        ("if m > 1 kg then level < 2 m else level < 0 m", True),
        ("crossing(level, 0.5 m) ≈ log(2)*1 s ± 0.1 %", True),
        ("final(wet) == 1", True),
        # Rounding is no failure: 1e-9 of the largest value of the curve.
        ("level - 1e-12 m >= 0 m", True),
        ("level - 1e-6 m >= 0 m", False),
        ("level - 1e-12 m > 0 m", False),
        ("initial(level) >= 1e-12 m", True),
        ("initial(level) >= 1e-6 m", False),
        ("is_steady(level) == 1 and overshoot(level) < 1 %", True),
    ],
)
def test_a_claim_is_judged(run: RunCurves, claim: str, holds: bool) -> None:
    if claim.startswith("if "):
        with pytest.raises(ClaimFault, match="compares nothing"):
            read(claim)
        return
    verdict = judge(read(claim), run)
    assert verdict.reason == "" and verdict.holds is holds


def test_value_limit_and_margin_are_in_the_unit_that_people_see(run: RunCurves) -> None:
    verdict = judge(read("max(x) < 0.12 m"), run)
    assert (verdict.unit, verdict.value, verdict.limit) == (
        "m",
        pytest.approx(0.1),
        pytest.approx(0.12),
    )
    assert verdict.margin == pytest.approx(0.02)
    assert judge(read("max(x) < 2*initial(x)"), run).unit == "cm"
    hot = judge(read("max(T) < 40 degC"), run)
    assert (
        hot.unit == "degC"
        and hot.value == pytest.approx(36.85, abs=1e-3)
        and hot.margin == pytest.approx(3.15, abs=1e-3)
    )
    always = judge(read("level < 0.9 m"), run)
    assert always.instant == pytest.approx(20) and always.margin == pytest.approx(-0.1, abs=1e-6)


@pytest.mark.parametrize(
    "claim, why",
    [
        ("max(x) < 3 s", "a length and a time do not fit"),
        ("max(x) + max(v) < 1 m", "a sum: a length and a velocity do not fit"),
        ("max(lvl) < 1 m", "there is no 'lvl'"),
        ("sin(x) < 1", "sin wants a plain number and gets a length"),
        ("at(level, 3 m) < 1 m", "at wants a time"),
        ("at(level, 30 s) < 1 m", "has no 30 s"),
        ("period(level) < 1 s", "no oscillation"),
        ("maximum(x) < 1 m", "there is no measure 'maximum'"),
        ("at(level) < 1 m", "at needs instant"),
        ("max(x, until=3 s) < 1 m", "knows no 'until'"),
        ("period(x) ≈ 1 s ± 1 m", "a tolerance: a time and a length"),
    ],
)
def test_what_cannot_be_judged_is_said(run: RunCurves, claim: str, why: str) -> None:
    verdict = judge(read(claim), run)
    assert verdict.holds is None and why in verdict.reason


@pytest.mark.parametrize(
    "text, why",
    [
        ("", "is empty"),
        ("max(x)", "compares nothing"),
        ("max(x) < ", "not understood"),
        ("max(x) < 3 furlong", "not a known unit"),
        ("max(x) ≈ 3 m", "needs both signs"),
        ("max(x < 3 m", "not understood"),
    ],
)
def test_what_is_no_claim_is_refused(text: str, why: str) -> None:
    with pytest.raises(ClaimFault, match=why):
        read(text)


def test_names_and_renaming() -> None:
    claim = read("max(basin.level) < 1.2 m and pump.T[2] > 2*basin.area[1]*1 K/1 m2")
    assert claim.names == ["basin.level", "pump.T[2]", "basin.area[1]"]
    assert (
        renamed("max(basin.level) < basin_2.x + basin.max(basin)", "basin", "sump")
        == "max(sump.level) < basin_2.x + sump.max(sump)"
    )


def test_the_value_of_an_expression(run: RunCurves) -> None:
    value, symbol = value_of(read_expression("max(x)/2 m"), run)
    assert (value, symbol) == (pytest.approx(0.05), "1")
    with pytest.raises(ClaimFault, match="is a curve"):
        value_of(read_expression("x"), run)
    assert value_of(read_expression("period(x)"), run)[0] == pytest.approx(
        2 * math.pi / 5, rel=1e-4
    )
