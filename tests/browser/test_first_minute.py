"""The first minute: the demo, skeins on the start page, a line on each station; a server that is gone."""

from __future__ import annotations

import os
import signal
import time
from pathlib import Path

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser
from tests.browser.test_recovery import own
from tests.shared import TABLE, Server

__all__ = ("own",)
ALIVE = (("1", "Gather"), ("2", "Passes"), ("3", "Vocabulary"), ("6", "How many topics?"))


def test_the_demo_is_opened_and_says_once_what_to_look_at(browser: Browser) -> None:
    browser.open()
    browser.driver.execute_script("localStorage.removeItem('skeinwork-hints')")
    browser.click("button", "Open the demo")
    browser.until(lambda: "/track" in browser.driver.current_url, "the demo", 60)
    strand = browser.strand()
    browser.until(
        lambda: browser.server.get(f"/strands/{strand}")["plies"][2]["state"] == "ready", "the demo's matrix", 90
    )
    browser.one(".hint", "Tarnholt")
    browser.click(".hint button", "got it")
    browser.until(lambda: not browser.all(".hint"), "the line to go")
    for key, words in ALIVE:
        browser.press(key)
        browser.one("h1", "Sollen Harbours" if words == "Gather" else words)
        browser.one(".hint")
        browser.one("aside article", seconds=30) if key in "123" else None
    browser.press("8")
    browser.driver.refresh()
    browser.one(".station")
    assert not browser.all(".hint")
    browser.press("6")
    browser.sees("Suggested: ")  # with or without the demo worked through
    browser.server.post(f"/skeins/{browser.server.get('/skeins')[0]['id']}/copy")
    browser.open()
    browser.one("li", "Sollen Harbours, copy")


def test_a_skein_is_renamed_deleted_and_brought_back(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "rename me.csv"
    path.write_bytes(TABLE)
    browser.bring_in(path)
    browser.click("a", "skein")
    row = browser.one("li", "rename me")
    row.find_elements("css selector", "button")[0].click()
    box = browser.named("Name of the skein")
    browser.write(box, "Called otherwise")
    box.send_keys(Keys.ENTER)
    browser.one("li", "Called otherwise")
    browser.until(lambda: "rename me" not in browser.text(), "the old name to go")
    row = browser.one("li", "Called otherwise")
    row.find_elements("css selector", "button")[-1].click()
    browser.sees("1 strand with 0 labels, 0 notes and 0 events would go")
    browser.click("li button", "Delete")
    browser.one("li s", "Called otherwise")
    browser.click("li button", "bring back")
    browser.one("li a", "Called otherwise")
    browser.one("th", "Called otherwise")  # what it holds on disk
    row = browser.one("li", "Called otherwise")
    row.find_elements("css selector", "button")[-1].click()
    browser.click("li button", "Delete")
    browser.sees("1 deleted skein still holds")
    browser.click("section p button", "Remove now")
    browser.click("section p button", "Remove for good")
    browser.until(lambda: "Called otherwise" not in browser.text(), "the skein to go for good")


def test_a_long_document_comes_in_parts_as_one_reads(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "long.txt"
    words = " ".join(f"gale{at} ferry quay" for at in range(6000))
    path.write_text(words)
    browser.bring_in(path)
    browser.open(browser.driver.current_url.removeprefix(browser.base).split("?")[0] + "?read=0")
    browser.one(".sheet", "gale0")
    parts = len(words) // 24_000 + 1
    browser.sees(f"of {parts}")

    def at_end() -> bool:
        scroll = "document.querySelectorAll('.sheet, .sheet .body').forEach(b => b.scrollTop = b.scrollHeight)"
        browser.driver.execute_script(scroll)
        return "gale5999" in browser.text(".sheet")

    browser.until(at_end, "the last part")
    browser.until(lambda: len(browser.all(".sheet .passage")) <= 4, "the first parts to go")
    box = browser.named("Find in this document")
    browser.write(box, "gale3000")
    box.send_keys(Keys.ENTER)
    browser.sees("1 place")
    browser.one(".sheet mark", "gale3000")


@pytest.mark.long
def test_a_frozen_server_is_said_within_three_seconds_and_found_again(own: Browser, tmp_path: Path) -> None:
    path = tmp_path / "few.csv"
    path.write_bytes(TABLE)
    own.bring_in(path)
    own.go("choose")
    own.write(own.named("Topic counts"), "2, 3, 5")
    os.kill(own.server.process.pid, signal.SIGSTOP)
    begun = time.monotonic()
    own.one(".gone", "The server does not answer", seconds=10)
    assert time.monotonic() - begun < 4.5
    os.kill(own.server.process.pid, signal.SIGCONT)
    own.until(lambda: not own.all(".gone"), "the server to be found again")
    assert own.named("Topic counts").get_attribute("value") == "2, 3, 5"
    own.server.kill()
    own.one(".gone", "It is looked for all the time", seconds=10)
    own.server = Server(tmp_path / "data")
    own.until(lambda: not own.all(".gone"), "the server to be found again", 30)
    assert own.named("Topic counts").get_attribute("value") == "2, 3, 5"
    own.click("button", "Sweep")
    own.one("section h2", "suggested", seconds=60)


LATE = "window.fetch = async (...a) => { if (/fits[?]/.test(a[0].url)) await late; return real(...a) }"


def test_a_suggestion_that_arrives_late_does_not_mix_with_what_is_written(browser: Browser, fitted: int) -> None:
    held = browser.driver.execute_cdp_cmd(
        "Page.addScriptToEvaluateOnNewDocument",
        {"source": f"const real = fetch, late = new Promise((now) => (window.arrive = now)); {LATE}"},
    )
    try:
        browser.open(f"/strand/{fitted}/choose")
        box = browser.named("Topic counts")
        box.send_keys(Keys.CONTROL, "a")
        assert "2 seeds" not in browser.text()
        browser.driver.execute_script("window.arrive()")
        browser.sees("2 seeds")
        box.send_keys("2, 3, 5")
        assert box.get_attribute("value") == "2, 3, 5"
        box.send_keys(Keys.CONTROL, "a")
        box.send_keys(Keys.BACKSPACE, Keys.TAB)
        assert box.get_attribute("value") not in ("", "2, 3, 5")
    finally:
        browser.driver.execute_cdp_cmd("Page.removeScriptToEvaluateOnNewDocument", held)


def test_two_texts_of_a_record_and_sentences_become_documents(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "reports.csv"
    rows = "".join(
        f"{n},{('Kelpwick', 'Quellan')[n % 2]},"
        f"Buoy {n} is adrift off the outer ramp. Wind rising fast.,Reset it at dusk.\n"
        for n in range(30)
    )
    path.write_text(f"n,harbour,report,reply\n{rows}")
    browser.open()
    picker = browser.until(lambda: browser.driver.find_element("css selector", 'input[type="file"]'), "the file picker")
    picker.send_keys(str(path))
    browser.choose("Role of reply", "text")
    browser.sees("each of them becomes a document of its own")
    browser.click("button", "Bring in", seconds=30)
    browser.one('[role="tab"]', "Overview", seconds=60)
    browser.sees("60 documents")
    browser.one("section h2", "text field")
    browser.click("button.bar", "reply")
    browser.one("aside h3", "reply")
