"""Weigh as it is used over time: first suggestions, splits that are kept, patterns, other machines."""

from __future__ import annotations

import io
import json
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import Any

import jsonschema
import numpy as np
import pytest
from fastapi.testclient import TestClient
from scipy.io import mmread

from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.split import Split
from skeinwork.core.matrix.weighting import SCHEMES
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work import steps
from skeinwork.work.batch import weave, weigh_files
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.evidence import find as find_evidence
from skeinwork.work.evidence import title as title_of
from skeinwork.work.exports.pattern import read_pattern, schema
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens import new_text
from skeinwork.work.steps.step import OnDisk, Stored
from skeinwork.work.strands.strands import Wanted
from tests.conftest import bring_in, choose, undo, wait_for
from tests.making import follow

WORDS = ("gale", "ferry", "quay", "engine", "light", "signal", "ramp", "crew")
ROWS = [
    (
        f"{WORDS[at % 8]} {WORDS[(at * 3 + 1) % 8]} at the {WORDS[(at // 2) % 8]} again",
        ("Quellan", "Kelpwick", "Tarnholt")[at % 3],
    )
    for at in range(90)
]
TABLE = ("text,harbour\n" + "".join(f"{text},{harbour}\n" for text, harbour in ROWS)).encode()


@pytest.fixture(scope="module")
def strand(served: TestClient) -> int:
    return bring_in(served, "rows.csv", TABLE)


def record(served: TestClient, strand: int) -> dict[str, Any]:
    found: dict[str, Any] = served.get(f"/api/strands/{strand}").json()
    return found


def want(served: TestClient, strand: int, **part: Any) -> None:
    now = record(served, strand)
    wanted = {**now["wanted"], **part}
    answer = served.put(f"/api/strands/{strand}/wanted", json={"revision": now["revision"], "wanted": wanted})
    assert answer.status_code == 200, answer.text


def rebuild(served: TestClient, strand: int, state: str = "done") -> dict[str, Any]:
    return wait_for(served, served.post(f"/api/strands/{strand}/rebuild").json()["job"], state)


@contextmanager
def settings(served: TestClient, strand: int, **weigh: Any) -> Iterator[None]:
    """Other settings of the matrix for a while, made and then put back."""
    before = record(served, strand)["wanted"]["weigh"]
    want(served, strand, weigh={**before, **weigh})
    rebuild(served, strand)
    try:
        yield
    finally:
        want(served, strand, weigh=before)
        rebuild(served, strand)


def test_the_first_minimum_comes_from_the_words_and_later_ones_stay(served: TestClient) -> None:
    alone = "".join(f"gale word{chr(97 + at % 26)}{chr(97 + at // 26)} ferry,a\n" for at in range(60))
    strand = bring_in(served, "alone.csv", b"text,group\n" + alone.encode())
    assert record(served, strand)["wanted"]["weigh"]["min_documents"] == 2
    found = served.post(f"/api/strands/{strand}/pruning", json={"min_documents": 2}).json()["suggestion"]
    assert found["least"] == 2 and found["terms"] == 2 and found["of_terms"] == 62
    assert found["tokens"] == pytest.approx(120 / 180)
    assert record(served, strand)["undo"] == 0
    want(served, strand, weigh={**record(served, strand)["wanted"]["weigh"], "min_documents": 1})
    files = served.get(f"/api/strands/{strand}/files").json()
    request = {
        "files": [
            {"sha256": each["sha256"], "name": each["name"], "settings": each["settings"]} for each in files["files"]
        ]
    }
    again = served.post(f"/api/strands/{strand}/gather", params={"base": files["base"]}, json=request)
    wait_for(served, again.json()["job"])
    assert record(served, strand)["wanted"]["weigh"]["min_documents"] == 1


def test_a_weighting_is_a_view_that_can_be_taken_back(served: TestClient, strand: int) -> None:
    before = served.get(f"/api/strands/{strand}/vocabulary").json()
    want(served, strand, weighting={"global_weight": "idf", "norm": "l2"})
    assert all(ply["state"] != "stale" for ply in record(served, strand)["plies"])
    after = served.get(f"/api/strands/{strand}/vocabulary").json()
    assert before["summary"]["formula"] == "w = tf" and "idf" in after["summary"]["weighting"]
    assert before["summary"]["terms"] == after["summary"]["terms"]
    weights = served.get(f"/api/strands/{strand}/matrix/cells", params={"limit": 200}).json()["rows"]
    assert all(0 <= each["weight"] <= 1 for each in weights)
    undo(served, strand)
    assert served.get(f"/api/strands/{strand}/vocabulary").json()["summary"]["formula"] == "w = tf"
    choices = served.get(f"/api/strands/{strand}/weights").json()
    assert [each["name"] for each in choices["schemes"]] == list(SCHEMES)
    assert all(each["ends"] for each in choices["global_weights"])


def test_a_split_is_kept_saved_and_woven(served: TestClient, strand: int, tmp_path: Path) -> None:
    """The skein's file and the pattern hold the same documents out; the command line gives the same bytes."""
    with settings(served, strand, split={"share": 0.2, "outcome": "harbour", "seed": 9}):
        ply = next(p for p in record(served, strand)["plies"] if p["step"] == "matrix")
        shown = served.get(f"/api/strands/{strand}/matrix/split").json()
        assert f"{shown['test']} held out" in ply["said"]["size"]
        # A fifth of 30 each, as nearly as documents fit that nearly repeat each other.
        sizes = {each["value"]: (each["training"] + each["test"], each["test"]) for each in shown["by_value"]}
        assert sizes.keys() == {"Quellan", "Kelpwick", "Tarnholt"} and shown["pairs"] > 0
        assert all(whole == 30 and 5 <= test <= 7 for whole, test in sizes.values())
        sweep = {"counts": [2], "seeds": [1], "iterations": 20}
        wait_for(served, served.post(f"/api/strands/{strand}/sweeps", json=sweep).json()["job"])
        fit = served.get(f"/api/strands/{strand}/fits").json()["fits"][0]["identity"]
        choose(served, strand, fit)
        market = served.get(f"/api/strands/{strand}/matrix/files/matrix.mtx").content
        parts = served.get(f"/api/strands/{strand}/matrix/files/documents.csv").content
        pattern = served.get(f"/api/strands/{strand}/pattern.json").text
        skein = record(served, strand)["skein"]
        file = served.get(f"/api/skeins/{skein}/file").content
    jsonschema.validate(json.loads(pattern), schema())
    told = read_pattern(pattern)
    assert told.weigh.split == Split(share=0.2, outcome="harbour", seed=9)
    (tmp_path / "rows.csv").write_bytes(TABLE)
    names = weigh_files.run([tmp_path / "rows.csv"], tmp_path / "out", told)
    assert "matrix.mtx" in names and (tmp_path / "out" / "matrix.mtx").read_bytes() == market
    assert (tmp_path / "out" / "documents.csv").read_bytes() == parts and b",test," in parts
    woven = weave.run(told, [tmp_path / "rows.csv"], tmp_path / "woven")
    assert "matrix.mtx" in woven
    assert (mmread(io.BytesIO(market)) != mmread(tmp_path / "woven" / "matrix.mtx")).nnz == 0
    opened = served.post("/api/skeins/open", files={"file": ("again.skein.zip", file)})
    wait_for(served, opened.json()["job"])
    other = served.get("/api/skeins").json()[0]["strands"][0]
    again = served.get(f"/api/strands/{other}/matrix/files/documents.csv").content
    assert again == parts


def test_a_split_by_a_field_that_is_gone_says_so(served: TestClient, strand: int) -> None:
    before = record(served, strand)["wanted"]["weigh"]
    want(served, strand, weigh={**before, "split": {"share": 0.2, "outcome": "writer"}})
    job = rebuild(served, strand, "failed")
    assert "“writer”" in job["error"] and "harbour" in job["error"]
    undo(served, strand)


def test_matrices_are_listed_with_what_differs(served: TestClient, strand: int) -> None:
    with settings(served, strand, longest=2, min_documents=1):
        made = served.get(f"/api/strands/{strand}/matrices").json()
        current = next(each for each in made if each["current"])
        others = [each for each in made if not each["current"]]
        assert current["differs"] == {} and len(others) >= 1
        first = next(each for each in others if set(each["differs"]) == {"longest", "min_documents"})
        assert first["differs"]["longest"] == {"here": 2, "there": None}
        assert first["shared"] <= first["summary"]["terms"] < current["summary"]["terms"]
        served.post(f"/api/strands/{strand}/switch", json={"identity": first["identity"]})
        assert record(served, strand)["wanted"]["weigh"]["longest"] == 1


class Handed:
    """Inputs of which only some results are at hand, as on another machine."""

    def __init__(self, store: ArtefactStore, results: list[str]) -> None:
        self._all, self._results = OnDisk(store), results

    def has(self, identity: str) -> bool:
        return identity in self._results

    def result(self, identity: str) -> Stored:
        assert identity in self._results, "asked for what it did not name"
        return self._all.result(identity)

    def file(self, sha256: str) -> Path:
        raise AssertionError("no file is needed")


@pytest.mark.parametrize("split", [None, Split(count=30), Split(share=0.3, outcome="harbour")])
def test_a_matrix_needs_no_more_than_it_names(view: View, split: Split | None) -> None:
    chosen = MatrixSettings(min_documents=2, split=split)
    making = steps.MATRIX.making(view.results["cleaning"], chosen)
    named = steps.MATRIX.reads(making, OnDisk(view.store)).results
    assert (view.results["corpus"] in named) == (split is not None)
    arrays, written, summary = steps.produce(making, Handed(view.store, named))
    assert ("test" in arrays) == (split is not None)
    assert summary.get("held_out", 0) == (0 if split is None else int(arrays["test"].sum()))
    if split and split.count:
        assert summary["held_out"] == split.count
    assert summary["terms"] == len(written["terms"])


def test_one_document_narrows_a_term(view: View) -> None:
    term = view.matrix.terms[0]
    found = find_evidence(view, EvidenceRequest(term=term))
    at = int(found.documents[3])
    one = EvidenceRequest(term=term, document=at)
    assert find_evidence(view, one).documents.tolist() == [at]
    assert title_of(view, EvidenceRequest(document=at), {}) == documents.name(view, at)
    assert title_of(view, one, {}) == view.matrix.display[0]
    absent = int(np.setdiff1d(np.arange(len(view.corpus)), found.documents)[0])
    assert not len(find_evidence(view, EvidenceRequest(term=term, document=absent)).documents)
    with pytest.raises(BadInputError):
        find_evidence(view, EvidenceRequest(term="nowhere", document=at))


@pytest.mark.parametrize(("longest", "bridge"), [(1, False), (3, False), (2, True)])
def test_a_text_of_the_corpus_has_the_n_grams_of_its_document(view: View, longest: int, bridge: bool) -> None:
    chosen = MatrixSettings(longest=longest, bridge=bridge, min_documents=2)
    other = replace(view, results=follow(view.store, view.results["corpus"], Wanted(weigh=chosen), 3))
    for document in (15, 90, 250):
        text = other.corpus.text(document)
        found = new_text.weigh_texts(other, SCHEMES["counts"], [text], ["again"]).texts[0]
        counts = other.matrix.counts[document]
        expected = {other.matrix.terms[at]: int(n) for at, n in zip(counts.indices, counts.data, strict=True)}
        assert {each.term: each.n for each in found.terms} == expected
        assert found.counted == sum(expected.values())


def test_files_of_many_kinds_are_weighed_as_new_text(view: View, tmp_path: Path) -> None:
    plain, table, empty = tmp_path / "a.txt", tmp_path / "b.csv", tmp_path / "c.txt"
    plain.write_text("Gale at the quay.")
    table.write_text("title,text\n" + "".join(f"n{at},ferry {at} at the quay\n" for at in range(40)))
    empty.write_text("   \n")
    assert [text for _, text in new_text.texts_of_file(plain, "a.txt")] == ["Gale at the quay."]
    found = new_text.texts_of_file(table, "b.csv")
    assert len(found) == new_text.MOST_TEXTS and found[3] == ("n3", "ferry 3 at the quay")
    with pytest.raises(BadInputError):
        new_text.texts_of_file(empty, "c.txt")


def test_weigh_over_the_network(served: TestClient) -> None:
    """Settings that are tried change nothing; files stream; what can't be done is said in a sentence."""
    table = "entry,harbour,text\n" + "".join(
        f"{at},{'Quellan' if at % 3 else 'Kelpwick'},Gale at the {('quay', 'ramp', 'light')[at % 3]} again\n"
        for at in range(30)
    )
    strand = bring_in(served, "gales.csv", table.encode())
    at = f"/api/strands/{strand}"
    record = served.get(at).json()
    tried = {**record["wanted"]["weigh"], "min_documents": 1, "max_share": 1.0, "longest": 2}
    found = served.post(f"{at}/pruning", json=tried).json()
    assert found["kept"]["terms"] > served.get(f"{at}/vocabulary").json()["summary"]["terms"]
    assert served.get(at).json()["wanted"] == record["wanted"]
    file = served.get(f"{at}/matrix/files/matrix.mtx")
    assert file.headers["content-disposition"].startswith('attachment; filename="matrix.mtx"')
    assert mmread(io.BytesIO(file.content)).shape[0] == 30
    cells = served.get(f"{at}/matrix/cells.csv", params={"field": "harbour", "value": "Kelpwick"})
    assert cells.text.startswith("document,term,shown as,n,tf,idf,weight\r\n")
    brought = served.post("/api/uploads", files={"file": ("new.csv", b"id,text\n1,gale at the quay\n2,nothing\n")})
    weighed = served.get(f"{at}/new-text/{brought.json()['sha256']}").json()
    assert weighed["total"] == 2 and weighed["texts"][0]["counted"] > 0
    for path, words in (
        ("/matrix/files/nothing.csv", "There is no file"),
        ("/matrix/files/design.csv?outcome=x", "no field"),
        ("/matrix/cell?document=0&term=nowhere", "not a term"),
        ("/matrix/grid?rows_by=group", "no field"),
        ("/top-terms?field=nowhere&value=1", "no field"),
    ):
        answer = served.get(at + path)
        assert answer.status_code in (400, 404, 422) and words in answer.json()["detail"], answer.text
    split = {**record["wanted"]["weigh"], "split": {"share": 0.2, "outcome": "nowhere"}}
    refused = served.post(f"{at}/pruning", json=split)
    assert refused.status_code == 422 and "lack" in refused.json()["detail"]
    empty = served.post("/api/skeins", json={"name": "empty"}).json()
    for path in ("vocabulary", "matrix/grid", "matrix/cells", "matrix/files", "scopes", "matrices"):
        answer = served.get(f"/api/strands/{empty.get('strand') or 10**6}/{path}")
        assert answer.status_code in (400, 404, 409) and answer.json()["detail"]
