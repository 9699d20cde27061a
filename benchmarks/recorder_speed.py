"""The recorder with much data, measured in the browser on the running demo: five runs of a million points on
four strips, a list of ten thousand runs, and a sweep of a thousand points over all workers.

    bin/demo &                                      # in another terminal
    .venv/bin/python benchmarks/recorder_speed.py   [--address http://127.0.0.1:8420] [--data .data]

Frames are the distances of animation frames, in ms. Each figure stands beside its bar.
"""

from __future__ import annotations

import argparse
import json
import statistics
import time
import urllib.request
from pathlib import Path
from typing import Any

from click_to_curve import browser
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

from movrel.workspace.cluster import Cluster
from movrel.workspace.database import connect
from movrel.workspace.tables import Run, database

MODEL = """model Long "four signals at a million instants"
  parameter Real f(unit="Hz") = 3; Real a; Real b; Real c; Real d(start=0, fixed=true);
equation
  a = sin(2*3.14159265*f*time); b = cos(7*f*time)*exp(-time/5); c = a*b + 0.1*sin(400*time); der(d) = a - 0.2*d;
  annotation (experiment(StopTime=10, Interval=1e-5, Tolerance=1e-6), __Movrel(recorder={{"a"}, {"b"}, {"c"}, {"d"}}));
end Long;"""

DRAWN = """
const done = arguments[arguments.length - 1];
const count = arguments[0];
const look = () => {
  const recorder = document.querySelector('[data-testid="recorder"]');
  if (recorder && (recorder.dataset.drawn || '').split(' ').filter(Boolean).length >= count) requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now())));
  else requestAnimationFrame(look);
};
look();
"""

FRAMES = """
const [what, done] = [arguments[0], arguments[arguments.length - 1]];
const over = document.querySelector('[data-testid="strip"] .u-over');
const box = over.getBoundingClientRect();
const frames = [];
let last = performance.now(), k = 0;
const step = (now) => {
  frames.push(now - last);
  last = now;
  k += 1;
  const x = box.left + box.width * (0.3 + 0.4 * Math.abs(Math.sin(k / 25)));
  const at = {bubbles: true, clientX: x, clientY: box.top + 20};
  if (what === 'cursor') over.dispatchEvent(new MouseEvent('mousemove', at));
  else over.dispatchEvent(new WheelEvent('wheel', {...at, deltaY: k % 40 < 20 ? -100 : 100, cancelable: true}));
  if (k < 150) requestAnimationFrame(step); else done(frames.slice(5));
};
requestAnimationFrame(step);
"""

SCROLL = """
const done = arguments[arguments.length - 1];
const list = document.querySelector('[data-testid="run-scroll"]');
const frames = [];
let last = performance.now(), k = 0;
const step = (now) => {
  frames.push(now - last);
  last = now;
  list.scrollTop += 400;
  k += 1;
  if (k < 150) requestAnimationFrame(step); else done(frames.slice(5));
};
requestAnimationFrame(step);
"""


class Server:
    def __init__(self, address: str) -> None:
        self.address = address

    def ask(self, path: str, body: dict[str, Any] | None = None, method: str | None = None) -> Any:
        data = json.dumps(body).encode() if body is not None else None
        request = urllib.request.Request(
            f"{self.address}/api{path}", data, {"Content-Type": "application/json"}, method=method
        )
        return json.load(urllib.request.urlopen(request, timeout=60))


def frames(name: str, found: list[float], bar: float) -> None:
    found.sort()
    print(
        f"{name}: median frame {statistics.median(found):.0f} ms, 90 % within {found[int(0.9 * len(found))]:.0f} ms (bar {bar:.0f} ms)"
    )


def many_runs(driver: Any, options: argparse.Namespace, project: int) -> None:
    """A list of ten thousand runs, copied in the database, scrolled from one end towards the other."""
    cluster = Cluster(options.data / "postgres")
    cluster.port = int((cluster.folder / "port").read_text())
    connect(cluster.url)
    with database.connection_context():
        first = (
            Run.select()
            .where((Run.project == project) & Run.deleted.is_null())
            .order_by(Run.id)
            .first()
        )
        given = {k: v for k, v in first.__data__.items() if k != "id"}
        rows = [
            given
            | {"number": 6 + k, "name": f"f {1 + k * 1e-3:.3f} Hz", "points": 0, "catalogue": []}
            for k in range(10_000)
        ]
        for k in range(0, len(rows), 1000):
            Run.insert_many(rows[k : k + 1000]).execute()
    driver.refresh()
    WebDriverWait(driver, 20).until(
        lambda d: d.find_elements(By.CSS_SELECTOR, '[data-testid="run-menu"]')
    )
    began = time.monotonic()
    driver.find_element(By.CSS_SELECTOR, '[data-testid="run-menu"]').click()
    WebDriverWait(driver, 20).until(
        lambda d: d.find_elements(By.CSS_SELECTOR, '[data-testid^="about-run-"]')
    )
    print(
        f"the list of {len(rows) + 5} runs is open after {1000 * (time.monotonic() - began):.0f} ms"
    )
    frames("scrolling it", driver.execute_async_script(SCROLL), 20)
    WebDriverWait(driver, 20).until(
        lambda d: d.find_elements(By.CSS_SELECTOR, '[data-testid^="about-run-"]')
    )
    driver.find_element(By.CSS_SELECTOR, '[data-testid="run-filter"]').send_keys("9.876")
    began = time.monotonic()
    WebDriverWait(driver, 20).until(
        lambda d: d.find_element(By.CSS_SELECTOR, '[data-testid="runs-found"]').text == "1 found"
    )
    print(
        f"one of them is found by its name {1000 * (time.monotonic() - began):.0f} ms after typing"
    )


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--address", default="http://127.0.0.1:8420")
    parser.add_argument("--data", type=Path, default=Path(".data"), help="data folder of the demo")
    options = parser.parse_args()
    server = Server(options.address)
    project = server.ask("/projects", {"name": "Recorder speed"})["id"]
    server.ask(f"/projects/{project}/files", {"path": "Long.mo", "text": MODEL})
    address = f"/projects/{project}/models/Long"
    runs = [server.ask(f"{address}/runs", {})["id"] for _ in range(5)]
    began = time.monotonic()
    while any(server.ask(f"/runs/{run}")["state"] not in ("done", "failed") for run in runs):
        time.sleep(0.5)
    print(
        f"five runs of {server.ask(f'/runs/{runs[0]}')['points']} points computed in {time.monotonic() - began:.0f} s"
    )
    driver = browser()
    driver.set_script_timeout(60)
    driver.get(f"{options.address}{address}")
    WebDriverWait(driver, 20).until(
        lambda d: d.find_elements(By.CSS_SELECTOR, '[data-testid="run-menu"]')
    )
    driver.execute_script(
        "localStorage.setItem(arguments[0], JSON.stringify({shown: arguments[1].map((run, slot) => ({run, slot})), strips: [['a'], ['b'], ['c'], ['d']]}))",
        f"movrel.view.{project}.Long", runs,
    )  # fmt: skip
    for turn in ("first", "again"):
        driver.get(f"{options.address}{address}")
        shown = driver.execute_async_script(DRAWN, 5)
        print(
            f"five runs of a million points on four strips, {turn}: {shown:.0f} ms after opening the page (bar 1000 ms)"
        )
    frames("cursor over them", driver.execute_async_script(FRAMES, "cursor"), 20)
    frames("zoom with the wheel", driver.execute_async_script(FRAMES, "wheel"), 20)
    many_runs(driver, options, project)
    driver.quit()
    began = time.monotonic()
    sweep = server.ask(
        "/projects/1/models/VarrowQuay.Sump/sweeps",
        {
            "varied": [{"name": "outlet.diameter", "low": 0.1, "high": 0.3, "count": 25}, {"name": "basin.area", "low": 10, "high": 60, "count": 40}],
            "measures": ["max(basin.level)"], "curves": ["basin.level"],
        },
    )["id"]  # fmt: skip
    while (found := server.ask(f"/sweeps/{sweep}"))["state"] != "done":
        time.sleep(0.3)
    print(
        f"a sweep of {found['count']} runs of the sump: {time.monotonic() - began:.0f} s, {found['failed']} failed (bar 60 s)"
    )


if __name__ == "__main__":
    main()
