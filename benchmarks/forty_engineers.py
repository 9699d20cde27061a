"""What many people at work wait for, and what the server's memory does meanwhile.

    python benchmarks/forty_engineers.py [--people 40] [--seconds 600] [--think 5]

Starts the whole server with data of its own and as many workers as processors. Each person has a project with the sump:
changes a value, thinks, and every fourth time orders a run of it. Printed are the percentiles of the edits, of the runs from
the moment in which a worker took them and from their order, and the memory of all processes (what they have for themselves
and share, counted once) at ten moments.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import threading
import time
from pathlib import Path

import numpy as np
import psycopg
from isolation import Asking, percentiles
from own_server import ROOT, own_server

SUMP = ROOT / "examples" / "VarrowQuay" / "Sump.mo"


def work(
    asking: Asking, project: int, think: float, ended: threading.Event, edits: list[float]
) -> None:
    """What one person does."""
    chance = random.Random(project)
    model = f"/projects/{project}/models/Sump"
    seen = json.loads(asking.ask(model)[1])
    for number in range(10**9):
        if ended.wait(chance.uniform(0.5, 1.5) * think):
            return
        edit = {"do": "parameter", "name": "outlet.diameter", "text": f"{80 + number % 40} mm"}
        order = {"revision": seen["revision"], "known": seen["mark"], "edit": edit}
        began = time.perf_counter()
        status, answer = asking.ask(f"{model}/edits", order)
        edits.append(time.perf_counter() - began)
        assert status == 200, answer
        seen |= {k: v for k, v in json.loads(answer).items() if k in ("revision", "mark")}
        if number % 4 == 3:
            status, answer = asking.ask(f"{model}/runs", {})
            assert status == 200, answer


def memory(server: int) -> float:
    """Megabytes of a process and of all below it, what they share counted once."""
    parents = {}
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            parents[int(folder.name)] = int(
                (folder / "stat").read_text().rpartition(")")[2].split()[1]
            )
        except OSError:
            continue
    total, todo = 0, [server]
    while todo:
        pid = todo.pop()
        todo += [child for child, parent in parents.items() if parent == pid]
        try:
            rollup = Path(f"/proc/{pid}/smaps_rollup").read_text()
            total += int(rollup.split("Pss:")[1].split()[0])
        except OSError:
            continue
    return total / 1000


def runs(url: str) -> tuple[list[float], list[float], int]:
    """Seconds of all runs that are done, from where a worker took them and from their order; how many are not done."""
    with psycopg.connect(url) as connection:
        rows = connection.execute("SELECT created, started, ended, state FROM run").fetchall()
    done = [(c, s, e) for c, s, e, state in rows if state == "done"]
    return (
        [(e - s).total_seconds() for _, s, e in done],
        [(e - c).total_seconds() for c, _, e in done],
        len(rows) - len(done),
    )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n", 1)[0])
    parser.add_argument("--people", type=int, default=40)
    parser.add_argument("--seconds", type=float, default=600.0)
    parser.add_argument("--think", type=float, default=5.0, help="seconds between two edits")
    options = parser.parse_args()
    with own_server(os.cpu_count() or 2) as server:
        asking = Asking(server.port)
        text = "\n".join(
            line for line in SUMP.read_text().splitlines() if not line.startswith("within")
        )
        projects = [asking.project(f"person {k}", {"Sump.mo": text}) for k in range(options.people)]
        ended, edits = threading.Event(), list[float]()
        people = [
            threading.Thread(target=work, args=(asking, number, options.think, ended, edits))
            for number in projects
        ]
        for person in people:
            person.start()
        sizes = []
        for _ in range(10):
            ended.wait(options.seconds / 10)
            sizes.append(memory(server.pid))
        ended.set()
        for person in people:
            person.join()
        time.sleep(5)
        taken, ordered, undone = runs(server.database())
        print(f"edits: {percentiles(edits)}")
        print(f"runs from where a worker takes them: {percentiles(taken)}; {undone} not done")
        print(f"runs from their order: {percentiles(ordered)}")
        print("memory in MB:", ", ".join(f"{size:.0f}" for size in sizes))
        slope = np.polyfit(np.arange(5), sizes[5:], 1)[0] * 10
        print(f"growth in the second half: {slope:+.0f} MB in {options.seconds:.0f} s")


if __name__ == "__main__":
    main()
