"""Label as an analyst uses it: all topics named by keyboard, sorted and merged, checked by people, on one sheet."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser, Server


@pytest.fixture(scope="module")
def read(server: Server, ready: int) -> int:
    """A fork of the fitted strand, whose topics nobody has read."""
    strand: int = server.post(f"/strands/{ready}/fork")["strand"]
    return strand


def topics(server: Server, strand: int) -> list[dict[str, object]]:
    found: list[dict[str, object]] = server.get(f"/strands/{strand}/topics")["topics"]
    return found


def test_all_topics_are_read_named_and_noted_by_keyboard_alone(browser: Browser, server: Server, read: int) -> None:
    browser.open(f"/strand/{read}/label")
    browser.one(".candidates button", seconds=60)
    browser.one("button.link", "why?", seconds=60)  # phrases are there
    browser.sees("0 of 6 named")
    browser.one(".strong mark")
    for at in range(6):
        browser.press(Keys.ESCAPE, "n")
        browser.focused("Note")
        browser.press(f"seen in topic {at + 1}", Keys.ESCAPE)
        browser.press("l")
        browser.focused("Label of the topic")
        if at == 1:
            browser.press(Keys.ESCAPE, "t")  # later; it comes again at the end
        else:
            browser.press(Keys.ARROW_DOWN, Keys.ENTER)
        browser.sees(f"{at + (at < 1)} of 6 named")
    browser.press(Keys.ESCAPE, "l")
    browser.focused("Label of the topic")
    browser.press("The one put off", Keys.ENTER)
    browser.sees("6 of 6 named")
    said = topics(server, read)
    labels = [each["label"] for each in said]
    candidates = server.get(f"/strands/{read}/label-candidates")["topics"]
    assert labels[1] == "The one put off" and len(set(labels)) == 6
    assert [labels[at] for at in (0, 2, 3, 4, 5)] == [candidates[at][0]["words"] for at in (0, 2, 3, 4, 5)]
    assert [each["note"] for each in said] == [f"seen in topic {at + 1}" for at in range(6)]
    assert all(each["confirmed"] and not each["later"] for each in said)
    browser.press(Keys.ESCAPE, "u")
    browser.sees("5 of 6 named")
    browser.press("l")
    browser.focused("Label of the topic")
    browser.press("The one put off", Keys.ENTER)
    browser.sees("6 of 6 named")


def test_a_topic_opens_to_reasons_rankings_places_and_working(browser: Browser, read: int) -> None:
    browser.open(f"/strand/{read}/label?ev=topic%3D2")
    browser.click("button.link", "why?")
    browser.sees("C-value")
    before = [each.text for each in browser.all(".words svg .name")]
    browser.click(".words button", "lift")
    browser.until(lambda: [each.text for each in browser.all(".words svg .name")] != before, "other words first")
    browser.sees("hardly anywhere else")
    browser.look_at(".words [data-mark]")
    browser.driver.execute_script(
        "document.querySelector('.words [data-mark]').dispatchEvent(new MouseEvent('click', {bubbles: true}))"
    )
    browser.one(".lines li b")
    browser.until(lambda: "with “" in browser.text("aside.evidence"), "the documents that hold the word")
    browser.click("[aria-label='Passages are'] button", "paragraphs")
    browser.one(".strong mark")
    browser.click("dd button.link")
    browser.sees("Jensen-Shannon divergence from the words of the nearest topic")
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.click(".strong")
    browser.one("[role='dialog']")


def test_topics_are_sorted_into_families_merged_and_taken_apart_again(
    browser: Browser, server: Server, read: int, tmp_path: Path
) -> None:
    browser.open(f"/strand/{read}/label?part=sort")
    first, second = topics(server, read)[:2]
    for each in (first, second):
        browser.named(f"Choose {each['title']}").click()
    browser.sees("One topic with")
    browser.sees("Track draws one line for it")
    browser.write(browser.named("Family"), "at sea")
    browser.press(Keys.ENTER)
    browser.one(".family h2", "at sea")
    browser.until(lambda: [each["family"] for each in topics(server, read)].count("at sea") == 2, "both in it")
    browser.settled()
    assert browser.axe() == []
    for each in (first, second):
        browser.named(f"Choose {each['title']}").click()
    browser.press("m")
    browser.until(lambda: len(topics(server, read)) == 5, "five topics", 60)
    browser.sees("Topics of this fit were merged")
    assert topics(server, read)[0]["label"] == first["label"]
    browser.click("button", "Take the fit before back")
    browser.until(lambda: len(topics(server, read)) == 6, "six topics", 30)
    table = tmp_path / "labels.csv"
    words = " ".join(each["display"] for each in topics(server, read)[3]["words"][:6])  # type: ignore[attr-defined]
    table.write_text(f"label,words\nFrom a table,{words}\nOf nothing,zzz yyy\n")
    browser.driver.find_element("css selector", "[aria-label='Table of labels']").send_keys(str(table))
    browser.sees("6 of 6 words")
    browser.sees("no topic")


def test_pairs_are_held_against_chance_and_lead_to_documents(browser: Browser, server: Server, read: int) -> None:
    browser.open(f"/strand/{read}/label?part=together")
    browser.click("button", "Hold pairs against chance")
    browser.one(".pair", seconds=60)
    assert len(browser.all("svg .thread")) == 6 and len(browser.all("svg [data-mark]")) == 15
    browser.click(".pair button")
    browser.sees("twice the smaller tail")
    browser.until(lambda: "together with" in browser.text("aside.evidence"), "documents with both")
    browser.settled()
    assert browser.axe() == []


def test_people_answer_here_and_in_a_page_of_their_own(
    browser: Browser, server: Server, read: int, tmp_path: Path
) -> None:
    browser.open(f"/strand/{read}/label?part=check")
    browser.write(browser.named("Your name"), "Ysolde")
    browser.click("button", "Draw the questions")
    browser.click(".check button", "Answer here")
    browser.one("[role='dialog'] h1", "does not belong")
    for _ in range(6):
        browser.press("2")
    browser.one("[role='dialog'] h1", "Thank you, Ysolde")
    browser.press("7", Keys.ESCAPE)  # a number that is no answer leads nowhere else
    browser.one(".check", "Ysolde 6 of 6")
    # Another person gets a file, opens it without a server, and sends their answers back.
    check = server.get(f"/strands/{read}/checks")["checks"][0]["id"]
    page = tmp_path / "questions.html"
    page.write_bytes(server.http.get(f"/strands/{read}/checks/{check}/page.html").content)
    browser.driver.get(page.as_uri())
    assert "topic" not in json.loads(
        browser.driver.execute_script("return document.getElementById('questions').textContent")
    )
    browser.write(browser.one("#rater"), "Brannock")
    browser.press(Keys.ENTER)
    for key in "123456":
        browser.one("#prompt", "does not belong")
        browser.press(key)
    browser.sees("All 6 questions are answered")
    assert browser.axe() == []
    browser.driver.execute_script(
        "const blob = URL.createObjectURL; URL.createObjectURL = (each) => {"
        " each.text().then((text) => { window.saved = text }); return blob(each) }"
    )
    browser.click("button", "Save the answers")
    answers = tmp_path / "answers.json"
    answers.write_text(browser.until(lambda: browser.driver.execute_script("return window.saved"), "the file"))
    browser.open(f"/strand/{read}/label?part=check")
    browser.one(".check", "Ysolde 6 of 6")
    browser.driver.find_element("css selector", "[aria-label='Answers to Word intrusion']").send_keys(str(answers))
    browser.one(".check", "Brannock 6 of 6")
    browser.sees("2 raters agree on")
    browser.one("table td", "chance 17")
    browser.settled()
    assert browser.axe() == []


def test_coding_by_hand_corrects_what_track_shows(browser: Browser, server: Server, read: int) -> None:
    new = {"kind": "hand coding", "topic": 0, "concept": "the sea", "total": 30, "seed": 4}
    check = server.post(f"/strands/{read}/checks", **new)["checks"][0]
    browser.open(f"/strand/{read}/label?part=check")
    browser.write(browser.named("Your name"), "Dagny")
    browser.click(".check button", "Answer here")
    for at in range(check["questions"]):
        browser.one("[role='dialog'] p.small", f"question {at + 1} of")
        browser.press("1" if at % 3 else "2")
    browser.press(Keys.ESCAPE)
    browser.one(".coding p", "precision")
    browser.click(".coding table button", "none of it")
    browser.one("aside article")
    browser.open(f"/strand/{read}/track?part=groups")
    browser.click("section label", "corrected by hand coding")
    browser.one("figure h2", "Documents about the sea")
    browser.sees("were coding sure")
    browser.settled()
    assert browser.axe() == []


def test_all_topics_stand_on_one_sheet_that_prints_without_the_frame(browser: Browser, read: int) -> None:
    browser.open(f"/strand/{read}/label?part=sheet")
    browser.until(lambda: len(browser.all("article.cloud")) == 6, "six clouds")
    assert len(browser.all("article.cloud svg [data-mark]")) == 6 * 24
    browser.settled()
    assert browser.axe() == [] and browser.overflow() <= 0
    browser.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})  # type: ignore[attr-defined]
    hidden = "return [...document.querySelectorAll('nav.rail, aside.evidence, header.bar')].every(e => !e.offsetHeight)"
    assert browser.driver.execute_script(hidden)
    browser.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})  # type: ignore[attr-defined]
