"""What happens to an open page when the server dies, comes back, or another tab was faster."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from selenium import webdriver
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser
from tests.shared import COMMAND, Server, children


@pytest.fixture
def own(tmp_path: Path, driver: webdriver.Chrome) -> Iterator[Browser]:
    """A browser with a server of its own, which the test may kill."""
    COMMAND[COMMAND.index("--port") + 1] = str(free_port())
    server = Server(tmp_path / "data")
    browser = Browser(driver, server)
    yield browser
    browser.server.stop()
    COMMAND[COMMAND.index("--port") + 1] = "0"
    driver.get("about:blank")
    driver.get_log("browser")


def free_port() -> int:
    import socket

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port: int = probe.getsockname()[1]
    return port


def test_a_sweep_outlives_the_server_and_the_page(own: Browser, entries_file: Path, tmp_path: Path) -> None:
    own.bring_in(entries_file)
    strand = own.strand()
    own.go("choose")
    own.write(own.named("Topic counts"), "3, 4")
    own.click("button", "Sweep")
    own.until(lambda: own.all("circle.target"), "the first fits", 60)
    kept = {fit["identity"] for fit in own.server.get(f"/strands/{strand}/fits")["fits"]}
    own.server.kill()
    own.click("button.tool", "Dark")
    own.server = Server(tmp_path / "data")
    own.until(lambda: own.all("button") and "interrupted" in own.text(), "the interruption to be said", 30)
    own.click("button", "Continue")
    own.until(lambda: own.all(".knot.working"), "the work to go on")
    own.until(lambda: not own.all(".knot.working"), "the rest of the sweep", 120)
    found = {fit["identity"] for fit in own.server.get(f"/strands/{strand}/fits")["fits"]}
    assert kept < found and len(found) == 6
    own.one("section h2", "suggested")
    own.click("button.tool", "Light")


def test_a_dead_server_is_said_and_the_page_goes_on_when_it_is_back(
    own: Browser, entries_file: Path, tmp_path: Path
) -> None:
    own.bring_in(entries_file)
    own.go("clean")
    own.one("s")
    own.server.kill()
    own.named("stop words on").click()
    own.sees("The server does not answer")
    own.server = Server(tmp_path / "data")
    own.driver.refresh()
    own.one("s")
    own.named("stop words on").click()
    own.sees("These passes are tried here")


def test_a_killed_worker_is_not_noticed(own: Browser, entries_file: Path) -> None:
    own.bring_in(entries_file)
    own.go("choose")
    own.write(own.named("Topic counts"), "3")
    own.click("button", "Sweep")
    own.one(".knot.working", "Choose")
    time.sleep(0.4)
    for pid in children(own.server.process.pid)[:1]:
        os.kill(pid, signal.SIGKILL)
    own.until(lambda: not own.all(".knot.working"), "the sweep", 120)
    assert len(own.server.get(f"/strands/{own.strand()}/fits")["fits"]) == 3


def test_two_tabs_editing_the_same_passes(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.one("s")
    record = browser.server.get(f"/strands/{fitted}")
    wanted = {**record["wanted"], "weigh": {**record["wanted"]["weigh"], "min_documents": 9}}
    answer = browser.server.http.put(
        f"/strands/{fitted}/wanted", json={"revision": record["revision"], "wanted": wanted}
    )
    assert answer.status_code == 200
    browser.named("numbers on").click()
    browser.sees("changed in another tab")
    browser.until(lambda: browser.all('[aria-label="numbers on"]'), "the passes as the other tab left them")
    browser.named("numbers on").click()
    browser.named("numbers off")

    def kept_off() -> bool:
        """The switch shows the change at once; the server has it a moment later."""
        kept = browser.server.get(f"/strands/{fitted}")["wanted"]
        assert kept["weigh"]["min_documents"] == 9
        return not next(p for p in kept["clean"]["passes"] if p["kind"] == "numbers")["on"]

    browser.until(kept_off, "the change on the server")


def test_lists_of_words_are_edited_in_place(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.click("button.name", "Domain words")
    area = browser.one("textarea")
    area.send_keys("ferry, engine,  ferry")
    browser.driver.execute_script("arguments[0].blur()", area)
    browser.one("button.name", "Domain words")
    browser.until(lambda: browser.one("textarea").get_attribute("value") == "ferry, engine", "the list tidied")
    browser.sees("ferry, engine")
    browser.click("button.name", "Word length")
    number = browser.one('input[type="number"]')
    number.send_keys(Keys.CONTROL, "a")
    number.send_keys("5", Keys.TAB)
    browser.sees("under 5 letters")

    def kept() -> bool:
        passes = browser.server.get(f"/strands/{fitted}")["wanted"]["clean"]["passes"]
        found = {each["kind"]: each for each in passes}
        assert found["domain-words"]["words"] == ["ferry", "engine"]
        return bool(found["short-words"]["under"] == 5)

    browser.until(kept, "the change on the server")


def test_the_vocabulary_is_sorted_and_pruned_in_place(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/weigh?part=terms")
    browser.one("button.term")

    def words() -> list[str]:
        return [each.text.split("\n")[0] for each in browser.all("button.term")][:8]

    first = words()
    browser.click(".head button", "term")
    browser.until(lambda: words() != first and words() == sorted(words()), "terms in order of the alphabet")
    assert "tsort=display" in browser.driver.current_url
    browser.click("button.part", "Prune")
    terms = browser.one("dl").text
    browser.named("In at least so many documents").send_keys(Keys.PAGE_UP * 3)
    browser.until(lambda: browser.one("dl").text != terms, "fewer terms")
    browser.sees("Out of date")
    browser.until(
        lambda: browser.server.get(f"/strands/{fitted}")["wanted"]["weigh"]["min_documents"] == 5, "the limit wanted"
    )
    while browser.one("dl").text != terms:
        browser.click("button", "undo")
        time.sleep(0.3)
    browser.choose("Longest n-gram", "2")
    browser.until(lambda: browser.server.get(f"/strands/{fitted}")["wanted"]["weigh"]["longest"] == 2, "bigrams wanted")
    browser.one('[role="slider"]')


def test_quick_changes_neither_overwrite_nor_contradict_each_other(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/clean")
    browser.one("s")
    switches = browser.driver.find_elements(By.CSS_SELECTOR, '[role="switch"][aria-label$=" on"]')
    assert len(switches) == 10
    browser.driver.execute_script(
        "(async (all) => { for (const s of all) {"
        " s.click(); await new Promise((r) => setTimeout(r, 5)) } })(arguments[0])",
        switches,
    )

    def all_off() -> bool:
        passes = browser.server.get(f"/strands/{fitted}")["wanted"]["clean"]["passes"]
        return not any(each["on"] for each in passes)

    browser.until(all_off, "every pass switched off")
    assert "another tab" not in browser.text()
