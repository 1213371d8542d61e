"""Priors of LDA at their fixed points.

T. Minka, *Estimating a Dirichlet distribution*, 2000.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np
import scipy
from numpy.typing import NDArray

# Rounds of a fixed point at most, and the relative change at which it stands.
_MOST_ROUNDS, _STANDS = 200, 1e-4
Prior = TypeVar("Prior", float, NDArray[np.float64])


def _fixed_point(better: Callable[[Prior], Prior], prior: Prior) -> Prior:
    """Where a prior comes to that is made better until it stands."""
    for _ in range(_MOST_ROUNDS):
        before, prior = prior, better(prior)
        if np.all(np.abs(prior - before) <= _STANDS * before):
            break
    return prior


def _times(values: NDArray[Any]) -> tuple[NDArray[Any], NDArray[np.float64]]:
    """The distinct values, and how often each is there."""
    found, times = np.unique(values, return_counts=True)
    return found, times.astype(np.float64)


def optimise_alpha(doc_counts: scipy.sparse.csr_matrix, alpha: NDArray[np.float64]) -> NDArray[np.float64]:
    """Minka's fixed point for an asymmetric Dirichlet prior over topics.

    alpha_k <- alpha_k * sum_d [psi(n_dk + alpha_k) - psi(alpha_k)] /
    sum_d [psi(n_d + sum alpha) - psi(sum alpha)], until it stands

    Parameters
    ----------
    doc_counts : int32[n_docs, n_topics]; documents without tokens say nothing
    alpha : float64[n_topics], to begin with

    Returns
    -------
    float64[n_topics], kept within [1e-4, 50]
    """
    psi, n_topics = scipy.special.psi, len(alpha)
    length, documents = _times(np.asarray(doc_counts.sum(axis=1, dtype=np.int64)).ravel())
    # Equal counts of a topic say the same; counts of zero say nothing.
    both, times = _times(doc_counts.data.astype(np.int64) * n_topics + doc_counts.indices)
    count, topic = both // n_topics, both % n_topics

    def better(alpha: NDArray[np.float64]) -> NDArray[np.float64]:
        each, whole = alpha[topic], alpha.sum()
        above = np.bincount(topic, times * (psi(count + each) - psi(each)), n_topics)
        below = documents @ (psi(length + whole) - psi(whole))
        return np.clip(alpha * above / max(below, 1e-12), 1e-4, 50.0)

    return _fixed_point(better, alpha)


def optimise_beta(word_topic: NDArray[np.int32], topic_total: NDArray[np.int64], beta: float) -> float:
    """Minka's fixed point for the symmetric prior over words.

    Parameters
    ----------
    word_topic : int32[n_terms, n_topics]; topic_total : int64[n_topics]
    beta : to begin with

    Returns
    -------
    The prior, kept within [1e-4, 10]
    """
    psi, n_terms = scipy.special.psi, len(word_topic)
    count, times = _times(word_topic[word_topic > 0])

    def better(beta: float) -> float:
        whole = n_terms * beta
        above = times @ (psi(count + beta) - psi(beta))
        below = n_terms * (psi(topic_total + whole) - psi(whole)).sum()
        return float(np.clip(beta * above / max(below, 1e-12), 1e-4, 10.0))

    return _fixed_point(better, beta)
