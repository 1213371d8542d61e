"""Groups of documents round one of them: k-medoids.

L. Kaufman and P. Rousseeuw, *Finding groups in data*, Wiley 1990; swaps after E. Schubert and
P. Rousseeuw, *Fast and eager k-medoids clustering*, Information Systems 101, 2021.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.distances import MOST_ITEMS, Rows, distances
from skeinwork.core.relate.groups import by_falling_size

_SAMPLES = 5  # Kaufman and Rousseeuw 1990, chapter 3
_SAMPLE = 1500
_CHUNK = 1000


@dataclass(frozen=True)
class Medoids:
    """Items in groups, each round one of its members.

    Attributes
    ----------
    medoid : int64[n_groups], the item in the middle of each group, by falling size of the groups
    group : int32[n_items]
    apart : float64[n_items], the distance of each item from the middle of its group
    total : the sum of these where all are one group
    """

    medoid: NDArray[np.int64]
    group: NDArray[np.int32]
    apart: NDArray[np.float64]
    total: float


def k_medoids(distances: NDArray[np.float64], groups: int, seed: int = 1, starts: int = 4) -> Medoids:
    """Choose the items round which the distances of all others are least, of several starts.

    No single swap of a middle for another item makes their sum less.

    Parameters
    ----------
    distances : float64[n_items, n_items], symmetric

    Raises
    ------
    BadInputError
        for more groups than items.

    Examples
    --------
    >>> line = np.array([0.0, 1.0, 2.0, 8.0, 9.0])
    >>> found = k_medoids(np.abs(line[:, None] - line[None, :]), 2)
    >>> found.medoid.tolist(), found.group.tolist()
    ([1, 3], [0, 0, 0, 1, 1])
    """
    n = len(distances)
    if groups > n:
        raise BadInputError(f"{groups} groups are more than the {n:,} documents. Ask for fewer.")
    best: tuple[float, NDArray[np.int64]] | None = None
    for start in range(starts):
        chance = np.random.default_rng([seed, groups, start])
        medoids = _spread_starts(distances, groups, chance)
        _swap(distances, medoids)
        loss = float(distances[:, medoids].min(axis=1).sum())
        if best is None or loss < best[0]:
            best = loss, medoids
    assert best is not None
    medoid = np.sort(best[1])
    nearest = distances[:, medoid].argmin(axis=1)
    nearest[medoid] = np.arange(groups)  # its own, also where another lies on the same place
    order, place = by_falling_size(nearest.astype(np.int32), groups)
    total = float(distances.sum(axis=0).min())
    return Medoids(medoid[order], place[nearest], distances[np.arange(n), medoid[nearest]], total)


def medoids_of_rows(rows: Rows, by: str, groups: int, seed: int = 1, report: Report = silent) -> Medoids:
    """The same from rows; of more than ``MOST_ITEMS`` the best middles of some samples count for all.

    Parameters
    ----------
    rows : float64[n_items, n_columns]
    by : a key of ``DISTANCES``, of those that look at two items alone
    """
    n = rows.shape[0]
    if n <= MOST_ITEMS:
        report("Measuring distances", 0.1)
        return k_medoids(distances(rows, by), groups, seed)
    best: tuple[float, NDArray[np.int64], NDArray[np.float64]] | None = None
    total = np.inf
    for number in range(_SAMPLES):
        report("Grouping samples", number / _SAMPLES)
        sample = np.sort(np.random.default_rng([seed, groups, number]).choice(n, max(_SAMPLE, 2 * groups), False))
        between = distances(rows[sample], by)
        middles = sample[k_medoids(between, groups, seed).medoid]
        one = sample[[int(between.sum(axis=0).argmin())]]
        total = min(total, float(to_items(rows, one, by).sum()))
        apart = to_items(rows, middles, by)
        loss = float(apart.min(axis=1).sum())
        if best is None or loss < best[0]:
            best = loss, middles, apart
    assert best is not None
    _, middles, apart = best
    nearest = apart.argmin(axis=1)
    nearest[middles] = np.arange(groups)
    order, place = by_falling_size(nearest.astype(np.int32), groups)
    return Medoids(middles[order], place[nearest], apart[np.arange(n), nearest], total)


def to_items(rows: Rows, items: NDArray[np.int64], by: str) -> NDArray[np.float64]:
    """Distance of every row from some of them, float64[n_rows, n_items]."""
    some, n = rows[items], len(items)
    parts = []
    for begins in range(0, rows.shape[0], _CHUNK):
        both = scipy.sparse.vstack([some, rows[begins : begins + _CHUNK]]).tocsr()
        parts.append(distances(both, by)[n:, :n])
    return np.concatenate(parts)


def _spread_starts(distances: NDArray[np.float64], groups: int, chance: np.random.Generator) -> NDArray[np.int64]:
    """Items far from one another, each with a chance that rises with its distance from those before."""
    chosen = [int(chance.integers(len(distances)))]
    while len(chosen) < groups:
        nearest = distances[:, chosen].min(axis=1)
        nearest[chosen] = 0.0
        if not nearest.any():  # all that are left lie where one is chosen
            nearest = np.ones(len(distances))
            nearest[chosen] = 0.0
        running = np.cumsum(nearest)
        chosen.append(int(np.searchsorted(running, chance.random() * running[-1], "right")))
    return np.array(chosen, dtype=np.int64)


@njit(cache=True, nogil=True)
def _swap(distances: Any, medoids: Any) -> None:
    """Swap middles for items, each as soon as the sum falls, until none does."""
    n, k = len(distances), len(medoids)
    nearest, near, second = np.zeros(n, np.int64), np.zeros(n), np.zeros(n)
    gains, losses = np.zeros(k), np.zeros(k)
    _assign(distances, medoids, nearest, near, second, losses)
    changed = True
    while changed:
        changed = False
        for item in range(n):
            if near[item] == 0.0:
                continue
            gains[:] = losses
            whole = 0.0
            for each in range(n):
                apart = distances[item, each]
                if apart < near[each]:
                    whole += apart - near[each]
                    gains[nearest[each]] += near[each] - second[each]
                elif apart < second[each]:
                    gains[nearest[each]] += apart - second[each]
            best = 0
            for medoid in range(k):
                if gains[medoid] < gains[best]:
                    best = medoid
            if gains[best] + whole < -1e-9:
                medoids[best] = item
                _assign(distances, medoids, nearest, near, second, losses)
                changed = True


@njit(cache=True, nogil=True)
def _assign(distances: Any, medoids: Any, nearest: Any, near: Any, second: Any, losses: Any) -> None:
    """The nearest middle of each item, how far it is, and how far the next; what is lost without each middle.

    With one middle alone the next is far.
    """
    losses[:] = 0.0
    far = 2.0 * distances.max() + 1.0
    for each in range(len(distances)):
        near[each], second[each] = far, far
        for at in range(len(medoids)):
            apart = distances[medoids[at], each]
            if apart < near[each]:
                second[each] = near[each]
                near[each], nearest[each] = apart, at
            elif apart < second[each]:
                second[each] = apart
        losses[nearest[each]] += second[each] - near[each]
