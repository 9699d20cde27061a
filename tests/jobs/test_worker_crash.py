"""Workers that are killed, and everything being stopped: no run stays 'running' for ever."""

from __future__ import annotations

import os
import signal
import subprocess
from collections.abc import Callable
from typing import Any

import pytest

from tests.conftest import wait_until

#: Stiff enough work for many seconds: a fast oscillator followed for a long time.
SLOW = """model Slow Real x(start=1,fixed=true), v(start=0,fixed=true); equation der(x)=v; der(v)=-1e6*x;
annotation(experiment(StopTime=%s, Interval=0.5, Tolerance=1e-8)); end Slow;"""


def order_slow(client: Any, project: int, stop: float) -> int:
    assert (
        client.post(
            f"/api/projects/{project}/files", json={"path": "Slow.mo", "text": SLOW % stop}
        ).status_code
        == 200
    )
    return int(client.post(f"/api/projects/{project}/models/Slow/runs", json={}).json["id"])


def state(client: Any, run: int) -> str:
    return str(client.get(f"/api/runs/{run}").json["state"])


def is_under_way(client: Any, run: int) -> bool:
    found = client.get(f"/api/runs/{run}").json
    return found["state"] == "running" and found["progress"] > 0


Start = Callable[[], "subprocess.Popen[bytes]"]


def test_a_run_is_taken_up_by_another_worker_after_kill_9(
    client: Any, project: int, start_worker: Start
) -> None:
    first = start_worker()
    run = order_slow(client, project, 6)
    wait_until(lambda: is_under_way(client, run), what="the run under way")
    os.kill(first.pid, signal.SIGKILL)
    first.wait()
    assert state(client, run) == "running"
    start_worker()
    wait_until(lambda: state(client, run) == "done", 90, "the run taken up and finished")
    found = client.get(f"/api/runs/{run}").json
    assert found["points"] == 13, "points of the lost attempt are gone"
    assert found["time_reached"] == pytest.approx(6)


def test_a_run_that_kills_every_worker_fails_with_a_reason(
    client: Any, project: int, start_worker: Start
) -> None:
    run = order_slow(client, project, 100_000)
    reached = 1.0
    for _ in range(2):
        worker = start_worker()
        wait_until(
            lambda last=reached: client.get(f"/api/runs/{run}").json["progress"] < last,
            60,
            "the run taken up",
        )
        wait_until(lambda: is_under_way(client, run), 60, "the run under way")
        os.kill(worker.pid, signal.SIGKILL)
        worker.wait()
        reached = client.get(f"/api/runs/{run}").json["progress"]
    start_worker()
    wait_until(lambda: state(client, run) == "failed", 60, "the run given up")
    assert "ended unexpectedly 2 times" in client.get(f"/api/runs/{run}").json["reason"]


def test_a_stopped_run_keeps_what_it_had(client: Any, project: int, start_worker: Start) -> None:
    start_worker()
    run = order_slow(client, project, 100_000)
    wait_until(lambda: client.get(f"/api/runs/{run}").json["points"] > 2, 20, "some points")
    assert client.post(f"/api/runs/{run}/stop").status_code == 200
    wait_until(lambda: state(client, run) == "stopped", 20, "the run stopped")
    found = client.get(f"/api/runs/{run}").json
    assert found["points"] > 2 and 0 < found["time_reached"] < 100_000
    curve = client.post(f"/api/runs/{run}/curves", json={"names": ["x"], "width": 100}).json[
        "curves"
    ][0]
    assert len(curve["time"]) > 2
    assert client.post(f"/api/runs/{run}/stop").status_code == 422


def test_a_waiting_run_survives_and_is_computed_when_a_worker_comes(
    client: Any, project: int, start_worker: Start
) -> None:
    ordered = client.post(
        f"/api/projects/{project}/models/VarrowQuay.Sump/runs", json={"stop": 60}
    ).json["id"]
    assert state(client, ordered) == "queued"
    start_worker()
    wait_until(lambda: state(client, ordered) == "done", 40, "the waiting run computed")


def test_a_waiting_run_that_is_stopped_never_begins(
    client: Any, project: int, start_worker: Start
) -> None:
    address = f"/api/projects/{project}/models/VarrowQuay.Sump/runs"
    first, second = (client.post(address, json={"stop": 60}).json["id"] for _ in range(2))
    assert client.post(f"/api/runs/{first}/stop").json["state"] == "stopped"
    start_worker()
    wait_until(lambda: state(client, second) == "done", 40, "the other run computed")
    assert state(client, first) == "stopped"
    assert client.get(f"/api/runs/{first}").json["points"] == 0
