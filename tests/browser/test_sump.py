"""The first journey of a new user: open the sump, change it, run it, compare, come back later."""

from __future__ import annotations

import difflib
import os
import signal
import subprocess
import urllib.request

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

import movrel
from tests.browser.conftest import Page
from tests.conftest import SUMP

pytestmark = pytest.mark.browser
MODEL = "VarrowQuay.Sump"


def open_sump(page: Page) -> None:
    page.open()
    page.click(f"model-{MODEL}")
    page.find("part-basin")


def type_into(page: Page, row: str, text: str) -> None:
    field = page.find(f"param-{row}")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys(text, Keys.ENTER)


def run_model(page: Page) -> None:
    """Press Run and wait until the new run is done and drawn."""
    before = {c.get_attribute("data-run") for c in page.all("chip")}
    page.click("run")

    def drawn() -> bool:
        chips = {
            c.get_attribute("data-run"): c.get_attribute("data-state") for c in page.all("chip")
        }
        new = set(chips) - before
        if any(chips[run] in ("failed", "stopped") for run in new):
            pytest.fail(f"the run ended otherwise: {[c.text for c in page.all('problem')]}")
        shown = (page.find("recorder").get_attribute("data-drawn") or "").split()
        return len(new) == 1 and chips[next(iter(new))] == "done" and next(iter(new)) in shown

    page.until(drawn, "the run is done and drawn")


def put_cursor(page: Page, time: float) -> None:
    """Set the time cursor by keyboard: to the start, then right by two hundredths of the axis a step."""
    recorder = page.find("recorder")
    recorder.send_keys(Keys.HOME)
    actions = page.actions()
    for _ in range(round(time / 3600 * 20)):
        actions.key_down(Keys.SHIFT).send_keys(Keys.ARROW_RIGHT).key_up(Keys.SHIFT)
    actions.perform()
    shown = f"{time / 3600:g}\u2009h" if time >= 3600 else f"{time / 60:g}\u2009min"
    page.until(lambda: shown in page.text("cursor-time"), "the time cursor set")
    page.until(lambda: shown in page.text("watch-time"), "the ledger at the cursor")


def level(page: Page) -> float:
    """The level in the ledger in m, whatever prefix suits it."""
    size = 1e-3 if "mm" in page.text("watch-basin.level") else 1.0
    return size * page.number("value-basin.level")


def current_chip(page: Page, index: int) -> None:
    page.all("chip")[index].find_element(By.CSS_SELECTOR, "button").click()


def download(page: Page) -> str:
    address = f"{page.server.address}/api/projects/1/models/{MODEL}/download"
    with urllib.request.urlopen(address) as answer:
        return answer.read().decode()


def test_the_whole_journey(page: Page) -> None:
    exact = {}
    for diameter in (0.15, 0.2):
        r = movrel.load(str(SUMP)).simulate(set={"outlet.diameter": diameter})
        exact[diameter] = r["basin.level"][r.time == 540.0][-1]

    # The start page shows the model with a drawing; it opens with its parts and wires.
    page.open()
    assert "not run yet" in page.text(f"last-run-{MODEL}")
    tile = page.find(f"model-{MODEL}")
    page.until(lambda: tile.find_elements(By.CSS_SELECTOR, "svg path"), "its drawing")
    page.click(f"model-{MODEL}")
    for part in ("gusts", "drain", "basin", "outlet", "harbour"):
        page.find(f"part-{part}")
    assert len(page.driver.find_elements(By.CSS_SELECTOR, "[data-wire]")) == 4
    assert "every quantity is recorded" in page.text("recorder-empty")

    # First run.
    run_model(page)
    assert len(page.all("strip")) == 2
    page.click("part-basin")
    put_cursor(page, 540)
    page.until(
        lambda: abs(level(page) - exact[0.15]) < 1e-5,
        "the level of the first run",
    )

    # A value of the wrong dimension is refused under its row, with both dimensions named.
    page.click("part-outlet")
    type_into(page, "outlet.diameter", "30 kg")
    assert "a mass" in page.text("fault-outlet.diameter") and "a length" in page.text(
        "fault-outlet.diameter"
    )
    for bad in ("wide open", ""):
        type_into(page, "outlet.diameter", bad or Keys.BACKSPACE)
        page.find("fault-outlet.diameter")
    assert download(page) == SUMP.read_text()

    # Changed, run again: both curves are there and told apart.
    type_into(page, "outlet.diameter", "20 cm")
    page.until(lambda: "0.15 m → 20 cm" in page.text("last-edit"), "the edit is kept")
    assert page.find("param-outlet.diameter").get_attribute("value") == "20"
    run_model(page)
    names = [chip.text for chip in page.all("chip")]
    assert names[0].startswith("base") and names[1].startswith("outlet.diameter 20 cm")
    colours = [
        c.find_element(By.CSS_SELECTOR, "span[style]").value_of_css_property("background-color")
        for c in page.all("chip")
    ]
    assert len(set(colours)) == 2
    page.click("part-basin")
    page.until(
        lambda: abs(level(page) - exact[0.2]) < 1e-5,
        "the level of the second run",
    )
    current_chip(page, 0)
    page.until(
        lambda: abs(level(page) - exact[0.15]) < 1e-5,
        "the level of the first run again",
    )

    # The text says the new value and nothing else changed.
    page.click("view-text")
    page.until(
        lambda: 'diameter(displayUnit="cm") = 0.2' in page.find("text-view").text,
        "the text shows the new value",
    )
    changed = [
        d
        for d in difflib.ndiff(SUMP.read_text().splitlines(), download(page).splitlines())
        if d[0] in "+-"
    ]
    assert len(changed) == 2 and 'diameter(displayUnit="cm") = 0.2)' in changed[1]

    assert page.severe() == []

    # Everything is still there after the server was stopped and started again.
    page.server.stop()
    page.server.start()
    page.open(f"/projects/1/models/{MODEL}")
    page.until(
        lambda: (
            len(page.all("chip")) == 2
            and all(c.get_attribute("data-state") == "done" for c in page.all("chip"))
        ),
        "both runs",
    )
    page.click("part-basin")
    put_cursor(page, 540)
    page.until(
        lambda: abs(level(page) - exact[0.2]) < 1e-5,
        "the second run's level after the restart",
    )
    page.click("part-outlet")
    assert page.find("param-outlet.diameter").get_attribute("value") == "20"
    page.open()
    assert "done" in page.text(f"last-run-{MODEL}")
    assert [message for message in page.severe() if "net::ERR_" not in message] == []


def test_zoom_wheel_and_reset(page: Page) -> None:
    open_sump(page)
    run_model(page)
    chart = page.find("chart-basin.level")
    page.actions().move_to_element_with_offset(chart, -200, 0).click_and_hold().move_by_offset(
        60, 2
    ).move_by_offset(90, 0).release().perform()
    page.until(lambda: " to " in page.text("zoom-reset"), "the range is shown")
    page.click("zoom-reset")
    page.until(lambda: not page.all("zoom-reset"), "the whole axis again")
    page.actions().move_to_element(chart).click().perform()
    assert "time cursor at" in page.text("cursor-time")
    assert page.severe() == []


def test_undo_by_keyboard_and_a_second_window(page: Page) -> None:
    open_sump(page)
    page.click("part-basin")
    before = page.find("param-basin.area").get_attribute("value")
    first = page.driver.current_window_handle
    page.driver.switch_to.new_window("tab")
    open_sump(page)
    page.click("part-basin")
    type_into(page, "basin.area", "15")
    page.until(lambda: "→ 15 m²" in page.text("last-edit"), "the edit kept")
    page.driver.switch_to.window(first)
    page.until(
        lambda: page.find("param-basin.area").get_attribute("value") == "15",
        "the other window's edit arrives",
    )
    page.find("recorder").send_keys(Keys.CONTROL, "z")
    page.until(lambda: page.find("param-basin.area").get_attribute("value") == before, "undone")
    page.until(lambda: page.find("redo").is_enabled(), "redo offered")


#: Edits take their time on the way to the server.
SLOW_EDITS = """const real = window.fetch;
window.fetch = async (order, more) => {
  if ((order.url ?? order).endsWith("/edits")) await new Promise((go) => setTimeout(go, 700));
  return real(order, more);
};"""


def test_a_run_waits_for_the_edits_before_it(page: Page) -> None:
    slow = page.driver.execute_cdp_cmd(
        "Page.addScriptToEvaluateOnNewDocument", {"source": SLOW_EDITS}
    )
    try:
        open_sump(page)
        page.click("part-basin")
        type_into(page, "basin.level_start", "0.81")
        run_model(page)
        # Where the curve begins, and that the run is one of the model as it is.
        page.click("view-sheet")
        page.until(lambda: "0.81" in page.text("last-edit"), "the edit kept")
        newest = max(int(c.get_attribute("data-run")) for c in page.all("chip"))
        with urllib.request.urlopen(f"{page.server.address}/api/runs/{newest}") as answer:
            assert '"basin.level_start":0.81' in answer.read().decode()
    finally:
        page.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", slow)
        open_sump(page)
        page.click("undo")


def test_a_model_that_cannot_run_says_why(page: Page) -> None:
    page.open()
    upload = page.find("upload")
    page.server.folder.joinpath("Wrong.mo").write_text(
        "model Wrong\n  Real x\n  Real y;\nend Wrong;\n"
    )
    upload.send_keys(str(page.server.folder / "Wrong.mo"))
    assert "Wrong.mo:2:9" in page.text("upload-fault") and "';' is missing" in page.text(
        "upload-fault"
    )
    page.server.folder.joinpath("Short.mo").write_text(
        "model Short\n  Real x, y;\nequation\n  x = 1;\nend Short;\n"
    )
    page.find("upload").send_keys(str(page.server.folder / "Short.mo"))
    assert "no equation determines y" in page.text("import-report")
    assert page.violations() == []
    page.click("import-take")
    page.click("model-Short")
    assert "no equation determines y" in page.text("problem")
    assert not page.find("run").is_enabled()
    page.find("empty-sheet")


def test_addresses_that_lead_nowhere(page: Page) -> None:
    page.open("/projects/1/models/VarrowQuay.Pump")
    assert "There is no model 'VarrowQuay.Pump'" in page.text("nowhere")
    page.open("/somewhere/else")
    assert "nothing at this address" in page.text("nowhere")


def test_both_themes_and_the_list_of_keys(page: Page) -> None:
    open_sump(page)
    html = page.driver.find_element(By.TAG_NAME, "html")
    seen = {html.get_attribute("data-theme")}
    page.click("theme")
    seen.add(html.get_attribute("data-theme"))
    assert seen == {"film", "night"}
    page.find("recorder").send_keys("?")
    assert "Ctrl+Enter" in page.text("help")


def test_a_killed_web_process_comes_back(page: Page) -> None:
    open_sump(page)
    found = subprocess.run(
        ["pgrep", "-f", f"bind 127.0.0.1:{page.server.port}"],
        capture_output=True,
        text=True,
        check=True,
    )
    for pid in found.stdout.split():
        os.kill(int(pid), signal.SIGKILL)
    page.until(lambda: "it is started again" in page.server.log(), "the web process started again")
    page.until(lambda: _opens(page), "the page opens again", 60)


def _opens(page: Page) -> bool:
    page.open(f"/projects/1/models/{MODEL}")
    return bool(page.find("part-basin", 3))


WATCHED = """
window.asked = [];
const plain = window.fetch;
window.fetch = async (request, options) => {
    if (request.url?.endsWith('/values')) window.asked.push((await request.clone().json()).names);
    return plain(request, options);
};
"""
MOVED = """
const [over, moves, done] = arguments;
const box = over.getBoundingClientRect();
let k = 0;
const step = () => {
    const at = {bubbles: true, clientX: box.left + 20 + k * 5, clientY: box.top + 20};
    over.dispatchEvent(new PointerEvent('pointermove', at));
    if (++k < moves) requestAnimationFrame(step); else setTimeout(done, 200);
};
window.asked.length = 0;
step();
"""


def test_the_pointer_over_a_strip_asks_for_no_more_than_is_shown(page: Page) -> None:
    added = page.driver.execute_cdp_cmd(
        "Page.addScriptToEvaluateOnNewDocument", {"source": WATCHED}
    )
    open_sump(page)
    page.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", added)
    run_model(page)
    page.click("part-basin")
    page.until(lambda: page.number("value-basin.level") > 0, "values of the run")
    over = page.driver.find_element(By.CSS_SELECTOR, "[data-testid=strip] .u-over")
    moves = 60
    page.driver.execute_async_script(MOVED, over, moves)
    asked = page.driver.execute_script("return window.asked")
    assert 1 < len(asked) < 2 * moves, "not at every move"
    watched = page.driver.find_elements(By.CSS_SELECTOR, "[data-testid^='watch-basin']")
    listed = {str(e.get_attribute("data-testid")).removeprefix("watch-") for e in watched}
    assert all(set(names) <= listed for names in asked), "only what the ledger and the sheet show"
    assert len(listed) < 12
