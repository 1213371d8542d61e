"""What a new data folder answers: what to do first, files that are refused, a first strand."""

from __future__ import annotations

from pathlib import Path

from fastapi.testclient import TestClient

from skeinwork.demo.generator import write_files
from tests.conftest import bring_in, wait_for


def test_stations_say_what_to_do_first(client: TestClient) -> None:
    strand = bring_in(client, "two.txt", b"the and\nof the\n")
    for path, words in (
        ("topics", "Make one at Fit"),
        ("prevalence", "Make one at Fit"),
        ("pattern.json", "Make one at Fit"),
    ):
        answer = client.get(f"/api/strands/{strand}/{path}")
        assert answer.status_code == 422 and words in answer.json()["detail"]
    answer = client.post(f"/api/strands/{strand}/fits", json={"topics": 2})
    assert answer.status_code == 422 and "vocabulary is empty" in answer.json()["detail"]


def test_an_upload_that_is_no_table_is_refused(client: TestClient) -> None:
    for name, data, words in (
        ("a.csv", b"", "empty"),
        ("a.zip", b"PK\x03\x04", "damaged or breaks off"),
        ("a.csv", b"a,b\n", "no rows of documents"),
    ):
        answer = client.post("/api/uploads", files={"file": (name, data)})
        assert answer.status_code == 422 and words in answer.json()["detail"]
    ghost = {"sha256": "0" * 64, "name": "x", "settings": {}}
    assert client.post("/api/skeins", json={"name": "x", "gather": {"files": [ghost]}}).status_code == 404


def test_a_file_without_a_text_field_is_previewed_and_then_refused(client: TestClient) -> None:
    found = client.post("/api/uploads", files={"file": ("x.csv", b"text,n\nice,1\nfog,2\n")}).json()
    settings = {**found["settings"], "roles": {"text": "ignored", "n": "group"}}
    path = f"/api/uploads/{found['sha256']}/preview"
    again = client.post(path, params={"name": "x.csv"}, json=settings)
    assert again.status_code == 200 and again.json()["settings"]["roles"]["text"] == "ignored"
    file = {"sha256": found["sha256"], "name": "x.csv", "settings": again.json()["settings"]}
    made = client.post("/api/skeins", json={"name": "x", "gather": {"files": [file]}}).json()
    assert "no field has the role text" in wait_for(client, made["job"], "failed")["error"]


def test_a_preview_follows_other_settings(client: TestClient) -> None:
    data = "id;when;text\n1;03/04/2014;Fähre\n2;05/06/2014;Sturm\n".encode("cp1252")
    found = client.post("/api/uploads", files={"file": ("x.csv", data)}).json()
    assert (found["settings"]["delimiter"], found["settings"]["encoding"]) == (";", "cp1252")
    assert found["guessed_encoding"] and not found["order_is_certain"]
    settings = {**found["settings"], "encoding": "utf-8"}
    other = client.post(f"/api/uploads/{found['sha256']}/preview", params={"name": "x.csv"}, json=settings).json()
    assert other["doubtful"] == 1
    assert client.post(f"/api/uploads/{'0' * 64}/preview", params={"name": "x"}, json={}).status_code == 404


def test_a_demo_folder_becomes_a_strand(client: TestClient, tmp_path: Path) -> None:
    path = write_files(tmp_path / "demo", size=120)
    strand = bring_in(client, path.name, path.read_bytes())
    overview = client.get(f"/api/strands/{strand}/overview").json()
    assert {field["name"]: field["role"] for field in overview["fields"]} == {
        "entry": "identifier",
        "date": "date",
        "harbour": "group",
        "writer": "group",
        "watch": "group",
    }
