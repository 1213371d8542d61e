"""Clean over the API: specimens, what survives, tracing a word, leaving words out, lists of words."""

from __future__ import annotations

import csv
import io
import json
import zipfile
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork import cli
from skeinwork.core.formats.word_list import kept, read_list
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.text.suggest import common_forms
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View
from skeinwork.work.screens import specimen, survivors, word
from skeinwork.work.screens.idle import idle_passes
from skeinwork.work.screens.specimen import SpecimenQuery
from skeinwork.work.strands.strands import Wanted
from tests.conftest import Prepared, bring_in, undo, wait_for

ROWS = [
    ("Kelpwick", "The Ferry left Kelpwick late. The ferry's ramp broke."),
    ("Kelpwick", "Gales at Kelpwick; ferry late"),
    ("Quellan", "A gale from Quellan broke the ferry ramp in 2014."),
    ("Quellan", "the and of"),
    ("Quellan", "Fog"),
]
TABLE = "harbour,text\n" + "".join(f'{harbour},"{text}"\n' for harbour, text in ROWS * 3)


@pytest.fixture(scope="module")
def brought(served: TestClient) -> int:
    return bring_in(served, "rows.csv", TABLE.encode())


@pytest.fixture
def client(served: TestClient) -> TestClient:
    return served


@pytest.fixture
def strand(served: TestClient, brought: int) -> int:
    """A strand of the documents for one test."""
    made: int = served.post(f"/api/strands/{brought}/fork").json()["strand"]
    return made


def get(client: TestClient, strand: int, path: str, **query: Any) -> Any:
    answer = client.get(f"/api/strands/{strand}/{path}".rstrip("/"), params=query)
    assert answer.status_code == 200, answer.text
    return answer.json()


def want(client: TestClient, strand: int, passes: list[dict[str, Any]]) -> None:
    record = get(client, strand, "")
    record["wanted"]["clean"]["passes"] = passes
    body = {"revision": record["revision"], "wanted": record["wanted"]}
    assert client.put(f"/api/strands/{strand}/wanted", json=body).status_code == 200


def rebuilt(client: TestClient, strand: int) -> None:
    wait_for(client, client.post(f"/api/strands/{strand}/rebuild").json()["job"])


def test_what_a_pass_removes_and_changes_word_by_word_and_by_group(client: TestClient, strand: int) -> None:
    found = get(client, strand, "survivors/stop-words", by="harbour")
    removed = {row["word"]: row for row in found["removed"]}
    assert removed["the"]["tokens"] == 12 and removed["the"]["documents"] == 9
    assert removed["the"]["why"] == "English list"
    groups = {row["group"]: row for row in found["groups"]}
    assert groups["Quellan"]["documents"] == 9 and groups["Quellan"]["emptied"] == 3
    changed = get(client, strand, "survivors/word-forms")["changed"]
    assert {"word": "gales", "form": "gale"}.items() <= changed[0].items() | changed[-1].items() or any(
        row["word"] == "gales" and row["form"] == "gale" for row in changed
    )
    assert client.get(f"/api/strands/{strand}/survivors/nothing").status_code == 422


def test_what_the_last_change_did_is_counted_from_the_texts(client: TestClient, strand: int) -> None:
    assert get(client, strand, "survivors")["change"] == ""
    want(client, strand, [{"kind": "case"}, {"kind": "domain-words", "words": ["ferry"]}])
    want(client, strand, [{"kind": "case"}, {"kind": "domain-words", "words": ["ferry", "ramp", "late"]}])
    assert get(client, strand, "survivors")["change"].startswith(
        "This change removes 2 words, 12 tokens in 9 documents"
    )
    undo(client, strand)
    want(client, strand, [{"kind": "case"}])
    assert "brings back" in get(client, strand, "survivors")["change"]


def test_a_specimen_stops_after_a_pass_and_takes_a_text_of_ones_own(client: TestClient, strand: int) -> None:
    after = get(client, strand, "specimen", document=0, until="case")["segments"]
    assert {each["kind"] for each in after} == {"changed", "kept", "plain"}
    whole = get(client, strand, "specimen", document=0)["segments"]
    the = next(each for each in whole if each["text"] == "The")
    assert (the["by"], the["why"], the["key"]) == ("stop words", "English list", "stop-words")
    assert the["trail"] == [{"by": "case", "form": "the"}]
    own = get(client, strand, "specimen", text="Ferries at Quellan")
    assert [each["form"] for each in own["segments"] if each["form"]] == ["ferri", "quellan"]
    assert get(client, strand, "specimen", text="שלום עולם")["right_to_left"]


def test_a_specimen_lies_beside_that_of_any_other_cleaning(client: TestClient, strand: int) -> None:
    first = get(client, strand, "specimen", document=0)["segments"]
    want(client, strand, [{"kind": "case"}])
    want(client, strand, [{"kind": "case"}, {"kind": "short-words", "under": 4}])
    offered = {each["title"]: each for each in get(client, strand, "other-cleanings")}
    assert list(offered) == ["before the last change", "2 changes ago"]
    assert offered["before the last change"]["unlike"] == ["Word length"]
    assert "Stop words" in offered["2 changes ago"]["unlike"]
    key = offered["2 changes ago"]["key"]
    assert get(client, strand, f"specimen/beside/{key}", document=0)["segments"] == first
    assert client.get(f"/api/strands/{strand}/specimen/beside/gone").status_code == 404
    undo(client, strand)
    undo(client, strand)
    left = [each["title"] for each in get(client, strand, "other-cleanings")]
    assert not any("change" in title for title in left)


def test_a_typical_document_has_about_the_median_length(view: View) -> None:
    shown = specimen.specimen(view, view.clean_settings, SpecimenQuery())
    lengths = view.lengths[view.lengths > 0]
    assert shown.document is not None
    assert abs(view.lengths[shown.document] / np.median(lengths) - 1) < 0.35


def test_a_word_is_traced_to_the_vocabulary_and_back(client: TestClient, strand: int) -> None:
    want(
        client,
        strand,
        [
            {"kind": "case"},
            {"kind": "stop-words", "own": ["Ferry"]},
            {"kind": "word-forms"},
            {"kind": "short-words", "under": 4},
        ],
    )
    ferry = get(client, strand, "word", word="FERRY")["fates"]
    assert {fate["remedy"] for fate in ferry} == {"unlist"} and ferry[0]["why"] == "own word"
    assert get(client, strand, "word", word="the")["fates"][0]["remedy"] == "spare"
    fog = get(client, strand, "word", word="fog")["fates"][0]
    assert (fog["remedy"], fog["removed_by"], fog["steps"][0]["form"]) == ("keep", "short-words", "fog")
    ramp = get(client, strand, "word", word="ramp")["fates"][0]
    assert ramp["form"] == "ramp" and ramp["documents"] == 6 and "in the vocabulary" in ramp["vocabulary"]
    assert get(client, strand, "word", word="walrus")["fates"] == []


def test_left_out_words_wait_in_a_tray_and_their_rounds_stay(client: TestClient, strand: int) -> None:
    record = get(client, strand, "")
    body = {"revision": record["revision"], "terms": ["ferri"], "looked_at": "Weigh, ferri"}
    answer = client.post(f"/api/strands/{strand}/left-out", json=body).json()
    tray = get(client, strand, "left-out")
    assert [(each["word"], each["tokens"], each["documents"]) for each in tray["pending"]] == [("ferry", 12, 9)]
    assert set(tray["pending"][0]["others"]) == {"ferry's"} and (tray["tokens"], tray["documents"]) == (12, 9)
    rebuilt(client, strand)
    tray = get(client, strand, "left-out")
    assert tray["pending"] == [] and tray["rounds"][0]["words"] == ["ferry"]
    assert tray["rounds"][0]["looked_at"] == "Weigh, ferri" and tray["rounds"][0]["back"] == []
    undo(client, strand)
    assert get(client, strand, "left-out")["rounds"][0]["back"] == ["ferry"]
    several = {"revision": answer["revision"], "words": ["ferry ramp"]}
    refused = client.post(f"/api/strands/{strand}/left-out", json=several)
    assert refused.status_code == 422 and "single words" in refused.json()["detail"]


def test_a_pass_that_can_do_nothing_says_where_it_could(view: View) -> None:
    def idle(rule: str, *passes: dict[str, Any]) -> Any:
        given = {"rule": {"rule": rule}, "passes": passes}
        return {each.key: each for each in idle_passes(view, CleanSettings.model_validate(given))}

    case, late = {"kind": "case"}, {"kind": "accents", "on": False}
    found = idle("unicode", {"kind": "numbers"}, case, late, {"kind": "numbers", "become": "kind"})
    assert found["numbers-2"].better == 0 and "Numbers" in found["numbers-2"].said
    found = idle("letters", case, {"kind": "numbers"}, {"kind": "multiword"})
    assert found.keys() == {"numbers"} and found["numbers"].better is None
    assert not idle("unicode", case, {"kind": "stop-words"}, {"kind": "word-forms"})


def test_a_sample_is_answered_until_the_whole_is_there(view: View, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(cleaning_preview, "QUICK", 40)
    passes = [{"kind": "case"}, {"kind": "stop-words", "own": ["quay"]}]
    settings = CleanSettings.model_validate({"passes": passes})
    soon = specimen.specimen(view, settings, SpecimenQuery(document=7))
    assert soon.sample == 41 and survivors.survivors(view, settings, None, True).sample == 40
    assert survivors.survivors(view, settings, None, False).sample is None
    assert specimen.specimen(view, settings, SpecimenQuery(document=7)).sample is None
    assert word.story(view, Wanted(clean=settings), "quay").sample is None


def test_suggested_words_are_spread_evenly(demo: Prepared) -> None:
    """A word dealt out by chance is as even as can be; one that sits in few documents is not."""
    found = common_forms(demo.cleaning, least_share=0.05)
    assert (found.over_documents[0] > 0.98) and (np.diff(found.over_documents.round(6)) <= 0).all()


def test_lists_are_brought_in_merged_used_and_taken_out(client: TestClient, strand: int) -> None:
    def bring(name: str, data: bytes) -> Any:
        return client.post("/api/lists/file", files={"file": (name, data)}).json()

    one = bring("names.csv", b"id,name\n1,Kelpwick\n2,Quellan\n")
    assert (one["name"], one["words"], one["origin"]) == ("names", 2, "names.csv")
    two = bring("more.json", json.dumps({"words": ["ferry", "Kelpwick"]}).encode())
    both = client.post("/api/lists", json={"name": "Both", "merged": [one["id"], two["id"]]}).json()
    assert both["words"] == 3 and both["origin"] == "merged from names, more"
    for form in ("txt", "csv", "json"):
        saved = client.get(f"/api/lists/{both['id']}/file", params={"form": form}).content
        assert sorted(read_list(f"x.{form}", saved).words) == ["Kelpwick", "Quellan", "ferry"]
    ref = {key: both[key] for key in ("sha256", "name", "words")}
    want(client, strand, [{"kind": "own-list", "lists": [ref]}, {"kind": "case"}])
    rebuilt(client, strand)
    left = get(client, strand, "survivors/own-list")["removed"]
    assert {row["word"] for row in left} == {"Kelpwick", "Quellan", "ferry", "Ferry", "ferry's"}
    client.delete(f"/api/lists/{both['id']}")
    assert [each["name"] for each in client.get("/api/lists").json()] == ["more", "names"]
    assert get(client, strand, "survivors/own-list")["removed"] == left
    assert "no words" in bring("none.txt", b"# only a remark\n")["detail"]
    told = client.put(f"/api/lists/{one['id']}", json={"name": "People", "note": "checked"}).json()
    assert {"People", "more"} == {each["name"] for each in told}


def test_the_cleaned_text_is_the_same_on_screen_as_a_file_and_at_the_command_line(
    client: TestClient, strand: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capfdbinary: Any
) -> None:
    names = client.post("/api/lists/file", files={"file": ("names.txt", b"Kelpwick\n")}).json()
    ref = {key: names[key] for key in ("sha256", "name", "words")}
    passes = [
        {"kind": "own-list", "lists": [ref]},
        {"kind": "case"},
        {"kind": "contractions"},
        {"kind": "punctuation"},
        {"kind": "stop-words"},
        {"kind": "numbers", "become": "kind"},
    ]
    want(client, strand, passes)
    rebuilt(client, strand)
    table = client.get(f"/api/strands/{strand}/cleaned.csv").content.decode()
    rows = [row["cleaned text"] for row in csv.DictReader(io.StringIO(table))]
    assert rows[0] == "ferry left late ferry ramp broke" and rows[3] == ""
    archive = zipfile.ZipFile(io.BytesIO(client.get(f"/api/strands/{strand}/cleaned.zip").content))
    assert archive.read(archive.namelist()[0]).decode() == "ferry left late\nferry ramp broke\n"
    reader = get(client, strand, "documents/0", marks="cleaned")
    assert reader["segments"][0]["text"] == "ferry left late\nferry ramp broke"
    pattern = {"skeinwork_pattern": 5, "gather": {"files": [{}]}, "clean": {"passes": passes}, "weigh": {}, "fit": {}}
    (tmp_path / "p.json").write_text(json.dumps(pattern))
    (tmp_path / "names.txt").write_bytes(kept(["Kelpwick"]))
    lines = "".join(f"{text}\n" for _, text in ROWS * 3).encode()
    monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(lines)))
    given = ["clean", "--pattern", str(tmp_path / "p.json")]
    assert cli.main([*given, "--lists", str(tmp_path / "names.txt")]) == 0
    assert capfdbinary.readouterr().out.decode().splitlines() == rows
    assert cli.main(given) == 2 and b"the lists names" in capfdbinary.readouterr().err


def test_sentences_at_the_command_line(monkeypatch: pytest.MonkeyPatch, capfdbinary: Any) -> None:
    text = b"Gale at six. Dr. Askew rang!\tAll safe.\n\nx\n"
    for options, wanted in (
        ([], ["Gale at six.\tDr. Askew rang!\tAll safe.", "", "x"]),
        (["--rule", "uax29"], ["Gale at six.\tDr.\tAskew rang!\tAll safe.", "", "x"]),
    ):
        monkeypatch.setattr("sys.stdin", io.TextIOWrapper(io.BytesIO(text)))
        assert cli.main(["sentences", *options]) == 0
        assert capfdbinary.readouterr().out.decode().split("\n")[:3] == wanted
    assert cli.main(["sentences", "--language", "x1"]) == 2


def test_a_corpus_of_two_languages_becomes_a_strand_for_each(served: TestClient) -> None:
    english, german = ("The ferry was late and the ramp broke.", "Die Fähre war spät und die Rampe ist gebrochen.")
    rows = [f"{code},{text}" for _ in range(12) for code, text in (("en", english), ("de-AT", german))]
    data = "\n".join(["language,text", *rows, "x,Fog"]).encode()
    strand = bring_in(served, "two.csv", data, roles={"language": "language", "text": "text"})
    made = served.post(f"/api/strands/{strand}/split").json()
    assert [(each["language"], each["documents"]) for each in made] == [("English", 12), ("German", 12)]
    for each in made:
        wait_for(served, each["job"])
        record = get(served, each["strand"], "")
        assert record["summaries"]["corpus"]["documents"] == 12
        assert all(ply["state"] != "stale" for ply in record["plies"])
    left = get(served, made[1]["strand"], "survivors/stop-words")["removed"]
    assert {row["why"] for row in left} == {"German list"} and "die" in {row["word"] for row in left}
    refused = served.post(f"/api/strands/{made[0]['strand']}/split")
    assert refused.status_code == 422 and "nothing to split" in refused.json()["detail"]


def test_word_forms_side_by_side(client: TestClient, strand: int) -> None:
    want(client, strand, [{"kind": "case"}, {"kind": "word-forms"}])
    rows = get(client, strand, "word-forms/sentence", text="Better moorings")
    assert [each["title"] for each in rows["columns"]] == [
        "stems (Porter)",
        "stems (Snowball)",
        "stems (Lancaster)",
        "lemmas",
    ]
    assert [each["forms"] for each in rows["rows"]] == [
        ["better", "better", "bet", "good"],
        ["moor", "moor", "moor", "mooring"],
    ]
    found = get(client, strand, "word-forms")
    for method in found["methods"]:
        assert method["before"] >= method["after"] and method["n_alone"] >= len(method["alone"])
        for family in method["alone"]:
            assert len({each["word"] for each in family["members"]}) > 1
    assert [each["wanted"] for each in found["methods"]] == [True, False, False, False]
    family = next(each for each in found["wanted"] if len(each["members"]) > 1)
    words = [each["word"] for each in family["members"]]
    given = [f"{word} = {word}" for word in words]
    want(client, strand, [{"kind": "case"}, {"kind": "word-forms", "given": given}])
    again = get(client, strand, "word-forms")
    assert again["methods"][-1]["title"] == f"stems (Porter) + {len(given)} by hand"
    assert family["form"] not in [each["form"] for each in again["wanted"]]


def test_a_table_of_forms_lies_on_the_shelf(client: TestClient, strand: int) -> None:
    data = "launch\tlaunches\nlaunch\tlaunched\nberth\tmoorings\n"
    sent = {"file": ("forms.tsv", data.encode(), "text/tab-separated-values")}
    made = client.post("/api/lists/file", files=sent, data={"kind": "table"}).json()
    assert (made["kind"], made["words"]) == ("table", 3)
    ref = {"sha256": made["sha256"], "name": made["name"], "words": 3}
    want(client, strand, [{"kind": "case"}, {"kind": "word-forms", "method": "table", "table": ref}])
    row = get(client, strand, "word-forms/sentence", text="Moorings here")["rows"][0]
    assert row["forms"][-1] == "berth"
    saved = client.get(f"/api/lists/{made['id']}/file", params={"form": "csv"}).text
    assert saved.splitlines()[:2] == ["form,lemma", "launched,launch"]
    refused = client.post("/api/lists/file", files={"file": ("x.tsv", b"no", "text/plain")}, data={"kind": "table"})
    assert refused.status_code == 422 and "two columns" in refused.text


def test_side_by_side_the_language_of_most_of_a_words_documents_decides(client: TestClient, strand: int) -> None:
    by_document = {"kind": "word-forms", "method": "snowball", "language": "of each document"}
    want(client, strand, [{"kind": "case"}, by_document])
    for text, form in (("die Häfen sind auf dem Meer", "haf"), ("the moorings of the ferries", "moor")):
        rows = get(client, strand, "word-forms/sentence", text=text)["rows"]
        assert form in [each["forms"][-1] for each in rows]
    said = get(client, strand, "word-forms/sentence", text="écluses", language="French")["rows"]
    assert said[0]["forms"][-1] == "éclus"
    methods = get(client, strand, "word-forms")["methods"]
    assert methods[-1]["title"] == "stems (Snowball, of each document)" and methods[-1]["wanted"]


def test_phrases_lead_to_where_they_stand(client: TestClient, strand: int) -> None:
    found = get(client, strand, "phrases", least=2, by="tokens")
    assert found["total"] >= len(found["phrases"]) > 0 and found["why"] == ""
    row = found["phrases"][0]
    assert row["tokens"] == sum(each["tokens"] for each in row["variants"])
    shown = get(client, strand, "evidence", word=row["variants"][0]["words"])
    assert shown["total"] <= row["documents"] and shown["total"] > 0
    table = client.get(f"/api/strands/{strand}/phrases.csv", params={"least": 2}).text
    assert len(table.splitlines()) == found["total"] + 1
