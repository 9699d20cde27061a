"""Tables of the library against NumPy and SciPy; files beside the model."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from scipy.interpolate import RegularGridInterpolator

import movrel
from movrel.errors import MovrelError

X, Y = np.array([0.0, 1.0, 2.0, 4.0, 5.0]), np.array([0.0, 2.0, 1.0, 5.0, 5.5])
DATA = "[" + "; ".join(f"{a}, {b}" for a, b in zip(X, Y, strict=True)) + "]"


def run(
    expression: str, stop: float = 6.0, declarations: str = ""
) -> movrel.simulate.trajectory.Trajectory:
    text = f"model M import Movrel.Tables.*; parameter Real d[:, :] = {DATA}; {declarations} Real y = {expression}; end M;"
    return movrel.load(text=text).simulate(stop=stop, interval=0.05)


def test_straight_lines() -> None:
    r = run("linear(d, time)")
    assert r["y"] == pytest.approx(np.interp(r.time, X, Y), abs=1e-12)


def test_cubic_pieces_meet_the_data_without_overshoot_or_kinks() -> None:
    r = run("cubic(d, time)")
    for a, b in zip(X, Y, strict=True):
        assert np.interp(a, r.time, r["y"]) == pytest.approx(b, abs=1e-12)
    for i in range(len(X) - 1):
        inside = (r.time >= X[i]) & (r.time <= X[i + 1])
        assert r["y"][inside].min() >= min(Y[i], Y[i + 1]) - 1e-12
        assert r["y"][inside].max() <= max(Y[i], Y[i + 1]) + 1e-12
    slopes = run("der(s)", declarations="Real s = cubic(d, time);")
    jumps = np.abs(np.diff(slopes["y"][(slopes.time > 0) & (slopes.time < 4.9)]))
    assert jumps.max() < 0.6  # a kink of the data would be 3 or more


def test_held_values_change_at_events() -> None:
    r = run("hold(d, time)")
    assert sorted({round(e.time, 12) for e in r.events}) == [1.0, 2.0, 4.0, 5.0]
    at = np.searchsorted(X, r.time + 1e-9) - 1
    last = np.append(np.diff(r.time) > 1e-9, True)
    assert r["y"][last] == pytest.approx(Y[at][last])


def test_two_arguments() -> None:
    table = "[0, 1, 2, 4; 0, 10, 20, 25; 5, 30, 60, 60; 6, 0, 1, 2]"
    exact = RegularGridInterpolator(
        ([0, 5, 6], [1, 2, 4]), np.array([[10, 20, 25], [30, 60, 60], [0, 1, 2.0]])
    )
    r = run(f"linear2({table}, time, 1 + time/2)")
    assert r["y"] == pytest.approx(exact(np.column_stack([r.time, 1 + r.time / 2])), abs=1e-9)


def test_a_file_beside_the_model(tmp_path: Path) -> None:
    (tmp_path / "wind.csv").write_text(
        "time; speed; gust # three columns\n0; 1; 2\n10, 3, 4\n", encoding="utf-8"
    )
    model = tmp_path / "M.mo"
    model.write_text(
        'model M parameter Real w[:, :] = Movrel.Tables.read("wind.csv"); Real y = Movrel.Tables.linear(w, time, 3); end M;'
    )
    r = movrel.load(str(model)).simulate(stop=10, interval=1)
    assert r["y"] == pytest.approx(2 + 0.2 * r.time)


@pytest.mark.parametrize(
    ("content", "name", "words"),
    [
        ("0, 1\n2, 3, 4\n", "t.csv", "row 2 of 't.csv' has 3 numbers, the first has 2"),
        ("only words\n", "t.csv", "holds no rows of numbers"),
        ("0, 1\n", "other.csv", "does not exist"),
        ("0, 1\n", "../t.csv", "outside the folder"),
        ("1, 1\n0, 2\n", "t.csv", "does not increase after row 1"),
    ],
)
def test_files_that_do_not_serve(tmp_path: Path, content: str, name: str, words: str) -> None:
    folder = tmp_path / "models"
    folder.mkdir()
    (folder / "t.csv").write_text(content, encoding="utf-8")
    (folder / "M.mo").write_text(
        f'model M Real y = Movrel.Tables.linear(Movrel.Tables.read("{name}"), time); end M;'
    )
    with pytest.raises(MovrelError) as fault:
        movrel.load(str(folder / "M.mo")).simulate(stop=1)
    assert words in fault.value.sentence()


def test_a_parameter_table_is_judged_once_it_has_values() -> None:
    model = movrel.load(
        text=f"model M parameter Real d[:, :] = {DATA}; Real y = Movrel.Tables.linear(d, time); end M;"
    )
    assert model.simulate(stop=1, set={"d[2,2]": 7})["y"][-1] == pytest.approx(7)
    with pytest.raises(MovrelError, match="does not increase after row 1"):
        model.simulate(stop=1, set={"d[2,1]": -1})
