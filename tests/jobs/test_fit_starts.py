"""A fit that begins at many places: several workers search, and none that dies takes a place with it."""

from __future__ import annotations

import os
import signal
import subprocess
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from movrel.workspace.tables import FitStart, database
from tests.conftest import wait_until

Start = Callable[[], "subprocess.Popen[bytes]"]
#: An oscillation, whose frequency has many valleys of the sum of squares.
SWING = """model Swing parameter Real w = 1; parameter Real d = 0.1; Real x(start=1, fixed=true); Real v(start=0, fixed=true);
equation der(x) = v; der(v) = -w^2*x - d*v; annotation(experiment(StopTime=6)); end Swing;"""
PLACES = 10


def ordered(client: Any, project: int) -> int:
    t = np.linspace(0, 6, 61)
    w, d = 4.3, 0.4
    wd = np.sqrt(w**2 - d**2 / 4)
    x = np.exp(-d * t / 2) * (np.cos(wd * t) + d / 2 / wd * np.sin(wd * t))
    rows = "".join(f"{a:.2f},{b:.6f}\n" for a, b in zip(t, x, strict=True))
    client.post(f"/api/projects/{project}/files", json={"path": "Swing.mo", "text": SWING})
    file = client.post(f"/api/projects/{project}/data/swing.csv", data=f"time [s],x\n{rows}").json
    asked = {
        "experiments": [{"file": file["file"]["path"], "outputs": {"x": "x"}}],
        "free": [{"name": "w", "low": 0.5, "start": 8.5, "high": 9}, {"name": "d", "low": 0, "start": 0.3, "high": 1}],
        "starts": PLACES + 1,
    }  # fmt: skip
    answer = client.post(f"/api/projects/{project}/models/Swing/fits", json=asked)
    assert answer.status_code == 200, answer.json
    return int(answer.json["id"])


def searched_by(fit: int) -> set[int]:
    with database.connection_context():
        rows = FitStart.select().where((FitStart.analysis == fit) & (FitStart.state != "waiting"))
        return {row.job for row in rows}


def test_two_workers_search_and_one_is_killed(
    client: Any, project: int, start_worker: Start
) -> None:
    workers = [start_worker(), start_worker()]
    fit = ordered(client, project)
    wait_until(lambda: len(searched_by(fit)) > 1, 60, "both search")
    os.kill(workers[1].pid, signal.SIGKILL)
    workers[1].wait()
    done: Any = wait_until(
        lambda: (a := client.get(f"/api/analyses/{fit}").json)["state"] in ("done", "failed") and a,
        150,
        "the fit is done",
    )
    assert done["state"] == "done", done["reason"]
    found = {p["name"]: p["value"] for p in done["result"]["parameters"]}
    # A search from w = 8.5 alone ends in another valley.
    assert found == {"w": pytest.approx(4.3, rel=1e-4), "d": pytest.approx(0.4, rel=1e-3)}
    with database.connection_context():
        states = [row.state for row in FitStart.select().where(FitStart.analysis == fit)]
    assert states == ["done"] * PLACES
