"""Clean as an analyst uses it: by keyboard alone, on real documents, round after round."""

from __future__ import annotations

from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser


def test_why_a_word_is_not_in_the_vocabulary_and_how_it_comes_back_by_keyboard_alone(
    browser: Browser, fitted: int
) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.sees("distinct forms are left")
    browser.press("w")
    browser.focused("A word to trace")
    browser.press("after")
    browser.sees("Stop words removes it (English list)")
    browser.press(Keys.TAB, Keys.TAB, Keys.TAB)
    browser.until(lambda: "spare it" in browser.driver.switch_to.active_element.text, "focus on the remedy")
    browser.press(Keys.ENTER)
    browser.sees("It is in the vocabulary")
    browser.sees("brings back 1 word")
    browser.driver.execute_script("document.activeElement.blur()")
    browser.press("r")
    browser.until(lambda: not browser.all(".knot.stale") and not browser.all(".knot.working"), "a rebuild", 60)
    passes = browser.server.get(f"/strands/{fitted}")["wanted"]["clean"]["passes"]
    assert next(each for each in passes if each["kind"] == "stop-words")["keep"] == ["after"]


def test_a_specimen_is_walked_stopped_compared_and_typed(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.named("Specimen text").click()
    browser.press(Keys.ARROW_RIGHT)
    browser.one(".paper .now")
    struck = len(browser.all(".paper s"))
    browser.click("button.name", "Case")
    browser.sees("after Case, pass 3 of 10")
    browser.until(lambda: len(browser.all(".paper s")) < struck, "fewer struck words")
    browser.sees("Case, word by word")
    browser.click("button", "show all")
    browser.until(lambda: len(browser.all(".paper s")) == struck, "all passes again")
    browser.named("stop words on").click()
    browser.sees("This change brings back")
    browser.choose("Compare with", "before the last change")
    browser.until(lambda: browser.all(".paper .other"), "the differences marked")
    browser.click("button", "type one")
    box = browser.named("A text of your own")
    browser.write(box, "Moorings parted at Quellan")
    browser.until(lambda: "moor" in browser.named("Specimen text").text, "the typed text cleaned")


def test_words_are_left_out_round_after_round(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean?part=words")
    name = browser.one(".suggested td button").text
    browser.click(".suggested td button", name)
    browser.one("aside h3", f"“{name}” in the texts")
    browser.driver.execute_script("document.activeElement.blur()")
    browser.press("x")
    tray = browser.named("Words to leave out")
    browser.until(lambda: name in tray.text and "documents" in tray.text, "it in the tray")
    browser.press("r")
    browser.until(lambda: not browser.all(".knot.stale") and not browser.all(".knot.working"), "a rebuild", 60)
    browser.until(lambda: not browser.all(".tray"), "the tray empty")
    browser.press("X")
    browser.one('section[aria-label="Words left out so far"]', f"Clean, {name}")
    browser.press("X")
    browser.until(lambda: not browser.all(".past"), "the rounds closed")


def test_a_list_is_brought_in_and_a_pass_is_limited(browser: Browser, fitted: int, tmp_path: Path) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.one("button.name", "Domain words")
    browser.choose("Add a pass", "Own lists")
    names = tmp_path / "people.txt"
    names.write_text("Kelpwick\nDunmore\n")
    label = 'input[aria-label="Bring a list in"]'
    browser.until(lambda: browser.driver.find_elements("css selector", label), "the list to be asked for")
    browser.driver.find_element("css selector", label).send_keys(str(names))
    browser.sees("people")
    browser.click(".two button", "dunmor")
    browser.one("aside h3", "“Dunmore” in the texts")
    limit = browser.named("Documents the pass is limited to")
    browser.until(lambda: "by harbour" in limit.text, "the fields to limit by")
    browser.choose("Documents the pass is limited to", "by harbour")
    browser.sees("(harbour Kelpwick)")
    assert browser.axe() == []


@pytest.mark.parametrize("name", ["Emoji", "Replacements", "Character n-grams"])
def test_a_pass_is_added_from_its_schema(browser: Browser, fitted: int, name: str) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.one("button.name", "Domain words")
    browser.choose("Add a pass", name)
    browser.sees(f"{name}, word by word")


def test_text_from_right_to_left_is_shown_so_in_specimen_and_reader(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "boats.csv"
    rows = ["שלום, הסירה הגיעה לנמל הישן", "The boat reached the old harbour", "הנמל סגור היום"]
    path.write_text(
        "language,text\n" + "".join(f'{code},"{row}"\n' for code, row in zip("he en he".split(), rows, strict=True))
    )
    browser.bring_in(path)
    browser.go("clean?doc=0")
    paper = browser.named("Specimen text")
    browser.until(lambda: "הסירה" in paper.text, "the text")
    assert paper.get_attribute("dir") == "rtl"
    browser.sees("Hebrew")
    paper.click()
    browser.press(Keys.ARROW_LEFT)
    browser.until(lambda: "שלום" in browser.text(".below"), "the next word lies to the left")
    browser.click("button", "open")
    browser.until(lambda: browser.one(".sheet .text").get_attribute("dir") == "rtl", "the reader so")
    browser.go("clean?doc=1")
    browser.until(lambda: browser.named("Specimen text").get_attribute("dir") == "ltr", "English as ever")
