"""Edits while processes are killed: what was acknowledged is there, what was sent again is there once."""

from __future__ import annotations

import os
import random
import re
import signal
import uuid
from pathlib import Path

import psycopg

from tests.serving import Server

#: Edits, and those before which something is killed.
EDITS, KILLS = (10_000, 150) if os.environ.get("MOVREL_FULL") else (200, 5)
#: What is killed in turn, by words in its command; the supervisor is started again by whoever watches over it.
VICTIMS = ("gunicorn", "movrel.web.pool.child", "movrel worker", "postgres -D", "supervisor")
#: Values that are edited.
PLACES = 20


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


def texts_of(server: Server, project: int) -> list[str]:
    """The texts of all revisions of a project's only file, each made from the one before."""
    with psycopg.connect(server.database_url()) as connection:
        rows = connection.execute(
            "SELECT r.id, r.parent_id, r.text FROM revision r JOIN model_file f ON f.id = r.file_id "
            "WHERE f.project_id = %s ORDER BY r.id",
            (project,),
        ).fetchall()
    assert [parent for _, parent, _ in rows] == [None, *(number for number, _, _ in rows[:-1])]
    return [text for _, _, text in rows]


def test_no_acknowledged_edit_is_lost_and_none_is_made_twice(tmp_path: Path) -> None:
    chance = random.Random(21)
    killing = set(chance.sample(range(5, EDITS), KILLS))
    server = Server(tmp_path, workers=1)
    server.start()
    try:
        project = server.asked("/projects", {"name": "Killed"})["id"]
        values = "".join(f" parameter Real a{k} = -1;" for k in range(PLACES))
        body = {"path": "Plant.mo", "text": f"model Plant{values} end Plant;"}
        server.asked(f"/projects/{project}/files", body)
        address = f"/projects/{project}/models/Plant"
        seen = server.asked(address)
        victims: list[str] = []
        for k in range(EDITS):
            if k in killing:
                victims.append(VICTIMS[len(victims) % len(VICTIMS)])
                if victims[-1] == "supervisor":
                    server.stop(signal.SIGKILL)
                    server.start()
                else:
                    kill(server, victims[-1], chance)
            edit = {"do": "parameter", "name": f"a{k % PLACES}", "text": str(k)}
            order = {
                "id": str(uuid.uuid4()),
                "revision": seen["revision"],
                "known": seen["mark"],
                "edit": edit,
            }
            seen = server.asked(f"{address}/edits", order)
        first, *after = texts_of(server, project)
        assert first == body["text"] and len(after) == EDITS, victims
        for k, text in enumerate(after):
            shown = [int(v) for v in re.findall(r"a\d+ = (-?\d+)", text)]
            assert shown == [newest(k, place) for place in range(PLACES)], (k, victims)
        assert server.runs() and "keeps ending" not in server.log()
    finally:
        server.end()


def newest(edit: int, place: int) -> int:
    """What was written to a place last, by that edit or one before; -1 at first."""
    round_, last = divmod(edit, PLACES)
    value = PLACES * round_ + place - (PLACES if place > last else 0)
    return max(value, -1)
