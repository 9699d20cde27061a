"""Edits while processes are killed: what was acknowledged is there, what was sent again is there once."""

from __future__ import annotations

import json
import os
import random
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
import uuid
from pathlib import Path
from typing import Any

from movrel.workspace.cluster import free_port
from tests.conftest import ROOT, wait_until

#: Edits, and those after which something is killed.
EDITS, KILLS = (10_000, 400) if os.environ.get("MOVREL_FULL") else (80, 4)
#: What is killed, by words in its command.
VICTIMS = ("gunicorn", "movrel.web.pool.child", "movrel worker", "postgres -D")


class Client:
    """Sends until it is answered, as the page does."""

    def __init__(self, port: int) -> None:
        self.address = f"http://127.0.0.1:{port}/api"

    def ask(self, path: str, body: object = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        request = urllib.request.Request(
            self.address + path, data, {"Content-Type": "application/json"}
        )
        deadline = time.monotonic() + 240
        while True:
            try:
                with urllib.request.urlopen(request, timeout=60) as answer:
                    return json.load(answer)
            except urllib.error.HTTPError as refused:
                fault = refused.read()
                assert refused.code in (502, 503), fault
            except (OSError, ValueError) as lost:
                fault = str(lost).encode()
            assert time.monotonic() < deadline, fault
            time.sleep(0.1)


def processes_of(server: int) -> dict[int, str]:
    """The processes below a server with their commands, the database's too."""
    parents, commands = {}, {}
    for folder in Path("/proc").iterdir():
        if folder.name.isdigit():
            try:
                fields = (folder / "stat").read_text().rpartition(")")[2].split()
                commands[int(folder.name)] = (
                    (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode()
                )
                parents[int(folder.name)] = int(fields[1])
            except OSError:
                continue

    def below(pid: int) -> bool:
        while pid in parents and pid != server:
            pid = parents[pid]
        return pid == server

    return {pid: command for pid, command in commands.items() if below(pid)}


def kill(server: int, data: Path, victim: str, chance: random.Random) -> None:
    """Kill one process of a kind, if there is one."""
    if victim.startswith("postgres"):
        folder = data / "postgres"
        if (folder / "elsewhere").is_file():
            folder = Path((folder / "elsewhere").read_text().strip())
        pids = [int((folder / "data" / "postmaster.pid").read_text().split()[0])]
    else:
        pids = [pid for pid, command in processes_of(server).items() if victim in command]
    if pids:
        os.kill(chance.choice(pids), signal.SIGKILL)


def test_no_acknowledged_edit_is_lost_and_none_is_made_twice(tmp_path: Path) -> None:
    tmp_path.chmod(0o755)
    port, log = free_port(), tmp_path / "log"
    chance = random.Random(21)
    killed = set(chance.sample(range(5, EDITS), KILLS))
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
    with log.open("w") as out:
        server = subprocess.Popen(command, stdout=out, stderr=out, cwd=ROOT)
    try:
        wait_until(lambda: "Movrel is ready" in log.read_text(), 90, "the server")
        client = Client(port)
        project = client.ask("/projects", {"name": "Killed"})["id"]
        text = "model Plant Real x(start=0, fixed=true); equation der(x) = 1; end Plant;"
        client.ask(f"/projects/{project}/files", {"path": "Plant.mo", "text": text})
        address = f"/projects/{project}/models/Plant"
        seen = client.ask(address)
        said: list[str] = []
        for k in range(EDITS):
            edit = {
                "do": "insert",
                "class": "Movrel.Process.Basin",
                "x": 20 * (k % 40),
                "y": 20 * (k // 40),
            }
            if k in killed:
                said.append(VICTIMS[len(said) % len(VICTIMS)])
                kill(server.pid, tmp_path, said[-1], chance)
            order = {
                "id": str(uuid.uuid4()),
                "revision": seen["revision"],
                "known": seen["mark"],
                "edit": edit,
            }
            seen = client.ask(f"{address}/edits", order)
            assert len(seen["inserted"]) == 1, (k, said)
        kept = [c["name"] for c in client.ask(address)["sheet"]["components"]]
        assert len(kept) == len(set(kept)) == EDITS, said
        assert server.poll() is None and "keeps ending" not in log.read_text()
    finally:
        server.send_signal(signal.SIGINT)
        server.wait(60)
