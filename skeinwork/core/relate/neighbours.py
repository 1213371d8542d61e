"""Nearest neighbours by the angle between vectors: exact where there are few, among near cells where there are many.

J. Sivic and A. Zisserman, *Video Google: a text retrieval approach to object matching in videos*, ICCV 2003
(items are looked for among those of the nearest centres).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.progress import Report, check_wanted, silent

VERSION = 1
# Items up to which all are compared with all: with 100 numbers each that takes some 6 s.
EXACT = 20_000
# Of the cells, so many are searched for each item: planted clusters of 50,000 lose under 2 in 100 neighbours.
_CELLS = 24
_ROUNDS = 4
_TILE = 256


@dataclass(frozen=True)
class Neighbours:
    """The nearest other items of each.

    Attributes
    ----------
    near : int32[n_items, k], the nearest first
    cosine : float32[n_items, k]
    """

    near: NDArray[np.int32]
    cosine: NDArray[np.float32]


def unit_vectors(vectors: NDArray[Any]) -> NDArray[np.float32]:
    """The vectors brought to the length 1; one without length stays as it is."""
    squares = np.zeros(len(vectors))
    _squares(np.ascontiguousarray(vectors), squares)
    length = np.sqrt(squares)
    return np.asarray(vectors / np.where(length > 0, length, 1.0)[:, None], dtype=np.float32)


def neighbours(vectors: NDArray[np.float32], k: int, seed: int = 1, report: Report = silent) -> Neighbours:
    """The ``k`` nearest other items of each, by cosine.

    Parameters
    ----------
    vectors : float32[n_items, n_dimensions] of length 1
    k : under the number of items
    seed : of the cells, where there are many items

    Examples
    --------
    >>> at = np.array([[1, 0], [0.8, 0.6], [0, 1]], np.float32)
    >>> neighbours(at, 1).near.ravel().tolist()
    [1, 0, 1]
    """
    n = len(vectors)
    near, cosine = np.full((n, k), -1, np.int32), np.full((n, k), -2.0, np.float32)
    if n <= EXACT:
        order, members = np.arange(n), [np.arange(n)]
        asked = [[0]]
    else:
        order, members, asked = _cells(vectors, seed, report)
    turned, names = np.ascontiguousarray(vectors[order].T), order.astype(np.int32)
    starts = np.concatenate([[0], np.cumsum([len(each) for each in members])]).astype(np.int64)
    spans = [np.array([[starts[cell], starts[cell + 1]] for cell in cells], np.int64) for cells in asked]
    for cell, here in enumerate(members):
        for begins in range(0, len(here), _TILE):
            check_wanted()
            report("Finding neighbours", float(starts[cell] + begins) / n)
            part = here[begins : begins + _TILE].astype(np.int64)
            _search(vectors[part], part, turned, names, spans[cell], near, cosine)
    return Neighbours(near, cosine)


def _cells(
    vectors: NDArray[np.float32], seed: int, report: Report
) -> tuple[NDArray[np.int64], list[NDArray[np.int64]], list[list[int]]]:
    """Items by the centre that they are nearest to, and of each cell those that are searched, itself first."""
    chance = np.random.default_rng(seed)
    number = int(np.sqrt(len(vectors)))
    centres = vectors[np.sort(chance.choice(len(vectors), number, replace=False))]
    sample = vectors[np.sort(chance.choice(len(vectors), min(len(vectors), 60 * number), replace=False))]
    for done in range(_ROUNDS):
        report("Finding neighbours", 0.0, round=done)
        sums = np.zeros((number, vectors.shape[1]))
        cell = nearest_centres(sample, centres)
        for each in range(number):
            sums[each] = sample[cell == each].astype(np.float64).sum(axis=0)
        filled = (sums != 0).any(axis=1)
        centres = np.where(filled[:, None], unit_vectors(sums), centres)
    cell = nearest_centres(vectors, centres)
    order = np.argsort(cell, kind="stable")
    members = np.split(order, np.cumsum(np.bincount(cell, minlength=number))[:-1])
    between = neighbours(centres, min(_CELLS, number - 1)).near
    asked = [[at, *between[at].tolist()] for at in range(number)]
    return order, members, asked


def nearest_centres(vectors: NDArray[np.float32], centres: NDArray[np.float32]) -> NDArray[np.int32]:
    """Of each vector the centre of the greatest inner product, int32[n_items]."""
    found = np.empty(len(vectors), np.int32)
    _to_centre(np.ascontiguousarray(vectors), np.ascontiguousarray(centres.T), found)
    return found


@njit(cache=True, nogil=True)
def _squares(vectors: Any, out: Any) -> None:
    for item in range(vectors.shape[0]):
        for feature in range(vectors.shape[1]):
            out[item] += np.float64(vectors[item, feature]) * np.float64(vectors[item, feature])


@njit(cache=True, nogil=True)
def _to_centre(vectors: Any, turned: Any, out: Any) -> None:
    n = turned.shape[1]
    product = np.empty(n, np.float32)
    for item in range(vectors.shape[0]):
        product[:] = 0.0
        for feature in range(turned.shape[0]):
            value, row = vectors[item, feature], turned[feature]
            for centre in range(n):
                product[centre] += value * row[centre]
        out[item] = np.argmax(product)


@njit(cache=True, nogil=True)
def _search(asked: Any, names: Any, turned: Any, order: Any, spans: Any, near: Any, cosine: Any) -> None:
    """Keep the nearest of the items in ``spans`` of ``order`` for each of those asked about, best first.

    Products of a tile are summed feature by feature, so that the same items give the same bytes wherever they lie.
    """
    k, dimensions = near.shape[1], turned.shape[0]
    product = np.empty(_TILE, np.float32)
    for at in range(len(names)):
        item = names[at]
        for span in range(len(spans)):
            for begins in range(spans[span, 0], spans[span, 1], _TILE):
                size = min(_TILE, spans[span, 1] - begins)
                sums = product[:size]
                sums[:] = 0.0
                for feature in range(dimensions):
                    value, tile = asked[at, feature], turned[feature, begins : begins + size]
                    for place in range(size):
                        sums[place] += value * tile[place]
                least = cosine[item, k - 1]
                for place in range(size):
                    if sums[place] > least and order[begins + place] != item:
                        _insert(near, cosine, item, order[begins + place], sums[place])
                        least = cosine[item, k - 1]


@njit(cache=True, nogil=True)
def _insert(near: Any, cosine: Any, item: Any, other: Any, value: Any) -> None:
    at = near.shape[1] - 1
    while at > 0 and cosine[item, at - 1] < value:
        cosine[item, at], near[item, at] = cosine[item, at - 1], near[item, at - 1]
        at -= 1
    cosine[item, at], near[item, at] = value, other
