"""Whole journeys of an analyst through the real interface."""

from __future__ import annotations

import re
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser


def test_from_a_file_to_tracked_topics(browser: Browser, entries_file: Path) -> None:
    browser.bring_in(entries_file)
    browser.sees("harbour")
    gather(browser)
    browser.go("clean")
    clean(browser)
    multiword(browser)
    browser.press("3")
    weigh(browser)
    browser.press("6")
    choose(browser)
    label(browser)
    browser.press("8")
    track(browser)
    browser.press("9")
    share(browser)


def gather(browser: Browser) -> None:
    """Select a group, open a document from the evidence, search, filter."""
    browser.click("button.bar", "Quellan")
    browser.one("aside h3", "Quellan")
    assert "ev=field=harbour" in browser.driver.current_url
    browser.click("aside article button")
    browser.one('section[aria-label="Reader"] dl', "Quellan")
    browser.press(Keys.ESCAPE)
    browser.until(lambda: not browser.all(".sheet"), "the reader to close")
    browser.press("/")
    browser.focused("Find documents")
    browser.write(browser.named("Find documents"), "gale breakwater")
    browser.until(lambda: "find=gale" in browser.driver.current_url, "the search in the address")
    browser.one("button.entry")
    browser.driver.back()


def clean(browser: Browser) -> None:
    """Switch a pass off and see it at once; undo."""
    browser.one("s", "")
    browser.settled()  # what is struck first may be of the passes before
    before = len(browser.all("s"))
    browser.named("stop words on").click()
    browser.until(lambda: len(browser.all("s")) < before, "fewer struck words")
    browser.sees("These passes are tried here")
    browser.one(".knot.stale", "Weigh")
    browser.press("u")
    browser.until(lambda: len(browser.all("s")) == before, "the words struck again")
    browser.until(lambda: not browser.all(".knot.stale"), "nothing out of date")
    browser.click("button.survival", "stop words")
    browser.one("aside h3", "Removed by stop words")
    browser.one("aside s")


def multiword(browser: Browser) -> None:
    """List a term of two words; it is one in the specimen, the vocabulary and the evidence."""
    shown = browser.server.get(f"/strands/{browser.strand()}/specimen")["document"]
    read = browser.server.get(f"/strands/{browser.strand()}/documents/{shown}")
    text = "".join(each["text"] for each in read["segments"])
    found = re.search(r"[A-Za-z]{4,} [a-z]{4,}", text)
    assert found
    two = found[0].lower()
    browser.click("button.name", "Multiword terms")
    area = browser.one("textarea")
    area.send_keys(f"{two}, pilot launch")
    browser.driver.execute_script("arguments[0].blur()", area)
    browser.one("ruby rt", two.replace(" ", "_"))
    browser.choose("Add a pass", "Multiword terms")
    browser.until(lambda: sum("Multiword" in e.text for e in browser.all("button.name")) == 2, "a second one")
    browser.press("u")
    browser.until(lambda: sum("Multiword" in e.text for e in browser.all("button.name")) == 1, "one again")
    browser.press("r")
    browser.until(lambda: not browser.all(".knot.stale"), "the rebuild", 30)
    browser.until(lambda: browser.one("button.survival", "multiword terms").is_enabled(), "what was joined")
    browser.click("button.survival", "multiword terms")
    browser.one("aside h3", "Joined by multiword terms")
    marks = browser.until(lambda: browser.all("aside mark"), "the joined terms marked")
    assert marks[0].text.lower() in (two, "pilot launch")


def weigh(browser: Browser) -> None:
    """Leave a term out with x, rebuild with r, and find it gone."""
    browser.one("h1", "Vocabulary")
    browser.click("button.part", "Terms")
    browser.write(browser.named("Find a term"), "ferr")
    browser.until(lambda: {each.text[:4] for each in browser.all("button.term")} == {"ferr"}, "these terms alone")
    browser.click("button.term", "ferry")
    browser.one("aside h3", "ferry")
    browser.one("aside mark", "erry")
    browser.driver.execute_script("document.activeElement.blur()")
    browser.press("x")
    browser.sees("Out of date")
    browser.press("r")
    browser.until(lambda: not browser.all(".knot.stale") and not browser.all(".knot.working"), "the rebuild", 60)
    browser.sees("No term holds “ferr”")


def choose(browser: Browser) -> None:
    """Sweep a few counts, pick a point, take it."""
    browser.one("h1", "How many topics?")
    browser.write(browser.named("Topic counts"), "4, 6")
    browser.write(browser.named("Seeds"), "1-2")
    browser.click("button", "Sweep")
    browser.until(lambda: browser.all("circle.target"), "the first points", 60)
    browser.until(lambda: not browser.all(".knot.working"), "the sweep", 90)
    browser.one("section h2", "suggested")
    browser.driver.find_elements(By.CSS_SELECTOR, "circle.target")[-1].click()
    browser.until(lambda: "fit=" in browser.driver.current_url, "the fit in the address")
    browser.write(browser.named("Reason"), "Six can be named.")
    browser.click("button", "Take ")
    browser.sees("“Six can be named.” Continued with all documents:", seconds=60)
    browser.click("a", "Label its topics")
    browser.one("h1", "Topics", seconds=30)


def label(browser: Browser) -> None:
    """Label two topics without the mouse; the labels are there after a reload."""
    browser.one(".topic")
    for name in ("First label", "Second label"):
        browser.press("l")
        browser.focused("Label of the topic")
        browser.press(Keys.CONTROL + "a" + Keys.NULL, name, Keys.ENTER)
        browser.one(".topic b", name)
        browser.driver.execute_script("document.activeElement.blur()")
        browser.gone('[aria-label="Label of the topic"]', name)
    browser.driver.refresh()
    browser.one(".topic b", "Second label")
    browser.sees("2 of ")


def track(browser: Browser) -> None:
    """What moves first; small multiples by harbour, of which a point leads to its documents; an event; differences."""
    browser.one("h1", "What moves")
    browser.sees("no field has few values that stand in most periods")
    browser.choose("Group field", "harbour")
    browser.one("h1", "What moves, what differs")
    browser.one(".outcome", "surely", 120)
    browser.click(".rooms button", "Over time")
    browser.one("h1", "Over time, by harbour")
    browser.until(lambda: len(browser.all("figure")) == 5, "a panel for each harbour")
    browser.driver.execute_script(
        "document.querySelector('circle.dot').dispatchEvent(new MouseEvent('click', {bubbles: true}))"
    )
    browser.one("aside h3", "First label")
    browser.sees("Selected:")
    browser.click("button", "+ event")
    for css, text in (('input[placeholder="2014-01-14"]', "14 Jan 2014"), ('input[maxlength="80"]', "storm winter")):
        browser.write(browser.one(css), text)
    browser.click("form button", "Add")
    browser.one("text.eventname", "storm winter")
    browser.click(".rooms button", "Groups")
    browser.one("figcaption h2", "Each harbour against all others")
    browser.until(lambda: browser.all("rect[fill]"), "bars by group")
    difference = browser.until(lambda: browser.all("figure g[data-mark] circle.dot"), "differences")[0]
    browser.driver.execute_script("arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))", difference)
    browser.one("aside article")
    browser.choose("Sampled unit", "watch")
    browser.sees("fewer than 6 get no interval")
    browser.choose("Sampled unit", "documents")


def share(browser: Browser) -> None:
    """The exports are listed, and the pattern is one that the command line reads."""
    browser.one("h1", "Take it with you")
    browser.click("button.file", "topics.json")
    browser.sees("First label")
    pattern = browser.server.http.get(f"/strands/{browser.strand()}/pattern.json").json()
    passes = {each["kind"]: each for each in pattern["clean"]["passes"]}
    assert passes["domain-words"]["words"] == ["ferry"]


def test_a_partly_broken_file(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "Hafen.csv"
    rows = [f"{n};0{1 + n % 9}/0{1 + n % 7}/2014;Quellan;Fähre über Nacht, dann Sturm am Kai {n}" for n in range(30)]
    rows[4] = "4;01/02/2014"
    rows[9] = "9;soon;Quellan;Kein Datum"
    rows[12] = '12;01/02/2014;Quellan;"never closed'
    rows[20] = "20;01/02/2014;Quellan;\0"
    path.write_bytes(("id;when;harbour;text\n" + "\n".join(rows)).encode("cp1252"))
    browser.open()
    browser.until(lambda: browser.driver.find_element(By.CSS_SELECTOR, 'input[type="file"]'), "the picker").send_keys(
        str(path)
    )
    browser.sees("Fähre über Nacht")
    browser.sees("The encoding is a guess")
    browser.sees("which comes first?")
    browser.sees("can’t be used")
    browser.driver.find_elements(By.CSS_SELECTOR, 'input[type="radio"]')[1].click()
    browser.until(
        lambda: browser.driver.find_elements(By.CSS_SELECTOR, 'input[type="radio"]')[1].is_selected(), "the month first"
    )
    browser.choose("Role of harbour", "kept")
    browser.click("button", "Bring in")
    browser.one('[role="tab"]', "Left out and noted 4", seconds=60)
    browser.click('[role="tab"]', "Left out")
    browser.sees("left out has 2 cells where the heading has 4")
    browser.sees("“soon” is not a date")
    browser.sees("left out holds NUL bytes")
    overview = browser.server.get(f"/strands/{browser.strand()}/overview")
    assert overview["documents"] == 28
    assert {f["name"]: f["role"] for f in overview["fields"]} == {"id": "identifier", "when": "date", "harbour": "kept"}


def test_files_that_cannot_be_read_say_why_and_the_good_one_comes_in(browser: Browser, tmp_path: Path) -> None:
    (tmp_path / "empty.csv").write_bytes(b"")
    (tmp_path / "scan.pdf").write_bytes(b"%PDF-1.4 binary")
    good = tmp_path / "lines.txt"
    good.write_text("A gale at the breakwater\nThe ferry came late\n" * 20)
    browser.open()
    picker = browser.until(lambda: browser.driver.find_element(By.CSS_SELECTOR, 'input[type="file"]'), "the picker")
    picker.send_keys("\n".join(str(tmp_path / name) for name in ("empty.csv", "scan.pdf", "lines.txt")))
    browser.sees("empty.csv is empty")
    browser.sees("scan.pdf is damaged, locked or not a PDF document")
    browser.click("button", "Bring in 1 file")
    browser.sees("40 documents", 60)


def test_double_clicks_reloads_and_the_back_button(browser: Browser, entries_file: Path) -> None:
    before = len(browser.server.get("/skeins"))
    browser.open()
    browser.until(lambda: browser.driver.find_element(By.CSS_SELECTOR, 'input[type="file"]'), "the picker").send_keys(
        str(entries_file)
    )
    button = browser.one("button", "Bring in")
    browser.driver.execute_script("arguments[0].click(); arguments[0].click()", button)
    browser.until(lambda: "/strand/" in browser.driver.current_url, "the strand")
    browser.driver.refresh()
    browser.one('[role="tab"]', "Overview", seconds=60)
    assert len(browser.server.get("/skeins")) == before + 1
    browser.go("choose")
    browser.write(browser.named("Topic counts"), "3, 10, 30, 40")  # long enough to be cancelled after a reload
    button = browser.one("button:enabled", "Sweep")
    browser.driver.execute_script("arguments[0].click(); arguments[0].click()", button)
    browser.one(".knot.working", "Choose")
    browser.driver.refresh()

    def cancelled() -> bool:
        """A click while the page still draws itself anew may meet no button."""
        if "was cancelled" in browser.text():
            return True
        for button in browser.all("button", "Cancel"):
            button.click()
        return False

    browser.until(cancelled, "“was cancelled”", 40)
    sweeps = [j for j in browser.server.get("/jobs") if j["kind"] == "sweep" and j["strand"] == browser.strand()]
    assert len(sweeps) == 1
    browser.click("button", "Continue")
    browser.one(".knot.working", "Choose")
    again = [j for j in browser.server.get("/jobs") if j["kind"] == "sweep" and j["strand"] == browser.strand()]
    assert [each["id"] for each in again] == [sweeps[0]["id"]] and again[0]["state"] in ("queued", "running")
    browser.until(cancelled, "“was cancelled”", 40)
    browser.press("1")
    browser.one('[role="tab"]', "Overview")
    browser.driver.back()
    browser.one("h1", "How many topics?")


def test_an_address_reproduces_the_view(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/label?ev=topic%3D2")
    title = browser.one("aside h3").text
    browser.press("j")
    browser.until(lambda: browser.one("aside h3").text != title, "the next topic")
    browser.click("aside article button")
    browser.click("button.mode", "Topics")
    browser.until(lambda: browser.all(".sheet mark"), "words marked by topic")
    address, text = browser.driver.current_url, browser.text(".sheet")
    browser.open()
    browser.driver.get(address)
    browser.until(lambda: browser.text(".sheet") == text, "the same reader")
    browser.open("/strand/99999/label")
    browser.sees("There is no strand 99999", 10)


def test_everything_by_keyboard(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/gather")
    browser.one('[role="tab"]', "Overview")
    for key, heading in (
        ("2", "Passes"),
        ("3", "Vocabulary"),
        ("5", "LDA 6"),
        ("6", "How many topics?"),
        ("7", "Topics"),
        ("8", "What moves"),
        ("9", "Take it with you"),
    ):
        browser.press(key)
        browser.one("h1", heading)
    browser.press("e")
    browser.until(lambda: not browser.all("aside.evidence"), "the evidence to fold")
    browser.driver.refresh()
    browser.one("h1", "Take it with you")
    assert not browser.all("aside.evidence")
    browser.press("e")
    browser.one("aside.evidence")
    browser.press("?")
    browser.one('[aria-label="Keys and actions"]', "rebuild what is out of date")
    browser.press("go to weigh", Keys.ENTER)
    browser.one("h1", "Vocabulary")
    browser.one("button.part", "Terms")
    browser.driver.execute_script("document.querySelectorAll('button.part')[3].focus()")
    browser.press(Keys.ENTER)
    browser.until(lambda: browser.driver.find_elements(By.CSS_SELECTOR, "g[data-mark]"), "the chart")
    browser.driver.execute_script("document.querySelector('g[data-mark]').focus()")
    browser.press(Keys.ARROW_DOWN, Keys.ENTER)
    browser.until(lambda: "ev=term" in browser.driver.current_url, "a term selected")


def test_charts_have_a_table_twin_and_passes_move_by_keyboard(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/track?part=time")
    browser.click("figure button", "table")
    browser.one("figure table td", "2011")
    browser.open(f"/strand/{fitted}/clean")
    browser.one("button.name", "Word length")  # its title, where its kind is short-words
    browser.until(lambda: len(browser.all("button.name")) == 11, "the passes")
    names = [e.text.split("\n")[0] for e in browser.all("button.name")]
    browser.driver.execute_script("document.querySelectorAll('button.name')[3].focus()")
    browser.driver.switch_to.active_element.send_keys(Keys.ALT, Keys.ARROW_UP)
    browser.until(
        lambda: [e.text.split("\n")[0] for e in browser.all("button.name")][2:4] == names[3:1:-1],
        "the pass one place up",
    )
    browser.press("u")
    browser.until(lambda: [e.text.split("\n")[0] for e in browser.all("button.name")] == names, "the passes as before")


def test_nothing_yet_is_said_at_every_station(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "two.txt"
    path.write_text("the of and\nthe of\n")
    browser.bring_in(path)
    for station, words in (
        ("weigh", "No term is left"),
        ("fit", "Press Fit"),
        ("choose", "No fit has been made"),
        ("label", "There are no topics yet"),
        ("track", "There are no topics yet"),
        ("share", "nothing to share yet"),
    ):
        browser.go(station)
        browser.sees(words)
    browser.go("fit")
    browser.click('button[type="submit"]', "Fit")
    browser.sees("The vocabulary is empty")
