"""Streams, through the API: what was planted is named as such, and nothing where documents are dealt out."""

from __future__ import annotations

import csv
import io
from typing import Any

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
    found.fit(method="lda", topics=7, iterations=150, seed=3)
    found.job("apart", {"period": "year", "topics": 5})
    return found


@pytest.fixture(scope="module")
def planted(served: TestClient) -> Fits:
    return fitted(served, dealt=False)


def told(found: dict[str, Any]) -> set[tuple[str, str]]:
    """What happens, and in or after which year."""
    return {(each["kind"], found["periods"][each["period"]]["name"]) for each in found["happenings"]}


def test_births_ends_splits_and_merges_are_named_as_planted(planted: Fits) -> None:
    found = planted.get("streams", **EACH, topics=5)
    assert found["made"] and len(found["topics"]) == 25
    for each in found["happenings"]:
        print(each["says"])
    print(found["says"])
    assert told(found) == {
        ("ended", "2011"),
        ("born", "2012"),
        ("split", "2012"),
        ("ended", "2012"),
        ("merged", "2014"),
        ("born", "2014"),
    }
