"""Measurements prepared step by step, against closed forms."""

from __future__ import annotations

import numpy as np
import pytest

from movrel.errors import MovrelError
from movrel.exchange.table_files import MeasuredTable, TableColumn
from movrel.exchange.table_steps import (
    AsTime,
    Crop,
    InUnit,
    Join,
    LowPass,
    Offset,
    Outliers,
    Resample,
    Shift,
    Step,
    prepared,
)

T = np.arange(0.0, 200.0, 0.5)


def table(t: np.ndarray = T, **columns: np.ndarray) -> MeasuredTable:
    return MeasuredTable(
        [TableColumn("t", "s", t), *(TableColumn(n, "K", y) for n, y in columns.items())], 0
    )


OTHER = {
    "Data/after.csv": table(np.array([0.0, 10.0, 20.0]), y=np.array([1.0, 2.0, 4.0]), z=np.ones(3))
}


def after(made: MeasuredTable, *steps: Step) -> tuple[MeasuredTable, list[str]]:
    return prepared(made, list(steps), lambda path: OTHER[path])


def test_a_ramp_is_cropped_shifted_offset_and_averaged() -> None:
    made, said = after(table(y=2 * T), Crop(20, 100), Shift(-20), Offset("y", 5), Resample(4))
    assert made.instants.tolist() == list(np.arange(0.0, 81.0, 4.0))
    # The mean of a straight line over a period is its value in the middle, but at the ends, where half a period is there.
    inside = slice(1, -1)
    assert made.column("y").values[inside] == pytest.approx(2 * (made.instants[inside] + 20) + 5)
    assert made.column("y").values[0] == pytest.approx(2 * 21 + 5)
    assert said == ["161 of 400 rows.", "", "", "21 rows of 161."]


@pytest.mark.parametrize("period", [1.5, 6.0])
def test_the_mean_of_a_wave(period: float) -> None:
    w = 2 * np.pi / 40
    t = np.sort(np.random.default_rng(3).uniform(0, 200, 4000))  # at uneven instants
    made, _ = after(table(t, y=np.sin(w * t)), Resample(period))
    at = made.instants[2:-2]
    exact = np.sin(w * at) * np.sinc(w * period / 2 / np.pi)
    assert np.abs(made.column("y").values[2:-2] - exact).max() < 2e-3


def test_no_mean_is_made_up_where_nothing_was_measured() -> None:
    t = np.concatenate([np.arange(0.0, 50.0), np.arange(150.0, 200.0)])
    made, _ = after(table(t, y=np.ones(len(t))), Resample(2))
    missing = made.instants[np.isnan(made.column("y").values)]
    assert (missing.min(), missing.max()) == (52.0, 148.0)


@pytest.mark.parametrize("wave", [60.0, 20.0, 8.0])
def test_a_low_pass_filter_has_no_delay_and_its_own_loss(wave: float) -> None:
    t = np.arange(0.0, 2000.0, 0.5)
    made, _ = after(table(t, y=np.sin(2 * np.pi / wave * t)), LowPass("y", 20))
    inside = (t > 300) & (t < 1700)
    loss = 1 / (1 + (20 / wave) ** 4)  # Butterworth, second order, twice
    exact = loss * np.sin(2 * np.pi / wave * t)
    assert np.abs(made.column("y").values - exact)[inside].max() < 0.01


def test_outliers_are_marked_and_steps_of_a_converter_are_not() -> None:
    noise = np.random.default_rng(5).standard_normal(len(T))
    y = np.round(20 + 0.05 * T + 0.02 * noise, 1)
    wrong = [40, 41, 200, 333]
    y[wrong] += [5, 5, -3, 80]
    made, said = after(table(y=y), Outliers("y"))
    assert np.nonzero(np.isnan(made.column("y").values))[0].tolist() == wrong
    assert said == ["4 of 400 samples count no more."]


def test_a_unit_is_corrected_and_another_column_taken_as_time() -> None:
    clock = T / 60 + 3
    clock[[5, 9]] = clock[4], np.nan
    made, said = after(table(y=T + 20, clock=clock), InUnit("y", "degC"), AsTime("clock", "min"))
    assert made.column("y").in_unit("K")[0] == pytest.approx(293.15)
    kept = np.delete(np.arange(len(T)), [5, 9])
    assert made.instants == pytest.approx(T[kept] + 180)
    assert made.column("t").values.tolist() == T[kept].tolist()
    assert said == ["it was read as K.", "2 rows in which it does not rise are left out."]
    with pytest.raises(MovrelError, match="does not rise"):
        after(table(y=-T), AsTime("y"))


def test_another_file_comes_beside_and_after() -> None:
    made, said = after(table(y=T), Join("Data/after.csv", "beside", 100))
    assert [c.name for c in made.columns] == ["t", "y", "y 2", "z"]
    assert made.column("y 2").values[T == 105] == pytest.approx(1.5)
    assert np.isnan(made.column("z").values).sum() == 400 - 41
    assert said[0].startswith("2 columns")
    made, said = after(table(y=T), Join("Data/after.csv", "after", 195))
    assert made.instants[-3:].tolist() == [199.5, 205.0, 215.0]
    assert made.column("y").values[-3:].tolist() == [199.5, 2.0, 4.0]
    assert said == ["2 rows more."]


@pytest.mark.parametrize(
    ("step", "words"),
    [
        (Crop(300, 400), "reaches from 0 s to 199.5 s"),
        (Offset("x", 1), "no column 'x'"),
        (Offset("t", 1), "Shift the times instead"),
        (Resample(0), "not positive"),
        (Resample(1e-9), "Choose a period"),
        (LowPass("y", 0.5), "shorter than two samples"),
        (LowPass("y", 1e300), "longer than the table"),
        (Shift(1e300), "tell the instants apart"),
        (Offset("y", float("inf")), "not finite"),
        (Outliers("y", window=1), "The window".lower()),
        (Join("Data/after.csv", "after"), "Shift it"),
        (InUnit("y", "furlong"), "furlong"),
        (InUnit("t", "s"), "is the time"),
        (AsTime("t"), "the time already"),
        (AsTime("y", "kg"), "no unit of time"),
        (AsTime("z"), "no column 'z'"),
        (Join("Data/after.csv", "beside", 900), "Shift it"),
    ],
)
def test_a_step_that_does_not_fit_says_why(step: Step, words: str) -> None:
    with pytest.raises(MovrelError) as fault:
        after(table(y=T), Shift(0), step)
    assert words in fault.value.sentence() and "step 2" in fault.value.sentence()
