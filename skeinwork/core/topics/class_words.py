"""Words of classes of documents, each class taken as one document; words that say the same thinned out.

K. Sparck Jones, *A statistical interpretation of term specificity and its application in retrieval*, Journal of
Documentation 28, 1972 (the fewer have a word, the more it says); J. Carbonell and J. Goldstein, *The use of MMR,
diversity-based reranking for reordering documents and producing summaries*, SIGIR 1998.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

# Words of a class that are thinned, by falling weight.
THINNED = 40
# That a word put back weighs of the one before it: enough to stand after it.
_LESS = 0.9999
# Documents by which it is told whether two words stand with the same others.
_MOST_DOCUMENTS = 20_000


def class_counts(counts: scipy.sparse.csr_matrix, of: NDArray[np.int64], classes: int) -> NDArray[np.float64]:
    """Tokens of each term in each class, float64[n_classes, n_terms].

    Parameters
    ----------
    counts : int[n_docs, n_terms]; of : int64[n_docs], the class of each document, -1 for none
    """
    there = np.flatnonzero(of >= 0)
    shape = (classes, counts.shape[0])
    table = scipy.sparse.csr_matrix((np.ones(len(there)), (of[there], there)), shape=shape)
    return np.asarray((table @ counts).todense(), dtype=np.float64)


def specificity(tokens: NDArray[np.float64]) -> NDArray[np.float64]:
    """ln of how many classes there are for each that has a term, float64[n_terms].

    Of classes that are large every one has every word once; so a class has it in the part to which it uses it as
    often, by its own tokens, as the class that uses it the most.

    Parameters
    ----------
    tokens : float64[n_classes, n_terms]

    >>> specificity(np.array([[4.0, 2.0], [0.0, 2.0]])).round(3).tolist()
    [0.405, 0.251]
    """
    share = tokens / np.maximum(tokens.sum(axis=1, keepdims=True), 1.0)
    most = share.max(axis=0)
    having = share.sum(axis=0) / np.where(most > 0, most, 1.0)
    # What the logarithm gives differs between machines in its last bits.
    return np.asarray(np.round(np.log((1.0 + len(tokens)) / (1.0 + np.maximum(having, 1.0))), 9))


def weighed(tokens: NDArray[np.float64], global_weight: NDArray[np.float64]) -> NDArray[np.float64]:
    """Weights of terms in each class, float64[n_classes, n_terms], rows of sum 1; all alike where nothing is."""
    found = tokens * global_weight
    empty = found.sum(axis=1) <= 0
    found[empty] = np.where(tokens[empty].sum(axis=1, keepdims=True) > 0, tokens[empty], 1.0)
    return np.asarray(found / found.sum(axis=1, keepdims=True))


def thinned(
    weights: NDArray[np.float64], counts: scipy.sparse.csr_matrix, strength: float, seed: int = 1
) -> NDArray[np.float64]:
    """The weights, each word's lowered to that of the one it comes after by maximal marginal relevance.

    Words are taken in turn by ``(1 - strength)`` times their weight, as a part of the greatest, less ``strength`` times
    how much more alike than usual they are to the most alike that was taken: by the cosine of which of the
    classes' words they stand with in documents.

    Parameters
    ----------
    weights : float64[n_classes, n_terms], rows of sum 1
    counts : int[n_docs, n_terms]
    strength : from 0, which leaves all as they are, to 1
    seed : of the documents that are looked at where there are many
    """
    if strength <= 0:
        return weights
    top = np.argsort(-weights, axis=1, kind="stable")[:, :THINNED]
    terms, place = np.unique(top, return_inverse=True)
    company = _company(counts, terms, seed)
    found = weights.copy()
    for row, (words, at) in enumerate(zip(top, place.reshape(top.shape), strict=True)):
        own = weights[row, words]
        alike = np.round(company[at] @ company[at].T, 6)
        # Words of one class keep the same company more or less: more than usual is what tells.
        usual = float(np.median(alike))
        more = np.maximum((alike - usual) / max(1.0 - usual, 1e-6), 0.0)
        order = _in_turn(own / max(own[0], 1e-300), more, strength)
        # A word weighs a little less at least than the one it comes after.
        steps = _LESS ** np.arange(len(order))
        found[row, words[order]] = np.minimum.accumulate(own[order] / steps) * steps
    return np.asarray(found / found.sum(axis=1, keepdims=True))


def _company(counts: scipy.sparse.csr_matrix, terms: NDArray[np.int64], seed: int) -> NDArray[np.float64]:
    """Which other terms some terms stand with in documents, more than by chance, as rows of length 1."""
    some = counts
    if counts.shape[0] > _MOST_DOCUMENTS:
        drawn = np.random.default_rng(seed).choice(counts.shape[0], _MOST_DOCUMENTS, replace=False)
        some = counts[np.sort(drawn)]
    there = scipy.sparse.csr_matrix((np.ones(some.nnz), some.indices, some.indptr), shape=some.shape)
    held = np.asarray(there.sum(axis=0)).ravel()
    together = np.asarray((there[:, terms].T @ there[:, terms]).todense())
    expected = np.outer(held[terms], held[terms]) / max(there.shape[0], 1)
    np.fill_diagonal(together, 0.0)
    more = np.maximum(np.round(np.log(np.maximum(together, 1e-9) / np.maximum(expected, 1e-9)), 9), 0.0)
    np.fill_diagonal(more, more.max(axis=1, initial=0.0))
    length = np.sqrt((more**2).sum(axis=1, keepdims=True))
    return np.asarray(more / np.where(length > 0, length, 1.0))


@njit(cache=True, nogil=True)
def _in_turn(relevance: Any, alike: Any, strength: float) -> Any:
    """The order by maximal marginal relevance, int64[n_words]."""
    n = len(relevance)
    order, taken, nearest = np.empty(n, np.int64), np.zeros(n, np.bool_), np.zeros(n)
    for step in range(n):
        best, chosen = -np.inf, -1
        for at in range(n):
            value = (1.0 - strength) * relevance[at] - strength * nearest[at]
            if not taken[at] and value > best:
                best, chosen = value, at
        order[step], taken[chosen] = chosen, True
        for at in range(n):
            nearest[at] = max(nearest[at], alike[chosen, at])
    return order
