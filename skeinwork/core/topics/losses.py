"""The losses that a factorisation of documents by terms makes small, each with the way that does it.

D. Lee and H. Seung, *Algorithms for non-negative matrix factorization*, NIPS 13, 2001.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from functools import cached_property

import numpy as np
import scipy

from skeinwork.core.topics.expectation import share_out, shares_of_words, wide
from skeinwork.core.topics.factors import Floats, Threads, gram, improve

# Passes over new rows at most, and the share of what they hold that a pass still moves where they stand.
_PLACING, _STANDS = 200, 1e-4


class Loss(ABC):
    """Two factors of a table, brought nearer to it.

    Attributes
    ----------
    rows : float32[n_docs, n_topics], of documents; columns : float32[n_terms, n_topics], of terms
    """

    rows: Floats
    columns: Floats

    @abstractmethod
    def __init__(
        self, table: scipy.sparse.csr_matrix, rows: Floats, columns: Floats, at_work: Threads, taken_up: bool = False
    ) -> None:
        """Of a table, float[n_docs, n_terms], from factors that are written to.

        ``taken_up`` are those of another such loss, to go on from with the same bytes.
        """

    @abstractmethod
    def step(self) -> float:
        """Go once over both factors; the share that is left of the loss without topics."""

    @staticmethod
    @abstractmethod
    def place(table: scipy.sparse.csr_matrix, columns: Floats, at_work: Threads) -> Floats:
        """Rows of documents that were not factorised, float32[n_docs, n_topics], the columns as they are."""


class LeastSquares(Loss):
    """Squared differences; what is left is a share of the sum of squares."""

    def __init__(
        self, table: scipy.sparse.csr_matrix, rows: Floats, columns: Floats, at_work: Threads, taken_up: bool = False
    ) -> None:
        self.table = scipy.sparse.csr_matrix(table, dtype=np.float32)
        self.by_term = self.table.T.tocsr()
        self.whole = float((self.table.data.astype(np.float64) ** 2).sum())
        self.rows, self.columns, self.at_work = rows, columns, at_work
        self.of_columns = gram(columns, at_work)

    def step(self) -> float:
        improve(self.table, self.rows, self.columns, self.of_columns, self.at_work)
        of_rows = gram(self.rows, self.at_work)
        likeness = improve(self.by_term, self.columns, self.rows, of_rows, self.at_work)
        self.of_columns = gram(self.columns, self.at_work)
        both = float((of_rows.astype(np.float64) * self.of_columns).sum())
        return max(self.whole - 2 * likeness + both, 0.0) / max(self.whole, 1e-30)

    @staticmethod
    def place(table: scipy.sparse.csr_matrix, columns: Floats, at_work: Threads) -> Floats:
        table = scipy.sparse.csr_matrix(table, dtype=np.float32)
        rows, of_columns = np.zeros((table.shape[0], columns.shape[1]), np.float32), gram(columns, at_work)
        for _ in range(_PLACING):
            before = rows.copy()
            improve(table, rows, columns, of_columns, at_work)
            if np.abs(rows - before).sum() <= _STANDS * rows.sum():
                break
        return rows


class Divergence(Loss):
    """The Kullback-Leibler divergence; what is left is a share of that of one topic for all.

    Both factors are multiplied at once by what brings them nearer, which is a step of expectation and maximisation
    over topics of tokens (E. Gaussier and C. Goutte, *Relation between PLSA and NMF and implications*, SIGIR 2005).
    """

    def __init__(
        self, table: scipy.sparse.csr_matrix, rows: Floats, columns: Floats, at_work: Threads, taken_up: bool = False
    ) -> None:
        self.table, self.topics = table, rows.shape[1]
        lengths, more = np.asarray(table.sum(axis=1), dtype=np.float64), wide(rows.shape[1]) - rows.shape[1]
        self.held, self.words = (np.pad(each, ((0, 0), (0, more))) for each in (rows, columns))
        if not taken_up:
            held = self.held * self.words.sum(axis=0)
            self.held = (held * (lengths / np.maximum(held.sum(axis=1, keepdims=True), 1e-30))).astype(np.float32)
            self.words = shares_of_words(self.words)

    @cached_property
    def most(self) -> float:
        """The log probability of tokens that every cell foretells."""
        n = self.table.data.astype(np.float64)
        return float(n @ np.log(n))

    @cached_property
    def of_one(self) -> float:
        return of_one_topic(self.table)

    @property
    def rows(self) -> Floats:  # type: ignore[override]
        return self.held[:, : self.topics]

    @property
    def columns(self) -> Floats:  # type: ignore[override]
        return self.words[:, : self.topics]

    def step(self) -> float:
        word_topic, log_p = share_out(self.table, self.words, self.held, np.zeros(self.held.shape[1], np.float32))
        self.words = shares_of_words(word_topic)
        return max(self.most - log_p, 0.0) / max(self.of_one, 1e-30)

    @staticmethod
    def place(table: scipy.sparse.csr_matrix, columns: Floats, at_work: Threads) -> Floats:
        loss = Divergence(table, np.ones((table.shape[0], columns.shape[1]), np.float32), columns, at_work)
        for _ in range(_PLACING):
            before = loss.held.copy()
            share_out(table, loss.words, loss.held, np.zeros(loss.held.shape[1], np.float32))
            if np.abs(loss.held - before).sum() <= _STANDS * loss.held.sum():
                break
        return loss.rows


def of_one_topic(table: scipy.sparse.csr_matrix) -> float:
    """The divergence of counts, int[n_docs, n_terms], from one topic for all documents, nats."""
    n, lengths = table.data.astype(np.float64), np.asarray(table.sum(axis=1), dtype=np.float64).ravel()
    total = np.asarray(table.sum(axis=0), dtype=np.float64).ravel()
    expected = np.repeat(lengths, np.diff(table.indptr)) * total[table.indices] / max(n.sum(), 1.0)
    return float(n @ np.log(n / expected))


LOSSES: dict[str, type[Loss]] = {"frobenius": LeastSquares, "kl": Divergence}
