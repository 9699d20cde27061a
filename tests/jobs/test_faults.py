"""Very long runs, and a database that refuses in the middle: memory stays bounded, nothing is half-written."""

from __future__ import annotations

import os
import subprocess
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from movrel.jobs.compute import compute
from movrel.workspace.tables import ResultColumn, Revision, Run, database
from tests.conftest import wait_until

Start = Callable[[], "subprocess.Popen[bytes]"]
#: x(t) = 1 - cos t, its extremes known everywhere.
LONG = """model Long Real x(start=0, fixed=true); equation der(x) = sin(time);
annotation(experiment(StopTime=%s, Interval=%s, Tolerance=1e-9)); end Long;"""


def order(client: Any, project: int, stop: float, interval: float) -> int:
    text = LONG % (stop, interval)
    assert (
        client.post(
            f"/api/projects/{project}/files", json={"path": "Long.mo", "text": text}
        ).status_code
        == 200
    )
    return int(client.post(f"/api/projects/{project}/models/Long/runs", json={}).json["id"])


def peak_memory(process: subprocess.Popen[bytes]) -> int:
    """The most that a process ever held, in MB."""
    status = Path(f"/proc/{process.pid}/status").read_text()
    return (
        int(next(line for line in status.splitlines() if line.startswith("VmHWM")).split()[1])
        // 1024
    )


#: Points of the long run: ten million with MOVREL_FULL.
POINTS = 10_000_000 if os.environ.get("MOVREL_FULL") else 2_000_000


def test_millions_of_points_are_streamed_and_drawn_from_overviews(
    client: Any, project: int, start_worker: Start
) -> None:
    worker = start_worker()
    small = order(client, project, 1, 0.01)
    wait_until(
        lambda: client.get(f"/api/runs/{small}").json["state"] == "done", 60, "the small run"
    )
    before = peak_memory(worker)
    client.delete(f"/api/projects/{project}/files/Long.mo")
    run = int(
        client.post(
            f"/api/projects/{project}/models/Long/runs",
            json={"stop": 1000, "interval": 1000 / POINTS},
        ).json["id"]
    )
    wait_until(
        lambda: client.get(f"/api/runs/{run}").json["state"] in ("done", "failed"),
        240,
        "millions of points",
    )
    found = client.get(f"/api/runs/{run}").json
    assert found["state"] == "done" and found["points"] == POINTS + 1, found["reason"]
    # Time and x alone take 16 bytes a point; they are never together in memory.
    assert peak_memory(worker) - before < 12e-6 * POINTS
    with database.connection_context():
        longest = (
            ResultColumn.select(ResultColumn.count)
            .where(ResultColumn.run == run)
            .order_by(ResultColumn.count.desc())
            .first()
        )
    assert longest.count <= 500_000
    curve = client.post(f"/api/runs/{run}/curves", json={"names": ["x"], "width": 1000}).json[
        "curves"
    ][0]
    assert len(curve["time"]) <= 2002 and (curve["time"][0], curve["time"][-1]) == (0.0, 1000.0)
    assert max(curve["values"]) == pytest.approx(2, abs=1e-4) and min(
        curve["values"]
    ) == pytest.approx(0, abs=1e-4)
    close = client.post(
        f"/api/runs/{run}/curves",
        json={"names": ["x"], "width": 1000, "low": 500, "high": 500 + 5e5 / POINTS},
    ).json["curves"][0]
    assert len(close["time"]) >= 501
    assert np.allclose(close["values"], 1 - np.cos(close["time"]), atol=1e-3)
    value = client.post(f"/api/runs/{run}/values", json={"names": ["x"], "at": 777}).json["values"][
        "x"
    ]
    assert value == pytest.approx(1 - np.cos(777), abs=1e-3)


@pytest.fixture
def refusing(project: int) -> Iterator[Callable[[str, str], None]]:
    """A database that says that its disk is full when rows come into a table, from some condition on."""
    made: list[str] = []

    def refuse(table: str, condition: str) -> None:
        with database.connection_context():
            database.execute_sql(
                f"CREATE OR REPLACE FUNCTION refuse_{table}() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN IF {condition} THEN "
                "RAISE EXCEPTION 'could not extend file: No space left on device' USING ERRCODE = 'disk_full'; "
                "END IF; RETURN NEW; END $$"
            )
            database.execute_sql(
                f'CREATE TRIGGER refuse BEFORE INSERT ON "{table}" FOR EACH ROW EXECUTE FUNCTION refuse_{table}()'
            )
        made.append(table)

    yield refuse
    with database.connection_context():
        for table in made:
            database.execute_sql(f'DROP TRIGGER refuse ON "{table}"')
            database.execute_sql(f"DROP FUNCTION refuse_{table}()")


def test_a_full_disk_fails_the_run_with_a_reason_and_whole_pieces(
    client: Any, project: int, refusing: Any
) -> None:
    run = order(client, project, 1000, 1e-3)
    refusing("result_column", f'NEW."run_id" = {run} AND NEW."chunk" >= 2 AND NEW."column" >= 0')
    with database.connection_context():
        compute(run)
    found = client.get(f"/api/runs/{run}").json
    assert found["state"] == "failed"
    assert "No space left" in found["reason"] and "Traceback" not in found["reason"]
    with database.connection_context():
        rows = list(
            ResultColumn.select(ResultColumn.column, ResultColumn.chunk, ResultColumn.count).where(
                ResultColumn.run == run
            )
        )
    chunks = {k: {r.column: r.count for r in rows if r.chunk == k} for k in {r.chunk for r in rows}}
    assert (
        sorted(chunks) == [0, 1]
        and set(chunks[0]) == set(chunks[1]) >= {-1, 0}
        and all(len(set(c.values())) == 1 for c in chunks.values())
    )
    assert found["points"] == sum(c[-1] for c in chunks.values())
    curve = client.post(f"/api/runs/{run}/curves", json={"names": ["x"], "width": 500}).json[
        "curves"
    ][0]
    assert np.allclose(curve["values"], 1 - np.cos(curve["time"]), atol=1e-3)


def test_a_refused_edit_changes_nothing(client: Any, project: int, refusing: Any) -> None:
    address = f"/api/projects/{project}/models/VarrowQuay.Sump"
    before = client.get(address).json
    refusing("revision", "TRUE")
    answer = client.post(
        f"{address}/edits",
        json={
            "revision": before["revision"],
            "edit": {"do": "parameter", "name": "basin.area", "text": "99"},
        },
    )
    assert answer.status_code == 507
    assert answer.json["message"] == "the server's disk is full; nothing was changed."
    after = client.get(address).json
    assert (after["revision"], after["mark"]) == (before["revision"], before["mark"])
    refused = client.post(f"{address}/runs", json={})
    assert refused.status_code == 200, "what can still be stored is"
    with database.connection_context():
        assert not Revision.select().where(Revision.text.contains("area=99")).exists()


def test_lost_connections_lose_no_run(client: Any, project: int, start_worker: Start) -> None:
    start_worker()
    run = order(client, project, 700, 1e-3)
    wait_until(
        lambda: client.get(f"/api/runs/{run}").json["progress"] > 0.02, 60, "the run under way"
    )
    with database.connection_context():
        database.execute_sql(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE pid <> pg_backend_pid() AND datname = current_database()"
        )
    wait_until(lambda: client.get("/api/health").status_code == 200, 30, "the server answering")
    wait_until(
        lambda: client.get(f"/api/runs/{run}").json["state"] in ("done", "failed"),
        120,
        "an end of the run",
    )
    found = client.get(f"/api/runs/{run}").json
    assert found["state"] == "done" and found["points"] == 700_001, found["reason"]
    with database.connection_context():
        stored = Run.get_by_id(run).points
        counted = sum(
            r.count
            for r in ResultColumn.select(ResultColumn.count).where(
                (ResultColumn.run == run) & (ResultColumn.column == -1)
            )
        )
    assert stored == counted
