"""How small a difference or change these documents could show: found four times in five, by simulation.

Shares of cells are drawn about planted ones as a proportion varies among as many units as each cell has in effect
(the beta distribution by which its interval is made; E. Korn and B. Graubard, *Confidence intervals for proportions
with small expected number of positive counts estimated from survey data*, 1998), and put to the very test that is used.
How often it is found is followed over sizes (J. Cohen, *Statistical power analysis for the behavioral sciences*, 1988,
for the notion); a normal curve through these gives the size that is found in ``AIMED`` of the draws: a little more
often than is promised, since in whole corpora it is found a little less often than in what is drawn here.

``make calibrate`` plants what was promised in whole corpora and counts how often it is found.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy import special

from skeinwork.core.false_discovery import any_of
from skeinwork.core.prevalence.differences import ONE, Compared
from skeinwork.core.prevalence.movement import SURE, Movement
from skeinwork.core.prevalence.prevalence import Spread, moments, pooled_over, spread_of
from skeinwork.core.prevalence.totals import UnitTotals
from skeinwork.core.progress import Report, silent

Array = NDArray[np.float64]
VERSION = 2
# How often the size is found in the draws, that it be found four times in five in whole corpora.
AIMED = 0.82
DRAWS = 200
# Sizes that are tried, times the one at which a normal test would find it: they straddle it.
_TRIED = (0.75, 1.0, 1.3, 1.7)
# Degrees of freedom of what all topics and cells say of a topic's scatter.
_LEANED = 5.0
# Topics that are simulated of more than as many.
_SIMULATED = 9
# Share times units in effect under which nothing is promised: what was then was found in .4 to .7 of whole corpora.
LEAST_HELD = 5.0


def detectable_of_all(
    totals: UnitTotals, moved: Movement, contrast: int, seed: int = 1, report: Report = silent
) -> Array:
    """The same of every topic: of many, some of all sizes are simulated, and the others read off between them.

    Between topics of like share the size is as many standard deviations of the difference.
    """
    deviation = _deviation(moved, contrast)
    share = pooled_over(moments(totals)).share
    order = np.argsort(share)
    order = order[share[order] * _held(moved, contrast)[order] >= LEAST_HELD]
    if not len(order):
        return np.full(len(share), np.nan)
    some = [int(order[at]) for at in np.unique(np.linspace(0, len(order) - 1, _SIMULATED).round().astype(int))]
    size = detectable(totals, moved, contrast, some, seed, report)
    known = [k for k in some if np.isfinite(size[k])]
    if len(order) > len(some) and len(known) > 1:
        times = np.interp(np.log(share[order]), np.log(share[known]), size[known] / deviation[known])
        size[order] = np.where(np.isnan(size[order]), times * deviation[order], size[order])
        size[size >= 1.0 - share] = np.nan
    return size


def detectable(
    totals: UnitTotals, moved: Movement, contrast: int, topics: Sequence[int], seed: int = 1, report: Report = silent
) -> Array:
    """The least difference between the sides of one contrast for which a topic would be said to move, or to differ.

    Parameters
    ----------
    totals : of units in cells; moved : what was found over them
    contrast : the one that is planted, among those of the family
    topics : those that are looked at

    Returns
    -------
    float64[n_topics], in points of share; NaN where nothing of any size would be found, and for other topics
    """
    tested = np.flatnonzero(~np.isnan(moved.found.p).all(axis=1))
    size = np.full(totals.n_topics, np.nan)
    if contrast not in tested:
        return size
    least, held = _threshold(moved), _held(moved, contrast)
    cells = moments(totals)
    pooled = pooled_over(cells)
    spread = spread_of(cells, totals.spread, pooled)
    for number, topic in enumerate(topics):
        report("What these documents could show", number / len(topics))
        rng = np.random.default_rng([seed, topic])
        share = float(pooled.share[topic])
        if share * held[topic] < LEAST_HELD:
            continue
        planted = _Planted(moved, tested, contrast, int(topic), cells.weight, spread.units[:, topic], share)
        size[topic] = _size(planted, least, rng)
    return size


def _threshold(moved: Movement) -> float:
    """What the p of one topic has to be under, when as many others are found as here."""
    count = int((~np.isnan(moved.p)).sum())
    return SURE * max(1, int((moved.adjusted < SURE).sum())) / max(count, 1)


@dataclass(frozen=True)
class _Planted:
    """One topic, and what is planted in it."""

    moved: Movement
    tested: NDArray[np.int64]
    contrast: int
    topic: int
    weight: Array
    units: Array
    share: float

    def means(self, size: float) -> Array:
        """Planted share of every cell: ``size`` between the sides, the whole as it is where that can be."""
        one = self.moved.family.sides[self.contrast] == ONE
        part = self.weight[one].sum() / max(self.weight.sum(), 1e-300)
        rest = max(self.share - size * part, 0.25 * self.share)
        return np.where(one, np.minimum(rest + size, 0.999), rest)

    def found(self, size: float, least: float, rng: np.random.Generator) -> float:
        """How often the topic would be said to move or differ."""
        means = self.means(size)
        units = np.maximum(self.units, 1e-6)
        shares = rng.beta(means * units, (1.0 - means) * units, (DRAWS, len(units)))
        compared = self._compared(shares, self._misjudged(rng))
        # The planted one may decide by itself; where none has so much as ``least`` nothing is found.
        planted = np.flatnonzero(self.tested == self.contrast)
        at_once = (_beyond(compared.of(planted), least / len(self.tested)) < 0.0).any(axis=0)
        some = compared.of((slice(None), np.flatnonzero(~at_once)))
        near = _beyond(some, least) < 0.0
        p = np.ones(near.shape)
        if near.any():
            p[near] = some.of(near).p()
        return float((at_once.sum() + (any_of(p) <= least).sum()) / DRAWS)

    def _misjudged(self, rng: np.random.Generator) -> Array:
        """How many times too wide the units' scatter is judged in every draw, float64[DRAWS].

        A topic that few units have says little of its scatter, which costs it some of what would be found.
        """
        found, at = self.moved.found, (self.contrast, self.topic)
        rests_on = min(float(side.moments.freedom[at]) for side in (found.one, found.other)) + _LEANED
        return rng.chisquare(rests_on, DRAWS) / rests_on

    def _compared(self, shares: Array, misjudged: Array) -> Compared:
        """All contrasts in every draw, [n_tested, DRAWS]."""
        sides = self.moved.family.sides[self.tested]
        both = []
        for members, side in ((sides > 0, self.moved.found.one), (sides < 0, self.moved.found.other)):
            parts = members * self.weight
            parts = parts / np.maximum(parts.sum(axis=1, keepdims=True), 1e-300)
            share = np.clip(parts @ shares.T, 1e-9, 1.0 - 1e-9)
            of = side.spread
            units, free = (each[self.tested, self.topic][:, None] + 0 * share for each in (of.units, of.freedom))
            both.append(Spread(share, units / misjudged, free))
        one, other = both
        return Compared(one, other, self.moved.found.shared[self.tested, self.topic][:, None] + 0 * one.share)


def _beyond(compared: Compared, p: float) -> Array:
    """How far each interval of that level goes beyond no difference."""
    return compared.beyond(np.full(compared.shared.shape, -float(special.ndtri(p / 2.0))))


def _held(moved: Movement, contrast: int) -> Array:
    """Units in effect of the side that has fewer, float64[n_topics]."""
    return np.minimum(moved.found.one.spread.units[contrast], moved.found.other.spread.units[contrast])


def _deviation(moved: Movement, contrast: int) -> Array:
    """Of a difference between the sides where there is none, float64[n_topics]."""
    one, other = moved.found.one, moved.found.other
    weight = np.array([one.moments.weight[contrast], other.moments.weight[contrast]])
    shares = np.stack([one.moments.share[contrast], other.moments.share[contrast]])
    share = weight @ shares / max(float(weight.sum()), 1e-300)
    units = 1.0 / np.maximum(one.spread.units[contrast], 1e-300) + 1.0 / np.maximum(
        other.spread.units[contrast], 1e-300
    )
    return np.asarray(np.sqrt(np.maximum(share * (1.0 - share), 1e-12) * units))


def _size(planted: _Planted, least: float, rng: np.random.Generator) -> float:
    """The size found in ``AIMED`` of the draws, by a normal curve through those that were tried."""
    guess = float(_deviation(planted.moved, planted.contrast)[planted.topic]) * (
        special.ndtri(AIMED) - special.ndtri(least / 2.0)
    )
    sizes = np.array([guess * each for each in _TRIED])
    sizes = sizes[sizes < 1.0 - planted.share]
    rates = np.array([planted.found(float(size), least, rng) for size in sizes])
    while len(rates) and rates[-1] < AIMED and sizes[-1] * 1.4 < 1.0 - planted.share:
        sizes = np.append(sizes, sizes[-1] * 1.4)
        rates = np.append(rates, planted.found(float(sizes[-1]), least, rng))
    if not len(rates) or rates[-1] < AIMED:
        return float("nan")
    above = int(np.argmax(rates >= AIMED))
    if above == 0:
        return float(sizes[0])
    z = special.ndtri(np.clip(rates[above - 1 : above + 1], 0.5 / DRAWS, 1.0 - 0.5 / DRAWS))
    return float(np.interp(special.ndtri(AIMED), z, sizes[above - 1 : above + 1]))
