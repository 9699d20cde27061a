"""A state machine is drawn with mouse and keyboard; the page of a part can be read by everybody."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.browser.test_building import drag_wire, insert, new_model, show_all
from tests.browser.test_sheet import FAINT, NAMELESS
from tests.browser.test_sump import run_model

pytestmark = pytest.mark.browser


def machine(page: Page, name: str) -> None:
    """Two states beside each other."""
    new_model(page, name)
    insert(page, "state machine", "state")
    insert(page, "state machine", "state2")
    show_all(page)


def shown_text(page: Page) -> str:
    page.click("view-text")
    page.find("text-view")
    text = str(
        page.until(
            lambda: page.driver.find_element(By.CSS_SELECTOR, ".cm-content").text, "the text"
        )
    )
    page.click("view-sheet")
    page.find("sheet")
    return text


def test_an_arrow_is_drawn_changed_and_deleted_with_the_mouse(page: Page) -> None:
    machine(page, "Drawn")
    drag_wire(page, "state.arrow", "state2.arrow")
    page.find("arrow-condition").send_keys("time > 2", Keys.ENTER)
    page.until(lambda: "drew an arrow" in page.text("last-edit"), "the arrow is drawn")
    assert page.text("arrow-state-state2") == "time > 2"
    text = shown_text(page)
    assert "initialState(state);" in text and "transition(state, state2, time > 2);" in text
    page.click("arrow-state-state2")
    field = page.find("arrow-condition")
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("time > 3", Keys.ENTER)
    page.until(lambda: page.text("arrow-state-state2") == "time > 3", "another condition")
    page.click("part-state2")
    page.click("begin-in")
    page.until(lambda: "began in state2" in page.text("last-edit"), "it begins elsewhere")
    page.click("arrow-state-state2")
    page.click("arrow-delete")
    page.until(lambda: not page.all("arrow-state-state2"), "the arrow is gone")
    assert page.severe() == []


def test_an_arrow_is_drawn_with_the_keyboard_alone(page: Page) -> None:
    machine(page, "Keyed")
    page.click("part-state2")
    page.driver.find_element(By.TAG_NAME, "body").send_keys("c")
    page.find("connect-search").send_keys("state.", Keys.ENTER)
    page.find("arrow-condition").send_keys("ticksInState() > 5", Keys.ENTER)
    page.until(
        lambda: "drew an arrow from state2 to state" in page.text("last-edit"), "the arrow is drawn"
    )
    page.actions().key_down(Keys.CONTROL).send_keys("z").key_up(Keys.CONTROL).perform()
    page.until(lambda: not page.all("arrow-state2-state"), "undone")


@pytest.mark.parametrize("theme", ["film", "night"])
@pytest.mark.parametrize(
    "part", ["Electrical.PermanentMagnetMotor", "Signals.PID", "Process.Mixtures.StirredReactor"]
)
def test_the_page_of_a_part_is_readable_in_both_themes(page: Page, theme: str, part: str) -> None:
    page.open("/")
    page.find("new-project")
    if (page.driver.execute_script("return document.documentElement.dataset.theme") == "night") != (
        theme == "night"
    ):
        page.click("theme")
    link = "a[href*='/models/']"
    page.until(lambda: page.driver.find_elements(By.CSS_SELECTOR, link), "models are listed")
    address = page.driver.execute_script(
        "return document.querySelector(arguments[0]).getAttribute('href')", link
    )
    page.open(f"{address}/parts/Movrel.{part}")
    page.until(
        lambda: page.driver.find_elements(By.CSS_SELECTOR, ".katex"), "equations are typeset"
    )
    page.until(
        lambda: page.driver.execute_script(FAINT) == [],
        f"readable: {page.driver.execute_script(FAINT)}",
    )
    assert page.driver.execute_script(NAMELESS) == []
    assert part.rpartition(".")[2] in page.driver.find_element(By.TAG_NAME, "h1").text


def fills(page: Page, state: str) -> list[str | None]:
    shapes = page.find(f"part-{state}").find_elements(By.CSS_SELECTOR, "svg [fill]")
    return [shape.get_attribute("fill") for shape in shapes]


def test_stepping_into_a_part_keeps_the_run_and_shows_that_part_of_it(page: Page) -> None:
    page.open("/")
    page.click("model-VarrowQuay.WinchDrive")
    page.find("part-controller")
    run_model(page)
    page.find("recorder").send_keys(Keys.END)
    page.click("part-controller")
    page.click("step-in")
    assert "controller of WinchDrive" in page.text("instance")
    # The chosen run and the time cursor are still there; what is shown is that of this part.
    page.until(lambda: fills(page, "fourth") != fills(page, "first"), "its state is lit")
    assert fills(page, "first") == fills(page, "second") == fills(page, "third")
    assert len(page.all("chip")) == 1 and "of 2 hold" in page.text("claim-sign")
    page.until(lambda: page.number("value-gear") == 4, "its value at the cursor")
    page.click("watch-tick")
    page.find("curve-controller.tick")
    assert not page.all("problem")
    run_model(page)
    assert [c.get_attribute("data-state") for c in page.all("chip")] == ["done", "done"]
    page.click("place-0")
    page.find("part-controller")
    assert len(page.all("chip")) == 2
    assert page.severe() == []
