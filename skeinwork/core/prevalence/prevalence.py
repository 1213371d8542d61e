"""Prevalence of topics by group and period, with bootstrap intervals over documents.

The bootstrap (B. Efron, *Bootstrap methods: another look at the jackknife*, 1979) draws documents
with replacement within each cell; where the fit kept several posterior draws, every replicate uses
one of them in turn, so that the interval holds both kinds of uncertainty (method of composition:
M. Tanner, *Tools for statistical inference*, 1996).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.topics.model import Samples

VERSION = 1
REPLICATES = 1000


@dataclass(frozen=True)
class Prevalence:
    """Shares of topics in cells (groups, periods, or both).

    Attributes
    ----------
    mean, low, high : float64[n_cells, n_topics]; NaN in cells without documents
    documents : int64[n_cells], documents with words in each cell
    """

    mean: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    documents: NDArray[np.int64]


@njit(cache=True, nogil=True)
def _mix(value: Any) -> Any:
    z = value * np.uint64(0x9E3779B97F4A7C15)
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))


@njit(cache=True, nogil=True)
def bootstrap(
    data: Any, indices: Any, indptr: Any, prior: Any, weights: Any, members: Any, replicates: int,
    seed: int,
) -> Any:  # fmt: skip
    """Weighted mean shares of resampled documents, float64[replicates, n_topics].

    Parameters
    ----------
    data, indices, indptr, prior : saved samples, as ``Samples`` holds them
    weights : float64[n_docs]; members : int64[n], the documents of one cell
    seed : the random stream is a counter mixed with it, so cells don't depend on their order
    """
    n, (n_samples, n_topics) = len(members), prior.shape
    n_docs = (len(indptr) - 1) // n_samples
    means = np.zeros((replicates, n_topics), dtype=np.float64)
    counter = _mix(np.uint64(seed + 1))
    for replicate in range(replicates):
        sample = replicate % n_samples
        raised, total, lifted = prior[sample].sum(), 0.0, 0.0
        for _ in range(n):
            counter += np.uint64(1)
            place = np.float64(_mix(counter) >> np.uint64(11)) * (1.0 / 9007199254740992.0)
            doc = members[np.int64(place * n)]
            row = sample * n_docs + doc
            tokens = 0.0
            for at in range(indptr[row], indptr[row + 1]):
                tokens += data[at]
            total += weights[doc]
            each = weights[doc] / (tokens + raised)
            lifted += each
            for at in range(indptr[row], indptr[row + 1]):
                means[replicate, indices[at]] += each * data[at]
        for topic in range(n_topics):
            means[replicate, topic] = (
                means[replicate, topic] + lifted * prior[sample, topic]
            ) / total
    return means


def prevalence(
    doc_topic: NDArray[np.float64], samples: Samples | None, weights: NDArray[np.float64],
    cells: NDArray[np.int64], n_cells: int,
    replicates: int = REPLICATES, level: float = 0.95, seed: int = 1,
) -> Prevalence:  # fmt: skip
    """Mean share of every topic in every cell, with percentile intervals.

    Parameters
    ----------
    doc_topic : float64[n_docs, n_topics], zero rows for empty documents, which are left out
    samples : saved samples of ``doc_topic``; without any the intervals hold the documents alone
    weights : float64[n_docs], tokens of each document, or ones
    cells : int64[n_docs], the cell of each document, -1 for none
    """
    drawn = samples or Samples.of_shares(np.asarray(doc_topic))
    parts = (drawn.data, drawn.indices, drawn.indptr, drawn.prior)
    n_topics = doc_topic.shape[1]
    mean = np.full((n_cells, n_topics), np.nan)
    low, high = mean.copy(), mean.copy()
    documents = np.zeros(n_cells, dtype=np.int64)
    usable = (doc_topic.sum(axis=1) > 0) & (weights > 0) & (cells >= 0)
    order = np.flatnonzero(usable)[np.argsort(cells[usable], kind="stable")]
    bounds = np.searchsorted(cells[order], np.arange(n_cells + 1))
    tail = 100 * (1 - level) / 2
    for cell in range(n_cells):
        members = order[bounds[cell] : bounds[cell + 1]]
        documents[cell] = len(members)
        if len(members) == 0:
            continue
        weight = weights[members, None]
        mean[cell] = (doc_topic[members] * weight).sum(axis=0) / weight.sum()
        means = bootstrap(*parts, weights, members, replicates, seed * 1_000_003 + cell)
        low[cell], high[cell] = np.percentile(means, [tail, 100 - tail], axis=0)
    return Prevalence(mean, low, high, documents)
