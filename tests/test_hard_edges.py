"""What careless requests and odd documents get from the server: the right answer, in bounded size."""

from __future__ import annotations

import asyncio
import io
import json
import zipfile
from pathlib import Path
from typing import Any
from urllib.parse import quote

import pytest
from fastapi.testclient import TestClient

from skeinwork.core.text.forms import lancaster
from skeinwork.work.batch.weave import run
from skeinwork.work.exports.pattern import read_pattern
from tests.conftest import bring_in, undo, wait_for

WORDS = ("ice", "ramp", "fog", "berth", "gulls", "ferry", "nests", "engine", "crane", "toll")
FIELDS = ("harbour", "ハーバー", "Country?", "a#b", "a b", "a-b", "x" * 190)


def far_table() -> bytes:
    """Entries of four years, one of the year 1 and one of 9999, under fields of odd names."""
    days = [f"{2014 + at // 12}-{1 + at % 12:02d}-03" for at in range(48)]
    rows = [
        ",".join(
            [
                str(at),
                day,
                *(f"value {(at + k) % 2}" for k in range(len(FIELDS))),
                " and ".join(WORDS[(at + k * k) % len(WORDS)] for k in range(3)),
            ]
        )
        for at, day in enumerate(["0001-01-15", *days, "9999-12-31"])
    ]
    return "\n".join([",".join(["entry", "date", *FIELDS, "text"]), *rows, ""]).encode()


@pytest.fixture(scope="module")
def strand(served: TestClient) -> int:
    roles = {"entry": "identifier", "date": "date", "text": "text"} | dict.fromkeys(FIELDS, "group")
    made = bring_in(served, "a\r\nSet-Cookie: x=1 “é”.csv", far_table(), roles=roles)
    fit = {"topics": 2, "iterations": 40}
    wait_for(served, served.post(f"/api/strands/{made}/fits", json=fit).json()["job"])
    return made


def get(client: TestClient, strand: int, path: str, **query: Any) -> Any:
    answer = client.get(f"/api/strands/{strand}/{path}".rstrip("/"), params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def test_dates_far_off_are_named_and_stretch_nothing(served: TestClient, strand: int) -> None:
    overview = get(served, strand, "overview")
    assert {flag["flag"]: flag["count"] for flag in overview["flags"]}["far"] == 2
    assert overview["period"] in ("month", "quarter", "year") and len(overview["dates"]) < 60
    table = get(served, strand, "prevalence", group="harbour", period="month")
    assert len(table["periods"]) == 52 and len(table["cells"]) == 2 * 52
    names = [each["name"] for each in table["periods"]]
    gaps = [at for at, name in enumerate(names) if "…" in name]
    assert gaps == [1, 50] and names[1] == "0001-02…2013-12"
    assert all(not table["cells"][at]["documents"] for at in gaps)
    assert sum(cell["documents"] for cell in table["cells"]) == 50
    found = get(served, strand, "evidence", period="month", at="2014-01")
    assert found["total"] == 1
    assert get(served, strand, "evidence", period="month", at=names[1])["total"] == 0


def test_exports_of_fields_of_any_name_come_one_by_one(served: TestClient, strand: int, tmp_path: Path) -> None:
    pattern = get(served, strand, "pattern.json")
    pattern["track"] = [{"group": field} for field in FIELDS]
    table = tmp_path / "entries.csv"
    table.write_bytes(far_table())
    names = run(read_pattern(json.dumps(pattern)), [table], tmp_path / "out")
    assert len(set(names)) == len(names) and names.count("README.txt") == 1
    assert sum(name.startswith("prevalence-by-") for name in names) == len(FIELDS)
    explained = (tmp_path / "out" / "README.txt").read_text()
    assert all(repr(field) in explained for field in FIELDS)


def test_every_export_is_found_by_its_name_and_headers_hold_no_line(served: TestClient, strand: int) -> None:
    for name in (each["name"] for each in get(served, strand, "exports")):
        answer = served.get(f"/api/strands/{strand}/exports/{quote(name, safe='')}")
        assert answer.status_code == 200
        assert f"filename*=UTF-8''{quote(name, safe='')}" in answer.headers["content-disposition"]
    whole = served.get(f"/api/strands/{strand}/export.zip")
    assert "set-cookie" not in whole.headers and "é" not in whole.headers["content-disposition"]
    assert "%C3%A9" in whole.headers["content-disposition"]
    zipfile.ZipFile(io.BytesIO(whole.content)).testzip()


def test_undo_of_a_tab_that_was_overtaken_is_refused(served: TestClient, strand: int) -> None:
    record = get(served, strand, "")
    wanted = {**record["wanted"], "weigh": {**record["wanted"]["weigh"], "min_documents": 7}}
    change = {"revision": record["revision"], "wanted": wanted}
    assert served.put(f"/api/strands/{strand}/wanted", json=change).status_code == 200
    old = {"revision": record["revision"]}
    refused = served.post(f"/api/strands/{strand}/undo", params=old)
    assert refused.status_code == 409
    assert get(served, strand, "")["wanted"]["weigh"]["min_documents"] == 7
    assert undo(served, strand)["wanted"] == record["wanted"]


@pytest.mark.parametrize(
    ("path", "body"),
    [
        ("sweeps", {"counts": [2], "seeds": [-1]}),
        ("sweeps", {"counts": [2], "seeds": [2**31]}),
        ("sweeps", {"counts": [2], "seeds": [2**70]}),
        ("sweeps", {"counts": [2**70], "seeds": [1]}),
        ("sweeps", {"counts": [2, 400], "seeds": [1]}),
        ("fits", {"topics": 2, "seed": 2**64}),
        ("fits", {"topics": 2, "alpha": 1e-320}),
        ("fits", {"topics": 2, "beta": 1e-300}),
        ("fits", {"topics": 51}),
        ("fits", {"topics": 2, "iterations": 10**30}),
    ],
)
def test_what_no_fit_can_use_is_refused_where_it_is_given(
    served: TestClient, strand: int, path: str, body: dict[str, Any]
) -> None:
    answer = served.post(f"/api/strands/{strand}/{path}", json=body)
    assert answer.status_code == 422 and answer.json()["detail"]


def test_numbers_without_end_are_refused(served: TestClient, strand: int) -> None:
    for path, text in (
        (f"/api/strands/{strand}/fits", '{"topics": ' + "9" * 5000 + "}"),
        (f"/api/strands/{strand}/sweeps", '{"counts": [' + "9" * 5000 + '], "seeds": [1]}'),
    ):
        answer = served.post(path, content=text, headers={"content-type": "application/json"})
        assert answer.status_code in (400, 422)
        assert answer.headers["content-type"] == "application/problem+json"
    note = {"fit": "x", "revision": 2**64, "label": "a"}
    assert served.put(f"/api/strands/{strand}/topics/0", json=note).status_code in (409, 422)
    for number in (0, 2**31, 2**64, "9" * 5000):
        assert served.get(f"/api/strands/{number}").status_code in (404, 422)


def test_encodings_that_are_none_are_refused(served: TestClient) -> None:
    brought = served.post("/api/uploads", files={"file": ("a.csv", b"id,text\n1,ice\n2,fog\n")}).json()
    for encoding in ("undefined", "idna", "hex", "no such"):
        settings = {**brought["settings"], "encoding": encoding}
        at = f"/api/uploads/{brought['sha256']}/preview"
        answer = served.post(at, params={"name": "a.csv"}, json=settings)
        assert answer.status_code == 422 and "There is no encoding" in answer.json()["detail"]


def test_why_there_is_nothing_to_fit_is_said_of_this_corpus(served: TestClient) -> None:
    for name, data, words in (
        ("one.txt", b"ice on the outer ramp and fog\n", "Only one document"),
        ("stop.txt", b"the and of\nof the and\n", "removed"),
        ("few.txt", b"ice and fog\nferry and gale\n", "pruning left no term"),
    ):
        made = bring_in(served, name, data)
        if name != "stop.txt":
            record = get(served, made, "")
            least = 1 if name == "one.txt" else 2
            weigh = {**record["wanted"]["weigh"], "min_documents": least, "max_share": 1.0}
            change = {"revision": record["revision"], "wanted": {**record["wanted"], "weigh": weigh}}
            served.put(f"/api/strands/{made}/wanted", json=change)
            wait_for(served, served.post(f"/api/strands/{made}/rebuild").json()["job"])
        answer = served.post(f"/api/strands/{made}/fits", json={"topics": 2})
        assert answer.status_code == 422 and words in answer.json()["detail"], answer.text


def test_lists_of_jobs_carry_no_requests(served: TestClient, strand: int) -> None:
    record = get(served, strand, "")
    keep = {"kind": "filter", "numbers": list(range(1, 50))}
    wanted = {**record["wanted"], "shape": [*record["wanted"]["shape"], keep]}
    change = {"revision": record["revision"], "wanted": wanted}
    if served.put(f"/api/strands/{strand}/wanted", json=change).status_code == 200:
        wait_for(served, served.post(f"/api/strands/{strand}/rebuild").json()["job"])
    for job in served.get("/api/jobs").json():
        assert "request" not in job and len(json.dumps(job)) < 5000
        assert job["created"].endswith("Z")


@pytest.mark.parametrize(("last", "status"), [("gnirehtaf3.", 200), ("yy1yy>", 422)])
def test_long_rules_are_checked_beside_the_event_loop_once(
    served: TestClient, strand: int, monkeypatch: pytest.MonkeyPatch, last: str, status: int
) -> None:
    plain, looped = lancaster.endless, []

    def seen(rules: Any) -> Any:
        looped.append(asyncio._get_running_loop() is not None)
        return plain(rules)

    monkeypatch.setattr(lancaster, "endless", seen)
    record = get(served, strand, "")
    forms = {"kind": "word-forms", "method": "lancaster", "rules": ["sgniroom5.", last]}
    wanted = {**record["wanted"], "clean": {**record["wanted"]["clean"], "passes": [forms]}}
    change = {"revision": record["revision"], "wanted": wanted}
    answer = served.put(f"/api/strands/{strand}/wanted", json=change)
    assert answer.status_code == status and looped == [False], answer.text
