"""Skeins: renamed, copied, deleted and brought back, saved as one file and opened elsewhere."""

from __future__ import annotations

import io
import json
import sys
import zipfile
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.server.app import make_app
from skeinwork.server.run import open_state
from skeinwork.store.models import Skein
from skeinwork.work.strands.holdings import Holding, own_of
from tests.conftest import bring_in, choose, wait_for
from tests.shared import TABLE

sys.path.insert(0, str(Path(__file__).parents[1] / "scripts"))


def work_through(client: TestClient) -> int:
    """A strand with a fit, a label, a note and an event."""
    strand = bring_in(client, "entries.csv", TABLE)
    request = {"counts": [2, 3], "seeds": [1], "iterations": 20}
    wait_for(client, client.post(f"/api/strands/{strand}/sweeps", json=request).json()["job"])
    fit = client.get(f"/api/strands/{strand}/fits").json()["fits"][0]["identity"]
    fit = choose(client, strand, fit, reason="Both can be named.")
    topic = client.get(f"/api/strands/{strand}/topics").json()["topics"][0]
    said = {"fit": fit, "revision": topic["revision"], "label": "Storms", "confirmed": True, "note": "x"}
    client.put(f"/api/strands/{strand}/topics/0", json=said)
    client.post(f"/api/strands/{strand}/events", json={"day": "2012", "label": "gale"})
    return strand


@pytest.fixture
def worked(client: TestClient) -> int:
    return work_through(client)


def skein_of(client: TestClient, strand: int) -> int:
    skein: int = client.get(f"/api/strands/{strand}").json()["skein"]
    return skein


def entries(client: TestClient) -> dict[str, dict[str, Any]]:
    return {each["name"]: each for each in client.get("/api/skeins").json()}


def opened(client: TestClient, data: bytes, state: str = "done") -> dict[str, Any]:
    answer = client.post("/api/skeins/open", files={"file": ("my.skein.zip", data)})
    assert answer.status_code == 202
    return wait_for(client, answer.json()["job"], state)


PARTS = ("topics", "fits", "events", "overview", "documents?find=ferry", "files")


@pytest.fixture(scope="module")
def saved(tmp_path_factory: pytest.TempPathFactory) -> tuple[bytes, dict[str, Any]]:
    """The file of a skein, and what its strand showed. One process has one data folder at a time."""
    with TestClient(
        make_app(open_state(tmp_path_factory.mktemp("mine"), workers=1)), base_url="http://localhost"
    ) as client:
        strand = work_through(client)
        data = client.get(f"/api/skeins/{skein_of(client, strand)}/file").content
        shown = {part: client.get(f"/api/strands/{strand}/{part}").json() for part in PARTS}
    return data, shown


def test_a_skein_is_the_same_when_its_file_is_opened_elsewhere(
    saved: tuple[bytes, dict[str, Any]], client: TestClient
) -> None:
    data, shown = saved
    opened(client, data)
    (there,) = entries(client).values()
    strand = there["strands"][0]
    for part in PARTS:
        theirs = client.get(f"/api/strands/{strand}/{part}").json()
        for each in (*shown["topics"]["topics"], *(theirs["topics"] if part == "topics" else ())):
            each.pop("revision", None)
        assert theirs == shown[part], part
    record = client.get(f"/api/strands/{strand}").json()
    assert {ply["state"] for ply in record["plies"]} == {"ready"} and record["labelled"] == 1
    opened(client, data)
    assert len(client.get("/api/skeins").json()) == 2


def test_a_file_of_the_first_version_is_read(saved: tuple[bytes, dict[str, Any]], client: TestClient) -> None:
    """Results were fields of a strand there, and empty ones stood as null."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(saved[0])) as source, zipfile.ZipFile(out, "w") as target:
        for each in source.namelist():
            content = source.read(each)
            if each == "skein.json":
                record = {**json.loads(content), "version": 1}
                for strand in record["strands"]:
                    results = strand.pop("results")
                    strand |= {name: results.get(name) for name in ("corpus", "cleaning", "matrix", "fit")}
                    strand["draft"].pop("beside")
                content = json.dumps(record).encode()
            target.writestr(each, content)
    opened(client, out.getvalue())
    (there,) = entries(client).values()
    record = client.get(f"/api/strands/{there['strands'][0]}").json()
    assert {ply["state"] for ply in record["plies"]} == {"ready"} and record["labelled"] == 1


def damaged(data: bytes, name: str) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as source, zipfile.ZipFile(out, "w") as target:
        for each in source.namelist():
            content = source.read(each)
            target.writestr(each, content[:-3] + b"xyz" if name in each else content)
    return out.getvalue()


def test_a_damaged_file_of_a_skein_brings_nothing_in(saved: tuple[bytes, dict[str, Any]], client: TestClient) -> None:
    data = saved[0]
    other = io.BytesIO()
    with zipfile.ZipFile(other, "w") as archive:
        archive.writestr("a.txt", "a gale")
    for content, words in (
        (damaged(data, "files/"), "is damaged"),
        (damaged(data, "topic_word.npy"), "is damaged"),
        (damaged(data, "made.json"), "is damaged"),
        (damaged(data, "skein.json"), "can't be read"),
        (other.getvalue(), "no skein.json"),
        (b"not a zip at all", "is damaged or breaks off"),
    ):
        assert words in opened(client, content, "failed")["error"]
        assert client.get("/api/skeins").json() == []
    opened(client, data)


def test_a_skein_is_renamed_and_copied_with_all_that_was_said(client: TestClient, worked: int) -> None:
    skein = skein_of(client, worked)
    assert client.put(f"/api/skeins/{skein}", json={"name": "Logs"}).status_code == 200
    copy = client.post(f"/api/skeins/{skein}/copy").json()["strand"]
    assert set(entries(client)) == {"Logs", "Logs, copy"}
    topics = client.get(f"/api/strands/{copy}/topics").json()["topics"]
    assert topics[0]["label"] == "Storms"
    assert client.get(f"/api/strands/{copy}/events").json()[0]["label"] == "gale"
    said = {
        "fit": client.get(f"/api/strands/{copy}/topics").json()["fit"],
        "revision": topics[0]["revision"],
        "label": "Gales",
        "confirmed": True,
    }
    client.put(f"/api/strands/{copy}/topics/0", json=said)
    assert client.get(f"/api/strands/{worked}/topics").json()["topics"][0]["label"] == "Storms"
    assert client.put("/api/skeins/99", json={"name": "x"}).status_code == 404


def test_a_deleted_skein_comes_back_until_the_server_stops(tmp_path: Path) -> None:
    folder = tmp_path / "data"
    with TestClient(make_app(open_state(folder, workers=1)), base_url="http://localhost") as client:
        kept = skein_of(client, bring_in(client, "same.csv", TABLE))
        copy = skein_of(client, client.post(f"/api/skeins/{kept}/copy").json()["strand"])
        gone = skein_of(client, bring_in(client, "two.txt", b"a gale\nthe ferry\n"))
        found = client.get(f"/api/skeins/{gone}/content").json()
        assert found["results"] == 4 and found["bytes"] > 1000 and found["strands"] == 1
        assert client.get(f"/api/skeins/{copy}/content").json()["results"] == 0
        for each in (gone, copy, kept):
            client.delete(f"/api/skeins/{each}")
        client.post(f"/api/skeins/{kept}/restore")
        assert [each["deleted"] for each in client.get("/api/skeins").json()] == [True, True, False]
        strand = client.get("/api/skeins").json()[0]["strands"][0]
        refused = client.post(f"/api/strands/{strand}/rebuild")
        assert refused.status_code == 404 and "was deleted" in refused.json()["detail"]
        files = list((folder / "uploads").iterdir())
        assert sum(path.read_bytes() == b"a gale\nthe ferry\n" for path in files) == 1
    with TestClient(make_app(open_state(folder, workers=1)), base_url="http://localhost") as client:
        (left,) = client.get("/api/skeins").json()
        assert left["id"] == kept
        wait_for(client, client.get("/api/jobs").json()[0]["id"])
        assert [path.read_bytes() for path in (folder / "uploads").iterdir()] == [TABLE]
        assert indexed(client) == 62
        assert client.get(f"/api/strands/{left['strands'][0]}/overview").json()["documents"] == 62
    results = [path for path in (folder / "results").glob("??/*") if path.is_dir()]
    assert len(results) == 4


def indexed(client: TestClient) -> int:
    """Documents in the search index, of whatever corpus."""
    store = client.app.state.skeinwork.store  # type: ignore[attr-defined]
    with store.connection():
        count: int = store.database.execute_sql("SELECT COUNT(*) FROM search_docsize").fetchone()[0]
    return count


def test_what_lies_on_disk_is_shown_and_cleared(saved: tuple[bytes, dict[str, Any]], client: TestClient) -> None:
    opened(client, saved[0])
    other = skein_of(client, bring_in(client, "two.txt", b"a gale\nthe ferry\n"))
    client.post("/api/uploads", files={"file": ("never.txt", b"a fog never used\n")})
    use = client.get("/api/storage").json()
    assert use["unused"]["names"] == ["never.txt"] and use["unused"]["bytes"] == 17
    assert [each["name"] for each in use["skeins"]] == ["two.txt", "entries.csv"]
    assert use["skeins"][0]["own"] == use["skeins"][0]["bytes"] > 1000
    data = use["total"]
    told = sum(each["bytes"] for each in use["skeins"]) + use["unused"]["bytes"] + use["other"]
    assert abs(data - told) < 0.02 * data  # what jobs keep beside, and the lock
    client.delete(f"/api/skeins/{other}")
    before = indexed(client)
    job = client.post("/api/storage/clear", json={"deleted": True, "unused": True}).json()["job"]
    wait_for(client, job)
    assert client.post(f"/api/skeins/{other}/restore").status_code == 404
    after = client.get("/api/storage").json()
    assert [each["name"] for each in after["skeins"]] == ["entries.csv"]
    assert after["unused"] == {"files": 0, "results": 0, "bytes": 0, "names": []}
    assert indexed(client) == before - 2
    assert client.get("/api/strands/1/documents?find=ferry").json()["total"] > 0
    again = client.post("/api/storage/clear", json={"deleted": True, "unused": True}).json()
    assert again["job"] is None


@pytest.mark.long
def test_the_demo_is_worked_through_when_skeinwork_is_set_up(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    import make_worked_demo

    path = tmp_path / "worked.zip"
    make_worked_demo.make(path, counts=(9, 12), seeds=(1, 2), iterations=40)
    monkeypatch.setattr("skeinwork.server.demo.WORKED", path)
    with TestClient(make_app(open_state(tmp_path / "data", workers=1)), base_url="http://localhost") as client:
        first = client.post("/api/demo").json()["strand"]
        assert client.post("/api/demo").json()["strand"] == first
        record = client.get(f"/api/strands/{first}").json()
        assert {ply["state"] for ply in record["plies"]} == {"ready"} and record["labelled"] >= 6
        assert set(record["hints"]) >= {"gather", "track"}
        fresh = client.get(f"/api/strands/{record['siblings'][1]['id']}").json()
        assert [ply["state"] for ply in fresh["plies"]] == ["ready", "ready", "ready", "empty"]
        wait_for(client, client.get("/api/jobs").json()[0]["id"])
        found = client.get(f"/api/strands/{first}/documents?find=breakwater").json()
        assert found["total"] > 50


def test_a_skein_that_is_made_while_others_are_counted_is_counted_later(client: TestClient, worked: int) -> None:
    opened(client, client.get(f"/api/skeins/{skein_of(client, worked)}/file").content)
    state = client.app.state.skeinwork  # type: ignore[attr-defined]
    with state.store.connection():
        first, second = Skein.select().order_by(Skein.id)
        assert own_of(first, {first.id: Holding({"a"}, {"b"})}) == Holding({"a"}, {"b"})
        assert own_of(first, {each.id: Holding({"a"}, set()) for each in (first, second)}) == Holding()
