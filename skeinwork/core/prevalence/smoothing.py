"""Shares over time, smoothed, with a band: the mean of neighbouring periods, and local regression.

Both are sums of the periods' shares with fixed weights, so that their spread follows from the units as that of any
share does: each unit counts with all its periods at once. The band is of the smoothed shares.

W. Cleveland, *Robust locally weighted regression and smoothing scatterplots*, 1979 (local lines, tricube weights,
without the repeats that make single points count less: an event is no error).
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.prevalence.prevalence import (
    LEAST_UNITS,
    LEVEL,
    MOST_LEVERAGE,
    Moments,
    Prevalence,
    equal_units,
    freedom,
    moments,
    pooled_over,
    spread_of,
)
from skeinwork.core.prevalence.totals import UnitTotals

Array = NDArray[np.float64]


def rolling_weights(place: NDArray[np.int64], weight: Array, width: int) -> Array:
    """Weights of a mean of the periods at most ``width // 2`` away, by their weight.

    Parameters
    ----------
    place : int64[n_cells], the period of every cell; weight : float64[n_cells]

    Returns
    -------
    float64[n_cells, n_cells], rows that sum to 1
    """
    near = np.abs(place[:, None] - place[None, :]) <= width // 2
    whole = near * weight[None, :]
    return np.asarray(whole / np.maximum(whole.sum(axis=1, keepdims=True), 1e-300))


def loess_weights(place: NDArray[np.int64], weight: Array, span: float) -> Array:
    """Weights of local lines through the share ``span`` of the periods that is nearest, by tricube and weight.

    Parameters
    ----------
    place : int64[n_cells], the period of every cell; weight : float64[n_cells]
    span : of all cells, in (0, 1]

    Returns
    -------
    float64[n_cells, n_cells], rows that sum to 1
    """
    n = len(place)
    near = min(n, max(3, int(np.ceil(span * n))))
    away = np.abs(place[:, None] - place[None, :]).astype(np.float64)
    # A little more than the furthest of them, so that it counts still.
    reach = np.sort(away, axis=1)[:, near - 1] * (1.0 + 1e-9) + 1e-9
    local = weight[None, :] * np.clip(1.0 - np.minimum(away / reach[:, None], 1.0) ** 3, 0.0, None) ** 3
    local /= np.maximum(local.sum(axis=1, keepdims=True), 1e-300)
    offset = (place[None, :] - place[:, None]).astype(np.float64)
    mean = (local * offset).sum(axis=1, keepdims=True)
    squares = (local * (offset - mean) ** 2).sum(axis=1, keepdims=True)
    slope = np.divide(local * (offset - mean), squares, out=np.zeros_like(local), where=squares > 1e-9)
    return np.asarray(local - mean * slope)


@njit(cache=True, nogil=True)
def _combined(
    starts: Any, cell: Any, weight: Any, indptr: Any, topic: Any, amount: Any, parts: Any, share: Any, sums: Any
) -> Any:
    """How units scatter about sums of cells' shares.

    Parameters
    ----------
    starts : where the rows of each unit begin, rows being sorted by unit
    parts : float64[n_sums, n_cells]; share : float64[n_cells, n_topics]; sums : float64[n_cells]

    Returns
    -------
    float64[2, n_sums, n_topics], squared residuals of units, and their fourth powers; float64[2, n_sums], units, and
    their squared parts
    """
    n_sums, n_topics = len(parts), share.shape[1]
    powers, sizes = np.zeros((2, n_sums, n_topics)), np.zeros((2, n_sums))
    residual = np.zeros(n_topics)
    for j in range(n_sums):
        for unit in range(len(starts) - 1):
            part, counts = 0.0, False
            for row in range(starts[unit], starts[unit + 1]):
                factor = parts[j, cell[row]] / sums[cell[row]]
                if factor == 0.0:
                    continue
                if not counts:
                    residual[:] = 0.0
                counts = True
                part += factor * weight[row]
                for at in range(indptr[row], indptr[row + 1]):
                    residual[topic[at]] += factor * amount[at]
                for k in range(n_topics):
                    residual[k] -= factor * weight[row] * share[cell[row], k]
            if not counts:
                continue
            lever = 1.0 / (1.0 - min(max(part, 0.0), MOST_LEVERAGE))
            sizes[0, j] += 1.0
            sizes[1, j] += part * part
            for k in range(n_topics):
                powers[0, j, k] += lever * residual[k] ** 2
                powers[1, j, k] += lever**2 * residual[k] ** 4
    return powers, sizes


def smoothed(totals: UnitTotals, parts: Array) -> Prevalence:
    """Sums of cells' shares with 95 % intervals.

    Parameters
    ----------
    totals : of units in periods that all have documents
    parts : float64[n_sums, n_cells], the weights of one sum in each row, which sum to 1

    Returns
    -------
    of each sum; ``documents`` and ``units`` are those that count in it
    """
    cells = moments(totals)
    found = _of_units(totals, cells, parts) if totals.recurring else _of_cells(cells, parts)
    spread = spread_of(found, parts**2 @ totals.spread, pooled_over(cells))
    low, high = spread.interval((1.0 - LEVEL) / 2.0)
    bare = found.units[:, None] < LEAST_UNITS
    documents = (parts != 0) @ totals.documents
    return Prevalence(found.share, np.where(bare, np.nan, low), np.where(bare, np.nan, high), documents, found.units)


def _of_cells(cells: Moments, parts: Array) -> Moments:
    """Where every unit is in one cell alone, so that these vary apart."""
    squares = parts**2 @ (1.0 / np.maximum(cells.effective, 1e-300))
    fourth = parts**4 @ (cells.variance**2 / (cells.freedom + 1.0))
    return _moments(cells, parts, (parts**2 @ cells.variance, fourth), (parts != 0) @ cells.units, squares)


def _of_units(totals: UnitTotals, cells: Moments, parts: Array) -> Moments:
    """Where units are in several cells."""
    rows, starts = totals.by_unit()
    powers, sizes = _combined(
        starts, rows.cell, rows.weight, rows.indptr, rows.topic, rows.amount, parts, cells.share, cells.weight
    )
    return _moments(cells, parts, (powers[0], powers[1]), sizes[0].astype(np.int64), sizes[1])


def _moments(
    cells: Moments, parts: Array, powers: tuple[Array, Array], units: NDArray[np.int64], squares: Array
) -> Moments:
    """Of sums of shares, from powers of their residuals and squared parts of their units."""
    share = np.clip(parts @ cells.share, 0.0, 1.0)
    return Moments(share, powers[0], freedom(*powers), units, equal_units(squares), np.ones(len(parts)))
