"""Views of a strand: documents filtered, sorted and cut; evidence; tables of prevalence."""

from __future__ import annotations

import csv
import random
import time
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.corpus.shaping.filter import Filter, matching
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.text.segment import segment
from skeinwork.core.topics.holding import LEAST_SHARE
from skeinwork.store.artefacts import ArtefactStore, DamagedResultError
from skeinwork.work import evidence
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.exports import exports
from skeinwork.work.exports.documents_table import documents_table
from skeinwork.work.exports.labels import Label
from skeinwork.work.results import documents
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.finding import find_unindexed
from skeinwork.work.results.flags import flag_of
from skeinwork.work.results.view import View
from skeinwork.work.screens import track as track_screen
from skeinwork.work.topics import breakdowns, prevalence


def texts(view: View) -> list[str]:
    return [view.corpus.text(at) for at in range(len(view.corpus))]


def test_what_has_not_been_made_says_what_to_do(view: View) -> None:
    bare = View(view.store, {})
    for name, words in (("corpus", "Gather"), ("cleaning", "Clean"), ("matrix", "Weigh"), ("model", "Fit")):
        with pytest.raises(BadInputError, match=words):
            getattr(bare, name)


def test_a_damaged_result_is_said_and_removed_so_that_it_is_made_again(view: View, tmp_path: Path) -> None:
    store = ArtefactStore(tmp_path)
    tokens = view.store.ancestor(view.results["cleaning"], "tokens")
    identity = store.write(tokens.making, {"ids": np.arange(9)}, {}, {})
    fresh = ArtefactStore(tmp_path)
    (fresh.open(identity).folder / "ids.npy").write_bytes(b"x")
    broken = View(fresh, {"corpus": identity})
    with pytest.raises(DamagedResultError, match="being made again"):
        _ = broken.corpus
    assert not fresh.has(identity)
    assert store.write(tokens.making, {"ids": np.arange(9)}, {}, {}) == identity
    assert fresh.has(identity)


def test_lengths_count_words_and_numbers_but_no_punctuation(view: View) -> None:
    for at, text in enumerate(texts(view)[:40]):
        if "<" not in text and "&" not in text:
            found = segment([text])
            words = [k for k in found.classes[found.ids] if k not in (2, 3)]
            assert view.lengths[at] == len(words)


@pytest.mark.parametrize("flag", ["empty", "short", "long", "undated", "emptied"])
def test_flagged_documents_are_what_the_flag_says(view: View, flag: str) -> None:
    found = set(np.flatnonzero(flag_of(flag).mask(view)).tolist())
    words = view.lengths
    expected = {
        "empty": {at for at, n in enumerate(words) if n == 0},
        "short": {at for at, n in enumerate(words) if 0 < n < 5},
        "long": {at for at, n in enumerate(words) if n > 10 * np.median(words)},
        "undated": {at for at in range(len(view.corpus)) if documents.day_label(view, at) is None},
        "emptied": {at for at in range(len(view.corpus)) if view.matrix.counts[at].sum() == 0},
    }[flag]
    assert found == expected


def test_an_unknown_flag_field_or_order_is_refused(view: View) -> None:
    with pytest.raises(BadInputError, match="called “odd”"):
        np.flatnonzero(flag_of("odd").mask(view))
    with pytest.raises(BadInputError, match="no field “odd”"):
        matching(view.corpus, Filter(where={"odd": ("x",)}), find_unindexed)
    with pytest.raises(BadInputError, match="can't be sorted"):
        documents.sort(view, np.arange(3), "odd")


def test_filters_combine(view: View) -> None:
    wanted = Filter(where={"harbour": ("Quellan", "Ossingby"), "watch": ("day",)}, date_from="2013", date_to="2015")
    chosen = np.flatnonzero(matching(view.corpus, wanted, find_unindexed))
    for at in range(len(view.corpus)):
        fields = documents.fields(view, at)
        year = (documents.day_label(view, at) or "0")[-4:]
        expected = (
            fields["harbour"] in ("Quellan", "Ossingby") and fields["watch"] == "day" and "2013" <= year <= "2015"
        )
        assert (at in chosen) == expected


@pytest.mark.parametrize("by", ["number", "words", "date", "harbour", "entry"])
def test_sorting_both_ways(view: View, by: str) -> None:
    everything = np.arange(len(view.corpus))
    up, down = (documents.sort(view, everything, sign + by) for sign in ("", "-"))
    assert sorted(up.tolist()) == sorted(down.tolist()) == everything.tolist()
    if by == "harbour":
        values = [documents.fields(view, int(at))["harbour"] for at in up]
        assert values == sorted(values)
    if by == "words":
        assert (np.diff(view.lengths[up]) >= 0).all()
        assert (np.diff(view.lengths[down]) <= 0).all()


pieces = st.lists(
    st.builds(
        Segment, st.text("ab ", min_size=1, max_size=60), st.sampled_from(["plain", "marked"]), weight=st.floats(0, 1)
    ),
    max_size=30,
)


@settings(max_examples=200, deadline=None)
@given(pieces)
def test_a_passage_is_a_stretch_of_the_text(parts: list[Segment]) -> None:
    found = documents.passage(parts, size=80)
    whole = "".join(part.text for part in parts)
    text = "".join(part.text for part in found).removeprefix("… ").removesuffix(" …")
    assert text in whole
    assert len(text) <= max(80 * 2, 80 + 4 * 60)


def test_a_passage_holds_the_densest_marks() -> None:
    far = [
        Segment("water " * 40),
        Segment("gale", "marked", weight=1.0),
        Segment(" and "),
        Segment("surge", "marked", weight=1.0),
    ]
    found = documents.passage([*far, Segment(" quiet" * 60)], size=60)
    assert {part.text for part in found if part.kind == "marked"} == {"gale", "surge"}


@settings(max_examples=100, deadline=None)
@given(st.text(max_size=40))
def test_segments_cover_the_text_whole(text: str) -> None:
    text = text.encode("utf-8", "ignore").decode()
    found = segment([text])
    parts = documents.segments(
        text.encode(), found.starts, found.ends, lambda at: Segment("", "kept") if at % 2 else None
    )
    assert "".join(part.text for part in parts) == text


def test_evidence_of_a_term_is_every_document_that_holds_it(view: View) -> None:
    at = view.matrix.terms.index("engin")
    holding = {d for d in range(len(view.corpus)) if view.matrix.counts[d, at] > 0}
    found = evidence.find(view, EvidenceRequest(term="engin"))
    assert set(found.documents.tolist()) == holding
    assert (np.diff(found.scores) <= 0).all()
    first = int(found.documents[0])
    marks = [
        p.text.casefold() for p in evidence.marked(view, EvidenceRequest(term="engin"), first) if p.kind == "marked"
    ]
    assert set(marks) <= {"engine", "engines", "engined"}
    said = evidence.piece(view, EvidenceRequest(term="engin"), first, 1.0)
    assert said.score == f"{len(marks)}×"


def test_evidence_of_an_ngram_marks_both_words(view: View) -> None:
    pairs = [t for t, n in zip(view.matrix.terms, view.matrix.lengths, strict=True) if n == 2]
    assert pairs
    found = evidence.find(view, EvidenceRequest(term=pairs[0]))
    marks = [
        p for p in evidence.marked(view, EvidenceRequest(term=pairs[0]), int(found.documents[0])) if p.kind == "marked"
    ]
    assert len(marks) >= 2


def test_evidence_of_a_topic_in_a_cell_is_inside_the_cell(view: View) -> None:
    choice = EvidenceRequest(topic=1, field="harbour", value="Kelpwick", period="year", at="2014")
    found = evidence.find(view, choice)
    for at in found.documents.tolist():
        assert documents.fields(view, at)["harbour"] == "Kelpwick"
        assert (documents.day_label(view, at) or "").endswith("2014")
        assert view.model.doc_topic[at, 1] >= LEAST_SHARE


def test_words_of_a_topic_weigh_as_bayes_says(view: View) -> None:
    cleaning, document = view.fit_cleaning, 12
    found = view.topic_weights(document)
    phi, theta = view.model.topic_word, view.model.doc_topic[document]
    for token, form in enumerate(cleaning.token_forms(document)):
        term = (
            view.fit_matrix.terms.index(cleaning.forms[form])
            if form >= 0 and cleaning.forms[form] in view.fit_matrix.terms
            else None
        )
        if term is None:
            assert (found[:, token] == 0).all()
        else:
            assert np.allclose(found[:, token], theta * phi[:, term] / (theta * phi[:, term]).sum())


def test_what_a_pass_removed_is_its_evidence(view: View) -> None:
    found = evidence.find(view, EvidenceRequest(removed_by="stop-words"))
    first = int(found.documents[0])
    struck = [
        p.text for p in evidence.marked(view, EvidenceRequest(removed_by="stop-words"), first) if p.kind == "removed"
    ]
    assert len(struck) == found.scores[0]
    assert {"the", "and", "of"} & {word.casefold() for word in struck}
    with pytest.raises(BadInputError, match="not part of this cleaning"):
        evidence.find(view, EvidenceRequest(removed_by="shrinking"))


@pytest.mark.parametrize(
    ("choice", "words"),
    [
        ({"term": "nothing"}, "not a term"),
        ({"topic": 6}, "no topic"),
        ({"field": "odd", "value": "x"}, "no field"),
        ({"flag": "odd"}, "called “odd”"),
    ],
)
def test_a_selection_that_does_not_exist_is_said(view: View, choice: dict[str, Any], words: str) -> None:
    with pytest.raises(BadInputError, match=words):
        evidence.find(view, EvidenceRequest(**choice))
    assert len(evidence.find(view, EvidenceRequest(field="harbour", value="Atlantis")).documents) == 0


def test_groups_come_in_pages_and_stay_in_every_total(view: View, monkeypatch: pytest.MonkeyPatch) -> None:
    settings = Breakdown(group="harbour")
    whole = track_screen.table(view, settings, (), None)
    sizes = [cell.documents for cell in whole.cells]
    assert sizes == sorted(sizes, reverse=True) and len(sizes) == 5
    assert whole.left_out == 0 and (whole.page, whole.pages) == (1, 1)
    monkeypatch.setattr(track_screen, "PAGE", 2)
    last = track_screen.table(view, settings, (), None, page=9)
    assert (last.page, last.pages, last.all_groups) == (3, 3, 5)
    assert last.groups == whole.groups[4:] and last.cells == whole.cells[4:]
    assert last.left_out == 0


def test_screen_and_export_give_the_same_intervals(view: View) -> None:
    settings = Breakdown(group="writer", period="year")
    shown = track_screen.table(view, settings, (), None)
    rows = list(csv.DictReader(b"".join(exports.prevalence_table(view, settings, {}, ())).decode().splitlines()))
    at = iter(rows)
    marked = set()
    for cell in shown.cells:
        for value in cell.values or [None] * 6:  # type: ignore[list-item]
            row = next(at)
            marked.add(row["note"])
            assert int(row["documents"]) == cell.documents and int(row["units"]) == cell.units
            for name, end in (("mean share", "mean"), ("high 95 %", "high")):
                number = None if value is None else getattr(value, end)
                assert row[name] == ("" if number is None else f"{number:.9g}")
            assert ("no interval" in row["note"]) == (0 < cell.units < 6)
            assert row["note"].startswith("few") == (6 <= cell.units < 20)
    assert next(at, None) is None and len(marked) > 1
    told = track_screen.compared(view, Breakdown(group="writer"), (), None)
    table = b"".join(exports.differences_table(view, Breakdown(group="writer"), {}, ())).decode()
    exported = list(csv.DictReader(table.splitlines()))
    assert len(exported) == len(told.differences) == told.compared == 18
    first = told.differences[0]
    row = next(r for r in exported if (r["group"], r["topic"]) == (first.group, f"{first.topic + 1}"))
    assert (row["p adjusted"], row["low 95 %"]) == (f"{first.adjusted:.9g}", f"{first.low:.9g}")


def test_by_tokens_and_by_documents_differ_as_they_should(view: View) -> None:
    samples, weights = view.model.samples, view.token_weights
    assert samples is not None
    counts = sum(samples.counts(at).toarray() for at in range(len(samples))) / len(samples)
    tokens = prevalence.track(view, Breakdown()).result.mean[0]
    by_document = prevalence.track(view, Breakdown(weight="documents")).result.mean[0]
    filled = weights > 0
    assert np.allclose(tokens, counts.sum(axis=0) / weights.sum())
    assert np.allclose(by_document, (counts[filled] / weights[filled, None]).mean(axis=0))


def test_periods_and_groups_that_cannot_be_are_refused(view: View) -> None:
    with pytest.raises(BadInputError, match="no field"):
        prevalence.track(view, Breakdown(group="odd"))
    with pytest.raises(BadInputError, match="belong together"):
        prevalence.track(view, Breakdown(unit="odd"))


def test_the_suggested_period_leaves_about_twenty_documents_in_each(view: View) -> None:
    assert breakdowns.suggested_period(view) == "year"
    assert breakdowns.group_fields(view) == ["harbour", "writer", "watch"]


def test_exports_do_not_depend_on_when_they_are_written(monkeypatch: pytest.MonkeyPatch) -> None:
    files = [exports.Written("a.csv", "", lambda: [b"1"]), exports.Written("b.csv", "", lambda: [b"2", b"3"])]
    first = exports.to_zip(files)
    monkeypatch.setattr(time, "time", lambda: 1_000_000_000.0)
    monkeypatch.setattr(time, "localtime", lambda *_: time.gmtime(1_000_000_000))
    assert first == exports.to_zip(files)


def test_labels_stand_in_the_exports(view: View) -> None:
    labels = {0: Label("=Storms", True, "a note"), 1: Label()}
    table = b"".join(documents_table(view, labels)).decode()
    assert "share: =Storms" in table.splitlines()[0]
    assert "'=Storms" in table
    topics = exports.topics_json(view, labels, ()).decode()
    assert '"label_confirmed": true' in topics
    assert "a note" in topics


def test_a_passage_is_found_without_cutting_all_of_a_long_document() -> None:
    chance = random.Random(4)
    for _ in range(40):
        words = [
            chance.choice(["wind", "Größe", "波止場", "a", "tide-table", "x."]) for _ in range(chance.randrange(900))
        ]
        text = " ".join(words)
        data, starts = text.encode(), np.cumsum([0, *(len(word.encode()) + 1 for word in words[:-1])][: len(words)])
        starts, ends = starts.astype(np.int32), (starts + [len(word.encode()) for word in words]).astype(np.int32)
        weights = np.array([chance.choice([0.0] * 9 + [1.0, 2.5]) for _ in words])

        def mark(token: int, weights: NDArray[np.float64] = weights) -> Segment | None:
            return Segment("", "marked", weight=weights[token]) if weights[token] else None

        whole = documents.passage(documents.segments(data, starts, ends, mark))
        part = documents.stretch(np.frombuffer(data, np.uint8), starts, ends, weights)
        found = documents.segments(data, starts, ends, mark, part)
        assert documents.passage(found, before=part.begin > 0, after=part.end < len(data)) == whole
