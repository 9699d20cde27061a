"""From the click on Run to the curve on the screen, measured in the browser on the running demo.

    bin/demo &                                      # in another terminal
    .venv/bin/python benchmarks/click_to_curve.py   [--address http://127.0.0.1:8420]

The time runs from the click's event to the first frame after the recorder has drawn the new run.
"""

from __future__ import annotations

import argparse
import statistics
import time

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.support.ui import WebDriverWait

FLAGS = "--headless=new --no-sandbox --disable-gpu --disable-dev-shm-usage --no-first-run --disable-background-networking"

MEASURE = """
const done = arguments[arguments.length - 1];
const recorder = document.querySelector('[data-testid="recorder"]');
const known = new Set([...document.querySelectorAll('[data-testid="chip"]')].map((c) => c.dataset.run));
const button = document.querySelector('[data-testid="run"]');
const fresh = () => (recorder.dataset.drawn || '').split(' ').some((run) => run && !known.has(run));
const began = performance.now();
const watcher = new MutationObserver(() => {
  if (!fresh()) return;
  watcher.disconnect();
  requestAnimationFrame(() => requestAnimationFrame(() => done(performance.now() - began)));
});
watcher.observe(recorder, {attributes: true, attributeFilter: ['data-drawn']});
button.click();
"""


def browser() -> webdriver.Chrome:
    """Chromium without a window, 1280 by 800."""
    chrome = webdriver.ChromeOptions()
    chrome.binary_location = "/usr/bin/chromium"
    for flag in FLAGS.split():
        chrome.add_argument(flag)
    driver = webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=chrome)
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False},
    )
    return driver


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--address", default="http://127.0.0.1:8420")
    parser.add_argument("--clicks", type=int, default=20)
    options = parser.parse_args()
    driver = browser()
    driver.set_script_timeout(30)
    driver.get(f"{options.address}/projects/1/models/VarrowQuay.Sump")
    ready = (By.CSS_SELECTOR, '[data-testid="run"]:not([disabled])')
    WebDriverWait(driver, 20).until(lambda d: d.find_element(*ready))
    times = []
    for click in range(options.clicks + 3):
        time.sleep(
            1.0
        )  # a person looks before clicking again; what follows a run has ended by then
        milliseconds = driver.execute_async_script(MEASURE)
        if click >= 3:  # the first ones warm both workers up
            times.append(milliseconds)
    driver.quit()
    times.sort()
    print(
        f"{len(times)} clicks: median {statistics.median(times):.0f} ms, 90 % within {times[int(0.9 * len(times))]:.0f} ms, worst {times[-1]:.0f} ms"
    )


if __name__ == "__main__":
    main()
