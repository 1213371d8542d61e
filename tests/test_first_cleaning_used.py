"""A corpus in another language, or in several, as it comes in: its first cleaning, and why it is so."""

from __future__ import annotations

import csv
import io
import json
from itertools import cycle, islice
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from skeinwork.cli import main
from tests.conftest import bring_in, wait_for

GERMAN = ("Der Sturm hat die Fähre nicht erreicht und das war gut", "Die Mole ist alt und wird von der Wache geprüft")
FRENCH = (
    "Le vent de la mer est fort et le quai est vide",
    "La tempête a fermé le port et les bateaux ne sont pas sortis",
)
ENGLISH = ("The gale has closed the harbour and the ferry is late", "They have repaired the quay with the new stone")


def table(*texts: str, count: int = 60) -> bytes:
    out = io.StringIO()
    rows = csv.writer(out)
    rows.writerow(["entry", "text"])
    rows.writerows((n, f"{text} {n}") for n, text in enumerate(islice(cycle(texts), count)))
    return out.getvalue().encode()


def get(client: TestClient, strand: int, part: str = "") -> Any:
    answer = client.get(f"/api/strands/{strand}{part}")
    assert answer.status_code == 200, answer.text
    return answer.json()


def wanted(client: TestClient, strand: int) -> dict[str, Any]:
    return {each["key"]: each for each in get(client, strand)["wanted"]["clean"]["passes"]}


def test_german_texts_meet_german_stop_words_and_stems(served: TestClient) -> None:
    strand = bring_in(served, "einträge.csv", table(*GERMAN))
    passes = wanted(served, strand)
    assert passes["stop-words"]["language"] == passes["word-forms"]["language"] == "German"
    terms = {row["term"] for row in get(served, strand, "/vocabulary?limit=200")["rows"]}
    assert "sturm" in terms and not terms & {"der", "die", "und", "das"}
    fitted = get(served, strand, "/fitted-passes")["passes"]
    assert {each["key"]: each["taken"] for each in fitted} == {"stop-words": True, "word-forms": True}
    assert all(each["why"] == "German 60 of 60 documents" for each in fitted)


def test_a_changed_pass_is_told_from_what_fits_and_a_chosen_one_stays(served: TestClient) -> None:
    strand = bring_in(served, "e.csv", table(*GERMAN))
    record = get(served, strand)
    clean = record["wanted"]["clean"]
    for each in clean["passes"]:
        if each["kind"] == "stop-words":
            each["language"] = "French"
    body = {"revision": record["revision"], "wanted": {**record["wanted"], "clean": clean}}
    assert served.put(f"/api/strands/{strand}/wanted", json=body).status_code == 200
    fitted = {each["key"]: each for each in get(served, strand, "/fitted-passes")["passes"]}
    assert not fitted["stop-words"]["taken"] and fitted["word-forms"]["taken"]
    assert fitted["stop-words"]["said"] == "German list" and fitted["stop-words"]["settings"]["language"] == "German"


def test_several_languages_are_cleaned_each_by_itself_and_become_strands(served: TestClient) -> None:
    strand = bring_in(served, "mixed.csv", table(*GERMAN, *FRENCH, *ENGLISH, count=90))
    passes = wanted(served, strand)
    assert passes["stop-words"]["language"] == passes["word-forms"]["language"] == "of each document"
    assert passes["contractions"]["within"]["values"] == ["French"]
    terms = {row["term"] for row in get(served, strand, "/vocabulary?limit=200")["rows"]}
    assert not terms & {"der", "und", "la", "les", "the", "have"} and terms >= {"sturm", "vent", "gale"}
    overview = get(served, strand, "/overview")
    assert not any(each["flag"] == "foreign" for each in overview["flags"])
    assert get(served, strand, "/fitted-passes")["languages"] == 3
    made = served.post(f"/api/strands/{strand}/split").json()
    assert {each["language"] for each in made} == {"German", "French", "English"}
    for each in made:
        wait_for(served, each["job"])
        own = wanted(served, each["strand"])
        assert own["stop-words"]["language"] == each["language"]
        assert (own["word-forms"]["method"] == "porter") == (each["language"] == "English")
        assert ("contractions" in own) == (each["language"] == "French")


def test_strays_are_flagged_against_the_language_of_the_others(served: TestClient) -> None:
    texts = [*islice(cycle(GERMAN), 57), *ENGLISH]
    strand = bring_in(served, "strays.csv", table(*texts, count=59))
    flagged = {each["flag"]: each for each in get(served, strand, "/overview")["flags"]}
    assert flagged["foreign"]["count"] == 2 and flagged["foreign"]["said"] == "in another language than German"


def test_what_was_suggested_is_written_down(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    source = tmp_path / "e.csv"
    source.write_bytes(table(*FRENCH))
    assert main(["weigh", "--documents", str(source), "--out", str(tmp_path / "out")]) == 0, capsys.readouterr().err
    pattern = json.loads((tmp_path / "out" / "pattern.json").read_text())
    kinds = {each["kind"]: each for each in pattern["clean"]["passes"]}
    assert kinds["stop-words"]["language"] == "French" and "contractions" in kinds
