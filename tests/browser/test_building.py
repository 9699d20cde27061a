"""A plant is built from an empty sheet with mouse and keyboard, run, and agrees with a hand calculation."""

from __future__ import annotations

import math
import urllib.request

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

import movrel
from tests.browser.conftest import Page
from tests.browser.test_sump import run_model, type_into

pytestmark = pytest.mark.browser


def new_model(page: Page, name: str) -> None:
    page.open()
    page.click("new-model")
    page.find("new-model-name").send_keys(name, Keys.ENTER)
    page.until(lambda: page.all("empty-sheet") or page.all("new-model-fault"), "an empty sheet")
    assert not page.all("new-model-fault"), page.text("new-model-fault")


def insert(page: Page, typed: str, part: str) -> None:
    """By typing: the slash key, a word, Enter."""
    page.until(
        lambda: page.driver.find_elements(By.CSS_SELECTOR, "#shelf-list [role=option]"),
        "the shelf is filled",
    )
    page.driver.find_element(By.TAG_NAME, "body").send_keys("/")
    page.find("shelf-search").send_keys(typed, Keys.ENTER)
    page.find(f"part-{part}")


def show_all(page: Page) -> None:
    """Bring the whole sheet into view and wait until it lies still."""
    page.driver.find_element(By.TAG_NAME, "body").send_keys("f")
    seen: list[str] = []

    def still() -> bool:
        viewport = page.driver.find_element(By.CSS_SELECTOR, ".react-flow__viewport")
        seen.append(viewport.get_attribute("style") or "")
        return len(seen) > 8 and len(set(seen[-6:])) == 1

    page.until(still, "the sheet lies still")


def drag(page: Page, part: str, dx: int, dy: int) -> None:
    element = page.find(f"part-{part}")
    before = element.location
    actions = page.actions().click_and_hold(element)
    for _ in range(4):
        actions.move_by_offset(dx // 4, dy // 4)
    actions.release().perform()
    page.until(lambda: "moved" in page.text("last-edit"), f"{part} moved")
    page.until(lambda: page.find(f"part-{part}").location != before, f"{part} elsewhere")


def drag_wire(page: Page, one: str, other: str) -> None:
    start, end = page.find(f"port-{one}"), page.find(f"port-{other}")
    page.actions().click_and_hold(start).move_by_offset(6, 6).move_to_element(
        end
    ).release().perform()


def connect(page: Page, one: str, other: str) -> None:
    drag_wire(page, one, other)
    page.until(
        lambda: page.text("last-edit") == f"Last edit: connected {one} and {other}",
        f"{one} and {other} connected",
    )


def source(page: Page, model: str) -> str:
    project = page.driver.current_url.split("/projects/")[1].split("/")[0]
    with urllib.request.urlopen(
        f"{page.server.address}/api/projects/{project}/models/{model}/download"
    ) as answer:
        return answer.read().decode()


def test_a_filling_basin_from_an_empty_sheet(page: Page) -> None:
    new_model(page, "Filling")
    insert(page, "constant", "constant1")
    insert(page, "inflow", "inflow")
    insert(page, "basin", "basin")
    show_all(page)
    drag(page, "basin", 40, 60)
    connect(page, "constant1.y", "inflow.q")
    connect(page, "inflow.port", "basin.inlet")
    page.click("part-constant1")
    type_into(page, "constant1.value", "0.05")
    page.until(lambda: "value of constant1" in page.text("last-edit"), "the value kept")
    run_model(page)
    text = source(page, "Filling")
    r = movrel.load(text=text, model="Filling").simulate()
    assert r["basin.level"][-1] == pytest.approx(0.05 * 10 / 1.0, rel=1e-6)
    assert page.severe() == []


def test_wires_and_parts_are_refused_deleted_and_brought_back(page: Page) -> None:
    new_model(page, "Draft of mine")
    insert(page, "constant", "constant1")
    insert(page, "constant", "constant2")
    insert(page, "orifice", "orifice")
    show_all(page)
    first = source(page, "DraftOfMine")
    assert '"Draft of mine"' in first
    # Two outputs do not go together: nothing is changed.
    drag_wire(page, "constant1.y", "constant2.y")
    assert source(page, "DraftOfMine") == first
    page.click("part-constant2")
    page.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.DELETE)
    page.until(lambda: page.text("last-edit") == "Last edit: deleted constant2", "the part deleted")
    assert not page.all("part-constant2")
    page.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.CONTROL, "z")
    page.find("part-constant2")
    assert source(page, "DraftOfMine") == first


def test_text_is_written_kept_refused_and_survives_a_reload(page: Page) -> None:
    new_model(page, "Decay")
    page.click("view-text")
    page.find("text-view")
    editor = page.until(
        lambda: page.driver.find_element(By.CSS_SELECTOR, ".cm-content"), "the editor"
    )
    editor.click()
    wrong = "model Decay\nReal x(start = 1, fixed = true);\nequation\nder(x) = -0.5*x\nend Decay;"
    editor.send_keys(Keys.CONTROL, "a")
    editor.send_keys(wrong)
    page.find("draft")
    editor.send_keys(Keys.CONTROL, "s")
    page.until(lambda: "';' is missing" in page.text("fault"), "the fault named")
    page.driver.refresh()
    page.click("view-text")
    page.until(
        lambda: "-0.5*x" in page.driver.find_element(By.CSS_SELECTOR, ".cm-content").text,
        "the draft is still there",
    )
    editor = page.driver.find_element(By.CSS_SELECTOR, ".cm-content")
    editor.click()
    editor.send_keys(Keys.CONTROL, "a")
    editor.send_keys(wrong.replace("0.5*x\n", "0.5*x;\n"))
    page.click("keep-text")
    page.until(lambda: page.text("last-edit") == "Last edit: edited the text", "the text kept")
    assert not page.all("draft")
    page.click("view-sheet")
    run_model(page)
    text = source(page, "Decay")
    assert movrel.load(text=text).simulate(stop=1)["x"][-1] == pytest.approx(
        math.exp(-0.5), rel=1e-5
    )


def test_settings_and_names_are_edited_in_place(page: Page) -> None:
    new_model(page, "Naming")
    field = page.find("setting-stop")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("3 kg", Keys.ENTER)
    page.until(lambda: "a mass" in page.text("setting-stop-fault"), "the refusal")
    field.send_keys(Keys.ESCAPE)
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("2 min", Keys.ENTER)
    page.until(lambda: "StopTime=120" in source(page, "Naming"), "the stop time kept")
    page.find("setting-solver").send_keys("Radau")
    page.until(lambda: 'solver="radau"' in source(page, "Naming"), "the solver kept")
    insert(page, "basin", "basin")
    name = page.find("part-name")
    name.click()
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("sump", Keys.ENTER)
    page.find("part-sump")
    assert "Movrel.Process.Basin sump annotation" in source(page, "Naming")


def test_what_is_written_and_not_kept_survives_a_reload(page: Page) -> None:
    new_model(page, "Drafted")
    page.click("add-equations")
    text = page.find("component-text").find_element(By.CSS_SELECTOR, ".cm-content")
    text.click()
    text.send_keys(Keys.CONTROL, Keys.HOME)
    text.send_keys("// a remark\n")
    page.until(lambda: "a remark" in page.text("component-text"), "the remark is written")
    page.driver.refresh()
    page.click("add-equations")
    page.until(lambda: "a remark" in page.text("component-text"), "it is there again")
    page.click("draft-forget")
    page.until(lambda: "a remark" not in page.text("component-text"), "the template again")
    page.click("component-close")
    page.click("add-code")
    page.find("code-name").send_keys("2")
    page.click("view-text")
    page.click("view-sheet")
    page.click("add-code")
    page.until(
        lambda: (page.find("code-name").get_attribute("value") or "").endswith("2"),
        "so is the code",
    )


def test_a_second_wire_to_an_input_asks_first(page: Page) -> None:
    new_model(page, "Twice")
    insert(page, "constant", "constant1")
    insert(page, "constant", "constant2")
    insert(page, "inflow", "inflow")
    show_all(page)
    connect(page, "constant1.y", "inflow.q")
    before = source(page, "Twice")
    drag_wire(page, "constant2.y", "inflow.q")
    assert "inflow.q has its signal from constant1.y already" in page.text("fed-question")
    page.click("fed-leave")
    page.until(lambda: not page.all("fed-question"), "the question gone")
    assert source(page, "Twice") == before
    drag_wire(page, "constant2.y", "inflow.q")
    page.click("fed-replace")
    page.until(lambda: "in the place of constant1.y" in page.text("last-edit"), "the wire replaced")
    after = source(page, "Twice")
    assert "connect(constant2.y, inflow.q)" in after and "connect(constant1.y" not in after
