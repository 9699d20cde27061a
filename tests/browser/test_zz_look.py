from __future__ import annotations
import time
from tests.browser.conftest import Page
from tests.browser.test_sump import run_model
import pytest
pytestmark = pytest.mark.browser

def test_look(page: Page) -> None:
    d = page.driver
    d.set_window_size(1280, 800)
    page.open()
    page.click("model-VarrowQuay.LiftRig")
    page.find("part-leaf")
    d.save_screenshot("/tmp/l0.png")
    page.click("view-rig")
    page.find("cables")
    d.save_screenshot("/tmp/l1.png")
    page.click("view-board")
    page.click("run")
    time.sleep(6)
    d.save_screenshot("/tmp/l2.png")
    time.sleep(8)
    d.save_screenshot("/tmp/l3.png")
    page.click("view-rig")
    page.click("check-step")
    page.find("step-verdict")
    time.sleep(1)
    d.save_screenshot("/tmp/l4.png")
