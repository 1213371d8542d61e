"""An analyst looks, before any topic model, at what goes together, and at a group's own words."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser


@pytest.fixture
def strand(browser: Browser, fitted: int) -> int:
    """A strand of one's own on the fitted documents, at Relate, where nothing has been made."""
    made = browser.server.post(f"/strands/{fitted}/fork")["strand"]
    browser.open(f"/strand/{made}/relate")
    browser.sees("run together like threads")
    return int(made)


def number(browser: Browser, label: str) -> int:
    return int(browser.named(label).get_attribute("value") or 0)


def put(browser: Browser, label: str, value: str) -> None:
    browser.write(browser.named(label), value)
    browser.named(label).send_keys(Keys.TAB)


def fits(browser: Browser) -> None:
    """Nothing is cut, runs over its edge, or can't be read by everybody; at either width."""
    assert browser.axe() == []
    for width in (1024, 1280):
        browser.resize(width)
        browser.until(lambda: browser.overflow() <= 0, f"all to fit {width} pixels")
        assert browser.cut() == []


def test_words_that_keep_company(browser: Browser, strand: int) -> None:
    """A tree is made, cut by hand and by number, unfolded; a cluster leads to its documents and goes on."""
    browser.click("button", "Make the tree")
    needle = browser.named("Cut of the tree")
    suggested = number(browser, "Number of clusters")
    assert suggested > 2 and browser.text().count("Suggested") == 2
    assert len(browser.all(".mark")) == suggested
    browser.sees("the surest cluster of the tree comes back")
    ActionChains(browser.driver).click_and_hold(needle).move_by_offset(-60, 0).release().perform()
    browser.until(lambda: number(browser, "Number of clusters") > suggested, "more clusters")
    browser.named("Cut of the tree").send_keys(Keys.ARROW_RIGHT)
    put(browser, "Number of clusters", "7")
    browser.until(lambda: len(browser.all(".mark")) == 7, "seven clusters")
    browser.until(lambda: "…" not in browser.text(".mark .name"), "their names")
    assert "cut=7" in browser.driver.current_url
    browser.all(".mark")[0].click()
    name = browser.all(".mark .name")[0].text
    browser.one(".evidence h3", name.removesuffix("…"))
    browser.one(".evidence .marked, .evidence mark, .evidence .book")
    rows = len(browser.all(".mark"))
    browser.click(".handed button", "Unfold")
    browser.until(lambda: len(browser.all(".mark")) > rows, "the words of the cluster")
    browser.driver.refresh()
    browser.until(lambda: len(browser.all(".mark")) > rows, "the same after a reload")
    fits(browser)
    address = browser.driver.current_url
    leaf = next(each for each in browser.all(".mark") if each.find_elements("css selector", ".leaf"))
    leaf.click()
    browser.one("h2", "Nearest to " + leaf.find_element("css selector", ".leaf").text.removesuffix("…"))
    browser.click(".items button")
    browser.sees("Both stand in")
    browser.driver.get(address)
    browser.click(".handed button", "Keep for a topic")
    browser.one(".handed button", "Not for a topic")
    kept = browser.until(lambda: browser.server.get(f"/strands/{strand}")["wanted"]["seed_words"], "the words, kept")
    assert len(kept) == 1 and len(kept[0]) > 1
    relate = browser.driver.current_url
    browser.driver.get(f"{relate.split('/relate')[0]}/fit?part=make")
    browser.click("button", "Mark 1 topic by the words kept at Relate")
    browser.until(lambda: browser.one(".settings textarea").get_attribute("value") == ", ".join(kept[0]), "the words")
    browser.click("button", "What suits this corpus?")
    browser.one(".advice button[aria-label$=' for hold']", "take", seconds=60).click()
    hold = browser.one("input[aria-label='hold']").get_attribute("value")
    assert browser.all(".advice tbody tr")[-1].find_elements("css selector", "td")[0].text == hold != "20"
    fits(browser)
    browser.driver.get(relate)
    browser.click(".handed button", "One word at Clean")
    browser.sees("Out of date")
    passes = browser.server.get(f"/strands/{strand}")["wanted"]["clean"]["passes"]
    assert passes[-1]["kind"] == "replacements" and passes[-1]["pairs"][0].endswith(f"= {kept[0][0]}")
    assert browser.errors() == []


def test_how_many_groups_and_which(browser: Browser, strand: int) -> None:
    """Numbers are compared, one is taken; a group is read, followed to its border, and kept as a field."""
    browser.click(".rooms button", "How many groups")
    put(browser, "most", "6")
    put(browser, "seeds", "2")
    browser.click("button", "Make the comparison")
    browser.one("figure h2", "2 to 6 groups", seconds=60)
    browser.sees("dealt out at random")
    fits(browser)
    point = browser.one("svg[aria-label='Measures over the number of groups'] .mark")
    ActionChains(browser.driver).move_to_element(point).click().perform()  # seeds lie one over the other
    browser.one("section[aria-label='Worked out'] h3", "2 groups")
    browser.sees("mean adjusted Rand index of two seeds")
    fits(browser)
    browser.click("section[aria-label='Worked out'] button", "Group the documents so")
    browser.one(".rooms [aria-pressed='true']", "Groups")
    browser.until(lambda: len(browser.all(".group")) == 2, "two groups", 60)
    put(browser, "Number of groups", "4")
    browser.click("button", "Make anew")
    browser.until(lambda: len(browser.all(".group")) == 4, "four groups", 60)
    browser.all(".group")[1].click()
    name = browser.all(".group .book")[1].text
    browser.one(".evidence h3", name)
    browser.click("summary", "worked out")
    browser.sees("1 − Σ within / total")
    browser.one(".one .mark").click()
    browser.sees("with the sign of the difference")
    browser.click("button", "at a border")
    browser.one(".evidence h3", "at its border")
    browser.sees("from that of")
    browser.choose("Compare groups by", "over harbour")
    browser.sees("Adjusted Rand index")
    cell = browser.one(".residual")
    cell.click()
    browser.one(".evidence h3")
    assert browser.all(".working dd b")[-1].text.startswith(cell.text.split()[-1])
    fits(browser)
    browser.choose("Compare groups by", "beside 2")
    browser.sees("the other grouping")
    put(browser, "Name of the field", "kind of entry")
    browser.click("button", "Keep")
    browser.sees("after the next rebuild")
    shape = browser.server.get(f"/strands/{strand}")["wanted"]["shape"]
    assert shape[-1]["kind"] == "sorted-groups" and len(shape[-1]["groups"]) == 4
    assert browser.errors() == []


def test_a_groups_own_words(browser: Browser, strand: int) -> None:
    """One against the others, opened to its working; two face to face; all as a grid; what is selected."""
    browser.click(".rooms button", "Words by group")
    browser.choose("Groups by", "harbour")
    browser.click("button", "Make the comparison")
    browser.one("figure h2", "has more of", seconds=60)
    first = browser.one("tbody tr th").text
    browser.click("tbody tr")
    browser.one(".evidence h3", first)
    browser.sees("of the sum over units with the word")
    fits(browser)
    browser.choose("More or less", "less")
    browser.one("figure h2", "has less of")
    browser.choose("Words, phrases or names", "phrases")
    browser.sees("0 words.")
    browser.choose("Words, phrases or names", "names")
    browser.until(lambda: "0 words." not in browser.text("figcaption"), "the names")
    browser.choose("Words, phrases or names", "words and")
    browser.click(".looks button", "face to face")
    browser.one("figure h2", "face to face")
    browser.all(".mark")[0].click()
    browser.one(".evidence h3")
    fits(browser)
    browser.click(".looks button", "words by groups")
    browser.one("figure h2", "Words by groups")
    cell = browser.one(".residual")
    cell.click()
    browser.one(".evidence h3")
    assert browser.all(".working dd b")[-1].text.startswith(cell.text.split()[-1])
    fits(browser)
    browser.click("button", "what is selected against all others")
    browser.until(
        lambda: "against" in browser.text() and browser.named("Groups by").get_attribute("value") == "chosen", "it", 60
    )
    browser.click(".looks button", "one against")
    browser.one("figure h2", "has less of")  # as it was left
    assert browser.errors() == []
