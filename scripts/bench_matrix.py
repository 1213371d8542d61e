"""The matrix in ``make bench``: counting, trying limits, a page of the grid."""

from __future__ import annotations

import numpy as np
from bench_base import Line, interleaved, texts
from scipy.sparse import coo_matrix

from skeinwork.core.matrix import counting, pruning
from skeinwork.core.matrix.matrix_settings import MatrixSettings
from skeinwork.core.matrix.weighting import SCHEMES, weigh
from skeinwork.core.text.clean import CleanSettings, clean
from skeinwork.core.text.tokenise import tokenise
from skeinwork.work.screens.grid import block


def matrix(count: int) -> list[Line]:
    """CSR from ids against SciPy's conversion from coordinates; trigrams against unigrams."""
    settings = CleanSettings.model_validate({})
    tokens = tokenise(texts(count), settings.tokenising())
    made = clean(tokens, settings)
    ids = made.form_of[tokens.ids]
    n_terms, n_docs = len(made.forms), len(tokens.doc_ptr) - 1

    def reference() -> None:
        kept = ids >= 0
        rows = np.repeat(np.arange(n_docs), np.diff(tokens.doc_ptr))[kept]
        coo_matrix((np.ones(len(rows), np.int32), (rows, ids[kept])), shape=(n_docs, n_terms)).tocsr()

    ours, theirs = interleaved(lambda: counting.to_csr(ids, tokens.doc_ptr, n_terms), reference, 5)
    lines = [Line("matrix from ids", f"{len(ids)} tokens", ours, theirs, theirs / ours, "at least 1")]
    triples, single = interleaved(lambda: counting.count(made, 3), lambda: counting.count(made, 1), 3)
    lines.append(Line("1-3-grams / unigrams", f"{len(ids)} tokens", triples, single, triples / single, "at most 6"))
    return lines


def pruning_by_sight(rows: int, terms: int, each: int = 50) -> list[Line]:
    """A limit that is tried, and a page of the grid, against slices of SciPy's."""
    rng = np.random.default_rng(1)
    ids = np.minimum((terms * rng.random(rows * each) ** 3).astype(np.int32), terms - 1)
    counts = counting.to_csr(ids, np.arange(rows + 1, dtype=np.int64) * each, terms)
    names = [f"t{at}" for at in range(terms)]
    counted = counting.Counted(counts, names, names, [], np.arange(terms))
    known, limits = pruning.standing(counted), MatrixSettings(min_documents=7)

    def tried() -> None:
        *_, last = pruning.limits(counted, known, limits)
        pruning.figures(counted, last.kept)

    kept = pruning.kept_terms(counted, limits, known)
    size, weights = f"{rows} x {terms}", weigh(counts, SCHEMES["tf-idf"])
    corner, across = np.arange(rows // 2, rows // 2 + 40), rng.permutation(terms)[:20]
    by_handle = interleaved(tried, lambda: counts[:, kept].sum(axis=1), 5)
    by_page = interleaved(lambda: block(weights, corner, across), lambda: weights[corner][:, across].toarray(), 5)
    return [
        Line("a limit tried", size, *by_handle, by_handle[1] / by_handle[0], "ours at most 0.1 s"),
        Line("a page of the grid", size, *by_page, by_page[1] / by_page[0], "ours at most 0.05 s"),
    ]
