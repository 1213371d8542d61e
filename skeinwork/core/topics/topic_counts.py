"""Counts of topics from the topic of every token: by word, and by document as far as there are any."""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray


@njit(cache=True, nogil=True)
def word_topic_counts(words: Any, z: Any, n_terms: int, n_topics: int) -> Any:
    """Tokens of each topic by word, and in all.

    Parameters
    ----------
    words, z : int32[n_tokens], term and topic of each token

    Returns
    -------
    int32[n_terms, n_topics], int64[n_topics]
    """
    counts, total = np.zeros((n_terms, n_topics), dtype=np.int32), np.zeros(n_topics, dtype=np.int64)
    for at in range(len(words)):
        counts[words[at], z[at]] += 1
        total[z[at]] += 1
    return counts, total


@njit(cache=True, nogil=True)
def _count_documents(doc_ptr: Any, z: Any, n_topics: int, indptr: Any, indices: Any, data: Any) -> int:
    """Fill the arrays of a sparse matrix; how many counts there are."""
    count, held = np.zeros(n_topics, dtype=np.int32), 0
    for doc in range(len(doc_ptr) - 1):
        begin = held
        for at in range(doc_ptr[doc], doc_ptr[doc + 1]):
            if count[z[at]] == 0:
                indices[held] = z[at]
                held += 1
            count[z[at]] += 1
        indices[begin:held].sort()
        for at in range(begin, held):
            data[at] = count[indices[at]]
            count[indices[at]] = 0
        indptr[doc + 1] = held
    return held


def doc_topic_counts(doc_ptr: NDArray[np.int64], z: NDArray[np.int32], n_topics: int) -> scipy.sparse.csr_matrix:
    """Tokens of each topic by document, int32[n_docs, n_topics], no more than there are tokens.

    Parameters
    ----------
    doc_ptr : int64[n_docs + 1]; z : int32[n_tokens]
    """
    indptr = np.zeros(len(doc_ptr), dtype=np.int64)
    indices, data = np.empty(len(z), dtype=np.int32), np.empty(len(z), dtype=np.int32)
    held = _count_documents(doc_ptr, z, n_topics, indptr, indices, data)
    return scipy.sparse.csr_matrix((data[:held], indices[:held], indptr), shape=(len(doc_ptr) - 1, n_topics))
