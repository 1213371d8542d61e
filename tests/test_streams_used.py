"""Streams, through the API: what was planted is named as such, and nothing where documents are dealt out."""

from __future__ import annotations

import csv
import io
import zipfile
from typing import Any

import networkx
import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.conftest import Fits, bring_in

GULLS = "gull tern nest chick roost flock ledge plume feather egg".split()
NETS = "net haul cod trawl float mesh catch herring mackerel hook".split()
DUES = "dues receipt ledger clerk stamp tariff invoice permit fee coin".split()
TOWER = "tower bell clock spire mortar slate scaffold plaster beam stair".split()
ICE = "ice frost thaw sleet snow shovel slush freeze hail glaze".split()
FERRY = "ferry ticket timetable sailing passenger queue gangway luggage pier boarding".split()
PAINT = "paint brush primer varnish hull rust scraper coat gloss bucket".split()
# The themes of each year: ice ends and ferries are born in 2012, gulls split in 2013 and the tower ends, nets and dues
# become one in 2014, paint is born.
YEARS = {
    2010: [GULLS, NETS, DUES, TOWER, ICE],
    2011: [GULLS, NETS, DUES, TOWER, ICE],
    2012: [GULLS, NETS, DUES, TOWER, FERRY],
    2013: [GULLS[:5], GULLS[5:], NETS, DUES, FERRY],
    2014: [GULLS[:5], GULLS[5:], NETS + DUES, FERRY, PAINT],
}
EACH: dict[str, Any] = {"period": "year", "whole": False}


def entries(seed: int, dealt: bool) -> bytes:
    """Entries of a theme mostly and another beside it; ``dealt`` with their days dealt out at random."""
    rng = np.random.default_rng(seed)
    rows = [
        [
            " ".join(
                w for theme, n in zip(rng.permutation(5), (22, 6), strict=False) for w in rng.choice(of[theme], n)
            ),
            year,
        ]
        for year, of in YEARS.items()
        for _ in range(110)
    ]
    years = [row[1] for row in rows]
    if dealt:
        rng.shuffle(years)
    text = io.StringIO()
    table = csv.writer(text)
    table.writerow(["entry", "date"])
    table.writerows(
        [row[0], f"{year}-05-{1 + at % 28:02}"] for at, (row, year) in enumerate(zip(rows, years, strict=True))
    )
    return text.getvalue().encode()


def fitted(served: TestClient, dealt: bool) -> Fits:
    found = Fits(served, bring_in(served, f"dealt-{dealt}.csv", entries(8, dealt)))
    found.fit(method="lda", topics=9, iterations=150, seed=3)
    found.job("apart", {"period": "year", "topics": 5})
    return found


@pytest.fixture(scope="module")
def planted(served: TestClient) -> Fits:
    return fitted(served, dealt=False)


def told(found: dict[str, Any]) -> set[tuple[str, str]]:
    """What happens, besides growing and shrinking, and in or after which year."""
    return {
        (each["kind"], found["periods"][each["period"]]["name"])
        for each in found["happenings"]
        if each["kind"] not in ("grew", "shrank")
    }


def test_births_ends_splits_and_merges_are_named_as_planted(planted: Fits) -> None:
    found = planted.get("streams", **EACH, topics=5)
    assert found["made"] and len(found["topics"]) == 25
    assert told(found) == {
        ("ended", "2011"),
        ("born", "2012"),
        ("split", "2012"),
        ("ended", "2012"),
        ("merged", "2014"),
        ("born", "2014"),
    }


@pytest.mark.long
def test_dealt_out_over_the_years_nothing_happens(served: TestClient) -> None:
    found = fitted(served, dealt=True).get("streams", **EACH, topics=5)
    # Of 40 topics at both ends of four links about one in twenty may be named.
    assert found["made"] and len(told(found)) <= 3
    assert sum(each["grew"] for each in found["threads"]) <= 2


def test_threads_carry_the_tokens_that_they_say(planted: Fits) -> None:
    found = planted.get("streams", **EACH, topics=5)
    for thread in found["threads"]:
        assert max(thread["of_before"], thread["of_after"]) >= 0.5 and 0 < thread["held"] <= 1
    for at, period in enumerate(found["periods"]):
        mine = [each for each in found["topics"] if each["period"] == at]
        assert sum(each["tokens"] for each in mine) == pytest.approx(period["tokens"])
        assert sum(each["share"] for each in mine) == pytest.approx(1.0)


def test_the_topics_of_one_fit_end_and_are_born_without_a_job(planted: Fits) -> None:
    found = planted.get("streams", period="year", topics=5)
    words = {each["own"]: set(each["words"]) for each in found["topics"]}
    said = {
        (each["kind"], found["periods"][each["period"]]["name"], theme)
        for each in found["happenings"]
        if each["kind"] in ("born", "ended")
        for theme, of in (("ice", ICE), ("ferry", FERRY), ("tower", TOWER), ("paint", PAINT), ("gulls", GULLS))
        if len(words[each["own"]] & set(of)) >= 6
    }
    assert said == {
        ("ended", "2011", "ice"),
        ("born", "2012", "ferry"),
        ("ended", "2012", "tower"),
        ("born", "2014", "paint"),
    }
    assert all(thread["before"] == thread["after"] for thread in found["threads"])
    assert "none is born, ends, splits or merges" in found["says"].split("dealt out")[1]


def test_streams_are_saved_as_rows_and_as_a_graph(planted: Fits) -> None:
    found = planted.get("streams", **EACH, topics=5)
    archive = zipfile.ZipFile(io.BytesIO(planted.client.get(f"{planted.base}/export.zip").content))
    rows = list(csv.DictReader(io.TextIOWrapper(archive.open("streams-by-year.csv"), encoding="utf-8")))
    assert len(rows) == len(found["threads"])
    split = [each for each in rows if "splits into" in each["happens"]]
    assert len(split) == 2 and {each["next period"] for each in split} == {"2013"}
    graph = networkx.read_graphml(io.BytesIO(archive.read("streams-by-year.graphml")))
    assert len(graph) == 25 and graph.number_of_edges() == len(rows)
    assert sum(share for _, share in graph.nodes(data="share")) == pytest.approx(5.0)


@pytest.mark.parametrize(
    ("wrong", "words"),
    [({"group": "entry"}, "run through periods"), ({}, "Choose a field"), ({"period": "century"}, "period")],
)
def test_odd_streams_are_refused_in_words(planted: Fits, wrong: dict[str, Any], words: str) -> None:
    answer = planted.client.get(f"{planted.base}/streams", params=wrong)
    assert answer.status_code == 422 and words in answer.text
