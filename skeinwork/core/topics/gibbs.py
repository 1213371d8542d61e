"""Collapsed Gibbs sampling of a topic for every token, and Minka's fixed points for its priors.

T. Griffiths and M. Steyvers, *Finding scientific topics*, PNAS 101, 2004; T. Minka, *Estimating a
Dirichlet distribution*, 2000. The sampler is dense: all topics of a token are weighed in one
vectorised pass, which suits small and middling corpora and topic counts.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.topics.uniform import uniform


@njit(cache=True, nogil=True)
def sweep(
    words: Any, doc_ptr: Any, z: Any, word_topic: Any, topic_total: Any, alpha: Any, beta: float,
    state: Any,
) -> int:  # fmt: skip
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


def optimise_alpha(
    doc_counts: NDArray[np.int32], alpha: NDArray[np.float64], rounds: int = 5
) -> NDArray[np.float64]:
    """Minka's fixed point for an asymmetric Dirichlet prior over topics.

    alpha_k <- alpha_k * sum_d [psi(n_dk + alpha_k) - psi(alpha_k)] /
    sum_d [psi(n_d + sum alpha) - psi(sum alpha)]

    Parameters
    ----------
    doc_counts : int32[n_docs, n_topics]; documents without tokens say nothing
    alpha : float64[n_topics], to begin with

    Returns
    -------
    float64[n_topics], kept within [1e-4, 50]
    """
    lengths = doc_counts.sum(axis=1)
    doc_counts, lengths = doc_counts[lengths > 0], lengths[lengths > 0]
    psi = scipy.special.psi
    for _ in range(rounds):
        above = psi(doc_counts + alpha).sum(axis=0) - len(lengths) * psi(alpha)
        below = psi(lengths + alpha.sum()).sum() - len(lengths) * psi(alpha.sum())
        alpha = np.clip(alpha * above / max(below, 1e-12), 1e-4, 50.0)
    return alpha


def optimise_beta(
    word_topic: NDArray[np.int32], topic_total: NDArray[np.int64], beta: float, rounds: int = 3
) -> float:
    """Minka's fixed point for the symmetric prior over words.

    Parameters
    ----------
    word_topic : int32[n_terms, n_topics]; topic_total : int64[n_topics]
    beta : to begin with

    Returns
    -------
    The prior, kept within [1e-4, 10]
    """
    n_terms, n_topics = word_topic.shape
    psi = scipy.special.psi
    for _ in range(rounds):
        above = psi(word_topic + beta).sum() - n_terms * n_topics * psi(beta)
        below = psi(topic_total + n_terms * beta).sum() - n_topics * psi(n_terms * beta)
        beta = float(np.clip(beta * above / max(n_terms * below, 1e-12), 1e-4, 10.0))
    return beta
