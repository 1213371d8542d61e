"""Journeys through Gather: files of every kind, shaping, joining, finding."""

from __future__ import annotations

import json
from pathlib import Path

from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

from skeinwork.demo.generator import Entry
from tests import files
from tests.browser.conftest import Browser


def put(browser: Browser, path: Path, picker: int = 0) -> None:
    """Choose a file on the first page, up to its preview."""
    browser.open()
    found = browser.until(lambda: browser.driver.find_elements(By.CSS_SELECTOR, 'input[type="file"]'), "the pickers")
    found[picker].send_keys(str(path))
    browser.one("section.file h2", seconds=30)


def bring(browser: Browser, total: str) -> None:
    browser.click("button", "Bring in")
    browser.one('[role="tab"]', "Overview", seconds=60)
    browser.sees(total)


def step_done(browser: Browser, said: str) -> None:
    """Wait until a step stands in the list, and every step is done."""
    browser.one("li.step", said, seconds=30)
    browser.until(lambda: not browser.all("li.step.pending"), said, 30)


def log_file(folder: Path, entries: list[Entry]) -> Path:
    """Nested records, some without text or writer; the first two harbours say nearly the same."""
    harbours: dict[str, list[dict[str, object]]] = {}
    for number, entry in enumerate(entries[:150]):
        record: dict[str, object] = {"no": number, "when": entry.row["date"]}
        if number % 15:
            record["content"] = {"body": entry.row["text"]}
        if number % 4:
            record["signed"] = {"role": entry.row["writer"]}
        harbours.setdefault(entry.row["harbour"], []).append(record)
    full = [record for record in harbours["Quellan"] if "content" in record]
    twice = [{**record, "no": f"{record['no']}b"} for record in full[:8]]
    harbours["Quellan"] += twice
    path = folder / "log.json"
    nested = [{"name": name, "log": {"entries": each}} for name, each in harbours.items()]
    path.write_text(json.dumps({"export": {"by": "registry"}, "harbours": nested}))
    return path


def test_from_messy_json_to_a_joined_and_filtered_corpus(
    browser: Browser, tmp_path: Path, entries: list[Entry]
) -> None:
    put(browser, log_file(tmp_path, entries))
    browser.one("button.name.chosen", "entries")
    browser.one("th.text", "content.body")
    browser.sees("in 148 of 158")
    assert browser.axe() == []
    browser.click("button.name", "harbours")
    browser.one("button.name.chosen", "harbours")
    browser.until(lambda: not any("content.body" in e.text for e in browser.all("th.text")), "the harbours' fields")
    browser.click("button.name", "entries")
    browser.one("button.name.chosen", "entries")
    browser.one("th.text", "content.body")
    bring(browser, "158 documents")
    browser.named("Leave out those without any word").click()
    browser.one("li.step", "148", seconds=30)
    join(browser, tmp_path)
    find_and_keep(browser)


def join(browser: Browser, tmp_path: Path) -> None:
    """A second table gives every document its island; what finds no match is listed."""
    table = tmp_path / "islands.csv"
    table.write_text("place,island\nQUELLAN,South\nKELPWICK,North\nNowhere,East\n")
    browser.click("button", "Join a table")
    browser.named("Table to join").send_keys(str(table))
    browser.sees("documents found their row")
    assert browser.axe() == []
    assert "1 rows that no document has" in browser.text()
    browser.click("button", "Join")
    browser.one("li.step", "join islands.csv by harbours.name", seconds=30)
    browser.until(lambda: not browser.all("li.step.pending") and len(browser.all("li.step")) == 3, "the join")
    browser.click('[role="tab"]', "Overview")
    browser.sees("island")
    browser.click("button.bar", "South")
    browser.one("aside h3", "South")


def find_and_keep(browser: Browser) -> None:
    """Filter, keep only these, undo; repeats leave; every step stands in the list."""
    browser.click('[role="tab"]', "Documents")
    browser.choose("Filter by island", "South")
    browser.one("button", "island: South ×")
    browser.click("button", "Keep only these")
    step_done(browser, "keep only island South")
    browser.click("button", "try first")
    browser.sees("would be left")
    browser.click("button", "Leave repeats out")
    browser.until(lambda: len(browser.all("li.step")) == 5 and not browser.all("li.step.pending"), "repeats", 30)
    assert "−" in browser.all("li.step")[-1].text
    before = browser.all("li.step")[-2].text
    browser.click("button", "undo")
    browser.until(lambda: len(browser.all("li.step")) == 4, "the undo")
    browser.until(lambda: browser.all("li.step")[-1].text == before, "the same numbers")
    browser.driver.refresh()
    browser.until(lambda: len(browser.all("li.step")) == 4, "the steps after a reload")


def test_a_folder_of_many_kinds_comes_in_as_one(browser: Browser, tmp_path: Path) -> None:
    folder = tmp_path / "papers"
    (folder / "old").mkdir(parents=True)
    members = {
        "a.docx": files.docx_file(),
        "b.odt": files.odt(),
        "c.pdf": files.pdf(),
        "d.mbox": files.mbox(12),
        "old/e.html": files.PAGE.encode(),
        "f.xlsx": files.xlsx(),
        "picture.png": b"\x89PNG...",
        "note.txt": b"Ice on the ramp.\nFog.",
    }
    for name, data in members.items():
        (folder / name).write_bytes(data)
    put(browser, folder, picker=1)
    browser.one("h2", "papers.zip")
    browser.sees("1 file of the first can’t be used")
    bring(browser, "20 documents")
    browser.sees("such as papers.zip/papers/picture.png")
    browser.click('[role="tab"]', "Left out")
    browser.sees("is a picture")


def test_a_page_is_tried_before_its_part_is_used(browser: Browser, tmp_path: Path) -> None:
    path = tmp_path / "page.html"
    path.write_text(files.PAGE)
    put(browser, path)
    browser.one("td.text", "Night watch")
    browser.driver.execute_script(
        "const s = [...document.querySelectorAll('select')].find((s) => s.value === 'main');"
        "s.value = 'selector'; s.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    browser.write(browser.named("CSS selector"), "p.sign")
    browser.click("button", "Try it on a page")
    browser.one(".sides div", "signed, the keeper")
    assert browser.axe() == []
    browser.click("button", "Use it")
    browser.until(lambda: browser.one("td.text").text == "signed, the keeper", "the part alone")
    browser.write(browser.named("CSS selector"), "p[")
    browser.click("button", "Try it on a page")
    browser.sees("“p[” is not a CSS selector")


def test_pasted_text_is_cut_into_question_and_answer(browser: Browser) -> None:
    browser.open()
    browser.click("button", "Paste text")
    talk = "".join(f"Q: Was day {n} rough? {'And so on. ' * 8}\nA: It was, {n}.\n" for n in range(30))
    box = browser.named("Text to bring in")
    browser.driver.execute_script(
        "arguments[0].value = arguments[1]; arguments[0].dispatchEvent(new Event('input'))", box, talk
    )
    browser.driver.execute_script(
        "const s = arguments[0].parentElement.querySelector('select');"
        "s.value = 'nothing'; s.dispatchEvent(new Event('change'))",
        box,
    )
    browser.click("button", "Take this text")
    browser.one("section.file h2", "Pasted text")
    browser.driver.execute_script(
        "const s = [...document.querySelectorAll('select')].find((s) => s.value === 'nothing');"
        "s.value = 'expression'; s.dispatchEvent(new Event('change', {bubbles: true}))"
    )
    browser.named("Name of who in the corpus")
    bring(browser, "60 documents")
    browser.click("button.bar", "Q")
    browser.sees("30 of 60 documents")


def test_words_in_context_are_sorted_and_saved(browser: Browser, fitted: int) -> None:
    browser.open(f"/strand/{fitted}/gather?tab=documents&find=gale")
    browser.one("button.entry")
    browser.click("button", "in context")
    browser.one("button.line b", "ale")
    browser.click("button", "word after")

    def sorted_by_the_right() -> bool:
        after = [line.text.partition("\n")[2].lower() for line in browser.all("button.line .right")]
        return "by=right" in browser.driver.current_url and after == sorted(after)

    browser.until(sorted_by_the_right, "lines in order")
    href = browser.one("a", "Save as CSV").get_attribute("href") or ""
    answer = browser.server.http.get(href)
    assert answer.status_code == 200 and answer.text.startswith("document,name,left,hit,right")
    browser.click("button.line")
    browser.one(".sheet dl")
    browser.press(Keys.ESCAPE)
    browser.driver.execute_script("document.querySelector('.bar input[type=checkbox]').click()")
    browser.write(browser.named("Find documents"), "(?:z|")
    browser.sees("can't be read")


def test_an_evidence_set_becomes_a_corpus(browser: Browser, entries_file: Path) -> None:
    browser.bring_in(entries_file)
    browser.click("button.bar", "night")
    browser.one("aside h3", "night")
    browser.click("aside button", "As filter")
    browser.one("button", "the evidence set ×")
    browser.click("button", "Leave these out")
    step_done(browser, "leave out the evidence set")
    browser.click('[role="tab"]', "Overview")
    browser.until(
        lambda: [bar.text for bar in browser.all("button.bar")] and "night" not in browser.text(".groups"), "only days"
    )


def test_files_are_added_read_otherwise_and_given_back_by_undo(browser: Browser, tmp_path: Path) -> None:
    head = "id,day,place,entry\n"
    rows = [f"{n},2014-03-{1 + n % 28:02},Quellan,Gale at the outer mooring {n}\n" for n in range(40)]
    first, second = tmp_path / "first.csv", tmp_path / "second.csv"
    first.write_text(head + "".join(rows))
    second.write_text(head.replace("place", "harbour") + "90,2015-03-01,Tarnholt,Ferry late with coal\n")
    browser.bring_in(first)
    browser.sees("40 documents")
    browser.click('[role="tab"]', "Files")
    browser.one("section.file h2", "first.csv")
    assert not browser.one("button", "Bring in 1 file again").is_enabled()
    browser.driver.find_element(By.CSS_SELECTOR, '[aria-label="Files"]').send_keys(str(second))
    browser.one("section.file h2", "second.csv")
    browser.write(browser.named("Name of harbour in the corpus"), "place\t")
    assert browser.axe() == []
    browser.click('[role="tab"]', "Documents")
    browser.click('[role="tab"]', "Files")
    browser.one("section.file h2", "second.csv")
    browser.click("button", "Bring in 2 files again")
    browser.one("button.ply", "41 documents", seconds=60)
    fields = browser.server.get(f"/strands/{browser.strand()}/overview")["fields"]
    assert [(each["name"], each["filled"]) for each in fields] == [("id", 41), ("day", 41), ("place", 41)]
    browser.one("section.file h2", "second.csv")
    browser.choose("Role of entry", "kept")
    browser.click("button", "Bring in 2 files again")
    browser.sees("no field has the role text", 30)
    assert "41 documents" in browser.one("button.ply").text
    browser.press("u")
    browser.one("button.ply", "out of date")
    browser.press("r")
    browser.one("button.ply", "40 documents", seconds=60)
    browser.until(lambda: len(browser.all("section.file")) == 1, "the one file of before")
