"""How a vocabulary is spread: its frequency spectrum, ranks (Zipf) and growth (Heaps)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Pairs = list[tuple[int, int]]


def spectrum(values: NDArray[np.int64]) -> Pairs:
    """(value, how many terms have it) of values, int64[n_terms], by rising value; zeros are left out.

    >>> spectrum(np.array([1, 3, 1, 0]))
    [(1, 2), (3, 1)]
    """
    found, counts = np.unique(values[values > 0], return_counts=True)
    return list(zip(found.tolist(), counts.tolist(), strict=True))


def _spaced(last: int, points: int) -> NDArray[np.int64]:
    """Whole numbers from 1 to ``last``, evenly spaced on a logarithmic scale."""
    return np.unique(np.rint(np.geomspace(1, max(last, 1), points)).astype(np.int64))


def ranked(totals: NDArray[np.int64], points: int = 200) -> Pairs:
    """(rank, total) of terms, int64[n_terms], by falling total: Zipf's curve.

    >>> ranked(np.array([5, 9, 1]))
    [(1, 9), (2, 5), (3, 1)]
    """
    falling = np.sort(totals[totals > 0])[::-1]
    if not len(falling):
        return []
    ranks = _spaced(len(falling), points)
    return list(zip(ranks.tolist(), falling[ranks - 1].tolist(), strict=True))


@dataclass(frozen=True)
class Growth:
    """Distinct words against words read, in the order of the documents: Heaps' curve.

    Attributes
    ----------
    points : (words read, distinct words)
    half : distinct words in the first half of the words
    last_tenth : words that the last tenth brings for the first time
    """

    points: Pairs
    half: int
    last_tenth: int


def growth(words: NDArray[np.int32], points: int = 120) -> Growth:
    """How the vocabulary grows with the words read.

    Parameters
    ----------
    words : int[n_tokens], the word of each token, -1 for none

    >>> growth(np.array([0, 1, 0, -1, 2, 0]))
    Growth(points=[(1, 1), (2, 2), (3, 2), (4, 3), (5, 3)], half=2, last_tenth=0)
    """
    read = words[words >= 0]
    if not len(read):
        return Growth([], 0, 0)
    first = np.sort(np.unique(read, return_index=True)[1])
    at = _spaced(len(read), points)
    if len(read) <= points:
        at = np.arange(1, len(read) + 1)
    seen = np.searchsorted(first, at)
    half, tenth = np.searchsorted(first, [len(read) // 2, len(read) - len(read) // 10])
    pairs = list(zip(at.tolist(), seen.tolist(), strict=True))
    return Growth(pairs, int(half), int(len(first) - tenth))
