"""A map: items laid out in the plane so that neighbours stay neighbours.

L. van der Maaten and G. Hinton, *Visualizing data using t-SNE*, JMLR 9, 2008 (nearness in the plane by Student's
kernel, the width of each item's neighbourhood by its entropy); J. Tang, J. Liu, M. Zhang and Q. Mei, *Visualizing
large-scale and high-dimensional data*, WWW 2016 (neighbours attract, items drawn at random repel); D. Kobak and G.
Linderman, *Initialization is critical for preserving global data structure*, Nature Biotechnology 39, 2021 (begun
from the leading components).
"""

from __future__ import annotations

from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.progress import Report, check_wanted, silent
from skeinwork.core.relate.neighbours import Neighbours
from skeinwork.core.relate.truncated_svd import truncated_svd

VERSION = 1
_EPOCHS = 200
# Meetings of an item with its neighbours in an epoch, and with others drawn at random for each of them.
_MEETINGS, _OTHERS = 12, 4
# Of the neighbours that are looked for, those that a neighbourhood's entropy counts as one each.
_EVEN = 3
# Steps no longer than this, in units of the map.
_LONGEST = 4.0
# Passes after which the places to begin with are near enough.
_ROUGHLY = 8
_BEGIN = 3.0  # standard deviation of the map as it begins


def affinities(found: Neighbours) -> scipy.sparse.csr_matrix:
    """How much items attract each other: of each what falls to its neighbours sums to 1, then both ways averaged.

    Parameters
    ----------
    found : of n_items

    Returns
    -------
    csr float64[n_items, n_items], symmetric, of sum n_items
    """
    n, k = found.near.shape
    squares = np.maximum(2.0 - 2.0 * found.cosine.astype(np.float64), 0.0)
    one_way = np.empty((n, k))
    _shared_out(squares, np.log(max(k / _EVEN, 1.0)), one_way)
    # What exp gives differs between machines in its last bits, and a layout makes much of little.
    one_way = np.round(one_way, 9)
    pointer = np.arange(0, n * k + 1, k)
    made = scipy.sparse.csr_matrix((one_way.ravel(), found.near.ravel().astype(np.int64), pointer), shape=(n, n))
    both = scipy.sparse.csr_matrix((made + made.T) / 2)
    both.sort_indices()
    return both


def lay_out(
    attract: scipy.sparse.csr_matrix,
    begun: NDArray[np.float64],
    tightness: float = 1.0,
    seed: int = 1,
    report: Report = silent,
) -> NDArray[np.float32]:
    """Places in the plane, float32[n_items, 2].

    Parameters
    ----------
    attract : of ``affinities``
    begun : float64[n_items, 2], places to begin with
    tightness : how strongly neighbours attract against what repels
    seed : of the items that repel
    """
    places = np.ascontiguousarray(begun, dtype=np.float64).copy()
    row = np.repeat(np.arange(attract.shape[0]), np.diff(attract.indptr))
    once = row < attract.indices  # a pair moves both
    one, other = row[once].astype(np.int64), attract.indices[once].astype(np.int64)
    rate = _MEETINGS * attract.data[once]
    chance = np.random.default_rng(seed)
    phase, order = chance.random(len(one)), chance.permutation(len(one))
    one, other, rate = one[order], other[order], rate[order]
    state = np.array([chance.integers(1, 2**63)], dtype=np.uint64)
    for epoch in range(_EPOCHS):
        check_wanted()
        report("Laying out", epoch / _EPOCHS)
        step = 1.0 - epoch / _EPOCHS
        _epoch(places, one, other, rate, phase, epoch, step, tightness, state)
    return (places - places.mean(axis=0)).astype(np.float32)


def begin(vectors: NDArray[np.float32], seed: int = 1) -> NDArray[np.float64]:
    """The two leading components of vectors, float64[n_items, 2], to begin a map with."""
    middle = vectors.astype(np.float64).mean(axis=0)
    found = truncated_svd(np.asarray(vectors - middle, dtype=np.float32), 2, seed, most_passes=_ROUGHLY)
    places = np.zeros((len(vectors), 2))
    places[:, : len(found.values)] = found.left * found.values
    spread = places.std(axis=0).max(initial=0.0)
    jitter = np.random.default_rng(seed).normal(0, 0.01, places.shape)  # what is alike does not lie in one place
    return np.asarray(places * (_BEGIN / spread if spread > 0 else 0.0) + jitter)


@njit(cache=True, nogil=True)
def _shared_out(squares: Any, entropy: float, out: Any) -> None:
    """Gaussian weights of each row with the width that gives them an entropy, by halving."""
    n, k = squares.shape
    for item in range(n):
        nearest = squares[item].min()
        low, high, precision = 0.0, np.inf, 1.0
        for _ in range(50):
            whole, mean = 0.0, 0.0
            for at in range(k):
                weight = np.exp(-precision * (squares[item, at] - nearest))
                out[item, at] = weight
                whole += weight
                mean += weight * (squares[item, at] - nearest)
            if np.log(whole) + precision * mean / whole > entropy:
                low = precision
                precision = precision * 2 if np.isinf(high) else (low + high) / 2
            else:
                high = precision
                precision = (low + high) / 2
        for at in range(k):
            out[item, at] /= whole


@njit(cache=True, nogil=True)
def _epoch(
    places: Any, one: Any, other: Any, rate: Any, phase: Any, epoch: int, step: float, tightness: float, state: Any
) -> None:
    """Every pair meets as often as it attracts; each of its items is repelled by some drawn at random."""
    n = len(places)
    for pair in range(len(one)):
        begins = np.floor(epoch * rate[pair] + phase[pair])
        meetings = int(np.floor((epoch + 1) * rate[pair] + phase[pair]) - begins)
        for _ in range(meetings):
            i, j = one[pair], other[pair]
            x, y = places[i, 0] - places[j, 0], places[i, 1] - places[j, 1]
            pull = 2.0 * tightness / (1.0 + x * x + y * y)
            x, y = _bounded(pull * x) * step, _bounded(pull * y) * step
            places[i, 0] -= x
            places[i, 1] -= y
            places[j, 0] += x
            places[j, 1] += y
            for item in (i, j):
                for _ in range(_OTHERS):
                    far = _drawn(state, n)
                    if far != item:
                        x, y = places[item, 0] - places[far, 0], places[item, 1] - places[far, 1]
                        square = x * x + y * y
                        push = 2.0 / ((0.1 + square) * (1.0 + square))
                        places[item, 0] += _bounded(push * x) * step
                        places[item, 1] += _bounded(push * y) * step


@njit(cache=True, nogil=True)
def _bounded(value: float) -> float:
    return min(max(value, -_LONGEST), _LONGEST)


@njit(cache=True, nogil=True)
def _drawn(state: Any, n: int) -> int:
    """An item at random (xorshift)."""
    value = state[0]
    value ^= value << np.uint64(13)
    value ^= value >> np.uint64(7)
    value ^= value << np.uint64(17)
    state[0] = value
    return int((value >> np.uint64(11)) % np.uint64(n))
