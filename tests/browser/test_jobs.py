"""Jobs of practitioners, each from an empty sheet to a checked answer, with the actions that it takes."""

from __future__ import annotations

import math

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Page
from tests.browser.test_building import drag_wire, new_model, show_all
from tests.browser.test_leaf import choose_parts
from tests.browser.test_states import fills
from tests.browser.test_sump import run_model

pytestmark = pytest.mark.browser


class Hand:
    """What a person does, counted: a click, a drag and a typed entry are one action each."""

    def __init__(self, page: Page, model: str) -> None:
        self.page = page
        self.actions = 0
        new_model(page, model)

    def _wait_for(self, said: str) -> None:
        self.page.until(lambda: said in self.page.text("last-edit"), said)

    def click(self, name: str) -> None:
        self.page.click(name)
        self.actions += 1

    def key(self, keys: str) -> None:
        self.page.driver.find_element(By.TAG_NAME, "body").send_keys(keys)
        self.actions += 1

    def put(self, typed: str, part: str) -> None:
        """A part by typing: the slash key, a word, Enter."""
        self.page.driver.find_element(By.TAG_NAME, "body").send_keys("/")
        self.page.find("shelf-search").send_keys(typed, Keys.ENTER)
        self.page.find(f"part-{part}")
        self.actions += 1

    def wire(self, one: str, other: str) -> None:
        drag_wire(self.page, one, other)
        self.page.until(
            lambda: {one, other} <= set(self.page.text("last-edit").split()), f"{one} – {other}"
        )
        self.actions += 1

    def set(self, part: str, **values: str) -> None:
        """Choose a part and type into its rows."""
        self.click(f"part-{part}")
        for name, text in values.items():
            self.row(f"{part}.{name.replace('__', '.')}", text)

    def row(self, name: str, text: str) -> None:
        field = self.page.find(f"param-{name}")
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        before = self.page.text("last-edit")
        field.send_keys(text, Keys.ENTER)
        self.page.until(lambda: self.page.text("last-edit") != before, f"{name} kept")
        self.actions += 2

    def choose(self, name: str, choice: str) -> None:
        Select(self.page.find(f"param-{name}")).select_by_visible_text(choice)
        self.actions += 1

    def write(self, text: str) -> None:
        """The model as text."""
        self.click("view-text")
        editor = self.page.until(
            lambda: self.page.driver.find_element(By.CSS_SELECTOR, ".cm-content"), "the editor"
        )
        assert isinstance(editor, WebElement)
        editor.click()
        editor.send_keys(Keys.CONTROL, "a")
        editor.send_keys(text)
        editor.send_keys(Keys.CONTROL, "s")
        self._wait_for("edited the text")
        self.actions += 2

    def nothing_chosen(self) -> None:
        self.key(Keys.ESCAPE)

    def setting(self, name: str, text: str) -> None:
        field = self.page.find(f"setting-{name}")
        field.click()
        field.send_keys(Keys.CONTROL, "a")
        field.send_keys(text, Keys.ENTER)
        self.page.until(
            lambda: "run" in self.page.text("last-edit") or name in self.page.text("last-edit"),
            f"{name} kept",
        )
        self.actions += 2

    def claim(self, text: str) -> None:
        field = self.page.find("new-claim")
        field.click()
        field.send_keys(text, Keys.ENTER)
        self._wait_for("claim")
        self.actions += 2

    def run(self) -> None:
        run_model(self.page)
        self.actions += 1

    def checked(self, claims: int, most: int) -> None:
        """All claims hold, nothing went wrong, and no more actions were needed than the job may take."""
        said = f"{claims} of {claims} hold"
        self.page.until(lambda: self.page.text("claim-sign") == said, said)
        assert self.page.severe() == []
        assert self.actions <= most, f"{self.actions} actions"


def test_a_tank_from_its_balance(page: Page) -> None:
    hand = Hand(page, "Tank")
    hand.write(
        'model Tank\nparameter Real A(unit="m2") = 2;\nReal h(unit="m", start=1, fixed=true);\n'
        'Real q(unit="m3/s");\nequation\nA*der(h) = 0.01 - q;\nq = 0.02*h/1;\nend Tank;'
    )
    hand.setting("stop", "10 min")
    hand.claim("at(h, 100 s) ≈ 0.68394 m ± 0.1 %")
    hand.claim("steady(h) ≈ 50 cm ± 1 %")
    hand.run()
    hand.checked(2, 12)


def test_a_draining_can_by_its_volume(page: Page) -> None:
    hand = Hand(page, "Can")
    hand.put("basin", "basin")
    hand.put("orifice", "orifice")
    hand.put("outfall", "outfall")
    show_all(page)
    hand.wire("basin.outlet", "orifice.a")
    hand.wire("orifice.b", "outfall.port")
    hand.set("basin", area="2 dm2")
    Select(page.find("start-by")).select_by_visible_text("volume")
    page.find("start-by-value").send_keys("6 l", Keys.ENTER)
    hand._wait_for("basin.volume starts at 6 l")
    hand.actions += 2
    hand.set("orifice", diameter="10 mm")
    hand.nothing_chosen()
    hand.setting("stop", "1 min")
    # Torricelli: the level is gone after 2 A/(C_d a) sqrt(h/2g).
    full = 2 * 0.02 / (0.62 * math.pi * 1e-4 / 4) * math.sqrt(0.3 / (2 * 9.80665))
    half = 0.3 * (1 - 20 / full) ** 2
    hand.claim(f"at(basin.level, 20 s) ≈ {100 * half:.6f} cm ± 0.1 %")
    hand.run()
    hand.checked(1, 25)


def test_an_operational_amplifier_with_prefixes(page: Page) -> None:
    hand = Hand(page, "Amplifier")
    for typed, part in (
        ("voltage source 50m", "voltageSource"), ("resistor 10k", "resistor"), ("ideal op", "idealOpAmp"),
        ("resistor 220k", "resistor2"), ("ground", "ground"),
    ):  # fmt: skip
        hand.put(typed, part)
    show_all(page)
    for one, other in (
        ("voltageSource.a", "resistor.a"), ("resistor.b", "idealOpAmp.n"), ("idealOpAmp.n", "resistor2.a"),
        ("resistor2.b", "idealOpAmp.out"), ("idealOpAmp.p", "ground.a"), ("voltageSource.b", "ground.a"),
    ):  # fmt: skip
        hand.wire(one, other)
    hand.nothing_chosen()
    hand.claim("final(idealOpAmp.out.v) ≈ -1.1 V ± 0.01 %")
    hand.run()
    hand.checked(1, 15)


def test_a_mass_on_a_spring_by_integrators(page: Page) -> None:
    hand = Hand(page, "Swing")
    for typed, part in (
        ("integrator", "integrator"),
        ("integrator y_start=0.1", "integrator2"),
        ("gain -9", "gain"),
    ):
        hand.put(typed, part)
    show_all(page)
    hand.wire("integrator.y", "integrator2.u")
    hand.wire("integrator2.y", "gain.u")
    hand.wire("gain.y", "integrator.u")
    hand.nothing_chosen()
    hand.claim("period(integrator2.y) ≈ 2.0943951 s ± 0.1 %")
    hand.claim("max(integrator2.y) ≈ 0.1 ± 0.1 %")
    hand.run()
    hand.checked(2, 12)


def test_a_two_loop_drive_with_coefficients(page: Page) -> None:
    hand = Hand(page, "Drive")
    hand.click("view-figures")
    hand.click("figures-paste")
    page.find("figures-rows").send_keys("R = 0.5  % Ohm\nL = 10e-3 % H\nk = 0.2\nJ = 2e-3")
    hand.click("figures-take")
    hand._wait_for("pasted 4 values")
    hand.actions += 1
    hand.click("view-sheet")
    for typed, part in (
        ("step", "step"), ("sum k_2=-1", "sum1"), ("gain 2", "gain"), ("sum k_2=-1", "sum2"), ("gain 4", "gain2"),
        ("transfer function a={L, R}", "transferFunction"), ("integrator = k/J", "integrator"),
    ):  # fmt: skip
        hand.put(typed, part)
    show_all(page)
    for one, other in (
        ("step.y", "sum1.u_1"), ("sum1.y", "gain.u"), ("gain.y", "sum2.u_1"), ("sum2.y", "gain2.u"),
        ("gain2.y", "transferFunction.u"), ("transferFunction.y", "integrator.u"),
        ("transferFunction.y", "sum2.u_2"), ("integrator.y", "sum1.u_2"),
    ):  # fmt: skip
        hand.wire(one, other)
    hand.nothing_chosen()
    hand.claim("final(integrator.y) ≈ 1 ± 0.1 %")
    hand.claim("final(transferFunction.y) + 1 ≈ 1 ± 0.1 %")
    hand.run()
    hand.checked(2, 28)


def test_a_thousand_values_of_a_script(page: Page) -> None:
    hand = Hand(page, "Many")
    hand.click("view-figures")
    hand.click("figures-paste")
    lines = "\n".join(f"v_{i} = {i}*0.5;  % of the row {i}" for i in range(1, 1001))
    page.driver.execute_script(
        "const box = document.querySelector('[data-testid=figures-rows]');"
        "Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set.call(box, arguments[0]);"
        "box.dispatchEvent(new Event('input', {bubbles: true}));",
        lines,
    )
    hand.actions += 1
    page.until(lambda: page.text("figures-take") == "Add 1000 values", "all are understood")
    hand.click("figures-take")
    hand._wait_for("pasted 1000 values")
    hand.click("view-sheet")
    hand.put("constant = v_1000 - v_1", "constant1")
    hand.put("gain = if v_2 > 0 then 2 else 3", "gain")
    show_all(page)
    hand.wire("constant1.y", "gain.u")
    hand.nothing_chosen()
    hand.claim("final(gain.y) ≈ 999 ± 0.01 %")
    hand.run()
    hand.checked(1, 15)


def test_a_motor_from_its_datasheet_as_printed(page: Page) -> None:
    hand = Hand(page, "Motor")
    for typed, part in (
        ("voltage source", "voltageSource"), ("permanent magnet motor", "permanentMagnetMotor"), ("ground", "ground"),
    ):  # fmt: skip
        hand.put(typed, part)
    show_all(page)
    for one, other in (
        ("voltageSource.a", "permanentMagnetMotor.a"), ("permanentMagnetMotor.b", "ground.a"),
        ("voltageSource.b", "ground.a"),
    ):  # fmt: skip
        hand.wire(one, other)
    hand.click("part-permanentMagnetMotor")
    hand.choose("permanentMagnetMotor.data", "stall_torque")
    page.find("param-permanentMagnetMotor.tau_stall")
    for name, text in (
        ("V_n", "24 V"), ("tau_stall", "320 mNm"), ("w_0", "5000 rpm"), ("L_a", "0.5 mH"), ("J", "33 gcm2"),
    ):  # fmt: skip
        hand.row(f"permanentMagnetMotor.{name}", text)
    hand.set("voltageSource", V="12 V")
    hand.nothing_chosen()
    # Without load half the voltage gives half the speed, and half the stall current at the start.
    k = 24 / (5000 * 2 * math.pi / 60)
    hand.claim("final(permanentMagnetMotor.w) ≈ 2500 rpm ± 0.1 %")
    hand.claim(f"max(permanentMagnetMotor.i) < {0.5 * 0.32 / k:.4f} A")
    hand.run()
    hand.checked(2, 38)


def test_a_right_triangle_in_vectors(page: Page) -> None:
    hand = Hand(page, "Triangle")
    hand.write(
        "model Triangle\nparameter Real a[2] = {3, 0};\nparameter Real b[2] = {0, 4};\nReal c[2] = b - a;\n"
        "Real length = sqrt(c*c);\nReal right = a*b;\nend Triangle;"
    )
    hand.claim("final(length) == 5")
    hand.claim("final(right) == 0")
    hand.run()
    hand.checked(2, 10)


def test_a_reactor_that_uses_up_what_is_in_it(page: Page) -> None:
    hand = Hand(page, "Reactor")
    hand.put("stirred reactor c_start=2000", "stirredReactor")
    hand.nothing_chosen()
    hand.setting("stop", "1000 s")
    hand.claim(f"at(stirredReactor.c[1], 1000 s) ≈ {2000 * math.exp(-1):.4f} mol/m3 ± 0.1 %")
    hand.run()
    hand.checked(1, 9)


def test_a_pulse_chain(page: Page) -> None:
    hand = Hand(page, "Pulses")
    hand.put("pulse height=2, width=300 ms, period=1 s", "pulse")
    hand.put("integrator", "integrator")
    show_all(page)
    hand.wire("pulse.y", "integrator.u")
    hand.nothing_chosen()
    hand.claim("final(integrator.y) ≈ 6 ± 0.01 %")
    hand.run()
    hand.checked(1, 8)


def test_a_block_diagram_with_feedback(page: Page) -> None:
    hand = Hand(page, "Loop")
    for typed, part in (
        ("step", "step"),
        ("sum k_2=-1", "sum1"),
        ("gain 9", "gain"),
        ("lag", "lag"),
    ):
        hand.put(typed, part)
    show_all(page)
    for one, other in (
        ("step.y", "sum1.u_1"),
        ("sum1.y", "gain.u"),
        ("gain.y", "lag.u"),
        ("lag.y", "sum1.u_2"),
    ):
        hand.wire(one, other)
    hand.nothing_chosen()
    # A lag of 1 s behind a gain of 9 becomes one of a tenth of it, at nine tenths, counted from the step.
    hand.claim("final(lag.y) ≈ 0.9 ± 0.1 %")
    hand.claim(f"settle(lag.y) ≈ {0.1 * math.log(50):.5f} s ± 3 %")
    hand.run()
    hand.checked(2, 14)


def test_a_gearbox_with_its_controller_as_an_assembly_whose_states_light_up_inside(
    page: Page,
) -> None:
    hand = Hand(page, "Shifting")
    for typed, part in (
        ("constant 8", "constant1"), ("rotation driven torque", "drivenTorque"), ("inertia 0.004", "inertia"), ("tachometer", "tachometer"),
        ("shift controller", "shiftController"), ("four speed gearbox", "fourSpeedGearbox"), ("inertia 0.5", "inertia2"),
    ):  # fmt: skip
        hand.put(typed, part)
    show_all(page)
    for one, other in (
        ("constant1.y", "drivenTorque.tau"), ("drivenTorque.b", "inertia.a"), ("inertia.b", "tachometer.a"),
        ("tachometer.w", "shiftController.w"), ("inertia.b", "fourSpeedGearbox.a"), ("fourSpeedGearbox.b", "inertia2.a"),
        *((f"shiftController.{signal}", f"fourSpeedGearbox.{signal}") for signal in ("low_1", "high_1", "low_2", "high_2")),
    ):  # fmt: skip
        hand.wire(one, other)
    choose_parts(page, "shiftController", "fourSpeedGearbox")
    hand.actions += 2
    hand.click("assemble")
    page.find("assembly-name").send_keys("Transmission", Keys.ENTER)
    page.find("part-transmission")
    hand.actions += 1
    hand.nothing_chosen()
    # In the fourth gear the output turns as fast as the input.
    hand.claim("final(inertia2.w) ≈ final(inertia.w) ± 0.1 %")
    hand.claim("max(transmission.shiftController.gear) == 4")
    hand.run()
    hand.checked(2, 28)
    page.find("recorder").send_keys(Keys.END)
    for part in ("transmission", "shiftController"):
        page.click(f"part-{part}")
        page.click("step-in")
        page.find("instance")
    page.until(lambda: fills(page, "fourth") != fills(page, "first"), "the last gear is lit")
