"""What bin/demo says when it cannot start."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
from pathlib import Path

from movrel.workspace.cluster import free_port
from tests.conftest import ROOT, wait_until
from tests.serving import Server


def serve(*arguments: str) -> subprocess.CompletedProcess[str]:
    command = [sys.executable, "-m", "movrel.cli.serve", *arguments]
    return subprocess.run(
        command, capture_output=True, text=True, cwd=ROOT, timeout=60, check=False
    )


def test_a_taken_port_is_said_and_nothing_is_started(tmp_path: Path) -> None:
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = taken.getsockname()[1]
        done = serve("--port", str(port), "--data", str(tmp_path))
    assert done.returncode == 1
    assert f"port {port} is taken" in done.stderr and "--port" in done.stderr
    assert not (tmp_path / "postgres" / "data").exists()


def test_one_data_folder_serves_one_movrel_at_a_time(tmp_path: Path) -> None:
    import fcntl

    with (tmp_path / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        done = serve("--port", str(free_port()), "--data", str(tmp_path))
    assert done.returncode == 1 and "another Movrel is running on the data" in done.stderr


def test_a_killed_database_is_back_and_runs_go_on(tmp_path: Path) -> None:
    server = Server(tmp_path, workers=1)
    server.start()
    try:
        project = server.asked("/projects", {"name": "Kept"})["id"]
        text = "model Tank Real x(start=1, fixed=true); equation der(x) = -x; end Tank;"
        server.asked(f"/projects/{project}/files", {"path": "Tank.mo", "text": text})
        os.kill(server.database_process(), signal.SIGKILL)
        wait_until(lambda: "database server ended" in server.log(), 20, "the end is noticed")
        server.asked("/projects")
        run = server.asked(f"/projects/{project}/models/Tank/runs", {"scenario": "base"})["id"]
        wait_until(
            lambda: (seen := server.ask(f"/runs/{run}")) and seen["state"] == "done",
            60,
            "it is run",
        )
        assert server.runs() and "keeps ending" not in server.log()
    finally:
        server.stop()
