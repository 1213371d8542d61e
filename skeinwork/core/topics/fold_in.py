"""Place documents in a topic model whose words stay as they are, by Gibbs sampling.

H. Wallach, I. Murray, R. Salakhutdinov and D. Mimno, *Evaluation methods for topic models*, ICML
2009. Every document has a random stream of its own, so that it does not matter which others are
placed with it.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.topics.model import Samples
from skeinwork.core.topics.uniform import uniform


@njit(cache=True, nogil=True)
def _sample(
    words: Any, doc_ptr: Any, word_topic: Any, alpha: Any, iterations: int, saved: int, seed: int, apart: int
) -> Any:
    """Topics of documents in the last iterations, int32[saved, n_docs, n_topics]."""
    n_docs, n_topics = len(doc_ptr) - 1, len(alpha)
    counts = np.zeros((saved, n_docs, n_topics), dtype=np.int32)
    weight = np.empty(n_topics)
    state = np.empty(1, dtype=np.uint64)
    for doc in range(n_docs):
        state[0] = np.uint64(seed) * np.uint64(0xD1342543DE82EF95) + np.uint64(doc * apart)
        first, last = doc_ptr[doc], doc_ptr[doc + 1]
        z = np.empty(last - first, dtype=np.int64)
        in_doc = alpha.copy()
        for iteration in range(iterations + 1):
            for at in range(last - first):
                row = word_topic[words[first + at]]
                if iteration > 0:
                    in_doc[z[at]] -= 1.0
                total = 0.0
                for k in range(n_topics):
                    total += in_doc[k] * row[k]
                    weight[k] = total
                target = uniform(state) * total
                new = 0
                while new < n_topics - 1 and weight[new] <= target:
                    new += 1
                z[at] = new
                in_doc[new] += 1.0
            if iteration > iterations - saved:
                for at in range(last - first):
                    counts[iteration - iterations + saved - 1, doc, z[at]] += 1
    return counts


def fold_in(
    words: NDArray[np.int32],
    doc_ptr: NDArray[np.int64],
    topic_word: NDArray[np.float64],
    alpha: NDArray[np.float64],
    iterations: int = 20,
    saved: int = 5,
    seed: int = 1,
    apart: bool = True,
) -> Samples:
    """Samples of the topics of documents, given the topics' words.

    Parameters
    ----------
    words : int32[n_tokens], term of each token; doc_ptr : int64[n_docs + 1]
    topic_word : float64[n_topics, n_terms]; alpha : float64[n_topics], the document prior
    iterations : of which the last ``saved`` are kept
    apart : documents have streams of their own; else all the same, so that equal ones come out equal
    """
    by_word = np.ascontiguousarray(np.asarray(topic_word).T)
    counts = _sample(words, doc_ptr, by_word, np.asarray(alpha, float), iterations, saved, seed, int(apart))
    return Samples.of_counts([scipy.sparse.csr_matrix(each) for each in counts], np.tile(alpha, (saved, 1)))
