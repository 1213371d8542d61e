"""Where a chain of samples begins: documents gathered round seeds that lie far apart.

A uniformly random start often leaves two themes in one topic for good. Seeds drawn as in k-means++
(D. Arthur and S. Vassilvitskii, *k-means++: the advantages of careful seeding*, SODA 2007) on the
cosine of tf-idf rows are still random and independent between seeds, but cover the corpus.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.matrix.weighting import SCHEMES, weigh

# Documents from which beginnings are drawn at most.
_MOST_CANDIDATES = 20_000
# Rounds of gathering documents around the beginnings.
_ROUNDS = 3


def unit_rows(counts: scipy.sparse.csr_matrix) -> scipy.sparse.csr_matrix:
    """tf-idf rows of Euclidean length 1, float64[n_docs, n_terms]; zero rows stay zero.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    """
    weighted = weigh(counts, SCHEMES["tf-idf"])
    rows = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
    norms = np.sqrt(np.bincount(rows, weighted.data**2, counts.shape[0]))
    weighted.data /= np.maximum(norms, 1e-12)[rows]
    return weighted


def spread_seeds(rows: scipy.sparse.csr_matrix, count: int, rng: np.random.Generator) -> NDArray[np.int64]:
    """Rows that lie far apart, each drawn with a chance that grows with its distance from the others.

    Parameters
    ----------
    rows : float64[n_docs, n_terms] of length 1; count : how many
    rng : the only source of chance

    Returns
    -------
    int64[count], numbers of rows; rows without words are drawn only where there are no others
    """
    n = rows.shape[0]
    pool = rng.choice(n, size=min(n, _MOST_CANDIDATES), replace=False)
    candidates = rows[pool]
    filled = np.diff(candidates.indptr) > 0
    distance = filled.astype(np.float64)
    chosen: list[int] = []
    for _ in range(count):
        total = distance.sum()
        chance = distance / total if total > 0 else np.full(len(pool), 1 / len(pool))
        pick = int(rng.choice(len(pool), p=chance))
        chosen.append(int(pool[pick]))
        near = np.asarray((candidates @ candidates[pick].T).todense()).ravel()
        distance = np.minimum(distance, np.maximum(1.0 - near, 0.0) ** 2 * filled)
    return np.array(chosen, dtype=np.int64)


def gathered_documents(
    counts: scipy.sparse.csr_matrix, topics: int, rng: np.random.Generator, given: scipy.sparse.csr_matrix | None = None
) -> NDArray[np.int64]:
    """A group for every document, after a few rounds of spherical k-means from seeds far apart.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; topics : how many groups
    given : int[n_given, n_terms], what the first groups begin with in place of documents

    Returns
    -------
    int64[n_docs], in [0, topics)
    """
    rows = unit_rows(counts)
    centres = rows[spread_seeds(rows, topics, rng)]
    if given is not None and given.shape[0]:
        beside = unit_rows(scipy.sparse.vstack([counts, given], format="csr"))
        centres = scipy.sparse.vstack([beside[counts.shape[0] :], centres[given.shape[0] :]], format="csr")
    nearest = np.zeros(rows.shape[0], dtype=np.int64)
    for _ in range(_ROUNDS):
        scores = rows @ centres.T
        dense = np.asarray(scores.todense())
        nearest = dense.argmax(axis=1)
        members = scipy.sparse.csr_matrix(
            (np.ones(len(nearest)), (nearest, np.arange(len(nearest)))), shape=(topics, len(nearest))
        )
        centres = scipy.sparse.csr_matrix(members @ rows)
        norms = np.sqrt(np.asarray(centres.multiply(centres).sum(axis=1)).ravel())
        centres.data /= np.repeat(np.maximum(norms, 1e-12), np.diff(centres.indptr))
    return nearest
