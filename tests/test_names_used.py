"""Names and phrases as they are used: table, edits, import and export, a field of the documents."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.conftest import bring_in, wait_for
from tests.test_tags_used import run

LINES = [
    "Mrs. Ines Tarrow sailed to Kelpwick.",
    "We met Tarrow at Kelpwick with Perran Holt.",
    "Perran Holt and the harbour watch waited in Quellan.",
    "The harbour watch saw nobody.",
]
TABLE = "entry,text\n" + "".join(f'{at},"{line}"\n' for at, line in enumerate(LINES * 5))


@pytest.fixture(scope="module")
def strand(served: TestClient) -> int:
    return bring_in(served, "names.csv", TABLE.encode())


def found(served: TestClient, strand: int, **query: Any) -> dict[str, Any]:
    answer = served.get(f"/api/strands/{strand}/names", params=query).json()
    return {each["words"]: each for each in answer["names"]} | {"": answer}


def change(served: TestClient, strand: int, **part: Any) -> None:
    record = served.get(f"/api/strands/{strand}").json()
    body = {"revision": record["revision"], "wanted": {**record["wanted"], **part}}
    answer = served.put(f"/api/strands/{strand}/wanted", json=body)
    assert answer.status_code == 200, answer.text


def test_names_are_listed_typed_and_merged(served: TestClient, strand: int) -> None:
    names = found(served, strand)
    assert names["Ines Tarrow"]["kind"] == "person" and names["Ines Tarrow"]["tokens"] == 10
    assert names["Ines Tarrow"]["documents"] == 10
    assert names["Kelpwick"]["kind"] == "place" and "place" in names["Kelpwick"]["reason"]
    assert names[""]["kinds"]["person"] == 2
    change(served, strand, names={"kinds": {"quellan": "organisation"}, "merged": {"quellan": "Kelpwick"}})
    try:
        after = found(served, strand)
        assert "Quellan" not in after and after["Kelpwick"]["tokens"] == 15
    finally:
        change(served, strand, names={"kinds": {}, "merged": {}})


def test_a_table_goes_out_is_changed_and_comes_back(served: TestClient, strand: int) -> None:
    text = served.get(f"/api/strands/{strand}/names.csv").text
    rows = list(csv.DictReader(io.StringIO(text)))
    assert {row["name"] for row in rows} >= {"Ines Tarrow", "Kelpwick", "Quellan"}
    changed = text.replace("Quellan,", "Nowhere,").replace("Kelpwick,place", "Kelpwick,organisation")
    read = served.post(f"/api/strands/{strand}/names/read", json={"text": changed}).json()
    assert read["edits"]["kinds"] == {"kelpwick": "organisation"} and read["unknown"] == 1
    joined = "name,kind,variants\nKelpwick,place,Kelpwick 10; Quellan 5\n"
    read = served.post(f"/api/strands/{strand}/names/read", json={"text": joined}).json()
    assert read["edits"]["merged"] == {"quellan": "Kelpwick"}


@pytest.mark.parametrize(
    ("text", "said"), [("words\nx\n", "no column “name”"), ("name,kind\nQuellan,ship\n", "Line 2"), ("", "no column")]
)
def test_a_table_of_something_else_is_said(served: TestClient, strand: int, text: str, said: str) -> None:
    answer = served.post(f"/api/strands/{strand}/names/read", json={"text": text})
    assert answer.status_code == 422 and said in answer.json()["detail"]


def test_phrases_come_back_as_terms(served: TestClient, strand: int) -> None:
    text = "phrase,tokens,variants\nharbour watch,10,harbour watch 8; harbour watches 2\n,1,\n"
    read = served.post(f"/api/strands/{strand}/phrases/read", json={"text": text}).json()
    assert read["terms"] == ["harbour watch", "harbour watches = harbour watch"]


def test_noun_phrases_are_of_nouns(served: TestClient, strand: int) -> None:
    query = {"nouns": True, "least": 2, "by": "c_value"}
    phrases = served.get(f"/api/strands/{strand}/phrases", params=query).json()["phrases"]
    words = [each["words"] for each in phrases]
    assert "harbour watch" in words and not [each for each in words if "waited" in each]


def test_persons_mentioned_become_a_field(served: TestClient, strand: int) -> None:
    terms = ["Ines Tarrow", "Tarrow = Ines Tarrow", "Perran Holt"]
    operation = {"kind": "mentions", "name": "persons mentioned", "terms": terms, "value": "all"}
    change(served, strand, shape=[operation])
    job = served.post(f"/api/strands/{strand}/rebuild", json={}).json()
    wait_for(served, job["job"])
    values = [
        served.get(f"/api/strands/{strand}/documents/{at}").json()["fields"].get("persons mentioned") for at in range(4)
    ]
    assert values == ["Ines Tarrow", "Ines Tarrow; Perran Holt", "Perran Holt", None]
    twice = served.post(f"/api/strands/{strand}/shape/try", json={"operation": operation})
    assert twice.status_code == 422 and "already" in twice.json()["detail"]


def test_names_of_lines(monkeypatch: pytest.MonkeyPatch) -> None:
    lines = run("\n".join(LINES) + "\n", "names", "--least", "2", monkeypatch=monkeypatch)
    rows = list(csv.DictReader(io.StringIO("\n".join(lines))))
    assert [(row["name"], row["mentions"]) for row in rows] == [
        ("Ines Tarrow", "2"),
        ("Kelpwick", "2"),
        ("Perran Holt", "2"),
    ]
