"""Held fixed, through the API: what is suggested, worked out, worked through, saved, and refused."""

from __future__ import annotations

import csv
import io
import zipfile
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.demo.generator import write_files
from skeinwork.work.exports.pattern import read_pattern
from tests.conftest import Fits, bring_in

PAIR = "harbour × date"
EVERYTHING: dict[str, Any] = {"factor": ["harbour", "watch"], "time": True, "pair": [PAIR], "number": ["swell"]}


@pytest.fixture(scope="module")
def regressed(served: TestClient, tmp_path_factory: pytest.TempPathFactory) -> Fits:
    """Twelve topics of the whole demo with a swell of each day, regressed on all there is."""
    rows = list(csv.DictReader(write_files(tmp_path_factory.mktemp("entries")).open(encoding="utf-8")))
    text = io.StringIO()
    table = csv.DictWriter(text, [*rows[0], "swell"])
    table.writeheader()
    table.writerows({**row, "swell": f"{(7 * at) % 31 / 10:.1f}"} for at, row in enumerate(rows))
    found = Fits(served, bring_in(served, "entries.csv", text.getvalue().encode()))
    found.fit(method="lda", topics=12, iterations=150, seed=2)
    assert not found.get("regression", **EVERYTHING)["made"]
    found.job("regression", EVERYTHING)
    return found


def topic_of(regressed: Fits, word: str) -> int:
    """The topic in which a word stands foremost."""

    def place(topic: dict[str, Any]) -> int:
        words = [each["display"].lower() for each in topic["words"]]
        return words.index(word) if word in words else len(words)

    return int(min(regressed.get("topics")["topics"], key=place)["topic"])


def test_groups_the_time_and_no_dates_are_suggested(regressed: Fits) -> None:
    choices = regressed.get("regression/choices")
    assert choices["numbers"] == ["swell"] and choices["dated"]
    assert choices["suggested"]["factors"][:1] == ["harbour"] and choices["suggested"]["time"]
    assert "harbour has 5 values" in choices["why"] and "dates" in choices["why"]


def test_what_was_planted_remains_and_chance_does_not(regressed: Fits) -> None:
    engine = topic_of(regressed, "engine")
    found = regressed.get("regression", **EVERYTHING, topic=[engine])
    assert found["made"] and [each["terms"] for each in found["effects"]] == [
        ["harbour"],
        ["watch"],
        ["swell"],
        ["date"],
        ["harbour", "date"],
    ]
    mine = next(each for each in found["topics"] if each["topic"] == engine)
    assert mine["effects"][0]["sure"] and not mine["effects"][2]["sure"]
    best = min(mine["effects"][0]["compared"], key=lambda each: each["p"])
    assert best["what"] == ["Ossingby"] and best["low"] > 0.05
    sentence = mine["effects"][0]["sentence"]
    assert "With watch, swell and date held fixed" in sentence and "at harbour Ossingby against the rest" in sentence
    # A swell made up by the number of the entry tells of nothing.
    assert sum(each["effects"][2]["sure"] for each in found["topics"]) == 0
    assert "surely tells of" in found["says"] and "swell" in found["says"].split("of none")[0]
    assert any("Left out" in each for each in found["limits"])
    assert len(mine["fifths"]) >= 3 and mine["parts"]


def test_a_factor_alone_foretells_the_shares_of_its_groups(regressed: Fits) -> None:
    regressed.job("regression", {"factor": ["harbour"]})
    found = regressed.get("regression", factor=["harbour"], topic=[0, 3])
    groups = regressed.get("prevalence", group="harbour", topic=[0, 3])
    shares = dict(zip(groups["groups"], groups["cells"], strict=True))
    for point in found["effects"][0]["points"]:
        there = shares[point["given"][0]]
        assert point["documents"] == pytest.approx(there["documents"], abs=2)
        for mine, other in zip(point["shares"], there["values"], strict=True):
            assert mine["mean"] == pytest.approx(other["mean"], abs=1e-3)


def test_a_prediction_opens_to_sums_that_add_up(regressed: Fits) -> None:
    found = regressed.get("regression", **EVERYTHING, topic=[0])
    at = [each["given"] for each in found["effects"][0]["points"]].index(["Ossingby"])
    lines = regressed.get("regression/working", **EVERYTHING, topic=0, point=at)["lines"]
    by_name = {each["name"]: each["value"] for each in lines}
    parts = ("constant", "harbour", "watch", "swell", "date", PAIR)
    assert sum(by_name[each] for each in parts) == pytest.approx(by_name["sum"], abs=1e-9)
    assert by_name["share"] == pytest.approx(by_name["sum"], abs=1e-6)
    assert by_name["share"] == pytest.approx(found["effects"][0]["points"][at]["shares"][0]["mean"])
    regressed.job("regression", {**EVERYTHING, "link": "logit"})
    logit = regressed.get("regression", **EVERYTHING, link="logit", topic=[0])
    assert all(0 <= share["low"] <= share["high"] <= 1 for p in logit["effects"][4]["points"] for share in p["shares"])
    assert logit["effects"][0]["points"][at]["shares"][0]["mean"] == pytest.approx(by_name["share"], abs=0.03)


def test_regressions_are_saved_and_woven(regressed: Fits) -> None:
    regressed.get("regression", **EVERYTHING)
    pattern = read_pattern(regressed.client.get(f"{regressed.base}/pattern.json").text)
    assert ("harbour", "date") in pattern.regress[0].pairs and pattern.regress[0].numbers == ("swell",)
    archive = zipfile.ZipFile(io.BytesIO(regressed.client.get(f"{regressed.base}/export.zip").content))
    name = next(each for each in archive.namelist() if each.startswith("regression-on-harbour-watch-swell-date"))
    rows = list(csv.DictReader(io.TextIOWrapper(archive.open(name), encoding="utf-8")))
    shown = regressed.get("regression", **EVERYTHING, topic=[5])["effects"][0]["points"][1]
    mine = next(
        each
        for each in rows
        if each["effect"] == "harbour" and each["where"] == shown["given"][0] and each["topic"] == "6"
    )
    assert float(mine["value"]) == pytest.approx(shown["shares"][0]["mean"])
    assert {each["what"] for each in rows} == {
        "foretold",
        "against the rest",
        "any of it",
        "share of the scatter that is told",
    }


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({}, "choose a factor"),
        ({"factor": ["quay"]}, "no field “quay”"),
        ({"factor": ["harbour"], "pair": ["harbour × tide"]}, "no pair of two terms"),
        ({"number": ["harbour"]}, "no two different numbers"),
        ({"factor": ["harbour"], "unit": "quay"}, "quay"),
        ({"factor": ["harbour"], "design": "watch"}, "no numbers above 0"),
    ],
)
def test_odd_regressions_are_refused_in_words(regressed: Fits, wrong: dict[str, Any], words: str) -> None:
    for answer in (
        regressed.client.get(f"{regressed.base}/regression", params=wrong),
        regressed.client.post(f"{regressed.base}/regression", json=wrong),
    ):
        assert answer.status_code in (400, 404, 422), answer.text
        assert words in answer.text
