"""What one reads off a run: terms of equations, runs beside each other, and what can be done with a part."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

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
