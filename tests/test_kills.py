"""Edits while processes are killed: what was acknowledged is there, what was sent again is there once."""

from __future__ import annotations

import os
import random
import signal
import uuid
from pathlib import Path

from tests.serving import Server

#: Edits, and those before which something is killed.
EDITS, KILLS = (10_000, 400) if os.environ.get("MOVREL_FULL") else (80, 4)
#: What is killed in turn, by words in its command.
VICTIMS = ("gunicorn", "movrel.web.pool.child", "movrel worker", "postgres -D")


def processes_below(server: int) -> dict[int, str]:
    """The processes below a server with their commands."""
    parents, commands = {}, {}
    for folder in Path("/proc").iterdir():
        if folder.name.isdigit():
            try:
                fields = (folder / "stat").read_text().rpartition(")")[2].split()
                command = (folder / "cmdline").read_bytes().replace(b"\0", b" ").decode()
            except OSError:
                continue
            parents[int(folder.name)], commands[int(folder.name)] = int(fields[1]), command

    def below(pid: int) -> bool:
        while pid in parents and pid != server:
            pid = parents[pid]
        return pid == server

    return {pid: command for pid, command in commands.items() if below(pid)}


def kill(server: Server, victim: str, chance: random.Random) -> None:
    """Kill one process of a kind, if there is one."""
    assert server.process is not None
    if victim.startswith("postgres"):
        pids = [server.database_process()]
    else:
        below = processes_below(server.process.pid)
        pids = [pid for pid, command in below.items() if victim in command]
    if pids:
        os.kill(chance.choice(pids), signal.SIGKILL)


def test_no_acknowledged_edit_is_lost_and_none_is_made_twice(tmp_path: Path) -> None:
    chance = random.Random(21)
    killing = set(chance.sample(range(5, EDITS), KILLS))
    server = Server(tmp_path, workers=1)
    server.start()
    try:
        project = server.asked("/projects", {"name": "Killed"})["id"]
        text = "model Plant Real x(start=0, fixed=true); equation der(x) = 1; end Plant;"
        server.asked(f"/projects/{project}/files", {"path": "Plant.mo", "text": text})
        address = f"/projects/{project}/models/Plant"
        seen = server.asked(address)
        victims: list[str] = []
        for k in range(EDITS):
            if k in killing:
                victims.append(VICTIMS[len(victims) % len(VICTIMS)])
                kill(server, victims[-1], chance)
            place = {"x": 20 * (k % 40), "y": 20 * (k // 40)}
            edit = {"do": "insert", "class": "Movrel.Process.Basin", **place}
            order = {
                "id": str(uuid.uuid4()),
                "revision": seen["revision"],
                "known": seen["mark"],
                "edit": edit,
            }
            seen = server.asked(f"{address}/edits", order)
            assert len(seen["inserted"]) == 1, (k, victims)
        kept = [c["name"] for c in server.asked(address)["sheet"]["components"]]
        assert len(kept) == len(set(kept)) == EDITS, victims
        assert server.runs() and "keeps ending" not in server.log()
    finally:
        server.stop()
