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


class Dense(Sampler):
    """Exact, in time that grows with the topics."""

    name: ClassVar[str] = "dense"
    title: ClassVar[str] = "dense collapsed Gibbs (exact)"
    VERSION: ClassVar[int] = 1
    keeps_words: ClassVar[bool] = True

    def __init__(self, state: State) -> None:
        self.state = state

    @classmethod
    def seconds(cls, topics: int) -> float:
        return _A_TOKEN + _A_TOPIC * topics

    def sweep(self) -> int:
        of = self.state
        return int(sweep(of.words, of.doc_ptr, of.z, of.word_topic, of.topic_total, of.alpha, of.beta, of.stream))
