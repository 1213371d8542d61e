"""Track through the API: what moves and differs, any two selections, workings that add up, and odd requests."""

from __future__ import annotations

import csv
import io
import zipfile
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient
from pydantic import ValidationError

from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.demo.generator import write_files
from skeinwork.work.screens import track
from tests.conftest import Fits, bring_in

BY = {"group": "harbour", "period": "year"}


@pytest.fixture(scope="module")
def tracked(served: TestClient, tmp_path_factory: pytest.TempPathFactory) -> Fits:
    """Twelve topics of the whole demo with design weights, whose movement by harbour and year was worked out."""
    rows = list(csv.DictReader(write_files(tmp_path_factory.mktemp("entries")).open(encoding="utf-8")))
    text = io.StringIO()
    table = csv.DictWriter(text, [*rows[0], "copies"])
    table.writeheader()
    table.writerows({**row, "copies": "3" if row["watch"] == "night" else "1"} for row in rows)
    found = Fits(served, bring_in(served, "entries.csv", text.getvalue().encode()))
    found.fit(method="lda", topics=12, iterations=150, seed=2)
    before = found.get("movement", **BY)
    assert not before["made"] and len(before["topics"]) == 12 and len(before["topics"][0]["line"]) == 10
    found.job("movement", BY)
    return found


def topic_of(tracked: Fits, words: set[str]) -> int:
    """The topic whose strongest words have most of some."""
    topics = tracked.get("topics")["topics"]
    counts = [sum(each["display"].lower() in words for each in topic["words"][:15]) for topic in topics]
    return int(np.argmax(counts))


def test_what_was_planted_is_told_and_the_rest_is_not(tracked: Fits) -> None:
    found = tracked.get("movement", **BY)
    assert found["made"] and found["judged"] and len(found["could"]) == 3
    topics = {each["topic"]: each for each in found["topics"]}
    engine = topics[topic_of(tracked, {"engine", "pump", "propeller", "valves", "oil"})]
    storm = topics[topic_of(tracked, {"storm", "gale", "surge", "swell", "breakwater"})]
    ferry = topics[topic_of(tracked, {"ferry", "passengers", "timetable", "sailing", "crossing"})]
    assert (
        engine["between"]["sure"] and engine["between"]["where"] == "Ossingby" and engine["between"]["kind"] == "more"
    )
    assert storm["over_time"]["sure"] and storm["over_time"]["where"] == "in 2014"
    assert ferry["over_time"]["sure"] and ferry["over_time"]["kind"] == "falls"
    moving = [each["over_time"]["sure"] for each in found["topics"]]
    # The surest come first, and most topics were left alone.
    assert moving == sorted(moving, reverse=True) and 3 <= sum(moving) <= 6
    assert sum(each["between"]["sure"] for each in found["topics"]) <= 2
    assert f"{sum(moving)} of 12 topics surely" in found["says"][0]
    assert all(
        each["could_show"]["lasting"] is None or 0.01 < each["could_show"]["lasting"] < 0.3 for each in topics.values()
    )
    changes = [each for each in found["changes"] if each["topic"] == ferry["topic"] and not each["group"]]
    assert [each["period"] for each in changes] in (["2017"], ["2018"])
    assert "showed a change point" in found["of_changes"]


def test_a_group_in_the_overview_is_that_of_the_differences(tracked: Fits) -> None:
    grid = {each["group"]: each for each in tracked.get("movement", **BY)["groups"]}
    assert set(grid) == {"Kelpwick", "Tarnholt", "Ossingby", "Little Marre", "Quellan"}
    for row in tracked.get("differences", group="harbour")["differences"]:
        contrast = grid[row["group"]]["each"][row["topic"]]["contrast"]
        assert contrast["difference"] == pytest.approx(row["difference"], abs=1e-9)
        assert contrast["adjusted"] == pytest.approx(row["adjusted"])
        if row["group"] == "Ossingby":
            two = tracked.get("contrast", group="harbour", value="Ossingby")["topics"]
            mine = next(each for each in two if each["topic"] == row["topic"])
            assert [mine[each] for each in ("low", "high", "p")] == [row[each] for each in ("low", "high", "p")]


def test_two_selections_and_a_sentence_of_them(tracked: Fits) -> None:
    storm = topic_of(tracked, {"storm", "gale", "surge", "swell", "breakwater"})
    sides = {"value": "Tarnholt", "at": "2014", "against_value": "Ossingby", "against_at": "2014..2016"}
    found = tracked.get("contrast", **BY, **sides)
    assert (found["one"], found["other"]) == ("harbour Tarnholt, 2014", "harbour Ossingby, 2014 to 2016")
    mine = next(each for each in found["topics"] if each["topic"] == storm)
    assert mine["difference"] == pytest.approx(mine["one"]["mean"] - mine["other"]["mean"])
    assert mine["low"] < mine["difference"] < mine["high"]
    assert (mine["p"] < 0.05) == (mine["low"] > 0 or mine["high"] < 0)
    assert f"{100 * mine['one']['mean']:.1f}" in mine["sentence"] and "documents" in mine["sentence"]
    worked = tracked.get("contrast/working", **BY, **sides, topic=storm)
    values = {line["name"]: line["value"] for line in worked["lines"]}
    assert values["difference"] == pytest.approx(values["share s₁"] - values["share s₂"])
    ends = [np.hypot(values["share s₁"] - values["low end l₁"], values["high end u₂"] - values["share s₂"])]
    assert values["low 95 %"] == pytest.approx(values["difference"] - ends[0])
    assert {each["side"] for each in worked["units"]} == {"one", "other"}
    event = tracked.get("contrast", at="2017-04-01..9999-12-31", against_at="0001-01-01..2017-03-31")
    assert event["one"] == "from 1 Apr 2017" and event["other"] == "to 31 Mar 2017"
    overlapping = tracked.get("contrast", **BY, at="2014..2016", against_at="2016..2018")
    assert overlapping["both"] > 0 and "in both selections" in overlapping["says"][0]


def test_a_cell_opens_to_its_units_and_draws(tracked: Fits) -> None:
    table = tracked.get("prevalence", **BY)
    at = table["groups"].index("Ossingby") * 10 + 3
    worked = tracked.get("prevalence/working", **BY, topic=2, value="Ossingby", at="2014")
    values = {line["name"]: line["value"] for line in worked["lines"]}
    assert values["share s"] == pytest.approx(table["cells"][at]["values"][2]["mean"])
    assert values["low end l"] == pytest.approx(table["cells"][at]["values"][2]["low"])
    assert np.mean(worked["draws"]) == pytest.approx(values["share s"], abs=0.005)
    shares = [each["of_topic"] for each in worked["units"]]
    assert shares == sorted(shares, reverse=True) and worked["units"][0]["document"] is not None


def test_weights_composition_breaks_and_smoothing(tracked: Fits) -> None:
    plain = tracked.get("prevalence", group="harbour")
    weighed = tracked.get("prevalence", group="harbour", design="copies")
    fixed = tracked.get("prevalence", group="harbour", fixed=["writer", "date"])
    of = lambda table: [each["values"][0]["mean"] for each in table["cells"]]  # noqa: E731
    assert np.abs(np.subtract(of(plain), of(weighed))).max() > 1e-4
    assert np.abs(np.subtract(of(plain), of(fixed))).max() > 1e-4
    assert "composition of writer and date" in fixed["of_weights"]
    assert "copies" in tracked.get("track")["design_fields"]
    cut = tracked.get("prevalence", breaks=["2017-04-01", "2014-01-01"])
    assert [each["last"] for each in cut["periods"]] == ["2013-12-31", "2017-03-31", "9999-12-31"]
    yearly = tracked.get("prevalence", period="year")["cells"]
    assert sum(each["documents"] for each in cut["cells"]) == sum(each["documents"] for each in yearly)
    lines = tracked.get("prevalence", period="quarter", smooth="loess 0.5")["cells"]
    widths = [[np.mean([each[way][0]["high"] - each[way][0]["low"] for each in lines])] for way in ("values", "smooth")]
    assert widths[1] < widths[0]
    week = tracked.get("prevalence", period="week")["periods"]
    assert week[0]["name"] == "2011-W01" and not week[3]["partial"]


@pytest.mark.parametrize(
    ("path", "query", "said"),
    [
        ("prevalence", {"period": "day"}, "Choose a longer period"),
        ("prevalence", {"design": "writer"}, "no numbers above 0"),
        ("prevalence", {"group": "harbour", "fixed": ["harbour"]}, "what groups are made by"),
        ("prevalence", {"period": "year", "fixed": ["date"]}, "hold the time fixed"),
        ("contrast", {"value": "Kelpwick"}, "Choose a field to group by"),
        ("contrast", {"group": "harbour", "value": "Atlantis"}, "no value of harbour"),
        ("contrast", {"at": "whenever"}, "no period"),
        ("contrast", {"at": "1950..1960"}, "No documents with counted words"),
        ("prevalence/working", {"topic": 99}, "no topic 99"),
        ("prevalence/working", {"topic": 0, "value": "x"}, "no such group or period"),
        ("movement", {"group": "odd"}, "no field"),
    ],
)
def test_what_can_not_be_asked_is_said(tracked: Fits, path: str, query: dict[str, Any], said: str) -> None:
    answer = tracked.client.get(f"{tracked.base}/{path}", params=query)
    assert answer.status_code == 422 and said in answer.json()["detail"]


def test_files_hold_what_the_screens_say(tracked: Fits) -> None:
    archive = zipfile.ZipFile(io.BytesIO(tracked.client.get(f"{tracked.base}/export.zip").content))
    rows = list(csv.DictReader(io.StringIO(archive.read("movement-by-harbour-year.csv").decode("utf-8-sig"))))
    found = {each["topic"]: each for each in tracked.get("movement", **BY)["topics"]}
    over = [each for each in rows if each["what"] == "over time"]
    assert len(over) == 12
    for each in over:
        contrast = found[int(each["topic"]) - 1]["over_time"]["contrast"]
        assert float(each["p adjusted"]) == pytest.approx(contrast["adjusted"], rel=1e-4)
        assert float(each["difference"]) == pytest.approx(contrast["difference"], rel=1e-4)
    changes = list(csv.DictReader(io.StringIO(archive.read("change-points-by-harbour-year.csv").decode("utf-8-sig"))))
    assert len(changes) == len(tracked.get("movement", **BY)["changes"])
    assert "movement-" in archive.read("README.txt").decode()


def test_of_very_many_documents_groups_are_compared_in_a_job(tracked: Fits, monkeypatch: pytest.MonkeyPatch) -> None:
    at_once = tracked.get("differences", group="writer")
    monkeypatch.setattr(track, "AT_ONCE", 100)
    waiting = tracked.get("differences", group="writer")
    assert at_once["made"] and not waiting["made"] and waiting["differences"] == []
    tracked.job("movement", {"group": "writer"})
    later = tracked.get("differences", group="writer")
    assert later["made"] and later["compared"] == at_once["compared"]
    for one, other in zip(at_once["differences"], later["differences"], strict=True):
        assert (one["group"], one["topic"]) == (other["group"], other["topic"])
        assert one["low"] == pytest.approx(other["low"]) and one["adjusted"] == pytest.approx(other["adjusted"])


def test_evidence_of_a_stretch_holds_its_documents(tracked: Fits) -> None:
    yearly = {each["name"]: cell["documents"] for each, cell in zip(*_by_year(tracked), strict=True)}
    found = tracked.get("evidence", at="2014..2016", period="year")
    weekly = tracked.get("evidence", at="2014-01-01..2016-12-31")
    assert found["total"] == weekly["total"] >= yearly["2014"] + yearly["2015"] + yearly["2016"]


def _by_year(tracked: Fits) -> tuple[list[Any], list[Any]]:
    table = tracked.get("prevalence", period="year")
    return table["periods"], table["cells"]


def test_every_topic_has_a_sentence_made_of_its_figures(tracked: Fits) -> None:
    for each in tracked.get("movement", **BY)["topics"]:
        over, between = each["report"]
        contrast = each["over_time"]["contrast"]
        if each["over_time"]["sure"]:
            assert f"{100 * contrast['one']:.1f}" in over and f"{abs(100 * contrast['difference']):.1f}" in over
            assert "adjusted over 12 topics" in over
        else:
            assert "does not surely move" in over
            size = each["could_show"]["lasting"]
            assert size is None or f"{100 * size:.1f} points would have been found" in over
        assert ("does not surely differ" in between) == (not each["between"]["sure"])


def test_draws_of_another_seed_are_let_in_and_make_it_out_of_date(tracked: Fits) -> None:
    before = tracked.get("movement", **BY)["topics"]
    tracked.fit(method="lda", topics=12, iterations=150, seed=5)
    tracked.fit(method="lda", topics=12, iterations=150, seed=2)
    assert "seed 5" in tracked.get("prevalence", **BY)["of_seeds"]
    assert not tracked.get("movement", **BY)["made"]
    tracked.job("movement", BY)
    after = {each["topic"]: each for each in tracked.get("movement", **BY)["topics"]}
    width = lambda each: each["line"][3]["high"] - each["line"][3]["low"]  # noqa: E731
    assert sum(width(after[each["topic"]]) >= width(each) for each in before) >= 10


@pytest.mark.parametrize(
    ("given", "said"),
    [({"breaks": ["2014-02-30"]}, "breaks"), ({"breaks": ["soon"]}, "breaks"), ({"fixed": ["a"] * 6}, "fixed")],
)
def test_a_pattern_names_what_it_can_not_track(given: dict[str, Any], said: str) -> None:
    assert Breakdown.model_validate({"breaks": ["2014-01-01"], "design": "copies"}).span == "stretch"
    with pytest.raises(ValidationError, match=said):
        Breakdown.model_validate(given)
