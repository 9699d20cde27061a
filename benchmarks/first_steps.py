"""What a person waits for with a small model: opening it, putting a part on the sheet, and the curve after Run.

On the real server in the real browser, beside a plain Python loop on the same machine: ten million additions, which take
about 0.55 s where the bars are meant. A figure over its bar counts against that loop.

    .venv/bin/python -m benchmarks.first_steps
"""

from __future__ import annotations

import statistics
import time

from benchmarks.click_to_curve import MEASURE
from benchmarks.sheet_speed import bench_in_browser
from tests.conftest import ROOT

BARS = {
    "opening a model": 1000,
    "inserting a part": 150,
    "inserting it with a value": 150,
    "run to curve": 300,
}
#: Seconds that the loop takes where the bars are meant.
QUIET = 0.55

OPEN = """const done = arguments[0]; const began = performance.now();
document.querySelector('[data-testid="model-Sump"]').click();
const look = () => document.querySelector('[data-testid="part-basin"]') && document.querySelectorAll('.react-flow__edge').length >= 4
  ? requestAnimationFrame(() => done(performance.now() - began)) : setTimeout(look, 3);
look();"""
INSERT = """const [typed, done] = arguments; const box = document.querySelector('[data-testid="shelf-search"]');
const before = document.querySelectorAll('.sheet-part').length;
Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(box, typed);
box.dispatchEvent(new Event('input', {bubbles: true}));
setTimeout(() => { const began = performance.now();
  box.dispatchEvent(new KeyboardEvent('keydown', {key: 'Enter', bubbles: true}));
  const look = () => document.querySelectorAll('.sheet-part').length > before
    ? requestAnimationFrame(() => done(performance.now() - began)) : setTimeout(look, 2);
  look(); }, 150);"""


def loop() -> float:
    """Seconds of ten million additions."""
    began, total = time.perf_counter(), 0
    for i in range(10_000_000):
        total += i
    return time.perf_counter() - began


def main() -> None:
    measured: dict[str, float] = {}
    with bench_in_browser() as bench:
        driver, server = bench.driver, bench.server
        text = (ROOT / "examples" / "VarrowQuay" / "Sump.mo").read_text()
        bench.add("Sump", text.replace("within VarrowQuay;", ""))
        bench.add("Small", "model Small\nend Small;\n")
        opened = []
        for _ in range(8):
            driver.get(server.address)
            bench.until("document.querySelector('[data-testid=\"model-Sump\"]') !== null")
            time.sleep(0.5)
            opened.append(driver.execute_async_script(OPEN))
        measured["opening a model"] = statistics.median(opened[1:])
        time.sleep(1)
        clicked = []
        for _ in range(12):
            clicked.append(driver.execute_async_script(MEASURE))
            time.sleep(1)
        measured["run to curve"] = statistics.median(clicked[3:])
        driver.get(f"{server.address}/projects/{bench.project}/models/Small")
        bench.until("document.querySelectorAll('#shelf-list li').length > 100")
        for name, typed in (("inserting a part", "gain"), ("inserting it with a value", "gain 3")):
            times = []
            for _ in range(8):
                times.append(driver.execute_async_script(INSERT, typed))
                time.sleep(0.5)
            measured[name] = statistics.median(times)
    slow = statistics.median(loop() for _ in range(3)) / QUIET
    print(f"the loop took {slow:.1f} times as long as on a quiet machine")
    print(f"{'what':28}{'ms':>9}{'bar':>7}{'ratio':>8}{'against the loop':>18}")
    for name, bar in BARS.items():
        ratio = measured[name] / bar
        print(f"{name:28}{measured[name]:9.1f}{bar:7}{ratio:8.2f}{ratio / slow:18.2f}")


if __name__ == "__main__":
    main()
