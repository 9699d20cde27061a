"""A bridge leaf from an empty sheet: parts, an equation component, an assembly, exposed parameters, a run."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from scipy.integrate import solve_ivp
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

import movrel
from tests.browser.conftest import Page
from tests.browser.test_building import connect, insert, new_model, show_all, source
from tests.browser.test_sump import run_model, type_into

pytestmark = pytest.mark.browser

GRAVITY = """model LeafGravity "Gravity torque of leaf and counterweight"
parameter Real m(unit="kg") = 9000 "Mass of the leaf";
parameter Real r(unit="m") = 6 "Distance of its centre of mass";
parameter Real m_c(unit="kg") = 26000 "Counterweight";
parameter Real r_c(unit="m") = 2 "Its distance behind the trunnion";
Movrel.Rotational.Shaft a;
equation
a.tau = Movrel.Units.g_n*(m*r - m_c*r_c)*cos(a.phi);
end LeafGravity;"""


def keys(page: Page, *what: str) -> None:
    page.driver.find_element(By.TAG_NAME, "body").send_keys(*what)


def write(page: Page, text: str) -> None:
    """Replace what stands in the editor; brackets are typed as they are."""
    editor = page.until(
        lambda: page.driver.find_element(By.CSS_SELECTOR, ".cm-content"), "the editor"
    )
    editor.click()
    editor.send_keys(Keys.CONTROL, "a")
    editor.send_keys(text)


def choose_parts(page: Page, *names: str) -> None:
    page.click(f"part-{names[0]}")
    for name in names[1:]:
        page.actions().key_down(Keys.CONTROL).click(page.find(f"part-{name}")).key_up(
            Keys.CONTROL
        ).perform()
    if len(names) > 1:
        page.until(
            lambda: f"{len(names)} parts" in page.text("selection-bar"), "all of them selected"
        )


def arrange(page: Page) -> None:
    page.click("arrange")
    page.until(lambda: "arranged the sheet" in page.text("last-edit"), "the sheet arranged")
    show_all(page)


def set_row(page: Page, name: str, text: str) -> None:
    type_into(page, name, text)
    page.until(
        lambda: (
            not page.all(f"fault-{name}")
            and page.find(f"param-{name}").get_attribute("aria-invalid") == "false"
        ),
        name,
    )


def test_the_leaf(page: Page) -> None:
    new_model(page, "Leaf")
    # Gravity as it was derived, with live checking.
    page.click("add-equations")
    page.find("component-preview")
    write(
        page,
        GRAVITY.replace("a.tau =", "Real T;\na.tau =").replace(
            "equation\nReal T;", "Real T;\nequation"
        ),
    )
    page.until(
        lambda: "1 unknown without an equation: T" in page.text("component-balance"),
        "the open unknown is named",
    )
    write(page, GRAVITY)
    page.until(
        lambda: page.text("component-balance").startswith("✓"), "as many equations as unknowns"
    )
    assert page.driver.find_elements(By.CSS_SELECTOR, '[data-testid="component-preview"] .katex')
    page.click("component-keep")
    page.find("part-leafGravity")
    for typed, part in (
        ("inertia", "inertia"), ("bearing friction", "bearing"), ("driven torque", "drivenTorque"), ("time table", "pointTable"),
        ("gain", "gain"),
    ):  # fmt: skip
        insert(page, typed, part)
    arrange(page)
    connect(page, "pointTable.y", "gain.u")
    connect(page, "gain.y", "drivenTorque.tau")
    connect(page, "drivenTorque.b", "inertia.a")
    connect(page, "inertia.b", "bearing.a")
    connect(page, "leafGravity.a", "inertia.a")
    arrange(page)
    page.click("part-inertia")
    set_row(page, "inertia.J", "450000")
    set_row(page, "inertia.phi_start", "20 deg")
    page.click("part-bearing")
    set_row(page, "bearing.d", "40000")
    page.click("part-gain")
    set_row(page, "gain.k", "900")
    page.click("view-text")
    text = source(page, "Leaf")
    # The wind: a table of the datasheet kind is easiest typed into the text.
    write_all(
        page,
        text.replace(
            "PointTable pointTable",
            "PointTable pointTable(table = [0, 0; 5, 12; 15, 12; 20, 0; 60, 0])",
        ),
    )
    page.click("keep-text")
    page.until(lambda: page.text("last-edit") == "Last edit: edited the text", "the table kept")
    page.click("view-sheet")
    choose_parts(page, "inertia", "bearing", "leafGravity")
    page.click("assemble")
    page.find("assembly-name").send_keys("Leaf body", Keys.ENTER)
    page.find("part-leafBody")
    page.click("step-in")
    page.find("part-bearing")
    assert page.text("place-0") == "Leaf" and page.text("model-name") == "leafBody"
    for part, row, name in (("inertia", "inertia.J", "J"), ("bearing", "bearing.d", "d")):
        page.click(f"part-{part}")
        page.actions().move_to_element(page.find(f"row-{row}")).perform()
        page.click(f"expose-{row}")
        page.until(
            lambda row=row, name=name: (
                page.text("last-edit") == f"Last edit: exposed {row} as {name}"
            ),
            "exposed",
        )
    page.click("place-0")
    page.click("part-leafBody")
    set_row(page, "leafBody.d", "60000")
    keys(page, Keys.ESCAPE)
    field = page.find("setting-stop")
    field.click()
    field.send_keys(Keys.CONTROL, "a")
    field.send_keys("60 s", Keys.ENTER)
    page.until(lambda: "StopTime=60" in source(page, "Leaf"), "the stop time kept")
    run_model(page)
    page.click("part-leafBody")
    text = source(page, "Leaf")
    r = movrel.load(text=text, model="Leaf").simulate()
    last = math.degrees(r["leafBody.inertia.phi"][-1])
    page.until(
        lambda: last == pytest.approx(page.number("value-leafBody.inertia.phi"), rel=2e-4),
        "the last angle of the run",
    )
    # An independent integration of the same balance.
    g = 9.80665

    def rates(t: float, x: list[float]) -> list[float]:
        wind = 900 * float(np.interp(t, [0, 5, 15, 20, 60], [0, 12, 12, 0, 0]))
        return [x[1], (wind - 60000 * x[1] - g * (9000 * 6 - 26000 * 2) * math.cos(x[0])) / 450000]

    own = solve_ivp(rates, (0, 60), [math.radians(20), 0.0], rtol=1e-9, atol=1e-12, max_step=0.5)
    assert r["leafBody.inertia.phi"][-1] == pytest.approx(own.y[0, -1], rel=1e-4)
    assert re.search(r"LeafBody leafBody\(.*d = 60000", text.replace("\n", " "))
    assert page.severe() == []


def write_all(page: Page, text: str) -> None:
    """Put a whole text into the editor at once, as pasting does."""
    editor = page.until(
        lambda: page.driver.find_element(By.CSS_SELECTOR, ".cm-content"), "the editor"
    )
    editor.click()
    editor.send_keys(Keys.CONTROL, "a")
    page.driver.execute_script(
        "const d = new DataTransfer(); d.setData('text/plain', arguments[1]);"
        "arguments[0].dispatchEvent(new ClipboardEvent('paste', {clipboardData: d, bubbles: true, cancelable: true}));",
        editor, text,
    )  # fmt: skip


def test_a_second_order_loop(page: Page) -> None:
    """Two integrators with feedback: the step response of a damped oscillator in closed form."""
    new_model(page, "SecondOrder")
    for typed, part in (
        ("step", "step"),
        ("sum", "sum1"),
        ("gain", "gain"),
        ("integrator", "integrator"),
        ("integrator", "integrator2"),
        ("sum", "sum2"),
        ("gain", "gain2"),
    ):
        insert(page, typed, part)
    arrange(page)
    for one, other in (
        ("step.y", "sum1.u_1"), ("sum1.y", "gain.u"), ("gain.y", "sum2.u_1"), ("sum2.y", "integrator.u"),
        ("integrator.y", "integrator2.u"), ("integrator.y", "gain2.u"), ("gain2.y", "sum2.u_2"), ("integrator2.y", "sum1.u_2"),
    ):  # fmt: skip
        connect(page, one, other)
    arrange(page)
    for row, value in (("sum1.k_2", "-1"), ("sum2.k_2", "-1"), ("gain.k", "4"), ("gain2.k", "0.8")):
        page.click(f"part-{row.split('.')[0]}")
        set_row(page, row, value)
    run_model(page)
    r = movrel.load(text=source(page, "SecondOrder"), model="SecondOrder").simulate()
    w, z = 2.0, 0.2
    wd = w * math.sqrt(1 - z * z)
    t = r.time
    expected = 1 - np.exp(-z * w * t) * (np.cos(wd * t) + z * w / wd * np.sin(wd * t))
    assert np.max(np.abs(r["integrator2.y"] - expected)) < 2e-5
    page.click("part-integrator2")
    page.until(
        lambda: page.number("value-integrator2.y") == pytest.approx(expected[-1], rel=1e-4),
        "the last value of the run",
    )
    assert page.severe() == []
