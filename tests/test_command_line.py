"""The movrel command: output, exit status, sentences on stderr."""

from __future__ import annotations

import csv
import json
import subprocess
import sys
from pathlib import Path

import pyarrow.parquet as parquet
import pytest

from movrel import load
from tests.conftest import SUMP


def movrel(*arguments: str) -> subprocess.CompletedProcess[str]:
    return subprocess.run(
        [sys.executable, "-m", "movrel", *arguments],
        capture_output=True,
        text=True,
        check=False,
        timeout=120,
    )


def test_simulate_writes_all_variables(tmp_path: Path) -> None:
    out = tmp_path / "out.csv"
    done = movrel(
        "simulate",
        str(SUMP),
        "--stop",
        "600",
        "--interval",
        "60",
        "--set",
        "outlet.diameter=0.2",
        "--output",
        str(out),
        "--stats",
    )
    assert done.returncode == 0, done.stderr
    assert "evaluations:" in done.stdout
    with out.open() as file:
        rows = list(csv.DictReader(file))
    assert {"time", "basin.level", "outlet.a.q", "drain.q"} <= set(rows[0])
    assert "outlet.diameter" not in rows[0]
    assert [float(r["time"]) for r in rows if float(r["time"]) % 60 == 0][-1] == 600
    assert all(float(r["outlet.q"]) == -float(r["outlet.b.q"]) for r in rows)


def test_numbers_are_typed_with_units(tmp_path: Path) -> None:
    out = tmp_path / "out.csv"
    typed = (
        "--stop",
        "10 min",
        "--interval",
        "1 min",
        "--set",
        "outlet.diameter=20 cm",
        "--output",
        str(out),
    )
    assert movrel("simulate", str(SUMP), *typed).returncode == 0
    exact = load(SUMP).simulate(stop=600, interval=60, set={"outlet.diameter": "0,2"})
    with out.open() as file:
        assert [float(row["basin.level"]) for row in csv.DictReader(file)] == exact[
            "basin.level"
        ].tolist()
    table = tmp_path / "sweep.csv"
    vary = (
        "--vary",
        "outlet.diameter=10 cm:0.3:2",
        "--measure",
        "max(basin.level)",
        "--stop",
        "60",
        "--output",
        str(table),
    )
    assert movrel("sweep", str(SUMP), *vary).returncode == 0
    with table.open() as file:
        assert [float(row["outlet.diameter"]) for row in csv.DictReader(file)] == [0.1, 0.3]


def test_parquet_carries_units(tmp_path: Path) -> None:
    out = tmp_path / "out.parquet"
    assert movrel("simulate", str(SUMP), "--output", str(out)).returncode == 0
    table = parquet.read_table(out)
    assert table.schema.field("basin.level").metadata[b"unit"] == b"m"
    assert table.num_rows > 3600


def test_check_and_equations_explain_the_model() -> None:
    checked = movrel("check", str(SUMP))
    assert checked.returncode == 0 and "states: 2" in checked.stdout
    listed = movrel("equations", str(SUMP))
    assert "der(basin.level) := (basin.inlet.q - harbour.port.q)/basin.area" in listed.stdout
    assert "outlet.dp > 0" in listed.stdout


@pytest.mark.parametrize(
    ("arguments", "status", "words"),
    [
        (["simulate", "nowhere.mo"], 2, "does not exist"),
        (["simulate", "{bad}"], 2, "bad.mo:2:"),
        (["check", "{bad}"], 2, "';' is missing"),
        (["simulate", "{sump}", "--set", "outlet.diametre=1"], 2, "Did you mean 'outlet.diameter'"),
        (["simulate", "{sump}", "--set", "outlet.diameter=wide"], 2, "not a number"),
        (["simulate", "{sump}", "--set", "outlet.A=1"], 2, "final"),
        (
            ["simulate", "{sump}", "--set", "outlet.diameter=1,200 mm"],
            2,
            "can be read as 1.2 or as 1200",
        ),
        (["simulate", "{sump}", "--stop", "30 kg"], 2, "is a mass"),
        (["simulate", "{sump}", "--solver", "magic"], 2, "Choose one of bdf, adams"),
        (["simulate", "{sump}", "--stop", "-5"], 2, "later than it starts"),
        (["simulate", "{sump}", "--interval", "0"], 2, "positive interval"),
        (["simulate", "{sump}", "--output", "out.txt"], 2, ".csv or .parquet"),
        (["simulate", "{sump}", "--model", "Nope"], 2, "no class 'Nope'"),
        (["simulate", "{sump}", "--speed", "9"], 2, "unrecognized arguments"),
        (["simulate", "{fails}"], 3, "too low"),
    ],
)
def test_faults_are_sentences_with_a_status(
    arguments: list[str], status: int, words: str, tmp_path: Path
) -> None:
    (tmp_path / "bad.mo").write_text("model A\n  Real x\n  Real y;\nend A;\n")
    (tmp_path / "fails.mo").write_text(
        'model F Real x(start=1,fixed=true); equation der(x)=-1; assert(x > 0.5, "too low"); annotation(experiment(StopTime=2)); end F;'
    )
    names = {"bad": tmp_path / "bad.mo", "fails": tmp_path / "fails.mo", "sump": SUMP}
    done = movrel(*(a.format(**names) for a in arguments))
    assert done.returncode == status
    assert words in done.stderr
    assert "Traceback" not in done.stderr


def test_partial_results_of_a_failed_run_are_kept(tmp_path: Path) -> None:
    model = tmp_path / "fails.mo"
    model.write_text(
        'model F Real x(start=1,fixed=true); equation der(x)=-1; assert(x > 0.5, "too low"); end F;'
    )
    out = tmp_path / "out.csv"
    done = movrel("simulate", str(model), "--interval", "0.1", "--output", str(out))
    assert done.returncode == 3 and "computed until" in done.stderr
    assert 5 <= len(out.read_text().splitlines()) <= 8


COOLER = ["--model", "VarrowQuay.OilCooler"]
MEASUREMENTS = SUMP.parents[1] / "measurements"


def test_a_fit_prints_values_with_intervals(tmp_path: Path) -> None:
    out = tmp_path / "fit.json"
    done = movrel(
        "fit", str(SUMP.parent), *COOLER, "--data", str(MEASUREMENTS / "oil-cooler-calm-day.csv"), "--output-map", "oil=oil.T",
        "--free", "shell.h=5:25:100", "air.T=270:288:310", "oil.T_start=300:350:400", "--output", str(out),
    )  # fmt: skip
    assert done.returncode == 0, done.stderr
    shell = json.loads(out.read_text())["parameters"]["shell.h"]
    # The script's 31 W/(m2.K), less what the housing of 18 kJ/K beside 66 kJ/K and the open door make of it.
    assert shell["low"] < shell["value"] < shell["high"]
    assert shell["value"] == pytest.approx(28.3, abs=0.5)
    assert "shell.h = 28" in done.stdout
    assert "correlated" in done.stderr
    refused = movrel(
        "fit", str(SUMP), "--data", "none.csv", "--output-map", "a=b", "--free", "c=1", "--output", str(out)
    )  # fmt: skip
    assert refused.returncode == 2
    assert "Traceback" not in refused.stderr


def test_a_step_test_and_a_linear_model(tmp_path: Path) -> None:
    out = tmp_path / "out.json"
    data = str(MEASUREMENTS / "oil-cooler-heater-step.csv")
    done = movrel("step-test", data, "--input", "heater", "--response", "oil", "--output", str(out))
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("first order: gain 0.02638")
    low, high = json.loads(out.read_text())[0]["intervals"]["gain"]
    assert low < 1 / (31 * 1.4) + 1 / 300 < high
    wrong = movrel("step-test", data, "--input", "steam", "--response", "oil", "--output", str(out))
    assert wrong.returncode == 2
    assert "no column 'steam'" in wrong.stderr
    where = ["--steady", "--inputs", "air.T", "--outputs", "oil.T", "--output", str(out)]
    done = movrel("linearise", str(SUMP.parent), *COOLER, *where)
    assert done.returncode == 0, done.stderr
    assert done.stdout.startswith("pole -0.00041667 rad/s")
