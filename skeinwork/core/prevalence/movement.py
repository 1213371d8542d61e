"""Which topics move over the time, or differ between groups: one p a topic, over a family of contrasts.

Over the time a topic may change for good or for a while, so that the family is all that comes after each boundary
against all before it, and each period against all others; between groups it is each against all others. Their p are
put together for each topic (R. Simes, *An improved Bonferroni procedure for multiple tests of significance*, 1986),
and over the topics adjusted (Y. Benjamini and Y. Hochberg, *Controlling the false discovery rate*, 1995). What changed
is the contrast that is the clearest.

How often a corpus without changes shows one is simulated by ``make calibrate``.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.false_discovery import any_of, false_discovery_rates
from skeinwork.core.prevalence.differences import Differences, Sides, before_and_after, differences, each_against_others
from skeinwork.core.prevalence.totals import UnitTotals

# Boundaries that are looked at: of more, those that part the cells' weight most evenly.
MOST_BOUNDARIES = 100
# Periods beyond which none is held against all others by itself.
MOST_PERIODS = 200
# Adjusted p under which a topic is said to move, or to differ.
SURE = 0.05


@dataclass(frozen=True)
class Family:
    """Contrasts of cells, and what each is.

    Attributes
    ----------
    sides : int8[n_contrasts, n_cells]
    place : int64[n_contrasts], the first period after a boundary, a period, or a group
    lasting : bool[n_contrasts], whether it is of a boundary
    """

    sides: Sides
    place: NDArray[np.int64]
    lasting: NDArray[np.bool_]


@dataclass(frozen=True)
class Movement:
    """What moves or differs.

    Attributes
    ----------
    p, adjusted : float64[n_topics], NaN where no contrast has enough units
    clearest : int64[n_topics], the contrast that is the clearest, -1 for none
    found : all of them; family : what they are
    """

    p: NDArray[np.float64]
    adjusted: NDArray[np.float64]
    clearest: NDArray[np.int64]
    found: Differences
    family: Family


def boundaries(period: NDArray[np.int64], weight: NDArray[np.float64]) -> Family:
    """All that comes after each boundary against all before it.

    Parameters
    ----------
    period : int64[n_cells], of every cell, -1 for cells that don't count
    weight : float64[n_cells]
    """
    sides, starts = before_and_after(period), np.unique(period[period >= 0])[1:]
    if len(starts) > MOST_BOUNDARIES:
        before = (sides < 0) @ weight
        wanted = np.linspace(0.0, weight[period >= 0].sum(), MOST_BOUNDARIES + 2)[1:-1]
        kept = np.unique(np.clip(np.searchsorted(before, wanted), 0, len(starts) - 1))
        sides, starts = sides[kept], starts[kept]
    return Family(sides, starts, np.ones(len(starts), dtype=bool))


def over_time(period: NDArray[np.int64], weight: NDArray[np.float64]) -> Family:
    """Boundaries, and each period against all others; of the same."""
    parted, single = boundaries(period, weight), between_groups(period)
    if not 2 < len(single.place) <= MOST_PERIODS:
        return parted
    return Family(
        np.concatenate([parted.sides, single.sides]),
        np.concatenate([parted.place, single.place]),
        np.concatenate([parted.lasting, single.lasting]),
    )


def between_groups(group: NDArray[np.int64]) -> Family:
    """Each group against all others; ``group`` is that of every cell, int64[n_cells], -1 for none."""
    there = np.unique(group[group >= 0])
    return Family(each_against_others(group), there, np.zeros(len(there), dtype=bool))


def movement(totals: UnitTotals, family: Family) -> Movement:
    """One p a topic, adjusted over topics, and the clearest contrast of each."""
    found = differences(totals, family.sides)
    p = any_of(found.p) if len(family.sides) else np.full(totals.n_topics, np.nan)
    return Movement(p, false_discovery_rates(p), _clearest(found), found, family)


def _clearest(found: Differences) -> NDArray[np.int64]:
    """The contrast of the least p; of several as small, the one that is furthest from none by its interval."""
    if not len(found.p):
        return np.full(found.p.shape[1], -1, dtype=np.int64)
    reach = np.where(found.difference > 0, found.difference - found.low, found.high - found.difference)
    far = np.nan_to_num(np.abs(found.difference) / np.maximum(reach, 1e-300), nan=-1.0)
    p = np.where(np.isnan(found.p), np.inf, found.p)
    order = np.lexsort((-far, p), axis=0)
    return np.where(np.isfinite(p).any(axis=0), order[0], -1).astype(np.int64)
