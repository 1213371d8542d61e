"""Sums of powers of units over cells, from which the scatter of cells taken together follows without the units.

Where every unit is in one cell alone, the residuals of a side of a contrast are sums of such powers over its cells, so
that any number of contrasts costs no more than one. What leverage adds is taken to its second order, which is exact to
some 1e-5 where no unit makes up more than ``MOST_PART`` of a side; others are gone through unit by unit.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.prevalence.prevalence import Moments, equal_units, freedom
from skeinwork.core.prevalence.totals import UnitTotals

Array = NDArray[np.float64]
MOST_PART = 0.02
# Powers of a unit's amount and weight, in the order in which their sums are kept.
_POWERS = ((2, 0), (1, 1), (2, 1), (1, 2), (2, 2), (1, 3), (4, 0), (3, 1), (4, 1), (3, 2), (2, 3), (1, 4))
_PLACE = {power: at for at, power in enumerate(_POWERS)}


@dataclass(frozen=True)
class CellPowers:
    """Sums over the units of each cell.

    Attributes
    ----------
    mixed : float64[n_powers, n_cells, n_topics], of amount to the one times weight to the other power
    weights : float64[6, n_cells], of weight to the power 0 to 5
    largest : float64[n_cells], weight of the heaviest unit
    """

    mixed: Array
    weights: Array
    largest: Array


@njit(cache=True, nogil=True)
def _summed(cell: Any, weight: Any, indptr: Any, topic: Any, amount: Any, n_cells: int, n_topics: int) -> Any:
    mixed = np.zeros((12, n_cells, n_topics))
    weights = np.zeros((6, n_cells))
    largest = np.zeros(n_cells)
    for row in range(len(cell)):
        c, w = cell[row], weight[row]
        largest[c] = max(largest[c], w)
        power = 1.0
        for at in range(6):
            weights[at, c] += power
            power *= w
        for at in range(indptr[row], indptr[row + 1]):
            k, a = topic[at], amount[at]
            mixed[0, c, k] += a * a
            mixed[1, c, k] += a * w
            mixed[2, c, k] += a * a * w
            mixed[3, c, k] += a * w * w
            mixed[4, c, k] += a * a * w * w
            mixed[5, c, k] += a * w * w * w
            mixed[6, c, k] += a * a * a * a
            mixed[7, c, k] += a * a * a * w
            mixed[8, c, k] += a * a * a * a * w
            mixed[9, c, k] += a * a * a * w * w
            mixed[10, c, k] += a * a * w * w * w
            mixed[11, c, k] += a * w * w * w * w
    return mixed, weights, largest


def cell_powers(totals: UnitTotals) -> CellPowers:
    """Of units that are each in one cell alone."""
    parts = (totals.cell, totals.weight, totals.indptr, totals.topic, totals.amount)
    return CellPowers(*_summed(*parts, totals.n_cells, totals.n_topics))


def side_moments(powers: CellPowers, members: NDArray[np.bool_], share: Array, sums: Array) -> Moments:
    """How units scatter about the share of cells that are taken together.

    Parameters
    ----------
    members : bool[n_sides, n_cells]; share : float64[n_sides, n_topics]; sums : float64[n_sides], weight of a side
    """
    of = members.astype(np.float64)
    weights = of @ powers.weights.T
    s, whole = share, np.where(sums > 0.0, sums, 1.0)[:, None]

    def mixed(amount: int, weight: int) -> Array:
        """Sums over a side, float64[n_sides, n_topics]."""
        return np.asarray(of @ powers.mixed[_PLACE[amount, weight]])

    def residuals(extra: int) -> Array:
        """Squared ones, times weight to a power."""
        plain = weights[:, 2 + extra][:, None]
        return mixed(2, extra) - 2 * s * mixed(1, 1 + extra) + s**2 * plain

    second = (residuals(0) + residuals(1) / whole + residuals(2) / whole**2) / whole**2
    fourth = np.zeros_like(second)
    for extra, times in ((0, 1.0), (1, 2.0)):
        raised = mixed(4, extra) - 4 * s * mixed(3, 1 + extra) + 6 * s**2 * mixed(2, 2 + extra)
        raised += s**4 * weights[:, 4 + extra][:, None] - 4 * s**3 * mixed(1, 3 + extra)
        fourth += times * raised / whole ** (4 + extra)
    second, fourth = np.maximum(second, 0.0), np.maximum(fourth, 0.0)
    effective = equal_units(weights[:, 2] / whole[:, 0] ** 2)
    return Moments(share, second, freedom(second, fourth), weights[:, 0].astype(np.int64), effective, sums)
