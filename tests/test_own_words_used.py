"""A topic's own words, through the API: a word that one harbour alone uses, the time in halves, and odd requests."""

from __future__ import annotations

import csv
import io
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.demo.generator import write_files
from tests.conftest import Fits, bring_in

AT = "Ossingby"


@pytest.fixture(scope="module")
def spoken(served: TestClient, tmp_path_factory: pytest.TempPathFactory) -> Fits:
    """Six topics of entries that say “motor” for an engine at Ossingby, and “jetty” for a quay from 2016 on."""
    rows = list(csv.DictReader(write_files(tmp_path_factory.mktemp("entries"), size=900).open(encoding="utf-8")))
    text = io.StringIO()
    table = csv.DictWriter(text, [*rows[0]])
    table.writeheader()
    for row in rows:
        if row["harbour"] == AT:
            row["text"] = row["text"].replace("ngine", "nginemotor")
        if row["date"] >= "2016":
            row["text"] = row["text"].replace("quay", "jetty")
        table.writerow(row)
    found = Fits(served, bring_in(served, "entries.csv", text.getvalue().encode()))
    found.fit(method="lda", topics=6, iterations=150, seed=1)
    return found


def own(spoken: Fits, word: str, **by: Any) -> list[dict[str, Any]]:
    """The parts of every topic that surely say a word more."""
    found = []
    for topic in range(6):
        for part in spoken.get("own-words", topic=topic, **by)["groups"]:
            found += [{**each, "part": part} for each in part["more"] if each["sure"] and word in each["display"]]
    return found


def test_what_one_harbour_alone_says_is_its_own_word(spoken: Fits) -> None:
    words = own(spoken, "enginemotor", group="harbour")
    assert words and {each["part"]["name"] for each in words} == {AT}
    first = words[0]
    assert first["high"] is None and first["low"] > 2 and first["outside"] == 0
    assert f"({first['inside']} + ½) / " in first["working"]
    counted = spoken.get("own-words", topic=0, group="harbour")
    assert {each["name"] for each in counted["groups"]} == {
        "Kelpwick",
        "Tarnholt",
        "Ossingby",
        "Little Marre",
        "Quellan",
    }
    assert f"of {len(counted['groups'])} parts" in counted["says"][0]
    for part in counted["groups"]:
        assert part["words"] == sorted(part["words"], key=lambda each: -each["weight"])


def test_evidence_of_a_word_is_what_stands_there(spoken: Fits) -> None:
    word = own(spoken, "enginemotor", group="harbour")[0]
    topic = next(
        at
        for at in range(6)
        if any(
            word["term"] == each["term"]
            for part in spoken.get("own-words", topic=at, group="harbour")["groups"]
            for each in part["more"]
            if each["sure"]
        )
    )
    found = spoken.get("evidence", topic=topic, holding=word["term"], field="harbour", value=AT)
    assert found["total"] > 0
    assert all("motor" in str(each).lower() for each in found["pieces"][:3])


def test_words_rise_and_fall_over_the_time(spoken: Fits) -> None:
    later = own(spoken, "jett", halves=True)
    assert later and all(each["part"]["said"].startswith("from ") for each in later)
    assert not own(spoken, "jett", group="harbour")


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"topic": 0}, "Choose a field to group by"),
        ({"topic": 99, "group": "harbour"}, "99"),
        ({"topic": 0, "group": "quay"}, "no field “quay”"),
        ({"topic": 0, "group": "harbour", "unit": "quay"}, "quay"),
    ],
)
def test_odd_requests_are_refused_in_words(spoken: Fits, wrong: dict[str, Any], words: str) -> None:
    answer = spoken.client.get(f"{spoken.base}/own-words", params=wrong)
    assert answer.status_code in (400, 404, 422), answer.text
    assert words in answer.text
