"""What the screens show, had without a server."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.text.clean import CleanSettings
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.store.artefacts import ArtefactStore
from skeinwork.work import steps
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.evidence import find as find_evidence
from skeinwork.work.results.view import View
from skeinwork.work.screens import (
    choose,
    clean,
    documents,
    evidence,
    fit,
    gather,
    label,
    reader,
    share,
    specimen,
    survivors,
    track,
    weigh,
)
from skeinwork.work.screens.choose import ComparedBy
from skeinwork.work.screens.specimen import SpecimenQuery
from skeinwork.work.steps.step import OnDisk, load
from skeinwork.work.strands.strands import Wanted
from tests.making import follow, read


def test_what_screens_show_can_be_had_without_a_server(view: View) -> None:
    """Each answer is typed, says what the results say, and can be written as JSON."""
    query = documents.DocumentQuery(filter=("harbour:Quellan",))
    quellan = view.corpus.column("harbour")
    assert quellan is not None
    expected = int((quellan.codes == quellan.values.index("Quellan")).sum())
    page = documents.page(view, query, lambda _: None, "-words", 0, 5)
    assert page.total == expected and len(page.rows) == 5
    assert [row.words for row in page.rows] == sorted((r.words for r in page.rows), reverse=True)
    step = documents.as_step(view, query, lambda _: None, out=True)
    assert step.in_words() == "leave out harbour Quellan"
    request = EvidenceRequest(topic=0, field="harbour", value="Quellan")
    found = evidence.answer(view, request, {0: "Storms"}, 0, 3)
    assert (found.title, found.where) == ("Storms", ["harbour Quellan"])
    assert 0 < found.total < expected and len(found.pieces) == 3
    topics = label.topics(view, {}, []).topics
    words = topics[0].title.split(" ")
    assert len(set(words)) == len(words) >= 3 and topics[0].title == topics[0].candidates[0]
    table = track.table(view, Breakdown(group="harbour"), (), [0])
    assert sum(cell.documents for cell in table.cells) + table.left_out <= len(view.corpus)
    wanted = Wanted(weigh=MatrixSettings(longest=2, min_documents=3))
    terms = weigh.vocabulary(view, wanted, weigh.TermQuery(limit=5))
    assert terms.summary.terms == len(view.matrix.terms)
    answers = (
        page,
        step,
        found,
        table,
        terms,
        *topics,
        gather.overview(view),
        reader.read(view, 3, "topics", "", False),
        specimen.specimen(view, wanted.clean, SpecimenQuery()),
        clean.passes(view, wanted.clean),
        survivors.survivors(view, wanted.clean, None, False),
        survivors.effect(view, wanted.clean, "stop-words", "harbour"),
        fit.detail(view, view.results["fit"], []),
        choose.compared(view, [], [], ComparedBy()),
        *share.listed(view, "x", {}, Wanted(), ()),
    )
    assert all(json.loads(each.model_dump_json()) for each in answers)


def looked_at(folder: Path, rows: list[str], wanted: Wanted | None) -> View:
    """A view of a file of these rows, made as wanted; of the corpus alone for none."""
    store, path = ArtefactStore(folder / "results"), folder / "rows.csv"
    path.write_text("\n".join(["text,group", *rows, ""]), encoding="utf-8")
    corpus = read(store, [path])
    return View(store, follow(store, corpus, wanted) if wanted else {"corpus": corpus})


def test_a_vocabulary_of_one_term_gives_defined_answers(tmp_path: Path) -> None:
    rows = [f"{'gale ' * (1 + at % 2)},{'ab'[at % 2]}" for at in range(40)]
    wanted = Wanted(weigh=MatrixSettings(min_documents=1, max_share=1.0), fit=LdaSettings(topics=2, iterations=60))
    view = looked_at(tmp_path, rows, wanted)
    assert view.fit_summary.coherence is None and len(view.fit_matrix.terms) == 1
    assert view.fit_summary.gain is not None and view.fit_summary.gain.mean == pytest.approx(0)
    answers = (
        *label.topics(view, {}, []).topics,
        fit.detail(view, view.results["fit"], []),
        choose.compared(view, [], [], ComparedBy()),
        track.table(view, Breakdown(group="group"), (), None),
        track.compared(view, Breakdown(group="group"), (), None),
        evidence.answer(view, EvidenceRequest(topic=0), {}, 0, 3),
        *share.listed(view, "x", {}, Wanted(), ()),
    )
    assert all(json.loads(each.model_dump_json()) for each in answers)


def test_lda_reads_words_and_its_weights_are_in_words(view: View) -> None:
    """The view's matrix has pairs; a fit counts none of them unless it is asked to."""
    lengths = view.fit_matrix.lengths
    assert (lengths == 2).any() and not view.model.topic_word[:, lengths == 2].any()
    assert np.allclose(view.model.topic_word.sum(axis=1), 1)
    assert np.allclose(view.token_weights, view.assigned_sizes)
    insisting = steps.FIT.making(view.results["matrix"], LdaSettings(topics=3, iterations=20, ngrams=True))
    made = load(OnDisk(view.store), steps.FIT, view.store.open(steps.make(view.store, insisting)))
    assert made.topic_word[:, lengths == 2].any()


def test_a_corpus_that_cleaning_empties_says_which_pass_did(tmp_path: Path) -> None:
    view = looked_at(tmp_path, [f"港口今天有大风和雨水船停在码头{at}," for at in range(30)], None)
    said = survivors.survivors(view, Wanted().clean, None, False).emptied
    assert said.startswith("Word length removed") and "Character n-grams" in said
    passes = [{"kind": "punctuation"}, {"kind": "numbers"}]
    chosen = CleanSettings.model_validate({"passes": passes})
    assert survivors.survivors(view, chosen, None, False).emptied == ""


def test_a_document_has_a_topic_by_its_own_words_alone(view: View) -> None:
    for topic in range(6):
        found = find_evidence(view, EvidenceRequest(topic=topic))
        tokens = view.assigned[:, [topic]].toarray().ravel()
        share = tokens / np.maximum(view.assigned_sizes, 1)
        assert set(found.documents.tolist()) == set(np.flatnonzero((tokens >= 0.5) & (share >= 0.1)).tolist())
        assert list(found.scores) == sorted(found.scores, reverse=True)
    assert "half of all documents" in found.why
