"""Which topics documents hold together, more or less often than chance would have it.

Chance keeps what is no company: how many documents have each topic, and how many topics each document has, so that
neither a frequent topic nor a long document makes any pair. Tables with these margins are drawn by trades between
pairs of documents: what only one of two has is dealt out again between them (G. Strona and others, *A fast and
unbiased procedure to randomize ecological binary matrices with fixed row and column totals*, Nature Communications 5,
2014; N. Gotelli, *Null model analysis of species co-occurrence patterns*, Ecology 81, 2000).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.progress import Report, silent

VERSION = 1
PERMUTATIONS = 999
# Tables beyond what is observed from which a tail is counted.
_TAIL = 25
# Rounds of trades before the first table that counts, and between two: each document trades once a round.
_BEFORE, _BETWEEN = 30, 4
_BITS = 64


@dataclass(frozen=True)
class CoOccurrence:
    """Pairs of topics.

    Attributes
    ----------
    documents : int64[n_topics], that have each topic; of : int, documents that have any
    observed : int64[n_topics, n_topics], documents that have both; the diagonal is ``documents``
    expected, spread : float64[n_topics, n_topics], mean and standard deviation over the tables drawn
    p : float64[n_topics, n_topics], two-sided, by the tables drawn; 1 on the diagonal
    adjusted : float64[n_topics, n_topics], the same over all pairs (Benjamini and Hochberg 1995)
    permutations : int, tables drawn
    """

    documents: NDArray[np.int64]
    of: int
    observed: NDArray[np.int64]
    expected: NDArray[np.float64]
    spread: NDArray[np.float64]
    p: NDArray[np.float64]
    adjusted: NDArray[np.float64]
    permutations: int

    @property
    def effect(self) -> NDArray[np.float64]:
        """log₂ of (observed + ½) / (expected + ½), float64[n_topics, n_topics]; 0 where as many as expected."""
        return np.asarray(np.log2((self.observed + 0.5) / (self.expected + 0.5)))


def packed(held: NDArray[np.bool_]) -> NDArray[np.uint64]:
    """Topics of each document as bits, uint64[n_docs, n_words], of bool[n_docs, n_topics]."""
    words = -(-held.shape[1] // _BITS)
    found = np.zeros((len(held), words), dtype=np.uint64)
    for topic in range(held.shape[1]):
        found[:, topic // _BITS] |= held[:, topic].astype(np.uint64) << np.uint64(topic % _BITS)
    return found


@njit(cache=True, nogil=True)
def _count(bits: NDArray[np.uint64], together: NDArray[np.int64]) -> None:
    """Count the pairs of topics of all documents."""
    together[:] = 0
    topics = np.empty(together.shape[0], dtype=np.int64)
    for document in range(bits.shape[0]):
        n = 0
        for word in range(bits.shape[1]):
            left = bits[document, word]
            place = word * 64
            while left != np.uint64(0):
                if left & np.uint64(1):
                    topics[n] = place
                    n += 1
                left >>= np.uint64(1)
                place += 1
        for i in range(n):
            for j in range(i + 1):
                together[topics[i], topics[j]] += 1
    for i in range(together.shape[0]):
        for j in range(i):
            together[j, i] = together[i, j]


@njit(cache=True, nogil=True)
def _ones(bits: np.uint64) -> int:
    """How many bits are set."""
    n = 0
    while bits != np.uint64(0):
        bits &= bits - np.uint64(1)
        n += 1
    return n


@njit(cache=True, nogil=True)
def _trade(bits: NDArray[np.uint64], order: NDArray[np.int64], uniform: NDArray[np.float64]) -> None:
    """One round: each document trades with the one beside it in the order; ``uniform`` has a number for each bit."""
    used = 0
    for pair in range(order.shape[0] // 2):
        a, b = order[2 * pair], order[2 * pair + 1]
        wanted, left = 0, 0  # bits that a is still to get of those that are left
        for word in range(bits.shape[1]):
            wanted += _ones(bits[a, word] & ~bits[b, word])
            left += _ones(bits[a, word] ^ bits[b, word])
        if wanted == 0 or wanted == left:
            continue
        for word in range(bits.shape[1]):
            differing, taken = bits[a, word] ^ bits[b, word], np.uint64(0)
            rest = differing
            while rest != np.uint64(0):
                after = rest & (rest - np.uint64(1))
                if uniform[used] * left < wanted:
                    taken |= rest ^ after
                    wanted -= 1
                left -= 1
                used += 1
                rest = after
            bits[a, word] = bits[a, word] & bits[b, word] | taken
            bits[b, word] = bits[b, word] & ~differing | (differing & ~taken)


def _two_sided(
    observed: NDArray[np.int64],
    above: NDArray[np.float64],
    equal: NDArray[np.float64],
    permutations: int,
    mean: NDArray[np.float64],
    variance: NDArray[np.float64],
) -> NDArray[np.float64]:
    """Twice the smaller tail, with half of those tables that are as observed (mid-p; H. Lancaster 1961).

    A tail of fewer than ``_TAIL`` tables is too rough a share: it is that of the binomial distribution with the
    mean and variance of the tables, of the Poisson distribution where they vary as much as that.
    """
    from scipy.special import betainc, gammainc  # slow to import, and seldom needed

    share = 1.0 - variance / np.maximum(mean, 1e-12)
    binomial = (share > 1e-6) & (share < 1.0 - 1e-12)
    trials = mean / np.where(binomial, share, 1.0)

    def at_least(count: NDArray[Any]) -> NDArray[np.float64]:
        beyond = np.maximum(trials - count + 1.0, 1e-9)
        matched = betainc(np.maximum(count, 1e-9), beyond, np.where(binomial, share, 0.5))
        matched = np.where(count > trials + 1.0, 0.0, matched)
        found = np.where(binomial, matched, gammainc(np.maximum(count, 1e-9), np.maximum(mean, 1e-12)))
        return np.asarray(np.where(count <= 0, 1.0, found))

    upper = np.asarray(at_least(observed) + at_least(observed + 1)) / 2
    found = np.ones_like(mean)
    for tail, tables in ((upper, above), (1.0 - upper, permutations - above - equal)):
        counted = (tables + equal / 2 + 0.5) / (permutations + 1)
        found = np.minimum(found, np.where(tables + equal / 2 >= _TAIL, counted, tail))
    return np.asarray(np.clip(2 * found, 1e-12, 1.0))


def co_occurrence(
    held: NDArray[np.bool_], permutations: int = PERMUTATIONS, seed: int = 1, report: Report = silent
) -> CoOccurrence:
    """Hold the documents that have both topics of every pair against tables with the same margins.

    Parameters
    ----------
    held : bool[n_docs, n_topics], which topics each document has
    permutations : tables drawn

    Examples
    --------
    >>> held = np.tile(np.array([[1, 1, 0, 0], [0, 0, 1, 1]], dtype=bool), (40, 1))
    >>> found = co_occurrence(held, 99)
    >>> int(found.observed[0, 1]), bool(found.expected[0, 1] < 20), bool(found.p[0, 1] < 0.001)
    (40, True, True)
    """
    bits = packed(held[held.any(axis=1)])
    n, topics = len(bits), held.shape[1]
    observed, drawn = np.zeros((topics, topics), np.int64), np.zeros((topics, topics), np.int64)
    _count(bits, observed)
    most = int(np.diagonal(observed).sum())
    random = np.random.default_rng([seed, 43])
    total, squares = np.zeros((topics, topics)), np.zeros((topics, topics))
    above, equal = np.zeros((topics, topics)), np.zeros((topics, topics))
    for table in range(permutations):
        for _ in range(_BETWEEN if table else _BEFORE):
            _trade(bits, random.permutation(n), random.random(most))
        _count(bits, drawn)
        total += drawn
        squares += drawn.astype(np.float64) ** 2
        above += drawn > observed
        equal += drawn == observed
        report("Dealing topics out again", (table + 1) / permutations)
    mean = total / permutations
    variance = np.maximum(squares / permutations - mean**2, 0.0)
    p = _two_sided(observed, above, equal, permutations, mean, variance)
    np.fill_diagonal(p, 1.0)
    upper = np.triu_indices(topics, 1)
    over_all = np.ones((topics, topics))
    over_all[upper] = false_discovery_rates(p[upper])
    over_all = np.minimum(over_all, over_all.T)
    spread = np.sqrt(variance)
    return CoOccurrence(np.diagonal(observed).copy(), n, observed, mean, spread, p, over_all, permutations)
