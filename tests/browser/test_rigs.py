"""Units of several makers become a rig: loaded at once, wired by proposals, driven by a table, watched, delivered."""

from __future__ import annotations

import urllib.request
import zipfile
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from movrel.exchange.fmi.export import export_unit
from movrel.exchange.fmi.export_options import ExportOptions
from movrel.session import load
from tests.browser.conftest import Page
from tests.browser.test_building import new_model, run_model

pytestmark = pytest.mark.browser

UNITS = """
model Winch
  Movrel.Signals.SignalIn load(unit="N"); Movrel.Signals.SignalIn push(unit="N");
  Movrel.Signals.SignalOut position(unit="m"); Movrel.Signals.SignalOut speed(unit="m/s");
  Real x(start=0, fixed=true); Real w(start=0, fixed=true);
equation der(x) = w; 2*der(w) = push - load - 3*w; position = x; speed = w; end Winch;
model Rope
  Movrel.Signals.SignalIn position(unit="m"); Movrel.Signals.SignalIn speed(unit="m/s");
  Movrel.Signals.SignalOut load(unit="N");
  Real s(start=0, fixed=true); equation der(s) = position - s; load = 20*(position - s) + 2*speed; end Rope;
model Meter Movrel.Signals.SignalIn load(unit="kN"); Movrel.Signals.SignalOut mean(unit="kN");
  Real y(start=0, fixed=true); equation 5*der(y) = load - y; mean = y; end Meter;
model Lamp Movrel.Signals.SignalIn mean(unit="kN"); Movrel.Signals.SignalOut lit;
  equation lit = if mean > 0.5 then 1 else 0; end Lamp;
"""


def units(folder: Path) -> list[Path]:
    paths: list[Path] = []
    for k, name in enumerate(("Winch", "Rope", "Meter", "Lamp")):
        options = ExportOptions(version=2 + k % 2, interfaces=("cs",), documentation=False)
        made = export_unit(load(text=UNITS, model=name), options)
        paths.append(folder / f"{name}.fmu")
        paths[-1].write_bytes(made.archive)
    return paths


def place_unit(page: Page, name: str) -> None:
    page.click("view-units")
    page.driver.find_element(
        By.XPATH, f"//nav[@aria-label='Units']//button[contains(., '{name}.fmu')]"
    ).click()
    page.until(lambda: name in page.text("foreign-unit"), f"the page of {name}")
    page.click("foreign-unit-allow")
    page.until(lambda: page.find("foreign-unit-try").is_enabled(), "it may run")
    page.click("foreign-part-place")
    page.find(f"part-{name[0].lower()}{name[1:]}")


def test_units_are_coupled_watched_and_delivered(page: Page, tmp_path: Path) -> None:
    new_model(page, "Quayside")
    page.click("view-units")
    page.find("new-foreign-unit")
    page.find("foreign-unit-file").send_keys("\n".join(map(str, units(tmp_path))))
    names = ("Winch", "Rope", "Meter", "Lamp")
    page.until(
        lambda: all(f"{n}.fmu" in page.find("units-view").text for n in names), "all are there", 60
    )
    for name in names:
        place_unit(page, name)
    # What the hand does comes from a table with decimal commas.
    table = tmp_path / "hand.csv"
    table.write_text("Zeit [s];push [kN]\n0,0;0,0\n1,0;1,5\n60,0;1,5\n")
    page.click("view-units")
    page.find("signal-table-file").send_keys(str(table))
    assert "3 rows from 0\u2009s to 60\u2009s" in page.text("signal-table")
    page.click("table-place")
    page.find("part-hand")
    page.click("view-units")
    page.click("to-rig")
    assert "computed as one" in page.text("rig-view")
    page.click("couple")
    page.find("rig-step")
    # Proposals name the reason; all are taken at once, as one edit.
    assert "kN is converted to N" in page.text("open-winch.push")
    page.click("take-all")
    page.until(lambda: "Every input is fed" in page.text("rig-view"), "all inputs are fed")
    cable = page.text("cable-winch-rope")
    assert "2 signals" in cable
    assert "× 1000" in page.text("cables")
    page.click("undo")
    page.find("take-all")
    page.click("redo")
    page.until(lambda: "Every input is fed" in page.text("rig-view"), "the wires are back")
    # The signals of two units become one line on the sheet, which opens as the table of its pairs.
    page.click("bundle-winch-rope")
    page.until(lambda: "Split on the sheet" in page.text("cables"), "it is a cable")
    page.click("view-sheet")
    page.driver.execute_script(
        "arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))",
        page.find("cable-line-cable 1"),
    )
    pairs = page.text("cable-pairs")
    assert "winch.position → rope.position" in " ".join(pairs.split())
    page.click("split-cable")
    page.until(lambda: not page.all("cable-line-cable 1"), "the wires are apart")
    page.click("undo")
    page.find("cable-line-cable 1")
    page.click("view-rig")
    page.find("rig-pace")
    # A board with a number that lives while the rig runs, slowly.
    pace = page.find("rig-pace")
    pace.send_keys(Keys.CONTROL, "a")
    pace.send_keys("0.05", Keys.ENTER)
    page.until(lambda: "as fast as it goes" not in page.text("rig-view"), "the pace is kept")
    page.click("view-board")
    page.click("run")
    page.until(lambda: page.find("board-pause").is_enabled(), "it runs", 60)
    page.click("add-tile")
    page.click("new-number")
    page.find("tile-quantity").send_keys("winch.position", Keys.ENTER)
    page.click("tile-keep")
    page.until(lambda: page.text("board-number").split()[0] not in ("–", "0"), "it is live")
    page.click("board-pause")
    page.find("board-go-on")
    page.until(lambda: "paused" in page.text("board-time"), "it stands still")
    at = page.text("board-time")
    page.click("board-step")
    page.until(
        lambda: page.text("board-time") != at and "paused" in page.text("board-time"), "one step"
    )
    page.click("board-go-on")
    page.find("board-pause")
    page.click("board-stop")
    page.until(lambda: "stopped" in page.text("board-time"), "it is stopped")
    assert page.severe() == []


def test_a_rig_leaves_as_an_archive_and_comes_back(page: Page, tmp_path: Path) -> None:
    page.open()
    page.click("model-VarrowQuay.LiftRig")
    page.find("part-leaf")
    run_model(page)
    page.click("view-rig")
    page.click("check-step")
    verdict = page.find("step-verdict", seconds=60).text
    assert "At half the step" in verdict
    page.click("write-ssp-1.0")
    link = page.find("unit-download", seconds=90).get_attribute("href")
    assert link is not None
    archive = tmp_path / "LiftRig.ssp"
    with urllib.request.urlopen(link) as answer:
        archive.write_bytes(answer.read())
    # All of it as one unit for other programs.
    page.click("view-rig")
    page.click("write-unit")
    page.until(lambda: "couples the units" in page.text("unit-made"), "it is the unit's page")
    link = page.find("unit-download", seconds=90).get_attribute("href")
    assert link is not None
    unit = tmp_path / "LiftRig.fmu"
    with urllib.request.urlopen(link) as answer:
        unit.write_bytes(answer.read())
    assert sum(n.endswith("own.so") for n in zipfile.ZipFile(unit).namelist()) == 5
    page.open()
    page.find("upload").send_keys(str(archive))
    page.find("model-LiftRig", seconds=60)
    page.click("model-LiftRig")
    page.find("part-leaf")
    page.click("view-rig")
    page.find("cable-pack-leaf")
    assert page.severe() == []
