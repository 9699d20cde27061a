"""The oil cooler meets its measurements: a file with commas is taken in, fitted, made a scenario; and it is linearised."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.browser.test_building import run_model

pytestmark = pytest.mark.browser


def measurements(folder: Path) -> Path:
    """A cool-down with h = 31 W/(m2.K) in air of 18 °C, from 77 °C."""
    t = np.linspace(0, 120, 481)
    clean = 18 + 59 * np.exp(-31 * 1.4 / 84e3 * 60 * t)
    noisy = clean + 0.15 * np.random.default_rng(11).standard_normal(len(t))
    rows = "\n".join(f"{a:.2f};{b:.2f}".replace(".", ",") for a, b in zip(t, noisy, strict=True))
    path = folder / "cool-down.csv"
    path.write_text(f"Kai, Halle 3\nZeit [min];Öl [°C]\n{rows}\n")
    return path


def choose(page: Page, field: str, text: str) -> None:
    element = page.find(field)
    element.send_keys(Keys.CONTROL, "a")
    element.send_keys(text)


def test_a_fit_becomes_a_scenario(page: Page, tmp_path: Path) -> None:
    page.open()
    page.click("model-VarrowQuay.OilCooler")
    page.find("part-oil")
    page.click("view-analyses")
    page.click("new-fit")
    page.find("fit-form")
    page.find("data-file").send_keys(str(measurements(tmp_path)))
    rows = "481 rows from 0\u2009s to 7200\u2009s"
    page.until(lambda: rows in page.text("fit-form"), "the file is read")
    page.find("role-Öl").send_keys("compared")
    choose(page, "variable-Öl", "oil.T")
    for k, name in enumerate(("shell.h", "air.T", "oil.T_start")):
        choose(page, f"free-{k}", name)
    for k, (low, high) in enumerate((("5", "100"), ("270", "310"), ("300", "400"))):
        choose(page, f"free-{k}-low", low)
        choose(page, f"free-{k}-high", high)
    page.click("fit")
    row = page.find("fitted-shell.h", seconds=90)
    low, high = (float(x) for x in row.find_elements(By.TAG_NAME, "td")[2].text.split(" to "))
    assert low < 31 < high
    assert high - low < 1
    page.click("fit-scenario")
    page.until(lambda: "The scenario fitted" in page.text("analysis"), "the scenario is there")
    assert page.severe() == []
    run_model(page)
    page.click("view-sheet")
    celsius = r"1[78]\.?\d*\s°C"
    page.until(
        lambda: re.search(celsius, page.text("part-air")), "the air has the fitted temperature"
    )


def test_poles_of_the_oil_cooler(page: Page) -> None:
    page.open()
    page.click("model-VarrowQuay.OilCooler")
    page.find("part-oil")
    page.click("view-analyses")
    page.click("new-linear")
    choose(page, "linear-input", "air.T")
    choose(page, "linear-output", "oil.T")
    page.click("linearise")
    pole = page.find("poles", seconds=60).text
    # C/(h A) = 2400 s.
    assert "-0.00041667" in pole
    assert "2400\u2009s" in pole
    assert "oil.T 100 %" in pole
    page.find("linear-pair")
    assert page.severe() == []
