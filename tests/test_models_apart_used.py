"""Models apart, through the API: a planted split, what is left out, evidence, saved and woven, refused."""

from __future__ import annotations

import csv
import io
import zipfile
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.work.exports.pattern import read_pattern
from tests.conftest import Fits, bring_in

THEMES = {
    "gulls": "gull tern nest chick roost flock ledge plume".split(),
    "engines": "engine piston valve gasket throttle coolant starter gearbox".split(),
    "nets": "net haul cod trawl float mesh catch herring".split(),
    "ferries": "ferry ticket timetable sailing passenger queue gangway luggage".split(),
}
SPLIT = "Ossingby"
SIZES = {"Kelpwick": 150, "Tarnholt": 150, SPLIT: 150, "Quellan": 5}


def said(harbour: str, rng: np.random.Generator) -> str:
    """An entry of one theme mostly; at one harbour none of nets, and of gulls one half of the words or the other."""
    here = [each for each in THEMES if harbour != SPLIT or each != "nets"]
    words: list[str] = []
    for theme, share in zip(rng.permutation(here), (20, 6), strict=False):
        of = THEMES[theme]
        if harbour == SPLIT and theme == "gulls":
            half = int(rng.integers(2)) * 4
            of = of[half : half + 4]
        words += rng.choice(of, share).tolist()
    return " ".join(words)


@pytest.fixture(scope="module")
def parted(served: TestClient) -> Fits:
    rng = np.random.default_rng(4)
    text = io.StringIO()
    table = csv.writer(text)
    table.writerow(["entry", "harbour", "date"])
    for harbour, size in SIZES.items():
        table.writerows([said(harbour, rng), harbour, f"{2010 + at % 3}-05-{1 + at % 28:02}"] for at in range(size))
    found = Fits(served, bring_in(served, "themes.csv", text.getvalue().encode()))
    found.fit(method="lda", topics=4, iterations=120, seed=3)
    assert found.get("apart", group="harbour")["made"] is False
    found.job("apart", {"group": "harbour"})
    return found


def theme_of(parted: Fits, theme: str) -> int:
    """The topic that has most words of a theme."""
    topics = parted.get("topics")["topics"]
    mine = [sum(each["display"] in THEMES[theme] for each in topic["words"]) for topic in topics]
    return int(np.argmax(mine))


def test_a_planted_split_is_named_and_nothing_else(parted: Fits) -> None:
    found = parted.get("apart", group="harbour")
    assert found["made"] and [each["name"] for each in found["parts"]] == ["Kelpwick", "Ossingby", "Tarnholt"]
    gulls, nets = theme_of(parted, "gulls"), theme_of(parted, "nets")
    [differing] = found["differing"]
    assert differing["topic"] == gulls and found["parts"][differing["part"]]["name"] == SPLIT
    cell = found["topics"][gulls]["cells"][differing["part"]]
    halves = [set(found["parts"][differing["part"]]["topics"][each["own"]]["words"][:4]) for each in cell["into"]]
    assert sorted(map(sorted, halves)) == sorted(map(sorted, (THEMES["gulls"][:4], THEMES["gulls"][4:])))
    assert cell["held"] >= 0.5 and not found["topics"][nets]["cells"][differing["part"]]["shown"]
    assert "3 of 4 topics are the same in the models of all parts" in found["says"]
    assert "of documents dealt out at random 12 of 12 are the same" in found["says"]
    assert "Quellan" in found["rests"]


def test_tokens_of_a_part_add_up_over_both_models(parted: Fits) -> None:
    found = parted.get("apart", group="harbour")
    for at, part in enumerate(found["parts"]):
        whole = sum(topic["cells"][at]["tokens"] for topic in found["topics"])
        assert whole == pytest.approx(part["tokens"]) == pytest.approx(sum(own["tokens"] for own in part["topics"]))


def test_a_topic_of_a_part_leads_to_its_documents_there(parted: Fits) -> None:
    found = parted.get("apart", group="harbour")
    part = next(each for each in found["parts"] if each["name"] == SPLIT)
    own = next(each for each in part["topics"] if set(each["words"][:4]) == set(THEMES["gulls"][:4]))
    evidence = parted.get("evidence", part_fit=part["identity"], own=own["own"])
    assert SPLIT in evidence["title"] and 0 < evidence["total"] < SIZES[SPLIT]
    passages = [segment for piece in evidence["pieces"] for segment in piece["passage"]]
    marked = {segment["text"] for segment in passages if segment["weight"]}
    assert marked & set(THEMES["gulls"][:4]) and not marked - set(THEMES["gulls"][:4])


def test_periods_are_parts_too(parted: Fits) -> None:
    parted.job("apart", {"period": "year", "seeds": 1})
    found = parted.get("apart", period="year", seeds=1)
    assert [each["said"] for each in found["parts"]] == ["2010", "2011", "2012"]
    assert found["field"] is None and not found["differing"]


def test_models_are_saved_and_woven(parted: Fits) -> None:
    pattern = read_pattern(parted.client.get(f"{parted.base}/pattern.json").text)
    first = pattern.apart[0]
    assert (first.by.group, first.topics, first.smallest) == ("harbour", 4, 150)
    archive = zipfile.ZipFile(io.BytesIO(parted.client.get(f"{parted.base}/export.zip").content))
    rows = list(csv.DictReader(io.TextIOWrapper(archive.open("models-by-harbour.csv"), encoding="utf-8")))
    mine = [each for each in rows if each["part"] == SPLIT and each["came from"] == "split"]
    assert len(mine) == 2 and {int(each["topic of the fit"]) for each in mine} == {theme_of(parted, "gulls") + 1}


def test_a_part_that_cannot_be_fitted_says_why_and_stops_nothing(parted: Fits) -> None:
    asked = {"group": "harbour", "seeds": 1, "smallest": 5, "topics": 8}
    parted.job("apart", asked)
    found = parted.get("apart", **asked)
    why = {each["name"]: each["why"] for each in found["parts"]}
    assert "8 topics are more than the 5 documents" in why.pop("Quellan") and set(why.values()) == {""}
    assert "Quellan could not be fitted" in found["says"]


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({}, "Choose a field"),
        ({"group": "quay"}, "no field “quay”"),
        ({"group": "harbour", "smallest": 1000}, "0 of 4 parts have 1,000 documents"),
        ({"group": "harbour", "smallest": 151}, "0 of 4"),
    ],
)
def test_odd_partings_are_refused_in_words(parted: Fits, wrong: dict[str, Any], words: str) -> None:
    for answer in (
        parted.client.get(f"{parted.base}/apart", params=wrong),
        parted.client.post(f"{parted.base}/apart", json=wrong),
    ):
        assert answer.status_code == 422 and words in answer.text
