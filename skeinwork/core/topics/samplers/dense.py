"""The dense collapsed Gibbs sampler: all topics of a token are weighed in one vectorised pass.

T. Griffiths and M. Steyvers, *Finding scientific topics*, PNAS 101, 2004. It suits small and middling
corpora and topic counts.
"""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
from numba import njit

from skeinwork.core.topics.samplers.base import Sampler, State
from skeinwork.core.topics.uniform import uniform

# Seconds that a token takes in one iteration, and more of them for each topic, on some machine.
_A_TOKEN, _A_TOPIC = 4.2e-8, 2.7e-9


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


class Dense(Sampler):
    """Exact, in time that grows with the topics."""

    title: ClassVar[str] = "dense collapsed Gibbs (exact)"

    def seconds(self, topics: int) -> float:
        return _A_TOKEN + _A_TOPIC * topics

    def sweep(self, state: State) -> int:
        return int(
            sweep(
                state.words,
                state.doc_ptr,
                state.z,
                state.word_topic,
                state.topic_total,
                state.alpha,
                state.beta,
                state.stream,
            )
        )


DENSE = Dense()
