"""A unit is made of a model on the page of choices, and its file runs."""

from __future__ import annotations

import urllib.request
from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys

from movrel.exchange.fmi.run_unit import UnitOptions, run_unit
from movrel.fmi.archive import open_unit
from tests.browser.conftest import Page
from tests.browser.test_building import insert, new_model
from tests.serving import Server

pytestmark = pytest.mark.browser


def test_a_sealed_unit_is_chosen_made_and_run(page: Page, server: Server, tmp_path: Path) -> None:
    page.open()
    page.click("model-VarrowQuay.Sump")
    page.click("run")
    page.find("run-menu")
    page.click("view-units")
    page.click("unit-version-2")
    page.click("unit-me")
    page.click("unit-cs")
    assert "needs one of them" in page.text("unit-obstacle")
    assert not page.find("unit-make").is_enabled()
    page.click("unit-cs")
    page.click("unit-parameters-some")
    page.find("unit-parameters-add").send_keys("outlet.diameter", Keys.ENTER)
    page.find("unit-outputs-add").send_keys("basin.level", Keys.ENTER)
    page.click("unit-sealed")
    page.click("unit-log-steps")
    assert page.violations() == []
    page.click("unit-make")
    link = page.find("unit-download", seconds=60)
    assert "FMI 2.0 for co-simulation" in page.text("unit-made")
    path = tmp_path / "sump.fmu"
    path.write_bytes(urllib.request.urlopen(link.get_attribute("href") or "").read())
    unit = open_unit(path)
    names = {v.name for v in unit.description.variables}
    assert {"outlet.diameter", "basin.level"} <= names
    assert "basin.area" not in names
    assert "logSteps" not in unit.description.log_categories
    found = run_unit(unit, UnitOptions(values={"outlet.diameter": 0.2}, stop=600))
    assert found["basin.level"][0] == pytest.approx(0.3)
    page.click("unit-delete")
    page.find("unit-form")
    assert page.severe() == []


def test_what_cannot_be_a_unit_says_why(page: Page) -> None:
    new_model(page, "Late")
    insert(page, "transport delay", "transportDelay")
    page.click("view-units")
    page.click("unit-make")
    page.until(
        lambda: "no equation determines transportDelay.u" in page.text("unit-state"), "the reason"
    )
    assert page.severe() == []
