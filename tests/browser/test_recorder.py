"""The recorder by hand: curves found, dragged, shown in other units; layouts, zoom, wires, replay and pictures as files."""

from __future__ import annotations

import json
import zipfile
from pathlib import Path
from typing import Any

import pytest
from PIL import Image
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Page
from tests.browser.test_scenarios import ask, downloaded, keep_downloads, run_all
from tests.browser.test_sump import type_into

pytestmark = pytest.mark.browser

SWING = """within;
package Gate "a gate on a spring"
  model Late "a damper that breaks"
    extends Movrel.Translational.Damper;
    parameter Real t_end(unit="s") = 1e9 "when it breaks";
  equation
    assert(time < t_end, "it broke");
  end Late;

  model Swing "swings and comes to rest"
    Movrel.Translational.Spring spring(c=50) annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
    Movrel.Translational.Mass body(m=2, s_start=0.1) annotation (Placement(transformation(extent={{20,-20},{60,20}})));
    Late damper(d=%s) annotation (Placement(transformation(extent={{-60,-90},{-20,-50}})));
    Movrel.Translational.HeldRod wall annotation (Placement(transformation(extent={{-120,-20},{-80,20}})));
  equation
    connect(wall.a, spring.a);
    connect(wall.a, damper.a);
    connect(spring.b, body.a);
    connect(damper.b, body.a);
    annotation (experiment(StopTime=%s, Interval=%s, Tolerance=1e-8), __Movrel(recorder={{"body.s"}, {"spring.f"}}));
  end Swing;
end Gate;
"""


def gate(page: Page, name: str, stop: float = 4, interval: float = 0.01, damping: float = 2) -> str:
    """The swing, opened; gives its address under the API."""
    project = ask(page, "/projects", {"name": name})["id"]
    ask(
        page,
        f"/projects/{project}/files",
        {"path": "Gate.mo", "text": SWING % (damping, stop, interval)},
    )
    page.open(f"/projects/{project}/models/Gate.Swing")
    page.find("claims")
    return f"/projects/{project}/models/Gate.Swing"


def strips(page: Page) -> list[str]:
    return [s.get_attribute("aria-label") or "" for s in page.all("strip")]


def picture(page: Page, folder: Path, dashed: str) -> str:
    """The strip's picture of lines, as it was saved."""
    for old in folder.glob("*.svg"):
        old.unlink()
    page.click(f"picture-{dashed}")
    page.click("picture-svg")
    return downloaded(page, folder, ".svg").read_text(encoding="utf-8")


def drag(page: Page, source: str, target: str) -> None:
    """Carry something from one place to another with the browser's own drag events."""
    page.driver.execute_script(
        """const [from, to] = [...arguments].map((name) => document.querySelector(`[data-testid="${name}"]`));
        const carried = new DataTransfer();
        const tell = (element, kind) => element.dispatchEvent(new DragEvent(kind, {bubbles: true, cancelable: true, dataTransfer: carried}));
        tell(from, 'dragstart'); tell(to, 'dragover'); tell(to, 'drop'); tell(from, 'dragend');""",
        source, target,
    )  # fmt: skip


def test_curves_are_found_dragged_and_shown_in_other_units(page: Page, tmp_path: Path) -> None:
    gate(page, "Strips")
    keep_downloads(page, tmp_path)
    run_all(page)
    page.until(
        lambda: strips(page) == ["Strip of body.s", "Strip of spring.f"], "the layout of the model"
    )
    page.click("add-curve")
    page.find("find-curve").send_keys("body m/s", Keys.ENTER)
    page.until(lambda: strips(page)[-1] == "Strip of body.v", "the velocity is found by its unit")
    page.find("find-curve").send_keys(Keys.ESCAPE)

    # Onto the strip of another unit: a second axis; a third unit has no axis there.
    drag(page, "curve-body.v", "head-body.s")
    page.until(
        lambda: strips(page) == ["Strip of body.s, body.v", "Strip of spring.f"],
        "two axes on one strip",
    )
    drag(page, "curve-spring.f", "head-body.s-body.v")
    assert strips(page) == ["Strip of body.s, body.v", "Strip of spring.f"]
    Select(page.all("unit-left")[0]).select_by_value("mm")
    page.until(lambda: page.all("unit-left")[0].get_attribute("value") == "mm", "millimetres")
    svg = picture(page, tmp_path, "body.s-body.v")
    assert ">mm<" in svg and ">m/s<" in svg and "body.v (right)" in svg
    assert ">100<" in svg, "0.1 m is 100 mm on the left axis"
    drag(page, "curve-body.v", "new-strip")
    page.until(lambda: strips(page)[-1] == "Strip of body.v", "a strip of its own again")
    page.find("curve-body.v").send_keys(Keys.ALT, Keys.ARROW_UP)
    page.until(
        lambda: strips(page) == ["Strip of body.s", "Strip of spring.f, body.v"],
        "moved by the keyboard",
    )

    # A layout keeps all that; whoever comes new to the model gets it.
    page.click("layouts")
    name = page.find("layout-name")
    name.send_keys(Keys.CONTROL + "a")
    name.send_keys("Fine", Keys.ENTER)
    page.until(
        lambda: page.text("last-edit").startswith("Last edit: kept the layout Fine"),
        "the layout is kept",
    )
    page.click("layouts")
    page.click("layout-Standard")
    page.until(
        lambda: strips(page) == ["Strip of body.s", "Strip of spring.f"], "the layout of before"
    )
    page.click("layouts")
    page.click("layout-Fine")
    page.until(
        lambda: strips(page) == ["Strip of body.s", "Strip of spring.f, body.v"], "the kept layout"
    )
    assert page.all("unit-left")[0].get_attribute("value") == "mm"
    assert page.severe() == []


def test_zoom_goes_back_step_by_step(page: Page) -> None:
    gate(page, "Zoomed")
    run_all(page)
    over = page.driver.find_element(By.CSS_SELECTOR, '[data-testid="strip"] .u-over')

    def zoom(first: int, last: int) -> str:
        page.actions().move_to_element_with_offset(over, first, 0).click_and_hold().move_by_offset(
            last - first, 0
        ).release().perform()
        return str(page.until(lambda: page.text("zoom-reset"), "zoomed"))

    wide = zoom(-200, 200)
    narrow = zoom(-50, 100)
    page.until(lambda: page.text("zoom-reset") != wide, "zoomed further")
    recorder = page.find("recorder")
    recorder.send_keys(Keys.BACKSPACE)
    page.until(lambda: page.text("zoom-reset") == wide, "back to the zoom before")
    assert narrow
    recorder.send_keys(Keys.BACKSPACE)
    page.until(lambda: not page.all("zoom-reset"), "all is shown")
    recorder.send_keys("+")
    page.until(lambda: page.all("zoom-reset"), "zoomed by the keyboard")
    recorder.send_keys("0")
    page.until(lambda: not page.all("zoom-reset"), "all is shown again")


def test_wires_show_what_they_carry(page: Page) -> None:
    address = gate(page, "Wires")
    run_all(page)
    run = ask(page, f"{address}/runs")["runs"][0]["id"]
    page.find("recorder").send_keys(Keys.HOME)
    Select(page.find("wire-marks")).select_by_value("flow")
    at_start = ask(page, f"/runs/{run}/values", {"names": ["spring.b.f"], "at": 0})["values"]
    page.until(
        lambda: f"{abs(at_start['spring.b.f']):g}" in page.text("carries-spring.b"),
        "the force in the wire at the start",
    )
    # What a wire carries is put on a strip from the ledger.
    page.driver.execute_script(
        "[...document.querySelectorAll('.react-flow__edge')].find((e) => e.ariaLabel === 'Wire of spring.b and body.a').dispatchEvent(new MouseEvent('click', {bubbles: true}))"
    )
    page.until(
        lambda: page.text("ledger-title") == "Wire of spring.b and body.a", "the ledger of the wire"
    )
    page.click("watch-spring.b.f")
    page.until(lambda: "Strip of spring.f, spring.b.f" in strips(page), "on the strip of forces")
    assert page.severe() == []


def test_replay_and_pictures_are_files_that_others_read(page: Page, tmp_path: Path) -> None:
    gate(page, "Filmed")
    keep_downloads(page, tmp_path)
    run_all(page)
    for kind, ending in (("gif", ".gif"), ("zip", ".zip")):
        page.click("film")
        frames = page.find("film-frames")
        frames.send_keys(Keys.CONTROL + "a")
        frames.send_keys("7")
        page.click(f"film-{kind}")
        downloaded(page, tmp_path, ending)
    film = Image.open(next(tmp_path.glob("*.gif")))
    assert film.n_frames == 7 and film.size[0] == 860  # type: ignore[attr-defined]
    shown = []
    for k in range(7):
        film.seek(k)
        shown.append(film.convert("RGB").tobytes())
    assert len(set(shown)) == 7, "the picture moves"
    with zipfile.ZipFile(next(tmp_path.glob("*.zip"))) as archive:
        assert archive.namelist() == [f"frame-{k:04d}.png" for k in range(1, 8)]
        with Image.open(archive.open("frame-0003.png")) as frame:
            assert frame.size == film.size
    page.click("picture-body.s")
    page.click("picture-pdf")
    assert downloaded(page, tmp_path, "body.s.pdf").read_bytes().startswith(b"%PDF")
    page.click("report")
    page.click("report-pdf")
    report = downloaded(page, tmp_path, "Swing.pdf").read_bytes()
    assert report.startswith(b"%PDF") and len(report) > 15_000
    assert page.severe() == []


def test_a_failure_is_shown_at_its_part_with_the_curves_until_then(page: Page) -> None:
    gate(page, "Failing")
    run_all(page)
    page.find("part-damper").click()
    type_into(page, "damper.t_end", "2")
    page.click("run")
    page.until(lambda: "it broke" in page.text("footer-failure"), "the reason")
    page.find("failed-in-damper")
    page.click("failure-place")
    page.until(lambda: page.text("ledger-title") == "damper", "the part is selected")
    page.until(
        lambda: len((page.find("recorder").get_attribute("data-drawn") or "").split()) == 2,
        "the partial curves are drawn",
    )
    # What was changed since the last run that went well is kept as a scenario; the base runs through again.
    page.driver.find_element(By.CSS_SELECTOR, ".react-flow__pane").click()
    page.click("run-more")
    assert not page.find("keep-changes").is_enabled(), "nothing was changed since the newest run"


def test_changes_are_kept_as_a_scenario(page: Page) -> None:
    address = gate(page, "Kept")
    run_all(page)
    page.find("part-spring").click()
    type_into(page, "spring.c", "200")
    page.click("run-more")
    page.click("keep-changes")
    page.until(lambda: len(page.all("scenario")) == 2, "one more scenario")
    page.find("changed-spring.c")
    view = ask(page, address)
    assert view["scenarios"][0]["changes"] == {"spring.c": "200"}
    assert next(r["value"] for r in view["rows"] if r["name"] == "spring.c") == 50
    # Another class in the place of the spring has no such value: the run says so.
    page.click("view-scenarios")
    place = page.find("matrix-place")
    place.send_keys("spring")
    page.click("matrix-add-row")
    page.until(
        lambda: Select(page.find("cell-changed-spring")).select_by_visible_text("Damper") is None,
        "what fits is listed",
    )
    page.until(lambda: "redeclare" in page.text("last-edit"), "the swap is kept")
    page.click("run")
    page.click("remarks")
    page.until(
        lambda: (
            "spring.c" in page.text("remarks-panel") and "swapped in" in page.text("remarks-panel")
        ),
        "what was left out",
    )


def test_a_run_goes_on_when_the_browser_is_closed(page: Page) -> None:
    address = gate(page, "Closed", stop=5_000, interval=1, damping=0)
    page.click("run")
    page.until(lambda: page.text("run-step").startswith("step"), "the run under way")
    page.driver.execute_cdp_cmd("Page.navigate", {"url": "about:blank"})
    run = ask(page, f"{address}/runs")["runs"][0]["id"]
    page.until(
        lambda: ask(page, f"/runs/{run}")["state"] == "done", "done without anybody looking", 120
    )
    page.open(address)
    page.until(
        lambda: page.find("recorder").get_attribute("data-drawn") == str(run),
        "its curves are there",
    )
    assert ask(page, f"/runs/{run}")["points"] == 5_001


def test_runs_are_filtered_and_scrolled(page: Page) -> None:
    address = gate(page, "Many", stop=0.1)
    runs: list[Any] = [ask(page, f"{address}/runs", {"stop": 0.1 + k / 1000}) for k in range(130)]
    page.until(
        lambda: all(r["state"] == "done" for r in ask(page, f"{address}/runs")["runs"]),
        "all are done",
        120,
    )
    page.open(address)
    page.click("run-menu")
    page.until(lambda: page.text("runs-found") == "130 found", "all runs")
    page.driver.execute_script("arguments[0].scrollTop = 1e6", page.find("run-scroll"))
    page.find("run-1")
    page.find("run-filter").send_keys("0.155")
    page.until(lambda: page.text("runs-found") == "1 found", "one by its name")
    assert "0.155" in page.text(f"run-{runs[55]['number']}")
    Select(page.find("filter-state")).select_by_value("failed")
    page.until(lambda: page.text("runs-found") == "0 found", "none that failed")
    assert json.dumps(page.severe()) == "[]"
