"""What bin/demo says when it cannot start."""

from __future__ import annotations

import os
import pwd
import signal
import socket
import subprocess
import sys
import sysconfig
import tempfile
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


def readable_interpreter() -> tuple[str, dict[str, str]]:
    """A Python that other accounts may run, too, with the packages of this one."""
    system = Path(f"/usr/bin/python{sys.version_info.major}.{sys.version_info.minor}")
    if os.geteuid() != 0 or not system.exists():
        return sys.executable, {}
    return str(system), {
        "PYTHONPATH": os.pathsep.join([str(ROOT), sysconfig.get_paths()["purelib"]])
    }


def users_of(session: int) -> set[int]:
    """The users as whom the processes of a session run."""
    users = set()
    for entry in Path("/proc").glob("[0-9]*"):
        try:
            if int((entry / "stat").read_text().rpartition(")")[2].split()[3]) == session:
                users.add(int((entry / "status").read_text().split("Uid:")[1].split()[1]))
        except OSError:
            continue  # it has just ended
    return users


def children_of(parent: int) -> list[int]:
    return [int(n) for n in Path(f"/proc/{parent}/task/{parent}/children").read_text().split()]


def test_a_killed_database_is_back_and_runs_go_on() -> None:
    """And, where root has started the server, whatever answers and computes is not root."""
    folder = Path(tempfile.mkdtemp(prefix="movrel-serve-"))
    python, environment = readable_interpreter()
    server = Server(folder, workers=1, python=python, **environment)
    server.start()
    try:
        project = server.asked("/projects", {"name": "Kept"})["id"]
        text = "model Tank Real x(start=1, fixed=true); equation der(x) = -x; end Tank;"
        server.asked(f"/projects/{project}/files", {"path": "Tank.mo", "text": text})
        assert server.process is not None
        users = [users_of(child) for child in children_of(server.process.pid)]
        assert len(users) == 2, "a web process and a worker"
        if os.geteuid() == 0 and "works as root" not in server.log():
            account = pwd.getpwnam("nobody").pw_uid
            assert users == [{account}, {account}]
        else:
            assert os.geteuid() != 0 or python == sys.executable, server.log()
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
        sockets = Path((server.database_folder() / "sockets").read_text())
        assert sockets.is_dir()
        server.end()
        assert not sockets.exists(), "a folder that goes with its process"
