"""Topic coherence from word co-occurrence in sliding windows of the same corpus.

NPMI: G. Bouma, *Normalized (pointwise) mutual information in collocation extraction*, 2009, over
windows of ten tokens as in M. Röder, A. Both and A. Hinneburg, *Exploring the space of topic
coherence measures*, WSDM 2015. UMass: D. Mimno and others, *Optimizing semantic coherence in topic
models*, EMNLP 2011. The windows run over the tokens that cleaning left.
"""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.topics.measures.base import Measure, Measured
from skeinwork.core.topics.words import top_words

WINDOW = 10  # tokens
TOP = 10  # words of a topic


@njit(cache=True, nogil=True)
def count_windows(ids: Any, doc_ptr: Any, n_words: int, window: int) -> Any:
    """In how many windows each word, and each pair of words, occurs.

    Parameters
    ----------
    ids : int32[n_tokens], index of a watched word, -1 for any other
    window : tokens in a window; a shorter document is one window

    Returns
    -------
    joint : int64[n_words, n_words], the diagonal holding the single counts
    total : number of windows
    """
    joint = np.zeros((n_words, n_words), dtype=np.int64)
    inside = np.zeros(n_words, dtype=np.int32)
    present = np.empty(max(window, 1), dtype=np.int32)
    total = 0
    for doc in range(len(doc_ptr) - 1):
        first, last = doc_ptr[doc], doc_ptr[doc + 1]
        if last == first:
            continue
        n_present = 0
        for at in range(first, last):
            leaving = ids[at - window] if at - window >= first else -1
            if leaving >= 0:
                inside[leaving] -= 1
                if inside[leaving] == 0:
                    for slot in range(n_present):
                        if present[slot] == leaving:
                            n_present -= 1
                            present[slot] = present[n_present]
                            break
            word = ids[at]
            if word >= 0:
                if inside[word] == 0:
                    present[n_present] = word
                    n_present += 1
                inside[word] += 1
            if at - first >= window - 1 or at == last - 1:
                total += 1
                for a in range(n_present):
                    for b in range(n_present):
                        joint[present[a], present[b]] += 1
        for slot in range(n_present):
            inside[present[slot]] = 0
    return joint, total


def npmi(joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
    """Normalised pointwise mutual information of every pair, in [-1, 1].

    log(p_ij / (p_i p_j)) / -log(p_ij), without smoothing: its limits are -1 for words that never
    meet, however rare they are, and 1 for words that always do, in every window too.

    Parameters
    ----------
    joint : int64[n_words, n_words], windows that hold both, the diagonal those that hold one
    total : all windows

    Returns
    -------
    float64[n_words, n_words]; words never seen give -1
    """
    p = joint / max(total, 1)
    single = np.diag(p)
    with np.errstate(divide="ignore", invalid="ignore"):
        value = np.log(p / np.outer(single, single)) / -np.log(p)
    value = np.where(p <= 0, -1.0, np.where(p >= 1, 1.0, value))
    return np.clip(value, -1.0, 1.0)


def watched_words(top_words: NDArray[np.int64]) -> NDArray[np.int64]:
    """The union of all topics' top words, int64[n], sorted: the only words that need counting.

    Parameters
    ----------
    top_words : int64[n_topics, n_top]
    """
    return np.unique(top_words)


def topic_coherence(
    top_words: NDArray[np.int64], ids: NDArray[np.int32], doc_ptr: NDArray[np.int64], n_terms: int, window: int = WINDOW
) -> NDArray[np.float64]:
    """Mean NPMI over the pairs of each topic's top words, float64[n_topics]; NaN without a pair.

    Parameters
    ----------
    top_words : int64[n_topics, n_top]
    ids : int32[n_tokens], term of each token that is left, -1 for terms that pruning dropped
    """
    watched = watched_words(top_words)
    place = np.full(n_terms, -1, dtype=np.int32)
    place[watched] = np.arange(len(watched), dtype=np.int32)
    local = np.where(ids >= 0, place[ids], -1).astype(np.int32)
    joint, total = count_windows(local, doc_ptr, len(watched), window)
    scores = npmi(joint, total)
    upper = np.triu_indices(top_words.shape[1], 1)
    if not len(upper[0]):
        return np.full(len(top_words), np.nan)
    return np.array([scores[np.ix_(place[row], place[row])][upper].mean() for row in top_words])


def umass(top_words: NDArray[np.int64], counts: scipy.sparse.csr_matrix) -> NDArray[np.float64]:
    """UMass coherence of each topic, float64[n_topics].

    Mean of log((D(i, j) + 1) / D(j)) over pairs with j ranked before i; D counts documents. A word j
    that is in none counts as one that is in all of them and never meets i, the worst there is.

    Parameters
    ----------
    top_words : int64[n_topics, n_top], the most probable first
    counts : int[n_docs, n_terms]
    """
    presence = (counts[:, watched_words(top_words)] > 0).astype(np.int64)
    joint = np.asarray((presence.T @ presence).todense())
    place = {term: at for at, term in enumerate(watched_words(top_words).tolist())}
    within = np.where(np.diag(joint) > 0, np.diag(joint), counts.shape[0])
    return np.array(
        [
            np.mean(
                [
                    np.log((joint[place[i], place[j]] + 1) / within[place[j]])
                    for at, i in enumerate(row)
                    for j in row[:at]
                ]
            )
            for row in top_words.tolist()
        ]
    )


class NpmiCoherence(Measure):
    """Mean NPMI of a topic's top words, one-word terms alone, since windows count words."""

    key: ClassVar[str] = "coherence"
    title: ClassVar[str] = "Coherence"
    about: ClassVar[str] = f"NPMI of {TOP} words, windows of {WINDOW}, not smoothed; rewards frequent neighbours"
    column: ClassVar[str] = "coherence_npmi"
    VERSION: ClassVar[int] = 3

    def of_topics(self, fit: Measured) -> NDArray[np.float64]:
        single = fit.lengths == 1
        top = top_words(np.where(single, fit.topic_word, -1.0), min(TOP, int(single.sum())))
        return topic_coherence(top, fit.stream, fit.doc_ptr, len(fit.lengths))


MEASURE = NpmiCoherence()
