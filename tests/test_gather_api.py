"""Gather over the API: files of many kinds, recorded steps, finding; and the same in weave."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.core.errors import BadInputError
from skeinwork.demo.generator import write_files
from skeinwork.work.batch import weave
from skeinwork.work.exports.pattern import read_pattern
from tests import files
from tests.conftest import bring_in, undo, wait_for

NEAR = {"kind": "duplicates", "near": True, "threshold": 0.8, "keep": "longest"}


@pytest.fixture(scope="module")
def entries(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return write_files(tmp_path_factory.mktemp("demo"), size=300).read_bytes()


@pytest.fixture
def strand(served: TestClient, entries: bytes) -> int:
    return bring_in(served, "entries.csv", entries)


def get(served: TestClient, strand: int, path: str = "", **query: Any) -> Any:
    answer = served.get(f"/api/strands/{strand}/{path}".rstrip("/"), params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def shape(served: TestClient, strand: int, *operations: dict[str, Any]) -> dict[str, Any]:
    """Want these operations, and rebuild; the strand as it stands then."""
    record = get(served, strand)
    wanted = {**record["wanted"], "shape": list(operations)}
    answer = served.put(f"/api/strands/{strand}/wanted", json={"revision": record["revision"], "wanted": wanted})
    assert answer.status_code == 200, answer.text
    rebuild(served, strand)
    found: dict[str, Any] = get(served, strand)
    return found


def rebuild(served: TestClient, strand: int) -> None:
    wait_for(served, served.post(f"/api/strands/{strand}/rebuild").json()["job"])


def upload(served: TestClient, name: str, data: bytes) -> dict[str, Any]:
    answer = served.post("/api/uploads", files={"file": (name, data)})
    assert answer.status_code == 200, answer.text
    found: dict[str, Any] = answer.json()
    return found


def join_of(table: dict[str, Any]) -> dict[str, Any]:
    return {
        "kind": "join",
        "sha256": table["sha256"],
        "name": table["name"],
        "settings": table["settings"],
        "field": "harbour",
        "key": "place",
    }


TABLE = b"place,island\nQUELLAN,South\nKelpwick,North\nNowhere,East\n"


def test_steps_are_tried_done_listed_and_taken_back(served: TestClient, strand: int) -> None:
    total = get(served, strand)["summaries"]["corpus"]["documents"]
    trial = served.post(f"/api/strands/{strand}/shape/try", json={"operation": NEAR}).json()
    assert trial["before"] == total > trial["after"]
    join = join_of(upload(served, "islands.csv", TABLE))
    record = shape(served, strand, NEAR, join)
    steps = get(served, strand, "shape")
    assert [(step["before"], step["after"]) for step in steps] == [
        (total, trial["after"]),
        (trial["after"], trial["after"]),
    ]
    assert steps[1]["lists"][1] == {"name": "rows that no document has", "total": 1, "values": ["nowhere"]}
    assert record["summaries"]["corpus"]["documents"] == trial["after"]
    assert {ply["state"] for ply in record["plies"][:3]} == {"ready"}
    islands = next(f for f in get(served, strand, "overview")["fields"] if f["name"] == "island")
    assert {bar["label"] for bar in islands["values"]} == {"South", "North"}
    undo(served, strand)
    assert [ply["state"] for ply in get(served, strand)["plies"][:3]] == ["stale"] * 3
    rebuild(served, strand)
    assert get(served, strand)["summaries"]["corpus"]["documents"] == total
    assert get(served, strand, "shape") == []


def test_a_search_finds_in_a_shaped_corpus_its_own_documents(served: TestClient, strand: int) -> None:
    before = get(served, strand, "documents", find="ferry", limit=200)["rows"]
    shape(served, strand, {"kind": "filter", "search": "ferry harbour:quellan"})
    after = get(served, strand, "documents", limit=200)["rows"]
    expected = {row["name"] for row in before if row["fields"]["harbour"] == "Quellan"}
    assert {row["name"] for row in after} == expected
    assert get(served, strand, "documents", find="ferry")["total"] == len(expected)


def test_a_step_that_leaves_nothing_is_said_and_changes_nothing(served: TestClient, strand: int) -> None:
    nothing = {"kind": "small-groups", "field": "harbour", "least": 9999}
    answer = served.post(f"/api/strands/{strand}/shape/try", json={"operation": nothing})
    assert answer.status_code == 422 and "No document" in answer.json()["detail"]
    record = get(served, strand)
    wanted = {**record["wanted"], "shape": [nothing]}
    served.put(f"/api/strands/{strand}/wanted", json={"revision": record["revision"], "wanted": wanted})
    job = served.post(f"/api/strands/{strand}/rebuild").json()["job"]
    failed = wait_for(served, job, "failed")
    assert failed["error"].startswith("Step 1 (small-groups): No document")
    assert get(served, strand)["plies"][0]["identity"] == record["plies"][0]["identity"]


def test_a_fit_of_other_documents_leaves_and_comes_back(served: TestClient, strand: int) -> None:
    fit = {"topics": 3, "iterations": 40}
    wait_for(served, served.post(f"/api/strands/{strand}/fits", json=fit).json()["job"])
    first = get(served, strand)["plies"][3]["identity"]
    note = {"label": "Ice and fog", "confirmed": True, "revision": 1}
    topic = get(served, strand, "topics")["topics"][0]
    served.put(f"/api/strands/{strand}/topics/{topic['topic']}", json={**note})
    record = shape(served, strand, {"kind": "filter", "where": {"watch": ["night"]}})
    second = record["plies"][3]["identity"]
    assert second not in (None, first)
    assert len(get(served, strand, "topics")["topics"]) == 3
    record = shape(served, strand)
    assert record["plies"][3]["identity"] == first
    versions = get(served, strand, "versions/corpus")
    night = {"there": "keep only watch night", "here": "as brought in"}
    other = next(v for v in versions if v["differs"].get("steps") == night)
    switched = served.post(f"/api/strands/{strand}/switch", json={"identity": other["identity"]})
    assert switched.status_code == 200, switched.text
    for job in served.get("/api/jobs").json():
        if job["state"] in ("queued", "running"):
            wait_for(served, job["id"])
    assert get(served, strand)["plies"][0]["identity"] == other["identity"]
    assert get(served, strand)["plies"][3]["identity"] == second


@pytest.mark.parametrize(
    ("query", "total"),
    [
        ({"find": r"\bferr(y|ies)\b", "expression": True}, lambda row: "ferr" in row.lower()),
        ({"words_from": 60, "words_to": 80}, lambda row: 58 <= len(row.split()) <= 84),
        ({"language": ["English"], "find": "the NEAR/3 harbour"}, lambda row: "harbour" in row.lower()),
        ({"find": "harbour:ellan"}, lambda row: True),
        ({"flag": "near"}, lambda row: True),
    ],
)
def test_documents_are_found_in_many_ways(served: TestClient, strand: int, query: dict[str, Any], total: Any) -> None:
    found = get(served, strand, "documents", limit=200, **query)
    everything = get(served, strand, "documents")["total"]
    assert 0 < found["total"] < everything
    for row in found["rows"][:20]:
        text = "".join(s["text"] for s in get(served, strand, f"documents/{row['document']}")["segments"])
        assert total(text)
    step = get(served, strand, "shape/step", **query)
    tried = served.post(f"/api/strands/{strand}/shape/try", json={"operation": step}).json()
    assert tried["after"] == found["total"]


def test_a_repeat_says_what_it_repeats(served: TestClient, strand: int) -> None:
    pieces = get(served, strand, "evidence", flag="near")["pieces"]
    names = {row["name"] for row in get(served, strand, "documents", limit=200)["rows"]}
    assert pieces and all(each["reason"].rpartition("like ")[2] in names for each in pieces[:3])


def test_words_in_context_come_in_pages_and_as_a_file(served: TestClient, strand: int) -> None:
    page = get(served, strand, "concordance", find="ferry", order="left", limit=5)
    assert len(page["lines"]) == 5 < page["total"]
    again = get(served, strand, "concordance", find="ferry", order="left", limit=500)
    assert again["lines"][:5] == page["lines"] and len(again["lines"]) == page["total"]
    saved = served.get(f"/api/strands/{strand}/concordance.csv", params={"find": "ferry", "order": "left"})
    rows = list(csv.DictReader(io.StringIO(saved.text)))
    assert len(rows) == page["total"] and rows[0]["harbour"]
    for find, expression in (("", False), ("(a", True)):
        answer = served.get(f"/api/strands/{strand}/concordance", params={"find": find, "expression": expression})
        assert answer.status_code == 422


def test_a_folder_and_pasted_text_become_files(served: TestClient) -> None:
    members = [("files", ("log/a.txt", b"Ice on the ramp.")), ("files", ("log/b.pdf", files.pdf()))]
    found = served.post("/api/uploads/folder", data={"name": "log"}, files=members).json()
    assert found["name"] == "log.zip" and found["settings"]["format"] == "archive"
    assert [row["place"] for row in found["rows"]] == ["log/a.txt", "log/b.pdf"]
    assert served.post("/api/uploads/folder", data={"name": "x"}).status_code == 422
    pasted = {"text": "one\ntwo\n\nthree\n", "between": "blank-lines"}
    found = served.post("/api/uploads/paste", json=pasted).json()
    assert [row["cells"]["text"] for row in found["rows"]] == ["one\ntwo", "three"]
    blank = served.post("/api/uploads/paste", json={"text": "  \n"})
    assert blank.status_code == 422 and "empty" in blank.json()["detail"]


def test_the_tree_of_a_file_says_where_names_are_missing(served: TestClient) -> None:
    found = upload(served, "a.json", files.nested_json().encode())
    path = f"/api/uploads/{found['sha256']}/outline"
    root = served.post(path, params={"name": "a.json"}, json=found["settings"]).json()
    entries = root["children"][1]["children"][1]
    assert (entries["path"], entries["count"], entries["lists"]) == ("harbours/entries", 3, True)
    by = next(child for child in entries["children"] if child["name"] == "by")
    assert (by["holders"], by["of"]) == (2, 3)
    table = upload(served, "a.csv", b"text,n\na,1\n")
    answer = served.post(f"/api/uploads/{table['sha256']}/outline", params={"name": "a"}, json=table["settings"])
    assert answer.status_code == 422


def test_the_overview_shows_an_example_of_everything_left_out(served: TestClient) -> None:
    rows = "".join(f"{n},gale and ice number {n}\n" for n in range(30))
    broken = "1,2,3\n4,5,6\n7\nnul\0,x\n"
    strand = bring_in(served, "x.csv", ("n,text\n" + rows + broken).encode())
    kinds = get(served, strand, "overview")["rejected_kinds"]
    assert [kind["reason"] for kind in get(served, strand, "rejected")] == [kind["reason"] for kind in kinds]
    assert [len(kind["rows"]) for kind in get(served, strand, "rejected")] == [2, 1, 1]
    assert [(kind["count"], kind["rows"][0]["line"]) for kind in kinds] == [(2, 32), (1, 34), (1, 35)]
    assert all(row["raw"] and row["unit"] == "line" for kind in kinds for row in kind["rows"])


def test_weave_shapes_joins_and_unpacks_to_the_same_bytes(served: TestClient, entries: bytes, tmp_path: Path) -> None:
    """A folder, near-duplicates, a search, a joined table: the same from the command line."""
    folder = tmp_path / "logs"
    folder.mkdir()
    half = len(entries) // 2
    cut = entries.index(b"\r\n", half) + 2 if b"\r\n" in entries else entries.index(b"\n", half) + 1
    head = entries[: entries.index(b"\n") + 1]
    (folder / "a.csv").write_bytes(entries[:cut])
    (folder / "b.csv").write_bytes(head + entries[cut:])
    members = [("files", (f"logs/{p.name}", p.read_bytes())) for p in folder.iterdir()]
    found = served.post("/api/uploads/folder", data={"name": "logs"}, files=members).json()
    file = {name: found[name] for name in ("sha256", "name", "settings")}
    made = served.post("/api/skeins", json={"name": "x", "gather": {"files": [file]}}).json()
    wait_for(served, made["job"])
    strand = made["strand"]
    join = join_of(upload(served, "islands.csv", TABLE))
    search = {"kind": "filter", "out": True, "search": "ferry NEAR/4 late"}
    shape(served, strand, NEAR, search, join, {"kind": "sample", "size": 150, "seed": 4})
    fit = {"topics": 3, "iterations": 40}
    wait_for(served, served.post(f"/api/strands/{strand}/fits", json=fit).json()["job"])
    archive = zipfile.ZipFile(io.BytesIO(served.get(f"/api/strands/{strand}/export.zip").content))
    text = served.get(f"/api/strands/{strand}/pattern.json").text
    assert [step["kind"] for step in json.loads(text)["shape"]] == ["duplicates", "filter", "join", "sample"]
    table = tmp_path / "islands.csv"
    table.write_bytes(TABLE)
    names = weave.run(read_pattern(text), [folder], tmp_path / "out", tables=[table])
    assert set(names) == set(archive.namelist())
    for name in names:
        assert (tmp_path / "out" / name).read_bytes() == archive.read(name), name
    with pytest.raises(BadInputError, match=r"joins 1 tables \(islands.csv\), but 0 were given"):
        weave.run(read_pattern(text), [folder], tmp_path / "out")


def test_an_import_that_is_run_twice_is_made_once(served: TestClient) -> None:
    data = files.mbox(30)
    found = upload(served, "a.mbox", data)
    file = {name: found[name] for name in ("sha256", "name", "settings")}
    made = [served.post("/api/skeins", json={"name": "x", "gather": {"files": [file]}}).json() for _ in "ab"]
    for each in made:
        wait_for(served, each["job"])
    plies = [get(served, each["strand"])["plies"][0]["identity"] for each in made]
    assert plies[0] == plies[1]


@pytest.mark.parametrize("expression", ["x{1000000000}", "(?R)", "(?:a|aa)+$"])
def test_no_costly_expression_harms_the_server(served: TestClient, expression: str) -> None:
    data = "".join(f"{'a' * 60}! {n}\n" for n in range(30)).encode()
    strand = bring_in(served, "costly.txt", data, format="text-lines")
    sent = served.post("/api/uploads", files={"file": ("costly.txt", data)}).json()
    cut = {**sent["settings"], "cut": {"by": "expression", "expression": expression}}
    find = {"find": expression, "expression": True}
    at = f"/api/strands/{strand}"
    filtered = {"operation": {"kind": "filter", "expression": expression}}
    answers = [
        served.get(f"{at}/documents", params=find),
        served.get(f"{at}/documents/0", params=find),
        served.get(f"{at}/concordance", params=find),
        served.post(f"{at}/shape/try", json=filtered),
        served.post(f"/api/uploads/{sent['sha256']}/preview", params={"name": "x.txt"}, json=cut),
    ]
    assert [answer.status_code for answer in answers] == [422] * 5
    assert all("regular expression" in answer.json()["detail"] for answer in answers)
    assert served.get(f"{at}/documents").json()["total"] == 30


def test_versions_that_differ_only_in_reading_are_told_apart(served: TestClient) -> None:
    """Another encoding or date order gives other documents; the strand bar says which setting."""
    data = b"n,day,text\n1,03/04/2014,a gale\n2,05/06/2014,the ferry\n"
    strand = bring_in(served, "days.csv", data)
    at = f"/api/strands/{strand}"
    files = served.get(f"{at}/files").json()
    file = {name: files["files"][0][name] for name in ("sha256", "name", "settings")}
    other = "month-first" if file["settings"]["date_order"] == "day-first" else "day-first"
    file["settings"] = {**file["settings"], "date_order": other, "encoding": "cp1252"}
    made = served.post(f"{at}/gather?base={files['base']}", json={"files": [file]})
    wait_for(served, made.json()["job"])
    versions = served.get(f"{at}/versions/corpus").json()
    earlier = next(each for each in versions if not each["current"])
    assert set(earlier["differs"]) == {"date order", "encoding"}
    assert earlier["differs"]["date order"]["here"] == other
