"""Topics by expected counts: every token is shared out among the topics in place of drawn for one.

The passes of the zero-order collapsed variational Bayes of A. Asuncion, M. Welling, P. Smyth and
Y. W. Teh, *On smoothing and inference for topic models*, UAI 2009, with a token's own share left in. They come
close to a mode in a few passes, where sampling takes many, and stay in it.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.prefetch import prefetch

# Topics that a processor adds up side by side: those of one line of its cache.
_LANES = 16
# Cells whose words' rows are asked for ahead.
_AHEAD = 4
Floats = NDArray[np.float32]


@njit(cache=True, nogil=True)
def _share_out(
    indptr: Any, indices: Any, data: Any, topic_word: Any, in_doc: Any, alpha: Any, word_topic: Any, totals: Any
) -> None:
    """One pass over all cells.

    Parameters
    ----------
    indptr, indices, data : of the counts, n_docs by n_terms
    topic_word : float32[n_terms, width], of topics, the last of which are 0 up to a multiple of ``_LANES``
    in_doc : float32[n_docs, width], expected tokens of topics, written to
    alpha : float32[width]; word_topic : float32[n_terms, width], of zeros, written to
    totals : float32[n_cells], the weight of all topics together, written to
    """
    width = len(alpha)
    prior, found = np.empty(width, np.float32), np.empty(width, np.float32)
    weight, lanes = np.empty(width, np.float32), np.empty(_LANES, np.float32)
    for doc in range(len(indptr) - 1):
        for k in range(width):
            prior[k] = in_doc[doc, k] + alpha[k]
            found[k] = 0
        for at in range(indptr[doc], indptr[doc + 1]):
            if at + _AHEAD < indptr[-1]:
                coming = np.intp(indices[at + _AHEAD])
                for k in range(0, width, _LANES):
                    prefetch(topic_word, coming, k)
                    prefetch(word_topic, coming, k)
            row, into = topic_word[indices[at]], word_topic[indices[at]]
            for k in range(width):
                weight[k] = prior[k] * row[k]
            for lane in range(_LANES):
                lanes[lane] = weight[lane]
            for begin in range(_LANES, width, _LANES):
                for lane in range(_LANES):
                    lanes[lane] += weight[begin + lane]
            for half in (_LANES // 2, _LANES // 4, _LANES // 8):
                for lane in range(half):
                    lanes[lane] += lanes[lane + half]
            total = lanes[0] + lanes[1]
            times = np.float32(data[at]) / total
            for k in range(width):
                part = weight[k] * times
                found[k] += part
                into[k] += part
            totals[at] = total
        for k in range(width):
            in_doc[doc, k] = found[k]


@njit(cache=True, nogil=True)
def _draw(indptr: Any, indices: Any, data: Any, topic_word: Any, in_doc: Any, alpha: Any, chances: Any, z: Any) -> None:
    """A topic for every token, written to ``z``, by its shares and a number of ``chances`` in [0, 1)."""
    n_topics, token = np.count_nonzero(alpha), 0
    cumulated = np.empty(n_topics)
    for doc in range(len(indptr) - 1):
        for at in range(indptr[doc], indptr[doc + 1]):
            total = 0.0
            for k in range(n_topics):
                total += (in_doc[doc, k] + alpha[k]) * topic_word[indices[at], k]
                cumulated[k] = total
            for _ in range(data[at]):
                topic = np.searchsorted(cumulated, chances[token] * total, side="right")
                z[token] = min(topic, n_topics - 1)
                token += 1


def wide(topics: int) -> int:
    """The topics and as many that hold nothing as make a multiple of ``_LANES``."""
    return topics + -topics % _LANES


def shares_of_words(word_topic: Floats) -> Floats:
    """Of each topic in turn, float32[n_terms, width]; topics that hold nothing have none."""
    shares: Floats = word_topic / np.maximum(word_topic.sum(axis=0), np.float32(1e-30))
    return shares


def share_out(
    counts: scipy.sparse.csr_matrix, topic_word: Floats, in_doc: Floats, alpha: Floats
) -> tuple[Floats, float]:
    """Share the tokens of documents out among topics once.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; topic_word : float32[n_terms, width], shares of words in topics
    in_doc : float32[n_docs, width], expected tokens of topics by document, written to
    alpha : float32[width], the document prior

    Returns
    -------
    Expected tokens of topics by word, float32[n_terms, width]; the log probability of the tokens, but for what
    only depends on lengths
    """
    word_topic, totals = np.zeros_like(topic_word), np.empty(counts.nnz, np.float32)
    _share_out(counts.indptr, counts.indices, counts.data, topic_word, in_doc, alpha, word_topic, totals)
    return word_topic, float(counts.data @ np.log(totals))


def drawn(
    counts: scipy.sparse.csr_matrix, topic_word: Floats, in_doc: Floats, alpha: Floats, rng: np.random.Generator
) -> NDArray[np.int32]:
    """A topic for every token by its shares, int32[n_tokens] in the order of ``held_out.tokens_of``.

    See ``share_out``.
    """
    z = np.empty(int(counts.data.sum()), np.int32)
    _draw(counts.indptr, counts.indices, counts.data, topic_word, in_doc, alpha, rng.random(len(z)), z)
    return z
