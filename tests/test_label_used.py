"""Label through the API: topics read, sorted, merged, checked by people, and what of it survives another fit."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from typing import Any
from xml.etree import ElementTree

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.demo.generator import write_files
from tests.conftest import Fits, bring_in, wait_for


@pytest.fixture(scope="module")
def entries(tmp_path_factory: pytest.TempPathFactory) -> bytes:
    return write_files(tmp_path_factory.mktemp("entries"), size=500).read_bytes()


@pytest.fixture(scope="module")
def read(served: TestClient, entries: bytes) -> Fits:
    """Eight topics whose candidates and pairs were made."""
    found = Fits(served, bring_in(served, "entries.csv", entries))
    for seed in (3, 2):
        found.fit(method="lda", topics=8, iterations=150, seed=seed)
    assert not found.get("label-candidates")["made"] and not found.get("topics-together")["made"]
    found.job("reading", {"candidates": True, "together": {}})
    return found


def post(fits: Fits, path: str, body: Any, wanted: int = 200) -> Any:
    answer = fits.client.post(f"{fits.base}/{path}", json=body)
    assert answer.status_code == wanted, answer.text
    return answer.json()


def say(fits: Fits, topic: int, **said: Any) -> None:
    """Say something of a topic, as the screen does: with all that was said before."""
    now = fits.get("topics")
    kept = {name: now["topics"][topic][name] for name in ("label", "note", "confirmed", "set_aside", "family", "later")}
    body = {"fit": now["fit"], "revision": now["topics"][topic]["revision"], **kept, **said}
    assert fits.client.put(f"{fits.base}/topics/{topic}", json=body).status_code == 200


def test_candidates_say_what_speaks_for_them(read: Fits) -> None:
    found = read.get("label-candidates")
    assert found["made"] and "noun phrases" in found["says"]
    firsts = [mine[0]["words"] for mine in found["topics"]]
    assert len(set(firsts)) == 8
    for mine in found["topics"]:
        assert [each["distinct"] <= 1 and each["close"] <= 1 for each in mine]
        first = mine[0]
        assert f"{first['places']} places" in first["says"] and f"C-value {first['c_value']:.0f}" in first["says"]
        assert first["tokens"] <= first["places"] + 1e-6
        assert read.get("evidence", word=first["words"])["total"] > 0


def test_words_by_every_ranking_with_what_is_shared_and_used_alike(read: Fits) -> None:
    by = {kind: read.get("topics/0/words", by=kind, limit=40) for kind in ("probability", "lift", "frex", "log odds")}
    probable = by["probability"]["words"]
    assert [each["share"] for each in probable] == sorted((each["share"] for each in probable), reverse=True)
    own, lift = ([each["lift"] for each in by[kind]["words"][:10]] for kind in ("probability", "lift"))
    assert np.mean(lift) > np.mean(own) and lift == sorted(lift, reverse=True)
    assert all(each["tokens"] >= 5 for each in by["lift"]["words"])
    shared = {each["term"]: each["shared"] for each in probable}
    for term, topics in list(shared.items())[:8]:
        for other in topics:
            assert term in {each["term"] for each in read.get(f"topics/{other}/words", limit=30)["words"]}
    folded = read.get("topics/0/words", fold=True, limit=20)
    gone = [word for each in folded["words"] for word in each["folded"]]
    assert not set(gone) & {each["display"] for each in folded["words"]}
    assert read.client.get(f"{read.base}/topics/99/words").status_code == 422
    sheet = read.get("topic-sheet", limit=12)
    assert len(sheet) == 8 and all(len(each["words"]) == 12 for each in sheet)


def test_passages_and_places_are_the_topics_own(read: Fits) -> None:
    for of in ("sentences", "paragraphs"):
        found = read.get("topics/1/passages", of=of, limit=10)
        scores = [each["score"] for each in found["passages"]]
        assert scores == sorted(scores, reverse=True) and "bear out" in found["says"]
        assert max(map([each["document"] for each in found["passages"]].count, range(600))) <= 2
        for each in found["passages"]:
            marked = [piece for piece in each["passage"] if piece["kind"] == "marked"]
            assert marked and each["tokens"] <= each["counted"] + 1e-6
    texts = ["".join(piece["text"] for piece in each["passage"]) for each in found["passages"]]
    assert len(set(texts)) == len(texts)
    word = read.get("topics/1/words")["words"][0]
    places = read.get("topics/1/contexts", term=word["term"])
    chances = [round(each["probability"], 6) for each in places["contexts"]]
    assert chances == sorted(chances, reverse=True) and chances[-1] > 0.5
    for each in places["contexts"][:5]:
        document = read.get(f"documents/{each['document']}")
        whole = " ".join("".join(piece["text"] for piece in document["segments"]).split())
        assert " ".join(f"{each['left']} {each['hit']} {each['right']}".split())[:20] in whole
    both = read.get("evidence", topic=1, holding=word["term"])
    assert 0 < both["total"] < read.get("evidence", topic=1)["total"] + 1


def test_typical_and_border_documents(read: Fits) -> None:
    typical = read.get("topics/0/documents", order="typical", limit=5)
    assert "cosine" in typical["why"] and all(0 < each["score"] <= 1 for each in typical["documents"])
    border = read.get("topics/0/documents", order="border", limit=1, least=0.01)["documents"][0]
    assert 0.25 < border["share"] < 0.6


def test_pairs_lead_to_the_documents_that_hold_both(read: Fits) -> None:
    found = read.get("topics-together")
    assert found["made"] and len(found["pairs"]) == 28 and sorted(found["order"]) == list(range(8))
    for pair in found["pairs"][:4]:
        evidence = read.get("evidence", topic=pair["one"], with_topic=pair["other"])
        assert evidence["total"] == pair["observed"]
        lines = {
            each["name"]: each["value"] for each in read.get(f"topics-together/{pair['one']}/{pair['other']}")["lines"]
        }
        assert lines["expected"] == pytest.approx(pair["expected"]) and lines["p"] == pytest.approx(pair["p"])
    sure = sum(each["sure"] for each in found["pairs"])
    assert f"{sum(each['sure'] and each['more'] for each in found['pairs'])} are together more" in found["says"]
    assert sure <= 4  # themes were drawn apart from each other
    assert not read.get("topics-together", share=0.3)["made"]
    working = {each["name"]: each["value"] for each in read.get("topics/2/working")["lines"]}
    topic = read.get("topics")["topics"][2]
    assert working["share of tokens"] == pytest.approx(topic["share"]["mean"], abs=2e-3)
    assert working["coherence"] == pytest.approx(topic["measures"]["coherence"])


def test_a_merged_topic_is_its_topics_together_and_can_be_taken_back(read: Fits) -> None:
    before = read.present
    for topic, label in ((0, "Zero"), (3, "Three"), (5, "Five")):
        say(read, topic, label=label, confirmed=True, note=f"of {label}", family="sea" if topic else "")
    then, then_tracked = read.get("topics")["topics"], read.get("prevalence", group="harbour")
    said = post(read, "merging/preview", {"fit": before, "topics": [3, 5]})["says"]
    assert any("Three" in each for each in said) and any("Track draws one line" in each for each in said)
    for wrong in ([3, 99], list(range(8)), [3, 3]):
        post(read, "merging", {"fit": before, "topics": wrong}, wanted=422)
    read.job("merging", {"fit": before, "topics": [5, 3]})
    now, merged = read.get("topics")["topics"], read.present
    assert len(now) == 7 and merged != before
    called = {each["label"]: each for each in now if each["label"]}
    assert set(called) == {"Zero", "Three"} and all(each["confirmed"] for each in called.values())
    assert called["Three"]["note"] == "of Three\n\nof Five" and called["Three"]["came"] == "merged"
    assert called["Zero"]["dye"] == then[0]["dye"] and called["Three"]["dye"] == then[3]["dye"]
    whole = sum(then[at]["share"]["mean"] for at in (3, 5))
    assert called["Three"]["share"]["mean"] == pytest.approx(whole, abs=1e-6)
    assert len({each["dye"] for each in now}) == 7
    tracked = read.get("prevalence", group="harbour")
    assert len(tracked["topics"]) == 7
    # Other seeds of the fit before still tell how surely its topics are known.
    assert {each["seeds"] for each in now} == {1} and tracked["of_seeds"] == then_tracked["of_seeds"]
    assert called["Three"]["found_again"] == min(then[3]["found_again"], then[5]["found_again"])
    # Once more, over the merged one; then the fit before comes back with what was said of it.
    third = called["Three"]["topic"]
    # What is fitted, swept or rebuilt anew is not merged by the numbers of other topics.
    weigh = read.get("")["wanted"]["weigh"]
    read.change(weigh={**weigh, "min_documents": 4})
    read.job("rebuild")
    assert len(read.get("topics")["topics"]) == 8 and read.get("")["wanted"]["fit"]["merged"] == []
    read.change(weigh=weigh)
    read.job("rebuild")
    post(read, "take", {"fit": merged})
    read.job("merging", {"fit": read.present, "topics": sorted([third, (third + 1) % 7])})
    assert len(read.get("topics")["topics"]) == 6
    assert read.get("merging")["before"] == before
    post(read, "take", {"fit": before})
    assert [each["label"] for each in read.get("topics")["topics"]] == [each["label"] for each in then]
    assert read.get("merging")["before"] is None


def test_another_fit_carries_labels_with_their_likeness_and_keeps_lost_ones(read: Fits) -> None:
    first = read.present
    for topic in range(8):
        say(read, topic, label=f"Label {topic}", confirmed=True, family="all")
    read.fit(method="lda", topics=5, iterations=120, seed=5)
    now = read.get("topics")["topics"]
    carried = [each for each in now if each["label"]]
    assert carried and not any(each["confirmed"] for each in carried)
    assert all(0.6 <= each["likeness"] <= 1 and each["came"] in ("same", "merged", "split") for each in carried)
    assert any(each["came"] == "merged" for each in carried)
    lost = read.get("lost-labels")
    assert {each["label"] for each in lost} | {each["label"] for each in carried} >= {f"Label {at}" for at in range(8)}
    assert not {each["label"] for each in lost} & {each["label"] for each in carried}
    assert all(each["nearest"] in range(5) and -1 <= each["likeness"] <= 1 for each in lost)
    post(read, "take", {"fit": first})
    assert [each["label"] for each in read.get("topics")["topics"]] == [f"Label {at}" for at in range(8)]


def test_labels_come_back_from_a_table_by_their_words(read: Fits, entries: bytes) -> None:
    with zipfile.ZipFile(io.BytesIO(read.client.get(f"{read.base}/export.zip").content)) as archive:
        table = archive.read("labels.csv").decode()
        graph = ElementTree.fromstring(archive.read("documents-topics.graphml"))
        assert {"label-candidates.csv", "topics-together.csv", "documents-topics.gexf"} <= set(archive.namelist())
        topics = json.loads(archive.read("topics.json"))["topics"]
    assert topics[0]["family"] == "all"
    edges = [each for each in graph.iter() if each.tag.endswith("}edge")]
    held = sum(read.get("evidence", topic=k)["total"] for k in range(8))
    assert len(edges) == held
    rows = list(csv.DictReader(io.StringIO(table.removeprefix("\ufeff"))))
    other = Fits(read.client, bring_in(read.client, "others.csv", b"\n".join(entries.splitlines()[:-9])))
    other.fit(method="lda", topics=8, iterations=150, seed=9)
    given = {"fit": other.present, "text": table}
    looked = post(other, "label-table", given)
    assert len(looked) == 8 and len({each["topic"] for each in looked if each["topic"] is not None}) >= 6
    assert not any(each["label"] for each in other.get("topics")["topics"])
    say(other, looked[0]["topic"], label="Mine", confirmed=True)
    post(other, "label-table", {**given, "apply": True})
    now = {each["topic"]: each for each in other.get("topics")["topics"]}
    assert now[looked[0]["topic"]]["label"] == "Mine"
    taken = [each for each in looked[1:] if each["topic"] is not None]
    assert all(now[each["topic"]]["label"] == each["label"] and now[each["topic"]]["came"] == "table" for each in taken)
    assert not any(now[each["topic"]]["confirmed"] for each in taken) and rows[0]["label"] == "Label 0"
    post(other, "label-table", {"fit": other.present, "text": "a,b\n1,2\n"}, wanted=422)
    post(other, "label-table", {"fit": "0" * 64, "text": table, "apply": True}, wanted=409)


def _checks(read: Fits, kind: str, **settings: Any) -> Any:
    return post(read, "checks", {"kind": kind, **settings})["checks"][0]


def _page(read: Fits, check: int) -> tuple[str, dict[str, Any]]:
    text = read.client.get(f"{read.base}/checks/{check}/page.html").text
    found = re.search(r'<script id="questions" type="application/json">(.*?)</script>', text, re.S)
    assert found
    return text, json.loads(found[1])


def test_raters_answer_blind_and_what_they_found_stands_beside_coherence(read: Fits) -> None:
    check = _checks(read, "word intrusion", sets=2, seed=3)
    assert check["questions"] == 16 and check["result"]["topics"] == []
    text, told = _page(read, check["id"])
    assert set(told) == {"check", "prompt", "questions"} and set(told["questions"][0]) == {"text", "options"}
    assert "http" not in re.sub(r"<script id.*?</script>", "", text, flags=re.S)
    # One who knows every word of the topics, and one who always takes the first.
    strong = [{each["display"] for each in read.get(f"topics/{k}/words", limit=12)["words"]} for k in range(8)]

    def best(options: list[str]) -> int:
        mine = max(strong, key=lambda words: len(words & set(options)))
        return next((at for at, each in enumerate(options) if each not in mine), 0)

    knowing = [best(each["options"]) for each in told["questions"]]
    file = {"format": "skeinwork-answers", "version": 1, "check": told["check"], "rater": "Ysolde", "answers": knowing}
    path = f"checks/{check['id']}/answers-file"
    found = post(read, path, {"text": json.dumps(file)})
    body = {"rater": "Brannock", "answers": [0] * 15 + [None]}
    found = read.client.put(f"{read.base}/checks/{check['id']}/answers", json=body).json()
    mine = found["checks"][0]
    assert [(each["rater"], each["answered"]) for each in mine["raters"]] == [("Ysolde", 16), ("Brannock", 15)]
    right = sum(each["right"] for each in mine["result"]["topics"])
    assert right >= 14 and mine["result"]["alpha"] is not None and "alpha" in mine["result"]["says"][1]
    assert [each["coherence"] for each in found["topics"]] == [
        each["measures"]["coherence"] for each in read.get("topics")["topics"]
    ]
    for wrong in ({**file, "check": "0" * 16}, {**file, "answers": [9] * 16}, {**file, "answers": [0]}, {"a": 1}):
        post(read, path, {"text": json.dumps(wrong)}, wanted=422)
    rows = list(csv.DictReader(io.StringIO(read.client.get(f"{read.base}/checks.csv").text.removeprefix("\ufeff"))))
    assert len(rows) == 31 and sum(row["answer"] == row["intruder"] for row in rows) == right


def test_topics_of_documents_are_checked_and_coding_corrects_prevalence(read: Fits) -> None:
    check = _checks(read, "topic intrusion", each=1, seed=1)
    _, told = _page(read, check["id"])
    body = {"rater": "Ysolde", "answers": [0] * len(told["questions"])}
    found = read.client.put(f"{read.base}/checks/{check['id']}/answers", json=body).json()["checks"][0]
    assert found["result"]["log_odds"] <= 0 and len(told["questions"]) == check["questions"] >= 4
    post(read, "checks", {"kind": "hand coding"}, wanted=422)
    post(read, "checks", {"kind": "nothing"}, wanted=404)
    coding = _checks(read, "hand coding", topic=1, concept="the sea", total=60, seed=2)
    assert read.client.get(f"{read.base}/corrected", params={"check": coding["id"]}).status_code == 422
    asked = read.get(f"checks/{coding['id']}/questions", rater="Dagny")
    answers = [at % 3 if at % 5 else 0 for at in range(len(asked["questions"]))]
    body = {"rater": "Dagny", "answers": answers}
    read.client.put(f"{read.base}/checks/{coding['id']}/answers", json=body)
    assert read.get(f"checks/{coding['id']}/questions", rater="Dagny")["answers"] == answers
    result = read.get("checks")["checks"][0]["result"]
    assert sum(each["coded"] for each in result["strata"]) == sum(each != 2 for each in answers)
    assert result["precision"]["low"] <= result["precision"]["value"] <= result["precision"]["high"]
    for by in ({}, {"group": "harbour"}, {"period": "year", "group": "writer"}):
        cells = read.get("corrected", check=coding["id"], **by)["cells"]
        for each in cells:
            if each["about"]["low"] is not None:
                assert each["about"]["low"] <= each["certain"]["low"] <= each["about"]["mean"] + 1e-9
                assert each["about"]["high"] - each["about"]["low"] > each["certain"]["high"] - each["certain"]["low"]
    assert read.client.delete(f"{read.base}/checks/{check['id']}").status_code == 200
    assert read.client.get(f"{read.base}/checks/{check['id']}/questions").status_code == 404


def test_a_skein_in_a_file_keeps_what_people_said(read: Fits) -> None:
    say(read, 2, later=True, confirmed=False, family="land")
    skein = read.get("")["skein"]
    file = read.client.get(f"/api/skeins/{skein}/file")
    made = read.client.post("/api/skeins/open", files={"file": ("a.skein.zip", file.content)}).json()
    wait_for(read.client, made["job"])
    newest = max(read.client.get("/api/skeins").json(), key=lambda each: int(each["id"]))
    other = Fits(read.client, newest["strands"][0])
    mine, theirs = (each.get("topics")["topics"] for each in (read, other))
    for name in ("label", "note", "family", "later", "confirmed", "came", "likeness", "set_aside"):
        assert [each[name] for each in mine] == [each[name] for each in theirs]
    results = [[each["result"] for each in one.get("checks")["checks"]] for one in (read, other)]
    assert results[0] == results[1] and len(results[0]) == 2
