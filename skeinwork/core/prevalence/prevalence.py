"""Prevalence of topics by group and period, with intervals that hold for few units too.

A cell's share is a ratio of totals over its units. Its variance is that of the ratio over the units
(the linear term, each unit with its leverage: D. Hinkley, *Jackknifing in unbalanced situations*,
1977) and over the saved samples (method of composition: M. Tanner, *Tools for statistical
inference*, 1996). The variance makes an effective number of units, with which the interval is that
of a proportion (E. Korn and B. Graubard, *Confidence intervals for proportions with small expected
number of positive counts estimated from survey data*, 1998; the beta distribution with Jeffreys'
prior, L. Brown, T. Cai and A. DasGupta, *Interval estimation for a binomial proportion*, 2001). A
topic that few units have says little of its own spread, which is why that leans both towards the
spread of all topics of its cell and towards that of the topic in all cells; the wider of both counts,
since other topics and other cells may scatter less.

How often the intervals cover known shares is simulated by ``make calibrate``; docs/methods.md has
the figures.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy import special

from skeinwork.core.prevalence.totals import UnitTotals

VERSION = 3
LEAST_UNITS = 6  # fewer get no interval
FEW_UNITS = 20  # fewer are warned of
# Of all intervals, as the trade has it.
LEVEL = 0.95
# Degrees of freedom that the spread of all topics of a cell counts for, and that of a topic in all
# cells at most.
OF_CELL, OF_TOPIC = 5.0, 10.0
# Beyond it a residual would be blown up without end.
MOST_LEVERAGE = 0.9
# Of a share, so that a topic that all units hold alike has a width.
_LEAST_SPREAD = 1e-6


@dataclass(frozen=True)
class Prevalence:
    """Shares of topics in cells (groups, periods, or both).

    Attributes
    ----------
    mean, low, high : float64[n_cells, n_topics]; NaN in cells without documents, the last two also
        in cells of fewer than ``LEAST_UNITS`` units
    documents, units : int64[n_cells], those with words in each cell
    """

    mean: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    documents: NDArray[np.int64]
    units: NDArray[np.int64]


@dataclass(frozen=True)
class Moments:
    """Of every cell: shares, and how its units scatter about them.

    Attributes
    ----------
    share, variance : float64[n_cells, n_topics], the latter of the share, over the units
    freedom : float64[n_cells, n_topics], units that the variance rests on in effect, less one
    units : int64[n_cells]; effective : float64[n_cells], as many equal units would weigh the same
    weight : float64[n_cells], of all units of a cell together
    """

    share: NDArray[np.float64]
    variance: NDArray[np.float64]
    freedom: NDArray[np.float64]
    units: NDArray[np.int64]
    effective: NDArray[np.float64]
    weight: NDArray[np.float64]


def freedom(second: NDArray[np.float64], fourth: NDArray[np.float64]) -> NDArray[np.float64]:
    """Units that a variance rests on in effect, less one, from sums of powers of their residuals.

    Parameters
    ----------
    second, fourth : float64[n_cells, n_topics], sums of the second and the fourth power

    Returns
    -------
    float64[n_cells, n_topics]
    """
    rests = np.divide(second**2, fourth, out=np.ones_like(second), where=fourth > 1e-30)
    return np.maximum(rests - 1.0, 0.0)


def equal_units(squares: NDArray[np.float64]) -> NDArray[np.float64]:
    """As many units of one weight, float64[n], from sums of squared parts of the whole; 0 where there is none."""
    return np.divide(1.0, squares, out=np.zeros(len(squares)), where=squares > 0)


@njit(cache=True, nogil=True)
def _scatter(cell: Any, weight: Any, indptr: Any, topic: Any, amount: Any, share: Any, whole: Any) -> Any:
    """Sums of squared residuals of each cell's rows, and of their fourth powers, float64[n_cells, n_topics] each."""
    second, fourth = np.zeros_like(share), np.zeros_like(share)
    absent = np.zeros((2, len(share)))
    for row in range(len(cell)):
        c = cell[row]
        part = weight[row] / whole[c]
        lever = 1.0 / (1.0 - min(part, MOST_LEVERAGE))
        # Units without the topic are added up at once, then put right where they have it.
        absent[0, c] += lever * part**2
        absent[1, c] += lever**2 * part**4
        for at in range(indptr[row], indptr[row + 1]):
            k = topic[at]
            none = share[c, k] * part
            residual = amount[at] / whole[c] - none
            second[c, k] += lever * (residual**2 - none**2)
            fourth[c, k] += lever**2 * (residual**4 - none**4)
    for c in range(len(share)):
        second[c] += absent[0, c] * share[c] ** 2
        fourth[c] += absent[1, c] * share[c] ** 4
    return second, fourth


def moments(totals: UnitTotals) -> Moments:
    """Shares of the cells with their variances over units; zeros in cells without documents."""
    whole = totals.cell_weight
    part = totals.weight / whole[totals.cell]
    share = totals.share
    parts = (totals.cell, totals.weight, totals.indptr, totals.topic, totals.amount)
    second, fourth = (np.maximum(each, 0.0) for each in _scatter(*parts, share, whole))
    return Moments(
        share,
        second,
        freedom(second, fourth),
        np.bincount(totals.cell, minlength=totals.n_cells).astype(np.int64),
        equal_units(np.bincount(totals.cell, part**2, totals.n_cells).astype(np.float64)),
        whole,
    )


def _pooled(seen: NDArray[np.float64], expected: NDArray[np.float64], axis: int) -> NDArray[np.float64]:
    """Sum of variances over the sum of share × (1 − share); 1, the widest there can be, where none."""
    seen, expected = seen.sum(axis=axis), expected.sum(axis=axis)
    return np.divide(seen, expected, out=np.ones_like(seen), where=expected > 1e-12)


@dataclass(frozen=True)
class Spread:
    """How surely each share is known, float64[n_cells, n_topics] each.

    Attributes
    ----------
    share : itself
    units : of a proportion that would vary as much; freedom : degrees of it
    """

    share: NDArray[np.float64]
    units: NDArray[np.float64]
    freedom: NDArray[np.float64]

    def end(self, tail: NDArray[np.float64] | float, upper: NDArray[np.bool_]) -> NDArray[np.float64]:
        """The upper or the lower end of it, float64[n_cells, n_topics]: half the work of both."""
        units = self.units * (special.ndtri(tail) / special.stdtrit(self.freedom, tail)) ** 2
        with_it, without = self.share * units + 0.5, (1.0 - self.share) * units + 0.5
        found = special.betaincinv(np.where(upper, without, with_it), np.where(upper, with_it, without), tail)
        low = np.where(self.share <= 0.0, 0.0, np.minimum(found, self.share))
        high = np.where(self.share >= 1.0, 1.0, np.maximum(1.0 - found, self.share))
        return np.where(upper, high, low)

    def interval(self, tail: NDArray[np.float64] | float) -> tuple[NDArray[np.float64], ...]:
        """Both ends, float64[n_cells, n_topics], of the interval beyond which so much lies on either side."""
        none = np.zeros(self.share.shape, dtype=bool)
        return self.end(tail, none), self.end(tail, ~none)


@dataclass(frozen=True)
class Pooled:
    """What all cells together say of each topic, float64[n_topics] each.

    Attributes
    ----------
    share : of all units; spread : variance of a unit over share × (1 − share); freedom : degrees of it
    """

    share: NDArray[np.float64]
    spread: NDArray[np.float64]
    freedom: NDArray[np.float64]


def pooled_over(found: Moments) -> Pooled:
    """Of cells that have no document in common."""
    weights = found.weight[:, None]
    counts = np.maximum(found.effective[:, None] - 1.0, 0.0)
    seen, expected = found.variance * found.effective[:, None], found.share * (1.0 - found.share)
    return Pooled(
        (found.share * weights).sum(axis=0) / max(float(weights.sum()), 1e-300),
        _pooled(seen * counts, expected * counts, 0),
        found.freedom.sum(axis=0),
    )


def spread_of(found: Moments, sampled: NDArray[np.float64], pooled: Pooled) -> Spread:
    """How surely the share of every topic in every cell, or in some of them together, is known.

    Parameters
    ----------
    sampled : float64[n_cells, n_topics], variance of the share over the saved samples
    pooled : of all cells
    """
    effective = found.effective[:, None]
    # One unit's worth of all documents keeps the scale above zero where a topic is absent.
    near = (found.share * effective + pooled.share) / (effective + 1.0)
    scale = np.maximum(near * (1.0 - near), 1e-12)
    own, free = found.variance * effective / scale, found.freedom
    seen, expected = found.variance * effective, found.share * (1.0 - found.share)
    several = (found.units > 1)[:, None]
    of_cell = _pooled(seen * several, expected * several, 1)[:, None]
    # What the other cells say of the spread counts for no more than they have seen.
    others = np.clip(pooled.freedom - free, 1e-6, OF_TOPIC)
    by_cell = (free * own + OF_CELL * of_cell) / (free + OF_CELL)
    by_topic = (free * own + others * pooled.spread) / (free + others)
    unit = np.maximum(np.maximum(own, _LEAST_SPREAD), np.maximum(by_cell, by_topic))
    variance = scale * unit / np.maximum(effective, 1e-300) + sampled
    freedom = np.maximum(effective - 1.0, free + np.maximum(others, OF_CELL))
    return Spread(found.share, scale / variance, freedom)


def prevalence(totals: UnitTotals, level: float = LEVEL) -> Prevalence:
    """Mean share of every topic in every cell, with intervals.

    Parameters
    ----------
    totals : of units in cells, from ``unit_totals``
    level : of confidence
    """
    found = moments(totals)
    low, high = spread_of(found, totals.spread, pooled_over(found)).interval((1.0 - level) / 2.0)
    empty, bare = found.units[:, None] == 0, found.units[:, None] < LEAST_UNITS
    return Prevalence(
        np.where(empty, np.nan, found.share),
        np.where(bare, np.nan, low),
        np.where(bare, np.nan, high),
        totals.documents,
        found.units,
    )
