"""Contexts of words: which words stand near which, and how much more often than chance would have it.

O. Levy and Y. Goldberg, *Neural word embedding as implicit matrix factorization*, NIPS 2014 (shifted positive
pointwise mutual information); O. Levy, Y. Goldberg and I. Dagan, *Improving distributional similarity with lessons
learned from word embeddings*, TACL 3, 2015 (contexts smoothed).
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

VERSION = 1


def context_counts(
    ids: NDArray[np.int32], doc_ptr: NDArray[np.int64], n_terms: int, window: int
) -> scipy.sparse.csr_matrix:
    """How often each term stands within so many words of each other, in one document.

    Parameters
    ----------
    ids : int32[n_tokens], terms; -1 for a word that is none, which keeps its place
    doc_ptr : int64[n_docs + 1]
    window : words to either side

    Returns
    -------
    int64[n_terms, n_terms], symmetric; a term near itself counts from both sides

    Examples
    --------
    >>> counts = context_counts(np.array([0, 1, 0], np.int32), np.array([0, 3]), 2, 1)
    >>> counts.toarray().tolist()
    [[0, 2], [2, 0]]
    """
    places = np.argsort(ids, kind="stable")
    places = places[np.searchsorted(ids[places], 0) :]
    begins = np.concatenate([[0], np.cumsum(np.bincount(ids[places], minlength=n_terms))]).astype(np.int64)
    document = np.repeat(np.arange(len(doc_ptr) - 1), np.diff(doc_ptr))
    low, high = doc_ptr[document[places]], doc_ptr[document[places] + 1]
    low, high = np.maximum(places - window, low), np.minimum(places + window + 1, high)
    pointer = np.zeros(n_terms + 1, np.int64)
    _rows_of_contexts(ids, places, begins, low, high, pointer, np.zeros(0, np.int32), np.zeros(0, np.int64))
    pointer = np.cumsum(pointer)
    columns, counts = np.empty(int(pointer[-1]), np.int32), np.empty(int(pointer[-1]), np.int64)
    _rows_of_contexts(ids, places, begins, low, high, pointer.copy(), columns, counts)
    return scipy.sparse.csr_matrix((counts, columns, pointer), shape=(n_terms, n_terms))


def shifted_pmi(counts: scipy.sparse.csr_matrix, shift: float = 1.0, smoothing: float = 0.75) -> Any:
    """Shifted positive pointwise mutual information of words and their contexts.

    max(0, ln(n(w, c) / n(w)) − ln(n(c)^α / Σ n(c)^α) − ln k)

    Parameters
    ----------
    counts : [n_terms, n_terms], of ``context_counts``
    shift : k; above 1 only what is k times as frequent as chance would have it is left
    smoothing : α; below 1 rare contexts weigh less

    Returns
    -------
    csr float64[n_terms, n_terms], without what is 0
    """
    own = np.asarray(counts.sum(axis=1), dtype=np.float64).ravel()
    chance = own**smoothing / max(float((own**smoothing).sum()), 1e-300)
    row = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
    found = np.log(counts.data / own[row]) - np.log(chance[counts.indices]) - np.log(shift)
    # The last bits of a logarithm differ between machines.
    found = np.round(found, 9)
    left = found > 0
    pointer = np.concatenate([[0], np.cumsum(left)])[counts.indptr]
    return scipy.sparse.csr_matrix((found[left], counts.indices[left], pointer), shape=counts.shape)


@njit(cache=True, nogil=True)
def _rows_of_contexts(
    ids: Any, places: Any, begins: Any, low: Any, high: Any, pointer: Any, columns: Any, counts: Any
) -> None:
    """Count contexts term by term: how many different ones into ``pointer``, or, given room, which and how often."""
    n_terms = len(begins) - 1
    fill = len(columns) > 0
    near = np.zeros(n_terms, np.int64)
    seen = np.empty(n_terms, np.int32)
    for term in range(n_terms):
        different = 0
        for at in range(begins[term], begins[term + 1]):
            for place in range(low[at], high[at]):
                other = ids[place]
                if other >= 0 and place != places[at]:
                    if near[other] == 0:
                        seen[different] = other
                        different += 1
                    near[other] += 1
        if fill:
            ordered = np.sort(seen[:different])
            first = pointer[term]
            for at in range(different):
                columns[first + at] = ordered[at]
                counts[first + at] = near[ordered[at]]
        else:
            pointer[term + 1] = different
        for at in range(different):
            near[seen[at]] = 0
