"""Workers that are killed, and everything being stopped: no run stays 'running' for ever."""

from __future__ import annotations

import math
import os
import signal
import subprocess
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest

from movrel.jobs.recovery import recover, recover_orders
from movrel.workspace.tables import Run, UnitExport, database
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
    return found["state"] == "running" and (found["time_reached"] or 0) > 0


def is_done(client: Any, run: int) -> bool:
    found = client.get(f"/api/runs/{run}").json
    assert found["state"] not in ("failed", "stopped"), found["reason"]
    return bool(found["state"] == "done")


def losses(run: int) -> int:
    with database.connection_context():
        return int(Run.get_by_id(run).attempts)


def stood_at(run: int) -> float:
    """The instant at which another worker would take a run up."""
    with database.connection_context():
        interim = Run.get_by_id(run).interim
    return float(interim["state"]["time"]) if interim else 0.0


Start = Callable[[], "subprocess.Popen[bytes]"]


def test_a_run_is_taken_up_by_another_worker_after_kill_9(
    client: Any, project: int, start_worker: Start
) -> None:
    first = start_worker()
    run = order_slow(client, project, 16)
    wait_until(lambda: stood_at(run) > 0, what="a note of where the run stands")
    os.kill(first.pid, signal.SIGKILL)
    first.wait()
    assert state(client, run) == "running"
    stood = stood_at(run)
    start_worker()
    wait_until(lambda: is_done(client, run), 90, "the run taken up and finished")
    found = client.get(f"/api/runs/{run}").json
    assert found["points"] == 33, "points that were not part of the note are gone"
    assert found["time_reached"] == pytest.approx(16)
    assert f"another worker took the run up at {stood:g} s" in " ".join(found["messages"])
    curve = client.post(f"/api/runs/{run}/curves", json={"names": ["x"], "width": 100}).json
    times, values = curve["curves"][0]["time"], curve["curves"][0]["values"]
    assert times == [0.5 * k for k in range(33)]
    assert values == pytest.approx([math.cos(1000 * t) for t in times], abs=1e-2)


def test_a_run_that_kills_every_worker_fails_with_a_reason(
    client: Any, project: int, start_worker: Start
) -> None:
    run = order_slow(client, project, 100_000)
    reached = 0.0
    for lost in range(2):
        worker = start_worker()
        wait_until(
            lambda lost=lost: losses(run) == lost and is_under_way(client, run),
            60,
            "the run under way",
        )
        os.kill(worker.pid, signal.SIGKILL)
        worker.wait()
        shown = client.get(f"/api/runs/{run}").json["progress"]
        assert shown >= reached, "progress never goes back"
        reached = shown
    start_worker()
    wait_until(lambda: state(client, run) == "failed", 60, "the run given up")
    assert "ended unexpectedly 2 times" in client.get(f"/api/runs/{run}").json["reason"]


def test_a_worker_that_is_told_to_end_gives_its_run_back(
    client: Any, project: int, start_worker: Start
) -> None:
    first = start_worker()
    run = order_slow(client, project, 100_000)
    wait_until(lambda: is_under_way(client, run), 60, "the run under way")
    first.terminate()
    assert first.wait(60) == 0
    assert (state(client, run), losses(run)) == ("queued", 0)
    start_worker()
    wait_until(lambda: is_under_way(client, run), 60, "the run under way again")
    assert losses(run) == 0
    client.post(f"/api/runs/{run}/stop")
    wait_until(lambda: state(client, run) == "stopped", 20, "the run stopped")


@pytest.mark.parametrize("suspended", [10, 120])
def test_a_silent_worker(
    client: Any, project: int, start_worker: Start, suspended: int, database_url: str
) -> None:
    """One that is slow for some seconds keeps its run; one that was suspended for long finds that another has it."""
    first = start_worker()
    run = order_slow(client, project, 6)
    wait_until(lambda: is_under_way(client, run), 60, "the run under way")
    first.send_signal(signal.SIGSTOP)
    with database.connection_context():
        database.execute_sql(
            "UPDATE procrastinate_workers SET last_heartbeat = now() - make_interval(secs => %s)",
            (suspended,),
        )
        # Runs ordered a moment ago are not looked at.
        Run.update(created=Run.get_by_id(run).created - timedelta(minutes=5)).where(
            Run.id == run
        ).execute()
        before = Run.get_by_id(run).job
        recover(database_url)
        keeps = Run.get_by_id(run).job == before
    assert keeps == (suspended < 60)
    if not keeps:
        second = start_worker()
        wait_until(lambda: is_done(client, run), 90, "the run taken over and finished")
        second.kill()
    first.send_signal(signal.SIGCONT)
    wait_until(lambda: is_done(client, run), 90, "the run finished")
    first.terminate()
    first.wait(60)
    found = client.get(f"/api/runs/{run}").json
    assert (found["state"], found["points"], losses(run)) == ("done", 13, int(not keeps))


def test_a_lost_order_is_carried_out_by_another_worker(client: Any, project: int) -> None:
    address = f"/api/projects/{project}/models/VarrowQuay.Sump/units"
    unit = client.post(address, json={}).json["id"]
    with database.connection_context():
        for reached in ("waiting", "failed"):
            # As a worker leaves it that dies over it.
            database.execute_sql(
                "UPDATE procrastinate_jobs SET status = 'doing' WHERE task_name = 'movrel:make_unit' "
                "AND (args->>'export')::bigint = %s",
                (unit,),
            )
            assert recover_orders()
            made = UnitExport.get_by_id(unit)
            assert made.state == reached
    assert "ended unexpectedly 2 times" in made.reason


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
    wait_until(lambda: is_done(client, ordered), 40, "the waiting run computed")


def test_a_waiting_run_that_is_stopped_never_begins(
    client: Any, project: int, start_worker: Start
) -> None:
    address = f"/api/projects/{project}/models/VarrowQuay.Sump/runs"
    first, second = (client.post(address, json={"stop": 60}).json["id"] for _ in range(2))
    assert client.post(f"/api/runs/{first}/stop").json["state"] == "stopped"
    start_worker()
    wait_until(lambda: is_done(client, second), 40, "the other run computed")
    assert state(client, first) == "stopped"
    assert client.get(f"/api/runs/{first}").json["points"] == 0
