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

import numpy as np
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
_OF_CELL, _OF_TOPIC = 5.0, 10.0
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


def moments(totals: UnitTotals) -> Moments:
    """Shares of the cells with their variances over units; zeros in cells without documents."""
    n_cells, n_topics = totals.n_cells, totals.n_topics
    cell, row = totals.cell, totals.entry_row
    whole = np.bincount(cell, totals.weight, n_cells)
    part = totals.weight / whole[cell]
    lever = 1.0 / (1.0 - np.minimum(part, MOST_LEVERAGE))
    slot = cell[row] * n_topics + totals.topic

    def by_topic(values: NDArray[np.float64]) -> NDArray[np.float64]:
        sums = np.bincount(slot, values, n_cells * n_topics).astype(np.float64)
        return sums.reshape(n_cells, n_topics)

    def by_cell(values: NDArray[np.float64]) -> NDArray[np.float64]:
        return np.bincount(cell, values, n_cells).astype(np.float64)[:, None]

    own = totals.amount / whole[cell[row]]
    share = totals.share
    absent = share.ravel()[slot] * part[row]
    residual, raised = own - absent, lever[row]
    # Units without the topic are added up at once, then put right where they have it.
    second = share**2 * by_cell(lever * part**2) + by_topic(raised * (residual**2 - absent**2))
    fourth = share**4 * by_cell(lever**2 * part**4) + by_topic(raised**2 * (residual**4 - absent**4))
    second, fourth = np.maximum(second, 0.0), np.maximum(fourth, 0.0)
    effective = 1.0 / np.maximum(by_cell(part**2)[:, 0], 1e-300)
    return Moments(
        share,
        second,
        freedom(second, fourth),
        np.bincount(cell, minlength=n_cells).astype(np.int64),
        np.where(whole > 0, effective, 0.0),
        whole.astype(np.float64),
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

    def interval(self, tail: NDArray[np.float64] | float) -> tuple[NDArray[np.float64], ...]:
        """Both ends, float64[n_cells, n_topics], of the interval beyond which so much lies on either side."""
        units = self.units * (special.ndtri(tail) / special.stdtrit(self.freedom, tail)) ** 2
        a, b = self.share * units + 0.5, (1.0 - self.share) * units + 0.5
        low, high = special.betaincinv(a, b, tail), special.betaincinv(a, b, 1.0 - tail)
        return (
            np.where(self.share <= 0.0, 0.0, np.minimum(low, self.share)),
            np.where(self.share >= 1.0, 1.0, np.maximum(high, self.share)),
        )


def spread_of(found: Moments, sampled: NDArray[np.float64]) -> Spread:
    """How surely the share of every topic in every cell is known.

    Parameters
    ----------
    sampled : float64[n_cells, n_topics], variance of the share over the saved samples
    """
    effective = found.effective[:, None]
    weights = found.weight[:, None]
    overall = (found.share * weights).sum(axis=0) / max(float(weights.sum()), 1e-300)
    # One unit's worth of all documents keeps the scale above zero where a topic is absent.
    near = (found.share * effective + overall) / (effective + 1.0)
    scale = np.maximum(near * (1.0 - near), 1e-12)
    own, free = found.variance * effective / scale, found.freedom
    seen, expected = found.variance * effective, found.share * (1.0 - found.share)
    several = (found.units > 1)[:, None]
    of_cell = _pooled(seen * several, expected * several, 1)[:, None]
    counts = np.maximum(effective - 1.0, 0.0)
    of_topic = _pooled(seen * counts, expected * counts, 0)
    # What the other cells say of the spread counts for no more than they have seen.
    others = np.clip(free.sum(axis=0) - free, 1e-6, _OF_TOPIC)
    by_cell = (free * own + _OF_CELL * of_cell) / (free + _OF_CELL)
    by_topic = (free * own + others * of_topic) / (free + others)
    unit = np.maximum(np.maximum(own, _LEAST_SPREAD), np.maximum(by_cell, by_topic))
    variance = scale * unit / np.maximum(effective, 1e-300) + sampled
    freedom = np.maximum(effective - 1.0, free + np.maximum(others, _OF_CELL))
    return Spread(found.share, scale / variance, freedom)


def prevalence(totals: UnitTotals, level: float = LEVEL) -> Prevalence:
    """Mean share of every topic in every cell, with intervals.

    Parameters
    ----------
    totals : of units in cells, from ``unit_totals``
    level : of confidence
    """
    found = moments(totals)
    low, high = spread_of(found, totals.spread).interval((1.0 - level) / 2.0)
    empty, bare = found.units[:, None] == 0, found.units[:, None] < LEAST_UNITS
    return Prevalence(
        np.where(empty, np.nan, found.share),
        np.where(bare, np.nan, low),
        np.where(bare, np.nan, high),
        totals.documents,
        found.units,
    )
