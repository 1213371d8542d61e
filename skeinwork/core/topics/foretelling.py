"""How well topics foretell words of documents that are held out, quickly enough to watch it while they form.

Document completion (H. Wallach, I. Murray, R. Salakhutdinov and D. Mimno, *Evaluation methods for topic models*,
ICML 2009): half the tokens of a document place it among the topics, the other half are foretold.
"""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.topics.expectation import share_out, wide
from skeinwork.core.topics.held_out import MOST_DOCUMENTS, halves

# Passes that place a document: more change the mean by less than .001 nats.
_PASSES = 20


class Foretelling:
    """Some documents, int[n_docs, n_terms], as two halves of their tokens; of many some are drawn."""

    def __init__(self, counts: scipy.sparse.csr_matrix, seed: int) -> None:
        rng = np.random.default_rng([seed, 78])
        some = rng.permutation(counts.shape[0])[:MOST_DOCUMENTS]
        seen, told, seen_ptr, told_ptr = halves(counts[np.sort(some)], rng)
        self.seen, self.told = (
            scipy.sparse.csr_matrix((np.ones(len(words), np.int32), words, ptr), shape=(len(some), counts.shape[1]))
            for words, ptr in ((seen, seen_ptr), (told, told_ptr))
        )
        self._seen_tokens = np.diff(seen_ptr).astype(np.float64)
        self._told_tokens = np.diff(told_ptr).astype(np.float64)

    def __call__(self, topic_word: NDArray[np.float64], alpha: NDArray[np.float64]) -> float:
        """Log-likelihood of a token that is foretold, the mean in nats; 0 where there is none.

        Parameters
        ----------
        topic_word : float64[n_topics, n_terms]; alpha : float64[n_topics], the document prior
        """
        topics, whole = len(alpha), float(alpha.sum())
        words = np.zeros((topic_word.shape[1], wide(topics)), np.float32)
        words[:, :topics] = topic_word.T
        prior = np.zeros(wide(topics), np.float32)
        prior[:topics] = alpha
        in_doc = (self._seen_tokens[:, None] * (prior / whole)).astype(np.float32)
        for _ in range(_PASSES):
            share_out(self.seen, words, in_doc, prior)
        _, likely = share_out(self.told, words, in_doc, prior)
        likely -= float(self._told_tokens @ np.log(self._seen_tokens + whole))
        return likely / max(float(self._told_tokens.sum()), 1.0)
