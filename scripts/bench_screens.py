"""Milliseconds from a click or key to the next paint, on the stations of the demo.

Read from the browser's own event timing, which rounds to 8 ms; ``make bench`` runs it.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from urllib.parse import urlsplit

import httpx
from selenium import webdriver
from selenium.common.exceptions import StaleElementReferenceException
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

FLAGS = ("--headless=new", "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage")
WATCH = """
window.paints = []
new PerformanceObserver((list) => list.getEntries().forEach((each) => {
  if (each.interactionId) window.paints.push(each.duration)
})).observe({ type: 'event', durationThreshold: 16 })
document.addEventListener('pointerover', () => {
  const begun = performance.now()
  requestAnimationFrame(() => setTimeout(() => window.paints.push(performance.now() - begun)))
}, { capture: true })
"""
# In one look: what is drawn again in the middle of several is gone at the next.
SHOWN = "return [...document.querySelectorAll(arguments[0])].filter((e) => e.checkVisibility())"
MARK = "main svg [role=button]"
# station, what is done, how, which elements one after the other
ACTIONS = (
    ("gather", "select a group", "click", ".groups button"),
    ("gather", "change tabs", "click", "[role=tab]"),
    ("clean", "switch a pass", "click", "[role=switch]"),
    ("weigh?part=terms", "select a term", "key", MARK),
    ("weigh", "move a limit", "step", "[role=slider], main input[type=number]"),
    ("weigh?part=grid", "open a cell", "click", "[role=gridcell][data-cell]"),
    ("relate", "select a cluster", "key", MARK),
    ("choose", "select a fit", "key", MARK),
    ("label", "select a topic", "click", "[aria-label=Topics] button"),
    ("track", "select a topic", "click", ".moving .name"),
    ("track?part=time", "select a mark", "key", MARK),
    ("track?part=time", "hover a mark", "hover", MARK),
)


@contextmanager
def chromium() -> Iterator[webdriver.Chrome]:
    """A browser of 1280 by 800."""
    options = webdriver.ChromeOptions()
    for flag in FLAGS:
        options.add_argument(flag)
    driver = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    try:
        size = {"width": 1280, "height": 800, "deviceScaleFactor": 1, "mobile": False}
        driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", size)
        yield driver
    finally:
        driver.quit()


@contextmanager
def served(command: str, *options: str) -> Iterator[str]:
    """The address of a server on a data folder of its own."""
    with tempfile.TemporaryDirectory() as folder, served_at(folder, command, *options) as base:
        yield base


@contextmanager
def served_at(folder: str, command: str, *options: str) -> Iterator[str]:
    """The address of a server on a data folder."""
    whole = [sys.executable, "-m", "skeinwork.cli", command, "--port", "0", "--data", folder, *options]
    process = subprocess.Popen(whole, stdout=subprocess.PIPE, text=True)
    try:
        assert process.stdout is not None
        found = urlsplit(process.stdout.readline().split()[3])
        yield f"{found.scheme}://{found.netloc}"
    finally:
        process.terminate()
        process.wait()


@contextmanager
def fitted_demo(iterations: int) -> Iterator[str]:
    """The address of a server with the demo and a fit on its first strand, made where it has none."""
    with served("demo") as base:
        with httpx.Client(base_url=f"{base}/api", timeout=60) as http:
            rest(http)
            http.post("/strands/1/beside/tree", json={}).raise_for_status()
            rest(http)
            if not http.get("/strands/1/fits").json()["fits"]:
                sweep = {"counts": [6, 12], "seeds": [1], "iterations": iterations}
                http.post("/strands/1/sweeps", json=sweep).raise_for_status()
                rest(http)
                fit = http.get("/strands/1/fits").json()["fits"][-1]["identity"]
                http.post("/strands/1/choice", json={"fit": fit}).raise_for_status()
                rest(http)
        yield base


def rest(http: httpx.Client) -> None:
    """Wait until no job is at work."""
    for _ in range(6000):
        try:
            jobs = http.get("/jobs").json()
        except httpx.TransportError:
            jobs = []
        if jobs and all(job["state"] == "done" for job in jobs):
            return
        time.sleep(0.1)
    raise TimeoutError("the jobs did not end")


def wait_for(driver: webdriver.Chrome, css: str) -> list[WebElement]:
    for _ in range(100):
        found: list[WebElement] = driver.execute_script(SHOWN, css)
        if found:
            return found
        time.sleep(0.1)
    raise TimeoutError(f"nothing matches {css} at {driver.current_url}")


# Looks at marks that are drawn again meanwhile.
_AGAIN = 5


def paints(driver: webdriver.Chrome, base: str, station: str, how: str, css: str, times: int) -> list[float]:
    """Milliseconds to the next paint of some interactions; 16 where none took longer."""
    driver.get(f"{base}/strand/1/{station}")
    wait_for(driver, css)
    time.sleep(1)
    driver.execute_script(WATCH)
    for number in range(times):
        marks = wait_for(driver, css)  # anew: an action may draw them again
        if number >= len(marks):
            break
        for _ in range(_AGAIN):
            try:
                act(driver, marks[number], how)
                break
            except StaleElementReferenceException:  # drawn again between the look and the click
                marks = wait_for(driver, css)
        time.sleep(0.5)
    return [float(each) for each in driver.execute_script("return window.paints")] or [16.0]


def act(driver: webdriver.Chrome, mark: WebElement, how: str) -> None:
    """Do something to one mark."""
    if how == "click":
        ActionChains(driver, duration=0).click(mark).perform()
    elif how == "hover":
        ActionChains(driver, duration=0).move_to_element(mark).perform()
    else:
        driver.execute_script("arguments[0].focus()", mark)
        ActionChains(driver).send_keys(Keys.ENTER if how == "key" else Keys.ARROW_UP).perform()


def interactions(times: int, iterations: int) -> list[tuple[str, float]]:
    """Every action, so many times, with the slowest of its paints, in milliseconds."""
    with fitted_demo(iterations) as base, chromium() as driver:
        return [
            (f"{station}: {what}", max(paints(driver, base, station, how, css, times)))
            for station, what, how, css in ACTIONS
        ]
