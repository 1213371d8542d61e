"""An analyst finds words that are used alike and documents that are, and draws round what lies close on a map."""

from __future__ import annotations

import re

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser
from tests.browser.test_relate import fits, put
from tests.shared import Server


def said_to_be(browser: Browser) -> int:
    """How many documents the title of the evidence speaks of."""
    found = re.match(r"(\d+) documents? drawn round", browser.text(".evidence h3"))
    return int(found[1]) if found else 0


@pytest.fixture(scope="module")
def made(server: Server, ready: int) -> int:
    """A strand of one's own with vectors and a map."""
    strand = int(server.post(f"/strands/{ready}/fork")["strand"])
    for step in ("word_vectors", "document_map"):
        server.wait(server.post(f"/strands/{strand}/beside/{step}", seed=1)["job"], "done")
    return strand


def drag(browser: Browser, corners: list[tuple[int, int]]) -> None:
    """Drag over the map along some corners, from its middle."""
    ground = browser.one(".ground canvas")
    chain = ActionChains(browser.driver, duration=20).move_to_element_with_offset(ground, *corners[0]).click_and_hold()
    for x, y in corners[1:]:
        chain.move_to_element_with_offset(ground, x, y)
    chain.release().perform()


def drawn(browser: Browser, strand: int) -> int:
    """How many documents the evidence has of what was drawn round, asked for by the address that there is."""
    browser.one(".evidence h3", "drawn round")
    browser.sees("of the evidence on the map")
    address = browser.driver.execute_script("return new URL(location.href).searchParams.get('ev')")
    total = int(browser.server.get(f"/strands/{strand}/evidence?{address}&limit=1")["total"])
    said = f"{total} document" if total < 1000 else "document"
    browser.one(".evidence h3", said)
    browser.one("[aria-live]", said)
    return total


def test_drawing_round_what_lies_close(browser: Browser, made: int) -> None:
    browser.open(f"/strand/{made}/relate?part=map")
    browser.one(".ground .names text")
    browser.sees("the axes mean nothing")
    browser.one(".evidence h3")  # the largest dense area, before anything is selected
    drag(browser, [(-250, -190), (250, -190), (250, 0), (-250, 0), (-250, -150)])
    half = drawn(browser, made)
    assert 0 < half < 400
    browser.look_at(".ground")
    fits(browser)
    # With the keyboard alone: a frame over all of it, and one that was grown.
    ground = browser.one(".ground")
    ground.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_LEFT)
    browser.one("[aria-live]")
    chain = ActionChains(browser.driver).key_down(Keys.SHIFT)
    for _ in range(20):
        chain.send_keys(Keys.ARROW_RIGHT, Keys.ARROW_UP)
    chain.key_up(Keys.SHIFT).send_keys(Keys.ENTER).perform()
    browser.until(lambda: said_to_be(browser) > half, "more in the frame than in half")
    whole = drawn(browser, made)
    # Two values alone, of which only these are drawn round.
    browser.choose("Told apart by", "harbour")
    browser.click(".legend button", "Kelpwick")
    browser.click(".legend button", "Quellan")
    drag(browser, [(-300, -225), (300, -225), (300, 225), (-300, 225), (-300, -200)])
    browser.until(lambda: "area_only" in browser.driver.current_url, "only these")
    both = drawn(browser, made)
    counts = [int(each.text.split("\n")[-1]) for each in browser.all(".legend [aria-pressed='true']")]
    assert both == sum(counts) < whole
    browser.driver.refresh()
    assert drawn(browser, made) == both
    assert browser.errors() == []


def test_a_map_is_looked_at_more_closely(browser: Browser, made: int) -> None:
    browser.open(f"/strand/{made}/relate?part=map")
    names = browser.until(lambda: len(browser.all(".ground .names text")), "names")
    browser.click(".tool", "frame")
    browser.click(".names .chip")
    browser.one(".evidence h3", browser.one(".names .chip").text.rsplit(" ", 1)[0])
    ground = browser.one(".ground")
    ground.send_keys("+", "+", "+", "+")
    browser.until(lambda: len(browser.all(".ground .names text")) < names, "fewer names in sight")
    ground.send_keys("0")
    browser.until(lambda: len(browser.all(".ground .names text")) == names, "all of them")
    canvas = browser.one(".ground canvas")
    shown = browser.server.get(f"/strands/{made}/relate/maps/documents")
    scale = min(canvas.size["width"], canvas.size["height"]) / shown["size"]
    low, half = shown["low"], shown["size"] / 2
    x, y = scale * (shown["x"][0] - low[0] - half), -scale * (shown["y"][0] - low[1] - half)
    ActionChains(browser.driver).move_to_element_with_offset(canvas, int(x), int(y)).perform()
    browser.until(lambda: len(browser.text(".tip .passage")) > 20, "its passage")
    named = browser.text(".tip b")
    ActionChains(browser.driver).click().perform()
    browser.one(".evidence h3", named)
    browser.write(browser.named("Light up a word"), "fog" + Keys.ENTER)
    browser.one(".evidence h3", "fog")
    browser.click("button", "worked out")
    browser.sees("Venna and Kaski")
    browser.click("button", "let go of it")
    browser.click(".kind", "words, by their vectors")
    browser.click("button", "Make the map")
    browser.one("figure h2", "words", seconds=60)
    browser.one(".ground .names text")
    fits(browser)
    assert browser.errors() == []


def test_words_and_documents_that_are_alike(browser: Browser, made: int) -> None:
    browser.open(f"/strand/{made}/relate?part=near")
    browser.write(browser.named("Word"), "fog" + Keys.ENTER)
    browser.one("h2", "Nearest to fog")
    browser.one(".two .mark").click()
    browser.sees("words stand near both")
    browser.one(".evidence h3", "fog and ")
    fits(browser)
    for label, word in (("First word", "fog"), ("Second word", "siren"), ("Third word", "engine")):
        put(browser, label, word)
    browser.named("Third word").send_keys(Keys.ENTER)
    browser.sees("the three words themselves are left out")
    browser.click(".pair button", "Take ")
    browser.sees("Clean now takes")
    passes = browser.server.get(f"/strands/{made}")["wanted"]["clean"]["passes"]
    assert passes[-1]["kind"] == "replacements" and passes[-1]["pairs"][0].endswith("= fog")
    browser.click(".rooms button", "Alike documents")
    browser.write(browser.named("Find a document"), "haar")
    browser.click("form .link")
    browser.one(".evidence h3", "alike ")
    browser.one(".two ol button").click()
    browser.sees("cosine of their weights")
    fits(browser)
    browser.click(".two .link", "these as evidence")
    put(browser, "First documents", "5")
    browser.choose("What each weighs", "less by rank: 1, ½, ⅓ …")
    browser.click("button", "the nearest to the middle of")
    browser.one(".evidence h3", "near the middle of 5 documents")
    browser.click(".evidence article button, .evidence li button")
    browser.click("header a", "alike")
    browser.one("h2", "Alike ")
    browser.click("summary", "A document that has only a vector")
    browser.write(browser.named("Vector"), "1 2 3")
    browser.click("button", "Place it")
    browser.sees("The vector has 3 numbers where")
    fits(browser)
    assert [each for each in browser.errors() if "422" not in each] == []
