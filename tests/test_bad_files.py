"""What bad files get: each row of the table of bad input that concerns files, as an analyst meets it."""

from __future__ import annotations

import gzip
import json
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests import files
from tests.conftest import wait_for

KOI8 = '<?xml version="1.0" encoding="koi8-r"?><a><b>Паром</b><b>Лёд</b></a>'
PAGE = files.PAGE.encode()


def send(served: TestClient, name: str, data: bytes) -> Any:
    return served.post("/api/uploads", files={"file": (name, data)})


def flagged(overview: dict[str, Any]) -> dict[str, int]:
    return {each["flag"]: each["count"] for each in overview["flags"]}


def gathered(served: TestClient, name: str, data: bytes, **changes: Any) -> tuple[Any, Any]:
    """The overview and the trouble of a file that is brought in as detected."""
    found = send(served, name, data).json()
    settings = {**found["settings"], **changes}
    file = {"sha256": found["sha256"], "name": name, "settings": settings}
    made = served.post("/api/skeins", json={"name": name, "gather": {"files": [file]}}).json()
    wait_for(served, made["job"])
    base = f"/api/strands/{made['strand']}"
    kinds = served.get(f"{base}/rejected").json()
    assert all(kind["count"] == len(kind["rows"]) for kind in kinds)
    trouble = [row for kind in kinds for row in kind["rows"]]
    return served.get(f"{base}/overview").json(), sorted(trouble, key=lambda row: row["line"])


REFUSED = [
    ("empty.csv", b"", "is empty"),
    ("blank.txt", b" \n \n", "is empty"),
    ("heading.csv", b"id,text\n", "no rows of documents"),
    ("heading.tsv", b"id\ttext\n\t\n\t\n", "no usable rows"),
    ("none.json", b"[]", "no rows of documents"),
    ("picture.csv", b"\x89PNG\r\n\x1a\n123", "is a picture"),
    ("sound.txt", b"ID3\x03\x00", "is a sound"),
    ("old.doc", b"\xd0\xcf\x11\xe0\xa1\xb1", "an old office document"),
    ("packed.csv", b"7z\xbc\xaf\x27\x1c", "a 7-Zip archive"),
    ("slides.pptx", files.zipped({"[Content_Types].xml": "x", "ppt/a.xml": "x"}), "a presentation"),
    ("broken.zip", files.zipped({"a.txt": "ice"})[:-30], "damaged or breaks off"),
    ("broken.gz", gzip.compress(b"ice" * 999, mtime=0)[:20], "damaged or breaks off"),
    ("broken.pdf", files.pdf()[:200], "not a PDF document"),
    ("broken.xlsx", files.zipped({"[Content_Types].xml": "x", "xl/a.xml": "x"}), "not a spreadsheet"),
    ("broken.docx", files.zipped({"[Content_Types].xml": "x", "word/a": "x"}), "not a DOCX"),
    ("broken.epub", files.zipped({"mimetype": "application/epub+zip"}), "not an EPUB"),
    ("broken.json", b'{"a": [1, 2', "line 1, column"),
    ("deep.json", b'{"a":' * 100_000 + b"1" + b"}" * 100_000, "nested too deeply"),
    ("deep.html", b"<div>" * 200_000 + b"ice", "nested 200000 deep"),
    ("broken.xml", b"<?xml version='1.0'?><a><b></a>", "line 1"),
    ("bomb.xml", b"<?xml version='1.0'?><!DOCTYPE a [<!ENTITY b 'c'>]><a>&b;</a>", "document type"),
    ("bomb.zip", files.zipped({"a.txt": b"0" * 30_000_000}), "200 times its size"),
    ("scan.pdf", files.pdf(("", "")), "no text layer"),
    ("only.zip", files.zipped({"a.png": b"\x89PNG"}), "a.png is a picture"),
    ("locked.zip", b"PK\x03\x04" + b"\0" * 40, "damaged or breaks off"),
]


@pytest.mark.parametrize(("name", "data", "words"), REFUSED, ids=[case[0] for case in REFUSED])
def test_what_cannot_be_read_is_refused_with_a_sentence_before_it_comes_in(
    served: TestClient, name: str, data: bytes, words: str
) -> None:
    before = served.get("/api/skeins").json()
    answer = send(served, name, data)
    assert answer.status_code == 422, answer.text
    detail = answer.json()["detail"]
    assert words in detail and (name in detail or name == "deep.html") and detail.endswith((".", "--archive-limit."))
    assert served.get("/api/skeins").json() == before


ENCODED = [
    ("latin.csv", "n,text\n1,Fähre blåst\n2,né\n".encode("cp1252"), "Fähre blåst"),
    ("wide.tsv", "n\ttext\n1\tFähre\n2\té\n".encode("utf-16"), "Fähre"),
    ("mark.csv", "n,text\n1,Fähre\n2,é\n".encode("utf-8-sig"), "Fähre"),
    ("greek.html", '<meta charset="iso-8859-7"><p>Πλοίο στο λιμάνι</p>'.encode("iso-8859-7"), "Πλοίο στο λιμάνι"),
    ("cyrillic.xml", KOI8.encode("koi8-r"), "Паром"),
    ("page.csv", PAGE, "Night watch"),
    ("table.html", b"n,text\n1,ice\n2,fog\n", "ice"),
]


@pytest.mark.parametrize(("name", "data", "text"), ENCODED, ids=[case[0] for case in ENCODED])
def test_encodings_and_wrong_names_are_seen_through(served: TestClient, name: str, data: bytes, text: str) -> None:
    found = send(served, name, data).json()
    assert text in json.dumps(found["rows"], ensure_ascii=False)
    assert found["doubtful"] == 0


def test_bytes_outside_of_the_encoding_are_counted_and_the_documents_flagged(served: TestClient) -> None:
    rows = "".join(f"{n},Die Fähre war für alle zu spät {n}\n" for n in range(40)).encode()
    data = b"n,text\n" + rows + b"40,Eis \xff\xfe hier\n"
    assert send(served, "x.csv", data).json()["doubtful"] == 2
    overview, trouble = gathered(served, "x.csv", data)
    assert overview["documents"] == 41 and flagged(overview)["garbled"] == 1
    assert "2 bytes are not utf-8" in trouble[0]["reason"]
    assert {bar["label"]: bar["count"] for bar in overview["languages"]}["German"] == 40


def test_rows_that_cannot_be_used_are_left_out_one_by_one(served: TestClient) -> None:
    rows = "".join(f"{n},gale and ice {n}\n" for n in range(20))
    broken = 'x\n1,2,3\nnul,a\0b\n,\n"open,never closed\n'
    overview, trouble = gathered(served, "x.csv", ("n,text\n" + rows + broken + rows).encode())
    assert overview["rejected"] == 4 and overview["documents"] == 41
    left = [each for each in trouble if each["raw"] is not None]
    assert [each["line"] for each in left] == [22, 23, 24, 25]
    assert all(each["reason"] and each["file"] == "x.csv" for each in left)
    assert [each["reason"] for each in trouble if each["raw"] is None] == ["a quote that never closes was read as text"]


def test_a_date_that_is_none_leaves_the_document_without_one(served: TestClient) -> None:
    rows = "".join(f"{n},2014-01-{n + 1:02d},gale {n}\n" for n in range(20))
    overview, trouble = gathered(served, "x.csv", f"n,date,text\n{rows}20,soon,ice\n".encode())
    assert overview["documents"] == 21 and flagged(overview)["undated"] == 1
    assert [each["reason"] for each in trouble] == ["“soon” is not a date; kept without date"]


@pytest.mark.parametrize(("choice", "documents", "reasons"), [("number", 4, 1), ("first", 3, 1), ("refuse", 0, 0)])
def test_identifiers_that_occur_twice_get_what_was_chosen(
    served: TestClient, choice: str, documents: int, reasons: int
) -> None:
    data = b"id,text\na,gale\nb,ice\na,fog\nc,ramp\n"
    found = send(served, "x.csv", data).json()
    settings = {**found["settings"], "roles": {"id": "identifier", "text": "text"}}
    file = {"sha256": found["sha256"], "name": "x.csv", "settings": settings}
    gather = {"files": [file], "repeated": choice}
    made = served.post("/api/skeins", json={"name": "x", "gather": gather}).json()
    if choice == "refuse":
        job = wait_for(served, made["job"], "failed")
        assert "x.csv, line 4: the identifier “a” occurs twice" in job["error"]
        return
    wait_for(served, made["job"])
    base = f"/api/strands/{made['strand']}"
    assert served.get(f"{base}/overview").json()["documents"] == documents
    assert len(served.get(f"{base}/rejected").json()) == reasons


def test_settings_that_contradict_the_file_are_refused_by_field(served: TestClient) -> None:
    found = send(served, "x.csv", b"n,text\n1,ice\n").json()
    path = f"/api/uploads/{found['sha256']}/preview"
    for change, words in (
        ({"format": "pdf"}, "not a PDF document"),
        ({"format": "spreadsheet"}, "not a spreadsheet"),
        ({"encoding": "klingon"}, "no encoding “klingon”"),
        ({"delimiter": ""}, "delimiter"),
        ({"format": "odd"}, "format"),
        ({"cut": {"by": "length", "words": 1}}, "cut.words"),
        ({"cut": {"by": "expression", "expression": "("}}, "can't be read"),
        ({"format": "html", "page": "selector", "selector": "p["}, "not a CSS selector"),
    ):
        settings = {**found["settings"], "roles": {}, **change}
        answer = served.post(path, params={"name": "x.csv"}, json=settings)
        assert answer.status_code == 422 and words in answer.json()["detail"], answer.text
    ghost = served.post(f"/api/uploads/{'0' * 64}/preview", params={"name": "x"})
    assert ghost.status_code == 404 and "Choose it again" in ghost.json()["detail"]
