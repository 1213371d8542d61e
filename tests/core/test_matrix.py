"""Counting, pruning and weighting against brute force and SciPy."""

from __future__ import annotations

import math
from collections import Counter
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError
from scipy.io import mmread
from scipy.sparse import coo_matrix, csr_matrix

from skeinwork.core.formats.export import safe_cell, to_csv, to_matrix_market
from skeinwork.core.matrix import counting
from skeinwork.core.matrix.counting import count
from skeinwork.core.matrix.matrix import Matrix, prune, words_of
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.pruning import standing
from skeinwork.core.matrix.weighting import SCHEMES
from skeinwork.core.matrix.weighting import weigh as weighted
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.tokenise import tokenise
from tests.conftest import Prepared

documents = st.lists(st.lists(st.integers(-1, 6), max_size=12), min_size=1, max_size=8)


@settings(max_examples=200, deadline=None)
@given(documents)
def test_csr_from_ids_is_what_scipy_makes_of_coordinates(docs: list[list[int]]) -> None:
    ids = np.array([i for doc in docs for i in doc], dtype=np.int32)
    doc_ptr = np.concatenate([[0], np.cumsum([len(doc) for doc in docs])]).astype(np.int64)
    ours = counting.to_csr(ids, doc_ptr, 7)
    rows = np.repeat(np.arange(len(docs)), np.diff(doc_ptr))
    kept = ids >= 0
    theirs = coo_matrix((np.ones(kept.sum()), (rows[kept], ids[kept])), shape=(len(docs), 7)).tocsr()
    assert (ours != theirs).nnz == 0
    assert ours.has_sorted_indices


WORDS = ["gale", "mooring", "the", "ferry", "quay", "."]


@settings(max_examples=100, deadline=None)
@given(
    st.lists(st.lists(st.sampled_from(WORDS), max_size=10), min_size=1, max_size=6), st.integers(1, 3), st.booleans()
)
def test_ngrams_bridge_a_removed_word_only_when_asked(docs: list[list[str]], longest: int, bridge: bool) -> None:
    texts = [" ".join(doc) for doc in docs]
    chosen = CleanSettings.model_validate({"passes": [{"kind": "stop-words"}, {"kind": "punctuation"}]})
    tokens = tokenise(texts, chosen.tokenising())
    counted = count(clean(tokens, chosen), longest, bridge)
    place = {term: at for at, term in enumerate(counted.terms)}
    dense = np.asarray(counted.counts.todense())
    for number, doc in enumerate(docs):
        doc = [word for word in doc if word != "the"] if bridge else doc
        expected: Counter[str] = Counter()
        for size in range(1, longest + 1):
            for at in range(len(doc) - size + 1):
                part = doc[at : at + size]
                if not {"the", "."} & set(part):
                    expected[" ".join(part)] += 1
        found = {term: int(dense[number, at]) for term, at in place.items() if dense[number, at]}
        assert found == dict(expected)


def test_pruning_keeps_what_the_settings_say(demo: Prepared) -> None:
    chosen = MatrixSettings(min_documents=30, max_share=0.2, keep_top=200)
    matrix = prune(demo.counted, chosen)
    presence = Counter(t for row in np.asarray(demo.counted.counts.todense()) for t in np.flatnonzero(row))
    allowed = {demo.counted.terms[t] for t, n in presence.items() if 30 <= n <= 0.2 * len(demo.texts)}
    assert len(allowed) > 200
    assert set(matrix.terms) <= allowed
    totals = np.asarray(matrix.counts.sum(axis=0)).ravel()
    assert all(a >= b for a, b in pairwise(totals))
    left_out = allowed - set(matrix.terms)
    by_term = dict(zip(demo.counted.terms, standing(demo.counted).total, strict=True))
    assert max(by_term[t] for t in left_out) <= totals[-1]


def test_empty_documents_are_zero_rows_and_counted(demo: Prepared) -> None:
    lengths = [len(text) for text in demo.texts]
    assert set(np.flatnonzero(np.array(lengths) == 0)) <= set(demo.matrix.empty_documents)
    assert demo.matrix.counts.shape[0] == len(demo.texts)
    assert demo.matrix.sparsity == pytest.approx(
        1 - demo.matrix.counts.nnz / (len(demo.texts) * len(demo.matrix.terms))
    )


@pytest.mark.parametrize("texts", [[""], ["the of"], ["gale"], ["", "the", "gale gale"]])
def test_odd_corpora_have_defined_results(texts: list[str]) -> None:
    made = Prepared(texts, {"min_documents": 1, "max_share": 1.0})
    assert 0.0 <= made.matrix.sparsity <= 1.0
    assert np.isfinite(weighted(made.matrix.counts, SCHEMES["tf-idf"]).data).all()
    assert made.matrix.counts.shape == (len(texts), len(made.matrix.terms))


def test_tf_idf_by_hand() -> None:
    counts = csr_matrix(np.array([[2, 0, 1], [1, 3, 0], [1, 0, 0]]))
    expected = np.array([[2 * math.log(3 / 3), 0, math.log(3)], [0, 3 * math.log(3), 0], [0, 0, 0]])
    assert np.allclose(weighted(counts, SCHEMES["tf-idf"]).todense(), expected)
    assert (weighted(counts, SCHEMES["counts"]) != counts).nnz == 0


def test_settings_out_of_range_are_refused() -> None:
    for wrong in ({"longest": 5}, {"min_documents": 0}, {"max_share": 0}, {"max_share": 1.1}, {"keep_top": 0}):
        with pytest.raises(ValidationError):
            MatrixSettings.model_validate(wrong)


def test_matrix_market_reads_back(demo: Prepared, tmp_path: object) -> None:
    from io import BytesIO

    data = to_matrix_market(demo.matrix.counts, "a note")
    assert (mmread(BytesIO(data)).tocsr() != demo.matrix.counts).nnz == 0


@pytest.mark.parametrize(
    ("value", "cell"),
    [
        ("=1+1", "'=1+1"),
        ("+a", "'+a"),
        ("-a", "'-a"),
        ("@a", "'@a"),
        ("\tx", "'\tx"),
        ("a=b", "a=b"),
        (-3, "-3"),
        (-0.25, "-0.25"),
        (None, ""),
        (float("nan"), ""),
    ],
)
def test_cells_that_a_spreadsheet_would_run_are_defused(value: object, cell: str) -> None:
    assert safe_cell(value) == cell


def test_csv_quotes_what_needs_it() -> None:
    assert to_csv(["a"], [['x,"y"\nz']]) == b'a\r\n"x,""y""\nz"\r\n'


def test_at_most_a_share_of_the_documents_keeps_exactly_that() -> None:
    """0.29 of 100 documents is a hair under 29 for a computer."""
    texts = ["gale ferry" if at < 29 else "gale quay" if at < 59 else "gale" for at in range(100)]
    chosen = CleanSettings.model_validate({"passes": []})
    counted = count(clean(tokenise(texts, chosen.tokenising()), chosen), 1)
    assert prune(counted, MatrixSettings(max_share=0.29)).terms == ["ferry"]
    assert prune(counted, MatrixSettings(max_share=0.3)).terms == ["quay", "ferry"]


def test_words_of_documents_do_not_count_their_pairs_again(demo: Prepared) -> None:
    single = prune(demo.counted, MatrixSettings())
    both = prune(count(demo.cleaning, 2), MatrixSettings())
    assert len(both.terms) > len(single.terms)
    assert np.array_equal(words_of(both), words_of(single))
    pairs = both.lengths == 2
    only = Matrix(both.counts[:, pairs], ["x"], ["x"], both.lengths[pairs])
    assert words_of(only).sum() == both.counts[:, pairs].sum()
