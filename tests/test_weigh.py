"""Weigh as its screens show it, had without a server, against the matrix itself."""

from __future__ import annotations

import csv
import io
import json
from collections import Counter
from dataclasses import replace
from typing import Any

import numpy as np
import pyarrow.parquet as pq
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scipy.io import mmread

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.matrix.columns import column_names
from skeinwork.core.matrix.global_weights import GLOBAL
from skeinwork.core.matrix.local_weights import LOCAL
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.split import Split
from skeinwork.core.matrix.weighting import SCHEMES, Weighting, weigh
from skeinwork.core.topics import held_out
from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.work import steps
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.evidence import find as find_evidence
from skeinwork.work.results.view import View
from skeinwork.work.screens import cell, fit, grid, matrices, new_text, pruning, top_terms
from skeinwork.work.screens.grid import CellsQuery, GridQuery
from skeinwork.work.screens.top_terms import TopQuery
from skeinwork.work.steps.step import count
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.weighting import matrix_files
from skeinwork.work.weighting.matrix_files import Asked
from skeinwork.work.weighting.weighted_matrix import counting_of, made_weighed
from tests.making import follow

PAIRS = MatrixSettings(longest=2, min_documents=3)
TF_IDF = SCHEMES["tf-idf"]
WANTED = Wanted(weigh=PAIRS, weighting=TF_IDF)
Dense = Any


@pytest.fixture(scope="module")
def dense(view: View) -> Dense:
    """The matrix that was made, by tf-idf, with all its zeros."""
    return weigh(view.matrix.counts, TF_IDF).toarray()


@pytest.fixture(scope="module")
def split_view(view: View) -> View:
    """The same documents with a fifth of them held out, alike by harbour."""
    held = Split(share=0.2, outcome="harbour", seed=5)
    wanted = Wanted(
        weigh=PAIRS.model_copy(update={"longest": 1, "split": held}), fit=LdaSettings(topics=4, iterations=60)
    )
    return replace(view, results=follow(view.store, view.results["corpus"], wanted))


def test_what_limits_would_leave_is_what_they_leave(view: View) -> None:
    for told in (
        {"min_documents": 9},
        {"min_share": 0.1},
        {"keep_top": 40},
        {"min_letters": 6},
        {"max_share": 0.2, "stay": ["ferri"], "go": ["two"]},
        {"longest": 1},
    ):
        tried = PAIRS.model_copy(update=MatrixSettings.model_validate(told).model_dump(include=set(told)))
        found = pruning.pruned(view, WANTED, MatrixSettings.model_validate(tried.model_dump()))
        identity = steps.make(view.store, steps.MATRIX.making(view.results["cleaning"], tried))
        made = steps.MATRIX.summarised(view.store.open(identity))
        assert (found.kept.terms, found.kept.nonzero, found.kept.emptied, found.kept.tokens) == (
            made.terms,
            made.nonzero,
            made.emptied,
            made.tokens,
        )
        assert found.limits[-1].terms == made.terms and found.absent == pytest.approx(1 - found.least / found.of)
        terms = set(view.store.open(identity).document("terms"))
        falls, here = {each.term for each in found.beside.falls}, set(view.matrix.terms)
        if "longest" not in told:
            assert found.beside.made and found.beside.falling == len(here - terms)
            assert falls <= here - terms and found.beside.returning == len(terms - here)
            counts = [each.count for each in found.beside.falls]
            assert counts == sorted(counts, reverse=True)
    assert sum(terms for _, terms in found.spectrum) == found.whole.terms


def test_without_a_change_the_edge_of_the_limits_is_shown(view: View) -> None:
    found = pruning.pruned(view, WANTED, PAIRS)
    assert not found.beside.made and found.kept.terms == len(view.matrix.terms)
    assert {each.documents for each in found.beside.falls} <= {found.least, found.most}
    assert {each.documents for each in found.beside.returns} <= {found.least - 1, found.most + 1}
    pinned = pruning.pruned(view, WANTED, PAIRS.model_copy(update={"stay": ("nowhere",)}))
    assert pinned.pinned_unknown == ["nowhere"] and pinned.kept.terms == found.kept.terms


@settings(max_examples=30, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.sampled_from(["number", "weight", "date", "group"]),
    st.sampled_from(["weight", "count", "documents", "term"]),
    st.integers(0, 400),
    st.integers(0, 2000),
)
def test_a_corner_of_the_grid_is_a_corner_of_the_matrix(
    view: View, dense: Dense, rows_by: str, columns_by: str, row: int, column: int
) -> None:
    told = {
        "rows_by": rows_by,
        "columns_by": columns_by,
        "group": "harbour",
        "first_row": row,
        "first_column": column,
        "n_rows": 7,
        "n_columns": 5,
    }
    found = grid.grid(view, WANTED, GridQuery.model_validate(told))
    assert (found.total_rows, found.total_columns) == dense.shape
    assert len(found.rows) == max(0, min(7, dense.shape[0] - row))
    for line, cells in zip(found.rows, found.cells, strict=True):
        places = [view.matrix.columns[each.term] for each in found.columns]
        assert np.allclose(cells, dense[line.document, places])
        assert line.sum == pytest.approx(dense[line.document].sum())
    for each in found.columns:
        assert each.sum == pytest.approx(dense[:, view.matrix.columns[each.term]].sum())
    sums = [each.sum for each in found.rows]
    if rows_by == "weight":
        assert sums == sorted(sums, reverse=True)
    if rows_by == "group":
        groups = [each.detail for each in found.rows]
        assert groups == sorted(groups, key=lambda name: (name == "not given", name))
    if rows_by == "date":
        days = [int(view.corpus.days[each.document]) for each in found.rows]
        known = [each for each in days if each > -(10**6)]
        assert known == sorted(known)


def test_the_long_form_holds_every_cell_once(view: View, dense: Dense) -> None:
    rows = list(grid.cells_rows(view, WANTED, CellsQuery()))
    assert len(rows) == view.matrix.counts.nnz
    weights = [row[-1] for row in rows]
    assert weights == sorted(weights, reverse=True)
    again = np.zeros_like(dense)
    for document, term, _, n, tf, idf, weight in rows:
        at = view.matrix.columns[term]
        again[document - 1, at] = weight
        assert n == view.matrix.counts[document - 1, at] and weight == pytest.approx(n * idf)
        assert tf == pytest.approx(n / view.matrix.counts[document - 1].sum())
    assert np.allclose(again, dense)


def test_the_long_form_is_filtered_and_sorted(view: View) -> None:
    quellan = find_evidence(view, EvidenceRequest(field="harbour", value="Quellan")).documents
    told = {"field": "harbour", "value": "Quellan", "find": "ferr", "sort": "-n", "limit": 200}
    found = grid.cells(view, WANTED, CellsQuery.model_validate(told))
    assert found.total == len(found.rows) > 0
    assert all("ferr" in each.term and each.document in quellan for each in found.rows)
    counts = [each.n for each in found.rows]
    assert counts == sorted(counts, reverse=True)
    for sort in ("weight", "-tf", "-idf", "document", "term"):
        some = grid.cells(view, WANTED, CellsQuery.model_validate({**told, "sort": sort}))
        assert {(r.document, r.term) for r in some.rows} == {(r.document, r.term) for r in found.rows}


def test_a_cell_says_how_it_is_worked_out(view: View, dense: Dense) -> None:
    """A tf-idf value worked out from what the screen says alone."""
    document, at = (int(each[0]) for each in np.nonzero(dense))
    found = cell.cell(view, WANTED, document, view.matrix.terms[at])
    by_hand = found.n * np.log(found.of / found.documents_with)
    assert found.weight == pytest.approx(by_hand) == pytest.approx(dense[document, at])
    assert found.factors[1].filled == f"ln ({found.of} / {found.documents_with})"
    assert any(piece.kind == "marked" for piece in found.passage)
    for table in found.tables:
        for local, row in zip(LOCAL, table.weights, strict=True):
            for across, weight in zip(GLOBAL, row, strict=True):
                told = Weighting(local_weight=local, global_weight=across, norm=table.norm)  # type: ignore[arg-type]
                assert weight == pytest.approx(weigh(view.matrix.counts, told)[document, at])
    absent = int(np.flatnonzero(dense[:, at] == 0)[0])
    assert cell.cell(view, WANTED, absent, view.matrix.terms[at]).weight == 0
    with pytest.raises(BadInputError, match="not a term"):
        cell.cell(view, WANTED, document, "nowhere")
    with pytest.raises(NotFoundError):
        cell.cell(view, WANTED, 10**6, view.matrix.terms[at])


@pytest.mark.parametrize(
    "told", [{}, {"field": "harbour", "value": "Quellan"}, {"period": "year", "at": "2014"}, {"document": 30}]
)
def test_top_terms_of_any_documents(view: View, dense: Dense, told: dict[str, Any]) -> None:
    rows = np.arange(len(dense))
    if "document" in told:
        rows = np.array([told["document"]])
    elif told:
        rows = np.sort(find_evidence(view, EvidenceRequest.model_validate(told)).documents)
    query = {**told, "limit": 10, "global_weight": "none"}
    found = top_terms.top_terms(view, WANTED, TopQuery.model_validate(query))
    sums, counts = dense[rows].sum(axis=0), view.matrix.counts.toarray()[rows].sum(axis=0)
    first = [each for each in found.terms if each.rank <= 10]
    assert found.documents == len(rows) and 0 < len(first) <= 10
    assert [each.weight for each in first] == pytest.approx(np.sort(sums)[::-1][: len(first)])
    for each in found.terms:
        at = view.matrix.columns[each.term]
        assert (each.weight, each.count) == (pytest.approx(sums[at]), counts[at])
        assert each.other_weight == pytest.approx(counts[at])
        assert (sums > sums[at]).sum() < each.rank <= (sums >= sums[at]).sum()
    highest = {each.term for each in found.terms if (each.other_rank or 99) <= 10}
    assert len(highest) == min(10, (counts > 0).sum())


def test_curves_say_what_they_show(view: View) -> None:
    found = top_terms.vocabulary_curves(view, WANTED)
    assert found.spectrum.points[0][0] == 1
    once = found.spectrum.points[0][1]
    assert found.spectrum.says.startswith(f"{once} of {count(found.words)} words occur once")
    assert found.growth.points[-1] == [found.tokens, found.words]
    assert sum(n * terms for n, terms in found.spectrum.points) == found.tokens


def test_a_text_of_the_corpus_weighs_as_its_document(view: View, dense: Dense) -> None:
    for document in (20, 111, 300):
        text = view.corpus.text(document)
        found = new_text.weigh_texts(view, TF_IDF, [text], ["again"])
        weights = {each.term: each.weight for each in found.texts[0].terms}
        expected = {view.matrix.terms[at]: dense[document, at] for at in view.matrix.counts[document].indices}
        assert weights == pytest.approx(expected)
        best = found.texts[0].nearest[0]
        assert best.cosine == pytest.approx(1) and best.document == document


def test_words_without_a_column_are_told_apart(view: View) -> None:
    text = "The ferry and the zeppelin sailed; the zeppelin turned."
    found = new_text.weigh_texts(view, TF_IDF, [text, ""], ["a", "b"])
    whys = {each.word: (each.why, each.n) for each in found.texts[0].unknown}
    assert whys["zeppelin"] == ("not in the corpus", 2) and whys["and"] == ("left out by Clean", 1)
    assert [each.display for each in found.texts[0].terms if each.display == "ferry"]
    assert found.texts[1].terms == [] and found.texts[1].nearest == []


def written(name: str, of: Asked) -> bytes:
    return b"".join(matrix_files.BY_NAME[name].write(of))


@pytest.mark.parametrize("scheme", ["counts", "1 + log tf, idf, L2"])
def test_files_read_back_as_the_matrix(split_view: View, scheme: str) -> None:
    view, weighting = split_view, SCHEMES[scheme]
    of = matrix_files.asked(view, made_weighed(view, weighting), "harbour")
    learnt = view.matrix.learn()
    expected = weigh(view.matrix.counts, weighting, learnt).toarray()
    market = mmread(io.BytesIO(written("matrix.mtx", of)))
    assert np.array_equal(market.toarray(), expected)
    table = pq.read_table(io.BytesIO(written("design.parquet", of)))
    lead = ["document", "name", "harbour", "part"]
    names = column_names(view.matrix.terms, lead)
    assert table.column_names == [*lead, *names]
    assert np.array_equal(np.column_stack([table[name] for name in names]), expected)
    assert np.array_equal(np.array(table["part"]) == "test", view.matrix.test)
    column = view.corpus.column("harbour")
    assert column is not None
    assert table["harbour"].to_pylist() == [column.value(at) for at in range(len(expected))]
    rows = list(csv.reader(io.StringIO(written("design.csv", of).decode())))
    assert rows[0] == table.column_names
    assert np.allclose([[float(each) for each in row[4:]] for row in rows[1:]], expected)
    sparse = [json.loads(line) for line in written("documents.jsonl", of).splitlines()]
    again = np.zeros_like(expected)
    for line in sparse:
        for number, value in line["terms"]:
            again[line["document"] - 1, number - 1] = value
    assert np.array_equal(again, expected)
    cells = pq.read_table(io.BytesIO(written("cells.parquet", of)))
    assert cells.num_rows == view.matrix.counts.nnz
    assert written("cells.csv", of).count(b"\r\n") == cells.num_rows + 1
    mapping = list(csv.DictReader(io.StringIO(written("columns.csv", of).decode())))
    assert [each["term"] for each in mapping] == view.matrix.terms
    dictionary = list(csv.DictReader(io.StringIO(written("dictionary.csv", of).decode())))
    assert [int(each["number"]) for each in dictionary] == list(range(1, len(names) + 1))
    totals = np.asarray(view.matrix.counts.sum(axis=0)).ravel()
    assert [int(each["count"]) for each in dictionary] == totals.tolist()


def test_sizes_are_stated_and_tables_too_large_refused(view: View, monkeypatch: pytest.MonkeyPatch) -> None:
    offered = matrices.files_offered(view, WANTED, None).files
    of = matrix_files.asked(view, made_weighed(view, TF_IDF), None)
    for each in offered:
        true = len(written(each.name, of))
        assert each.bytes is not None and not each.refused
        assert abs(each.bytes - true) <= (0.2 * true if each.estimated else 0)
    monkeypatch.setattr(matrix_files, "DENSE_CELLS", 1000)
    refused = matrix_files.usable(matrix_files.BY_NAME["design.csv"], of)
    assert "matrix.mtx" in refused and "1,000" in refused
    with pytest.raises(BadInputError, match="leave the zeros out"):
        written("design.parquet", of)
    assert not matrix_files.usable(matrix_files.BY_NAME["matrix.mtx"], of)
    with pytest.raises(BadInputError, match="no field"):
        matrix_files.asked(view, of.made, "nowhere")


def test_near_repeats_and_documents_that_belong_together_are_not_parted(split_view: View) -> None:
    near, test = split_view.survey.near, split_view.matrix.test
    assert test is not None and np.array_equal(test, test[near])
    asked = Wanted(weigh=PAIRS.model_copy(update={"split": Split(count=300, together="writer")}))
    shown = matrices.split_shown(split_view, asked)
    assert "writer" in shown.units and shown.test > 0 and shown.training > 0
    assert shown.pairs == sum(n * (n - 1) // 2 for n in Counter(near.tolist()).values()) > 0
    held = counting_of(split_view, asked).test
    codes = split_view.corpus.column("writer")
    assert held is not None and codes is not None
    assert all(len(set(held[codes.codes == at])) == 1 for at in range(len(codes.values)))
    lacking = asked.weigh.model_copy(update={"split": Split(share=0.2, together="ship")})
    with pytest.raises(BadInputError, match="to keep together by “ship”, a field that the documents lack"):
        counting_of(split_view, Wanted(weigh=lacking))


def test_what_is_held_out_has_no_say(split_view: View) -> None:
    matrix, whole = split_view.matrix, split_view.corpus
    test = np.asarray(matrix.test)
    assert test.sum() == round(0.2 * len(whole))
    known = matrix.counts[~test]
    df = (known > 0).sum(axis=0)
    assert (np.asarray(df) >= 3).all() and (np.asarray(df) <= 0.5 * (~test).sum()).all()
    learnt = matrix.learn()
    assert learnt.terms.n_docs == (~test).sum() and np.array_equal(learnt.terms.df, np.asarray(df).ravel())
    shown = matrices.split_shown(split_view, Wanted(weigh=steps.MATRIX.parse(split_view.matrix_record.making.settings)))
    assert (shown.training, shown.test) == ((~test).sum(), test.sum())
    for each in shown.by_value:
        assert abs(each.test - 0.2 * (each.test + each.training)) < 1


def test_a_fit_holds_the_same_documents_out(split_view: View) -> None:
    """Their words leave no trace in the topics, and they are placed among them all the same."""
    matrix, model, test = split_view.matrix, split_view.model, np.asarray(split_view.matrix.test)
    filled = np.asarray(matrix.counts.sum(axis=1)).ravel() > 0
    assert np.allclose(model.doc_topic[filled].sum(axis=1), 1)
    lengths = np.asarray(matrix.counts.sum(axis=1)).ravel()
    assert np.allclose(np.asarray(model.drawn.assigned().sum(axis=1)).ravel(), lengths)
    settings_used = LdaSettings(topics=4, iterations=60)
    other = matrix.counts.copy()
    changed = np.repeat(test, np.diff(other.indptr))
    other.data = np.where(changed, other.data * 3, other.data)
    gain = split_view.fit_summary.gain
    assert gain is not None
    a = LDA.fit(held_out.training_part(matrix.counts, test), settings_used)
    b = LDA.fit(held_out.training_part(other, test), settings_used)
    assert np.array_equal(a.topic_word, b.topic_word)
    known = np.sort(a.topic_word, axis=None)
    assert np.allclose(np.sort(model.topic_word, axis=None), known)
    found = LDA.foretold(a, matrix.counts[test], settings_used)
    assert found is not None and found.gain.documents == (test & (lengths >= 2)).sum()


def test_matrices_of_a_cleaning_side_by_side(view: View, split_view: View) -> None:
    class Row:
        created = "2026-01-01T00:00:00"

        def __init__(self, identity: str) -> None:
            self.identity = identity

    rows: Any = [Row(view.results["matrix"]), Row(split_view.results["matrix"])]
    here, there = matrices.matrices(view, rows)
    assert here.current and not here.differs and here.shared == here.summary.terms
    assert not there.current and set(there.differs) == {"longest", "split"}
    assert there.shared == len(set(view.matrix.terms) & set(split_view.matrix.terms))


def test_a_fit_says_which_documents_it_is_judged_by(split_view: View, view: View) -> None:
    held = int(np.sum(split_view.matrix.test))
    said = fit.detail(split_view, split_view.results["fit"], []).judged
    assert any(f"the {held} documents held out at Weigh" in each for each in said)
    said = fit.detail(view, view.results["fit"], []).judged
    assert not any("at Weigh" in each for each in said)
    few = int((~np.asarray(split_view.matrix.test)).sum()) + 1
    with pytest.raises(BadInputError, match="more than the"):
        fit.check(split_view, [LdaSettings(topics=few)])
