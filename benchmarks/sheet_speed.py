"""How fast a large sheet opens, moves and answers, in the real browser on the real server.

A sheet of 300 components and 480 wires. Frames are the distances of animation frames while the mouse
pans, zooms and drags; an edit is timed from letting go of a dragged part to the server's answer being
drawn; searching is timed on a shelf of 500 classes. A ratio says how a number stands to its bar.

    .venv/bin/python -m benchmarks.sheet_speed
"""

from __future__ import annotations

import json
import statistics
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import WebDriverWait

from tests.browser.conftest import FLAGS, Server

ROWS, COLUMNS = 20, 15
BARS = {
    "open": 1000, "pan, working zoom": 20, "zoom, working zoom": 20, "drag, working zoom": 20, "pan, all in view": 35,
    "zoom, all in view": 35, "drag, all in view": 35, "edit acknowledged": 100, "insert search": 50, "text followed (100 parts)": 300, "text followed elsewhere": 300,
}  # fmt: skip


def large_model(name: str = "Big", rows: int = ROWS, columns: int = COLUMNS) -> str:
    """Rows of sums and lags that hang together along and across."""
    parts, wires = [], []
    for r in range(rows):
        for c in range(columns):
            x, y = c * 80, -r * 80
            kind = "Constant" if c == 0 else "Lag" if c % 3 == 0 else "Sum"
            value = f"value={r + 1}" if c == 0 else "T=1.5" if c % 3 == 0 else "k_2=-0.5"
            place = f"annotation (Placement(transformation(extent={{{{{x},{y}}},{{{x + 40},{y + 40}}}}})))"
            parts.append(f"  Movrel.Signals.{kind} p{r}_{c}({value}) {place};")
            if c and c % 3 == 0:
                wires.append(f"  connect(p{r}_{c - 1}.y, p{r}_{c}.u);")
            elif c:
                wires.append(f"  connect(p{r}_{c - 1}.y, p{r}_{c}.u_1);")
                wires.append(f"  connect(p{(r + 1) % rows}_{(c - 1) // 3 * 3}.y, p{r}_{c}.u_2);")
    body = "\n".join(parts) + "\nequation\n" + "\n".join(wires)
    return f"model {name}\n{body}\n  annotation (experiment(StopTime=5));\nend {name};\n"


def many_classes(count: int) -> str:
    words = [
        "pump",
        "valve",
        "tank",
        "motor",
        "gear",
        "spring",
        "filter",
        "cooler",
        "beam",
        "winch",
    ]
    lines = [
        f'  model {words[i % 10].title()}{i} "A {words[i % 10]} of kind {i}"\n    Movrel.Signals.SignalOut y;\n  equation\n    y = {i};\n  end {words[i % 10].title()}{i};'
        for i in range(count)
    ]
    return "package Many\n" + "\n".join(lines) + "\nend Many;\n"


class Bench:
    def __init__(self, server: Server) -> None:
        self.server = server
        options = webdriver.ChromeOptions()
        options.binary_location = "/usr/bin/chromium"
        for flag in FLAGS.split():
            options.add_argument(flag)
        self.driver = webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=options)
        self.driver.execute_cdp_cmd(
            "Emulation.setDeviceMetricsOverride",
            {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False},
        )
        self.project = self.post("/api/projects", {"name": "Bench"})["id"]

    def post(self, path: str, body: Any) -> Any:
        request = urllib.request.Request(
            self.server.address + path,
            json.dumps(body).encode(),
            {"Content-Type": "application/json"},
        )
        return json.load(urllib.request.urlopen(request))

    def add(self, name: str, text: str) -> None:
        self.post(f"/api/projects/{self.project}/files", {"path": f"{name}.mo", "text": text})

    def until(self, script: str, seconds: float = 30) -> Any:
        return WebDriverWait(self.driver, seconds, poll_frequency=0.01).until(
            lambda d: d.execute_script(f"return {script}")
        )

    def mouse(self, kind: str, x: float, y: float, **more: Any) -> None:
        self.driver.execute_cdp_cmd(
            "Input.dispatchMouseEvent", {"type": kind, "x": x, "y": y, "button": "left", **more}
        )

    def frames(self, act: Any) -> float:
        """The median distance of frames in ms while something is done."""
        self.driver.execute_script(
            "window.marks = []; window.going = true;"
            "const mark = (t) => { window.marks.push(t); if (window.going) requestAnimationFrame(mark); }; requestAnimationFrame(mark);"
        )
        act()
        marks = self.driver.execute_script("window.going = false; return window.marks")
        return statistics.median(b - a for a, b in zip(marks[3:], marks[4:], strict=False))

    def wave(self, x: float, y: float, steps: int = 90) -> None:
        self.mouse("mousePressed", x, y, clickCount=1)
        for i in range(steps):
            self.mouse("mouseMoved", x + 90 * ((i % 30) / 30), y + 50 * ((i % 20) / 20), buttons=1)
        self.mouse("mouseReleased", x, y, clickCount=1)

    def changed_text(self, i: int) -> tuple[dict[str, Any], str]:
        """The model of a hundred parts with the i-th value for one of them."""
        view = json.load(
            urllib.request.urlopen(
                f"{self.server.address}/api/projects/{self.project}/models/Hundred/text"
            )
        )
        return view, view["text"].replace(
            f"p5_0(value={6 + 10 * i})", f"p5_0(value={6 + 10 * (i + 1)})"
        )

    def followed_elsewhere(self, i: int) -> float:
        """From an edit of the text in one window to the row of the ledger in another, in ms."""
        time.sleep(0.5)
        view, text = self.changed_text(i)
        began = time.perf_counter()
        address = f"/api/projects/{self.project}/models/Hundred/edits"
        self.post(address, {"revision": view["revision"], "edit": {"do": "text", "text": text}})
        self.until(
            f"document.querySelector('[data-testid=\"param-p5_0.value\"]')?.value === '{6 + 10 * (i + 1)}'"
        )
        return 1000 * (time.perf_counter() - began)

    def followed_here(self, i: int) -> float:
        """From keeping a changed text to the row of the ledger beside it, in ms."""
        time.sleep(0.8)
        _, text = self.changed_text(i)
        self.driver.find_element(By.CSS_SELECTOR, ".cm-content").send_keys(Keys.CONTROL, "a")
        self.driver.execute_script(
            "const d = new DataTransfer(); d.setData('text/plain', arguments[0]); document.querySelector('.cm-content')"
            ".dispatchEvent(new ClipboardEvent('paste', {clipboardData: d, bubbles: true, cancelable: true}));",
            text,
        )
        self.until("document.querySelector('[data-testid=\"keep-text\"]') !== null")
        time.sleep(0.8)  # what is said about a draft while it is typed comes first
        spent: float = self.driver.execute_async_script(
            """const [value, done] = arguments; const began = performance.now();
            document.querySelector('[data-testid="keep-text"]').click();
            const look = () => document.querySelector('[data-testid="param-p5_0.value"]')?.value === value
              ? done(performance.now() - began) : setTimeout(look, 3);
            look();""",
            str(6 + 10 * (i + 1)),
        )
        return spent

    def working_zoom(self) -> None:
        """About as large as one builds."""
        body = self.driver.find_element(By.TAG_NAME, "body")
        for key in "f++++++++":
            body.send_keys(key)
            time.sleep(0.25)

    def a_part(self) -> list[float]:
        """The middle of a part that is well in view."""
        middles: list[list[float]] = self.driver.execute_script(
            "return [...document.querySelectorAll('.sheet-part')].map((e) => e.getBoundingClientRect())"
            ".filter((b) => b.x > 250 && b.right < 880 && b.y > 130 && b.bottom < 420).map((b) => [b.x + b.width / 2, b.y + b.height / 2])"
        )
        return middles[len(middles) // 2]

    def drag(self, x: float, y: float) -> None:
        """Move a part a little to the right."""
        self.mouse("mousePressed", x, y, clickCount=1)
        for i in range(5):
            self.mouse("mouseMoved", x + i, y, buttons=1)
        self.mouse("mouseReleased", x + 4, y, clickCount=1)

    def wheel(self, x: float, y: float) -> None:
        for i in range(80):
            self.mouse("mouseWheel", x, y, deltaX=0, deltaY=-20 if (i // 10) % 2 else 20)


@contextmanager
def bench_in_browser() -> Iterator[Bench]:
    """A server of its own with an empty project, and a browser on it."""
    folder = Path(tempfile.mkdtemp(prefix="movrel-bench-"))
    folder.chmod(0o755)
    server = Server(folder)
    server.start()
    try:
        bench = Bench(server)
        bench.driver.set_script_timeout(60)
        yield bench
        bench.driver.quit()
    finally:
        server.stop()


def open_large(bench: Bench) -> float:
    driver = bench.driver
    driver.get(bench.server.address)
    bench.until("document.querySelector('[data-testid=\"model-Big\"]') !== null")
    driver.execute_async_script(
        """const done = arguments[0]; const began = performance.now();
        document.querySelector('[data-testid="model-Big"]').click();
        const look = () => document.querySelectorAll('.react-flow__node').length >= 300 && document.querySelectorAll('.react-flow__edge').length >= 480
          ? requestAnimationFrame(() => { window.opened = performance.now() - began; done(); }) : setTimeout(look, 5);
        look();"""
    )
    return float(driver.execute_script("return window.opened"))


def main() -> None:
    measured: dict[str, float] = {}
    with bench_in_browser() as bench:
        driver, server = bench.driver, bench.server
        bench.add("Big", large_model())
        open_large(bench)  # the first time compiles
        measured["open"] = statistics.median(open_large(bench) for _ in range(5))
        time.sleep(1.0)
        center = (545.0, 270.0)
        spot = driver.execute_script(
            "const b = document.querySelector('[data-testid=\"part-p10_7\"]').getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"
        )
        measured["pan, all in view"] = bench.frames(lambda: bench.wave(230, 150))
        measured["zoom, all in view"] = bench.frames(lambda: bench.wheel(*center))
        driver.find_element(By.TAG_NAME, "body").send_keys("f")
        time.sleep(0.5)
        measured["drag, all in view"] = bench.frames(lambda: bench.wave(*spot))
        bench.working_zoom()
        measured["pan, working zoom"] = bench.frames(lambda: bench.wave(245, 130))
        measured["zoom, working zoom"] = bench.frames(lambda: bench.wheel(*center))
        bench.working_zoom()
        measured["drag, working zoom"] = bench.frames(lambda: bench.wave(*bench.a_part()))
        time.sleep(1.0)
        bench.working_zoom()
        driver.execute_script("performance.clearResourceTimings()")
        for i in range(10):
            bench.drag(*bench.a_part())
            bench.until(
                f"performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/edits')).length > {i}"
            )
            time.sleep(0.5)
        times = driver.execute_script(
            "return performance.getEntriesByType('resource').filter((e) => e.name.endsWith('/edits')).map((e) => e.duration)"
        )
        measured["edit acknowledged"] = statistics.median(times)
        bench.add("Hundred", large_model("Hundred", 10, 10))
        driver.get(f"{server.address}/projects/{bench.project}/models/Hundred")
        bench.until("document.querySelectorAll('.react-flow__node').length >= 100")
        driver.find_element(By.CSS_SELECTOR, '[data-testid="open-p5_0"]').click()
        measured["text followed elsewhere"] = statistics.median(
            bench.followed_elsewhere(i) for i in range(6)
        )
        driver.find_element(By.CSS_SELECTOR, '[data-testid="view-text"]').click()
        bench.until("document.querySelector('.cm-content') !== null")
        measured["text followed (100 parts)"] = statistics.median(
            bench.followed_here(i) for i in range(6, 14)
        )
        driver.find_element(By.CSS_SELECTOR, '[data-testid="view-sheet"]').click()
        bench.add("Many", many_classes(500))
        driver.get(f"{server.address}/projects/{bench.project}/models/Hundred")
        bench.until("document.querySelectorAll('#shelf-list li').length > 400")
        searched = driver.execute_async_script(
            """const done = arguments[0]; const box = document.querySelector('[data-testid="shelf-search"]'); const times = [];
            const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
            const words = ['pump', 'val', 'motor 12', 'winch4', 'spr', 'cooler of kind 7', 'gear', 'flt'];
            const next = (i) => { if (i === words.length) return done(times);
              const began = performance.now(); set.call(box, words[i]); box.dispatchEvent(new Event('input', {bubbles: true}));
              requestAnimationFrame(() => setTimeout(() => { times.push(performance.now() - began); setTimeout(() => next(i + 1), 120); })); };
            next(0);"""
        )
        measured["insert search"] = statistics.median(searched)
    print(f"{'what':28}{'ms':>9}{'bar':>7}{'ratio':>8}")
    for name, bar in BARS.items():
        print(f"{name:28}{measured[name]:9.1f}{bar:7}{measured[name] / bar:8.2f}")


if __name__ == "__main__":
    main()
