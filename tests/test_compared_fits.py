"""A factorisation in use, and two fits of the same documents side by side, from the request to the evidence."""

from __future__ import annotations

import csv
import io
import zipfile
from pathlib import Path

import numpy as np
import pytest
from fastapi.testclient import TestClient

from skeinwork.cli import main
from skeinwork.demo.generator import write_files
from skeinwork.work.topics.model_file import read_model
from tests.conftest import Fits, bring_in

STORM = "Storm surge at the breakwater; the swell broke over the wall, and the ladder is gone. Zzyx!"


@pytest.fixture(scope="module")
def fits(served: TestClient, tmp_path_factory: pytest.TempPathFactory) -> Fits:
    path = write_files(tmp_path_factory.mktemp("demo"), size=600)
    found = Fits(served, bring_in(served, "entries.csv", path.read_bytes()))
    found.change(weigh={"split": {"count": 60}, "min_documents": 3})
    found.job("rebuild")
    return found


@pytest.fixture(scope="module")
def both(fits: Fits) -> tuple[str, str]:
    """Six topics by sampling, then twelve by factorisation."""
    first = fits.fit(method="lda", topics=6, iterations=100)
    for at, label in enumerate(("One", "Two")):
        edit = {"fit": first, "revision": 1, "label": label, "confirmed": True}
        assert fits.client.put(f"{fits.base}/topics/{at}", json=edit).status_code == 200
    return first, fits.fit(method="nmf", topics=12)


def test_the_forms_know_two_methods(fits: Fits) -> None:
    found = {each["method"]: each for each in fits.get("methods")}
    assert {"lda", "nmf"} <= set(found)
    assert {"loss", "weights", "start"} <= set(found["nmf"]["fields"])
    refused = fits.client.post(f"{fits.base}/fits", json={"method": "nmf", "loss": "kl", "weights": "BM25"})
    assert refused.status_code == 422 and "reads counts, not BM25" in refused.json()["detail"]


def test_a_factorisation_says_how_it_went(fits: Fits, both: tuple[str, str]) -> None:
    found = fits.get(f"fits/{both[1]}")
    assert found["said"] == {"name": "NMF 12", "size": "seed 1"}
    assert found["judged"][0].startswith("It stopped by itself") and found["going_on"] is None
    assert "Every seed makes the same fit" in found["judged"][1]
    told = [row[1] for row in found["trace"]]
    assert 0 < told[0] < told[-1] < 1 and f"{100 * told[-1]:.1f}" in found["summary"]["remarks"]
    assert {row["setting"] for row in fits.client.post(f"{fits.base}/advice", json=found["settings"]).json()} >= {
        "loss",
        "weights",
    }


def test_figures_of_a_factorisation_open_to_their_working(fits: Fits, both: tuple[str, str]) -> None:
    page = fits.get("topics/0/documents", least=0.5)
    first = page["documents"][0]
    worked = fits.get("topics/0/working/share", document=first["document"])
    share, told = worked["lines"]
    assert share["value"] == pytest.approx(first["share"], abs=1e-6)
    over, under = map(float, share["numbers"].split(" / "))
    assert over / under == pytest.approx(first["share"], abs=0.01)
    assert 0 < told["value"] <= 1 and "storm" not in told["formula"]
    topic = fits.get("topics")["topics"][0]
    word = topic["words"][0]
    lines = {each["name"]: each["value"] for each in fits.get("topics/0/working/word", term=word["term"])["lines"]}
    assert lines["share of the topic's weights"] == pytest.approx(word["share"])
    assert lines["of its shares in all topics"] == pytest.approx(word["own"])
    (line,) = fits.get("fit-working")["lines"]
    assert line["value"] == fits.get(f"fits/{both[1]}")["trace"][-1][1]


def test_new_text_and_documents_held_out_are_placed_without_intervals(fits: Fits, both: tuple[str, str]) -> None:
    (text,) = fits.client.post(f"{fits.base}/placed", json={"text": STORM}).json()["texts"]
    first = text["topics"][0]
    assert first["share"] > 0.5 and first["low"] is None and first["high"] is None
    assert {"storm", "breakwater"} <= {word["display"] for word in first["words"]}
    held = fits.get("placed/held-out")
    assert held["total"] == 60
    at = held["texts"][0]
    leading = at["topics"][0]
    page = fits.get(f"topics/{leading['topic']}/documents", least=0, limit=200)
    mine = next(each for each in page["documents"] if each["document"] == at["document"])
    assert mine["share"] == pytest.approx(leading["share"], abs=0.02)


def test_the_saved_factorisation_places_as_the_screen_does(fits: Fits, both: tuple[str, str], tmp_path: Path) -> None:
    archive = zipfile.ZipFile(io.BytesIO(fits.client.get(f"{fits.base}/export.zip").content))
    path, table = tmp_path / "model.skeinwork.zip", tmp_path / "new.csv"
    path.write_bytes(archive.read("model.skeinwork.zip"))
    assert read_model(path).by_term.keys() == {"global_weight"}
    table.write_text(f'text\n"{STORM}"\n"Ferry ticket and ferry timetable"\n')
    out = tmp_path / "placed.csv"
    assert main(["place", str(path), "--documents", str(table), "--out", str(out), "--quiet"]) == 0
    header, *rows = csv.reader(out.read_text("utf-8-sig").splitlines())
    assert not [name for name in header if "95 %" in name] and len(rows) == 2
    (text,) = fits.client.post(f"{fits.base}/placed", json={"text": STORM}).json()["texts"]
    shares = sorted((float(each) for each in rows[0][5:]), reverse=True)
    assert shares == pytest.approx([each["share"] for each in text["topics"]], abs=1e-9)


def test_two_fits_are_held_against_each_other(fits: Fits, both: tuple[str, str]) -> None:
    first, _ = both
    there = fits.get("compared")
    assert there[0]["identity"] == first and there[0]["last"] and "method lda" in there[0]["differs"]
    found = fits.get(f"compared/{first}")
    assert [len(found[side]) for side in ("was", "now")] == [6, 12]
    split = [each for each in found["was"] if each["became"] == "split"]
    assert split and f"{len(split)} split" in found["sentence"]
    assert {each["setting"] for each in found["settings"]} >= {"method", "topics", "iterations"}
    assert all(each["step"] == "fit" for each in found["settings"])
    assert [each["title"] for each in found["measures"]] == ["Coherence, NPMI", "Exclusivity"]
    same = [each for each in found["threads"] if each["became"] == "same"]
    assert same
    for each in same:
        assert found["was"][each["was"]]["dye"] == found["now"][each["now"]]["dye"]
        assert each["of_was"] >= 0.5 and each["of_now"] >= 0.5
    assert sorted(each["label"] for each in found["was"] if each["label"]) == ["One", "Two"]
    # Every thread leads to documents that hold both, those first that hold most.
    thread = found["threads"][0]
    evidence = fits.get("evidence", other_fit=first, was=thread["was"], now=thread["now"])
    assert evidence["total"] > 10 and evidence["pieces"][0]["passage"]
    alone = fits.get("evidence", other_fit=first, was=thread["was"])
    assert alone["total"] >= evidence["total"]
    moved = fits.get("evidence", moved_from=first)
    assert moved["total"] == found["moved"]
    assert [each["moved"] * each["words"] for each in found["first"]] == sorted(
        (each["moved"] * each["words"] for each in found["first"]), reverse=True
    )


def test_labels_follow_what_is_matched_when_words_are_left_out(fits: Fits, both: tuple[str, str]) -> None:
    before = {each["topic"]: each for each in fits.get("topics")["topics"]}
    for at in before:
        edit = {"fit": both[1], "revision": before[at]["revision"], "label": f"Label {at}", "confirmed": True}
        assert fits.client.put(f"{fits.base}/topics/{at}", json=edit).status_code == 200
    words = [before[0]["words"][0]["term"], before[3]["words"][0]["term"]]
    body = {"revision": fits.get("")["revision"], "terms": words, "looked_at": "Fit, topic 1"}
    assert fits.client.post(f"{fits.base}/left-out", json=body).status_code == 200
    fits.job("rebuild")
    assert fits.present != both[1]
    found = fits.get(f"compared/{both[1]}")
    assert found["alike"] == 0.6 and {each["step"] for each in found["settings"]} == {"cleaning"}
    after = fits.get("topics")["topics"]
    dyes = {each["topic"]: each["dye"] for each in found["was"]}
    followed = [each for each in after if each["label"]]
    assert len(followed) >= 9 and not any(each["confirmed"] for each in after)
    for each in followed:
        assert each["dye"] == dyes[int(each["label"].split()[1])]
    assert not set(words) & {word["term"] for each in after for word in each["words"]}
    assert np.isclose(sum(each["share"]["mean"] for each in after), 1)


def test_a_fit_of_other_documents_is_refused(fits: Fits, both: tuple[str, str]) -> None:
    table = "entry,text\n" + "".join(f"{at},storm surge and ferry ticket {at % 7}\n" for at in range(30))
    other = Fits(fits.client, bring_in(fits.client, "other.csv", table.encode()))
    other.change(weigh={"min_documents": 1, "max_share": 1.0})
    other.job("rebuild")
    there = other.fit(method="nmf", topics=2, loss="kl")
    answer = fits.client.get(f"{fits.base}/compared/{there}")
    assert answer.status_code == 422 and "made from other documents" in answer.json()["detail"]
    assert fits.client.get(f"{fits.base}/compared/{'0' * 64}").status_code == 404
    refused = fits.client.get(f"{fits.base}/evidence", params={"other_fit": both[0], "was": 99})
    assert refused.status_code == 422 and "no topic 99" in refused.json()["detail"]


def test_a_sweep_of_a_start_without_chance_has_one_seed(fits: Fits) -> None:
    fits.change(fit={"method": "nmf"})
    fits.job("sweeps", {"counts": [3, 5], "seeds": [4, 5], "iterations": 50})
    found = fits.get("fits")
    made = [each["settings"] for each in found["fits"]]
    assert {(each["topics"], each["seed"]) for each in made if each["topics"] in (3, 5)} == {(3, 4), (5, 4)}
    assert found["chance"] and all(each["measures"]["reconstruction"] is not None for each in found["fits"])
    fits.change(fit={"method": "nmf", "start": "random"})
    fits.job("sweeps", {"counts": [3], "seeds": [4, 5], "iterations": 50})
    again = fits.get("fits", series=1)["fits"]
    agreeing = [each["settings"]["start"] for each in again if each["measures"]["stability"] is not None]
    assert agreeing == ["random", "random"] == [each["settings"]["start"] for each in again]


def test_track_says_what_the_intervals_of_a_factorisation_leave_out(fits: Fits, both: tuple[str, str]) -> None:
    fits.client.post(f"{fits.base}/take", json={"fit": both[0]})
    assert fits.get("prevalence", group="harbour")["drawn"]
    fits.client.post(f"{fits.base}/take", json={"fit": fits.fit(method="nmf", topics=5)})
    found = fits.get("prevalence", group="harbour")
    assert not found["drawn"] and "documents alone, the topics as they are" in found["of_differences"]
    assert fits.get("topics")["shares_of"] == "what the topics tell"
    assert "of the true ones" in found["of_differences"]
