"""A unit of others is taken in, allowed, tried, put on a sheet, wired and run; what is not a unit is refused."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.browser.test_building import connect, insert, new_model, run_model, show_all
from tests.exchange.conftest import hand_written  # noqa: F401  # a fixture
from tests.exchange.hand_written import SPRING

pytestmark = pytest.mark.browser


def test_a_unit_of_others_becomes_a_part_and_runs(
    page: Page,
    hand_written: Callable[..., Path],  # noqa: F811
    tmp_path: Path,
) -> None:
    new_model(page, "Fendering")
    wrong = tmp_path / "notes.fmu"
    wrong.write_text("no archive")
    page.click("add-unit")
    page.find("new-foreign-unit")
    page.find("foreign-unit-file").send_keys(str(wrong))
    assert "not a ZIP archive" in page.text("foreign-unit-refusal")
    own = SPRING.replace('modelName="Spring"', 'modelName="Fender" description="in the browser"')
    page.find("foreign-unit-file").send_keys(str(hand_written(2, text=own)))
    assert "model exchange and co-simulation (FMI 2.0)" in page.text("foreign-unit")
    assert not page.find("foreign-unit-try").is_enabled()
    assert page.violations() == []
    page.click("foreign-unit-allow")
    page.until(lambda: page.find("foreign-unit-try").is_enabled(), "it may run")
    page.click("foreign-unit-try")
    page.find("trial-picture", seconds=60)
    page.click("foreign-part-me")
    name = page.find("foreign-part-name")
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("7up")
    page.click("foreign-part-place")
    assert "cannot be a name" in page.text("foreign-part-refusal")
    name.send_keys(Keys.CONTROL, "a")
    name.send_keys("Fender")
    heading = page.find("heading-force")
    heading.send_keys("drive")
    page.click("foreign-part-place")
    page.find("part-fender")
    insert(page, "constant", "constant1")
    show_all(page)
    connect(page, "constant1.y", "fender.force")
    run_model(page)
    # A newer file: another wall, which is called otherwise.
    page.click("view-units")
    newer = own.replace('name="wall"', 'name="ledge"')
    built = hand_written(2, text=newer)
    page.find("foreign-unit-file").send_keys(str(built.rename(built.with_name("newer.fmu"))))
    page.until(lambda: "wall" in page.text("exchange-Fender"), "what would vanish is said")
    assert re.search(r"is new\s+ledge", page.text("exchange-Fender"))
    page.click("exchange-do-Fender")
    page.until(lambda: not page.all("exchange-Fender"), "it is exchanged")
    page.click("view-text")
    page.until(lambda: "newer.fmu" in page.driver.page_source, "the class names the new file")
    assert 'group="drive"' in page.text("text-view")
    assert page.severe() == []
