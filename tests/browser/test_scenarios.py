"""Scenarios by duplication, compared and claimed about; a dragged value; a sweep; files read back."""

from __future__ import annotations

import csv
import io
import json
import re
import urllib.request
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Page
from tests.browser.test_building import new_model
from tests.browser.test_sump import type_into

pytestmark = pytest.mark.browser

TEXT = """model {name} "a tank that runs empty"
  parameter Real k(unit="1/s", min=0) = 1 "rate";
  parameter Real h(unit="m") = 2 "level at the start";
  Real level(unit="m", start=h, fixed=true);
equation
  der(level) = -k*level;
  annotation (experiment(StopTime=4, Interval=0.01), __Movrel(recorder={{{{"level"}}}}));
end {name};
"""
#: The colours of the theme for base and the first two scenarios.
COLOURS = ["#0072b2", "#d55e00", "#009e73"]


def ask(page: Page, path: str, body: dict[str, Any] | None = None) -> Any:
    data = json.dumps(body).encode() if body is not None else None
    request = urllib.request.Request(
        f"{page.server.address}/api{path}", data, {"Content-Type": "application/json"}
    )
    return json.load(urllib.request.urlopen(request))


def tank(page: Page, name: str) -> str:
    """A model with two parameters, opened; gives its address under the API."""
    project = ask(page, "/projects", {"name": name})["id"]
    ask(page, f"/projects/{project}/files", {"path": f"{name}.mo", "text": TEXT.format(name=name)})
    page.open(f"/projects/{project}/models/{name}")
    page.find("claims")
    return f"/projects/{project}/models/{name}"


def add_scenario(page: Page, row: str, text: str) -> str:
    """Duplicate the chosen scenario and change a value in it."""
    before = {c.get_attribute("data-scenario") for c in page.all("scenario")}
    page.click("add-scenario")
    page.until(lambda: len(page.all("scenario")) == len(before) + 1, "one more scenario")
    (name,) = {c.get_attribute("data-scenario") or "" for c in page.all("scenario")} - before
    type_into(page, row, text)
    page.find(f"changed-{row}")
    return name


def states(page: Page) -> list[str | None]:
    return [c.get_attribute("data-state") for c in page.all("scenario")]


def run_all(page: Page) -> None:
    page.click("run-more")
    page.click("run-all")
    count = len(page.all("scenario"))
    page.until(lambda: states(page) == ["done"] * count, "all scenarios are run")
    page.until(
        lambda: len((page.find("recorder").get_attribute("data-drawn") or "").split()) >= count,
        "all are drawn",
    )


def keep_downloads(page: Page, folder: Path) -> None:
    page.driver.execute_cdp_cmd(
        "Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(folder)}
    )


def downloaded(page: Page, folder: Path, ending: str) -> Path:
    """A file of that ending, once all of it has come: the browser makes an empty one first."""

    def whole() -> list[Path]:
        if any(f.suffix == ".crdownload" for f in folder.iterdir()):
            return []
        return [f for f in folder.iterdir() if f.name.endswith(ending) and f.stat().st_size]

    return page.until(whole, f"a file {ending} came")[0]  # type: ignore[index]


def test_three_scenarios_are_compared_in_their_colours(page: Page, tmp_path: Path) -> None:
    address = tank(page, "Compared")
    keep_downloads(page, tmp_path)
    fast = add_scenario(page, "k", "2")
    assert "1" in page.text("changed-k"), "the old value is told beside the new one"
    page.click("scenario-base")
    page.until(lambda: not page.all("changed-k"), "the base has its own value")
    high = add_scenario(page, "h", "300 cm")
    run_all(page)
    runs = {r["scenario"]: r for r in ask(page, f"{address}/runs")["runs"]}
    assert {name: r["name"] for name, r in runs.items()} == {
        "base": "base",
        fast: "k 2 1/s",
        high: "h 3 m",
    }

    # The picture of the strip is lines in the colours of the three, at the values that the closed form gives.
    page.click("picture-level")
    page.click("picture-svg")
    svg = downloaded(page, tmp_path, ".svg").read_text(encoding="utf-8")
    curves = re.findall(r'<path d="M([^"]*)" stroke="(#[0-9a-f]{6})"', svg)
    assert sorted(colour for path, colour in curves if path.count("L") > 50) == sorted(COLOURS)
    assert "h 3 m" in svg and "k 2 1/s" in svg

    # The cursor and the marks: 2 exp(-t), and what it falls by from 1 s to 2 s.
    page.driver.find_element(By.CSS_SELECTOR, f'[data-run="{runs["base"]["id"]}"] button').click()
    recorder = page.find("recorder")
    for mark, steps in (("a", 5), ("b", 10)):
        recorder.send_keys(Keys.HOME)
        actions = page.actions()
        for _ in range(steps):
            actions.key_down(Keys.SHIFT).send_keys(Keys.ARROW_RIGHT).key_up(Keys.SHIFT)
        actions.perform()
        page.until(lambda at=steps / 5: f"{at:g}" in page.text("cursor-time"), "the cursor set")
        recorder.send_keys(mark)
    page.until(lambda: "1" in page.text("marks-difference"), "one second between the marks")
    page.until(
        lambda: abs(page.number("difference-level") - (-0.46508)) < 1e-4,
        "the difference of the current run",
    )

    # Measures of the run, between the marks.
    Select(page.find("beside")).select_by_value("measures")
    page.until(
        lambda: abs(page.number(f"measure-max-level-{runs['base']['number']}") - 0.73576) < 1e-4,
        "the largest value from A to B",
    )

    # Data as files.
    page.click("export-menu")
    link = page.find("export-csv").get_attribute("href")
    rows = list(csv.reader(io.StringIO(urllib.request.urlopen(str(link)).read().decode())))
    assert rows[0] == ["time [s]", "level [m]"]
    assert [float(rows[1][0]), float(rows[-1][0])] == pytest.approx([1, 2], abs=0.011)
    assert page.severe() == []


def test_digits_that_are_certain_are_told_with_a_click(page: Page) -> None:
    tank(page, "Certain")
    page.find("new-claim").send_keys("final(level) < 1 m", Keys.ENTER)
    page.find("claim-0")
    page.click("run")
    page.click("how-sure")
    page.find("sure")
    assert page.all("how-sure") == []
    value = page.find("value-level")
    certain = page.until(
        lambda: value.find_element(By.CSS_SELECTOR, "[data-certain]"), "digits in the ledger"
    )
    assert 3 <= int(certain.get_attribute("data-certain")) <= 8
    assert "differs by" in certain.get_attribute("title")
    assert page.severe() == []


def test_claims_are_judged_where_people_look(page: Page) -> None:
    tank(page, "Claimed")
    for text in ("at(level, 1 s) ~= 2 m*exp(-1) +- 1 %", "max(level) < 2.5 m"):
        page.find("new-claim").send_keys(text, Keys.ENTER)
        page.until(
            lambda t=text: (
                t
                in [
                    a.get_attribute("value")
                    for a in page.driver.find_elements(
                        By.CSS_SELECTOR, '[data-testid^="claim-text"]'
                    )
                ]
            ),
            "kept",
        )
    page.find("new-claim").send_keys("max(level) < 3 s", Keys.ENTER)
    assert "do not fit" in page.text("claim-fault")
    page.find("new-claim").send_keys(Keys.ESCAPE)
    high = add_scenario(page, "h", "3")
    run_all(page)
    page.until(
        lambda: page.find("claim-1").get_attribute("data-holds") == "false",
        "three metres are too much",
    )
    page.click("scenario-base")
    page.until(
        lambda: (
            [page.find(f"claim-{k}").get_attribute("data-holds") for k in (0, 1)]
            == ["true", "true"]
        ),
        "both hold in the base",
    )
    signs = [c.text for c in page.all("claim-sign")]
    assert signs == ["2 of 2 hold", "0 of 2 hold"]
    # What is claimed now is judged by the runs that there are, which are no earlier ones by that.
    page.find("new-claim").send_keys("max(level) < 10 m", Keys.ENTER)
    page.until(
        lambda: [c.text for c in page.all("claim-sign")] == ["3 of 3 hold", "1 of 3 hold"],
        "judged without a run",
    )
    assert page.find("claim-2").get_attribute("data-holds") == "true"
    assert "earlier" not in "".join(c.text for c in page.all("scenario"))
    page.click("view-scenarios")
    cell = page.find(f"verdict-{high}-max(level) < 2.5 m")
    assert cell.get_attribute("data-holds") == "false" and "3\u2009m" in cell.text
    page.click("sensitivities-go")
    page.until(lambda: "h" in page.text("nearest-turn"), "what would turn the verdict")
    # In the matrix a value is changed like in a spreadsheet.
    field = page.find(f"cell-{high}-h")
    field.click()
    field.send_keys(Keys.CONTROL + "a")
    field.send_keys("220 cm", Keys.ENTER)
    page.until(
        lambda: "2.2" in (page.find(f"cell-{high}-h").get_attribute("value") or ""),
        "the value is kept in the declared unit",
    )

    def paste(text: str) -> None:
        page.driver.execute_script(
            "const d = new DataTransfer(); d.setData('text/plain', arguments[1]);"
            "arguments[0].dispatchEvent(new ClipboardEvent('paste', {clipboardData: d, bubbles: true, cancelable: true}));",
            page.find(f"cell-{high}-h"), text,
        )  # fmt: skip

    # A whole table is taken over wherever it is pasted; a block goes from its cell on.
    paste("\tlow\nh\t0.5\n")
    page.until(
        lambda: page.find("cell-low-h").get_attribute("value") == "0.5", "a scenario of the table"
    )
    paste("4\t0.25\n")
    page.until(
        lambda: (
            [page.find(f"cell-{name}-h").get_attribute("value") for name in (high, "low")]
            == ["4", "0.25"]
        ),
        "a block of two cells",
    )
    assert page.severe() == []


def test_curves_follow_a_dragged_value(page: Page) -> None:
    address = tank(page, "Dragged")
    run_all(page)
    page.driver.execute_script("document.querySelector('[data-testid=\"slide-k\"]').click()")
    page.driver.execute_script(
        "arguments[0].scrollIntoView({block: 'center'})", page.find("range-k")
    )
    box = page.driver.execute_script(
        "const r = arguments[0].getBoundingClientRect(); return {x: r.x, y: r.y, width: r.width, height: r.height}",
        page.find("range-k"),
    )
    y, x = box["y"] + box["height"] / 2, box["x"] + box["width"] / 2

    def mouse(kind: str) -> None:
        page.driver.execute_cdp_cmd(
            "Input.dispatchMouseEvent",
            {"type": kind, "x": x, "y": y, "button": "left", "buttons": 1, "clickCount": 1},
        )

    mouse("mousePressed")
    for _ in range(20):
        x += 2
        mouse("mouseMoved")
    page.until(lambda: int(page.text("slider-rate").split()[0]) >= 1, "curves follow")
    assert ask(page, address)["revision"] == ask(page, address)[
        "revision"
    ] and "rate" not in page.text("last-edit")
    mouse("mouseReleased")
    page.until(
        lambda: page.text("last-edit").startswith("Last edit: k 1"), "letting go keeps the value"
    )
    row = next(r for r in ask(page, address)["rows"] if r["name"] == "k")
    assert 1.1 < row["value"] < 1.5


def test_a_sweep_with_its_map_and_a_point_that_becomes_a_scenario(page: Page) -> None:
    address = tank(page, "Swept")
    run_all(page)
    page.click("view-sweeps")
    for name, low, high, count in (("k", "0.5", "2", "4"), ("h", "1", "3", "3")):
        Select(page.find("vary-add")).select_by_value(name)
        for field, text in (("low", low), ("high", high), ("count", count)):
            element = page.find(f"{field}-{name}")
            element.send_keys(Keys.CONTROL + "a")
            element.send_keys(text)
    measures = page.find("sweep-measures")
    measures.send_keys(Keys.CONTROL + "a")
    measures.send_keys("at(level, 1 s)")
    page.click("sweep-start")
    page.until(
        lambda: page.find("sweep-results").get_attribute("data-state") == "done",
        "the sweep is done",
    )
    page.until(
        lambda: (
            len(
                page.driver.find_elements(
                    By.CSS_SELECTOR, '[data-testid="heat-map"] [data-testid^="cell-"]'
                )
            )
            == 12
        ),
        "a cell for each point",
    )
    sweep = ask(page, f"{address}/sweeps")["sweeps"][0]["id"]
    points = ask(page, f"/sweeps/{sweep}")["points"]
    import math

    for p in points:
        assert p["measures"][0] == pytest.approx(
            p["values"]["h"] * math.exp(-p["values"]["k"]), rel=1e-3
        )
    page.click("cell-7")
    page.click("point-to-scenario")
    page.until(lambda: len(page.all("scenario")) == 2, "the point is a scenario")
    made = ask(page, address)["scenarios"][0]["changes"]
    assert {k: float(v) for k, v in made.items()} == pytest.approx(points[7]["values"])
    page.click("sweep-way-curves")
    page.until(
        lambda: len(page.driver.find_elements(By.CSS_SELECTOR, '[data-testid="bands"] path')) > 12,
        "the family of curves",
    )
    assert page.severe() == []


def test_runs_are_named_noted_compared_and_brought_back(page: Page, tmp_path: Path) -> None:
    address = tank(page, "Listed")
    keep_downloads(page, tmp_path)
    page.click("run-more")
    page.find("prediction").send_keys("it is down to a third after a second")
    page.click("run-all")
    page.until(lambda: states(page) == ["done"], "run")
    add_scenario(page, "k", "3")
    run_all(page)
    newest, middle, oldest = ask(page, f"{address}/runs")["runs"]
    # Runs of all scenarios are numbered in the order of the scenarios, however slow the answers are.
    assert [oldest["scenario"], middle["scenario"]] == ["base", "base"] != newest["scenario"]
    page.click("run-menu")
    page.click("about-run-1")
    assert "down to a third" in page.text("run-prediction")
    page.click("prediction-held")
    page.find("run-note").send_keys("looks right", Keys.ENTER)
    page.until(
        lambda: ask(page, f"{address}/runs")["runs"][-1]["note"] == "looks right",
        "the note is kept",
    )
    assert ask(page, f"{address}/runs")["runs"][-1]["prediction_held"] is True
    page.click("about-run-3")
    Select(page.find("differs-from")).select_by_value(
        str(ask(page, f"{address}/runs")["runs"][-1]["id"])
    )
    page.until(
        lambda: "k" in page.text("what-differs") and "3" in page.text("what-differs"),
        "what differs",
    )
    page.driver.find_element(
        By.CSS_SELECTOR, '[data-testid="run-2"] button[aria-label^="Delete"]'
    ).click()
    page.click("bring-run-back")
    page.until(lambda: len(ask(page, f"{address}/runs")["runs"]) == 3, "the run is back")
    page.actions().send_keys(Keys.ESCAPE).perform()
    page.driver.execute_script("document.querySelector('[data-testid=\"report\"]').click()")
    page.click("report-html")
    text = downloaded(page, tmp_path, ".html").read_text(encoding="utf-8")
    assert (
        "a tank that runs empty" in text
        and "<svg" in text
        and "http" not in re.sub(r"http://www\.w3\.org[^\"']*", "", text)
    )
    assert page.severe() == []


def test_a_new_model_has_neither_scenarios_nor_runs(page: Page) -> None:
    new_model(page, "Nothing")
    assert [c.get_attribute("data-scenario") for c in page.all("scenario")] == ["base"]
    page.click("view-sweeps")
    assert not page.find("sweep-start").is_enabled()
    page.click("view-scenarios")
    page.find("scenarios-view")


PLANT = """model Owned "a basin that is drained"
  parameter Real A(unit="m2") = 2 "area";
  Movrel.Signals.Constant rain(value = 0.05) annotation (Placement(transformation(extent={{-120,-20},{-80,20}})));
  Movrel.Process.Inflow inflow annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
  Movrel.Process.Basin basin(area = A) annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Process.Orifice outlet(diameter = A*0.05) annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Signals.TransferFunction filter(a = {3*A, 1}) annotation (Placement(transformation(extent={{-60,40},{-20,80}})));
equation
  connect(rain.y, inflow.q);
  connect(inflow.port, basin.inlet);
  connect(basin.outlet, outlet.a);
  connect(rain.y, filter.u);
  annotation (experiment(StopTime=10));
end Owned;
"""


def test_everything_on_the_screen_belongs_to_the_chosen_scenario(page: Page) -> None:
    project = ask(page, "/projects", {"name": "Owned"})["id"]
    ask(page, f"/projects/{project}/files", {"path": "Owned.mo", "text": PLANT})
    page.open(f"/projects/{project}/models/Owned")
    page.find("claims")
    add_scenario(page, "A", "3")

    def sheet_says(words: str) -> bool:
        return words in (page.find("sheet").get_attribute("textContent") or "")

    page.until(lambda: sheet_says("0.15 m"), "the symbol shows the diameter of the scenario")
    page.click("part-outlet")
    page.until(
        lambda: page.text("value-of-outlet.diameter") == "= 0.15", "so does the computed row"
    )
    page.click("part-filter")
    page.click("table-filter.a")
    page.click("table-as-lines-filter.a")
    rows = page.find("table-rows-filter.a")
    assert rows.get_attribute("value") == "3*A\n1", "what the text says is kept"
    rows.send_keys(Keys.CONTROL, "a")
    rows.send_keys("2*A 0.5")
    page.click("table-keep-filter.a")
    page.until(
        lambda: page.text("changed-filter.a").startswith("{2*A, 0.5}"), "it is the scenario's"
    )
    text = ask(page, f"/projects/{project}/models/Owned/text")["text"]
    assert "a = {3*A, 1}" in text and '"{2*A, 0.5}"' in text
    page.click("scenario-base")
    page.until(lambda: not page.all("changed-filter.a"), "the base has its own")
    page.until(lambda: sheet_says("0.1 m"), "and so has the symbol")
