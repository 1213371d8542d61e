"""Groups of documents round centres: k-means on sparse rows.

S. Lloyd, *Least squares quantization in PCM*, IEEE Transactions on Information Theory 28, 1982;
D. Arthur and S. Vassilvitskii, *k-means++: the advantages of careful seeding*, SODA 2007; spherical:
I. Dhillon and D. Modha, *Concept decompositions for large sparse text data using clustering*, Machine
Learning 42, 2001.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.distances import Rows, squared_lengths, unit_rows


class GroupSettings(BaseModel):
    """How documents are grouped."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    groups: int = Field(8, ge=2, le=500)
    seed: int = Field(1, ge=0, le=2**31 - 1)
    starts: int = Field(8, ge=1, le=100, description="of which the one with the least squares within is taken")
    spherical: bool = Field(True, description="by the angle alone: rows and centres have the length 1")
    iterations: int = Field(100, ge=1, le=1000)


@dataclass(frozen=True)
class Groups:
    """Documents in groups.

    Attributes
    ----------
    group : int32[n_rows], by falling size; -1 of a row without any number
    centres : float64[n_groups, n_columns]
    within : float64[n_groups], sum of the squared distances of the members from their centre
    total : sum of the squared distances of all from the centre of all
    iterations : of the start that was taken
    """

    group: NDArray[np.int32]
    centres: NDArray[np.float64]
    within: NDArray[np.float64]
    total: float
    iterations: int

    @property
    def between_share(self) -> float:
        """Of the total sum of squares, what lies between groups."""
        return 1.0 - float(self.within.sum()) / self.total if self.total > 0 else 0.0


def k_means(rows: Rows, settings: GroupSettings, report: Report = silent) -> Groups:
    """Group rows so that the squares within are least, of several starts.

    Parameters
    ----------
    rows : float64[n_rows, n_columns], counts or weights
    report : told how far it is

    Raises
    ------
    BadInputError
        where fewer rows than groups hold any number.
    """
    held = np.flatnonzero(np.diff(rows.indptr) > 0)
    if len(held) < settings.groups:
        raise BadInputError(
            f"{settings.groups} groups are more than the {len(held):,} documents with weights. Ask for fewer."
        )
    data = scipy.sparse.csr_matrix(rows[held], dtype=np.float64)
    data = unit_rows(data) if settings.spherical else data
    squares = squared_lengths(data)
    best: tuple[float, NDArray[np.int32], NDArray[np.float64], NDArray[np.float64], int] | None = None
    for start in range(settings.starts):
        chance = np.random.default_rng([settings.seed, settings.groups, start])
        centres = _spread_starts(data, squares, settings.groups, chance)
        found = _lloyd(data, squares, centres, settings, report, start)
        if best is None or found[0] < best[0]:
            best = found
    assert best is not None
    _, group, centres, distance, iterations = best
    order, place = by_falling_size(group, settings.groups)
    whole = np.full(rows.shape[0], -1, dtype=np.int32)
    whole[held] = place[group]
    within = np.bincount(place[group], distance, settings.groups).astype(np.float64)
    one = _means(data, np.zeros(len(held), np.int32), 1, settings.spherical)
    total = float(_own_distance(data, squares, one, np.zeros(len(held), np.int32)).sum())
    return Groups(whole, centres[order], within, total, iterations)


def by_falling_size(group: NDArray[np.int32], number: int) -> tuple[NDArray[np.int64], NDArray[np.int32]]:
    """The groups, the largest first, int64[n_groups], and the place of each in that order, int32[n_groups]."""
    order = np.argsort(-np.bincount(group, minlength=number), kind="stable")
    return order, np.argsort(order).astype(np.int32)


def _spread_starts(
    data: Rows, squares: NDArray[np.float64], number: int, chance: np.random.Generator
) -> NDArray[np.float64]:
    """Rows far from one another: each with a chance that rises with its squared distance from those before."""
    chosen = [int(chance.integers(data.shape[0]))]
    nearest = np.full(data.shape[0], np.inf)
    while len(chosen) < number:
        centre = data[[chosen[-1]]].toarray()
        nearest = np.minimum(nearest, _to_centres(data, squares, centre)[1])
        running = np.cumsum(nearest)
        if running[-1] > 0:
            chosen.append(int(min(np.searchsorted(running, chance.random() * running[-1], "right"), len(running) - 1)))
        else:  # fewer rows that differ than groups
            chosen.append(int(chance.integers(data.shape[0])))
    return np.asarray(data[chosen].toarray(), dtype=np.float64)


def _lloyd(
    data: Rows,
    squares: NDArray[np.float64],
    centres: NDArray[np.float64],
    settings: GroupSettings,
    report: Report,
    start: int,
) -> tuple[float, NDArray[np.int32], NDArray[np.float64], NDArray[np.float64], int]:
    """Assign and move in turn until no row changes its group."""
    group = np.full(data.shape[0], -1, dtype=np.int32)
    for iteration in range(1, settings.iterations + 1):
        report("Grouping", (start + iteration / settings.iterations) / settings.starts, start=start + 1)
        nearest, distance = _to_centres(data, squares, centres)
        _fill_empty(nearest, distance, len(centres))
        if (nearest == group).all():
            break
        group = nearest
        centres = _means(data, group, len(centres), settings.spherical)
    own = _own_distance(data, squares, centres, group)
    return float(own.sum()), group, centres, own, iteration


def _to_centres(
    data: Rows, squares: NDArray[np.float64], centres: NDArray[np.float64]
) -> tuple[NDArray[np.int32], NDArray[np.float64]]:
    """The nearest centre of each row, and the squared distance from it."""
    turned = np.ascontiguousarray(centres.T)
    nearest, best = _nearest(data.indptr, data.indices, data.data, turned, (centres**2).sum(axis=1))
    return nearest, np.maximum(squares + best, 0.0)


def _own_distance(
    data: Rows, squares: NDArray[np.float64], centres: NDArray[np.float64], group: NDArray[np.int32]
) -> NDArray[np.float64]:
    """Squared distance of each row from the centre of its group."""
    product = _with_own(data.indptr, data.indices, data.data, centres, group)
    return np.maximum(squares - 2 * product + (centres**2).sum(axis=1)[group], 0.0)


def _fill_empty(nearest: NDArray[np.int32], distance: NDArray[np.float64], number: int) -> None:
    """Give a group without members the row that lies farthest from its centre."""
    sizes = np.bincount(nearest, minlength=number)
    for empty in np.flatnonzero(sizes == 0).tolist():
        free = np.where(sizes[nearest] > 1, distance, -1.0)
        far = int(np.argmax(free))
        sizes[nearest[far]] -= 1
        nearest[far], distance[far], sizes[empty] = empty, 0.0, 1


def _means(data: Rows, group: NDArray[np.int32], number: int, spherical: bool) -> NDArray[np.float64]:
    """The mean of each group, brought to the length 1 where only angles count."""
    sums = np.zeros((number, data.shape[1]))
    _add_rows(data.indptr, data.indices, data.data, group, sums)
    size = np.sqrt((sums**2).sum(axis=1)) if spherical else np.bincount(group, minlength=number).astype(np.float64)
    return np.asarray(sums / np.maximum(size, 1e-300)[:, None])


@njit(cache=True, nogil=True)
def _nearest(pointer: Any, columns: Any, values: Any, turned: Any, squares: Any) -> Any:
    """The nearest of centres float64[n_columns, n_centres] for each row, and |c|² − 2 c·x, the least."""
    rows, number = len(pointer) - 1, turned.shape[1]
    nearest, best = np.zeros(rows, np.int32), np.zeros(rows)
    product = np.zeros(number)
    for row in range(rows):
        product[:] = 0.0
        for cell in range(pointer[row], pointer[row + 1]):
            column, value = columns[cell], values[cell]
            for centre in range(number):
                product[centre] += value * turned[column, centre]
        least, at = np.inf, 0
        for centre in range(number):
            apart = squares[centre] - 2.0 * product[centre]
            if apart < least:
                least, at = apart, centre
        nearest[row], best[row] = at, least
    return nearest, best


@njit(cache=True, nogil=True)
def _add_rows(pointer: Any, columns: Any, values: Any, group: Any, sums: Any) -> None:
    for row in range(len(pointer) - 1):
        for cell in range(pointer[row], pointer[row + 1]):
            sums[group[row], columns[cell]] += values[cell]


@njit(cache=True, nogil=True)
def _with_own(pointer: Any, columns: Any, values: Any, centres: Any, group: Any) -> Any:
    """Inner product of each row with the centre of its group."""
    product = np.zeros(len(group))
    for row in range(len(group)):
        for cell in range(pointer[row], pointer[row + 1]):
            product[row] += values[cell] * centres[group[row], columns[cell]]
    return product
