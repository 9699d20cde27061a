"""Trajectories in the database: whole, thinned, at an instant."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from movrel.analyse.sampling import thin, value_at
from movrel.session import load
from movrel.workspace import results
from movrel.workspace.tables import ResultColumn, Run

QUAY = Path(__file__).resolve().parents[2] / "examples" / "VarrowQuay"


def make_run(project: int) -> int:
    return Run.create(project=project, model="M", number=1, name="base", revisions={}).id


def test_chunks_come_back_as_one_trajectory_to_the_last_bit(project: int) -> None:
    run = make_run(project)
    rng = np.random.default_rng(1)
    time, table = np.sort(rng.random(1000)), rng.normal(size=(1000, 3))
    for number, part in enumerate(np.array_split(np.arange(1000), 7)):
        results.write_chunk(run, number, time[part], table[part])
    back = results.read_columns(run, [results.TIME, 0, 2])
    assert np.array_equal(back[results.TIME], time)
    assert np.array_equal(back[0], table[:, 0]) and np.array_equal(back[2], table[:, 2])
    results.forget(run)
    assert len(results.read_columns(run, [0])[0]) == 0


def test_columns_that_follow_from_others_are_not_stored(project: int) -> None:
    loaded = load(QUAY, model="VarrowQuay.LeafPlant")
    run = loaded.prepare(stop=2.0)
    whole = run.go()
    rows = Run.get_by_id(make_run(project))
    rows.recipes = {str(k): recipe for k, recipe in run.recipes().items()}
    rows.save()
    halves = np.array_split(np.arange(len(whole.time)), 2)
    for number, part in enumerate(halves):
        results.write_chunk(rows.id, number, whole.time[part], whole.table[part], run.recipes())
    columns = range(whole.table.shape[1])
    back = results.read_columns(rows.id, list(columns))
    assert all(back[k].tobytes() == whole.table[:, k].tobytes() for k in columns)
    own = ResultColumn.select().where(ResultColumn.run == rows.id)
    empty = [piece for piece in own if not len(piece.data)]
    assert len(empty) > len(own) / 4, "more than a quarter of the pieces follow from others"
    alone = empty[-1].column
    assert np.array_equal(results.read_columns(rows.id, [alone])[alone], whole.table[:, alone])


def test_a_value_that_its_recipe_does_not_give_is_stored(project: int) -> None:
    recipe = [["column", 0], ["number", 2.0], ["*"], ["time"], ["+"]]
    row = Run.get_by_id(make_run(project))
    row.recipes = {"1": recipe}
    row.save()
    time, x = np.arange(4.0), np.array([1.0, -0.0, np.nan, 3.0])
    follows = np.column_stack([x, x * 2 + time])
    jumps = follows.copy()
    jumps[3, 1] = np.nextafter(follows[3, 1], 99)
    for number, table in enumerate((follows, jumps)):
        results.write_chunk(row.id, number, time, table, {1: recipe})
    back = results.read_columns(row.id, [1])[1]
    assert back.tobytes() == np.concatenate([follows[:, 1], jumps[:, 1]]).tobytes()
    empty = [len(piece.data) == 0 for piece in ResultColumn.select().where(
        (ResultColumn.run == row.id) & (ResultColumn.column == 1)).order_by(ResultColumn.chunk)]  # fmt: skip
    assert empty == [True, False]


@given(st.integers(2, 30_000), st.integers(1, 300), st.integers(0, 2**32 - 1))
def test_thinning_keeps_ends_and_extremes(count: int, width: int, seed: int) -> None:
    values = np.random.default_rng(seed).normal(size=count)
    time = np.linspace(0, 10, count)
    t, v = thin(time, values, width, None, None)
    assert (t[0], t[-1]) == (time[0], time[-1])
    assert v.min() == values.min() and v.max() == values.max()
    assert len(t) <= max(2 * width, 100) + 2


def test_a_time_range_keeps_one_point_beyond_each_end() -> None:
    time = np.arange(101.0)
    t, _ = thin(time, time, 1000, 20.5, 30.5)
    assert (t[0], t[-1]) == (20.0, 31.0)


@pytest.mark.parametrize(
    ("at", "expected"), [(0, 0), (0.5, 1), (1, 5), (1.5, 6), (2, 7), (2.1, None), (-1, None)]
)
def test_the_value_at_an_event_is_the_one_after_it(at: float, expected: float | None) -> None:
    time, values = np.array([0.0, 1, 1, 2]), np.array([0.0, 2, 5, 7])
    assert value_at(time, values, at) == expected


def test_a_long_run_is_shown_from_overviews(project: int) -> None:
    run = make_run(project)
    time = np.linspace(0, 100, 400_000)
    values = np.sin(time) + 5 * (np.abs(time - 63.21) < 2e-4)
    for number, part in enumerate(np.array_split(np.arange(len(time)), 21)):
        results.write_chunk(run, number, time[part], values[part].reshape(-1, 1))
    results.write_chunk(
        run, 21, np.array([100.0, 100.5]), np.array([[7.0], [7.0]])
    )  # a short last piece
    found = results.overview(run, 0, None, None)
    assert found is not None and len(found[0]) < 6000
    assert found[1].max() == 7.0 and (found[1] > 5).sum() >= 2, "the narrow peak is there"
    assert (found[0][0], found[0][-1]) == (0.0, 100.5) and (np.diff(found[0]) >= 0).all()
    near = results.overview(run, 0, 63, 63.5)
    assert near is not None
    inside = (near[0] >= 63) & (near[0] <= 63.5)
    assert np.array_equal(near[0][inside], time[(time >= 63) & (time <= 63.5)]), (
        "close up every point is there"
    )
    results.forget(run)
    assert results.overview(run, 0, None, None) is None
