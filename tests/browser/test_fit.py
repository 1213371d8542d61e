"""An analyst stays at Fit: reads topics with their documents, watches a fit, goes on with it, places new text."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser

STORM = "Storm surge at the breakwater; the swell broke over the wall. Zzyx!"


@pytest.fixture
def strand(browser: Browser, fitted: int) -> int:
    browser.open(f"/strand/{fitted}/fit")
    browser.one(".rooms [aria-pressed='true']", "Topics")
    return fitted


def share(text: str) -> float:
    return float(text.split("\u202f")[0])


def iterations(browser: Browser) -> list[int]:
    """The first and the last of which topics are seen forming."""
    said = browser.one("figcaption", "iterations", 60).text.split("iterations ")[1].split(";")[0]
    return [int("".join(c for c in part if c.isdigit())) for part in said.split(" to ")]


def total(browser: Browser) -> int:
    """Documents that have so much of the topic."""
    return int(browser.text("section[aria-label='Documents of the topic'] h2").split(" ")[0])


def test_a_topic_is_read_with_its_words_shares_and_documents(browser: Browser, strand: int) -> None:
    browser.until(lambda: len(browser.all("button.topic")) == 6, "six topics")
    browser.press("j")
    browser.one("button.topic.selected")
    browser.click("button.topic[aria-current='false']")
    name = browser.one("button.topic[aria-current='true'] .name").text.split("\n")[0]
    assert name.split(" ")[0] in browser.text("section.reading h2") or browser.one("section.reading h2").text
    listed = browser.until(lambda: browser.all(".document .share"), "documents")
    shares = [share(each.text) for each in listed]
    assert shares == sorted(shares, reverse=True)
    browser.sees("By share of the counted words")
    browser.choose("Order of the documents", "share × ln(length)")
    browser.sees("By share × ln(counted words)")
    scores = browser.until(
        lambda: [float(e.text.split("· ")[1]) for e in browser.all(".document > .numbers.small")], "the scores"
    )
    assert scores == sorted(scores, reverse=True)
    before = total(browser)
    browser.write(browser.named("Least share in percent"), "95")
    browser.press(Keys.TAB)
    browser.until(lambda: 0 < total(browser) < before, "fewer documents")
    # A figure opens to its working, and so does a word's.
    browser.click(".document .share")
    browser.one("section[aria-label='Worked out'] h3", "Share of")
    browser.sees("share with the prior")
    word = browser.one("svg[aria-label='Words of the topic'] .mark")
    ActionChains(browser.driver).move_to_element(word).click().perform()
    browser.sees("(n_kw + β) / (n_k + V β)")
    # Documents of one range of shares are evidence; groups are laid over.
    browser.choose("Overlay the groups of", "harbour")
    browser.until(lambda: len(browser.all(".key")) == 5, "five harbours")
    bar = browser.all("svg[aria-label='Documents by the share that the topic has of them'] .mark")[-1]
    ActionChains(browser.driver).move_to_element(bar).click().perform()
    browser.one("aside", "90")
    browser.one("aside article")
    assert browser.axe() == []
    assert browser.overflow() <= 0 and browser.cut() == []


def test_a_fit_is_watched_cancelled_and_goes_on(browser: Browser, strand: int) -> None:
    browser.click(".rooms button", "Make and trace")
    for label, text in (("topics", "9"), ("iterations", "20000"), ("seed", "77")):
        browser.write(browser.one(f".settings input[aria-label='{label}']"), text)
    browser.click('button[type="submit"]', "Fit")
    browser.one(".forming li", seconds=60)
    browser.one("section[aria-label='So far'] p")
    assert len(browser.all(".forming li")) == 9
    browser.until(lambda: iterations(browser)[1] > 20, "some iterations", 60)
    browser.click("button", "Cancel")
    browser.sees("where its fit was", 60)
    browser.driver.refresh()
    browser.click("button", "Continue")
    assert iterations(browser)[0] > 10
    browser.click("button", "Cancel")
    browser.sees("where its fit was", 60)
    # The fit that there is goes on, and is the strand's then.
    browser.write(browser.named("Iterations to go on to"), "100")
    browser.sees("more are made")
    browser.click("button", "Go on")
    browser.until(
        lambda: browser.server.get(f"/strands/{strand}")["wanted"]["fit"]["iterations"] == 100, "the fit wanted", 60
    )
    browser.one("h2", "How it went", seconds=60)
    browser.click("button", "Work out the log-likelihood per token")
    browser.sees("log p(words | topics)")
    assert browser.overflow() <= 0 and browser.cut() == []


def test_new_text_is_placed_typed_and_from_a_file(browser: Browser, strand: int, tmp_path: Path) -> None:
    browser.click(".rooms button", "New text")
    browser.write(browser.one("textarea"), STORM)
    browser.click("button", "Place it")
    first = browser.one(".placed")
    assert "storm" in first.text.lower()
    assert share(first.text.split("\n")[1]) > 30
    browser.one("section[aria-label='The text'] mark")
    browser.sees("Zzyx")
    browser.sees("of those that cleaning leaves are no terms of the fit")
    assert browser.axe() == []
    assert browser.overflow() <= 0 and browser.cut() == []
    browser.click(".placed button.row")
    browser.one("aside article")
    new = tmp_path / "new.csv"
    new.write_text(f"title,text\nOne,{STORM}\nTwo,Ferry ticket\nThree,qwrt\n")
    browser.driver.find_element("css selector", 'input[aria-label="Bring a file of new texts"]').send_keys(str(new))
    browser.choose("Which text", "Three")
    browser.sees("None of its words is a term of this fit")
    browser.choose("Which text", "One")
    browser.until(lambda: share(browser.one(".placed").text.split("\n")[1]) > 30, "the same as typed")


def test_another_method_is_tried_and_what_changed_is_read(browser: Browser, strand: int) -> None:
    """From sampling to a factorisation, held against each other; then a word is left out, and labels follow."""
    browser.click(".rooms button", "Make and trace")
    browser.choose("Method", "NMF")
    browser.one(".settings label", "loss")
    browser.click('button[type="submit"]', "Fit")
    browser.sees("It stopped by itself", 60)
    browser.sees("Every seed makes the same fit")
    browser.click("button", "Work out the share of the weights told")
    browser.sees("Told by the topics after iteration")
    browser.click(".rooms button", "Compare")
    sentence = browser.one(".sentence").text
    assert "of 6 topics stayed the same" in sentence
    assert len(browser.all("section.column button.topic")) == 12
    browser.one("section[aria-label='Settings that differ'] td", "method")
    # A thread leads to the documents that hold both of its topics, by keyboard as by mouse.
    browser.driver.execute_script("document.querySelector('.threads .mark').focus()")
    browser.press(Keys.ENTER)
    browser.one("aside", "of the other fit, now")
    browser.one("aside article mark")
    browser.click(".columns + *, button", "table")
    assert len(browser.all("table tr")) > 3
    assert browser.axe() == []
    assert browser.overflow() <= 0 and browser.cut() == []
    # Its commonest word is left out from the topic itself; the fit is made again and says what changed.
    browser.click(".rooms button", "Topics")
    word = browser.one("svg[aria-label='Words of the topic'] .mark")
    name = word.find_element("css selector", "text").text
    ActionChains(browser.driver).move_to_element(word).click().perform()
    browser.click("button", "leave it out")
    browser.one("[aria-label='Words to leave out']", name)
    browser.click("[aria-label='Words to leave out'] button", "apply")
    browser.one(".since", "Since NMF 6", 60)
    browser.click(".rooms button", "Topics")
    browser.until(
        lambda: name not in [e.text for e in browser.all("svg[aria-label='Words of the topic'] text.name")], "it gone"
    )
    browser.click(".since a", "See what changed")
    browser.one("section[aria-label='Settings that differ'] td", "domain-words")
    chosen = browser.driver.execute_script("return arguments[0].selectedOptions[0].text", browser.named("Other fit"))
    assert chosen.startswith("the fit before: NMF 6")
