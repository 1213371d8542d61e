"""An analyst builds, understands, prunes, weighs, inspects, splits and exports a matrix."""

from __future__ import annotations

import math
import re

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.remote.webelement import WebElement

from tests.browser.conftest import Browser


@pytest.fixture
def strand(browser: Browser, fitted: int) -> int:
    """A strand of one's own on the fitted documents, at Weigh."""
    made = browser.server.post(f"/strands/{fitted}/fork")["strand"]
    browser.open(f"/strand/{made}/weigh")
    browser.one('[role="slider"]')
    return int(made)


def number(text: str) -> float:
    return float(text.replace("\u202f", "").replace("−", "-"))


def wanted(browser: Browser, strand: int) -> dict[str, object]:
    found: dict[str, object] = browser.server.get(f"/strands/{strand}")["wanted"]
    return found


def value(browser: Browser, name: str) -> str:
    return browser.named(name).get_attribute("value") or ""


def put(browser: Browser, name: str, text: str) -> None:
    field = browser.named(name)
    browser.write(field, text)
    field.send_keys(Keys.TAB)


def drag(browser: Browser, handle: WebElement, by: int) -> None:
    ActionChains(browser.driver).click_and_hold(handle).move_by_offset(by, 0).release().perform()


def test_pruning_by_sight(browser: Browser, strand: int) -> None:
    """A handle, a number, a share and the sparsity limit say the same; what falls can be pinned."""
    browser.sees("Suggested: in at least")
    drag(browser, browser.one('[aria-label="In at least so many documents"] circle'), 140)
    browser.until(lambda: int(value(browser, "At least, documents")) > 5, "the number to follow")
    least = int(value(browser, "At least, documents"))
    browser.until(lambda: wanted(browser, strand)["weigh"]["min_documents"] == least, "it wanted")  # type: ignore[index]
    documents = browser.server.get(f"/strands/{strand}")["summaries"]["corpus"]["documents"]
    assert float(value(browser, "At least, percent")) == pytest.approx(100 * least / documents, abs=0.1)
    put(browser, "Sparsity limit, percent", "95")
    expected = math.ceil(round(0.05 * documents, 6))
    browser.until(lambda: int(value(browser, "At least, documents")) == expected, "5 % of them")
    slider = browser.named("In at least so many documents")
    assert slider.get_attribute("aria-valuenow") == str(expected)
    browser.sees("Fall with the next rebuild")
    falling = "section[aria-label='Fall with the next rebuild'] li button"

    def pinned() -> str:
        term = browser.one(falling).text
        button = browser.all(f'[aria-label="Pin {term} to stay"]')
        return term if button and (button[0].click() or True) else ""

    term = browser.until(pinned, "a term that falls")
    browser.one(".chip", term)
    browser.sees("pinned to stay")
    browser.driver.execute_script("document.activeElement.blur()")
    browser.press("r")
    browser.until(lambda: not browser.all(".knot.stale"), "the rebuild", 60)
    browser.sees("Next to fall")
    browser.sees("Matrices of this cleaning")
    browser.click("button", "switch")
    browser.until(lambda: browser.all(".knot.stale") or browser.all(".differs"), "the other matrix")


def test_a_weight_by_hand_from_what_the_screen_says(browser: Browser, strand: int) -> None:
    """tf-idf of the cell that is shown, with nothing but a calculator."""
    browser.click("button.part", "Weights")
    browser.click("button.mode", "tf-idf")
    browser.sees("weighed by tf-idf")
    cell = browser.one("section.cell")
    browser.until(lambda: "ln (N / df)" in cell.text, "the formula")
    given = {}
    for each in cell.find_elements("css selector", ".given > div"):
        name, figure, _ = each.text.split("\n")
        given[name] = number(figure)
    weight = number(cell.find_element("css selector", ".whole b").text)
    assert weight == pytest.approx(given["tf"] * math.log(given["N"] / given["df"]), rel=1e-4)
    browser.choose("Base of the logarithm", "log₁₀")
    browser.until(
        lambda: (
            number(browser.one("section.cell .whole b").text)
            == pytest.approx(given["tf"] * math.log10(given["N"] / given["df"]), rel=1e-4)
        ),
        "the same by tens",
    )
    browser.one("section.cell mark")
    browser.click("section.cell td button", "")
    browser.until(lambda: wanted(browser, strand)["weighting"]["global_weight"] == "none", "one taken")  # type: ignore[index]
    browser.choose("Weighting beside", "BM25")
    browser.sees("Ranks under two weightings")


def test_the_matrix_by_keyboard(browser: Browser, strand: int) -> None:
    """The grid is walked like a table; Enter opens a cell to its formula and its evidence."""
    browser.click("button.part", "Matrix")
    first = browser.one('[data-cell="0 0"]')
    browser.driver.execute_script("arguments[0].focus()", first)
    for keys in ((Keys.ARROW_DOWN, "1 0"), (Keys.ARROW_RIGHT, "1 1"), (Keys.END, None), (Keys.HOME, "1 0")):
        browser.press(keys[0])
        if keys[1]:
            browser.until(lambda k=keys[1]: at_cell(browser) == k, f"cell {keys[1]}")
        else:
            browser.until(lambda: int(at_cell(browser).split(" ")[1]) > 100, "the last column")
    while not browser.driver.switch_to.active_element.text.strip("·\n "):
        before = at_cell(browser)
        browser.press(Keys.ARROW_RIGHT)
        browser.until(lambda b=before: at_cell(browser) != b, "the next cell")
    said = browser.driver.switch_to.active_element.get_attribute("aria-label") or ""
    browser.press(Keys.ENTER)
    term = said.split(" in ")[0]
    browser.one("section.cell h2", term)
    browser.one("aside h3", term)
    browser.until(lambda: "1 of" in browser.text("aside"), "one document of all")
    browser.write(browser.named("Find a term among the cells"), "ferr")
    browser.until(
        lambda: all("ferr" in e.text for e in browser.all(".ledger td.book")) and browser.all(".ledger td.book"),
        "cells of ferry",
    )
    browser.click("button.mode", "bars")
    browser.sees("Strongest cells")
    browser.choose("Documents by", "group")
    browser.one('[data-cell="0 0"]')


def at_cell(browser: Browser) -> str:
    return browser.driver.switch_to.active_element.get_attribute("data-cell") or ""


def test_words_on_threads_and_new_text(browser: Browser, strand: int) -> None:
    browser.click("button.part", "Terms")
    browser.click("button.mode", "words on threads")
    words = browser.until(lambda: browser.all("text.word"), "words")
    boxes = [each.rect for each in words]
    apart = [
        a["x"] + a["width"] <= b["x"] + 1
        or b["x"] + b["width"] <= a["x"] + 1
        or a["y"] + 0.72 * a["height"] <= b["y"] + 0.28 * b["height"]
        or b["y"] + 0.72 * b["height"] <= a["y"] + 0.28 * a["height"]
        for at, a in enumerate(boxes)
        for b in boxes[at + 1 :]
    ]
    assert all(apart) and len(boxes) > 30
    browser.choose("Group by", "harbour")
    browser.until(lambda: "value=" in browser.driver.current_url, "a harbour in the address")
    browser.look_at("section[aria-label='How the vocabulary is spread']")
    browser.sees("most frequent words are half of the text")
    browser.click("button.part", "New text")
    browser.one("textarea").send_keys("The ferry engine failed and the zeppelin sailed.")
    browser.click("button", "Weigh it")
    browser.sees("zeppelin")
    browser.one("section[aria-label='Nearest documents'] li")
    browser.sees("not in the corpus")


def test_a_split_and_the_files(browser: Browser, strand: int) -> None:
    browser.click("button.part", "Split and files")
    browser.click("input[type=checkbox]")
    browser.choose("Outcome", "harbour")
    browser.sees("Fit and Choose hold out the same ones")
    browser.choose("Field that is not parted", "those and")
    browser.choose("Field that is not parted", "near-repeats")
    browser.one("table.by")
    shares = [number(each.text.split("\u202f")[0]) for each in browser.all("table.by td:last-child")]
    assert shares and all(10 <= share <= 30 for share in shares)
    browser.driver.execute_script("document.activeElement.blur()")
    browser.press("r")
    browser.until(lambda: not browser.all(".knot.stale") and not browser.all(".knot.working"), "the rebuild", 90)
    browser.one("tbody a", "design.csv")
    links = {each.text: each.get_attribute("href") for each in browser.all("tbody a")}
    answer = browser.server.http.get(links["documents.csv"])
    assert answer.status_code == 200 and answer.text.count(",test,") > 10
    sizes = [each.text for each in browser.all("section[aria-label='Files of the matrix'] td.numbers")]
    assert all(re.search(r"\d", each) for each in sizes)
    summary = browser.server.get(f"/strands/{strand}")["summaries"]
    assert summary["matrix"]["held_out"] == answer.text.count(",test,")
