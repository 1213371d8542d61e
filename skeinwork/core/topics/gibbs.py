"""Collapsed Gibbs sampling of a topic for every token, and Minka's fixed points for its priors.

T. Griffiths and M. Steyvers, *Finding scientific topics*, PNAS 101, 2004; T. Minka, *Estimating a
Dirichlet distribution*, 2000. The sampler is dense: all topics of a token are weighed in one
vectorised pass, which suits small and middling corpora and topic counts.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.topics.uniform import uniform


@njit(cache=True, nogil=True)
def sweep(
    words: Any, doc_ptr: Any, z: Any, word_topic: Any, topic_total: Any, alpha: Any, beta: float, state: Any
) -> int:
    """Resample the topic of every token once, in place; returns how many changed.

    Parameters
    ----------
    words : int32[n_tokens]; doc_ptr : int64[n_docs + 1]; z : int32[n_tokens]
    word_topic : int32[n_terms, n_topics]; topic_total : int64[n_topics]
    state : uint64[1], the random stream
    """
    n_topics = len(alpha)
    v_beta = beta * word_topic.shape[0]
    in_doc = np.zeros(n_topics, dtype=np.float64)
    inverse = np.empty(n_topics, dtype=np.float64)
    weight = np.empty(n_topics, dtype=np.float64)
    for k in range(n_topics):
        inverse[k] = 1.0 / (topic_total[k] + v_beta)
    moved = 0
    for doc in range(len(doc_ptr) - 1):
        first, last = doc_ptr[doc], doc_ptr[doc + 1]
        in_doc[:] = alpha
        for at in range(first, last):
            in_doc[z[at]] += 1.0
        for at in range(first, last):
            row, old = word_topic[words[at]], z[at]
            row[old] -= 1
            in_doc[old] -= 1.0
            topic_total[old] -= 1
            inverse[old] = 1.0 / (topic_total[old] + v_beta)
            for k in range(n_topics):
                weight[k] = in_doc[k] * (row[k] + beta) * inverse[k]
            total = 0.0
            for k in range(n_topics):
                total += weight[k]
                weight[k] = total
            target = uniform(state) * total
            new = 0
            while new < n_topics - 1 and weight[new] <= target:
                new += 1
            moved += new != old
            row[new] += 1
            in_doc[new] += 1.0
            topic_total[new] += 1
            inverse[new] = 1.0 / (topic_total[new] + v_beta)
            z[at] = new
    return moved


@njit(cache=True, nogil=True)
def count_topics(words: Any, doc_ptr: Any, z: Any, n_terms: int, n_topics: int) -> Any:
    """Counts from the tokens' topics.

    Parameters
    ----------
    words, z : int32[n_tokens], term and topic of each token; doc_ptr : int64[n_docs + 1]

    Returns
    -------
    int32[n_terms, n_topics], int32[n_docs, n_topics], int64[n_topics]
    """
    word_topic = np.zeros((n_terms, n_topics), dtype=np.int32)
    doc_topic = np.zeros((len(doc_ptr) - 1, n_topics), dtype=np.int32)
    total = np.zeros(n_topics, dtype=np.int64)
    for doc in range(len(doc_ptr) - 1):
        for at in range(doc_ptr[doc], doc_ptr[doc + 1]):
            word_topic[words[at], z[at]] += 1
            doc_topic[doc, z[at]] += 1
            total[z[at]] += 1
    return word_topic, doc_topic, total


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


def optimise_alpha(doc_counts: NDArray[np.int32], alpha: NDArray[np.float64]) -> NDArray[np.float64]:
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
    length, documents = _times(doc_counts.sum(axis=1, dtype=np.int64))
    row, topic = np.nonzero(doc_counts)
    # Equal counts of a topic say the same; counts of zero say nothing.
    both, times = _times(doc_counts[row, topic].astype(np.int64) * n_topics + topic)
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
