"""An analyst stays at Track: what moves, its documents, any two selections, and a sentence for the report."""

from __future__ import annotations

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser, Server

BY = {"group": "harbour", "period": "year"}


@pytest.fixture(scope="module")
def moved(server: Server, ready: int) -> int:
    """A fork of the ready strand with eight topics, whose movement was worked out."""
    strand: int = server.post(f"/strands/{ready}/fork")["strand"]
    server.wait(server.post(f"/strands/{strand}/fits", topics=8, iterations=150, seed=2)["job"], "done")
    server.wait(server.post(f"/strands/{strand}/movement", **BY)["job"], "done")
    return strand


def copied(browser: Browser) -> str:
    """What the page puts on the clipboard from now on is kept in it."""
    return str(browser.driver.execute_script("return window.copied ?? ''"))


def catch_copies(browser: Browser) -> None:
    browser.driver.execute_script(
        "Object.defineProperty(navigator, 'clipboard', "
        "{value: {writeText: (text) => { window.copied = text; return Promise.resolve() }}, configurable: true})"
    )


def test_the_overview_leads_to_documents_and_rooms(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?by=harbour&each=year")
    browser.one(".outcome", "of 8 topics surely")
    browser.one("[aria-label='What these documents could show']", "Four times in five")
    rows = browser.until(lambda: browser.all(".moving"), "topics")
    assert len(rows) == 8
    heads = [each.text.split("\n")[0] for each in browser.all(".rows h2")]
    assert [each.split(" none")[0] for each in heads] == ["Surely moving", "Not surely moving"]
    browser.one(".moving .name").click()
    browser.one("aside article")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.click("[aria-label='Shown as'] button", "groups")
    browser.until(lambda: len(browser.all(".weave tbody tr")) == 8, "a row for each topic")
    browser.all(".weave .cell")[1].click()
    browser.until(lambda: "value=" in browser.driver.current_url, "the cell in the address")
    browser.one("aside article")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.click(".weave .name")
    browser.one("h1", "Over time, by harbour")


def test_time_is_smoothed_cut_and_marked(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=time&by=none&each=quarter&t=0&t=1")
    path = browser.one("figure path.line").get_attribute("d")
    browser.choose("Smoothing", "LOESS, 50 %")
    browser.until(lambda: browser.one("figure path.line").get_attribute("d") != path, "another line")
    browser.one("section[aria-label='Change points']", "boundary", 120)
    browser.choose("Period", "chosen days")
    browser.sees("Choose a period, or days to cut the time at")
    browser.write(browser.named("Days that begin a stretch"), "2014-01-01, 2017-04-01")
    browser.click("form button", "Cut")
    browser.until(lambda: browser.driver.current_url.count("break=") == 2, "the days in the address")
    browser.click("figure button", "table")
    browser.one("figure table td", "2014-01-01..2017-03-31")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0


def test_two_selections_give_a_sentence_that_is_copied_with_one_key(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=two&by=harbour&each=year")
    browser.sees("Choose a group or a stretch of time")
    browser.choose("This: harbour", "Ossingby")
    browser.one("figcaption h2", "harbour Ossingby against all others")
    browser.choose("This: from", "2014")
    browser.choose("This: to", "2016")
    browser.one("figcaption h2", "2014 to 2016")
    browser.choose("against: harbour", "Quellan")
    browser.one("figcaption h2", "against harbour Quellan")
    mark = browser.until(lambda: browser.all("figure [data-mark]"), "topics")[0]
    browser.driver.execute_script("arguments[0].focus()", mark)
    browser.press(Keys.ENTER)
    said = browser.one("[aria-label='Sentence for a report'] p").text
    assert "takes up" in said and "95 % interval" in said and "adjusted over 8 topics" in said
    catch_copies(browser)
    browser.driver.execute_script("document.activeElement.blur()")
    browser.press("c")
    browser.until(lambda: copied(browser) == said, "the sentence on the clipboard")
    browser.click("[aria-label='Sentence for a report'] button", "working")
    browser.sees("the level at which the interval just holds 0")
    browser.sees("The units that hold most of the topic")
    browser.one("aside article")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0


def test_a_selected_share_opens_to_its_working(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=groups&by=harbour&t=0")
    bar = browser.until(lambda: browser.all("svg[aria-label='Prevalence by group'] .mark"), "bars")[0]
    ActionChains(browser.driver).move_to_element(bar).click().perform()
    browser.one("[aria-label='Selected estimate']", "Selected:")
    browser.click("[aria-label='Selected estimate'] button", "working")
    browser.sees("Σ tokens of the topic / Σ tokens")
    browser.sees("In each saved sample")
    browser.click("[aria-label='Selected estimate'] table button")
    browser.one(".sheet h2")
    browser.press(Keys.ESCAPE)
    browser.click(".bar button", "more")
    browser.click(".bar .wide label", "writer")
    browser.sees("The composition of writer is held")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0


def test_fields_are_held_fixed_and_a_prediction_worked_through(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=fixed")
    browser.one(".outcome", "with the others held fixed", 90)
    assert len(browser.all(".weave button.line")) == 8
    catch_copies(browser)
    browser.choose("Add a pair", "harbour × date")
    browser.one(".weave .head .name", "harbour × date", 90)
    browser.until(lambda: len(browser.all(".panels.many svg")) == 5, "a curve for each harbour")
    browser.one(".weave button.line").click()
    browser.until(lambda: "t=" in browser.driver.current_url, "the topic in the address")
    mark = browser.until(lambda: browser.all(".topic figure g[data-mark]"), "predictions")[0]
    title = mark.find_element("css selector", "title").get_attribute("textContent")
    ActionChains(browser.driver).move_to_element(mark).click().perform()
    browser.one(".worked h4", "Foretold for harbour")
    browser.one("aside article")
    assert (title or "").count("%") == 3
    browser.press("c")
    browser.until(lambda: "held fixed" in copied(browser), "the sentence")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.click("label", "watch")
    browser.until(lambda: not browser.all(".weave .head .name", "watch"), "without the watch", 90)
    browser.choose("Method", "fractional logit")
    browser.one("[aria-label='What it can’t say']", "not of logits", 90)
    browser.driver.refresh()
    browser.one("[aria-label='What it can’t say']", "not of logits", 90)
    assert browser.all(".panels.many svg")


def test_a_topics_own_words_lead_to_their_documents(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=own&by=harbour")
    browser.one(".outcome", "of 5 parts", 60)
    assert len(browser.all(".groups section")) == 5
    word = browser.all(".groups .line")[0]
    said = word.text.split("\n")[0]
    word.click()
    browser.one("aside", f"“{said}”")
    browser.one(".groups p.numbers", f"{said}: (")
    browser.choose(
        "Topic",
        str(browser.driver.execute_script("return document.querySelector('[aria-label=Topic]').options[3].text")),
    )
    browser.until(lambda: "t=3" in browser.driver.current_url, "the topic in the address")
    browser.click("button.mode", "later against earlier")
    browser.until(lambda: len(browser.all(".groups section")) == 2, "two halves")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0


def test_each_part_gets_a_model_and_its_topics_lead_to_documents(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=apart&by=watch&seeds=1")
    browser.click("button.first", "Fit each of 2 parts", 60)
    browser.one(".outcome", "of 8 topics are the same", 180)
    cells = browser.all(".weave td button")
    assert len(cells) == 16
    same = next(each for each in cells if ": the same" in (each.get_attribute("aria-label") or ""))
    same.click()
    browser.until(lambda: "t=" in browser.driver.current_url and "in=" in browser.driver.current_url, "the cell")
    browser.one(".of p", "the same")
    browser.all(".of button.words")[1].click()
    browser.one("aside article")
    browser.one("aside", "alone")
    browser.press(Keys.ARROW_DOWN)
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.choose("Group field", "none")
    browser.one("button.first", "Fit each", 60)
    browser.choose("Group field", "watch")
    browser.one(".outcome", "of 8 topics are the same", 60)


def test_a_statement_is_pinned_tested_and_opened_as_a_strand(browser: Browser, moved: int) -> None:
    for each in browser.server.get(f"/strands/{moved}/holds")["pins"]:  # of a walk before
        browser.server.http.delete(f"/strands/{moved}/pins/{each['id']}")
    browser.open(f"/strand/{moved}/track?part=holds")
    browser.one(".notice", "Nothing is pinned yet", 60)
    browser.click(".notice button", "pin what is said")
    browser.one(".notice", "Choose a group")
    browser.open(f"/strand/{moved}/track?part=two&by=harbour&av=Ossingby&ev=topic%3D0")
    browser.one(".sentence p", "harbour Ossingby", 60)
    browser.press("p")
    browser.one("[role=status]", "Pinned.")
    browser.open(f"/strand/{moved}/track?part=groups&by=harbour&ev=topic%3D0%26field%3Dharbour%26value%3DOssingby")
    browser.click(".selected button", "pin the order by harbour", 60)
    browser.one("[role=status]", "Pinned.")
    browser.open(f"/strand/{moved}/track?part=holds")
    browser.until(lambda: len(browser.all(".pins li")) == 2, "two statements", 60)
    browser.until(lambda: len(browser.all(".held .knot svg:not(.none)")) >= 2, "both as pinned", 60)
    for kind in ("Counts of topics", "Word forms", "Limits", "Repeats"):
        browser.click(".kind label", kind)
    for seed in browser.all(".held tr:not(.kind) label", "seed ")[1:]:
        seed.click()
    browser.click("button.first", "Test over 1 choice")
    browser.one(".pins li", "1 other choice", 180)
    browser.all(".held .knot:has(svg:not(.none))")[0].click()
    browser.one(".opened dt", "found again as")
    browser.all(".held .knot:has(svg:not(.none))")[-1].click()
    browser.one(".opened h2", "seed 1")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.click(".opened button", "Open it as a strand")
    browser.until(lambda: f"/strand/{moved}/" not in browser.driver.current_url, "the other strand")
    browser.one("h1", "Any two selections", 60)
    browser.driver.back()
    browser.one(".pins li", "1 other choice", 60)
    browser.click(".pins button", "take off")
    browser.until(lambda: len(browser.all(".pins li")) == 1, "one left")


def test_streams_run_through_years_and_lead_to_documents(browser: Browser, moved: int) -> None:
    browser.open(f"/strand/{moved}/track?part=streams&each=half-century")
    browser.one(".notice.bad", "nothing to hold side by side", 60)
    browser.choose("Period", "year")
    browser.one(".outcome", "Of the topics of", 60)
    bands = browser.all("svg[aria-label='Streams of topics'] g[data-mark]")
    threads = browser.all("svg[aria-label='Streams of topics'] path")
    assert len(bands) % 8 == 0 and len(bands) - 16 <= len(threads) <= len(bands) - 8
    ActionChains(browser.driver).move_to_element(bands[9]).click().perform()
    browser.until(lambda: "s=1.1" in browser.driver.current_url, "the band in the address")
    browser.one(".below h2", " in 20")
    browser.one("aside article")
    browser.click(".tools button", "table")
    browser.one(".twin th", "held by seeds")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.click("button.mode", "a model for each year")
    browser.one("button.first", "Fit each of", 60)
    browser.driver.refresh()
    browser.one("button.first", "Fit each of", 60)
