"""How much more of a topic a group holds than the others: estimate, interval, permutation p.

The interval is made from the two cells' own (R. Newcombe, *Interval estimation for the difference
between independent proportions*, 1998) with the correlation of units that are in both (G. Zou and
A. Donner, *Construction of confidence limits about effect measures: a general approach*, 2008). p is
that of the studentised difference when groups are dealt out anew over the units (E. Chung and
J. Romano, *Exact and asymptotically robust permutation tests*, 2013); a unit with documents in
several groups has them dealt out among its own. Far out p follows from the moments of the dealt-out
differences (P. Mielke and K. Berry, *Permutation methods: a distance function approach*, 2001,
Pearson's type III). All are adjusted together (Y. Benjamini and
Y. Hochberg, *Controlling the false discovery rate*, 1995).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.prevalence.prevalence import (
    LEAST_UNITS,
    MOST_LEVERAGE,
    Moments,
    freedom,
    interval_of,
    moments,
)
from skeinwork.core.prevalence.totals import UnitTotals

PERMUTATIONS = 5000
LEAST_P = 1e-6  # smaller ones rest on the far end of a distribution that nobody has seen
MOST_PERMUTED = 10_000  # rows; with more, p is that of the distribution which permutations tend to


@dataclass(frozen=True)
class Differences:
    """Each cell against all others together.

    Attributes
    ----------
    difference, low, high : float64[n_cells, n_topics], share of the cell less that of the others
    p, adjusted : float64[n_cells, n_topics]
    permutations : how many; 0 where p is that of the t distribution

    All are NaN where the cell or the others have fewer than ``LEAST_UNITS`` units.
    """

    difference: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    p: NDArray[np.float64]
    adjusted: NDArray[np.float64]
    permutations: int


@njit(cache=True, nogil=True)
def _rest(
    starts: Any, cell: Any, weight: Any, indptr: Any, topic: Any, amount: Any, share: Any,
    sums: Any, rest: Any, rest_share: Any,
) -> Any:  # fmt: skip
    """How the units of all other cells together scatter about their share, for every cell.

    Parameters
    ----------
    starts : where the rows of each unit begin, rows being sorted by unit
    share, rest_share : float64[n_cells, n_topics], of the cell and of the others
    sums, rest : float64[n_cells], weight of the cell and of the others

    Returns
    -------
    float64[3, n_cells, n_topics]: sums of squared residuals, of their fourth powers, and of products
    with those of the same unit in the cell; float64[2, n_cells]: units, and squared parts
    """
    n_cells, n_topics = share.shape
    found = np.zeros((3, n_cells, n_topics))
    sizes = np.zeros((2, n_cells))
    other, own = np.zeros(n_topics), np.zeros(n_topics)
    touched = np.empty(n_topics, dtype=np.int64)
    for c in range(n_cells):
        if sums[c] <= 0 or rest[c] <= 0:
            continue
        absent2, absent4 = 0.0, 0.0
        for unit in range(len(starts) - 1):
            away, here, n_touched = 0.0, 0.0, 0
            for row in range(starts[unit], starts[unit + 1]):
                if cell[row] == c:
                    here += weight[row]
                    for at in range(indptr[row], indptr[row + 1]):
                        own[topic[at]] += amount[at]
                    continue
                away += weight[row]
                for at in range(indptr[row], indptr[row + 1]):
                    if other[topic[at]] == 0.0:
                        touched[n_touched] = topic[at]
                        n_touched += 1
                    other[topic[at]] += amount[at]
            if away > 0:
                part = away / rest[c]
                lever = 1.0 / (1.0 - min(part, MOST_LEVERAGE))
                sizes[0, c] += 1.0
                sizes[1, c] += part * part
                absent2 += lever * part**2
                absent4 += lever**2 * part**4
                for at in range(n_touched):
                    k = touched[at]
                    none = rest_share[c, k] * part
                    residual = other[k] / rest[c] - none
                    found[0, c, k] += lever * (residual**2 - none**2)
                    found[1, c, k] += lever**2 * (residual**4 - none**4)
            if away > 0 and here > 0:
                for k in range(n_topics):
                    left = other[k] / rest[c] - rest_share[c, k] * away / rest[c]
                    right = own[k] / sums[c] - share[c, k] * here / sums[c]
                    found[2, c, k] += left * right
            for at in range(n_touched):
                other[touched[at]] = 0.0
            if here > 0:
                own[:] = 0.0
        for k in range(n_topics):
            found[0, c, k] += absent2 * rest_share[c, k] ** 2
            found[1, c, k] += absent4 * rest_share[c, k] ** 4
    return found, sizes


def others_of(totals: UnitTotals, own: Moments) -> tuple[Moments, NDArray[np.float64]]:
    """Of all other cells together, for every cell; and the covariance with it, [n_cells, n_topics]."""
    rest = own.weight.sum() - own.weight
    held = own.share * own.weight[:, None]
    share = (held.sum(axis=0) - held) / np.maximum(rest, 1e-300)[:, None]
    rows = totals.ordered(np.argsort(totals.unit, kind="stable"))
    starts = np.append(np.flatnonzero(np.diff(rows.unit, prepend=-1)), len(rows.unit))
    found, sizes = _rest(
        starts, rows.cell, rows.weight, rows.indptr, rows.topic, rows.amount, own.share, own.weight,
        rest, share,
    )  # fmt: skip
    others = Moments(
        share, np.maximum(found[0], 0.0), freedom(found[0], found[1]), sizes[0].astype(np.int64),
        np.divide(1.0, sizes[1], out=np.zeros(len(rest)), where=sizes[1] > 0), rest,
    )  # fmt: skip
    return others, found[2]


def _intervals(
    totals: UnitTotals,
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64], NDArray[np.bool_]]:
    """Differences with both ends, and which cells and others have units enough."""
    own = moments(totals)
    others, together = others_of(totals, own)
    each = interval_of(own, totals.spread)
    rest = interval_of(others, _others_spread(totals.spread, own.weight))
    apart = np.sqrt(own.variance * others.variance)
    shared = np.clip(np.divide(together, apart, out=np.zeros_like(apart), where=apart > 0), -1, 1)
    below, above = (
        (own.share - each[0], others.share - rest[0]),
        (each[1] - own.share, rest[1] - others.share),
    )
    down = below[0] ** 2 + above[1] ** 2 - 2 * shared * below[0] * above[1]
    up = above[0] ** 2 + below[1] ** 2 - 2 * shared * above[0] * below[1]
    difference = own.share - others.share
    usable = (own.units >= LEAST_UNITS) & (others.units >= LEAST_UNITS)
    return difference, difference - np.sqrt(down), difference + np.sqrt(up), usable


@njit(cache=True, nogil=True)
def _next(state: Any) -> Any:
    """The next of a SplitMix64 stream (G. Steele and others, 2014)."""
    state[0] += np.uint64(0x9E3779B97F4A7C15)
    z = state[0]
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    return z ^ (z >> np.uint64(31))


@njit(cache=True, nogil=True)
def _deal(cell: Any, bounds: Any, state: Any) -> None:
    """Shuffle the cells of the rows within each stratum, in place."""
    for stratum in range(len(bounds) - 1):
        first = bounds[stratum]
        for at in range(bounds[stratum + 1] - 1, first, -1):
            place = np.float64(_next(state) >> np.uint64(11)) * (1.0 / 9007199254740992.0)
            other = first + np.int64(place * (at - first + 1))
            cell[at], cell[other] = cell[other], cell[at]


@njit(cache=True, nogil=True)
def _studentised(
    cell: Any, weight: Any, indptr: Any, topic: Any, amount: Any, n_cells: int, n_topics: int
) -> Any:
    """Difference of each cell from the others over its standard error, float64[n_cells, n_topics]."""
    sums = np.zeros((3, n_cells, n_topics))
    weights = np.zeros((3, n_cells))
    for row in range(len(cell)):
        c, w = cell[row], weight[row]
        weights[0, c] += 1.0
        weights[1, c] += w
        weights[2, c] += w * w
        for at in range(indptr[row], indptr[row + 1]):
            k, y = topic[at], amount[at]
            sums[0, c, k] += y
            sums[1, c, k] += y * y
            sums[2, c, k] += y * w
    every, weighed = sums.sum(axis=1), weights.sum(axis=1)
    found = np.zeros((n_cells, n_topics))
    for c in range(n_cells):
        n, w, ww = weights[0, c], weights[1, c], weights[2, c]
        m, v, vv = weighed[0] - n, weighed[1] - w, weighed[2] - ww
        if n < 2 or m < 2 or w <= 0 or v <= 0:
            continue
        for k in range(n_topics):
            p = sums[0, c, k] / w
            q = (every[0, k] - sums[0, c, k]) / v
            first = (sums[1, c, k] - 2 * p * sums[2, c, k] + p * p * ww) / (w * w) * n / (n - 1)
            rest = every[1, k] - sums[1, c, k] - 2 * q * (every[2, k] - sums[2, c, k]) + q * q * vv
            error = first + rest / (v * v) * m / (m - 1)
            if error > 1e-24:
                found[c, k] = (p - q) / np.sqrt(error)
    return found


@njit(cache=True, nogil=True)
def _permuted(
    cell: Any, bounds: Any, weight: Any, indptr: Any, topic: Any, amount: Any, observed: Any,
    permutations: int, seed: int,
) -> Any:  # fmt: skip
    """What dealing the cells out anew gives.

    Returns
    -------
    int64[2, n_cells, n_topics], how often as great a difference, and as small a one
    float64[3, n_cells, n_topics], sums of the differences, their squares and cubes
    """
    n_cells, n_topics = observed.shape
    state = np.array([seed + 1], dtype=np.uint64)
    hits = np.zeros((2, n_cells, n_topics), dtype=np.int64)
    powers = np.zeros((3, n_cells, n_topics))
    for _ in range(permutations):
        _deal(cell, bounds, state)
        found = _studentised(cell, weight, indptr, topic, amount, n_cells, n_topics)
        for c in range(n_cells):
            for k in range(n_topics):
                value, near = found[c, k], 1e-9 * np.abs(observed[c, k])
                hits[0, c, k] += value >= observed[c, k] - near
                hits[1, c, k] += value <= observed[c, k] + near
                powers[0, c, k] += value
                powers[1, c, k] += value * value
                powers[2, c, k] += value * value * value
    return hits, powers


def _tails(
    observed: NDArray[np.float64], hits: NDArray[np.int64], powers: NDArray[np.float64],
    permutations: int,
) -> NDArray[np.float64]:  # fmt: skip
    """Two-sided p: each side counted by itself, since a rare topic's differences are lopsided.

    Where no permutation reaches the observed value, their first three moments say how far out it
    lies.
    """
    mean = powers[0] / permutations
    variance = np.maximum(powers[1] / permutations - mean**2, 1e-100)
    third = powers[2] / permutations - 3 * mean * variance - mean**3
    skew = np.clip(third / variance**1.5, -4, 4)
    place = (observed - mean) / np.sqrt(variance)
    beyond = np.minimum(scipy.stats.pearson3.sf(place, skew), scipy.stats.pearson3.cdf(place, skew))
    reached = hits.min(axis=0)
    counted = (1.0 + reached) / (1 + permutations)
    far = (reached == 0) & (variance > 1e-90)
    return np.minimum(1.0, 2.0 * np.where(far, np.minimum(beyond, counted), counted))


def _strata(totals: UnitTotals) -> tuple[UnitTotals, NDArray[np.int64]]:
    """Rows with those of a unit in several cells together, then all others; where strata begin."""
    _, unit, times = np.unique(totals.unit, return_inverse=True, return_counts=True)
    stratum = np.where(times[unit] > 1, unit, len(times))
    order = np.argsort(stratum, kind="stable")
    bounds = np.append(np.flatnonzero(np.diff(stratum[order], prepend=-1)), len(unit))
    return totals.ordered(order), bounds.astype(np.int64)


def _p_values(totals: UnitTotals, permutations: int, seed: int) -> NDArray[np.float64]:
    """Two-sided p of each cell's difference from the others, float64[n_cells, n_topics]."""
    ordered, bounds = _strata(totals)
    parts = (ordered.weight, ordered.indptr, ordered.topic, ordered.amount)
    observed = _studentised(ordered.cell, *parts, totals.n_cells, totals.n_topics)
    if permutations:
        dealt = _permuted(ordered.cell.copy(), bounds, *parts, observed, permutations, seed)
        return _tails(observed, dealt[0], dealt[1], permutations)
    units = np.bincount(totals.cell, minlength=totals.n_cells)[:, None]
    free = np.maximum(np.minimum(units, len(totals.cell) - units) - 1, 1)
    tails: NDArray[np.float64] = 2.0 * scipy.special.stdtr(free, -np.abs(observed))
    return tails


def _others_spread(spread: NDArray[np.float64], weight: NDArray[np.float64]) -> NDArray[np.float64]:
    """Variance over samples of the share in all but each cell, float64[n_cells, n_topics].

    As if cells varied apart from each other.
    """
    varied = weight[:, None] ** 2 * spread
    rest = np.maximum(weight.sum() - weight, 1e-300)[:, None]
    return (varied.sum(axis=0) - varied) / rest**2


def differences(totals: UnitTotals, seed: int = 1) -> Differences:
    """Every cell against all others together.

    Parameters
    ----------
    totals : of units in groups, from ``unit_totals``
    seed : of the permutations
    """
    *ends, usable = _intervals(totals)
    difference, low, high = (np.where(usable[:, None], each, np.nan) for each in ends)
    p, adjusted = (np.full(difference.shape, np.nan) for _ in range(2))
    permutations = PERMUTATIONS if len(totals.cell) <= MOST_PERMUTED else 0
    if usable.any():
        found = np.maximum(_p_values(totals, permutations, seed)[usable], LEAST_P)
        p[usable] = found
        adjusted[usable] = scipy.stats.false_discovery_control(found.ravel()).reshape(found.shape)
    return Differences(difference, low, high, p, adjusted, permutations)
