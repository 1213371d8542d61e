"""Shares of topics in documents that a fit has not seen, with how surely they are known.

H. Wallach, I. Murray, R. Salakhutdinov and D. Mimno, *Evaluation methods for topic models*, ICML 2009: the topics'
words stay as they are, and the topics of a document's tokens are drawn. Given the tokens a document's shares have a
Dirichlet distribution; over the draws each share has a mixture of beta distributions, whose ends are found.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.progress import Report, silent
from skeinwork.core.topics.model import Samples

# Documents that are placed at a time: the draws of all would take documents x topics x draws.
_TOGETHER = 256
_SURE = 0.95
# Halvings that find the end of an interval: to .0001.
_HALVINGS = 13
# From counts, int[n_docs, n_terms], to samples of their topics.
Draw = Callable[[scipy.sparse.csr_matrix], Samples]


@dataclass(frozen=True)
class Placed:
    """Shares of topics in documents, float64[n_docs, n_topics] each, with both ends of their 95 % intervals.

    A document without a known word has the shares that a prior gives it, or none. A method that doesn't say how
    surely it knows them has no ends.
    """

    share: NDArray[np.float64]
    low: NDArray[np.float64] | None = None
    high: NDArray[np.float64] | None = None


def place(counts: scipy.sparse.csr_matrix, draw: Draw, report: Report = silent) -> Placed:
    """Place documents, int[n_docs, n_terms], one like another whatever others are placed with it."""
    parts = []
    for first in range(0, max(counts.shape[0], 1), _TOGETHER):
        report("Placing documents", first / max(counts.shape[0], 1))
        parts.append(intervals(draw(counts[first : first + _TOGETHER])))
    return Placed(*(np.concatenate(each) for each in zip(*parts, strict=True)))


def intervals(samples: Samples) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Mean, low and high of shares, float64[n_docs, n_topics] each, given samples of documents' topics by one prior.

    A share is distributed as a mixture of beta distributions, one for each count of its topic among the samples.
    """
    alpha, n_docs = samples.prior[0], samples.n_docs
    cells = n_docs * len(alpha)
    row, many = np.arange(len(samples.indptr) - 1) % max(n_docs, 1), np.diff(samples.indptr)
    cell = np.repeat(row, many) * len(alpha) + samples.indices
    (cell, n), times = np.unique(np.stack([cell, samples.data.astype(np.int64)]), axis=1, return_counts=True)
    none = len(samples) - np.bincount(cell, times, cells)
    empty = np.flatnonzero(none > 0)
    cell, n = np.append(cell, empty), np.append(n, np.zeros(len(empty), np.int64))
    weight = np.append(times, none[empty]) / len(samples)
    tokens = np.bincount(np.repeat(row, many), samples.data, n_docs) / len(samples)
    whole = np.repeat(tokens + alpha.sum(), len(alpha))[cell]
    a = n + np.tile(alpha, n_docs)[cell]
    mean = np.bincount(cell, weight * a / whole, cells).astype(np.float64)
    ends = [_quantile(at, cell, weight, a, whole - a, cells) for at in ((1 - _SURE) / 2, (1 + _SURE) / 2)]
    shape = (n_docs, len(alpha))
    return mean.reshape(shape), ends[0].reshape(shape), ends[1].reshape(shape)


def _quantile(
    at: float,
    cell: NDArray[np.int64],
    weight: NDArray[np.float64],
    a: NDArray[np.float64],
    b: NDArray[np.float64],
    cells: int,
) -> NDArray[np.float64]:
    """Of mixtures of beta distributions, float64[n_cells]: exact of one, of several to the outside of it."""
    found = np.empty(cells)
    parts = np.bincount(cell, minlength=cells)
    alone = parts[cell] == 1
    found[cell[alone]] = scipy.special.betaincinv(a[alone], b[alone], at)
    mixed = ~alone
    several, place = np.unique(cell[mixed], return_inverse=True)
    low, high = np.zeros(len(several)), np.ones(len(several))
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        below = np.bincount(
            place, weight[mixed] * scipy.special.betainc(a[mixed], b[mixed], middle[place]), len(several)
        )
        low, high = np.where(below < at, middle, low), np.where(below < at, high, middle)
    found[several] = low if at < 0.5 else high
    return found


def topics_of_terms(
    share: NDArray[np.float64], topic_word: NDArray[np.float64], terms: NDArray[np.int64]
) -> NDArray[np.float64]:
    """p(topic | term, document): the topic's share times the term's probability, float64[n_topics, n_asked].

    Parameters
    ----------
    share : float64[n_topics], of the document; topic_word : float64[n_topics, n_terms]
    terms : int64[n_asked]; -1, which gives zeros, for none
    """
    joint = topic_word[:, terms] * share[:, None]
    likely: NDArray[np.float64] = joint / np.maximum(joint.sum(axis=0), 1e-300)
    return np.where(terms >= 0, likely, 0.0)
