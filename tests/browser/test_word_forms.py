"""Word forms as an analyst chooses them: side by side, a family taken apart, a table brought in."""

from __future__ import annotations

from pathlib import Path

from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Browser


def given(browser: Browser, strand: int) -> list[str]:
    passes = browser.server.get(f"/strands/{strand}")["wanted"]["clean"]["passes"]
    found: list[str] = next(each for each in passes if each["kind"] == "word-forms")["given"]
    return found


def take_method(browser: Browser, name: str) -> None:
    label = browser.one("li label", "method")
    Select(label.find_element("css selector", "select")).select_by_visible_text(name)


def test_a_method_is_chosen_by_what_it_does_and_a_family_taken_apart(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean?part=forms")
    browser.one(".methods tr", "stems (Porter)")
    browser.one("h3", "Only by stems (Porter)")
    browser.click(".methods button", "stems (Lancaster)")
    browser.one("h3", "Only by stems (Lancaster)")
    box = browser.named("A sentence to compare word forms on")
    browser.write(box, "Better moorings were hoped for")
    browser.until(
        lambda: "good" in browser.text("table.compared") and "bet" in browser.text("table.compared"),
        "the sentence in every method",
    )
    assert browser.axe() == []
    browser.until(
        lambda: browser.one(".methods tr", "lemmas").find_element("css selector", "button.link").click() or True,
        "lemmas to be used",
    )
    browser.until(lambda: "in use" in browser.one(".methods tr", "lemmas").text, "lemmas in use")
    family = browser.one(".family")
    member = family.find_element("css selector", "button.member").text
    browser.until(lambda: browser.one(".family button.member").click() or True, "a member chosen")
    browser.until(lambda: member in browser.text("aside"), "its evidence")
    browser.click(".family button.form")
    browser.click(".family button", "take it apart")
    browser.until(lambda: f"{member} = {member}" in given(browser, fitted), "the family apart")
    browser.sees("by hand")


def test_rules_are_checked_while_they_are_typed_and_a_table_is_brought_in(
    browser: Browser, fitted: int, tmp_path: Path
) -> None:
    browser.open(f"/strand/{fitted}/clean?part=forms")
    browser.click("button.name", "Word forms")
    take_method(browser, "lancaster")
    rules = browser.named("Own rules")
    browser.write(rules, "y1i>")
    browser.sees("the rules could go on for ever")
    browser.write(rules, "sgniroom5.")
    box = browser.named("A sentence to compare word forms on")
    browser.write(box, "Moorings parted")
    browser.until(lambda: "moo" in browser.text("table.compared").split(), "the stem of the own rule")
    take_method(browser, "table")
    path = tmp_path / "forms.tsv"
    path.write_text("berth\tmoorings\nberth\tmooring\n", encoding="utf-8")
    label = '[aria-label="Bring a table of forms and lemmas in"]'
    browser.until(lambda: browser.driver.find_elements("css selector", label), "the table to be asked for")
    browser.driver.find_element("css selector", label).send_keys(str(path))
    browser.sees("lemmas of forms")
    browser.until(lambda: "berth" in browser.text("table.compared"), "the lemma of the table")


def test_a_phrase_is_looked_at_and_becomes_a_term(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean?part=phrases")
    browser.look_at(".phrases h2")
    browser.click(".phrases th button", "NPMI")
    browser.until(lambda: browser.all(".phrases th[aria-sort]"), "the order said")
    browser.settled()
    words = browser.one(".phrases td.book button").text
    browser.until(lambda: browser.one(".phrases td.book button").click() or True, "a phrase chosen")
    browser.until(lambda: words in browser.text("aside").lower(), "where it stands")
    browser.named(f"{words} is a term").click()

    def terms() -> list[str]:
        passes = browser.server.get(f"/strands/{fitted}")["wanted"]["clean"]["passes"]
        found: list[str] = next(each for each in passes if each["kind"] == "multiword")["terms"]
        return found

    browser.until(lambda: words in terms(), "the phrase among the terms")
    browser.until(lambda: browser.named(f"{words} is a term").is_selected(), "its tick")
    browser.named(f"{words} is a term").click()
    browser.until(lambda: words not in terms(), "the phrase gone")
    assert browser.axe() == []
