"""An analyst fits dense groups of documents, sees who is in none, lets topics reach further, and takes that back."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser
from tests.shared import Server


@pytest.fixture(scope="module")
def strand(server: Server, ready: int) -> int:
    """A strand of one's own."""
    return int(server.post(f"/strands/{ready}/fork")["strand"])


def documents(browser: Browser, strand: int) -> tuple[int, int]:
    """Outliers of the present fit, and its topics."""
    plies = browser.server.get(f"/strands/{strand}")["plies"]
    fit = next(each["identity"] for each in plies if each["step"] == "fit")
    summary = browser.server.get(f"/strands/{strand}/fits/{fit}")["summary"]
    return int(summary["outliers"]), int(summary["topics"])


def test_topics_from_vectors_with_outliers_that_are_let_in_and_left_again(browser: Browser, strand: int) -> None:
    browser.open(f"/strand/{strand}/fit?part=make")
    browser.choose("Method", "Vector clusters")
    assert browser.named("topics").get_attribute("value") == "60"
    assert browser.named("vectors").text.startswith("weights of terms, 100")
    for name, value in (("smallest", "6"), ("dimensions", "10")):
        browser.write(browser.named(name), value + Keys.TAB)
    browser.click("button", "Fit")
    browser.one("h1", "Vector clusters", seconds=60)
    outliers, topics = documents(browser, strand)
    assert outliers > 0 and topics > 2
    browser.one("h1", f"Vector clusters {topics}")
    browser.click(".rooms button", "By vector")
    browser.one("h2", "Outliers by their distance")
    browser.click("button", "See those in no topic now")
    browser.one(".evidence h3", "in no topic")
    browser.one(".evidence", f"{outliers} of")
    # The dial by keys: what comes in is told at once, and is what comes of it.
    browser.named("Reach").send_keys(Keys.END)
    browser.sees(f"{outliers} of {outliers} outliers come in up to a distance of")
    browser.click("button", "Take it")
    browser.until(lambda: documents(browser, strand)[0] == 0, "a fit without outliers", seconds=60)
    browser.click("button", "Back to the topics as they were found", seconds=60)
    browser.sees("as they were found.", seconds=60)
    browser.until(lambda: documents(browser, strand) == (outliers, topics), "the fit before", seconds=60)
    # Down to two topics: which are taken together is said before.
    browser.one("h1", f"Vector clusters {topics}")
    browser.write(browser.named("Topics to merge down to"), "2" + Keys.TAB)
    browser.sees("2 topics are left")
    browser.click("button", "Take it")
    browser.one("h1", "Vector clusters 2", seconds=60)
    browser.open(f"/strand/{strand}/track?part=groups&group=harbour")
    browser.sees("share of documents")
    assert not browser.all('[aria-label="Weight"]')
    assert not browser.errors()
