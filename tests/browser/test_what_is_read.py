"""What one reads off a run: terms of equations, runs beside each other, and what can be done with a part."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Page
from tests.browser.test_building import connect, insert, new_model, show_all
from tests.browser.test_sump import open_sump, run_model

pytestmark = pytest.mark.browser


def open_example(page: Page, name: str) -> None:
    page.open()
    page.click(f"model-VarrowQuay.{name}")
    page.find("sheet")


def read(page: Page, term: str) -> float:
    return float(page.text(term).replace("−", "-"))


def test_each_equation_shows_what_its_terms_are_worth_at_the_cursor(page: Page) -> None:
    open_sump(page)
    run_model(page)
    page.find("recorder").send_keys(Keys.HOME)
    page.click("view-equations")
    # At the start: 0.3 m above the outlet, and the hydrostatic pressure of it on both sides.
    page.until(lambda: read(page, "term-basin.outlet.p-0") > 0, "the terms are there")
    assert read(page, "term-basin.outlet.p-0") == pytest.approx(1000 * 9.80665 * 0.3, rel=1e-3)
    balance = "terms-der(basin.level)"
    stored, flowing = (read(page, f"term-der(basin.level)-{k}") for k in (0, 1))
    leaving = read(page, "term-der(basin.level)-2")
    assert stored == pytest.approx(flowing + leaving, rel=1e-3) and leaving < 0
    page.click("largest-first")
    page.until(lambda: page.find(balance), "still there")
    page.find("recorder").send_keys(Keys.END)
    page.until(lambda: read(page, "term-basin.outlet.p-0") < 100, "the values of the end")
    # A variable that is pointed at lights up where it is used.
    level = page.driver.find_element(By.CSS_SELECTOR, ".katex-html [data-name='basin.level']")
    page.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", level)
    page.actions().move_to_element(level).perform()
    page.until(
        lambda: page.find("equation-der(basin.level)").get_attribute("data-lit") == "true", "lit"
    )
    assert page.find("equation-outlet.dp").get_attribute("data-lit") == "false"
    assert page.severe() == []


def test_runs_of_two_models_stand_beside_each_other(page: Page) -> None:
    open_example(page, "OilCoolerThree")
    run_model(page)
    open_example(page, "OilCooler")
    run_model(page)
    run_model(page)
    chips = page.all("chip")
    assert len(chips) == 2 and len({chip.text for chip in chips}) == 2, "told apart by their number"
    page.open()
    page.click("menu-VarrowQuay.OilCooler")
    page.click("menu-compare-VarrowQuay.OilCoolerThree")
    other = page.until(
        lambda: next(c for c in page.all("chip") if "OilCoolerThree" in c.text), "the other run"
    )
    assert isinstance(other, WebElement)
    run = other.get_attribute("data-run") or ""
    page.until(
        lambda: run in (page.find("recorder").get_attribute("data-drawn") or "").split(), "drawn"
    )
    # What has another name there is matched by hand.
    other.find_element(By.CSS_SELECTOR, "[data-testid^=match-]").click()
    assert page.find("match-of-oil.T").get_attribute("value") == "oil.T"
    field = page.find("match-of-shell.Q")
    assert field.get_attribute("value") == ""
    field.send_keys("nowhere", Keys.ENTER)
    assert "no 'nowhere'" in page.text("match-of-shell.Q-fault")
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("skin.Q", Keys.ENTER)
    page.until(lambda: page.find("match-of-shell.Q").get_attribute("value") == "skin.Q", "kept")
    page.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    # A curve gets the colour and the dash that somebody wants.
    page.click("look-oil.T")
    page.click("look-colour-5")
    page.click("look-dash-3")
    line = page.find("look-oil.T").find_element(By.TAG_NAME, "line")
    page.until(lambda: "--run-4" in (line.get_attribute("stroke") or ""), "its colour")
    assert line.get_attribute("stroke-dasharray") == "3 3"
    assert page.severe() == []


def test_the_right_button_says_what_can_be_done(page: Page) -> None:
    new_model(page, "Menus")
    insert(page, "constant", "constant1")
    insert(page, "gain", "gain")
    insert(page, "integrator", "integrator")
    show_all(page)
    connect(page, "constant1.y", "gain.u")
    connect(page, "constant1.y", "integrator.u")
    page.until(
        lambda: page.driver.find_elements(By.CSS_SELECTOR, ".react-flow [data-branch]"),
        "the branch has a dot",
    )
    page.actions().context_click(page.find("part-gain")).perform()
    page.click("menu-mirror")
    page.until(lambda: page.text("last-edit") == "Last edit: mirrored gain", "mirrored")
    page.actions().context_click(page.find("part-gain")).perform()
    page.click("menu-duplicate")
    page.find("part-gain2")
    ground = page.driver.find_element(By.CSS_SELECTOR, ".react-flow__pane")
    page.actions().move_to_element_with_offset(ground, 0, 140).context_click().perform()
    page.click("menu-arrange")
    page.until(lambda: "arranged" in page.text("last-edit"), "arranged")
    assert page.severe() == []


def test_a_model_of_equations_shows_them_and_parts_stand_apart(page: Page) -> None:
    page.open()
    page.click("model-VarrowQuay.BilgeDosing")
    page.find("only-equations")
    page.until(lambda: page.driver.find_elements(By.CSS_SELECTOR, ".katex"), "typeset")
    page.open()
    page.find("model-VarrowQuay.ShiftController")
    heading = page.driver.find_element(By.XPATH, "//h3[contains(., 'do not run alone')]")
    below = heading.find_element(By.XPATH, "following-sibling::ul[1]")
    names = [
        a.get_attribute("data-testid")
        for a in below.find_elements(By.CSS_SELECTOR, "a[data-testid^='model-']")
    ]
    assert "model-VarrowQuay.ShiftController" in names and "model-VarrowQuay.Sump" not in names


def test_ports_are_written_named_and_put_in_order(page: Page) -> None:
    new_model(page, "Ported")
    page.click("add-equations")
    page.find("component-preview")
    page.click("component-connector")
    page.until(lambda: "1 potential, 1 flow" in page.text("component-preview"), "a connector")
    page.click("component-keep")
    insert(page, "SignalIn", "u")
    insert(page, "SignalOut", "y")
    page.driver.find_element(By.TAG_NAME, "body").send_keys(Keys.ESCAPE)
    name = page.find("port-name-u")
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("demand", Keys.ENTER)
    page.find("part-demand")
    Select(page.find("port-side-y")).select_by_visible_text("left")
    page.until(lambda: page.find("port-before-y").is_enabled(), "below the others")
    page.click("port-before-y")
    page.until(lambda: "place 1" in page.text("last-edit"), "above")
    page.click("view-symbol")
    at = {n: page.find(f"symbol-port-{n}").location for n in ("y", "demand")}
    assert at["y"]["x"] == at["demand"]["x"] and at["y"]["y"] < at["demand"]["y"]
    assert page.severe() == []


def test_a_part_that_is_dropped_on_a_wire_goes_into_it(page: Page) -> None:
    new_model(page, "Dropped")
    for typed, part in (("step", "step"), ("lag", "lag"), ("gain 3", "gain")):
        insert(page, typed, part)
    show_all(page)
    connect(page, "step.y", "lag.u")
    middle = page.driver.execute_script(
        "const [a, b, g] = ['step', 'lag', 'gain'].map((n) => document.querySelector(`[data-testid=part-${n}]`).getBoundingClientRect());"
        "return [(a.right + b.left) / 2 - g.x - g.width / 2, a.y - g.y]"
    )
    # The first small movement begins the drag and moves nothing yet.
    page.actions().click_and_hold(page.find("part-gain")).move_by_offset(3, 3).move_by_offset(
        round(middle[0] / 2), 40
    ).move_by_offset(
        round(middle[0]) - round(middle[0] / 2), round(middle[1]) - 40
    ).release().perform()
    page.until(lambda: "inserted gain into the wire" in page.text("last-edit"), "inserted")
    assert page.severe() == []


def test_values_are_cells_and_what_was_kept_is_taken_back_in_its_field(page: Page) -> None:
    new_model(page, "Celled")
    page.click("view-figures")
    for name, text in (("d", "14 cm"), ("area", "pi*d^2/4"), ("n", "3")):
        page.find("new-figure-name").send_keys(name)
        page.find("new-figure-expression").send_keys(text, Keys.ENTER)
        page.find(f"figure-{name}")
    assert page.find("figure-area-unit").get_attribute("value") == "m2"
    field = page.find("figure-d-expression")
    field.click()
    field.send_keys("20", Keys.ENTER)
    page.until(lambda: page.text("figure-d-value").startswith("0.2"), "kept, one row further")
    focused = page.driver.switch_to.active_element
    assert focused.get_attribute("data-testid") == "figure-area-expression"
    focused.send_keys(Keys.CONTROL, "z")
    page.until(lambda: page.text("figure-d-value").startswith("0.14"), "taken back")
    page.driver.execute_script(
        "const d = new DataTransfer(); d.setData('text/plain', '30\\tmm\\n2*d\\tm\\n7');"
        "arguments[0].dispatchEvent(new ClipboardEvent('paste', {clipboardData: d, bubbles: true, cancelable: true}));",
        page.find("figure-d-expression"),
    )
    page.until(lambda: page.text("figure-n-value").startswith("7"), "pasted over three rows")
    assert page.text("figure-d-value").startswith("0.03")
    assert page.text("figure-area-value").startswith("0.06")
    field = page.find("figure-d-expression")
    field.click()
    page.actions().key_down(Keys.SHIFT).send_keys(Keys.ARROW_DOWN, Keys.ARROW_RIGHT).key_up(
        Keys.SHIFT
    ).perform()
    copied = page.driver.execute_script(
        "const d = new DataTransfer(); const e = new ClipboardEvent('copy', {clipboardData: d, bubbles: true, cancelable: true});"
        "arguments[0].dispatchEvent(e); return [d.getData('text/plain'), document.querySelectorAll('[data-chosen]').length];",
        field,
    )
    assert copied == ["30\tmm\n2*d\tm", 4]
    assert page.severe() == []
