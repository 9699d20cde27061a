"""Sweeps over real workers: shared, paused, killed, retried; every point comes to an end."""

from __future__ import annotations

import csv
import io
import math
import os
import shutil
import signal
import subprocess
import sysconfig
import venv
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from movrel.analyse import design
from movrel.analyse.design import Vary
from movrel.workspace import sweeps
from movrel.workspace.tables import SweepPoint, database
from tests.conftest import ROOT, wait_until

DECAY = """model Decay "decays; above a limit it cannot go on"
  parameter Real k(unit="1/s", min=0) = 1; parameter Real a = 2; parameter Integer n = 1; Real x(unit="m", start=1, fixed=true);
equation
  der(x) = -k*x; assert(a < 5, "a is too large");
  annotation (experiment(StopTime=%s, Interval=0.01));
end Decay;"""
CLAIMED = DECAY.replace("0.01)", '0.01), __Movrel(claims={"final(x) < 0.1 m"})')

Start = Callable[[], "subprocess.Popen[bytes]"]


def order(client: Any, project: int, stop: float = 2, text: str = DECAY, **body: Any) -> int:
    client.post(f"/api/projects/{project}/files", json={"path": "Decay.mo", "text": text % stop})
    asked = {
        "varied": [{"name": "k", "low": 1, "high": 2, "count": 30}],
        "measures": ["final(x)"],
        "curves": ["x"],
    } | body
    answer = client.post(f"/api/projects/{project}/models/Decay/sweeps", json=asked)
    assert answer.status_code == 200, answer.json
    return int(answer.json["id"])


def get(client: Any, sweep: int) -> Any:
    return client.get(f"/api/sweeps/{sweep}").json


def test_a_large_sweep_is_accepted_before_its_points_are_made(client: Any, project: int) -> None:
    sweep = order(client, project, sample="sobol", points=50_000)
    ordered = get(client, sweep)
    assert (ordered["waiting"], ordered["points"]) == (50_000, [])
    with database.connection_context():
        assert sweeps.make_points(sweep) and not sweeps.make_points(sweep), "made once"
        kept = SweepPoint.select().where(SweepPoint.sweep == sweep).order_by(SweepPoint.number)
        assert kept.count() == 50_000
        drawn = design.points([Vary("k", 1, 2)], "sobol", 50_000, 1)
        assert [p.values for p in kept.limit(3)] == drawn[:3]
    client.post(f"/api/sweeps/{sweep}/stop")


def test_a_sweep_gives_measures_bands_and_a_table(
    client: Any, project: int, start_worker: Start
) -> None:
    start_worker()
    varied = [{"name": "k", "low": 0.5, "high": 2, "count": 16}, {"name": "a", "values": [1, 9]}]
    sweep = order(client, project, text=CLAIMED, varied=varied)
    found = wait_until(
        lambda: (f := get(client, sweep))["state"] == "done" and f, 60, "the sweep done"
    )
    assert (found["done"], found["failed"], found["waiting"]) == (16, 16, 0)  # type: ignore[index]
    for point in found["points"]:  # type: ignore[index]
        if point["values"]["a"] == 1:
            assert point["measures"] == [
                pytest.approx(math.exp(-2 * point["values"]["k"]), rel=1e-4)
            ]
        else:
            assert point["state"] == "failed" and "a is too large" in point["reason"]
    # exp(-2 k) is below 0.1 from k = 1.2 on: at 9 points of the 16 that ran.
    assert found["claims"] == [{"text": "final(x) < 0.1 m", "hold": 9, "fail": 7, "open": 0}]  # type: ignore[index]
    assert (
        client.get(f"/api/projects/{project}/models/Decay/sweeps").json["sweeps"][0]["claims"]
        == found["claims"]
    )  # type: ignore[index]
    bands = client.get(f"/api/sweeps/{sweep}/bands?name=x").json
    at = len(bands["time"]) // 2
    assert bands["percentiles"]["50"][at] == pytest.approx(
        math.exp(-1.25 * bands["time"][at]), rel=0.02
    )
    assert (
        bands["percentiles"]["5"][at] < bands["percentiles"]["95"][at]
        and len(bands["curves"]) == 16
    )
    rows = list(csv.DictReader(io.StringIO(client.get(f"/api/sweeps/{sweep}/table.csv").text)))
    assert len(rows) == 32 and float(rows[0]["final(x) [m]"]) == pytest.approx(
        math.exp(-1), rel=1e-4
    )
    assert client.get(f"/api/sweeps/{sweep}/bands?name=k").status_code == 422


def test_a_killed_worker_loses_no_point(client: Any, project: int, start_worker: Start) -> None:
    first = start_worker()
    sweep = order(
        client, project, stop=1500, varied=[{"name": "k", "low": 1e-4, "high": 2e-4, "count": 32}]
    )
    wait_until(
        lambda: get(client, sweep)["running"] > 0 and get(client, sweep)["done"] > 2,
        60,
        "points under way",
    )
    os.kill(first.pid, signal.SIGKILL)
    first.wait()
    assert get(client, sweep)["state"] == "running"
    start_worker()
    found = wait_until(
        lambda: (f := get(client, sweep))["state"] == "done" and f, 120, "taken up and finished"
    )
    assert found["done"] == 32 and all(p["measures"] for p in found["points"])  # type: ignore[index]


def test_a_sweep_is_paused_resumed_and_stopped(
    client: Any, project: int, start_worker: Start
) -> None:
    start_worker()
    sweep = order(
        client, project, stop=3000, varied=[{"name": "k", "low": 1e-4, "high": 2e-4, "count": 80}]
    )
    wait_until(lambda: get(client, sweep)["done"] > 0, 60, "points done")
    assert client.post(f"/api/sweeps/{sweep}/pause").json["state"] == "paused"
    wait_until(lambda: get(client, sweep)["running"] == 0, 30, "no point under way")
    still = get(client, sweep)["done"]
    assert client.post(f"/api/sweeps/{sweep}/pause").status_code == 422
    assert client.post(f"/api/sweeps/{sweep}/resume").json["state"] == "running"
    wait_until(lambda: get(client, sweep)["done"] > still, 30, "it goes on")
    assert client.post(f"/api/sweeps/{sweep}/stop").json["state"] == "stopped"
    assert get(client, sweep)["done"] > 0


def test_failed_points_are_computed_again_alone(
    client: Any, project: int, start_worker: Start
) -> None:
    from movrel.workspace.tables import SweepPoint, database

    start_worker()
    sweep = order(client, project)
    wait_until(lambda: get(client, sweep)["state"] == "done", 60, "the sweep done")
    with database.connection_context():
        SweepPoint.update(state="failed", reason="lost", measures=[]).where(
            (SweepPoint.sweep == sweep) & (SweepPoint.number < 3)
        ).execute()
    assert (
        client.post(f"/api/sweeps/{sweep}/retry").json["waiting"] + get(client, sweep)["done"] >= 27
    )
    wait_until(lambda: get(client, sweep)["done"] == 30, 60, "all points again")
    assert client.post(f"/api/sweeps/{sweep}/retry").status_code == 422


@pytest.fixture
def two_machines(tmp_path: Path, database_url: str) -> Iterator[list[subprocess.Popen[bytes]]]:
    """Two workers that share nothing but the database: folders, environments and copies of the program of their own.

    What the program needs is not installed twice; each environment looks into the packages of this one.
    """
    started = []
    for name in ("north", "south"):
        folder = tmp_path / name
        shutil.copytree(
            ROOT / "movrel",
            folder / "movrel",
            ignore=shutil.ignore_patterns("static", "__pycache__"),
        )
        venv.create(folder / "env", with_pip=False)
        own = next((folder / "env" / "lib").glob("python*")) / "site-packages"
        (own / "elsewhere.pth").write_text(f"{folder}\n{sysconfig.get_path('purelib')}\n")
        environment = {
            k: v
            for k, v in os.environ.items()
            if k not in ("PYTHONPATH", "MOVREL_DATABASE", "VIRTUAL_ENV")
        }
        python = str(folder / "env" / "bin" / "python")
        found = subprocess.run(
            [python, "-c", "import movrel; print(movrel.__file__)"],
            env=environment,
            cwd=folder,
            capture_output=True,
            text=True,
        )
        assert found.stdout.startswith(str(folder)), found.stderr
        command = [
            python,
            "-m",
            "movrel",
            "worker",
            "--database",
            database_url,
            "--queues",
            "batch",
        ]
        started.append(subprocess.Popen(command, env=environment, cwd=folder))
    yield started
    for process in started:
        process.send_signal(signal.SIGINT)
    for process in started:
        process.wait(timeout=20)


def test_workers_elsewhere_share_a_sweep(
    client: Any, project: int, two_machines: list[subprocess.Popen[bytes]]
) -> None:
    sweep = order(
        client, project, stop=800, varied=[{"name": "k", "low": 1e-4, "high": 2e-4, "count": 80}]
    )
    wait_until(lambda: get(client, sweep)["state"] == "done", 120, "the sweep done")
    assert get(client, sweep)["done"] == 80
    with database.connection_context():
        rows = database.execute_sql(
            "SELECT DISTINCT worker FROM sweep_point WHERE sweep_id = %s", (sweep,)
        ).fetchall()
    assert len(rows) == 2, "both took part"


@pytest.mark.parametrize(
    "body, words",
    [
        ({"varied": [{"name": "z"}]}, "no parameter 'z'"),
        ({"varied": []}, "nothing varies"),
        ({"measures": ["final(y)"]}, "no 'y'"),
        ({"measures": ["final(x"]}, "not understood"),
        ({"measures": [], "curves": []}, "nothing is measured"),
        ({"varied": [{"name": "k", "low": 3, "high": 1}]}, "above the upper"),
        ({"sample": "sobol", "points": 0}, "not valid"),
    ],
)
def test_sweeps_that_make_no_sense_are_refused(
    client: Any, project: int, body: dict[str, Any], words: str
) -> None:
    client.post(f"/api/projects/{project}/files", json={"path": "Decay.mo", "text": DECAY % 2})
    asked = {
        "varied": [{"name": "k", "low": 1, "high": 2}],
        "measures": ["final(x)"],
        "curves": [],
    } | body
    answer = client.post(f"/api/projects/{project}/models/Decay/sweeps", json=asked)
    assert answer.status_code == 422 and words in answer.json["message"]
