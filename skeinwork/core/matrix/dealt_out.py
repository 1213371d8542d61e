"""Words dealt out at random over documents of the same lengths: what is found in them is chance."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.matrix.matrix import Matrix

VERSION = 1


def dealt_out(counts: scipy.sparse.csr_matrix, seed: int = 1) -> scipy.sparse.csr_matrix:
    """The same tokens dealt out again over documents of the same lengths: what is left is chance.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    """
    sizes = np.asarray(counts.sum(axis=1, dtype=np.int64)).ravel()
    tokens = np.repeat(counts.indices, counts.data.astype(np.int64))
    np.random.default_rng(seed).shuffle(tokens)
    return _counted(np.repeat(np.arange(counts.shape[0]), sizes), tokens, counts)


def _counted(
    rows: NDArray[np.int64], tokens: NDArray[np.int32], like: scipy.sparse.csr_matrix
) -> scipy.sparse.csr_matrix:
    made = scipy.sparse.csr_matrix((np.ones(len(tokens), like.dtype), (rows, tokens)), like.shape)
    made.sum_duplicates()
    return made


def shuffled_twin(
    matrix: Matrix, stream: NDArray[np.int32], doc_ptr: NDArray[np.int64], seed: int = 1
) -> tuple[Matrix, NDArray[np.int32]]:
    """A matrix whose words were dealt out again, and the stream of tokens that says where they went.

    One-word terms change places among the tokens that are terms, and are counted there; longer ones are dealt out
    by themselves.

    Parameters
    ----------
    stream : int32[n_tokens], term of each token of all documents, -1 for any that is none
    doc_ptr : int64[n_docs + 1], where documents begin in it
    """
    held = stream >= 0
    dealt = np.array(stream)
    dealt[held] = np.random.default_rng([seed, 61]).permutation(stream[held])
    row = np.repeat(np.arange(len(doc_ptr) - 1), np.diff(doc_ptr))
    counts = _counted(row[held], dealt[held], matrix.counts)
    longer = matrix.lengths > 1
    if longer.any():
        phrases = scipy.sparse.csr_matrix(matrix.counts.multiply(longer), dtype=matrix.counts.dtype)
        phrases.eliminate_zeros()
        counts = scipy.sparse.csr_matrix(counts + dealt_out(phrases, seed))
    return replace(matrix, counts=counts), dealt
