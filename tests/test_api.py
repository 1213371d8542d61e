"""The API as the front end uses it, and as a hostile caller might."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.server.app import make_app
from tests.conftest import bring_in, choose, undo, wait_for
from tests.on_thread import open_on_thread
from tests.shared import TABLE


@pytest.fixture(scope="module")
def made(tmp_path_factory: pytest.TempPathFactory) -> Iterator[tuple[TestClient, int]]:
    """A small strand with a fit of two topics; tests read it, or work on a fork."""
    state = open_on_thread(tmp_path_factory.mktemp("api"))
    with TestClient(make_app(state), base_url="http://localhost") as client:
        strand = bring_in(client, "entries.csv", TABLE)
        job = client.post(f"/api/strands/{strand}/fits", json={"topics": 2, "iterations": 60}).json()
        wait_for(client, job["job"])
        yield client, strand


def get(made: tuple[TestClient, int], path: str, **query: Any) -> Any:
    client, strand = made
    answer = client.get(f"/api/strands/{strand}/{path}".rstrip("/"), params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def fork(made: tuple[TestClient, int]) -> tuple[TestClient, int]:
    client, strand = made
    return client, client.post(f"/api/strands/{strand}/fork").json()["strand"]


def test_a_file_becomes_a_cleaned_and_weighed_corpus(made: tuple[TestClient, int]) -> None:
    record = get(made, "")
    assert [ply["state"] for ply in record["plies"]] == ["ready"] * 4
    assert record["summaries"]["corpus"]["documents"] == 62
    assert record["summaries"]["corpus"]["rejected"] == 1


def test_the_overview_points_out_what_may_spoil_models(made: tuple[TestClient, int]) -> None:
    found = get(made, "overview")
    assert found["documents"] == 62
    assert {each["flag"]: each["count"] for each in found["flags"]} == {
        "empty": 1,
        "short": 1,
        "undated": 1,
        "same": 54,
    }
    harbours = next(field for field in found["fields"] if field["name"] == "harbour")
    assert {bar["label"]: bar["count"] for bar in harbours["values"]} == {"Kelpwick": 31, "Quellan": 31}
    assert sum(bar["count"] for bar in found["lengths"]) == 62


@pytest.mark.parametrize(
    ("query", "total"),
    [
        ({}, 62),
        ({"find": "breakwater"}, 30),
        ({"find": 'ferry "timetable today"'}, 10),
        ({"filter": ["harbour:Quellan"]}, 31),
        ({"filter": ["harbour:Quellan", "harbour:Kelpwick"]}, 62),
        ({"flag": "empty"}, 1),
        ({"date_from": "2012", "date_to": "2012"}, 15),
        ({"find": ')"('}, 62),
        ({"find": "surge", "filter": ["harbour:Quellan"]}, 0),
    ],
)
def test_documents_are_filtered_and_searched(made: tuple[TestClient, int], query: Any, total: int) -> None:
    assert get(made, "documents", **query)["total"] == total


def test_documents_are_sorted_and_paged(made: tuple[TestClient, int]) -> None:
    whole = get(made, "documents", sort="-date", limit=200)["rows"]
    pages = [get(made, "documents", sort="-date", offset=at, limit=25)["rows"] for at in (0, 25, 50)]
    assert [row["document"] for page in pages for row in page] == [row["document"] for row in whole]
    dated = [row["fields"]["date"] for row in whole if row["date"]]
    assert dated == sorted(dated, reverse=True)
    words = [row["words"] for row in get(made, "documents", sort="words", limit=200)["rows"]]
    assert words == sorted(words)


def test_the_reader_shows_the_text_whole_under_every_mark(made: tuple[TestClient, int]) -> None:
    for marks in ("none", "cleaning", "topics"):
        found = get(made, "documents/0", marks=marks)
        assert "".join(part["text"] for part in found["segments"]) == "Storm surge at the breakwater wall again"
    removed = {
        p["text"]: p["by"] for p in get(made, "documents/0", marks="cleaning")["segments"] if p["kind"] == "removed"
    }
    assert removed["the"] == "stop words"
    assert get(made, "documents/0", find="WALL")["matches"] == 1
    assert get(made, "documents/0", find="w.ll|storm", expression=True)["matches"] == 2


def test_a_regular_expression_is_bounded_and_explained(made: tuple[TestClient, int]) -> None:
    client, strand = made
    slow = bring_in(client, "slow.txt", b"a" * 5000 + b"!\n" + b"another line of text\n" * 5, format="text-lines")
    for which, pattern, words in ((strand, "(", "can't be read"), (slow, "(a|a|aa)+$", "more than 2 s")):
        answer = client.get(f"/api/strands/{which}/documents/0", params={"find": pattern, "expression": True})
        assert answer.status_code == 422
        assert words in answer.json()["detail"]


def test_the_specimen_follows_the_wanted_passes_at_once(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    record = client.get(f"/api/strands/{strand}").json()
    wanted = record["wanted"]
    before = client.get(f"/api/strands/{strand}/survivors").json()
    specimen = client.get(f"/api/strands/{strand}/specimen").json()
    assert {"removed", "changed", "kept"} <= {each["kind"] for each in specimen["segments"]}
    stop = next(each for each in wanted["clean"]["passes"] if each["kind"] == "stop-words")
    stop["on"] = False
    changed = client.put(
        f"/api/strands/{strand}/wanted", json={"revision": record["revision"], "wanted": wanted}
    ).json()
    after = client.get(f"/api/strands/{strand}/survivors").json()
    assert "brings back" in after["change"]
    assert after["survivals"][-1]["tokens"] > before["survivals"][-1]["tokens"]
    assert [ply["state"] for ply in changed["plies"]] == ["ready", "stale", "stale", "stale"]
    undone = undo(client, strand)
    assert [ply["state"] for ply in undone["plies"]] == ["ready"] * 4
    again = undo(client, strand, redo=True)
    assert again["plies"][1]["state"] == "stale"


def test_two_tabs_do_not_overwrite_each_other(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    record = client.get(f"/api/strands/{strand}").json()
    wanted = {**record["wanted"], "weigh": {**record["wanted"]["weigh"], "min_documents": 3}}
    first = client.put(f"/api/strands/{strand}/wanted", json={"revision": record["revision"], "wanted": wanted})
    second = client.put(
        f"/api/strands/{strand}/wanted", json={"revision": record["revision"], "wanted": record["wanted"]}
    )
    assert (first.status_code, second.status_code) == (200, 409)
    assert "another tab" in second.json()["detail"]
    topic = client.get(f"/api/strands/{strand}/topics").json()
    note = {"fit": topic["fit"], "revision": topic["topics"][0]["revision"], "label": "A", "confirmed": True}
    assert client.put(f"/api/strands/{strand}/topics/0", json=note).status_code == 200
    assert client.put(f"/api/strands/{strand}/topics/0", json={**note, "label": "B"}).status_code == 409
    assert client.get(f"/api/strands/{strand}/topics").json()["topics"][0]["label"] == "A"


def test_the_vocabulary_follows_pruning_at_once(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    record = client.get(f"/api/strands/{strand}").json()
    found = client.get(f"/api/strands/{strand}/vocabulary", params={"limit": 200}).json()
    assert found["summary"]["terms"] == len(found["rows"]) == record["summaries"]["matrix"]["terms"]
    ferry = next(row for row in found["rows"] if row["display"] == "ferry")
    assert (ferry["count"], ferry["documents"]) == (61, 31)
    weigh = {**record["wanted"]["weigh"], "min_documents": 31, "longest": 2}
    wanted = {**record["wanted"], "weigh": weigh}
    client.put(f"/api/strands/{strand}/wanted", json={"revision": record["revision"], "wanted": wanted})
    fewer = client.get(f"/api/strands/{strand}/vocabulary", params={"sort": "display"}).json()
    names = [row["display"] for row in fewer["rows"]]
    assert names == sorted(names)
    assert "ferry ticket" in names and all(row["documents"] >= 31 for row in fewer["rows"])
    assert fewer["summary"]["emptied"] >= 1


def test_a_rebuild_carries_labels_to_the_matched_topics_unconfirmed(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    topics = client.get(f"/api/strands/{strand}/topics").json()
    ferry = next(t for t in topics["topics"] if any(w["display"] == "ferry" for w in t["words"][:4]))
    note = {"fit": topics["fit"], "revision": ferry["revision"], "label": "Ferries", "confirmed": True, "note": "n"}
    client.put(f"/api/strands/{strand}/topics/{ferry['topic']}", json=note)
    record = client.get(f"/api/strands/{strand}").json()
    passes = record["wanted"]["clean"]["passes"]
    next(each for each in passes if each["kind"] == "domain-words")["words"] = ["timetable"]
    wanted = {"revision": record["revision"], "wanted": record["wanted"]}
    assert client.put(f"/api/strands/{strand}/wanted", json=wanted).status_code == 200
    wait_for(client, client.post(f"/api/strands/{strand}/rebuild").json()["job"])
    after = client.get(f"/api/strands/{strand}/topics").json()
    assert after["fit"] != topics["fit"]
    carried = next(t for t in after["topics"] if t["label"] == "Ferries")
    assert not carried["confirmed"]
    assert (carried["dye"], carried["note"]) == (ferry["dye"], "n")
    assert not any(w["display"] == "timetable" for w in carried["words"])
    versions = client.get(f"/api/strands/{strand}/versions/cleaning").json()
    earlier = next(v for v in versions if not v["current"] and "domain-words: words" in v["differs"])
    back = client.post(f"/api/strands/{strand}/switch", json={"identity": earlier["identity"]}).json()
    assert back["plies"][1]["identity"] == earlier["identity"]


def test_a_sweep_is_compared_and_a_fit_taken(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    request = {"counts": [2, 3], "seeds": [1, 2], "iterations": 40}
    wait_for(client, client.post(f"/api/strands/{strand}/sweeps", json=request).json()["job"])
    found = client.get(f"/api/strands/{strand}/fits").json()
    swept = [fit for fit in found["fits"] if fit["settings"]["iterations"] == 40]
    assert [(f["settings"]["topics"], f["settings"]["seed"]) for f in swept] == [(2, 1), (2, 2), (3, 1), (3, 2)]
    assert all(fit["measures"]["stability"] is not None for fit in swept)
    assert found["reasons"] and all(fit["measured"] and fit["measures"]["c_v"] is not None for fit in swept)
    assert {each["topics"] for each in found["chance"]} == {2, 3}
    three = swept[2]["identity"]
    refused = client.post(f"/api/strands/{strand}/take", json={"fit": three})
    assert refused.status_code == 422 and "goes on with all documents" in refused.json()["detail"]
    taken = choose(client, strand, three)
    record = client.get(f"/api/strands/{strand}").json()
    assert record["plies"][3]["identity"] == taken != three and record["plies"][3]["state"] == "ready"
    assert len(client.get(f"/api/strands/{strand}/topics").json()["topics"]) == 3


def test_settings_are_advised_on_and_seed_words_mark_a_topic(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    words = [each["words"][0]["display"] for each in get((client, strand), "topics")["topics"]]
    wanted = {"method": "lda", "topics": 2, "iterations": 40, "seed_words": [words[0]]}
    answer = client.post(f"/api/strands/{strand}/advice", json=wanted)
    found = {each["setting"]: each["advice"] for each in answer.json()}
    assert {"topics", "iterations", "alpha", "beta", "start", "sampler", "hold"} == set(found)
    assert found["alpha"]["low"] < found["alpha"]["high"] and "all documents" in found["iterations"]["little"]
    refused = client.post(f"/api/strands/{strand}/advice", json={**wanted, "seed_words": ["nosuch"]})
    assert refused.status_code == 422 and "nosuch" in refused.json()["detail"]
    wait_for(client, client.post(f"/api/strands/{strand}/fits", json=wanted).json()["job"])
    marked = [each["marked_by"] for each in get((client, strand), "topics")["topics"]]
    assert sorted(marked) == ["", words[0]]


def test_the_same_request_twice_is_answered_from_the_store(made: tuple[TestClient, int]) -> None:
    client, strand = fork(made)
    before = len(client.get(f"/api/strands/{strand}/fits").json()["fits"])
    job = client.post(f"/api/strands/{strand}/fits", json={"topics": 2, "iterations": 60}).json()["job"]
    wait_for(client, job)
    assert len(client.get(f"/api/strands/{strand}/fits").json()["fits"]) == before


@pytest.mark.parametrize(
    ("selection", "total"),
    [
        ({"term": "ferri"}, 31),
        ({"field": "harbour", "value": "Kelpwick"}, 31),
        ({"flag": "undated"}, 1),
        ({"term": "ferri", "field": "harbour", "value": "Kelpwick"}, 0),
        ({"removed_by": "stop-words"}, 60),
        ({"period": "year", "at": "2013"}, 15),
        ({"period": "year", "at": "2012..2013"}, 30),
        ({"words_from": 0, "words_to": 1}, 1),
    ],
)
def test_every_kind_of_evidence(made: tuple[TestClient, int], selection: Any, total: int) -> None:
    found = get(made, "evidence", **selection)
    assert found["total"] == total and bool(found["pieces"]) == bool(total)
    for piece in found["pieces"]:
        assert piece["name"]
        assert piece["reason"]
    if "term" in selection and total:
        marked = [p["text"] for p in found["pieces"][0]["passage"] if p["kind"] == "marked"]
        assert {text.lower() for text in marked} == {"ferry"}


def test_the_evidence_of_a_topic_is_its_documents_by_share(made: tuple[TestClient, int]) -> None:
    ferry = next(t for t in get(made, "topics")["topics"] if t["words"][0]["display"] == "ferry")
    found = get(made, "evidence", topic=ferry["topic"], limit=50)
    assert found["total"] == ferry["documents"] == len(found["pieces"]) > 20
    assert all("erry" in "".join(p["text"] for p in piece["passage"]) for piece in found["pieces"][:20])
    whole = list(
        csv.reader(
            io.StringIO(made[0].get(f"/api/strands/{made[1]}/evidence.csv", params={"topic": ferry["topic"]}).text)
        )
    )
    assert len(whole) == found["total"] + 1


def test_prevalence_by_group_and_time(made: tuple[TestClient, int]) -> None:
    ferry = next(t for t in get(made, "topics")["topics"] if t["words"][0]["display"] == "ferry")
    by_group = get(made, "prevalence", group="harbour", topic=[ferry["topic"]])
    means = {name: cell["values"][0] for name, cell in zip(by_group["groups"], by_group["cells"], strict=True)}
    assert means["Quellan"]["low"] > means["Kelpwick"]["high"]
    both = get(made, "prevalence", group="harbour", period="year")
    assert len(both["cells"]) == len(both["groups"]) * len(both["periods"])
    assert sum(cell["documents"] for cell in both["cells"]) + both["left_out"] >= 60


def test_events_are_kept_in_order(made: tuple[TestClient, int]) -> None:
    client, strand = made
    for day, label in (("14 Jan 2014", "storm"), ("2012-03-01", "works")):
        found = client.post(f"/api/strands/{strand}/events", json={"day": day, "label": label}).json()
    assert [(e["day"], e["label"]) for e in found] == [("2012-03-01", "works"), ("2014-01-14", "storm")]
    wrong = client.post(f"/api/strands/{strand}/events", json={"day": "soon", "label": "x"})
    assert wrong.status_code == 422 and "not a date" in wrong.json()["detail"]
    left = client.delete(f"/api/strands/{strand}/events/{found[0]['id']}").json()
    assert [e["label"] for e in left] == ["storm"]
    assert client.delete(f"/api/strands/{strand}/events/{found[0]['id']}").status_code == 404


def test_the_export_holds_what_the_screens_show(made: tuple[TestClient, int]) -> None:
    client, strand = made
    archive = zipfile.ZipFile(io.BytesIO(client.get(f"/api/strands/{strand}/export.zip").content))
    rows = list(csv.DictReader(io.StringIO(archive.read("documents.csv").decode())))
    assert len(rows) == 62
    shares = [[float(v) for k, v in row.items() if k.startswith("share:") and v] for row in rows]
    assert all(not values or abs(sum(values) - 1) < 1e-4 for values in shares)
    topics = json.loads(archive.read("topics.json"))["topics"]
    assert [t["share_of_tokens"]["mean"] for t in topics] == [t["share"]["mean"] for t in get(made, "topics")["topics"]]
    listed = {file["name"]: file for file in get(made, "exports")}
    assert listed.keys() == {info.filename for info in archive.infolist()}
    for name, file in listed.items():
        data = archive.read(name)
        if name.endswith(".zip"):
            assert get(made, f"exports/{name}/beginning")["text"].startswith("model.json")
            continue
        begins = get(made, f"exports/{name}/beginning")
        assert data.startswith(begins["text"].encode()) and begins["whole"] == (len(data) <= 600)
        assert begins["size"] == len(data) or (begins["size"] is None and file["rows"])
        lines = list(csv.reader(io.StringIO(data.decode())))
        assert file["rows"] is None or file["rows"] == len(lines) - (3 if name.endswith(".mtx") else 1)
    assert client.get(f"/api/strands/{strand}/exports/vocabulary.csv").content == archive.read("vocabulary.csv")
    assert client.get(f"/api/strands/{strand}/exports/nothing.csv").status_code == 404
    assert client.get(f"/api/strands/{strand}/rejected.csv").content == archive.read("rejected.csv")


def test_what_is_not_there_or_out_of_range_is_said(made: tuple[TestClient, int]) -> None:
    client, strand = made
    base = f"/api/strands/{strand}"
    for path, status, words in (
        ("/api/strands/999", 404, "no strand 999"),
        (f"{base}/documents/999", 404, "no document 1000"),
        (f"{base}/documents?filter=colour:red", 422, "no field"),
        (f"{base}/documents?filter=red", 422, "field:value"),
        (f"{base}/documents?sort=colour", 422, "can't be sorted"),
        (f"{base}/documents?limit=9999", 422, "limit"),
        (f"{base}/evidence?term=nothing", 422, "not a term"),
        (f"{base}/evidence?topic=77", 422, "no topic"),
        (f"{base}/evidence?flag=blue", 422, "no set"),
        (f"{base}/evidence?colour=blue", 422, "colour"),
        (f"{base}/prevalence?group=colour", 422, "no field"),
        ("/api/nothing", 404, "no /api/nothing"),
        (f"{base}/fits/{'0' * 64}", 404, "does not exist"),
        (f"{base}/vocabulary?sort=colour", 422, "sort"),
    ):
        answer = client.get(path)
        assert answer.status_code == status, path
        assert words in answer.json()["detail"], answer.json()
        assert answer.headers["content-type"] == "application/problem+json"
    for path, body, words in (
        ("fits", {"topics": 1}, "topics"),
        ("fits", {"topics": 100}, "more than the"),
        ("sweeps", {"counts": [1], "seeds": [1]}, "2 to 500"),
        ("sweeps", {"counts": list(range(2, 102)), "seeds": list(range(10))}, "at most 500"),
        ("sweeps", {"counts": [2], "seeds": [1], "over": {"method": ["x"]}}, "swept over alpha, beta, ngrams"),
        ("sweeps", {"counts": [2], "seeds": [1], "over": {"alpha": [0.1, -1]}}, "alpha can't be -1"),
        ("sweeps", {"counts": [2], "seeds": list(range(50)), "over": {"alpha": [n / 9 for n in range(1, 12)]}}, "500"),
        ("fits", {"colour": 1}, "colour"),
    ):
        answer = client.post(f"{base}/{path}", json=body)
        assert answer.status_code == 422
        assert words in answer.json()["detail"]


def test_other_hosts_and_other_sites_are_refused(made: tuple[TestClient, int]) -> None:
    client, _ = made
    assert client.get("/api/skeins", headers={"host": "evil.example"}).status_code == 421
    assert client.get("/api/skeins", headers={"origin": "http://evil.example"}).status_code == 403
    assert client.get("/api/skeins", headers={"origin": "http://localhost"}).status_code == 200
    headers = client.get("/api/skeins").headers
    assert "script" not in headers["content-security-policy"]
    assert "default-src 'self'" in headers["content-security-policy"]
    assert "access-control-allow-origin" not in headers


def test_files_outside_the_interface_cannot_be_read(made: tuple[TestClient, int]) -> None:
    client, _ = made
    page = client.get("/strand/1/clean").text
    assert "<!doctype html>" in page and "__NONCE__" not in page
    for path in ("/../app.py", "/%2e%2e/app.py", "/..%2fapp.py", "//etc/passwd"):
        assert "FastAPI" not in client.get(path).text


def test_a_token_is_asked_for_where_one_is_set(tmp_path: Path) -> None:
    state = open_on_thread(tmp_path)
    with TestClient(make_app(state, token="secret"), base_url="http://localhost") as client:
        assert client.get("/api/skeins").status_code == 401
        assert client.get("/api/skeins", params={"token": "wrong"}).status_code == 401
        assert client.get("/api/skeins", params={"token": "secret"}).status_code == 200
        assert client.get("/api/skeins").status_code == 200  # by the cookie
