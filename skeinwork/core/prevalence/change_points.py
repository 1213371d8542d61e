"""Periods from which on a topic's share is another: found one after another, each with its evidence.

Of all boundaries the clearest is taken where p over all of them is small; then either side is looked at by itself
(binary segmentation; E. Page, *A test for a change in a parameter occurring at an unknown point*, 1955; A. Scott and
M. Knott, *A cluster analysis method for grouping means in the analysis of variance*, 1974), with half of what p may be
at each further depth. How often a series without a change shows one is counted on this very corpus: its units are
dealt out anew over the same periods.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.prevalence.movement import SURE, Movement, boundaries, movement
from skeinwork.core.prevalence.totals import UnitTotals
from skeinwork.core.progress import Report, part_of, silent

VERSION = 1
# Depths at which a stretch is parted again.
_DEEPEST = 3
# Series that are dealt out anew, over all topics: as many tell a rate of .05 to about .01.
DEALT = 400
# Units beyond which deals are made of some of them.
_MOST_UNITS = 5000


@dataclass(frozen=True)
class ChangePoint:
    """A boundary of one topic: shares before and after it, within the stretch that it parts.

    Attributes
    ----------
    topic : which; period : the first after it
    first, last : periods between which it was looked for
    before, after, difference, low, high, p : p over all boundaries of the stretch
    depth : 0 for the whole time
    """

    topic: int
    period: int
    first: int
    last: int
    before: float
    after: float
    difference: float
    low: float
    high: float
    p: float
    depth: int


@dataclass(frozen=True)
class ChangePoints:
    """What was found, the earliest first.

    Attributes
    ----------
    least : p that a boundary of the whole time has to be under
    false, dealt : of so many series without a change, how many showed one
    """

    points: list[ChangePoint]
    least: float
    false: int
    dealt: int


def change_points(
    totals: UnitTotals, period: NDArray[np.int64], seed: int = 1, report: Report = silent, deals: int = DEALT
) -> ChangePoints:
    """Of every topic.

    Parameters
    ----------
    totals : of units in cells; period : int64[n_cells], of every cell, -1 for cells that don't count
    seed : of the deals; deals : about how many series are dealt out anew, over all topics
    """
    whole = _parted(totals, period)
    least = _least(whole)
    stretches: dict[tuple[int, int], Movement] = {}
    found: list[ChangePoint] = []
    there = np.unique(period[period >= 0])
    if len(there) < 2:
        return ChangePoints([], least, 0, 0)
    waiting = [(k, int(there[0]), int(there[-1]), 0) for k in np.flatnonzero(whole.p <= least)]
    stretches[int(there[0]), int(there[-1])] = whole
    while waiting:
        topic, first, last, depth = waiting.pop()
        if (first, last) not in stretches:
            inside = np.where((period >= first) & (period <= last), period, -1)
            stretches[first, last] = _parted(totals, inside)
        parted = stretches[first, last]
        if not parted.p[topic] <= least / 2**depth:
            continue
        found.append(_point(parted, int(topic), first, last, depth))
        if depth < _DEEPEST:
            at = found[-1].period
            waiting += [(topic, first, at - 1, depth + 1), (topic, at, last, depth + 1)]
    found.sort(key=lambda each: (each.topic, each.period))
    return ChangePoints(found, least, *_shown_by_none(totals, period, least, seed, deals, part_of(report, 0.1, 1.0)))


def _parted(totals: UnitTotals, period: NDArray[np.int64]) -> Movement:
    return movement(totals, boundaries(period, totals.cell_weight))


def _least(whole: Movement) -> float:
    """The largest p that is under ``SURE`` when adjusted over topics, and what one alone would have to have."""
    known = whole.p[~np.isnan(whole.p)]
    sure = whole.p[whole.adjusted < SURE]
    return max(float(sure.max(initial=0.0)), SURE / max(len(known), 1))


def _point(parted: Movement, topic: int, first: int, last: int, depth: int) -> ChangePoint:
    at, found = int(parted.clearest[topic]), parted.found
    return ChangePoint(
        topic,
        int(parted.family.place[at]),
        first,
        last,
        float(found.other.moments.share[at, topic]),
        float(found.one.moments.share[at, topic]),
        float(found.difference[at, topic]),
        float(found.low[at, topic]),
        float(found.high[at, topic]),
        float(parted.p[topic]),
        depth,
    )


def dealt_out(totals: UnitTotals, rng: np.random.Generator) -> UnitTotals:
    """The same units in the same cells with the same weights, each with the shares of another unit, drawn anew.

    A unit that is in several cells gets those of another's rows, so that rows of one unit stay alike.
    """
    order = np.argsort(totals.unit, kind="stable")
    _, first, counts = np.unique(totals.unit[order], return_index=True, return_counts=True)
    donor = rng.permutation(len(first))
    mine = np.repeat(np.arange(len(first)), counts)
    drawn = first[donor[mine]] + (rng.random(len(order)) * counts[donor[mine]]).astype(np.int64)
    source = np.empty(len(order), dtype=np.int64)
    source[order] = order[drawn]
    rows = totals.ordered(source)
    factor = np.repeat(totals.weight / rows.weight, np.diff(rows.indptr))
    return replace(rows, cell=totals.cell, unit=totals.unit, weight=totals.weight, amount=rows.amount * factor)


def _some(totals: UnitTotals, rng: np.random.Generator) -> UnitTotals:
    """Some of very many units."""
    units = np.unique(totals.unit)
    if len(units) <= _MOST_UNITS:
        return totals
    kept = np.flatnonzero(np.isin(totals.unit, rng.choice(units, _MOST_UNITS, replace=False)))
    return totals.ordered(kept)


def _shown_by_none(
    totals: UnitTotals, period: NDArray[np.int64], least: float, seed: int, deals: int, report: Report
) -> tuple[int, int]:
    """Of series whose units were dealt out anew, how many show a change, and of how many."""
    rng = np.random.default_rng(seed)
    some = _some(totals, rng)
    times = -(-deals // max(totals.n_topics, 1))
    shown = dealt = 0
    for time in range(times):
        report("Dealing out the units anew", time / times)
        p = _parted(dealt_out(some, rng), period).p
        shown += int((p <= least).sum())
        dealt += int((~np.isnan(p)).sum())
    return shown, dealt
