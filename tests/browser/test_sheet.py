"""The sheet with hands: groups, clipboard, wires, structure, notes, keyboard alone, crashes, two windows, accessibility."""

from __future__ import annotations

import json
import signal
import urllib.request
from typing import Any

import pytest
from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

import movrel
from tests.browser.conftest import FLAGS, Page
from tests.browser.test_building import drag_wire, insert, show_all, source
from tests.browser.test_leaf import choose_parts, keys, set_row, write, write_all
from tests.browser.test_sump import run_model
from tests.serving import Server

pytestmark = pytest.mark.browser

PLANT = """model {name} "A plant to work on"
  Movrel.Signals.Constant rain(value = 0.05) annotation (Placement(transformation(extent={{{{-120,-20}},{{-80,20}}}})));
  Movrel.Process.Inflow inflow annotation (Placement(transformation(extent={{{{-60,-20}},{{-20,20}}}})));
  Movrel.Process.Basin basin(level_start = 0.3) annotation (Placement(transformation(extent={{{{0,-20}},{{40,20}}}})));
  Movrel.Process.Orifice outlet(diameter = 0.1) annotation (Placement(transformation(extent={{{{60,-40}},{{100,0}}}})));
  Movrel.Process.Outfall harbour annotation (Placement(transformation(extent={{{{120,-60}},{{160,-20}}}})));
equation
  connect(rain.y, inflow.q);
  connect(inflow.port, basin.inlet);
  connect(basin.outlet, outlet.a);
  connect(outlet.b, harbour.port);
  annotation (experiment(StopTime=100));
end {name};
"""


def call(page: Page, path: str, body: dict[str, Any] | None = None) -> Any:
    data = json.dumps(body).encode() if body is not None else None
    request = urllib.request.Request(
        page.server.address + path, data, {"Content-Type": "application/json"}
    )
    return json.load(urllib.request.urlopen(request))


def open_plant(page: Page, name: str) -> str:
    """A plant of its own in a project of its own; gives the address of the model."""
    project = call(page, "/api/projects", {"name": f"Quay {name}"})["id"]
    text = PLANT.format(name=name)
    call(page, f"/api/projects/{project}/files", {"path": f"{name}.mo", "text": text})
    page.open(f"/projects/{project}/models/{name}")
    page.find("part-basin")
    show_all(page)
    return f"/api/projects/{project}/models/{name}"


def last(page: Page, words: str) -> None:
    page.until(lambda: page.text("last-edit") == f"Last edit: {words}", words)


def test_groups_are_aligned_nudged_copied_and_taken_back(page: Page) -> None:
    address = open_plant(page, "Groups")
    first = call(page, f"{address}/text")["text"]
    choose_parts(page, "basin", "outlet", "harbour")
    page.click("align-top")
    last(page, "aligned basin, outlet, harbour")
    tops = {
        c["name"]: max(c["extent"][1], c["extent"][3])
        for c in call(page, address)["sheet"]["components"]
    }
    assert tops["basin"] == tops["outlet"] == tops["harbour"] == 20
    page.click("distribute-across")
    keys(page, Keys.ARROW_DOWN)
    page.until(
        lambda: "extent={{0,-22},{40,18}}" in call(page, f"{address}/text")["text"], "nudged by two"
    )
    keys(page, Keys.CONTROL, "c")
    page.until(
        lambda: page.driver.execute_script("return localStorage.getItem('movrel.clipboard')"),
        "copied",
    )
    assert "Movrel.Process.Basin basin(level_start = 0.3)" in page.driver.execute_script(
        "return localStorage.getItem('movrel.clipboard')"
    )
    page.driver.execute_script(
        "document.dispatchEvent(new ClipboardEvent('paste', {clipboardData: new DataTransfer(), bubbles: true}))"
    )
    last(page, "pasted basin2, outlet2, harbour2")
    keys(page, Keys.CONTROL, "d")
    last(page, "duplicated basin2, outlet2, harbour2")
    assert "connect(basin3.outlet, outlet3.a);" in call(page, f"{address}/text")["text"]
    page.click("part-basin")
    keys(page, "l")
    page.until(lambda: "5 parts" in page.text("selection-bar"), "all along the wires")
    while call(page, address)["can_undo"]:
        revision = call(page, address)["revision"]
        keys(page, Keys.CONTROL, "z")
        page.until(lambda revision=revision: call(page, address)["revision"] != revision, "undone")
    assert call(page, f"{address}/text")["text"] == first
    assert page.severe() == []


def test_wires_branch_bend_and_take_parts_in(page: Page) -> None:
    address = open_plant(page, "Wires")
    # A part that is taken from the shelf and let go over a wire is put into it.
    wire = page.driver.find_element(By.CSS_SELECTOR, '[data-wire="rain.y inflow.q"] path')
    where = page.driver.execute_script(
        "const b = arguments[0].getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]",
        wire,
    )
    page.find("shelf-search").send_keys("gain")
    page.until(
        lambda: (
            "Gain" in page.driver.find_element(By.CSS_SELECTOR, "#shelf-list li").text.splitlines()
        ),
        "found before others",
    )
    taken = page.driver.execute_script(
        "const d = new DataTransfer(); arguments[0].dispatchEvent(new DragEvent('dragstart', {dataTransfer: d, bubbles: true}));"
        "return [...d.types].map((t) => ({mimeType: t, data: d.getData(t)}))",
        page.find("shelf-Movrel.Signals.Gain"),
    )
    assert page.find("shelf-Movrel.Signals.Gain").get_attribute("draggable") == "true"
    for step in ("dragEnter", "dragOver", "drop"):
        place = {"x": where[0], "y": where[1], "data": {"items": taken, "dragOperationsMask": 1}}
        page.driver.execute_cdp_cmd("Input.dispatchDragEvent", {"type": step, **place})
    last(page, "inserted gain into the wire of rain.y and inflow.q")
    insert(page, "outfall", "outfall")
    show_all(page)
    # Drawing a wire to the middle of another branches off it.
    wire = page.driver.find_element(By.CSS_SELECTOR, '[data-wire="basin.outlet outlet.a"] path')
    at = page.driver.execute_script(
        "const p = arguments[0]; const q = p.getPointAtLength(p.getTotalLength() / 2).matrixTransform(p.getScreenCTM()); return [q.x, q.y]",
        wire,
    )
    start = page.find("port-outfall.port")
    box = start.rect
    page.actions().click_and_hold(start).move_by_offset(4, 4).move_by_offset(
        int(at[0] - box["x"] - box["width"] / 2) - 4, int(at[1] - box["y"] - box["height"] / 2) - 4
    ).release().perform()
    page.until(lambda: "outfall.port" in call(page, f"{address}/text")["text"], "branched off")
    drawn = next(
        c
        for c in call(page, address)["sheet"]["connections"]
        if "outfall.port" in (c["from"], c["to"])
    )
    assert drawn["bent"] and {drawn["from"], drawn["to"]} & {"basin.outlet", "outlet.a"}
    # A selected wire is bent by its grip and straightened by a key.
    page.driver.execute_script(
        "arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))",
        page.driver.find_element(By.CSS_SELECTOR, '[data-wire="outlet.b harbour.port"]'),
    )
    grip = page.find("bend-1")
    page.actions().click_and_hold(grip).move_by_offset(12, 12).release().perform()
    last(page, "bent the wire of outlet.b and harbour.port")
    keys(page, "s")
    last(page, "straightened the wire of outlet.b and harbour.port")
    # What does not go together says why.
    before = call(page, f"{address}/text")["text"]
    drag_wire(page, "gain.y", "basin.inlet")
    page.until(lambda: "signal port to process liquid port" in page.text("fault"), "the reason")
    assert call(page, f"{address}/text")["text"] == before


def test_an_assembly_is_swapped_and_dissolved(page: Page) -> None:
    address = open_plant(page, "Structure")
    before = movrel.load(text=call(page, f"{address}/text")["text"]).simulate()["basin.level"][-1]
    choose_parts(page, "basin", "outlet")
    page.click("assemble")
    page.find("assembly-name").send_keys("Store", Keys.ENTER)
    page.find("part-store")
    run_model(page)
    after = movrel.load(text=call(page, f"{address}/text")["text"], model="Structure").simulate()[
        "store.basin.level"
    ][-1]
    assert after == before
    page.click("map")
    page.until(
        lambda: "store" in page.text("map-tree") and "basin" in page.text("map-tree"), "the map"
    )
    page.driver.find_element(By.LINK_TEXT, "▸ store Store").click()
    page.find("part-basin")
    page.until(lambda: page.text("model-name") == "store", "stepped in by the map")
    page.click("view-symbol")
    page.find("symbol-canvas")
    page.click("symbol-Ellipse")
    canvas = page.find("symbol-canvas")
    page.actions().move_to_element_with_offset(canvas, -40, -40).click_and_hold().move_by_offset(
        60, 60
    ).release().perform()
    last(page, "drew the symbol")
    page.click("symbol-select")
    port = page.find("symbol-port-b")
    page.actions().click_and_hold(port).move_by_offset(0, -30).release().perform()
    last(page, "moved the port b on the symbol")
    assert "Ellipse(" in call(page, f"{address}/text")["text"]
    page.click("view-sheet")
    keys(page, "u")
    page.find("part-store")
    page.click("part-harbour")
    page.click("swap")
    page.find("swap-search").send_keys("orifice", Keys.ENTER)
    page.find("swap-port-port")
    page.find("swap-port-port").send_keys("a")
    page.click("swap-take")
    last(page, "swapped harbour for Orifice")
    assert "connect(store.b, harbour.a)" in call(page, f"{address}/text")["text"]
    page.click("part-store")
    page.click("dissolve")
    last(page, "dissolved the assembly store")
    page.find("part-basin")
    assert page.severe() == []


def test_figures_notes_code_and_history(page: Page) -> None:
    address = open_plant(page, "Tables")
    page.click("view-figures")
    page.click("figures-paste")
    page.find("figures-rows").send_keys(
        "D; 150; mm; bore of the outlet\nwidth; 2*D; m; \nlost; nowhere; ; "
    )
    page.until(
        lambda: "'nowhere' has no value here" in page.text("unread-lines"), "what is not understood"
    )
    page.until(lambda: page.text("figures-take") == "Add 2 values", "what is")
    page.click("figures-take")
    page.until(
        lambda: page.text("figure-width-value").startswith("0.3"), "the lines that were understood"
    )
    page.until(
        lambda: page.find("figures-rows").get_attribute("value") == "lost; nowhere; ;",
        "the other stays to be corrected",
    )
    page.find("figures-rows").send_keys(Keys.CONTROL + "a")
    page.find("figures-rows").send_keys("lost = pi*(20 cm)^2/4")
    page.until(lambda: page.text("figures-take") == "Add 1 value", "corrected")
    page.click("figures-take")
    page.until(
        lambda: page.text("figure-lost-value").startswith("0.031416"), "a formula with a unit"
    )
    page.driver.find_element(By.CSS_SELECTOR, '[aria-label="Delete the value lost"]').click()
    last(page, "deleted the value lost")
    page.click("figures-project")
    page.click("figures-begin")
    page.find("new-figure-name").send_keys("depth")
    page.find("new-figure-expression").send_keys("40")
    page.find("new-figure-unit").send_keys("cm", Keys.ENTER)
    page.until(lambda: page.text("figure-depth-value").startswith("0.4"), "a figure of the project")
    page.click("view-sheet")
    page.click("part-outlet")
    set_row(page, "outlet.diameter", "D")
    page.until(
        lambda: page.text("value-of-outlet.diameter") == "= 0.15", "the value of the expression"
    )
    page.click("part-basin")
    set_row(page, "basin.level_start", "Values.depth")
    page.until(lambda: page.text("value-of-basin.level_start") == "= 0.4", "the project's figure")
    page.click("add-note")
    page.find("note-text").send_keys("Torricelli: $v = \\sqrt{2 g h}$", Keys.CONTROL, Keys.ENTER)
    page.until(
        lambda: page.driver.find_elements(By.CSS_SELECTOR, ".sheet-note .katex"),
        "the formula is set",
    )
    page.click("add-code")
    page.until(lambda: "can be put" in page.text("code-status"), "the template is sound")
    write(page, "import os\n")
    page.until(
        lambda: "line 1: an import is not allowed" in page.text("code-status"),
        "refused by line and construct",
    )
    write_all(page, "error = wanted - measured\ndrive = 2*error\n")
    memory = page.find("code-memory")
    memory.send_keys(Keys.CONTROL, "a")
    memory.send_keys(Keys.DELETE)
    page.until(lambda: "can be put" in page.text("code-status"), "sound again")
    page.click("code-keep")
    page.find("part-controller")
    page.click("view-description")
    page.click("description-edit")
    page.find("description-info").send_keys(
        '<h3>Plant</h3><p onclick="x()">with $q = A v$</p><script>window.bad = 1</script><img src=x onerror="window.bad = 1">'
    )
    page.click("description-keep")
    last(page, "changed the documentation")
    shown = page.find("documentation")
    page.until(
        lambda: shown.find_elements(By.CSS_SELECTOR, ".katex"), "the formula in the documentation"
    )
    assert shown.find_elements(By.TAG_NAME, "h3")
    assert not shown.find_elements(
        By.CSS_SELECTOR, "script, img, [onclick]"
    ) and not page.driver.execute_script("return window.bad")
    page.click("view-history")
    entries = call(page, f"{address}/revisions")["revisions"]
    page.until(lambda: "inserted controller" in page.text("history-view"), "the list in words")
    page.find(f"revision-name-{entries[0]['id']}").send_keys("ready", Keys.ENTER)
    page.until(
        lambda: call(page, f"{address}/revisions")["revisions"][0]["name"] == "ready", "named"
    )
    page.click(f"compare-{entries[-1]['id']}")
    page.until(lambda: "controller added" in page.text("comparison"), "compared as drawings")
    page.click(f"restore-{entries[-1]['id']}")
    page.until(
        lambda: call(page, f"{address}/text")["text"] == PLANT.format(name="Tables"), "restored"
    )
    # The handlers of the hostile documentation never came to be run; the browser says so, and nothing else.
    assert all("inline event handler violates" in message for message in page.severe())


def test_the_text_completes_and_says_what_is_wrong_while_typing(page: Page) -> None:
    open_plant(page, "Typing")
    page.click("view-text")
    page.until(lambda: "no remarks" in page.text("text-findings"), "looked through")
    text = PLANT.format(name="Typing")
    write_all(page, text.replace("diameter = 0.1", "diametre = 0.1"))
    page.until(
        lambda: "diametre" in page.text("text-findings") and "line 5" in page.text("text-findings"),
        "said while typing",
    )
    assert page.driver.find_elements(By.CSS_SELECTOR, ".cm-lint-marker-error")
    page.click("view-sheet")
    page.find("part-basin")  # the last good sheet stays
    page.driver.refresh()
    page.click("view-text")
    page.until(
        lambda: "diametre" in page.driver.find_element(By.CSS_SELECTOR, ".cm-content").text,
        "the draft is still there",
    )
    editor = page.driver.find_element(By.CSS_SELECTOR, ".cm-content")
    editor.click()
    editor.send_keys(Keys.CONTROL, Keys.END)
    editor.send_keys("\nbasin.le")
    page.until(
        lambda: any(
            "level" in e.text
            for e in page.driver.find_elements(By.CSS_SELECTOR, ".cm-tooltip-autocomplete li")
        ),
        "completed",
    )
    write_all(page, text.replace("  Movrel.Process.Inflow", "      Movrel.Process.Inflow"))
    word = page.driver.execute_script(
        "const lines = [...document.querySelectorAll('.cm-line')]; const at = lines.find((l) => l.textContent.includes('basin.inlet'));"
        "const walk = document.createTreeWalker(at, NodeFilter.SHOW_TEXT); let n; const r = document.createRange();"
        "while ((n = walk.nextNode())) { const i = n.data.indexOf('basin'); if (i >= 0) { r.setStart(n, i); r.setEnd(n, i + 5); break; } }"
        "const b = r.getBoundingClientRect(); return [b.x + b.width / 2, b.y + b.height / 2]"
    )
    page.driver.execute_cdp_cmd(
        "Input.dispatchMouseEvent", {"type": "mouseMoved", "x": word[0], "y": word[1]}
    )
    page.until(
        lambda: "Basin" in page.driver.find_element(By.CSS_SELECTOR, ".word-tip").text,
        "what a word under the pointer is",
    )
    page.click("indent")
    page.until(lambda: not page.all("draft"), "indented back to what it was")
    page.click("search-project")
    page.find("project-search-words").send_keys("outfall")
    page.until(lambda: "Typing.mo:6" in page.text("project-search"), "found in the project")


def test_history_goes_back_to_the_beginning(page: Page) -> None:
    address = open_plant(page, "Long")
    view = call(page, address)
    first = view["revision"]
    for i in range(205):
        order = {"do": "parameter", "name": "outlet.diameter", "text": f"0.{100 + i}"}
        view = call(
            page,
            f"{address}/edits",
            {"revision": view["revision"], "known": view["mark"], "edit": order},
        )
    page.click("view-history")
    page.find(f"revision-{view['revision']}")
    assert not page.all(f"revision-{first}")
    page.click("earlier")
    page.find(f"revision-{first}")
    assert not page.all("earlier")
    # An edit from elsewhere adds a line and leaves the opened pages open.
    order = {"do": "parameter", "name": "outlet.diameter", "text": "0.4"}
    view = call(
        page,
        f"{address}/edits",
        {"revision": view["revision"], "known": view["mark"], "edit": order},
    )
    page.find(f"revision-{view['revision']}")
    page.find(f"revision-{first}")
    page.click(f"restore-{first}")
    page.until(
        lambda: call(page, f"{address}/text")["text"] == PLANT.format(name="Long"),
        "as it was in the beginning",
    )
    page.find(f"revision-{first}")


def test_models_are_copied_moved_deleted_and_brought_back(page: Page) -> None:
    open_plant(page, "Shifted")
    call(page, "/api/projects", {"name": "Quay Target"})
    page.open()

    def choose(model: str, testid: str = "", words: str = "") -> None:
        page.click(f"menu-{model}")
        if testid:
            page.click(testid)
        else:
            page.driver.find_element(
                By.XPATH, f"//*[@role='menuitem' and normalize-space()='{words}']"
            ).click()

    def inside(project: str) -> list[str]:
        shown = page.find(f"project-{project}").find_elements(
            By.CSS_SELECTOR, '[data-testid^="model-"]'
        )
        return sorted(e.get_attribute("data-testid").removeprefix("model-") for e in shown)

    page.find("project-Quay Shifted")
    page.find("project-Quay Target")
    choose("Shifted", "menu-copy")
    name = page.find("copy-name")
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("Other", Keys.ENTER)
    page.until(lambda: inside("Quay Shifted") == ["Other", "Shifted"], "copied")
    choose("Other", words="Move to Quay Target")
    page.until(
        lambda: inside("Quay Target") == ["Other"] and inside("Quay Shifted") == ["Shifted"],
        "moved",
    )
    choose("Shifted", "menu-delete")
    page.until(lambda: inside("Quay Shifted") == [], "deleted")
    assert "Shifted was deleted" in page.text("deleted")
    page.click("undelete")
    page.until(lambda: inside("Quay Shifted") == ["Shifted"], "brought back")
    page.click("model-Shifted")
    page.find("part-basin")
    assert page.severe() == []


def test_a_part_is_looked_up_and_its_example_opened(page: Page) -> None:
    open_plant(page, "Looked")
    page.click("part-outlet")
    page.click("about-class")
    page.until(lambda: "Torricelli" in page.text("part-page"), "what it does")
    assert (
        page.driver.title.startswith("Orifice")
        and "discharge coefficient" in page.text("part-parameter-C_d").lower()
    )
    page.until(
        lambda: (
            len(page.driver.find_elements(By.CSS_SELECTOR, '[data-testid="part-page"] .katex')) > 2
        ),
        "typeset",
    )
    page.click("back-to-model")
    page.find("part-basin")
    page.find("shelf-search").send_keys("clutch")

    def pointed_at() -> bool:
        page.actions().move_to_element(page.find("shelf-Movrel.Rotational.Clutch")).perform()
        return page.find("about-Movrel.Rotational.Clutch").is_displayed()

    page.until(pointed_at, "the way to its page")
    page.click("about-Movrel.Rotational.Clutch")
    page.until(lambda: "Source:" in page.text("part-page"), "the source")
    page.click("open-ClutchStart")
    page.find("part-flywheel")
    assert "/models/ClutchStart" in page.driver.current_url
    run_model(page)
    page.until(
        lambda: (
            "flywheel.w" in page.driver.find_element(By.CSS_SELECTOR, '[data-testid="strip"]').text
        ),
        "a prepared recorder",
    )
    assert page.severe() == []


def test_a_table_is_pasted_into_its_row(page: Page) -> None:
    address = open_plant(page, "Profile")
    insert(page, "PointTable", "pointTable")
    page.click("part-pointTable")
    page.click("table-pointTable.table")
    # Cells are typed into, go on below, and are taken back one by one.
    cell = page.find("cells-pointTable.table-2-2")
    cell.send_keys(Keys.CONTROL, "a")
    cell.send_keys("7", Keys.ENTER)
    below = page.find("cells-pointTable.table-3-2")
    assert page.driver.switch_to.active_element == below
    below.send_keys("9", Keys.ARROW_UP)
    assert page.find("cells-pointTable.table-4-1"), "there is room for one more"
    cell.send_keys(Keys.CONTROL, "z")
    page.until(lambda: below.get_attribute("value") == "", "the last one taken back")
    assert cell.get_attribute("value") == "7"
    cell.send_keys(Keys.CONTROL, "z")
    page.until(lambda: cell.get_attribute("value") == "1", "the one before, too")
    page.click("table-as-lines-pointTable.table")
    rows = page.find("table-rows-pointTable.table")
    assert rows.get_attribute("value") == "0\t0\n1\t1"
    rows.send_keys(Keys.CONTROL, "a")
    rows.send_keys("0 1\n10 3\n20")
    page.click("table-keep-pointTable.table")
    page.until(
        lambda: "row 3 has 1 value" in page.text("table-pointTable.table-fault"),
        "said which row is short",
    )
    rows.send_keys(" 2", Keys.CONTROL, Keys.ENTER)
    page.until(lambda: page.text("table-pointTable.table") == "3 × 2", "kept")
    assert "table = [0, 1; 10, 3; 20, 2]" in call(page, f"{address}/text")["text"]
    assert page.severe() == []


def test_equations_lead_to_where_they_come_from(page: Page) -> None:
    open_plant(page, "Solved")
    page.click("view-equations")
    page.until(
        lambda: (
            "1 state" in page.text("equation-counts") or "2 states" in page.text("equation-counts")
        ),
        "counted",
    )
    page.until(
        lambda: len(page.driver.find_elements(By.CSS_SELECTOR, ".equation-list .katex")) > 5,
        "typeset",
    )
    rows = len(page.driver.find_elements(By.CSS_SELECTOR, ".equation-list .katex"))
    page.find("equations-component").send_keys("outlet")
    page.until(
        lambda: 0 < len(page.driver.find_elements(By.CSS_SELECTOR, ".equation-list .katex")) < rows,
        "only those of outlet",
    )


def test_with_the_keyboard_alone(page: Page) -> None:
    project = call(page, "/api/projects", {"name": "Quay Keys"})["id"]
    call(
        page,
        f"/api/projects/{project}/files",
        {
            "path": "Keys.mo",
            "text": "model Keys\n  annotation (experiment(StopTime=3));\nend Keys;\n",
        },
    )
    page.open(f"/projects/{project}/models/Keys")
    page.find("empty-sheet")
    insert(page, "constant", "constant1")
    insert(page, "integrator", "integrator")
    keys(page, "c")  # the integrator is selected, as it came last
    search = page.find("connect-search")
    search.send_keys("u", Keys.ENTER)
    page.until(
        lambda: "to" in page.text("connect-picker").splitlines()[0].split(), "the start is chosen"
    )
    search.send_keys("constant1", Keys.ENTER)
    last(page, "connected integrator.u and constant1.y")
    # To the part by the Tab key, select it by Enter, and to its row.
    for _ in range(60):
        page.actions().send_keys(Keys.TAB).perform()
        if page.driver.execute_script("return document.activeElement.dataset.id") == "constant1":
            break
    page.actions().send_keys(Keys.ENTER).perform()
    page.until(lambda: page.text("ledger-title").startswith("constant1"), "selected")
    for _ in range(80):
        page.actions().send_keys(Keys.TAB).perform()
        if (
            page.driver.execute_script("return document.activeElement.dataset.testid")
            == "param-constant1.value"
        ):
            break
    page.actions().key_down(Keys.CONTROL).send_keys("a").key_up(Keys.CONTROL).send_keys(
        "2.5", Keys.ENTER
    ).perform()
    last(page, "value of constant1 1 → 2.5")
    page.actions().key_down(Keys.CONTROL).send_keys(Keys.ENTER).key_up(Keys.CONTROL).perform()
    page.until(lambda: page.all("run-summary"), "run by the keyboard")
    r = movrel.load(text=source(page, "Keys")).simulate()
    assert r["integrator.y"][-1] == pytest.approx(7.5, rel=1e-6)


def test_two_windows_and_crashes_lose_nothing(page: Page, server: Server) -> None:
    address = open_plant(page, "Crash")
    here = page.driver.current_url
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS.split():
        options.add_argument(flag)
    other = webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=options)
    second = Page(other, server)
    other.get(here)
    second.find("part-basin")
    page.click("part-outlet")
    set_row(page, "outlet.diameter", "0.25")
    second.until(lambda: "→ 0.25 m" in second.text("last-edit"), "the other window sees it arrive")
    # The browser is killed in the middle of work: what was acknowledged is there.
    second.click("part-basin")
    set_row(second, "basin.area", "3")
    second.until(lambda: "→ 3 m²" in second.text("last-edit"), "acknowledged")
    name = second.find("part-name")
    name.click()
    name.send_keys("half")
    other.service.process.kill()
    page.until(lambda: "area = 3" in call(page, f"{address}/text")["text"], "kept")
    # The server is killed right after an answer.
    page.click("part-outlet")
    set_row(page, "outlet.diameter", "0.35")
    page.until(lambda: "→ 0.35 m" in page.text("last-edit"), "acknowledged")
    server.stop(signal.SIGKILL)
    page.until(lambda: server.ask("/health") is None, "nobody answers any more")
    page.click("part-basin")
    field = page.find("param-basin.area")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("4", Keys.ENTER)
    page.find("footer-waiting")
    page.until(lambda: "does not answer" in page.text("fault-basin.area"), "said so")
    server.start()
    text = call(page, f"{address}/text")["text"]
    assert "diameter = 0.35" in text and "area = 3" in text
    field.send_keys(Keys.ENTER)
    page.until(
        lambda: "area = 4" in call(page, f"{address}/text")["text"],
        "the draft was not lost and goes through now",
    )


NAMELESS = """
const named = (e) => (e.getAttribute('aria-label') || e.getAttribute('title') || e.textContent.trim() || e.getAttribute('placeholder')
  || (e.labels && e.labels.length ? e.labels[0].textContent.trim() : '') || (e.getAttribute('aria-labelledby') ? document.getElementById(e.getAttribute('aria-labelledby'))?.textContent : ''));
return [...document.querySelectorAll('button, a[href], input, select, textarea, [role=tab], [role=separator], [tabindex="0"]')]
  .filter((e) => e.offsetParent !== null && !named(e)).map((e) => e.outerHTML.slice(0, 120));
"""
FAINT = """
const parse = (c) => { const m = document.createElement('canvas').getContext('2d', {willReadFrequently: true}); m.fillStyle = '#fff'; m.fillStyle = c; m.fillRect(0, 0, 1, 1); return [...m.getImageData(0, 0, 1, 1).data]; };
const lum = ([r, g, b]) => { const f = (v) => { v /= 255; return v <= 0.03928 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4; }; return 0.2126 * f(r) + 0.7152 * f(g) + 0.0722 * f(b); };
const ground = (e) => { for (let n = e; n; n = n.parentElement) { const c = getComputedStyle(n).backgroundColor; const p = parse(c); if (p[3] > 250 && c !== 'rgba(0, 0, 0, 0)' && c !== 'transparent') return p; } return [255, 255, 255, 255]; };
const found = [];
for (const e of document.querySelectorAll('body *')) {
  const own = [...e.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
  if (!own || e.offsetParent === null || e.closest('[disabled], svg, .opacity-70, [aria-disabled=true], .katex')) continue;
  const s = getComputedStyle(e); if (s.visibility === 'hidden' || s.opacity === '0') continue;
  const a = lum(parse(s.color)), b = lum(ground(e)); const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
  if (ratio < 4.5) found.push(`${ratio.toFixed(2)} ${e.textContent.trim().slice(0, 40)} ${e.className}`);
}
return [...new Set(found)];
"""


@pytest.mark.parametrize("theme", ["film", "night"])
def test_names_roles_focus_order_and_contrast(page: Page, theme: str) -> None:
    page.open("/")
    page.find("new-model")
    themes = page.driver.execute_script("return document.documentElement.dataset.theme")
    if (themes == "night") != (theme == "night"):
        page.click("theme")
    assert page.driver.execute_script(NAMELESS) == []
    # Colours change softly when the theme does.
    page.until(
        lambda: page.driver.execute_script(FAINT) == [],
        f"readable: {page.driver.execute_script(FAINT)}",
    )
    # Another theme is other colours; all else is as it was.
    rules = () if theme == "film" else ("color-contrast",)
    assert page.violations(*rules) == []
    open_plant(page, f"Access{theme.title()}")
    choose_parts(page, "basin", "outlet")
    for view in ("sheet", "text", "equations", "figures", "symbol", "description", "history"):
        page.click(f"view-{view}")
        page.find({"sheet": "sheet"}.get(view, f"{view}-view"))
        assert page.driver.execute_script(NAMELESS) == [], view
        assert page.driver.execute_script(FAINT) == [], view
        assert page.violations(*rules) == [], view
        assert (
            page.driver.execute_script(
                "return [...document.querySelectorAll('[tabindex]')].filter((e) => e.tabIndex > 0).length"
            )
            == 0
        )
        roles = {
            e.get_attribute("role") for e in page.driver.find_elements(By.CSS_SELECTOR, "[role]")
        }
        assert {"tablist", "tab", "tabpanel"} <= roles
    page.click("view-sheet")
    seen: list[str] = []
    page.driver.refresh()
    page.find("part-basin")
    page.until(
        lambda: page.driver.find_elements(By.CSS_SELECTOR, "#shelf-list [role=option]"),
        "the shelf is filled",
    )
    for _ in range(25):
        page.actions().send_keys(Keys.TAB).perform()
        seen.append(
            page.driver.execute_script(
                "const e = document.activeElement; return e.closest('header') ? 'top' : e.closest('[data-testid=shelf]') ? 'shelf' : e.closest('[role=tablist]') ? 'tabs' : e.tagName === 'BODY' ? 'body' : 'other'"
            )
        )
    order = [
        s
        for i, s in enumerate(seen)
        if s in ("top", "shelf", "tabs") and (i == 0 or seen[i - 1] != s)
    ]
    assert order[:2] == ["top", "shelf"], seen
