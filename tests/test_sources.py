"""The files of a strand brought in again: more of them, read otherwise, undone; nothing is lost."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.conftest import bring_in, undo, wait_for

FIRST = "id,day,place,entry\n" + "".join(
    f"a{n},201{n % 4}-0{1 + n % 9}-11,{('Kelpwick', 'Quellan')[n % 2]},"
    f"{('Gale and heavy swell at the outer mooring', 'Ferry left late with coal and passengers')[n % 2]} {n}\n"
    for n in range(60)
)
SECOND = "id,day,place,entry\n" + "".join(
    f"b{n},2019-05-1{n % 9},Tarnholt,Nesting terns counted on the skerry {n}\n" for n in range(20)
)


@pytest.fixture
def strand(served: TestClient) -> int:
    return bring_in(served, "first.csv", FIRST.encode())


def ask(served: TestClient, strand: int, path: str = "") -> Any:
    answer = served.get(f"/api/strands/{strand}/{path}".rstrip("/"))
    assert answer.status_code == 200, answer.text
    return answer.json()


def send(served: TestClient, strand: int, files: list[dict[str, Any]], base: str = "") -> Any:
    wanted = [{key: each[key] for key in ("sha256", "name", "settings")} for each in files]
    params = {"base": base or ask(served, strand)["wanted"]["base"]}
    return served.post(f"/api/strands/{strand}/gather", params=params, json={"files": wanted})


def gather(served: TestClient, strand: int, files: list[dict[str, Any]]) -> dict[str, Any]:
    """Bring files in for a strand that has some; the strand as it stands then."""
    made = send(served, strand, files)
    assert made.status_code == 200, made.text
    wait_for(served, made.json()["job"])
    found: dict[str, Any] = ask(served, strand)
    return found


def documents(record: dict[str, Any]) -> int:
    count: int = record["summaries"]["corpus"]["documents"]
    return count


def second(served: TestClient) -> dict[str, Any]:
    made: dict[str, Any] = served.post("/api/uploads", files={"file": ("second.csv", SECOND.encode())}).json()
    return made


def want(served: TestClient, strand: int, **part: Any) -> Any:
    record = ask(served, strand)
    body = {"revision": record["revision"], "wanted": {**record["wanted"], **part}}
    return served.put(f"/api/strands/{strand}/wanted", json=body)


def rebuild(served: TestClient, strand: int) -> dict[str, Any]:
    wait_for(served, served.post(f"/api/strands/{strand}/rebuild").json()["job"])
    found: dict[str, Any] = ask(served, strand)
    return found


def test_more_files_come_in_and_go_again_by_undo(served: TestClient, strand: int) -> None:
    before = ask(served, strand)
    files = ask(served, strand, "files")["files"]
    assert [file["name"] for file in files] == ["first.csv"]
    after = gather(served, strand, [*files, second(served)])
    assert (documents(before), documents(after)) == (60, 80)
    assert [ply["state"] for ply in after["plies"][:3]] == ["ready"] * 3
    assert after["undo"] == before["undo"] + 1
    assert [file["name"] for file in ask(served, strand, "files")["files"]] == ["first.csv", "second.csv"]
    undone = undo(served, strand)
    assert undone["plies"][0]["state"] == "stale"
    back = rebuild(served, strand)
    assert back["plies"][0]["identity"] == before["plies"][0]["identity"]
    assert back["plies"][2]["identity"] == before["plies"][2]["identity"]


def test_a_file_is_read_otherwise_and_every_field_is_there(served: TestClient, strand: int) -> None:
    (file,) = ask(served, strand, "files")["files"]
    settings = {**file["settings"], "roles": {**file["settings"]["roles"], "place": "text", "entry": "kept"}}
    record = gather(served, strand, [{**file, "settings": settings}])
    assert documents(record) == 60
    fields = {each["name"]: each for each in ask(served, strand, "overview")["fields"]}
    assert "place" not in fields and fields["entry"]["filled"] == 60
    first = ask(served, strand, "documents")["rows"][0]
    assert first["beginning"] == "Kelpwick"
    versions = ask(served, strand, "versions/corpus")
    assert [each["current"] for each in versions] == [True, False]
    assert versions[1]["differs"] == {
        "role of entry": {"here": "kept", "there": "text"},
        "role of place": {"here": "text", "there": "group"},
    }
    served.post(f"/api/strands/{strand}/switch", json={"identity": versions[1]["identity"]})
    rebuild(served, strand)
    assert ask(served, strand, "documents")["rows"][0]["beginning"].startswith("Gale and heavy")


def test_fields_of_other_files_are_called_alike(served: TestClient, strand: int) -> None:
    (file,) = ask(served, strand, "files")["files"]
    other = SECOND.replace("id,day,place", "nr,date,harbour").encode()
    more = served.post("/api/uploads", files={"file": ("other.csv", other)}).json()
    names = {"nr": "id", "date": "day", "harbour": "place"}
    settings = {**more["settings"], "names": names}
    record = gather(served, strand, [file, {**more, "settings": settings}])
    fields = {each["name"]: each["filled"] for each in ask(served, strand, "overview")["fields"]}
    assert fields == {"id": 80, "day": 80, "place": 80}
    assert documents(record) == 80
    twice = {**more["settings"], "names": {"nr": "harbour"}}
    job = send(served, strand, [{**more, "settings": twice}]).json()["job"]
    assert "two fields would be called “harbour”" in wait_for(served, job, "failed")["error"]


def test_chosen_documents_are_the_same_ones_after_files_came_before_them(served: TestClient, strand: int) -> None:
    chosen = {"kind": "filter", "numbers": [3, 4, 59], "said": "three to look at"}
    assert want(served, strand, shape=[chosen]).status_code == 200
    rebuild(served, strand)

    def beginnings() -> list[str]:
        return [row["beginning"] for row in ask(served, strand, "documents")["rows"]]

    wanted = beginnings()
    assert len(wanted) == 3
    (file,) = ask(served, strand, "files")["files"]
    record = gather(served, strand, [second(served), file])
    assert documents(record) == 3 and beginnings() == wanted
    assert record["wanted"]["shape"][0]["numbers"] == [23, 24, 79]
    undo(served, strand)
    assert rebuild(served, strand)["wanted"]["shape"][0]["numbers"] == [3, 4, 59]
    assert beginnings() == wanted


def test_topics_follow_with_their_labels_unconfirmed(served: TestClient, strand: int) -> None:
    job = served.post(f"/api/strands/{strand}/fits", json={"topics": 2, "iterations": 60})
    wait_for(served, job.json()["job"])
    topics = ask(served, strand, "topics")
    for topic in topics["topics"]:
        note = {
            "fit": topics["fit"],
            "revision": topic["revision"],
            "label": f"label {topic['topic']}",
            "confirmed": True,
        }
        assert served.put(f"/api/strands/{strand}/topics/{topic['topic']}", json=note).status_code == 200
    files = ask(served, strand, "files")["files"]
    record = gather(served, strand, [*files, second(served)])
    assert record["plies"][3]["state"] == "ready" and record["labelled"] == 0
    after = ask(served, strand, "topics")["topics"]
    assert all(topic["label"] for topic in after)


def test_what_can_not_be_brought_in_again_is_said(served: TestClient, strand: int) -> None:
    (file,) = ask(served, strand, "files")["files"]
    unknown = {"sha256": "0" * 64, "name": "gone.csv", "settings": file["settings"]}
    answer = send(served, strand, [unknown])
    assert answer.status_code == 404 and "gone.csv" in answer.json()["detail"]
    assert want(served, strand, base="").status_code == 422
    answer = want(served, strand, base="0" * 64)
    assert answer.status_code == 422 and "never had those documents" in answer.json()["detail"]
    before = ask(served, strand)
    textless = {**file["settings"], "roles": {"entry": "kept"}}
    made = send(served, strand, [{**file, "settings": textless}]).json()
    failed = wait_for(served, made["job"], "failed")
    assert "no field has the role text" in failed["error"]
    assert ask(served, strand)["plies"] == before["plies"]


def test_two_tabs_bringing_files_in_do_not_overwrite_each_other(served: TestClient, strand: int) -> None:
    seen = ask(served, strand, "files")
    record = gather(served, strand, [*seen["files"], second(served)])
    answer = send(served, strand, seen["files"], base=seen["base"])
    assert answer.status_code == 409 and "another tab" in answer.json()["detail"]
    assert ask(served, strand)["plies"] == record["plies"]


def test_what_failed_at_first_is_brought_in_otherwise(served: TestClient) -> None:
    file = served.post("/api/uploads", files={"file": ("x.csv", FIRST.encode())}).json()
    wrong = {**file["settings"], "roles": {"entry": "kept"}}
    wanted = {"sha256": file["sha256"], "name": "x.csv", "settings": wrong}
    made = served.post("/api/skeins", json={"name": "x", "gather": {"files": [wanted]}}).json()
    wait_for(served, made["job"], "failed")
    found = ask(served, made["strand"], "files")
    assert found["base"] == "" and found["files"][0]["settings"]["roles"]["entry"] == "kept"
    assert documents(gather(served, made["strand"], [file])) == 60
