"""Pinned statements, through the API: a planted effect holds over all choices, one of chance does not."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from tests.conftest import Fits, bring_in, wait_for

THEMES = {
    "gulls": "gulls terns nests chicks roosting flocks ledges plumes".split(),
    "engines": "engines pistons valves gaskets throttled coolants starters gearboxes".split(),
    "nets": "nets hauled cods trawling floats meshes catches herrings".split(),
    "ferries": "ferries tickets timetables sailing passengers queues gangways luggages".split(),
}
PLANTED = "Ossingby"
# One or two of each kind.
OVER = ["seed-1", "topics-3", "topics-5", "forms-lemma", "forms-none", "most-none", "repeats-without"]
Pin = dict[str, Any]
BODY: Pin = {"by": {"group": "harbour"}, "sides": [{"value": PLANTED}]}


def entries(seed: int) -> bytes:
    """Entries of a theme mostly, of gulls twice as often at one harbour; the watch is dealt out by chance."""
    rng = np.random.default_rng(seed)
    text = io.StringIO()
    table = csv.writer(text)
    table.writerow(["entry", "harbour", "watch", "keeper", "date"])
    for harbour in ("Kelpwick", "Tarnholt", PLANTED):
        often = np.array([0.5, 0.17, 0.17, 0.16] if harbour == PLANTED else [0.2, 0.27, 0.27, 0.26])
        for at in range(120):
            first, second = rng.choice(4, p=often), rng.integers(4)
            themes = list(THEMES.values())
            words = [*rng.choice(themes[first], 16), *rng.choice(themes[second], 8)]
            words = [each for word in words for each in ("the", word, rng.choice(["and", "of", "was", "with"]))]
            said = " ".join(words) if at % 40 else " ".join(THEMES["gulls"] * 3)  # three of each are the same
            row = (said, harbour, rng.choice(["day", "night"]), f"{harbour} {at % 12}", f"{2010 + at % 4}-05-01")
            table.writerow(row)
    return text.getvalue().encode()


@pytest.fixture(scope="module")
def pinned(served: TestClient) -> Fits:
    found = Fits(served, bring_in(served, "entries.csv", entries(3)))
    found.fit(method="lda", topics=4, iterations=50, seed=2)
    return found


def pin(pinned: Fits, group: str, side: Pin | list[Pin], **about: Any) -> int:
    """Pin a statement, and wait for it to be tested as it is."""
    sides = side if isinstance(side, list) else [side]
    body = {"by": {"group": group}, "sides": sides, **about}
    made = pinned.client.post(f"{pinned.base}/pins", json=body)
    assert made.status_code == 201, made.text
    running = [each for each in pinned.client.get("/api/jobs").json() if each["kind"] == "pinning"]
    wait_for(pinned.client, running[0]["id"])
    return int(made.json()["pin"])


def entry(pinned: Fits, number: int) -> Pin:
    return next(each for each in pinned.get("holds")["pins"] if each["id"] == number)


def keys(pinned: Fits) -> list[str]:
    return [each["key"] for kind in pinned.get("holds")["kinds"] for each in kind["choices"]]


def topic_of(pinned: Fits, theme: str) -> int:
    topics = pinned.get("topics")["topics"]
    mine = [sum(each["display"] in THEMES[theme] for each in topic["words"]) for topic in topics]
    return int(np.argmax(mine))


def contrast(pinned: Fits, topic: int, **sides: Any) -> Pin:
    return next(each for each in pinned.get("contrast", **sides)["topics"] if each["topic"] == topic)


def test_a_planted_effect_holds_over_every_choice(pinned: Fits) -> None:
    gulls = topic_of(pinned, "gulls")
    number = pin(pinned, "harbour", {"value": PLANTED}, topic=gulls)
    shown, same = entry(pinned, number), contrast(pinned, gulls, group="harbour", value=PLANTED)
    assert shown["mark"]["verdict"] == "holds" and f"in harbour {PLANTED} than in all others" in shown["sentence"]
    figures = [shown["mark"][each] for each in ("estimate", "low", "high")]
    assert figures == [same[each] for each in ("difference", "low", "high")]
    assert set(OVER) <= set(keys(pinned))
    pinned.job("pins/trials", {"pins": [number], "over": OVER})
    shown = entry(pinned, number)
    tried = [each for each in shown["marks"] if each["verdict"]]
    told = {each["key"]: each["verdict"] for each in tried}
    assert set(told) == set(OVER)
    # Two topics or three can't tell all four themes apart: gulls may be in one with another.
    assert {key for key, verdict in told.items() if verdict != "holds"} <= {"topics-3", "topics-5"}
    assert shown["says"][0].startswith(f"Holds under {sum(each == 'holds' for each in told.values())} of {len(told)}")
    assert all(each["made"] for each in tried)


def test_one_of_chance_does_not_hold_and_nothing_is_made_twice(pinned: Fits) -> None:
    chance = min(range(4), key=lambda topic: contrast(pinned, topic, group="watch", value="night")["p"])
    figures = contrast(pinned, chance, group="watch", value="night")
    number = pin(pinned, "watch", {"value": "night"}, topic=chance, less=figures["difference"] < 0)
    missing = {each["key"]: each["missing"] for kind in pinned.get("holds")["kinds"] for each in kind["choices"]}
    assert {missing[each] for each in OVER} == {0} and missing["seed-4"] == 1
    job = pinned.client.post(f"{pinned.base}/pins/trials", json={"pins": [number], "over": [*OVER, "seed-3"]}).json()[
        "job"
    ]
    pin(pinned, "watch", {"value": "day"}, topic=chance)  # which disturbs no test at work
    wait_for(pinned.client, job)
    shown = entry(pinned, number)
    tried = [each["verdict"] for each in shown["marks"] if each["verdict"]]
    assert tried.count("holds") < len(tried) / 2 and "not surely" in " ".join(shown["says"])


def test_the_other_way_round_is_called_so(pinned: Fits) -> None:
    number = pin(pinned, "harbour", {"value": PLANTED}, topic=topic_of(pinned, "gulls"), less=True)
    mark = entry(pinned, number)["mark"]
    assert mark["verdict"] == "reversed" and mark["estimate"] < 0
    assert mark["says"].startswith("The other way round: +")


def test_an_order_is_as_sure_as_its_least_sure_step(pinned: Fits) -> None:
    gulls = topic_of(pinned, "gulls")
    harbours = [PLANTED, *sorted(("Kelpwick", "Tarnholt"), key=lambda each: -share(pinned, gulls, each))]
    mark = entry(pinned, pin(pinned, "harbour", [{"value": each} for each in harbours], topic=gulls))["mark"]
    last = contrast(pinned, gulls, group="harbour", value=harbours[1], against_value=harbours[2])
    assert (mark["estimate"], mark["verdict"]) == (last["difference"], "holds" if last["adjusted"] < 0.05 else "leans")
    assert "at the least sure of 2 steps" in mark["says"]


def share(pinned: Fits, topic: int, harbour: str) -> float:
    return float(contrast(pinned, topic, group="harbour", value=harbour)["one"]["mean"])


def test_a_word_is_followed_through_its_forms_with_the_figures_of_relate(pinned: Fits) -> None:
    pinned.job("beside/group_words", {"field": "harbour"})
    group = next(each for each in pinned.get("relate/group-words")["groups"] if each["name"] == PLANTED)["group"]
    words = pinned.get("relate/group-words/words", group=group, limit=50)["words"]
    word = next(each for each in words if each["display"] == "gulls")
    number = pin(pinned, "harbour", {"value": PLANTED}, word=word["term"])
    mark = entry(pinned, number)["mark"]
    assert mark["estimate"] == pytest.approx(word["log_ratio"], abs=0.05)
    assert (mark["low"], mark["high"]) == pytest.approx((word["low"], word["high"]))
    assert {line["name"]: line["value"] for line in mark["working"]["lines"]}["p adjusted"] == pytest.approx(
        word["adjusted"]
    )
    pinned.job("pins/trials", {"pins": [number], "over": ["forms-none", "forms-lancaster", "unit-documents"]})
    shown = {each["key"]: each for each in entry(pinned, number)["marks"]}
    assert "seed-1" not in shown and shown["forms-none"]["verdict"] in ("holds", "leans")
    assert shown["forms-none"]["estimate"] == pytest.approx(mark["estimate"], abs=0.1)
    assert "“gulls”" in str(shown["forms-none"]["working"]["lines"][0])


def test_a_choice_that_makes_nothing_stops_no_other(served: TestClient) -> None:
    rng = np.random.default_rng(1)
    rows = [f"{' '.join(rng.choice(list(THEMES.values()), 1).ravel())},{'AB'[at % 2]}" for at in range(12)]
    few = Fits(served, bring_in(served, "few.csv", "\n".join(["entry,quay", *rows]).encode()))
    few.fit(method="lda", topics=11, iterations=20, seed=1)
    number = pin(few, "quay", {"value": "A"}, topic=0)
    few.job("pins/trials", {"pins": [number], "over": ["topics-13", "seed-2", "seed-3"]})
    shown = {each["key"]: each for each in entry(few, number)["marks"]}
    assert "13 topics are more than the " in shown["topics-13"]["says"]
    assert shown["topics-13"]["verdict"] == "lost" and not shown["topics-13"]["made"]
    assert shown["seed-2"]["verdict"] and shown["seed-3"]["verdict"] and shown["topics-9"]["verdict"] is None
    assert few.client.post(f"{few.base}/pins/{number}/strand", json={"key": "topics-13"}).status_code == 422
    few.fit(method="lda", topics=3, iterations=20, seed=1)
    [before] = few.get("holds")["pins"]
    assert before["of_before"] and not before["marks"]
    again = few.client.post(f"{few.base}/pins/trials", json={"pins": [number]})
    assert again.status_code == 422 and "Pin one anew" in again.text


def with_pin(file: bytes, changes: Pin) -> bytes:
    """The file of a skein whose first pin says something else."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(file)) as source, zipfile.ZipFile(out, "w") as target:
        for name in source.namelist():
            content = source.read(name)
            if name == "skein.json":
                record = json.loads(content)
                record["strands"][0]["pins"][0] |= changes
                content = json.dumps(record).encode()
            target.writestr(name, content)
    return out.getvalue()


def test_a_choice_opens_as_a_strand_and_all_is_saved(pinned: Fits) -> None:
    number = pin(pinned, "harbour", {"value": PLANTED}, topic=topic_of(pinned, "engines"), less=True)
    pinned.job("pins/trials", {"pins": [number], "over": ["seed-3"]})
    made = pinned.client.post(f"{pinned.base}/pins/{number}/strand", json={"key": "seed-3"}).json()
    wait_for(pinned.client, made["job"])
    other = Fits(pinned.client, made["strand"])
    assert other.get("")["wanted"]["fit"]["seed"] == 3
    mark = next(each for each in entry(pinned, number)["marks"] if each["key"] == "seed-3")
    found = [-each["difference"] for each in other.get("contrast", group="harbour", value=PLANTED)["topics"]]
    assert mark["estimate"] in found
    archive = zipfile.ZipFile(io.BytesIO(pinned.client.get(f"{pinned.base}/export.zip").content))
    rows = list(csv.DictReader(io.TextIOWrapper(archive.open("statements.csv"), encoding="utf-8")))
    mine = [each for each in rows if each["statement"] == entry(pinned, number)["sentence"]]
    assert [each["choice"] for each in mine] == ["", "seed 3"]
    skein = pinned.get("")["skein"]
    file = pinned.client.get(f"/api/skeins/{skein}/file").content
    there = pinned.client.get("/api/skeins").json()
    again = pinned.client.post("/api/skeins/open", files={"file": ("again.zip", file)}).json()
    wait_for(pinned.client, again["job"])
    newest = pinned.client.get("/api/skeins").json()[0]
    copied = Fits(pinned.client, newest["strands"][0]).get("holds")["pins"]
    assert [each["sentence"] for each in copied] == [each["sentence"] for each in pinned.get("holds")["pins"]]
    for wrong in ({"of": "0" * 64}, {"statement": {**BODY, "topic": 400}}, {"statement": {**BODY, "word": "gull"}}):
        answer = pinned.client.post("/api/skeins/open", files={"file": ("bad.zip", with_pin(file, wrong))})
        ended = wait_for(pinned.client, answer.json()["job"], "failed")
        assert "pins.0 is of nothing that is in the file" in ended["error"]
    assert len(pinned.client.get("/api/skeins").json()) == len(there) + 1
    pinned.client.delete(f"{pinned.base}/pins/{number}")
    assert pinned.client.delete(f"{pinned.base}/pins/{number}").status_code == 404


@pytest.mark.parametrize(
    ("wrong", "words"),
    [
        ({"topic": 40}, "no topic 41"),
        ({"topic": 1, "word": "gull"}, "a topic or of a word"),
        ({}, "a topic or of a word"),
        ({"word": "lighthouses"}, "no term"),
        ({"topic": 0, "sides": [{"value": "Nowhere"}]}, "no value of harbour"),
        ({"topic": 0, "sides": [{"value": PLANTED}, {"value": PLANTED}]}, "once"),
        ({"topic": 0, "sides": [{"value": PLANTED}, {"value": "Kelpwick"}], "less": True}, "more than the next"),
        ({"topic": 0, "by": {"group": "harbour", "unit": "quay"}}, "no field “quay”"),
        ({"topic": 0, "by": {}, "sides": [{"value": PLANTED}]}, "group field"),
    ],
)
def test_odd_statements_are_refused_in_words(pinned: Fits, wrong: Pin, words: str) -> None:
    body = {"by": {"group": "harbour"}, "sides": [{"value": PLANTED}], **wrong}
    answer = pinned.client.post(f"{pinned.base}/pins", json=body)
    assert answer.status_code == 422 and words in answer.text
