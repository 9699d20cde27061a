"""A real browser on the real server: started once, everything private to the tests."""

from __future__ import annotations

import contextlib
import re
import tempfile
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver import ActionChains
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.remote.webelement import WebElement
from selenium.webdriver.support.ui import WebDriverWait

from tests.conftest import PATIENCE, ROOT
from tests.serving import Server

FLAGS = (
    "--headless=new --no-sandbox --disable-gpu --disable-dev-shm-usage --hide-scrollbars --force-device-scale-factor=1 "
    "--no-first-run --disable-features=BackForwardCache --disable-background-networking --disable-component-update --disable-sync --disable-quic"
)


#: Seconds between two looks at a page that is waited for.
POLL = 0.05


@pytest.fixture(scope="session")
def server() -> Iterator[Server]:
    folder = Path(tempfile.mkdtemp(prefix="movrel-browser-"))
    made = Server(folder)
    made.start()
    yield made
    made.end()


class Page:
    """What a person does and sees, waiting for it to come true."""

    def __init__(self, driver: webdriver.Chrome, server: Server) -> None:
        self.driver = driver
        self.server = server

    def open(self, path: str = "/") -> None:
        self.driver.get(self.server.address + path)

    def actions(self) -> ActionChains:
        """Movements of the pointer, each as quick as a practised hand's."""
        return ActionChains(self.driver, duration=40)

    def find(self, name: str, seconds: float = 20) -> WebElement:
        selector = f'[data-testid="{name}"]'
        wait = WebDriverWait(self.driver, PATIENCE * seconds, POLL)
        return wait.until(
            lambda d: d.find_element(By.CSS_SELECTOR, selector), f"{name} is not there"
        )

    def all(self, name: str) -> list[WebElement]:
        return self.driver.find_elements(By.CSS_SELECTOR, f'[data-testid="{name}"]')

    def click(self, name: str) -> None:
        """Click as a person does: not before the thing can be clicked."""
        self.until(lambda: self.find(name).is_enabled(), f"{name} can be clicked")
        self.find(name).click()

    def until(self, condition: object, what: str, seconds: float = 30) -> object:
        return WebDriverWait(self.driver, PATIENCE * seconds, POLL, [Exception]).until(
            lambda _: condition(), what
        )  # type: ignore[operator]

    def text(self, name: str) -> str:
        return self.find(name).text

    def number(self, name: str) -> float:
        return float(re.sub(r"[^0-9.eE+-]", "", self.text(name)))

    def violations(self, *rules: str) -> list[str]:
        """What axe finds against the rules of accessibility (WCAG 2.1 A and AA), or some of them: rule and place of each."""
        only = f", runOnly: {{type: 'rule', values: {list(rules)}}}" if rules else ""
        script = f"axe.run(document, {{resultTypes: ['violations']{only}}}).then(" + (
            "(r) => arguments[0](r.violations.flatMap((v) => v.nodes.map((n) => `${v.id}: ${n.target.join(' ')}`))))"
        )
        self.driver.execute_script(
            (ROOT / "frontend" / "node_modules" / "axe-core" / "axe.min.js").read_text()
        )
        return self.driver.execute_async_script(script)

    def severe(self) -> list[str]:
        """Faults that the browser reported: everything severe but refusals that a test provoked."""
        entries = self.driver.get_log("browser")
        return [
            e["message"]
            for e in entries
            if e["level"] == "SEVERE"
            and " 422 " not in e["message"]
            and " 404 " not in e["message"]
        ]


@pytest.fixture(scope="session")
def browser() -> Iterator[webdriver.Chrome]:
    options = webdriver.ChromeOptions()
    options.binary_location = "/usr/bin/chromium"
    for flag in FLAGS.split():
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    driver = webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=options)
    yield driver
    driver.quit()


@pytest.fixture
def page(browser: webdriver.Chrome, server: Server) -> Iterator[Page]:
    """The one browser, with one window of 1280 by 800 that remembers nothing of the test before."""
    first, *others = browser.window_handles
    for handle in others:
        browser.switch_to.window(handle)
        browser.close()
    browser.switch_to.window(first)
    browser.get("about:blank")
    browser.execute_cdp_cmd(
        "Storage.clearDataForOrigin", {"origin": server.address, "storageTypes": "all"}
    )
    metrics = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    browser.get_log("browser")
    yield Page(browser, server)


@pytest.hookimpl(tryfirst=True)
def pytest_exception_interact(node: pytest.Item, call: object, report: object) -> None:
    """Keep a picture of the page when a browser test fails, for whoever looks into it."""
    page = getattr(node, "funcargs", {}).get("page")
    if page is not None:
        folder = ROOT / ".cache" / "failed"
        folder.mkdir(parents=True, exist_ok=True)
        with contextlib.suppress(WebDriverException):  # a browser that is gone has no picture
            page.driver.save_screenshot(str(folder / f"{node.name}.png"))
