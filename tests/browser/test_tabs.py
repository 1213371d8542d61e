"""Many tabs at once, and a browser whose tabs can share nothing."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from tests.browser.conftest import Browser

STATIONS = ("gather", "clean", "weigh", "fit", "choose", "label", "track", "share")


@pytest.fixture
def alone(browser: Browser) -> Iterator[Browser]:
    """A browser without workers that tabs share."""
    held = browser.driver.execute_cdp_cmd(
        "Page.addScriptToEvaluateOnNewDocument", {"source": "delete window.SharedWorker"}
    )
    yield browser
    browser.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", held)


def short_fit(browser: Browser, strand: int, seed: int) -> str:
    """Start a fit outside the browser; its title in the tray."""
    fit = {"method": "lda", "topics": 3, "seed": seed, "iterations": 60}
    job = browser.server.post(f"/strands/{strand}/fits", **fit)["job"]
    jobs = browser.server.get("/jobs")
    return str(next(each["title"] for each in jobs if each["id"] == job))


@pytest.mark.long
def test_ten_tabs_are_served_side_by_side(browser: Browser, fitted: int) -> None:
    driver = browser.driver
    first = driver.current_window_handle
    try:
        for at in range(10):
            driver.switch_to.new_window("tab")
            browser.open(f"/strand/{fitted}/{STATIONS[at % len(STATIONS)]}")
            browser.one(".station", seconds=10)
        short_fit(browser, fitted, 91)
        for tab in driver.window_handles[1:]:
            driver.switch_to.window(tab)
            browser.until(lambda: not browser.all(".gone"), "the server to be there")
            browser.until(lambda: not browser.all(".knot.working"), "the end of the fit", 60)
            browser.press("9")
            browser.one("h1", "Take it with you", seconds=10)
    finally:
        for tab in driver.window_handles:
            if tab != first:
                driver.switch_to.window(tab)
                driver.close()
        driver.switch_to.window(first)


def test_without_a_shared_worker_a_tab_asks_by_itself(alone: Browser, fitted: int) -> None:
    alone.open(f"/strand/{fitted}/fit")
    assert alone.driver.execute_script("return 'SharedWorker' in window") is False
    alone.one(".station")
    title = short_fit(alone, fitted, 92)
    alone.click("button.tool", "Work")
    alone.sees(title)
    alone.until(lambda: not alone.all(".knot.working"), "the end of the fit", 60)
    assert not alone.all(".gone")
