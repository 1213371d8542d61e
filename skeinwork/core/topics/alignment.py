"""What became of the topics of one fit in another: the same, split, merged, gone, new.

Topics are told by the tokens they share: by both fits each token has topics, and where most of a topic's tokens go
to, or come from, is its thread. Words alone would not show a small part that split off.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray

VERSION = 1
Became = Literal["same", "split", "merged", "gone", "new"]
# The share of a topic's tokens that makes a thread: most of them.
MOST = 0.5
# Cells of the matrix that are gone over, in documents drawn by chance, and at a time.
_CELLS, _AT_A_TIME = 300_000, 20_000


@dataclass(frozen=True)
class Thread:
    """From a topic of one fit to one of another: the share of the first's tokens that it carries, and of the second's.

    >>> Thread(0, 1, 0.9, 0.4).became
    'merged'
    """

    before: int
    after: int
    of_before: float
    of_after: float

    @property
    def became(self) -> Became:
        """By itself: the same where it carries most of both."""
        if self.of_before >= MOST and self.of_after >= MOST:
            return "same"
        return "merged" if self.of_before >= MOST else "split"


@dataclass(frozen=True)
class Alignment:
    """Threads between the topics of two fits, and what that makes of each.

    Attributes
    ----------
    flow : float64[n_before, n_after], tokens that are of one topic in one fit and of another in the other
    threads : those that carry most of a topic
    before, after : what became of each topic of the one, and what each topic of the other came from
    """

    flow: NDArray[np.float64]
    threads: list[Thread]
    before: list[Became]
    after: list[Became]

    def groups(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """The number of the group of topics that threads hold together, of each topic of both fits."""
        n_before, n_after = self.flow.shape
        ends = np.array([(each.before, n_before + each.after) for each in self.threads], np.int64).reshape(-1, 2)
        size = n_before + n_after
        links = scipy.sparse.coo_matrix((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), shape=(size, size))
        _, group = scipy.sparse.csgraph.connected_components(links, directed=False)
        return group[:n_before].astype(np.int64), group[n_before:].astype(np.int64)


@dataclass(frozen=True)
class Fitted:
    """Topics of documents and of terms: float64[n_docs, n_topics], float64[n_topics, n_terms]."""

    doc_topic: NDArray[np.float64]
    topic_word: NDArray[np.float64]

    def of_cells(self, rows: NDArray[np.int64], terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """p(topic | document, term) of some cells, float64[n_cells, n_topics]; zeros where no topic has the term."""
        joint = self.doc_topic[rows] * self.topic_word[:, terms].T
        return np.asarray(joint / np.maximum(joint.sum(axis=1, keepdims=True), 1e-300))


def token_flow(before: Fitted, after: Fitted, counts: scipy.sparse.csr_matrix, seed: int = 1) -> NDArray[np.float64]:
    """Expected tokens of each topic of one fit by topic of another, float64[n_before, n_after].

    Parameters
    ----------
    before, after : over the same documents and terms
    counts : int[n_docs, n_terms]; of a large one some documents, drawn by chance
    """
    rows = np.random.default_rng([seed, 31]).permutation(counts.shape[0])
    sizes = np.diff(counts.indptr)[rows]
    some = np.sort(rows[: int(np.searchsorted(np.cumsum(sizes), _CELLS)) + 1])
    part = counts[some].tocoo()
    flow = np.zeros((before.doc_topic.shape[1], after.doc_topic.shape[1]))
    for first in range(0, part.nnz, _AT_A_TIME):
        cells = slice(first, first + _AT_A_TIME)
        row, term = some[part.row[cells]], part.col[cells].astype(np.int64)
        weighed = before.of_cells(row, term) * part.data[cells, None]
        flow += weighed.T @ after.of_cells(row, term)
    return flow * (counts.sum() / max(float(part.data.sum()), 1.0))


def align(flow: NDArray[np.float64]) -> Alignment:
    """Name what became of topics, by the tokens that they share, float64[n_before, n_after].

    A topic is split where most of the tokens of two others were its own, merged where it and another went mostly
    into one; new where no topic brought most of its tokens nor went into it, gone where that is so the other way.

    >>> align(np.array([[80.0, 0, 0, 2], [0, 40, 50, 1], [1, 0, 0, 90], [2, 0, 0, 60]])).before
    ['same', 'split', 'merged', 'merged']
    """
    of_before = flow / np.maximum(flow.sum(axis=1, keepdims=True), 1e-300)
    of_after = flow / np.maximum(flow.sum(axis=0, keepdims=True), 1e-300)
    threads = [
        Thread(i, j, float(of_before[i, j]), float(of_after[i, j]))
        for i, j in np.argwhere((of_before >= MOST) | (of_after >= MOST)).tolist()
    ]
    parts = [sum(each.before == i and each.of_after >= MOST for each in threads) for i in range(len(flow))]
    sources = [sum(each.after == j and each.of_before >= MOST for each in threads) for j in range(flow.shape[1])]

    def named(mine: list[Thread], none: Became) -> Became:
        if not mine:
            return none
        if any(parts[each.before] > 1 for each in mine if each.of_after >= MOST):
            return "split"
        if any(sources[each.after] > 1 for each in mine if each.of_before >= MOST):
            return "merged"
        return next((each.became for each in mine if each.became == "same"), mine[0].became)

    before = [named([each for each in threads if each.before == i], "gone") for i in range(len(flow))]
    after = [named([each for each in threads if each.after == j], "new") for j in range(flow.shape[1])]
    return Alignment(flow, threads, before, after)


def moved(alignment: Alignment, before: NDArray[np.float64], after: NDArray[np.float64]) -> NDArray[np.float64]:
    """The share of each document that lies in topics which no thread joins, float64[n_docs].

    Half the sum of the differences of its shares, by groups of topics that threads hold together.

    Parameters
    ----------
    before, after : float64[n_docs, n_topics], shares, zero rows for documents without any
    """
    of_before, of_after = alignment.groups()
    many = int(max(of_before.max(initial=-1), of_after.max(initial=-1))) + 1

    def grouped(shares: NDArray[np.float64], group: NDArray[np.int64]) -> NDArray[np.float64]:
        table = scipy.sparse.csr_matrix((np.ones(len(group)), (np.arange(len(group)), group)), (len(group), many))
        return np.asarray(shares @ table)

    known = (before.sum(axis=1) > 0) & (after.sum(axis=1) > 0)
    apart = np.abs(grouped(before, of_before) - grouped(after, of_after)).sum(axis=1) / 2
    return np.where(known, apart, 0.0)
