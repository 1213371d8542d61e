"""How much more of a topic a group holds than the others: estimate, interval, p.

The interval is made from the two cells' own (R. Newcombe, *Interval estimation for the difference
between independent proportions*, 1998) with the correlation of units that are in both (G. Zou and
A. Donner, *Construction of confidence limits about effect measures: a general approach*, 2008). p is
the level at which that interval comes to hold no difference (D. Cox and D. Hinkley, *Theoretical
statistics*, 1974, on tests by inversion), so that the two never say otherwise, at any size. All are
adjusted together (Y. Benjamini and Y. Hochberg, *Controlling the false discovery rate*, 1995).

How often groups that do not differ are told apart is simulated by ``make calibrate``: groups of very
unlike size, scatter and length of documents too, where p by dealing out the groups anew was wrong.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy import special

from skeinwork.core.prevalence.prevalence import (
    LEAST_UNITS,
    LEVEL,
    MOST_LEVERAGE,
    Moments,
    Spread,
    freedom,
    moments,
    spread_of,
)
from skeinwork.core.prevalence.totals import UnitTotals

LEAST_P = 1e-6  # smaller ones rest on the far end of a distribution that nobody has seen


@dataclass(frozen=True)
class Differences:
    """Each cell against all others together.

    Attributes
    ----------
    difference, low, high : float64[n_cells, n_topics], share of the cell less that of the others
    p, adjusted : float64[n_cells, n_topics]

    All are NaN where the cell or the others have fewer than ``LEAST_UNITS`` units.
    """

    difference: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    p: NDArray[np.float64]
    adjusted: NDArray[np.float64]


@njit(cache=True, nogil=True)
def _rest(
    starts: Any,
    cell: Any,
    weight: Any,
    indptr: Any,
    topic: Any,
    amount: Any,
    share: Any,
    sums: Any,
    rest: Any,
    rest_share: Any,
) -> Any:
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
    """Of all other cells together, for every cell; and the covariance with it, float64[n_cells, n_topics]."""
    rest = own.weight.sum() - own.weight
    held = own.share * own.weight[:, None]
    share = (held.sum(axis=0) - held) / np.maximum(rest, 1e-300)[:, None]
    rows = totals.ordered(np.argsort(totals.unit, kind="stable"))
    starts = np.append(np.flatnonzero(np.diff(rows.unit, prepend=-1)), len(rows.unit))
    found, sizes = _rest(
        starts, rows.cell, rows.weight, rows.indptr, rows.topic, rows.amount, own.share, own.weight, rest, share
    )
    others = Moments(
        share,
        np.maximum(found[0], 0.0),
        freedom(found[0], found[1]),
        sizes[0].astype(np.int64),
        np.divide(1.0, sizes[1], out=np.zeros(len(rest)), where=sizes[1] > 0),
        rest,
    )
    return others, found[2]


@dataclass(frozen=True)
class _Compared:
    """Cells and all others together: how surely each share is known, and how the two go together.

    Attributes
    ----------
    shared : float64[n_cells, n_topics], correlation of the two shares through units that are in both
    """

    own: Spread
    others: Spread
    shared: NDArray[np.float64]

    @property
    def difference(self) -> NDArray[np.float64]:
        return self.own.share - self.others.share

    def reach(self, tail: NDArray[np.float64] | float) -> tuple[NDArray[np.float64], ...]:
        """How far the interval beyond which so much lies goes below the difference, and above it.

        Both float64[n_cells, n_topics].
        """
        each, rest = self.own.interval(tail), self.others.interval(tail)
        below, above = (
            (self.own.share - each[0], self.others.share - rest[0]),
            (each[1] - self.own.share, rest[1] - self.others.share),
        )
        down = below[0] ** 2 + above[1] ** 2 - 2 * self.shared * below[0] * above[1]
        up = above[0] ** 2 + below[1] ** 2 - 2 * self.shared * above[0] * below[1]
        return np.sqrt(np.maximum(down, 0.0)), np.sqrt(np.maximum(up, 0.0))

    def beyond(self, z: NDArray[np.float64]) -> NDArray[np.float64]:
        """How far the interval of ``z`` standard deviations goes beyond no difference, float64[n_cells, n_topics]."""
        down, up = self.reach(special.ndtr(-z))
        return np.where(self.difference > 0.0, down, up) - np.abs(self.difference)

    def p(self) -> NDArray[np.float64]:
        """Twice the tail beyond the interval that just holds no difference, float64[n_cells, n_topics].

        It is ``LEAST_P`` at least.
        """
        from scipy.optimize import elementwise  # slow to import, and not wanted at a start

        nearest, furthest = 1e-3, -float(special.ndtri(LEAST_P / 2.0))
        shape = self.difference.shape
        at_once = self.beyond(np.full(shape, nearest)) >= 0.0
        between = ~at_once & (self.beyond(np.full(shape, furthest)) > 0.0)
        z = np.where(at_once, 0.0, furthest)
        if between.any():
            sides = (self.own, self.others)
            parts = [part for each in sides for part in (each.share, each.units, each.freedom)]
            given: Any = tuple(part[between] for part in (*parts, self.shared))

            def beyond(z: Any, *given: Any) -> Any:
                return _Compared(Spread(*given[:3]), Spread(*given[3:6]), given[6]).beyond(z)

            z[between] = elementwise.find_root(beyond, (nearest, furthest), args=given).x
        return np.asarray(2.0 * special.ndtr(-z), dtype=np.float64)


def _others_sampled(sampled: NDArray[np.float64], weight: NDArray[np.float64]) -> NDArray[np.float64]:
    """Variance over samples of the share in all but each cell, float64[n_cells, n_topics].

    As if cells varied apart from each other.
    """
    varied = weight[:, None] ** 2 * sampled
    rest = np.maximum(weight.sum() - weight, 1e-300)[:, None]
    return (varied.sum(axis=0) - varied) / rest**2


def false_discovery_rates(p: NDArray[np.float64]) -> NDArray[np.float64]:
    """The least rate of false discoveries at which each would be one (Benjamini and Hochberg 1995).

    Parameters
    ----------
    p : float64[n], p-values of one family

    Returns
    -------
    float64[n]

    >>> false_discovery_rates(np.array([0.01, 0.04, 0.03])).tolist()
    [0.03, 0.04, 0.04]
    """
    order = np.argsort(p)
    raised = p[order] * (len(p) / np.arange(1, len(p) + 1))
    rates = np.empty_like(p)
    rates[order] = np.minimum.accumulate(raised[::-1])[::-1]
    return np.minimum(rates, 1.0)


def differences(totals: UnitTotals) -> Differences:
    """Every cell against all others together.

    Parameters
    ----------
    totals : of units in groups, from ``unit_totals``
    """
    own = moments(totals)
    others, together = others_of(totals, own)
    apart = np.sqrt(own.variance * others.variance)
    shared = np.clip(np.divide(together, apart, out=np.zeros_like(apart), where=apart > 0), -1, 1)
    compared = _Compared(
        spread_of(own, totals.spread), spread_of(others, _others_sampled(totals.spread, own.weight)), shared
    )
    usable = (own.units >= LEAST_UNITS) & (others.units >= LEAST_UNITS)
    difference = compared.difference
    down, up = compared.reach((1.0 - LEVEL) / 2.0)
    p, adjusted = (np.full(difference.shape, np.nan) for _ in range(2))
    if usable.any():
        found = compared.p()[usable]
        p[usable] = found
        adjusted[usable] = false_discovery_rates(found.ravel()).reshape(found.shape)
    low, high = difference - down, difference + up
    for each in (difference, low, high):
        each[~usable] = np.nan
    return Differences(difference, low, high, p, adjusted)
