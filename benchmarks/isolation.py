"""How long people wait while somebody else asks for too much.

    python benchmarks/isolation.py [--people 20] [--seconds 20] [--streams 500]

Starts the whole server with data of its own. ``people`` threads browse, each with a model of its own: the model's view, its
runs, its shelf, with a pause between. First alone; then while one more person, one thing after the other and again from the
start, checks 60 000 states, types ``10^(10^10)``, orders a sweep of 100 000 points, has a page of 3 000 rows made a PDF and
uploads an archive of 2 000 files; then, that person gone, with so many open event streams. Printed are the percentiles of what the others waited, and what each of the large
requests took and got.
"""

from __future__ import annotations

import argparse
import io
import json
import socket
import threading
import time
import urllib.error
import urllib.request
import zipfile
from collections import defaultdict

import numpy as np
from own_server import own_server

SMALL = """model M{k} Real x(start=1, fixed=true); parameter Real a = {k}; equation der(x) = -a*x; end M{k};"""
MANY = """model Many Real x[60000](each start=1, each fixed=true);
equation for i in 1:60000 loop der(x[i]) = -x[i]; end for; end Many;"""
HUGE = "model Huge parameter Real a = 10^(10^10); Real x(start=a, fixed=true); equation der(x) = -x; end Huge;"
#: Seconds between two requests of a person.
PAUSE = 0.3


class Asking:
    """Requests to a server."""

    def __init__(self, port: int) -> None:
        self.address = f"http://127.0.0.1:{port}/api"

    def ask(self, path: str, body: object = None, raw: bytes | None = None) -> tuple[int, bytes]:
        data = raw if raw is not None else None if body is None else json.dumps(body).encode()
        kind = "application/zip" if raw is not None else "application/json"
        request = urllib.request.Request(
            self.address + path, data, {"Content-Type": kind, "X-Movrel": "benchmark"}
        )
        try:
            with urllib.request.urlopen(request, timeout=600) as answer:
                return answer.status, answer.read()
        except urllib.error.HTTPError as refused:
            return refused.code, refused.read()

    def project(self, name: str, files: dict[str, str]) -> int:
        number = int(json.loads(self.ask("/projects", {"name": name})[1])["id"])
        for path, text in files.items():
            self.ask(f"/projects/{number}/files", {"path": path, "text": text})
        return number


def archive(files: int) -> bytes:
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w") as made:
        made.writestr("Many/package.mo", "package Many end Many;")
        for k in range(files):
            made.writestr(f"Many/F{k}.mo", f"within Many; model F{k} Real x = {k}; end F{k};")
    return content.getvalue()


def browse(asking: Asking, project: int, ended: threading.Event, waited: list[float]) -> None:
    """What one person does."""
    k = 0
    while not ended.is_set():
        model = f"/projects/{project}/models/M{project}"
        for path in (model, f"{model}/runs", f"/projects/{project}/shelf"):
            began = time.perf_counter()
            status, _ = asking.ask(path)
            waited.append(time.perf_counter() - began)
            assert status == 200, (path, status)
            ended.wait(PAUSE)
        k += 1


def demand(asking: Asking, project: int, ended: threading.Event) -> dict[str, list[str]]:
    """One large thing after the other."""
    rows = "".join(f"<tr><td>{k}</td><td>{k * 1.5}</td></tr>" for k in range(3000))
    document = f"<!doctype html><table>{rows}</table>"
    sweep = {
        "varied": [{"name": "a", "low": 1, "high": 2}], "measures": ["final(x)"], "curves": [],
        "sample": "sobol", "points": 100_000,
    }  # fmt: skip
    packed = archive(2000)
    took: dict[str, list[str]] = defaultdict(list)
    number = 0
    while not ended.is_set():
        number += 1
        model = f"/projects/{project}/models"
        for words, path, body, raw in (
            ("60 000 states", f"{model}/Many", None, None),
            ("10^(10^10)", f"{model}/Huge", None, None),
            ("sweep of 100 000", f"{model}/Small/sweeps", sweep, None),
            ("PDF of 3 000 rows", "/pdf", {"document": document}, None),
            ("archive of 2 000", f"/archives/A{number}", None, packed),
        ):
            began = time.perf_counter()
            status, content = asking.ask(path, body, raw)
            what = f"{time.perf_counter() - began:.2f} s, {status}"
            if status != 200:
                what += f" {content[:150]!r}"
            took[words].append(what)
    return took


def open_stream(port: int) -> socket.socket:
    """A stream of events, as a browser has one open."""
    made = socket.create_connection(("127.0.0.1", port))
    made.sendall(b"GET /api/events HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
    assert b"200" in made.recv(4096)
    return made


def percentiles(waited: list[float]) -> str:
    p50, p95, p100 = 1000 * np.percentile(waited, [50, 95, 100])
    return f"median {p50:.0f} ms, 95th percentile {p95:.0f} ms, longest {p100:.0f} ms of {len(waited)} answers"


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__.split("\n", 1)[0])
    parser.add_argument("--people", type=int, default=20)
    parser.add_argument("--seconds", type=float, default=20.0)
    parser.add_argument("--streams", type=int, default=500)
    options = parser.parse_args()
    with own_server(2) as server:
        asking = Asking(server.port)
        small = SMALL.format(k=1).replace("M1", "Small")
        large = asking.project("large", {"Many.mo": MANY, "Huge.mo": HUGE, "Small.mo": small})
        projects = []
        for _ in range(options.people):
            number = asking.project("small", {})
            text = SMALL.format(k=number)
            asking.ask(f"/projects/{number}/files", {"path": f"M{number}.mo", "text": text})
            projects.append(number)
        streams = []
        for turn in ("alone", "beside large requests", f"with {options.streams} streams"):
            if turn.startswith("with"):
                streams = [open_stream(server.port) for _ in range(options.streams)]
            waited: list[float] = []
            ended = threading.Event()
            people = [
                threading.Thread(target=browse, args=(asking, number, ended, waited))
                for number in projects
            ]
            for person in people:
                person.start()
            if turn.startswith("beside"):
                threading.Timer(options.seconds, ended.set).start()
                took = demand(asking, large, ended)
            else:
                ended.wait(options.seconds)
                ended.set()
            for person in people:
                person.join()
            print(f"{turn}: {percentiles(waited)}")
        for words, all_of_them in took.items():
            print(f"  {words}: {'; '.join(all_of_them)}")
        for stream in streams:
            stream.close()


if __name__ == "__main__":
    main()
