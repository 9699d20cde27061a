"""Designs of many runs, and what a sweep gives."""

from __future__ import annotations

import csv
import math
from pathlib import Path

import numpy as np
import pytest

import movrel
from movrel.analyse.claim_text import read, read_expression
from movrel.analyse.design import Vary, points
from movrel.analyse.sensitivity import effects
from movrel.analyse.sweep import sweep
from movrel.cli.main import main
from movrel.errors import MovrelError

DECAY = """model Decay "x decays; above a limit it cannot go on"
  parameter Real k(min=0) = 1; parameter Real a = 2; Real x(start=1, fixed=true);
equation
  der(x) = -k*x; assert(a < 5, "a is too large");
  annotation (experiment(StopTime=2));
end Decay;"""


def test_a_grid_is_every_combination() -> None:
    found = points([Vary("k", 1, 3, 3), Vary("a", values=(0.5, 7))])
    assert [tuple(p.values()) for p in found] == [
        (1, 0.5),
        (1, 7),
        (2, 0.5),
        (2, 7),
        (3, 0.5),
        (3, 7),
    ]
    assert Vary("k", 1, 100, 3, distribution="log").grid() == pytest.approx([1, 10, 100])


@pytest.mark.parametrize("sample", ["random", "lhs", "sobol"])
def test_samples_stay_within_bounds_and_come_again(sample: str) -> None:
    varied = [
        Vary("u", -2, 4),
        Vary("l", 1e-3, 10, distribution="log"),
        Vary("n", 0, 8, distribution="normal"),
    ]
    found = points(varied, sample, 500, seed=3)
    assert found == points(varied, sample, 500, seed=3) and found != points(
        varied, sample, 500, seed=4
    )
    u, l_, n = (np.array([p[name] for p in found]) for name in "uln")
    assert u.min() >= -2 and u.max() <= 4 and u.mean() == pytest.approx(1, abs=0.3)
    assert l_.min() >= 1e-3 and np.log(l_).mean() == pytest.approx(
        0.5 * (math.log(1e-3) + math.log(10)), abs=0.3
    )
    assert n.min() >= 0 and n.max() <= 8 and n.std() == pytest.approx(1.76, abs=0.15)


def test_a_latin_hypercube_has_one_point_in_each_row() -> None:
    found = points([Vary("a", 0, 1), Vary("b", 0, 1)], "lhs", 20)
    for name in "ab":
        assert sorted(int(p[name] * 20) for p in found) == list(range(20))


@pytest.mark.parametrize(
    "varied, sample, why",
    [
        ([], "grid", "nothing varies"),
        ([Vary("a"), Vary("a")], "grid", "varied twice"),
        ([Vary("a", count=400), Vary("b", count=400)], "grid", "160000 points"),
        ([Vary("a")], "chance", "no sample"),
    ],
)
def test_designs_that_cannot_be(varied: list[Vary], sample: str, why: str) -> None:
    with pytest.raises(MovrelError, match=why):
        points(varied, sample)


@pytest.mark.parametrize(
    "bad",
    [
        {"low": 2.0, "high": 1.0},
        {"low": -1.0, "distribution": "log"},
        {"distribution": "odd"},
        {"count": 0},
    ],
)
def test_ranges_that_cannot_be(bad: dict[str, object]) -> None:
    with pytest.raises(MovrelError):
        Vary("a", **bad)  # type: ignore[arg-type]


def test_a_sweep_measures_every_point_and_says_what_failed() -> None:
    model = movrel.load(text=DECAY)
    measures = [read_expression("final(x)"), read_expression("crossing(x, 0.5)")]
    found = list(
        sweep(model, points([Vary("k", values=(0.1, 1, 2)), Vary("a", values=(1, 9))]), measures)
    )
    assert [r.values[0] for r in found[::2]] == pytest.approx(
        [math.exp(-0.2), math.exp(-2), math.exp(-4)], rel=1e-4
    )
    assert found[2].values[1] == pytest.approx(math.log(2), rel=1e-4) and found[2].failure == ""
    assert found[0].values[1] is None and "never crosses 0.5" in found[0].failure
    assert all("a is too large" in r.failure and not r.values for r in found[1::2])


def model_file(folder: Path) -> str:
    (folder / "decay.mo").write_text(
        DECAY.replace(
            "annotation (", 'annotation (__Movrel(claims={"final(x) < 0.2", "x > 0.1"}), '
        )
    )
    return str(folder / "decay.mo")


def test_the_command_line_sweeps(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    out = tmp_path / "out.csv"
    arguments = [
        "sweep",
        model_file(tmp_path),
        "--vary",
        "k=1:2:2",
        "--vary",
        "a=1,9",
        "--measure",
        "final(x)",
        "--output",
        str(out),
    ]
    assert main(arguments) == 0
    rows = list(csv.DictReader(out.open()))
    assert [float(r["final(x)"]) for r in rows if not r["failure"]] == pytest.approx(
        [math.exp(-2), math.exp(-4)], rel=1e-4
    )
    assert "4 points, 2 with a failure" in capsys.readouterr().out
    assert main([*arguments[:3], "z=1:2:2", *arguments[6:]]) == 2
    assert "no parameter 'z'" in capsys.readouterr().err
    assert main([*arguments[:3], "k=low:2", *arguments[6:]]) == 2


def test_the_command_line_judges_claims(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = model_file(tmp_path)
    assert main(["claims", file]) == 0
    told = capsys.readouterr().out
    assert told.startswith("holds  final(x) < 0.2  value 0.13533") and "margin" in told
    assert main(["claims", file, "--set", "k=3"]) == 4
    assert "fails  x > 0.1  value 0.00247" in capsys.readouterr().out
    assert main(["claims", file, "--claim", "period(x) < 1 s"]) == 4
    assert "cannot be judged  period(x) < 1 s: no oscillation" in capsys.readouterr().out
    assert main(["claims", file, "--claim", "final(x <"]) == 2


def test_what_matters_for_a_claim() -> None:
    """The margin of final(x) < 0.2 is 0.2 - exp(-2 k): its slope in k is 2 k exp(-2 k)."""
    model = movrel.load(text=DECAY)
    (found,) = effects(model, {}, "k", 1.0, [read("final(x) < 0.2")])
    assert found.slope == pytest.approx(
        2 * math.exp(-2), rel=1e-3
    ) and found.margin == pytest.approx(0.2 - math.exp(-2), rel=1e-4)
    assert found.turns == pytest.approx(-(0.2 - math.exp(-2)) / (2 * math.exp(-2)), rel=1e-3)
    (none,) = effects(model, {}, "a", 2.0, [read("final(x) < 0.2")])
    assert none.slope == pytest.approx(0, abs=1e-9)
    (unknown,) = effects(model, {}, "k", 1.0, [read("period(x) < 1 s")])
    assert unknown.slope is None and "no oscillation" in unknown.reason
