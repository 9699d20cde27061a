"""What bin/demo says when it cannot start."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

from movrel.workspace.cluster import free_port
from tests.conftest import ROOT, wait_until


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
    tmp_path.chmod(0o755)
    port = free_port()
    log = tmp_path / "log"
    command = [
        sys.executable,
        "-m",
        "movrel.cli.serve",
        "--port",
        str(port),
        "--data",
        str(tmp_path),
        "--workers",
        "1",
    ]
    address = f"http://127.0.0.1:{port}/api"

    def ask(path: str, body: object = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(address + path, data, {"Content-Type": "application/json"})
        try:
            with urllib.request.urlopen(request, timeout=30) as answer:
                return json.load(answer)
        except urllib.error.HTTPError as refused:
            assert refused.code == 503, refused.read()
            return None

    with log.open("w") as out:
        server = subprocess.Popen(command, stdout=out, stderr=out, cwd=ROOT)
    try:
        wait_until(lambda: "Movrel is ready" in log.read_text(), 90, "the server")
        project = ask("/projects", {"name": "Kept"})["id"]
        text = "model Tank Real x(start=1, fixed=true); equation der(x) = -x; end Tank;"
        ask(f"/projects/{project}/files", {"path": "Tank.mo", "text": text})
        folder = tmp_path / "postgres"
        if (folder / "elsewhere").is_file():
            folder = Path((folder / "elsewhere").read_text().strip())
        pid_file = folder / "data" / "postmaster.pid"
        pid = int(pid_file.read_text().split()[0])
        os.kill(pid, signal.SIGKILL)
        wait_until(lambda: "database server ended" in log.read_text(), 20, "the end is noticed")
        wait_until(lambda: ask("/projects"), 30, "the database answers")
        run = wait_until(
            lambda: ask(f"/projects/{project}/models/Tank/runs", {"scenario": "base"}),
            30,
            "ordered",
        )
        assert isinstance(run, dict)
        wait_until(
            lambda: (seen := ask(f"/runs/{run['id']}")) and seen["state"] == "done", 60, "it is run"
        )
        assert server.poll() is None and "keeps ending" not in log.read_text()
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(60)
