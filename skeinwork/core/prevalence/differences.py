"""How much more of a topic some cells hold than others: estimate, interval, p.

A *contrast* is two selections of cells: a group and all others, the time after a day and that before it, any two.

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

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy import special

from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.prevalence.cell_powers import MOST_PART, cell_powers, side_moments
from skeinwork.core.prevalence.prevalence import (
    LEAST_UNITS,
    LEVEL,
    MOST_LEVERAGE,
    Moments,
    Spread,
    equal_units,
    freedom,
    moments,
    pooled_over,
    spread_of,
)
from skeinwork.core.prevalence.totals import UnitTotals

# Which side of a contrast a cell is on, int8[n_contrasts, n_cells]; 0 for neither.
Sides = NDArray[np.int8]
ONE, OTHER = 1, -1
VERSION = 1
LEAST_P = 1e-6  # smaller ones rest on the far end of a distribution that nobody has seen


@dataclass(frozen=True)
class Differences:
    """One side of each contrast against the other.

    Attributes
    ----------
    difference, low, high : float64[n_contrasts, n_topics], share of the one side less that of the other
    p, adjusted : float64[n_contrasts, n_topics]
    shared : float64[n_contrasts, n_topics], correlation of both sides through units that are on both
    one, other : the sides themselves

    All arrays are NaN where a side has fewer than ``LEAST_UNITS`` units.
    """

    difference: NDArray[np.float64]
    low: NDArray[np.float64]
    high: NDArray[np.float64]
    p: NDArray[np.float64]
    adjusted: NDArray[np.float64]
    shared: NDArray[np.float64]
    one: Side
    other: Side


@dataclass(frozen=True)
class Side:
    """Cells that are taken together, of each contrast: how units scatter, and how surely shares are known.

    Attributes
    ----------
    documents : int64[n_contrasts]
    """

    moments: Moments
    spread: Spread
    documents: NDArray[np.int64]


def each_against_others(place: NDArray[np.int64]) -> Sides:
    """Cells of each group, or period, against those of all others.

    Parameters
    ----------
    place : int64[n_cells], the group of every cell, -1 for none

    Returns
    -------
    int8[n_groups, n_cells], of the groups that there are
    """
    there = np.unique(place[place >= 0])
    return np.where(place < 0, 0, np.where(place == there[:, None], ONE, OTHER)).astype(np.int8)


def before_and_after(place: NDArray[np.int64]) -> Sides:
    """Cells after each boundary against those before it.

    Parameters
    ----------
    place : int64[n_cells], the period of every cell, -1 for none

    Returns
    -------
    int8[n_boundaries, n_cells], a boundary before each period but the first that there is
    """
    periods = np.unique(place[place >= 0])[1:]
    return np.where(place < 0, 0, np.where(place >= periods[:, None], ONE, OTHER)).astype(np.int8)


@njit(cache=True, nogil=True)
def _sides(
    starts: Any, cell: Any, weight: Any, indptr: Any, topic: Any, amount: Any, sides: Any, share: Any, sums: Any
) -> Any:
    """How units scatter about the share of either side, for every contrast.

    Parameters
    ----------
    starts : where the rows of each unit begin, rows being sorted by unit
    sides : int8[n_contrasts, n_cells]
    share : float64[2, n_contrasts, n_topics]; sums : float64[2, n_contrasts], weight of a side

    Returns
    -------
    float64[2, 2, n_contrasts, n_topics], sums of squared residuals of a side, and of their fourth powers;
    float64[n_contrasts, n_topics], of products of residuals of a unit that is on both;
    float64[2, 2, n_contrasts], units of a side, and their squared parts
    """
    n_contrasts, n_topics = share.shape[1:]
    powers = np.zeros((2, 2, n_contrasts, n_topics))
    products = np.zeros((n_contrasts, n_topics))
    sizes = np.zeros((2, 2, n_contrasts))
    held, whole, absent = np.zeros((2, n_topics)), np.zeros(2), np.zeros((2, 2))
    touched, n_touched = np.empty((2, n_topics), dtype=np.int64), np.zeros(2, dtype=np.int64)
    for c in range(n_contrasts):
        if sums[0, c] <= 0 or sums[1, c] <= 0:
            continue
        absent[:] = 0.0
        for unit in range(len(starts) - 1):
            whole[:] = 0.0
            n_touched[:] = 0
            for row in range(starts[unit], starts[unit + 1]):
                of = sides[c, cell[row]]
                if of == 0:
                    continue
                side = 0 if of > 0 else 1
                whole[side] += weight[row]
                for at in range(indptr[row], indptr[row + 1]):
                    if held[side, topic[at]] == 0.0:
                        touched[side, n_touched[side]] = topic[at]
                        n_touched[side] += 1
                    held[side, topic[at]] += amount[at]
            for side in range(2):
                if whole[side] <= 0:
                    continue
                part = whole[side] / sums[side, c]
                lever = 1.0 / (1.0 - min(part, MOST_LEVERAGE))
                sizes[side, 0, c] += 1.0
                sizes[side, 1, c] += part * part
                absent[side, 0] += lever * part**2
                absent[side, 1] += lever**2 * part**4
                for at in range(n_touched[side]):
                    k = touched[side, at]
                    none = share[side, c, k] * part
                    residual = held[side, k] / sums[side, c] - none
                    powers[side, 0, c, k] += lever * (residual**2 - none**2)
                    powers[side, 1, c, k] += lever**2 * (residual**4 - none**4)
            if whole[0] > 0 and whole[1] > 0:
                for k in range(n_topics):
                    left = held[0, k] / sums[0, c] - share[0, c, k] * whole[0] / sums[0, c]
                    right = held[1, k] / sums[1, c] - share[1, c, k] * whole[1] / sums[1, c]
                    products[c, k] += left * right
            for side in range(2):
                for at in range(n_touched[side]):
                    held[side, touched[side, at]] = 0.0
        for side in range(2):
            for k in range(n_topics):
                powers[side, 0, c, k] += absent[side, 0] * share[side, c, k] ** 2
                powers[side, 1, c, k] += absent[side, 1] * share[side, c, k] ** 4
    return powers, products, sizes


def sides_of(totals: UnitTotals, sides: Sides) -> tuple[Moments, Moments, NDArray[np.float64]]:
    """Moments of the one side and of the other, and the covariance of both, float64[n_contrasts, n_topics]."""
    weight = totals.cell_weight
    members = np.stack([sides > 0, sides < 0])
    sums = members @ weight
    share = (members @ (totals.share * weight[:, None])) / np.maximum(sums, 1e-300)[:, :, None]
    if totals.recurring:
        return _unit_by_unit(totals, sides, share, sums)
    powers = cell_powers(totals)
    one, other = (side_moments(powers, members[at], share[at], sums[at]) for at in (0, 1))
    heaviest = np.where(members, powers.largest, 0.0).max(axis=2) > MOST_PART * sums
    some = np.flatnonzero(heaviest.any(axis=0) & (sums > 0).all(axis=0))
    if len(some):
        exact = _unit_by_unit(totals, sides[some], share[:, some], sums[:, some])
        one, other = _with(one, exact[0], some), _with(other, exact[1], some)
    return one, other, np.zeros_like(one.share)


def _with(found: Moments, exact: Moments, at: NDArray[np.int64]) -> Moments:
    """The same with other rows at some places."""
    parts = {}
    for name in ("variance", "freedom", "units", "effective"):
        parts[name] = getattr(found, name).copy()
        parts[name][at] = getattr(exact, name)
    return replace(found, **parts)


def _unit_by_unit(
    totals: UnitTotals, sides: Sides, share: NDArray[np.float64], sums: NDArray[np.float64]
) -> tuple[Moments, Moments, NDArray[np.float64]]:
    rows, starts = totals.by_unit()
    powers, products, sizes = _sides(
        starts, rows.cell, rows.weight, rows.indptr, rows.topic, rows.amount, sides, share, sums
    )

    def side(of: int) -> Moments:
        second, fourth = (np.maximum(each, 0.0) for each in powers[of])
        units, effective = sizes[of, 0].astype(np.int64), equal_units(sizes[of, 1])
        return Moments(share[of], second, freedom(second, fourth), units, effective, sums[of])

    return side(0), side(1), products


@dataclass(frozen=True)
class Compared:
    """Two sides: how surely each share is known, and how the two go together.

    Attributes
    ----------
    shared : float64[n_contrasts, n_topics], correlation of the two shares through units that are in both
    """

    one: Spread
    other: Spread
    shared: NDArray[np.float64]

    def of(self, contrasts: Any) -> Compared:
        """Some of the contrasts."""
        one, other = (
            Spread(each.share[contrasts], each.units[contrasts], each.freedom[contrasts])
            for each in (self.one, self.other)
        )
        return Compared(one, other, self.shared[contrasts])

    @property
    def difference(self) -> NDArray[np.float64]:
        return self.one.share - self.other.share

    def reach(self, tail: NDArray[np.float64] | float) -> tuple[NDArray[np.float64], ...]:
        """How far the interval beyond which so much lies goes below the difference, and above it.

        Both float64[n_contrasts, n_topics].
        """
        one, other = self.one.interval(tail), self.other.interval(tail)
        below, above = (
            (self.one.share - one[0], self.other.share - other[0]),
            (one[1] - self.one.share, other[1] - self.other.share),
        )
        down = below[0] ** 2 + above[1] ** 2 - 2 * self.shared * below[0] * above[1]
        up = above[0] ** 2 + below[1] ** 2 - 2 * self.shared * above[0] * below[1]
        return np.sqrt(np.maximum(down, 0.0)), np.sqrt(np.maximum(up, 0.0))

    def beyond(self, z: NDArray[np.float64]) -> NDArray[np.float64]:
        """How far the interval of ``z`` standard deviations goes beyond no difference."""
        more, tail = self.difference > 0.0, special.ndtr(-z)
        one = np.abs(self.one.share - self.one.end(tail, ~more))
        other = np.abs(self.other.share - self.other.end(tail, more))
        squared = one**2 + other**2 - 2 * self.shared * one * other
        return np.sqrt(np.maximum(squared, 0.0)) - np.abs(self.difference)

    def p(self) -> NDArray[np.float64]:
        """Twice the tail beyond the interval that just holds no difference, float64[n_contrasts, n_topics].

        It is ``LEAST_P`` at least.
        """
        from scipy.optimize import elementwise  # slow to import, and not wanted at a start

        nearest, furthest = 1e-3, -float(special.ndtri(LEAST_P / 2.0))
        shape = self.difference.shape
        at_once = self.beyond(np.full(shape, nearest)) >= 0.0
        between = ~at_once & (self.beyond(np.full(shape, furthest)) > 0.0)
        z = np.where(at_once, 0.0, furthest)
        if between.any():
            sides = (self.one, self.other)
            parts = [part for each in sides for part in (each.share, each.units, each.freedom)]
            given: Any = tuple(part[between] for part in (*parts, self.shared))

            def beyond(z: Any, *given: Any) -> Any:
                return Compared(Spread(*given[:3]), Spread(*given[3:6]), given[6]).beyond(z)

            found = elementwise.find_root(
                beyond, (nearest, furthest), args=given, tolerances={"xatol": 1e-9, "xrtol": 1e-9}
            )
            z[between] = found.x
        return np.asarray(2.0 * special.ndtr(-z), dtype=np.float64)


def _sampled(totals: UnitTotals, members: NDArray[np.bool_]) -> NDArray[np.float64]:
    """Variance over samples of the share of cells taken together, float64[n_contrasts, n_topics].

    As if cells varied apart from each other.
    """
    weight = totals.cell_weight
    of = members.astype(np.float64)
    whole = np.where((of @ weight) > 0.0, of @ weight, 1.0)
    return np.asarray(of @ (weight[:, None] ** 2 * totals.spread) / whole[:, None] ** 2)


def differences(totals: UnitTotals, sides: Sides | None = None) -> Differences:
    """One side of each contrast against the other; p adjusted over all contrasts and topics.

    Parameters
    ----------
    totals : of units in cells, from ``unit_totals``
    sides : int8[n_contrasts, n_cells], above 0 for cells of the one side, below it for those of the other,
        0 for neither; every cell against all others where not given
    """
    if sides is None:
        sides = each_against_others(np.arange(totals.n_cells))
    one, other, together = sides_of(totals, sides)
    apart = np.sqrt(one.variance * other.variance)
    shared = np.clip(np.divide(together, apart, out=np.zeros_like(apart), where=apart > 0), -1, 1)
    pooled = pooled_over(moments(totals))
    both = [
        Side(found, spread_of(found, _sampled(totals, members), pooled), members @ totals.documents)
        for found, members in ((one, sides > 0), (other, sides < 0))
    ]
    compared = Compared(both[0].spread, both[1].spread, shared)
    usable = (one.units >= LEAST_UNITS) & (other.units >= LEAST_UNITS)
    difference = compared.difference
    down, up = compared.reach((1.0 - LEVEL) / 2.0)
    p = np.full(difference.shape, np.nan)
    if usable.any():
        p[usable] = compared.of(usable).p()
    low, high = difference - down, difference + up
    for each in (difference, low, high):
        each[~usable] = np.nan
    return Differences(difference, low, high, p, false_discovery_rates(p), shared, *both)
