"""Parts of speech and names by hand: marks on and off, two readings, a kind set, names as terms."""

from __future__ import annotations

from selenium.webdriver.support.ui import Select

from tests.browser.conftest import Browser


def test_marks_of_tags_in_specimen_and_reader(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.click("button", "parts of speech")
    browser.until(lambda: browser.all(".legend button[aria-pressed=true]"), "the legend")
    marked = ".paper span[style*=underline]"
    browser.until(lambda: browser.all(marked), "marks in the specimen")
    before = len(browser.all(marked))
    browser.click(".legend button", "noun")
    browser.until(lambda: len(browser.all(marked)) < before, "nouns without marks")
    browser.open(f"/strand/{fitted}/clean?read=0&marks=tags")
    browser.until(lambda: browser.all(".sheet .passage span[style*=underline]"), "marks in the reader")
    mark = ".sheet .passage span[style*=underline]"
    browser.until(lambda: "sure" in browser.one(mark).get_attribute("title"), "how sure a tag is")
    assert browser.axe() == []


def test_one_sentence_under_two_readings_then_the_corpus(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean?part=speech")
    browser.named("A sentence to tag").send_keys("The leaves fell as he leaves the boat.")
    browser.until(lambda: len(browser.all(".words li")) == 8, "the words of the sentence")
    tags = [each.text for each in browser.all(".words li .tag")]
    assert any(tag.startswith("NOUN") for tag in tags) and any(tag.startswith("VERB") for tag in tags)
    assert browser.all(".words li.unlike")
    browser.click("button", "tag the corpus as in the first row")

    def kinds() -> list[str]:
        wanted = browser.server.get(f"/strands/{fitted}")["wanted"]
        return [each["kind"] for each in wanted["clean"]["passes"]]

    browser.until(lambda: "parts-of-speech" in kinds(), "the pass")
    browser.until(lambda: not browser.all(".speech .head button"), "no need to tag again")


def test_a_name_gets_its_kind_and_two_become_terms(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean?part=names")
    browser.look_at(".names h2")
    browser.until(lambda: browser.all(".names tbody tr"), "names")
    first, second = (each.text for each in browser.all(".names td.book button")[:2])
    kinds = Select(browser.named(f"What {first} is"))
    assert [each.text for each in kinds.options] == ["person", "place", "organisation", "people", "other"]
    kinds.select_by_visible_text("place")

    def wanted() -> dict[str, dict[str, object]]:
        found: dict[str, dict[str, object]] = browser.server.get(f"/strands/{fitted}")["wanted"]
        return found

    browser.until(lambda: wanted()["names"]["kinds"] == {first.lower(): "place"}, "the kind")
    browser.until(lambda: "set by hand" in browser.text(".names tbody"), "the reason")
    for name in (first, second):
        browser.named(f"take {name}").click()
    browser.click(".names button", "as terms")

    def terms() -> list[str]:
        passes = browser.server.get(f"/strands/{fitted}")["wanted"]["clean"]["passes"]
        found: list[str] = next(each for each in passes if each["kind"] == "multiword")["terms"]
        return found

    browser.until(lambda: {first, second} <= set(terms()), "both among the terms")
    browser.click(".names button", f"are one: {first}")
    browser.until(lambda: wanted()["names"]["merged"] == {second.lower(): first}, "one name")
