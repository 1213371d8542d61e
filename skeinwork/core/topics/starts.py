"""Where a chain of samples begins: documents gathered round seeds that lie far apart, then shared out.

A uniformly random start often leaves two themes in one topic for good. Seeds drawn as in greedy k-means++
(D. Arthur and S. Vassilvitskii, *k-means++: the advantages of careful seeding*, SODA 2007) on the
cosine of tf-idf rows are still random and independent between seeds, but cover the corpus.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.matrix.weighting import SCHEMES, weigh
from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.topics.expectation import Floats, drawn, share_out, shares_of_words, wide
from skeinwork.core.topics.model import Topics

# Documents from which beginnings are drawn, at most, or for each topic.
_POOL, _POOL_OF_A_TOPIC = 2000, 20
# Candidates for each beginning. Of the demo's starts .12 came to the likeliest topics with one, .67 with ten.
_DRAWN = 10
# Rounds of gathering documents around the beginnings.
_ROUNDS = 3
# Beginnings of which the likeliest is taken, at most and at least, and documents of all of them together; passes
# after which they can be told apart, over so many documents, or so many for each topic.
MOST_STARTS, _LEAST_TRIED, _TRIED_DOCUMENTS = 6, 3, 24_000
_PASSES, _FEW, _FEW_OF_A_TOPIC = 5, 4000, 40
# Rounds for each of all documents from there, and documents at a time.
_ROUNDS_OF_ALL, _AT_A_TIME = 4, 10_000
# Share of a document's tokens that begin in the topic of its group; the others are shared out evenly.
_FOLLOW = 0.9


def unit_rows(counts: scipy.sparse.csr_matrix) -> scipy.sparse.csr_matrix:
    """tf-idf rows of Euclidean length 1, float64[n_docs, n_terms]; zero rows stay zero.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    """
    weighted = weigh(counts, SCHEMES["tf-idf"])
    rows = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr))
    norms = np.sqrt(np.bincount(rows, weighted.data**2, counts.shape[0]))
    weighted.data /= np.maximum(norms, 1e-12)[rows]
    return weighted


def spread_seeds(rows: scipy.sparse.csr_matrix, count: int, rng: np.random.Generator) -> NDArray[np.int64]:
    """Rows that lie far apart: of several, drawn with a chance that grows with their distance from those there
    are, each time the one after which all rows lie nearest.

    Parameters
    ----------
    rows : float64[n_docs, n_terms] of length 1; count : how many
    rng : the only source of chance

    Returns
    -------
    int64[count], numbers of rows; rows without words are drawn only where there are no others
    """
    pool = rng.choice(rows.shape[0], size=min(rows.shape[0], max(_POOL, _POOL_OF_A_TOPIC * count)), replace=False)
    candidates = rows[pool]
    filled = np.diff(candidates.indptr) > 0
    distance = filled.astype(np.float64)
    chosen: list[int] = []
    for _ in range(count):
        total = distance.sum()
        chance = distance / total if total > 0 else np.full(len(pool), 1 / len(pool))
        picks = rng.choice(len(pool), size=_DRAWN, p=chance)
        near = np.asarray(candidates @ candidates[picks].T.toarray())
        after = np.minimum(distance[:, None], np.maximum(1.0 - near, 0.0) ** 2 * filled[:, None])
        best = after.sum(axis=0).argmin()
        distance = after[:, best]
        chosen.append(int(pool[picks[best]]))
    return np.array(chosen, dtype=np.int64)


def gathered_documents(
    rows: scipy.sparse.csr_matrix, topics: int, rng: np.random.Generator, given: scipy.sparse.csr_matrix
) -> NDArray[np.int64]:
    """A group for every document, after a few rounds of spherical k-means from seeds far apart.

    Parameters
    ----------
    rows : float64[n_docs, n_terms] of length 1, or 0; topics : how many groups
    given : float64[n_given, n_terms] of length 1, what the first groups begin with in place of documents

    Returns
    -------
    int64[n_docs], in [0, topics)
    """
    centres = rows[spread_seeds(rows, topics, rng)].toarray()
    centres[: given.shape[0]] = given.toarray()
    number = np.arange(rows.shape[0])
    for _ in range(_ROUNDS):
        nearest = np.asarray(rows @ centres.T).argmax(axis=1)
        members = scipy.sparse.csr_matrix((np.ones(len(number)), (nearest, number)), shape=(topics, len(number)))
        centres = (members @ rows).toarray()
        centres /= np.maximum(np.linalg.norm(centres, axis=1, keepdims=True), 1e-12)
    return np.asarray(nearest, dtype=np.int64)


class LikelyStart:
    """Beginnings of topics that are made likelier by sharing tokens out among them.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; topics : how many
    priors : of a topic in a document, and of a word in a topic
    given : int[n_given, n_terms], tokens that always are of the first topics
    rng : the only source of chance
    """

    def __init__(
        self,
        counts: scipy.sparse.csr_matrix,
        topics: int,
        priors: tuple[float, float],
        given: scipy.sparse.csr_matrix,
        rng: np.random.Generator,
    ) -> None:
        self.counts, self.k, self.given, self.rng = counts, topics, given, rng
        self.alpha = np.where(np.arange(wide(topics)) < topics, priors[0], 0).astype(np.float32)
        self.always = np.zeros((counts.shape[1], wide(topics)), np.float32)
        self.always[:, :topics] = priors[1]
        self.always[:, : given.shape[0]] += given.T.toarray()

    def topics(self, report: Report = silent, most: int = MOST_STARTS) -> NDArray[np.int32]:
        """A topic for every token, int32[n_tokens], in the order of ``held_out.tokens_of``; of ``most`` beginnings."""
        filled = np.flatnonzero(np.diff(self.counts.indptr) > 0)
        few = min(len(filled), max(_FEW, _FEW_OF_A_TOPIC * self.k))
        some = self.counts[np.sort(self.rng.choice(filled, few, replace=False))]
        rows = unit_rows(scipy.sparse.vstack([some, self.given], format="csr"))
        best, likeliest = self.always, -np.inf
        times = min(most, max(_TRIED_DOCUMENTS // few, _LEAST_TRIED))
        for number in range(times):
            report("Trying starts", number / (times + 1), start=number + 1)
            found, log_p = self._tried(some, gathered_documents(rows[:few], self.k, self.rng, rows[few:]))
            if log_p > likeliest:
                best, likeliest = found, log_p
        return self._over_all(best, part_of(report, times / (times + 1), 1))

    def _even(self, counts: scipy.sparse.csr_matrix) -> Floats:
        """Tokens of documents shared out evenly, float32[n_docs, width]."""
        even = np.where(self.alpha > 0, 1 / self.k, 0)
        return (np.asarray(counts.sum(axis=1)) * even).astype(np.float32)

    def _tried(self, counts: scipy.sparse.csr_matrix, group: NDArray[np.int64]) -> tuple[Floats, float]:
        """Tokens of topics by word after ``_PASSES`` from documents in groups, and how likely they are."""
        rows = np.arange(len(group))
        follow = scipy.sparse.csr_matrix((np.full(len(group), _FOLLOW), (rows, group)), (len(group), len(self.alpha)))
        in_doc, log_p = self._even(counts), -np.inf
        found = ((counts.T @ follow).toarray() + (1 - _FOLLOW) * (counts.T @ (in_doc > 0)) / self.k).astype(np.float32)
        for _ in range(_PASSES):
            found, log_p = share_out(counts, shares_of_words(found + self.always), in_doc, self.alpha)
        return found, log_p

    def _over_all(self, found: Floats, report: Report) -> NDArray[np.int32]:
        """A topic for every token, by tokens of topics by word."""
        topic_word = shares_of_words(found + self.always)
        z = [np.zeros(0, np.int32)]
        for begin in range(0, self.counts.shape[0], _AT_A_TIME):
            report("Trying starts", begin / self.counts.shape[0])
            part = self.counts[begin : begin + _AT_A_TIME]
            in_doc = self._even(part)
            for _ in range(_ROUNDS_OF_ALL):
                share_out(part, topic_word, in_doc, self.alpha)
            z.append(drawn(part, topic_word, in_doc, self.alpha, self.rng))
        return np.concatenate(z)


class GivenStart(LikelyStart):
    """Topics that are there already, and tokens shared out among them.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    begun : of the same terms; where a term has no probability in any, it is shared out evenly
    priors : float64[n_topics], of topics in a document, and of a word in a topic
    """

    def __init__(
        self,
        counts: scipy.sparse.csr_matrix,
        begun: Topics,
        priors: tuple[NDArray[np.float64], float],
        rng: np.random.Generator,
    ) -> None:
        topics = len(begun.topic_word)
        none = scipy.sparse.csr_matrix((0, counts.shape[1]), dtype=counts.dtype)
        super().__init__(counts, topics, (0.0, priors[1]), none, rng)
        self.alpha[:topics] = priors[0]
        weight = np.asarray(begun.topic_word).T * priors[0]
        share = weight / np.maximum(weight.sum(axis=1, keepdims=True), 1e-300)
        self.found = np.zeros_like(self.always)
        self.found[:, :topics] = share * np.asarray(counts.sum(axis=0)).ravel()[:, None]

    def topics(self, report: Report = silent, *_: Any) -> NDArray[np.int32]:
        return self._over_all(self.found, report)
