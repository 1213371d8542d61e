"""Every format, from small files written without our readers."""

from __future__ import annotations

import gzip
import io
import json
import tarfile
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from skeinwork.core.corpus.gather import GatherSettings, gather, preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import archive, html, nested, readers, tables, xml_records
from skeinwork.core.formats.readers import detect_settings, read_records
from skeinwork.core.formats.records import FileSettings, Noted, Rejected, Row
from tests import files
from tests.files import ENTRIES

FILES = {
    "a.xlsx": files.xlsx(),
    "a.ods": files.ods(),
    "a.odt": files.odt(),
    "a.docx": files.docx_file(),
    "a.epub": files.epub(),
    "a.pdf": files.pdf(),
    "a.eml": files.eml(),
    "a.mbox": files.mbox(3),
    "a.parquet": files.parquet(),
    "a.json": files.nested_json().encode(),
    "a.xml": files.XML.encode(),
    "a.html": files.PAGE.encode(),
    "a.ris": files.RIS.encode(),
    "a.bib": files.BIBTEX.encode(),
    "a.md": b"# Log\n\nIce *again*.\n\n## Night\n\nQuiet.",
}


def read(data: bytes, name: str, **changes: object) -> list[Row]:
    """The rows of a file by its detected settings."""
    wanted = detect_settings(data, name).model_copy(update=changes)
    return [each for each in read_records(data, name, wanted) if isinstance(each, Row)]


def troubles(data: bytes, name: str) -> list[str]:
    found = read_records(data, name, detect_settings(data, name))
    return [f"{each.place} {each.reason}" for each in found if isinstance(each, Rejected | Noted)]


@pytest.mark.parametrize(
    ("name", "kind"),
    [
        ("a.xlsx", "spreadsheet"),
        ("a.ods", "spreadsheet"),
        ("a.odt", "odt"),
        ("a.docx", "docx"),
        ("a.epub", "epub"),
        ("a.pdf", "pdf"),
        ("a.eml", "mail"),
        ("a.mbox", "mail"),
        ("a.parquet", "parquet"),
        ("a.json", "json"),
        ("a.xml", "xml"),
        ("a.html", "html"),
        ("a.ris", "ris"),
        ("a.bib", "bibtex"),
        ("a.md", "markdown"),
    ],
)
def test_a_file_is_known_by_its_content_whatever_its_name(name: str, kind: str) -> None:
    assert detect_settings(FILES[name], name).format == kind
    if kind != "markdown":
        assert detect_settings(FILES[name], "file.bin").format == kind


@pytest.mark.parametrize("name", FILES)
def test_every_format_keeps_text_and_fields(name: str) -> None:
    rows = read(FILES[name], name)
    whole = "\n".join(cell for row in rows for cell in row.cells.values())
    assert (ENTRIES[0] if name != "a.md" else "Ice again.") in whole or name == "a.ods"
    assert all(row.cells for row in rows)


@pytest.mark.parametrize("name", FILES)
@settings(max_examples=25, deadline=None)
@given(at=st.floats(0, 1), rubbish=st.binary(max_size=20))
def test_a_damaged_file_is_refused_or_read_but_never_a_crash(name: str, at: float, rubbish: bytes) -> None:
    data = FILES[name]
    place = int(at * len(data))
    for broken in (data[:place], data[:place] + rubbish + data[place + len(rubbish) :]):
        try:
            list(read_records(broken, name, detect_settings(broken, name)))
        except BadInputError:
            continue


def test_a_spreadsheet_reads_the_fullest_sheet_or_the_one_asked_for() -> None:
    rows = read(FILES["a.xlsx"], "a.xlsx")
    assert [row.line for row in rows] == [3, 4, 5]
    assert rows[0].cells == {"harbour": "Quellan", "when": "2014-01-14", "hours": "3", "text": ENTRIES[0]}
    assert tables.sheets(FILES["a.xlsx"], "a.xlsx") == ["Entries", "Notes"]
    assert read(FILES["a.xlsx"], "a.xlsx", sheet="Notes", header=False)[0].cells == {"column 1": "nothing here"}
    with pytest.raises(BadInputError, match="no sheet “Odd”.*Entries, Notes"):
        read(FILES["a.xlsx"], "a.xlsx", sheet="Odd")
    assert [row.cells["text"] for row in read(FILES["a.ods"], "a.ods")] == list(ENTRIES)


def test_nested_json_finds_its_records_and_keeps_what_holds_them() -> None:
    data = FILES["a.json"]
    assert detect_settings(data, "a.json").records == "harbours/entries"
    rows = [row.cells for row in read(data, "a.json")]
    assert rows[0]["harbours.name"] == "Kelpwick" and rows[0]["body.text"] == ENTRIES[0]
    assert "body.text" not in rows[1] and "by.name" not in rows[2]
    assert rows[2]["tags"] == "cod; scale" and rows[2]["made"] == "2014-02-01"
    assert [row.cells["name"] for row in read(data, "a.json", records="harbours")] == ["Kelpwick", "Quellan"]


def test_the_outline_counts_where_names_are_missing() -> None:
    root = nested.outline(json.loads(FILES["a.json"]))
    entries = root.children["harbours"].children["entries"]
    assert (entries.count, entries.lists) == (3, True)
    assert entries.children["by"].holders == 2
    assert entries.children["body"].children["text"].holders == 2


def test_a_list_that_breaks_off_gives_what_stands_before_the_break() -> None:
    data = b'[{"text": "one"}, {"text": "two"}, {"text": "thr'
    assert [row.cells["text"] for row in read(data, "a.json")] == ["one", "two"]
    assert "breaks off" in troubles(data, "a.json")[0]
    with pytest.raises(BadInputError, match="line 1, column"):
        read(b'{"a": [{"text": "x"', "a.json")


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.dictionaries(st.text("abc/~.", min_size=1, max_size=4), st.text(min_size=1, max_size=9)), min_size=1)
)
def test_records_at_a_place_are_those_put_there(records: list[dict[str, str]]) -> None:
    value = {"x/y": {"list": [{"inner": each} for each in records]}, "z": 1}
    found = list(nested.records_at(value, "x~1y/list/inner"))
    assert [{k: v for k, v in each.items() if k != "z"} for each in found] == records or any(
        "." in key or key == "z" for each in records for key in each
    )


def test_xml_gives_elements_with_their_line_and_refuses_what_reaches_outside() -> None:
    rows = read(FILES["a.xml"], "a.xml")
    assert [row.line for row in rows] == [4, 5, 8]
    assert rows[0].cells["text"] == f"{ENTRIES[0]} Twice over."
    assert rows[1].cells["tag"] == "ice; ramp" and rows[2].cells["harbour.@name"] == "Quellan"
    bomb = b'<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa">]><x>&a;</x>'
    with pytest.raises(BadInputError, match="declares a document type"):
        xml_records.parse(bomb, "a.xml")
    with pytest.raises(BadInputError, match="line 1"):
        xml_records.parse(b"<a><b></a>", "a.xml")


def test_very_many_elements_of_one_name_are_read_in_time_in_step_with_their_number() -> None:
    many = "<log>" + "".join(f"<e><t>entry {n}</t></e>" for n in range(30_000)) + "</log>"
    rows = read(f"<?xml version='1.0'?>{many}".encode(), "a.xml")
    assert [row.cells["t"] for row in rows] == [f"entry {n}" for n in range(30_000)]


def test_a_page_gives_its_main_text_and_what_it_says_of_itself() -> None:
    (row,) = read(FILES["a.html"], "a.html")
    assert row.cells["text"] == (f"Night watch\n\n{ENTRIES[0]}\n\n{ENTRIES[1]}\nIceberg seen.\n\nsigned, the keeper")
    assert (row.cells["title"], row.cells["language"], row.cells["date"]) == ("Log of Kelpwick", "en-GB", "2014-01-14")
    (whole,) = read(FILES["a.html"], "a.html", page="whole")
    assert "The whole log" in whole.cells["text"] and "var p" not in whole.cells["text"]
    (part,) = read(FILES["a.html"], "a.html", page="selector", selector="main p, p.sign")
    assert part.cells["text"].endswith("seen.\n\nsigned, the keeper")
    assert "Night" not in part.cells["text"]


def test_a_selector_that_is_none_or_names_nothing_is_said() -> None:
    for selector in ("p[", "", "!!"):
        with pytest.raises(BadInputError, match="CSS selector"):
            read(FILES["a.html"], "a.html", page="selector", selector=selector)
    found = read_records(FILES["a.html"], "a.html", FileSettings(format="html", page="selector", selector="table"))
    assert "nothing that the selector" in next(r.reason for r in found if isinstance(r, Rejected))


@settings(max_examples=60, deadline=None)
@given(st.lists(st.text("abcdefg hij", min_size=1).filter(str.strip), min_size=1, max_size=6))
def test_the_text_of_a_page_is_its_paragraphs(paragraphs: list[str]) -> None:
    page = "<body>" + "".join(f"<p>{text}</p>" for text in paragraphs) + "</body>"
    found, _ = html.page_text(page, FileSettings(page="whole"))
    assert found == "\n\n".join(" ".join(text.split()) for text in paragraphs)


def test_office_documents_keep_order_headings_and_authors() -> None:
    (odt,) = read(FILES["a.odt"], "a.odt")
    assert odt.cells["text"].split("\n\n")[1] == f"{ENTRIES[0]}\nSecond  line"
    assert "footnote" not in odt.cells["text"] and odt.cells["author"] == "the warden"
    (word,) = read(FILES["a.docx"], "a.docx")
    assert [title for _, _, title in word.breaks] == ["January", "February"]
    assert "wind\t12kn" in word.cells["text"] and word.cells["title"] == "Log of Quellan"
    for row in (odt, word):
        assert all(row.cells["text"][at:].startswith(title) for _, at, title in row.breaks)
    (book,) = read(FILES["a.epub"], "a.epub")
    assert book.cells["text"].index("Day 1") < book.cells["text"].index("Day 0")


def test_a_pdf_has_pages_and_says_when_it_is_only_pictures() -> None:
    (row,) = read(FILES["a.pdf"], "a.pdf")
    assert [row.cells["text"][at : at + 4] for _, at, _ in row.breaks] == ["Gale", "Ferr", "Two "]
    assert "no text layer" in troubles(files.pdf(("", "")), "scan.pdf")[0]
    assert "1 of 2 pages have no text" in troubles(files.pdf(("", "Ice.")), "half.pdf")[0]


def test_mail_gives_text_headers_and_names_of_what_is_attached() -> None:
    (row,) = read(files.eml(1, page=True, attached=True), "a.eml")
    assert row.cells["text"] == f"{ENTRIES[1]}\n\nSecond."
    assert (row.cells["title"], row.cells["date"], row.cells["attachments"]) == (
        "Entry 1: störm",
        "2014-01-14",
        "chart.png",
    )


def test_a_mailbox_is_cut_at_its_messages_only() -> None:
    data = files.mbox(40)
    rows = read(data, "a.mbox")
    assert len(rows) == 40
    assert "\nFrom now on" in rows[0].cells["text"]
    lines = data.split(b"\n")
    assert all(lines[row.line - 1].startswith(b"From keeper") for row in rows)
    headless = data + b"From x\n\x00\xff\n\n"
    assert len(read(headless, "a.mbox")) == 40


def test_references_keep_abstracts_and_say_what_is_broken() -> None:
    rows = [row.cells for row in read(FILES["a.ris"], "a.ris")]
    assert rows[0]["author"] == "Ferrant, Orrin; Lisk, Maud" and rows[0]["date"] == "2014/01"
    assert rows[1] == {"type": "JOUR", "title": "Ice on ramps", "abstract": f"{ENTRIES[1]} and so on."}
    bib = [row.cells for row in read(FILES["a.bib"], "a.bib")]
    assert bib[0]["author"] == "Ferrant, Orrin; Lösk, Maud" and bib[0]["source"] == "Harbour Notes"
    assert bib[1]["abstract"] == ENTRIES[1]
    assert "not a readable entry" in troubles(FILES["a.bib"], "a.bib")[0]


def test_markdown_keeps_blocks_and_the_fields_of_its_heading() -> None:
    (row,) = read(b"---\nharbour: Quellan\ntags: [ice, fog]\n---\n# Log\n\n- a\n- b\n", "a.md")
    assert row.cells["harbour"] == "Quellan" and row.cells["tags"] == "ice; fog"
    assert row.cells["text"] == "Log\n\na\nb" and row.cells["title"] == "Log"


def test_parquet_flattens_what_is_nested() -> None:
    rows = [row.cells for row in read(FILES["a.parquet"], "a.parquet")]
    assert rows[0] == {"text": ENTRIES[0], "hours": "1", "about.harbour": "Quellan"}
    assert rows[2]["hours"] == ""


def test_an_archive_reads_each_file_by_its_kind_and_says_what_it_leaves_out() -> None:
    members = {f"in/{name}": data for name, data in FILES.items()}
    odd = {
        "../out.txt": b"x",
        "in.zip": files.zipped({"a": "b"}),
        "p.png": b"\x89PNG1",
        "empty.txt": b"",
        "__MACOSX/a": b"1",
        "note.txt": b"One\ndocument.",
    }
    data = files.zipped({**members, **odd})
    rows = read(data, "all.zip")
    assert {row.cells["file"] for row in rows} == {*members, "note.txt"}
    assert [row.cells["text"] for row in rows if row.place == "note.txt"] == ["One\ndocument."]
    assert {row.cells.get("text") for row in rows if row.place == "in/a.ris"} >= {ENTRIES[0]}
    said = " | ".join(troubles(data, "all.zip"))
    for words in ("../out.txt has a path outside", "in.zip is an archive inside", "picture", "empty"):
        assert words in said


def tar(mode: str) -> bytes:
    out = io.BytesIO()
    with tarfile.open(fileobj=out, mode=mode) as made:  # type: ignore[call-overload]
        for at, text in enumerate(ENTRIES):
            entry = tarfile.TarInfo(f"log/{at}.txt")
            entry.size = len(text)
            made.addfile(entry, io.BytesIO(text.encode()))
        link = tarfile.TarInfo("log/link")
        link.type, link.linkname = tarfile.SYMTYPE, "/etc/passwd"
        made.addfile(link)
    return out.getvalue()


@pytest.mark.parametrize("mode", ["w:", "w:gz", "w:bz2", "w:xz"])
def test_tar_files_are_read_packed_or_not_and_links_are_left(mode: str) -> None:
    assert [row.cells["text"] for row in read(tar(mode), "log.tar")] == list(ENTRIES)
    assert "is a link" in troubles(tar(mode), "log.tar")[0]
    with pytest.raises(BadInputError, match="damaged or breaks off"):
        read(tar(mode)[: 1560 if mode == "w:" else len(tar(mode)) // 3], "log.tar")


def test_a_single_packed_file_is_read() -> None:
    rows = read(gzip.compress(b"text,n\nice,1\nfog,2\n"), "log.csv.gz")
    assert [row.cells["text"] for row in rows] == ["ice", "fog"]


def test_files_packed_one_by_one_in_a_folder_are_read() -> None:
    packed = files.zipped({f"{n}.txt.gz": gzip.compress(text.encode()) for n, text in enumerate(ENTRIES)})
    rows = read(packed, "logs.zip")
    assert [row.cells["text"] for row in rows] == list(ENTRIES)
    assert [row.place for row in rows] == ["0.txt", "1.txt", "2.txt"]


def test_of_thousands_of_fields_the_fullest_stay_and_the_rest_is_said(tmp_path: Path) -> None:
    rows = [{"text": "ice on the ramp", "n": n, f"odd{n}": n} for n in range(1000)]
    path = tmp_path / "x.jsonl"
    path.write_text("".join(json.dumps(row) + "\n" for row in rows))
    found = preview(path.read_bytes(), path.name, detect_settings(path.read_bytes(), path.name))
    assert len(found.columns) <= 300 and {"text", "n"} <= set(found.columns)
    wanted = FileSettings(format="json-lines", roles={"text": "text", "odd999": "group"})
    corpus, trouble = gather([(path, path.name)], GatherSettings(files=(wanted,)))
    names = [column.name for column in corpus.columns]
    assert len(names) <= 301 and {"n", "odd999", "odd0"} <= set(names)
    assert "fields that few documents have were left out" in trouble[-1].reason


def test_bombs_are_refused_naming_the_limit(monkeypatch: pytest.MonkeyPatch) -> None:
    bomb = files.zipped({"a.txt": b"0" * 30_000_000})
    with pytest.raises(BadInputError, match=r"over 200 times its size.*unpack it first"):
        read(bomb, "bomb.zip")
    monkeypatch.setenv("SKEINWORK_ARCHIVE_LIMIT", "1")
    for name, data in (
        ("a.zip", files.zipped({"a": b"x" * 2_000_000})),
        ("a.gz", gzip.compress(b"x" * 2_000_000)),
        ("a.tar.gz", _tar_of(2_000_000)),
    ):
        with pytest.raises(BadInputError, match="1,000,000 bytes"):
            read(data, name)


def _tar_of(size: int) -> bytes:
    out = io.BytesIO()
    with tarfile.open(fileobj=out, mode="w:gz") as made:
        entry = tarfile.TarInfo("a.txt")
        entry.size = size
        made.addfile(entry, io.BytesIO(b"x" * size))
    return out.getvalue()


@given(st.permutations([("b/x.txt", b"1"), ("a.txt", b"2"), ("c.txt", b"")]))
def test_a_folder_is_packed_to_the_same_bytes_in_any_order(members: list[tuple[str, bytes]]) -> None:
    packed = archive.pack(members)
    assert packed == archive.pack(sorted(members))
    assert {m[0]: m[1] for m in archive.members(packed, "f.zip") if isinstance(m, tuple)} == dict(members)


def test_the_beginning_of_a_long_file_is_enough_for_its_preview(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(readers, "HEAD", 1000)
    table = "n,text\n" + "".join(f"{n},entry {n}\n" for n in range(2000))
    for name, data, whole in (
        ("a.csv", table.encode(), False),
        ("a.json", FILES["a.json"] * 3, True),
        ("a.zip", files.zipped({"a.csv": table}), True),
        ("a.parquet", FILES["a.parquet"], True),
    ):
        path = tmp_path / name
        path.write_bytes(data)
        found = readers.head(path, name)
        assert (found == data) == whole, name
        assert data.startswith(found) and (whole or found.endswith(b"\n"))


def bring(tmp_path: Path, data: bytes, name: str, **changes: object) -> tuple[list[str], list[str]]:
    """Texts and troubles of a file that is gathered with its suggested settings."""
    path = tmp_path / name
    path.write_bytes(data)
    found = preview(data, name, detect_settings(data, name))
    wanted = detect_settings(data, name).model_copy(
        update={"roles": found.roles, "html_text": found.html_text, **changes}
    )
    corpus, trouble = gather([(path, name)], GatherSettings(files=(wanted,)))
    return corpus.texts(), [each.reason for each in trouble]


def test_pages_in_a_column_become_text(tmp_path: Path) -> None:
    rows = [f'{n},"{files.PAGE.replace(chr(34), chr(34) * 2)}"' for n in range(4)]
    texts, _ = bring(tmp_path, ("n,body\n" + "\n".join(rows)).encode(), "pages.csv")
    assert len(texts) == 4
    assert texts[0].startswith("Night watch\n\nGale") and "Home" not in texts[0]
    deep = f'4,"{"<div>" * 9000}ice"'
    texts, trouble = bring(tmp_path, ("n,body\n" + "\n".join([*rows, deep])).encode(), "pages.csv")
    assert texts[4] == "" and "nested 9000 deep" in trouble[0]


def test_a_missing_text_is_noted_with_its_record_and_the_rest_kept(tmp_path: Path) -> None:
    texts, trouble = bring(tmp_path, FILES["a.json"], "a.json")
    assert texts == [ENTRIES[0], "", ENTRIES[2]]
    assert trouble == ["has no field “body.text”; kept without text"]
