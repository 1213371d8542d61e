"""What the eye checks, as far as a program can: nothing cut, nothing jumping, many topics, dark."""

from __future__ import annotations

import time
from pathlib import Path

import pytest
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from tests.browser.conftest import Browser
from tests.shared import Server

LONG = "A label so long that it would not fit on any line of any list, chip or panel whatever the width"


@pytest.fixture(scope="module")
def many(server: Server, ready: int) -> int:
    """A fork of the ready strand with sixty topics, one of them with a very long label."""
    strand: int = server.post(f"/strands/{ready}/fork")["strand"]
    job = server.post(f"/strands/{strand}/fits", topics=60, iterations=20)["job"]
    server.wait(job, "done")
    topics = server.get(f"/strands/{strand}/topics")
    note = {"fit": topics["fit"], "revision": topics["topics"][0]["revision"], "label": LONG, "confirmed": True}
    assert server.http.put(f"/strands/{strand}/topics/0", json=note).status_code == 200
    return strand


def test_sixty_topics_and_a_long_label(browser: Browser, many: int) -> None:
    for station in ("fit", "label?ev=topic%3D0", "track?part=time&t=0&t=30&t=59&ev=topic%3D0", "share"):
        browser.open(f"/strand/{many}/{station}")
        browser.one("h1")
        time.sleep(0.5)
        assert browser.overflow() <= 1, station
    browser.open(f"/strand/{many}/label?ev=topic%3D59")
    browser.until(lambda: len(browser.driver.find_elements(By.CSS_SELECTOR, ".topic")) == 60, "sixty topics")
    pairs = browser.driver.execute_script(
        "return [...document.querySelectorAll('.topic .swatch')].map((s) => s.innerHTML)"
    )
    assert len(set(pairs)) == 60


def test_swatches_keep_their_dye_on_every_screen(browser: Browser, fitted: int) -> None:
    seen = set()
    for station, css in (
        ("fit", "button.topic .swatch"),
        ("label", ".topic .swatch"),
        ("track?part=time&t=0", ".chip .swatch"),
    ):
        browser.open(f"/strand/{fitted}/{station}")
        swatch = browser.one(css)
        seen.add(swatch.find_element(By.CSS_SELECTOR, "rect[fill]").get_attribute("fill"))
    assert len(seen) == 1


def test_the_evidence_is_resized_by_keyboard_and_pages(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/label?ev=topic%3D0")
    first = browser.one("aside article b").text
    handle = browser.named("Width of the evidence")
    before = browser.one("aside.evidence").rect["width"]
    handle.send_keys(Keys.ARROW_LEFT * 3)
    browser.until(lambda: browser.one("aside.evidence").rect["width"] > before, "a wider evidence")
    browser.click("aside button", "More")
    browser.until(lambda: browser.one("aside article b").text != first, "the next page")
    assert "evp=8" in browser.driver.current_url
    browser.click("aside button", "Back")
    browser.one("aside article b", first)


def test_the_reader_goes_through_the_evidence(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/label?ev=topic%3D1")
    names = [e.text for e in browser.until(lambda: browser.all("aside article b"), "the evidence")]
    browser.click("aside article button")
    browser.one(".sheet h2", names[0])
    for name in names[1:3]:
        browser.press("j")
        browser.one(".sheet h2", name)
    browser.press("k")
    browser.one(".sheet h2", names[1])
    browser.write(browser.named("Find in this document"), "watch|harbour")
    browser.driver.find_element(By.CSS_SELECTOR, '.sheet input[type="checkbox"]').click()
    browser.until(lambda: browser.all(".sheet mark.found"), "places found")
    browser.one(".sheet", "place")
    browser.press(Keys.ESCAPE)


def test_the_evidence_becomes_a_filter(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/track?ev=topic%3D0%26field%3Dharbour%26value%3DKelpwick")
    total = int(browser.one("aside p", " of ").text.split("·")[1].split("of")[0].replace("\u202f", ""))
    browser.click("aside button", "As filter")
    browser.one("button", "the evidence set")
    browser.sees(f"{total} document")
    browser.click("button", "the evidence set")
    browser.until(lambda: "set=" not in browser.driver.current_url, "the filter gone")


def test_a_ply_offers_its_versions_and_a_fork(browser: Browser, fitted: int) -> None:
    fit = {"method": "lda", "topics": 4, "iterations": 20}
    browser.server.wait(browser.server.post(f"/strands/{fitted}/fits", **fit)["job"], "done")
    browser.open(f"/strand/{fitted}/label")
    browser.click("button.ply", "LDA 4")
    browser.one(".version", "the present one")
    browser.click(".version", "topics: 6")
    browser.one("button.ply", "LDA 6")
    browser.click("button.ply", "LDA 6")
    browser.click(".version", "topics: 4")
    browser.one("button.ply", "LDA 4")
    browser.click("button.ply", "Ready")
    browser.click("button", "Fork this strand")
    browser.until(lambda: browser.strand() != fitted, "the new strand")
    browser.one("h1", "Passes")


def test_the_theme_is_switched_and_kept(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/gather")
    ground = "return getComputedStyle(document.body).backgroundColor"
    light = browser.driver.execute_script(ground)
    browser.named("Dark theme").click()
    dark = browser.until(lambda: (c := browser.driver.execute_script(ground)) != light and c, "the dark paper")
    browser.driver.refresh()
    browser.one("h1")
    assert browser.driver.execute_script(ground) == dark
    browser.named("Light theme").click()


def test_single_keys_can_be_switched_off(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/gather")
    browser.one("h1")
    browser.press("?")
    browser.one('[aria-label="Keys and actions"]')
    browser.driver.execute_script("document.querySelector('.help input[role=switch]').click()")
    browser.press(Keys.ESCAPE)
    browser.driver.execute_script("document.querySelector('.veil')?.click(); document.activeElement.blur()")
    browser.press("2")
    time.sleep(0.3)
    assert "/gather" in browser.driver.current_url
    browser.driver.execute_script("localStorage.removeItem('skeinwork-keys')")


def test_charts_and_tables_are_saved(browser: Browser, fitted: int, tmp_path: Path) -> None:
    browser.driver.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    browser.open(f"/strand/{fitted}/label?ev=topic%3D0")
    browser.until(lambda: browser.all("figure svg g.mark"), "the words")
    for kind in ("CSV", "SVG", "PNG"):
        browser.click("figure button", kind)
        browser.until(lambda kind=kind: list(tmp_path.glob(f"*.{kind.lower()}")), f"the {kind} file")
    rows = next(tmp_path.glob("*.csv")).read_text().splitlines()
    assert rows[0].startswith("word,") and len(rows) == 15
    drawing = next(tmp_path.glob("*.svg")).read_text()
    assert "<svg" in drawing and "pattern" in drawing and "var(--" not in drawing.split("<style")[0][:200]
    assert next(tmp_path.glob("*.png")).read_bytes()[:4] == b"\x89PNG"


def test_many_points_are_drawn_on_a_canvas_and_lead_to_their_documents(
    browser: Browser, fitted: int, tmp_path: Path
) -> None:
    """Six topics by month: more points than elements can be; pointer and arrow keys find each."""
    browser.driver.execute_cdp_cmd("Browser.setDownloadBehavior", {"behavior": "allow", "downloadPath": str(tmp_path)})
    topics = "&".join(f"t={topic}" for topic in range(6))
    browser.open(f"/strand/{fitted}/track?part=time&by=none&each=month&{topics}")
    canvas = browser.one("figure canvas")
    assert len(browser.all("figure [data-mark]")) == 1
    drawn = browser.driver.execute_script(
        "const c = arguments[0]; const d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data;"
        "return d.filter((value, at) => at % 4 == 3 && value > 0).length",
        canvas,
    )
    assert drawn > 1000
    mark = browser.driver.find_element(By.CSS_SELECTOR, "figure [data-mark]")
    first = mark.find_element(By.TAG_NAME, "title").get_attribute("textContent")
    browser.driver.execute_script("arguments[0].focus()", mark)
    browser.press(Keys.ARROW_RIGHT)
    browser.until(
        lambda: mark.find_element(By.TAG_NAME, "title").get_attribute("textContent") != first, "the next point"
    )
    browser.press(Keys.ENTER)
    browser.until(lambda: "at=2011-02" in browser.driver.current_url, "the point in the address")
    browser.one("aside article")
    browser.sees("Selected:")
    browser.click("figure button", "SVG")
    saved = browser.until(lambda: list(tmp_path.glob("*.svg")), "the SVG file")[0].read_text()
    assert "<image" in saved and "data:image/png" in saved


def test_a_job_shows_its_progress_in_the_tray_and_is_cancelled_there(browser: Browser, fitted: int) -> None:
    job = browser.server.post(f"/strands/{fitted}/fits", topics=7, iterations=20000)["job"]
    browser.open(f"/strand/{fitted}/fit")
    browser.sees("Topics forming", 30)
    assert len(browser.all(".forming li")) == 7
    browser.click("button.tool", "Work")
    browser.one(".tray article", "Fit LDA 7, seed 1")
    browser.one(".tray article", "left", 30)
    browser.click(".tray button", "Cancel")
    browser.one(".tray article", "cancelled")
    browser.server.wait(job, "cancelled")
    browser.one("h1", "LDA ")


def test_the_long_lists_scroll_without_gaps(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "many.txt"
    path.write_text("".join(f"Entry {n} of the ferry and the gale at the quay\n" for n in range(20_000)))
    browser.bring_in(path)
    browser.open(f"/strand/{browser.strand()}/gather?tab=documents")
    browser.one("button.entry", "Entry 0")
    for share in (0.5, 1.0, 0.1):
        browser.driver.execute_script(
            "const s = document.querySelector('.p-virtualscroller'); s.scrollTop = s.scrollHeight * arguments[0]", share
        )
        browser.until(
            lambda: browser.all("button.entry") and all(e.text for e in browser.all("button.entry")), "filled rows"
        )
    browser.driver.execute_script(
        "const s = document.querySelector('.p-virtualscroller'); s.scrollTop = s.scrollHeight"
    )
    browser.one("button.entry", "Entry 19999")
