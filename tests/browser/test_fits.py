"""The oil cooler meets its measurements: a file is fitted and made a scenario, a step test gives a component, poles are read."""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np
import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Page
from tests.browser.test_building import new_model
from tests.browser.test_sump import run_model

pytestmark = pytest.mark.browser

MEASUREMENTS = Path(__file__).resolve().parents[2] / "examples" / "measurements"
HEATER_STEP = MEASUREMENTS / "oil-cooler-heater-step.csv"


def measurements(folder: Path) -> Path:
    """A cool-down with h = 31 W/(m2.K) in air of 18 °C, from 77 °C."""
    t = np.linspace(0, 120, 481)
    clean = 18 + 59 * np.exp(-31 * 1.4 / 84e3 * 60 * t)
    noisy = clean + 0.15 * np.random.default_rng(11).standard_normal(len(t))
    rows = "\n".join(f"{a:.2f};{b:.2f}".replace(".", ",") for a, b in zip(t, noisy, strict=True))
    path = folder / "cool-down.csv"
    path.write_text(f"Kai, Halle 3\nZeit [min];Öl [°C]\n{rows}\n")
    return path


#: Drags one element onto another.
DROP = """const data = new DataTransfer();
for (const [element, kind] of [[arguments[0], "dragstart"], [arguments[1], "dragover"], [arguments[1], "drop"]])
  element.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true }));"""


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
    page.click("profile-shell.h")
    page.until(lambda: "profile 3" in page.text("interval-shell.h"), "the profile is there", 60)
    page.click("bootstrap")
    page.until(lambda: "resampled 3" in page.text("interval-shell.h"), "so are the resampled", 90)
    page.click("fit-scenario")
    page.until(lambda: "The scenario fitted" in page.text("analysis"), "the scenario is there")
    assert page.severe() == []
    page.click("view-sheet")
    celsius = r"1[78]\.?\d*\s°C"
    page.until(
        lambda: re.search(celsius, page.text("part-air")), "the air has the fitted temperature"
    )


def test_measurements_are_prepared_and_scenarios_ranked_by_them(page: Page, tmp_path: Path) -> None:
    page.open()
    page.click("model-VarrowQuay.OilCooler")
    page.find("part-oil")
    page.click("view-analyses")
    page.click("new-comparison")
    spoilt = measurements(tmp_path).rename(tmp_path / "spoilt.csv")
    lines = spoilt.read_text().splitlines()
    for k in (60, 200, 333):
        lines[k] = f"{lines[k].partition(';')[0]};-40,0"
    spoilt.write_text("\n".join(lines))
    page.find("data-file").send_keys(str(spoilt))
    page.find("column-Öl")
    page.click("prepare")
    page.find("step-kind").send_keys("mark")
    page.find("step-column").send_keys("Öl")
    page.click("add-step")
    assert "3 of 481 samples count no more" in page.text("prepared-0")
    page.find("step-kind").send_keys("leave")
    page.find("step-low").send_keys("9000")
    page.click("add-step")
    assert "step 2, only from 9000 s" in page.text("step-refusal")
    choose(page, "step-low", "60")
    page.find("step-low").send_keys(Keys.ENTER)
    page.until(lambda: "477 rows from 60" in page.text("comparison-form"), "the beginning is gone")
    page.click("undo-step")
    page.until(lambda: "481 rows" in page.text("comparison-form"), "it is back")
    page.find("step-kind").send_keys("correct")
    page.find("step-unit").send_keys("degC")
    page.click("add-step")
    assert "Öl is in degC: it was read as degC" in page.text("prepared-1")
    choose(page, "role-Öl", "not used")
    page.driver.execute_script(
        "arguments[0].parentElement.open = true", page.find("variable-chips")
    )
    page.driver.execute_script(DROP, page.find("drag-oil.T"), page.find("column-Öl"))
    page.until(
        lambda: page.find("variable-Öl").get_attribute("value") == "oil.T", "it was dropped there"
    )
    assert page.find("role-Öl").get_attribute("value") == "output"
    page.find("candidate-others").send_keys("VarrowQuay.Sump")
    page.click("from-samples")
    page.click("compare")
    assert "no variable 'oil.T'" in page.find("ranking", seconds=60).text
    assert "OilCooler, base" in page.text("ranking")
    assert page.find("rank-0").text.startswith("1")
    # The measured column stands beside the curves of a run.
    page.open()
    page.click("model-VarrowQuay.StrainAmplifier")
    page.find("sheet")
    run_model(page)
    page.click("add-curve")
    choose(page, "find-curve", "spoilt")
    page.click("found-Data/spoilt.csv:Öl")
    page.find("curve-Data/spoilt.csv:Öl")
    page.until(
        lambda: any("Öl · spoilt.csv" in e.text and "°C" in e.text for e in page.all("strip")),
        "in its own unit",
    )
    assert page.severe() == []


def test_a_step_test_gives_settings_and_a_component(page: Page) -> None:
    page.open()
    new_model(page, "HeaterTest")
    page.click("view-analyses")
    page.click("new-step")
    page.find("data-file").send_keys(str(HEATER_STEP))
    page.until(lambda: "721 rows" in page.text("step-form"), "the file is read")
    page.find("step-input").send_keys("heater")
    page.find("step-response").send_keys("oil")
    page.click("step-test")
    lag = page.find("step-first-order-time_constant", seconds=60).text
    # 84 kJ/K over 31 W/(m2.K) and 1.4 m2 is 1935 s, and the housing adds its own lag.
    assert float(lag) == pytest.approx(2110, rel=0.02)
    assert "PI: gain" in page.text("settings-first-order")
    page.click("component-first-order")
    page.click("view-sheet")
    page.find("part-stepTestFirstOrder")
    assert page.severe() == []


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
    # At rest with the oil at 50 degrees, which asks for air of 50 degrees.
    page.click("new-linear")
    choose(page, "linear-input", "air.T")
    page.find("linear-step-air.T").send_keys("5")
    choose(page, "linear-output", "oil.T")
    page.click("linear-at-rest")
    choose(page, "rest-held", "oil.T")
    page.find("rest-value-oil.T").send_keys("50 degC")
    choose(page, "rest-free", "air.T")
    page.click("linearise")
    assert "air.T = 323.15" in page.find("linear-found", seconds=60).text
    assert "the linear model is off by at most" in page.text("linear-gap")
    page.find("root-locus")
    assert page.severe() == []
