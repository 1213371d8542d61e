"""Vector clusters as they are used: fitted, reached, taken together, tracked, chosen, exported; vectors alone."""

from __future__ import annotations

import csv
import io
import json
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.work.batch import weave
from skeinwork.work.exports.pattern import read_pattern
from tests.conftest import Fits, bring_in, wait_for
from tests.test_statements_used import entry, keys, pin
from tests.test_vectors_used import archive, table

WORDS = [
    "fog haar mist siren bell visibility",
    "engine oil piston valves throttle coolant",
    "tern gull nest colony ledge eggs",
    "ticket ferry passengers ramp timetable crossing",
]
DOCS, KINDS = 400, len(WORDS)
WORDLESS = (21, 22, 23)


def rows() -> tuple[list[dict[str, str]], np.ndarray]:
    """Entries of four kinds with a vector each; a tenth have one by chance, three have no word that counts."""
    rng = np.random.default_rng(8)
    centres, kind, found = rng.normal(size=(KINDS, 12)), rng.integers(0, KINDS, DOCS), []
    kind[rng.random(DOCS) < 0.1] = -1
    kind[list(WORDLESS)] = (0, 1, 2)
    for at, each in enumerate(kind.tolist()):
        own = WORDS[each if each >= 0 else at % KINDS].split()
        text = "…" if at in WORDLESS else " ".join(rng.permutation([*own, *own[:3], "harbour", "watch"]).tolist())
        vector = rng.normal(size=12) * 1.2 if each < 0 else centres[each] + 0.3 * rng.normal(size=12)
        harbour = ("Kelpwick", "Quellan")[int(rng.random() < (0.2 if each == 0 else 0.6))]
        said = json.dumps(vector.round(4).tolist())
        found.append({"entry": f"{at:03}", "harbour": harbour, "text": text, "numbers": said})
    return found, kind


ROWS, KIND = rows()
BY_FIELD = {"of": "field", "field": "numbers"}
WANTED = {"method": "clusters", "iterations": 6, "smallest": 12, "vectors": BY_FIELD}


@pytest.fixture(scope="module")
def strand(served: TestClient) -> Fits:
    found = Fits(served, bring_in(served, "kinds.csv", table(ROWS)))
    found.fit(**WANTED)
    return found


def summary(strand: Fits) -> dict[str, object]:
    found: dict[str, object] = strand.get(f"fits/{strand.present}")["summary"]
    return found


def test_a_fit_finds_the_kinds_and_counts_outliers_everywhere(strand: Fits) -> None:
    found = strand.get("topics")
    assert found["shares_of"] == "documents" and len(found["topics"]) == KINDS
    outliers = summary(strand)["outliers"]
    assert 0.7 * (KIND < 0).sum() <= outliers <= 1.3 * (KIND < 0).sum()
    shown = strand.get("evidence", outliers=True, limit=50)
    assert shown["total"] == outliers
    assert np.mean([KIND[each["document"]] < 0 for each in shown["pieces"]]) > 0.8
    # Shares are of all documents with a vector, so what is missing from 1 is in no topic.
    shares = [each["share"]["mean"] for each in found["topics"]]
    assert shares == sorted(shares, reverse=True)
    assert sum(shares) == pytest.approx(1 - outliers / DOCS)
    detail = strand.get(f"fits/{strand.present}")
    assert f"{outliers} documents of {DOCS}" in detail["summary"]["remarks"]
    assert len(detail["trace"]) == 6 and "no chance" in " ".join(detail["judged"])


def test_documents_of_a_topic_are_ranked_by_nearness(strand: Fits) -> None:
    page = strand.get("topics/0/documents", order="share", limit=200)
    assert page["orders"] == ["nearness", "typical"]
    scores = [each["score"] for each in page["documents"]]
    assert scores == sorted(scores, reverse=True) and len(scores) == page["total"]
    kinds = KIND[[each["document"] for each in page["documents"]]]
    assert (kinds == np.bincount(kinds[kinds >= 0]).argmax()).mean() > 0.95
    shown = strand.get("evidence", topic=0, limit=3)["pieces"]
    assert shown[0]["document"] == page["documents"][0]["document"]
    assert shown[0]["score"] == f"{scores[0]:.2f}" and "found in it" in shown[0]["reason"]
    worked = strand.get("topics/0/working/share", document=page["documents"][0]["document"])
    assert worked["lines"][0]["value"] == pytest.approx(1 - scores[0], abs=1e-5)


def test_shares_in_groups_are_of_documents(strand: Fits) -> None:
    found = strand.get("prevalence", group="harbour")
    assert found["weight"] == "documents"
    assert "in no topic" not in found["of_differences"] and "in none count among all" in found["of_differences"]
    there = [strand.get(f"topics/{k}/documents", least=0, limit=200) for k in range(KINDS)]
    for group, cell in zip(found["groups"], found["cells"], strict=True):
        inside = {at for at, row in enumerate(ROWS) if row["harbour"] == group}
        assert cell["documents"] == len(inside)
        for k, value in enumerate(cell["values"]):
            mine = [each["document"] for each in there[k]["documents"]]
            assert value["mean"] == pytest.approx(len(inside & set(mine)) / len(inside))
            assert value["low"] < value["mean"] < value["high"]
    strand.job("movement", {"group": "harbour"})
    clearest = strand.get("differences", group="harbour")["differences"][0]
    assert clearest["adjusted"] < 0.01
    strand.job("regression", {"factor": ["harbour"]})
    assert strand.get("regression", factor="harbour")["topics"]


def test_a_reach_does_what_was_foreseen_and_can_be_taken_back(strand: Fits) -> None:
    before = strand.present
    none = strand.get("by-vector/reach")
    assert none["comes_in"] == 0 and none["outliers"] == sum(none["bars"]) == summary(strand)["outliers"]
    reach = round(float(np.quantile(np.repeat(none["edges"][1:], none["bars"]), 0.5)), 2)
    seen = strand.get("by-vector/reach", reach=reach)
    assert 0 < seen["comes_in"] < seen["outliers"]
    assert [each["topics"][0]["cosine"] for each in seen["edge"]] == sorted(
        each["topics"][0]["cosine"] for each in seen["edge"]
    )
    strand.fit(**WANTED, reach=reach)
    made = strand.get("topics")["topics"]
    assert summary(strand)["outliers"] == seen["outliers"] - seen["comes_in"]
    sizes = sorted((each["found"] + each["comes_in"] for each in seen["topics"]), reverse=True)
    assert [round(each["share"]["mean"] * DOCS) for each in made] == sizes
    words = {tuple(each["becomes"]) for each in seen["topics"]}
    assert {tuple(word["display"] for word in each["words"][:8]) for each in made} == words
    again = strand.get("by-vector/reach", reach=reach)
    assert again["present"] == reach and again["outliers"] == none["outliers"]  # what was found stays
    strand.fit(**WANTED)
    assert strand.present == before
    assert strand.client.get(f"{strand.base}/by-vector/reach", params={"reach": 3}).status_code == 422


def test_topics_are_taken_together_down_to_a_count_and_by_hand(strand: Fits) -> None:
    before, titles = strand.present, [each["title"] for each in strand.get("topics")["topics"]]
    seen = strand.get("by-vector/merged", topics=3)
    assert seen["topics"] == 3 and len(seen["groups"]) == 1
    shares = [each["share"]["mean"] for each in strand.get("topics")["topics"]]
    strand.fit(**WANTED, topics=3)
    together = sum(shares[k] for k in seen["groups"][0])
    assert max(each["share"]["mean"] for each in strand.get("topics")["topics"]) == pytest.approx(
        max(together, *shares)
    )
    strand.fit(**WANTED)
    strand.job("merging", {"fit": before, "topics": [0, 1]})
    merged = strand.get("topics")["topics"]
    assert len(merged) == KINDS - 1 and merged[0]["share"]["mean"] == pytest.approx(shares[0] + shares[1])
    assert strand.get("by-vector/reach")["topics"][0]["found"] == round((shares[0] + shares[1]) * DOCS)
    strand.fit(**WANTED)
    assert [each["title"] for each in strand.get("topics")["topics"]] == titles


def test_a_document_with_a_vector_alone_gets_its_topic_in_any_fit(strand: Fits) -> None:
    own = strand.get("by-vector")
    assert own["reach"] and own["only"] == len(WORDLESS) and own["agrees"] > 0.95
    # Those without a word are in topics of clusters, and near the middles of a fit that reads words.
    strand.job("beside/document_vectors", BY_FIELD)
    for method in ("lda", "nmf"):
        strand.fit(method=method, topics=KINDS, iterations=80)
        found = strand.get("by-vector")
        assert not found["reach"] and {each["document"] for each in found["rows"]} == set(WORDLESS)
        assert found["agrees"] > 0.75  # a tenth have vectors by chance
        for row in found["rows"]:
            assert row["topics"][0]["cosine"] > 0.8 > 0.5 > row["topics"][1]["cosine"]
            like = [at for at in range(60) if KIND[at] == KIND[row["document"]] and at not in WORDLESS]
            held = [strand.get("evidence", topic=row["topics"][0]["topic"], limit=50)["pieces"]]
            assert {each["document"] for each in held[0]} & set(like)
        placed = strand.client.post(
            f"{strand.base}/by-vector/placed", json={"vector": ROWS[WORDLESS[0]]["numbers"].strip("[]")}
        ).json()
        assert placed["topics"][0] == found["rows"][0]["topics"][0]
        assert strand.client.get(f"{strand.base}/by-vector/reach").status_code == 422
        for wrong in ("1, 2", "one two"):
            answer = strand.client.post(f"{strand.base}/by-vector/placed", json={"vector": wrong})
            assert answer.status_code == 422 and "vector" in answer.json()["detail"]
    strand.fit(**WANTED)


def test_new_text_is_placed_by_its_words(strand: Fits) -> None:
    answer = strand.client.post(
        f"{strand.base}/placed", json={"text": "the piston and valves, throttle and engine oil"}
    )
    best = max(answer.json()["texts"][0]["topics"], key=lambda each: each["share"])
    assert best["share"] == 1 and "engine" in " ".join(
        each["display"] for each in strand.get("topics")["topics"][best["topic"]]["words"]
    )


def test_a_sweep_says_how_steady_they_are_and_that_words_dealt_out_have_none(strand: Fits) -> None:
    by_words = {**WANTED, "vectors": {"dimensions": 10}, "dimensions": 8}
    strand.fit(**by_words)
    strand.job("sweeps", {"counts": [3, 4, 8], "seeds": [1], "over": {"smallest": [10, 20]}})
    fits = strand.get("fits")
    at = next(k for k, title in enumerate(fits["series"]) if "smallest 10" in title)
    found = strand.get("fits", series=at)
    assert [each["settings"]["topics"] for each in found["fits"]] == [3, 4, 8]
    assert all(each["measures"]["kept_in_halves"] > 0.8 for each in found["fits"])
    assert {"kept_in_halves", "documents_in_topics"} <= {each["key"] for each in found["measures"]}
    said = " ".join(found["notes"])
    assert "Up to 8 topics were asked for, 4 are found" in said and not found["widen"]
    assert "twins, whose words were dealt out at random, nothing stands out" in said
    strand.fit(**WANTED)


def test_models_of_parts_say_that_they_need_a_number_of_topics(strand: Fits) -> None:
    asked = {"group": "harbour", "topics": 3, "seeds": 1, "smallest": 50}
    strand.job("apart", asked)
    answer = strand.get("apart", **asked)
    assert "Fit LDA or NMF for it" in json.dumps(answer)


def test_files_hold_both_topics_and_centres_and_a_pattern_gives_them_again(strand: Fits, tmp_path: Path) -> None:
    strand.fit(**WANTED, reach=0.6)
    kept = archive(strand)
    listed = list(csv.DictReader(io.StringIO(kept["topics-by-vector.csv"].decode("utf-8-sig"))))
    assert len(listed) == DOCS
    found = [each for each in listed if each["found in"]]
    assert len(found) == DOCS - strand.get("by-vector/reach")["outliers"]
    assert all(each["found in"] == each["topic"] == each["nearest topic"] for each in found)
    came = [each for each in listed if each["topic"] and not each["found in"]]
    assert len(came) == strand.get("by-vector/reach", reach=0.6)["comes_in"] > 0
    assert all(float(each["cosine with its centre"]) >= 0.4 - 1e-6 for each in came)
    centres = np.array([row[1:] for row in csv.reader(io.StringIO(kept["topic-centres.csv"].decode("utf-8-sig")))][1:])
    assert np.linalg.norm(centres.astype(float), axis=1) == pytest.approx(np.ones(KINDS), abs=1e-5)
    source = tmp_path / "kinds.csv"
    source.write_bytes(table(ROWS))
    out = tmp_path / "out"
    weave.run(read_pattern(kept["pattern.json"].decode()), [source], out)
    for name in ("topics-by-vector.csv", "topic-centres.csv", "documents.csv", "topic-words.csv"):
        assert (out / name).read_bytes() == kept[name], name
    strand.fit(**WANTED)


def test_what_is_said_of_a_topic_is_made_again_over_other_choices(strand: Fits) -> None:
    strand.fit(**WANTED)
    fog = next(k for k, each in enumerate(strand.get("topics")["topics"]) if "fog" in str(each["words"][:3]))
    number = pin(strand, "harbour", {"value": "Kelpwick"}, topic=fog)
    choices = [each for each in keys(strand) if each.startswith(("topics-", "forms-"))]
    assert (
        "topics-3" in choices
        and "topics-5" not in choices
        and not any(each.startswith("seed-") for each in keys(strand))
    )
    strand.job("pins/trials", {"pins": [number], "over": choices})
    tried = {each["key"]: each for each in entry(strand, number)["marks"] if each["key"] in choices}
    assert tried and all(each["made"] and each["verdict"] == "holds" for each in tried.values())


def test_no_two_topics_of_one_document_go_together(strand: Fits) -> None:
    answer = strand.client.get(f"{strand.base}/topics-together")
    assert answer.status_code == 422 and "one topic or none" in answer.json()["detail"]


def test_the_file_of_a_skein_has_what_a_fit_was_made_from(strand: Fits) -> None:
    before = strand.get("by-vector")
    data = strand.client.get(f"/api/skeins/{strand.get('')['skein']}/file").content
    answer = strand.client.post("/api/skeins/open", files={"file": ("kinds.skein.zip", data)})
    wait_for(strand.client, answer.json()["job"])
    opened = max(strand.client.get("/api/skeins").json(), key=lambda each: int(each["id"]))
    there = Fits(strand.client, min(opened["strands"]))
    assert there.present == strand.present and there.get("by-vector") == before
    there.fit(**WANTED, reach=0.5)
    assert summary(there)["outliers"] < summary(strand)["outliers"]


def test_what_finds_nothing_says_so_and_leaves_the_strand_as_it_was(strand: Fits) -> None:
    before = strand.present
    answer = strand.client.post(f"{strand.base}/fits", json={**WANTED, "smallest": 120})
    wait_for(strand.client, answer.json()["job"], "failed")
    job = next(each for each in strand.client.get("/api/jobs").json() if each["id"] == answer.json()["job"])
    assert "Ask for smaller topics" in job["error"]
    assert strand.present == before
    gone = strand.client.post(f"{strand.base}/fits", json={**WANTED, "vectors": {"of": "field", "field": "depth"}})
    wait_for(strand.client, gone.json()["job"], "failed")
    assert strand.present == before
