"""Choosing a count as an analyst does: measures, what lies between counts, candidates side by side, workings."""

from __future__ import annotations

import pytest

from tests.browser.conftest import Browser, Server


@pytest.fixture(scope="module")
def swept(server: Server, ready: int) -> int:
    """A fork of the ready strand whose matrix has fits of four counts."""
    strand: int = server.post(f"/strands/{ready}/fork")["strand"]
    sweep = {"counts": [3, 5, 8], "seeds": [1, 2], "iterations": 60}
    server.wait(server.post(f"/strands/{strand}/sweeps", **sweep)["job"], "done")
    return strand


def test_counts_are_compared_by_the_measures_that_one_chooses(browser: Browser, swept: int) -> None:
    browser.open(f"/strand/{swept}/choose")
    browser.one("section h2", "suggested")
    browser.sees("dealt out at random, where there is nothing to find")
    assert len(browser.all("svg text.name")) == 4
    browser.click("summary", "Measures")
    browser.one(".choice label", "Coherence, C_V").click()
    browser.until(lambda: len(browser.all("svg text.name")) == 5, "a fifth chart")
    browser.choose("Coherence that counts", "Coherence, UMass")
    browser.sees("Coherence, UMass is")
    browser.choose("Top words", "5")
    browser.until(lambda: "top=5" in browser.driver.current_url, "five words in the address")
    browser.settled()
    assert browser.axe() == []
    browser.driver.refresh()
    browser.sees("Coherence, UMass is")
    assert len(browser.all("svg text.name")) == 5


def test_what_lies_between_counts_leads_to_documents(browser: Browser, swept: int) -> None:
    browser.open(f"/strand/{swept}/choose?part=between&counts=3,5")
    browser.one("h3", "seed")
    assert len(browser.all(".cloth button.topic")) == 8
    browser.sees("From 3 to 5:")
    browser.one(".cloth button.topic").click()
    browser.one("aside article", seconds=30)
    title = browser.text("aside h3")
    browser.driver.execute_script(
        "document.querySelector('[data-mark]').dispatchEvent(new MouseEvent('click', {bubbles: true}))"
    )
    browser.until(lambda: "of the other fit, now" in browser.text("aside h3"), "the evidence of a ribbon")
    assert browser.text("aside h3") != title
    browser.all("[aria-label='Counts side by side'] input")[-1].click()
    browser.until(lambda: "From 5 to" in browser.text(), "a further count")
    browser.settled()
    assert browser.axe() == []


def test_candidates_are_read_side_by_side_and_voted_on(browser: Browser, swept: int) -> None:
    browser.open(f"/strand/{swept}/choose?part=beside&counts=3,5")
    browser.until(lambda: len(browser.all(".beside section")) == 2, "two candidates")
    assert len(browser.all(".beside article")) == 8
    browser.one(".votes button", "not a topic").click()
    browser.until(lambda: browser.all(".votes button[aria-pressed='true']"), "the vote")
    browser.driver.refresh()
    browser.until(lambda: len(browser.all(".votes button[aria-pressed='true']")) == 1, "the vote, after a reload")
    browser.one(".strong button").click()
    browser.one('[role="dialog"]', seconds=30)
    browser.driver.back()
    browser.choose("Count 2", "8")
    browser.until(lambda: len(browser.all(".beside article")) == 11, "another count")
    browser.settled()
    assert browser.axe() == []


def test_a_measure_opens_to_its_pairs_and_matches(browser: Browser, swept: int) -> None:
    browser.open(f"/strand/{swept}/choose")
    browser.click("button", "Coherence, NPMI ", seconds=30)
    browser.sees("Pairs of its words, the weakest first")
    browser.all("[aria-label='Its parts'] button")[-1].click()
    browser.until(lambda: " and " in browser.text("aside h3"), "documents that hold both words")
    browser.one("aside article")
    browser.choose("Measure", "Stability")
    browser.sees("In the fits of other seeds")
    browser.one("[aria-label='Its matches'] button").click()
    browser.until(lambda: "of the other fit, now" in browser.text("aside h3"), "the evidence of a match")
    browser.choose("Measure", "Held-out fit")
    browser.sees("the worst foretold first")
    browser.settled()
    assert browser.axe() == []
