"""What every fitted topic model has, whatever method made it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array, expect_pointer
from skeinwork.core.topics.clustered import Clustered
from skeinwork.core.topics.gain import Foretold

ENOUGH = 200.0  # tokens that show a topic's words, whatever the corpus


@dataclass(frozen=True)
class Samples:
    """Saved samples of documents by topics, as sparse counts: bounded by tokens, not by topics.

    A share is (count + prior) / (tokens of the document + sum of the prior). Row ``s * n_docs + d``
    holds document ``d`` in sample ``s``.

    Attributes
    ----------
    data : int32[nnz] or float32[nnz]; indices : int32[nnz]
    indptr : int64[n_samples * n_docs + 1]
    prior : float64[n_samples, n_topics]
    sizes : float64[n_docs], what each document counts for where not all of it need be of a topic; the first sample is
        then the estimate, and the others say how surely it is known. None where all is, and the mean is the estimate
    """

    data: NDArray[np.int32] | NDArray[np.float32]
    indices: NDArray[np.int32]
    indptr: NDArray[np.int64]
    prior: NDArray[np.float64]
    sizes: NDArray[np.float64] | None = None

    @classmethod
    def of_counts(
        cls,
        counts: Sequence[scipy.sparse.csr_matrix],
        prior: NDArray[np.float64],
        sizes: NDArray[np.float64] | None = None,
    ) -> Samples:
        """From int[n_docs, n_topics] counts, one matrix a sample."""
        filled = np.concatenate([np.diff(each.indptr) for each in counts])
        indptr = np.concatenate([[0], np.cumsum(filled, dtype=np.int64)])
        data = np.concatenate([each.data for each in counts]).astype(np.int32)
        indices = np.concatenate([each.indices for each in counts]).astype(np.int32)
        return cls(data, indices, indptr, prior, sizes)

    @classmethod
    def of_shares(cls, doc_topic: NDArray[np.float64]) -> Samples:
        """The one sample of a method that has none: its shares themselves, float64[n_docs, n_topics]."""
        shares = scipy.sparse.csr_matrix(doc_topic.astype(np.float32))
        prior = np.zeros((1, doc_topic.shape[1]))
        return cls(shares.data, shares.indices, shares.indptr.astype(np.int64), prior)

    def __len__(self) -> int:
        return len(self.prior)

    def check(self, words: NDArray[np.int64], n_topics: int) -> None:
        """Raise ``ContentError`` unless they can be of documents with so many words, int64[n_docs]."""
        prior = expect_array("samples_prior", self.prior, np.float64, (None, n_topics), 0)
        expect(len(prior), "samples_prior is empty")
        data = expect_array("samples_data", self.data, (np.int32, np.float32), (None,), 0)
        expect_array("samples_indices", self.indices, np.int32, (len(data),), 0, n_topics - 1)
        rows = len(prior) * len(words)
        expect_pointer("samples_indptr", self.indptr, rows, len(data))
        if self.sizes is not None:
            words = np.maximum(words, 1)
            expect_array("samples_sizes", self.sizes, np.float64, (len(words),), 0, words)
        totals = np.concatenate([[0.0], np.cumsum(data, dtype=np.float64)])
        counted = totals[self.indptr[1:]] - totals[self.indptr[:-1]]
        # A share in single precision may come out a little above its sum.
        most = 1.001 * np.tile(words, len(prior)) + 0.001
        expect_array("samples_data", counted, np.float64, (rows,), high=most)

    @property
    def n_docs(self) -> int:
        return (len(self.indptr) - 1) // len(self)

    def counts(self, sample: int) -> scipy.sparse.csr_matrix:
        """Tokens of each topic in each document in one sample, int32[n_docs, n_topics]."""
        rows = slice(sample * self.n_docs, (sample + 1) * self.n_docs + 1)
        indptr = self.indptr[rows]
        part = slice(indptr[0], indptr[-1])
        return scipy.sparse.csr_matrix(
            (self.data[part], self.indices[part], indptr - indptr[0]), shape=(self.n_docs, self.prior.shape[1])
        )

    @property
    def estimated_from(self) -> int:
        """Of how many samples, from the first, an estimate is the mean."""
        return len(self) if self.sizes is None else 1

    def whole(self, sample: int) -> NDArray[np.float64]:
        """What each document counts for in one sample, float64[n_docs]."""
        if self.sizes is not None:
            return self.sizes
        return np.asarray(self.counts(sample).sum(axis=1), dtype=np.float64).ravel()

    @property
    def topic_tokens(self) -> NDArray[np.float64]:
        """Tokens of each topic as estimated, float64[n_topics]."""
        n_topics, some = self.prior.shape[1], slice(self.indptr[self.estimated_from * self.n_docs])
        return np.bincount(self.indices[some], self.data[some], n_topics).astype(np.float64) / self.estimated_from

    def assigned(self) -> scipy.sparse.csr_matrix:
        """Tokens of each topic in each document as estimated, float64[n_docs, n_topics]."""
        total = self.counts(0).astype(np.float64)
        for sample in range(1, self.estimated_from):
            total = total + self.counts(sample)
        return scipy.sparse.csr_matrix(total / self.estimated_from)

    def shares(self, sample: int) -> NDArray[np.float64]:
        """float64[n_docs, n_topics] of one sample; zero rows for documents without tokens."""
        counts = self.counts(sample).toarray()
        tokens = counts.sum(axis=1, keepdims=True)
        raised = (counts + self.prior[sample]) / (tokens + self.prior[sample].sum())
        return np.where(tokens > 0, raised, 0.0)

    def ordered(self, order: NDArray[np.int64]) -> Samples:
        """The same with the topics in another order, int64[n_topics]."""
        place = np.empty(len(order), dtype=np.int32)
        place[order] = np.arange(len(order), dtype=np.int32)
        return replace(self, indices=place[self.indices], prior=self.prior[:, order])


class Topics(Protocol):
    """What of a model it takes to place other documents.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms]
    by_topic, by_term, overall : as a ``TopicModel`` has them
    """

    @property
    def topic_word(self) -> NDArray[np.float64]: ...
    @property
    def by_topic(self) -> Mapping[str, NDArray[np.float64]]: ...
    @property
    def by_term(self) -> Mapping[str, NDArray[np.float64]]: ...
    @property
    def overall(self) -> Mapping[str, float]: ...


@dataclass(frozen=True)
class TopicModel:
    """A fitted model.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms], rows sum to 1
    doc_topic : float64[n_docs, n_topics], rows sum to 1, zero rows for documents in no topic
    samples : saved samples of ``doc_topic``, for methods that have them
    trace : float64[n_points, 1 + n_watched], iteration, then what the method watches
    foretold : what its topics foretell of documents held out; None where none are, or the method foretells none
    by_topic, by_term : further numbers of the method's, float64[n_topics] and float64[n_terms] each
    overall : further numbers of the method's
    clustered : centres and what is near them, of a method that groups documents
    """

    topic_word: NDArray[np.float64]
    doc_topic: NDArray[np.float64]
    samples: Samples | None
    trace: NDArray[np.float64]
    by_topic: dict[str, NDArray[np.float64]] = field(default_factory=dict)
    overall: dict[str, float] = field(default_factory=dict)
    by_term: dict[str, NDArray[np.float64]] = field(default_factory=dict)
    foretold: Foretold | None = None
    clustered: Clustered | None = None

    def check(self, words: NDArray[np.int64], n_terms: int) -> None:
        """Raise ``ContentError`` unless it can be a model of documents.

        Parameters
        ----------
        words : int64[n_docs], words of each that a matrix of ``n_terms`` counts
        """
        share = (0.0, 1.0 + 1e-9)
        topics = len(expect_array("topic_word", self.topic_word, np.float64, (None, n_terms), *share))
        expect(topics, "topic_word has no topics")
        expect_array("doc_topic", self.doc_topic, np.float64, (len(words), topics), *share)
        trace = expect_array("trace", self.trace, np.float64, (None, None))
        expect(len(trace) and trace.shape[1] > 1, "trace is empty")
        for name, values in self.by_topic.items():
            expect_array(f"by_topic_{name}", values, np.float64, (topics,))
        for name, values in self.by_term.items():
            expect_array(f"by_term_{name}", values, np.float64, (n_terms,))
        numbers = all(isinstance(each, int | float) for each in self.overall.values())
        expect(numbers and np.isfinite(list(self.overall.values())).all(), "numbers are none")
        if self.samples:
            self.samples.check(words, topics)
        if self.foretold:
            self.foretold.check()
        if self.clustered:
            self.clustered.check(len(words), topics)

    def assigned(self, weights: NDArray[np.float64]) -> scipy.sparse.csr_matrix:
        """Tokens of each topic in each document, the mean over saved samples, float64[n_docs, n_topics].

        Parameters
        ----------
        weights : float64[n_docs], counted words of each: times its shares, for a method without samples
        """
        if self.samples:
            return self.samples.assigned()
        return scipy.sparse.csr_matrix(np.asarray(self.doc_topic) * weights[:, None])

    @property
    def drawn(self) -> Samples:
        """The saved samples, or the shares themselves as the one sample of a method without any."""
        return self.samples or Samples.of_shares(np.asarray(self.doc_topic))

    def over_terms(self, columns: NDArray[np.int64], n_terms: int) -> TopicModel:
        """The same over other terms, of which those that it did not read have no probability.

        Parameters
        ----------
        columns : int64[n_read], which of the ``n_terms`` each term that it read is; -1 for none
        """
        if len(columns) == n_terms and np.array_equal(columns, np.arange(n_terms)):
            return self
        there = columns >= 0

        def of_them(values: NDArray[np.float64]) -> NDArray[np.float64]:
            found = np.zeros((*values.shape[:-1], n_terms))
            found[..., columns[there]] = np.asarray(values)[..., there]
            return found

        by_term = {name: of_them(values) for name, values in self.by_term.items()}
        return replace(self, topic_word=of_them(self.topic_word), by_term=by_term)

    def ordered(self, order: NDArray[np.int64]) -> TopicModel:
        """The same with the topics in another order, int64[n_topics]."""
        return replace(
            self,
            topic_word=self.topic_word[order],
            doc_topic=self.doc_topic[:, order],
            samples=self.samples.ordered(order) if self.samples else None,
            by_topic={name: values[order] for name, values in self.by_topic.items()},
            clustered=self.clustered.ordered(order) if self.clustered else None,
        )


def empty_topics(tokens: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Topics that hold next to nothing, so that their words are those of the prior, bool[n_topics].

    With more topics than a corpus fills some keep a handful of tokens: fewer than a tenth of an equal
    share, and than ``ENOUGH`` tokens.

    Parameters
    ----------
    tokens : float64[n_topics], of each topic

    >>> empty_topics(np.array([900.0, 1000.0, 4.0])).tolist()
    [False, False, True]
    """
    least = min(ENOUGH, 0.1 * float(np.mean(tokens)))
    return np.asarray(tokens < least)
