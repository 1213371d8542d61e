"""How surely a word is a group's, by the units that were sampled: no document's or author's word is the group's.

Under no difference each unit that has a word falls into a group with the group's share of all tokens, and
brings all its occurrences: their number inside is a sum of such units, whose distribution is worked out
exactly, or by saddlepoint (R. Lugannani and S. Rice, *Saddle point approximation for the distribution of
the sum of independent random variables*, Advances in Applied Probability 12, 1980; continuity: H. Daniels,
*Tail probability approximations*, International Statistical Review 55, 1987). Where all units have a word
once it is the exact binomial test. Intervals turn the test round (C. Clopper and E. Pearson, *The use of
confidence or fiducial limits illustrated in the case of the binomial*, Biometrika 26, 1934). A group
whose units say a word more often each, not more of which say it, is told by how its units scatter: the variance
of a ratio over units (W. Cochran, *Sampling techniques*, 1977) and a t distribution with as many degrees of
freedom as units count in it. The larger p counts of both, and the wider end of both intervals.
``make calibrate --only false_words`` says how often words are told apart for nothing.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray
from scipy.special import stdtr, stdtrit

from skeinwork.core.corpus.grouping import with_own_units
from skeinwork.core.progress import Report, silent

VERSION = 1
# Units times occurrences up to which the distribution is added up (20 µs); beyond, the saddlepoint is within
# a hundredth of the tail where most units have a word once or twice.
_EXACT = 20_000
# Where units of one side are so many times as long, words that come in clumps were told apart for nothing
# in up to 15 % of simulated runs: then the number of units that have the word must tell too.
UNLIKE_LENGTHS = 1.5
# Of units on either side, under which nothing is told: as for prevalence.
LEAST_UNITS = 6
_OUTSIDE = 0.025
# Least degrees of freedom of the side that says a word less often; with 1 a word of one unit in 300, which all
# others say, was not told apart, with none counted intervals of words in clumps held .91.
_RARELY = 3.0
# Words between two looks whether to go on: half a second of them where 58 groups are compared.
_AT_ONCE = 100
_STEPS = 40


@dataclass(frozen=True)
class UnitCounts:
    """How often each unit has each word, and where units are.

    Attributes
    ----------
    counts : int[n_cells, n_terms], a row for each unit within each group
    group : int64[n_cells]
    lengths : int64[n_cells], tokens
    tokens : int64[n_groups]
    units : int64[n_groups], with at least one token
    """

    counts: scipy.sparse.csc_matrix
    group: NDArray[np.int64]
    lengths: NDArray[np.int64]
    tokens: NDArray[np.int64]
    units: NDArray[np.int64]

    def lengths_ratio(self, group: int) -> float:
        """How many times as long the units of a group are as all others, or those as they."""
        tokens, units = self.tokens, self.units
        own = tokens[group] / max(units[group], 1)
        rest = (tokens.sum() - tokens[group]) / max(units.sum() - units[group], 1)
        return float(max(own, rest) / max(min(own, rest), 1e-9))


def unit_counts(
    counts: scipy.sparse.csr_matrix, group: NDArray[np.int64], unit: NDArray[np.int64] | None = None
) -> UnitCounts:
    """Add up documents by unit and group; those without a group are left out.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    group : int64[n_docs], from 0; -1 where there is none
    unit : int64[n_docs], what was sampled, -1 for documents that are units by themselves; None for all
    """
    known = np.flatnonzero(group >= 0)
    n_groups = int(group.max(initial=-1)) + 1
    part = counts[known]
    if unit is None or (unit[known] < 0).all():
        cells, cell_group = part, group[known]
    else:
        own = with_own_units(unit[known], len(known))
        keys, place = np.unique(own * n_groups + group[known], return_inverse=True)
        add = scipy.sparse.csr_matrix((np.ones(len(known), counts.dtype), (place.ravel(), np.arange(len(known)))))
        cells, cell_group = add @ part, keys % n_groups
    sizes = np.asarray(cells.sum(axis=1, dtype=np.int64)).ravel()
    tokens = np.bincount(cell_group, sizes, n_groups).astype(np.int64)
    columns = scipy.sparse.csc_matrix(cells)
    return UnitCounts(columns, cell_group, sizes, tokens, np.bincount(cell_group[sizes > 0], minlength=n_groups))


@dataclass(frozen=True)
class Significance:
    """Of each group and word, float64[n_groups, n_terms] and int64[n_groups, n_terms].

    Attributes
    ----------
    p : two-sided, of each group against all others; NaN where either side has too few units
    inside : occurrences in the group
    units : units of the group that have the word
    """

    p: NDArray[np.float64]
    inside: NDArray[np.int64]
    units: NDArray[np.int64]


def significance(found: UnitCounts, report: Report = silent) -> Significance:
    """How surely each word is more frequent in each group than in the others, or less.

    Where units differ in length by more than ``UNLIKE_LENGTHS``, a p counts too of the units with the word
    among all units (hypergeometric), if it is the larger.
    """
    n_groups, n_terms = len(found.tokens), found.counts.shape[1]
    share = found.tokens / max(int(found.tokens.sum()), 1)
    low, high = np.ones((n_groups, n_terms)), np.ones((n_groups, n_terms))
    inside, units = np.zeros((n_groups, n_terms), np.int64), np.zeros((n_groups, n_terms), np.int64)
    part = found.counts
    for begins in range(0, n_terms, _AT_ONCE):
        report("Comparing words", begins / n_terms)
        here = slice(begins, begins + _AT_ONCE)
        pointer, filled = part.indptr[begins : begins + _AT_ONCE + 1], (inside, units, low, high)
        _of_terms(pointer, part.indices, part.data, found.group, share, *(each[:, here] for each in filled))
    whole, of_all = units.sum(axis=0), int(found.units.sum())
    for group in range(n_groups):
        if found.lengths_ratio(group) > UNLIKE_LENGTHS:
            given = (units[group], of_all, int(found.units[group]), whole)
            low[group] = np.maximum(low[group], scipy.stats.hypergeom.cdf(*given))
            high[group] = np.maximum(high[group], scipy.stats.hypergeom.sf(given[0] - 1, *given[1:]))
    ratio, error, freedom = _scatter(found, range(n_groups), None)
    by_scatter = np.where(np.isfinite(error), stdtr(freedom, -np.abs(ratio) / error), 0.0)
    p = np.minimum(1.0, 2 * np.maximum(np.minimum(low, high), by_scatter))
    few = np.minimum(found.units, of_all - found.units) < LEAST_UNITS
    p[few] = np.nan
    p[:, whole == 0] = np.nan
    return Significance(p, inside, units)


def log_ratio_intervals(
    found: UnitCounts, group: int, terms: Sequence[int], p: NDArray[np.float64]
) -> NDArray[np.float64]:
    """95 % intervals of log₂ of how many times as frequent words are in a group as in the others.

    Parameters
    ----------
    terms : columns of the words
    p : float64[n_words], theirs, of the group

    Returns
    -------
    float64[n_words, 2]: all ratios that neither test rejects, infinite where one side has none. Where lengths
    made p the larger one, and it tells nothing, the interval reaches to no difference. NaN where p is.
    """
    share = found.tokens[group] / found.tokens.sum()
    ratio, error, freedom = _scatter(found, [group], terms)
    reach = error * stdtrit(freedom, 1 - _OUTSIDE)
    ends = np.full((len(terms), 2), np.nan)
    for at in np.flatnonzero(~np.isnan(p)).tolist():
        begins, stops = found.counts.indptr[terms[at] : terms[at] + 2]
        cells = found.counts.data[begins:stops].astype(np.int64)
        inside = int(cells[found.group[found.counts.indices[begins:stops]] == group].sum())
        sizes, many = np.unique(cells, return_counts=True)
        low, high = _interval(sizes, many, inside, math.log(share / (1 - share)))
        if np.isfinite(reach[0, at]):
            low, high = min(low, ratio[0, at] - reach[0, at]), max(high, ratio[0, at] + reach[0, at])
        if p[at] > 2 * _OUTSIDE:
            low, high = min(low, 0.0), max(high, 0.0)
        ends[at] = low, high
    return ends / math.log(2)


def _scatter(
    found: UnitCounts, groups: Iterable[int], terms: Sequence[int] | None
) -> tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.float64]]:
    """Of each group and term the ln of the ratio, its standard error over units, and degrees of freedom.

    Each float64[n_groups, n_terms]; the error is infinite where a side has none.
    """
    part = found.counts if terms is None else found.counts[:, list(terms)]
    listed = np.array(list(groups), dtype=np.int64)
    shape = (len(listed), part.shape[1])
    ratio, error, freedom = np.zeros(shape), np.full(shape, np.inf), np.ones(shape)
    lengths = found.lengths.astype(np.float64)
    sums = [np.bincount(found.group, lengths**power, len(found.tokens)) for power in (1, 2, 4)]
    of_groups = np.stack([*sums, found.units.astype(np.float64)], axis=1)
    sides = np.stack([of_groups[listed], of_groups.sum(axis=0) - of_groups[listed]], axis=2)
    _scatter_of_terms(part.indptr, part.indices, part.data, found.group, lengths, sides, listed, ratio, error, freedom)
    return ratio, error, freedom


@njit(cache=True, nogil=True)
def _scatter_of_terms(
    pointer: Any,
    cells: Any,
    data: Any,
    group: Any,
    lengths: Any,
    sides: Any,
    listed: Any,
    ratio: Any,
    error: Any,
    freedom: Any,
) -> None:
    """Fill in what ``_scatter`` gives. A unit without the word lies by its length times the rate from the mean."""
    for term in range(len(pointer) - 1):
        begins, ends = pointer[term], pointer[term + 1]
        for row in range(len(listed)):
            here = listed[row]
            tokens, n, total = sides[row, 0], sides[row, 3], np.zeros(2)
            for at in range(begins, ends):
                total[0 if group[cells[at]] == here else 1] += data[at]
            if total[0] == 0.0 or total[1] == 0.0 or n[0] < 2.0 or n[1] < 2.0:
                continue
            rate = total / tokens
            squares, fourths = sides[row, 1] * rate**2, sides[row, 2] * rate**4
            for at in range(begins, ends):
                side = 0 if group[cells[at]] == here else 1
                without = (rate[side] * lengths[cells[at]]) ** 2
                apart = (data[at] - rate[side] * lengths[cells[at]]) ** 2
                squares[side] += apart - without
                fourths[side] += apart**2 - without**2
            variance, lost = 0.0, 0.0
            for side in range(2):
                own = squares[side] / total[side] ** 2 * n[side] / (n[side] - 1.0)
                variance += own
                # As many units as make up the variance: all where they scatter alike, few where few do. Of the
                # side that rarely says it, few tell enough: how the others scatter is known.
                count = squares[side] ** 2 / max(fourths[side], 1e-300) - 1.0
                lost += own**2 / max(count, 1.0 if rate[side] >= rate[1 - side] else _RARELY)
            ratio[row, term] = math.log(rate[0] / rate[1])
            error[row, term] = math.sqrt(max(variance, 1e-300))
            freedom[row, term] = variance**2 / max(lost, 1e-300)


@njit(cache=True, nogil=True)
def _interval(sizes: Any, many: Any, inside: int, base: float) -> Any:
    """The log ratios between which neither tail is under 2.5 %; infinite where one side has none."""
    found = np.empty(2)
    for side in range(2):
        below, above = -40.0, 40.0
        for _ in range(_STEPS):
            middle = (below + above) / 2
            share = min(max(1.0 / (1.0 + math.exp(-(base + middle))), 1e-12), 1.0 - 1e-12)
            low, high = _tails(sizes, many, share, inside)
            kept = (high if side == 0 else low) > _OUTSIDE
            # From what is not rejected the lower end lies down, the upper end up.
            if kept == (side == 0):
                above = middle
            else:
                below = middle
        found[side] = (below + above) / 2
    low_end = found[0] if found[0] > -39.0 else -np.inf
    high_end = found[1] if found[1] < 39.0 else np.inf
    return low_end, high_end


@njit(cache=True, nogil=True)
def _of_terms(
    pointer: Any, cells: Any, data: Any, group: Any, share: Any, inside: Any, units: Any, low: Any, high: Any
) -> None:
    """Occurrences and units by group of each term, and both tails."""
    for term in range(len(pointer) - 1):
        begins, ends = pointer[term], pointer[term + 1]
        if begins == ends:
            continue
        for at in range(begins, ends):
            inside[group[cells[at]], term] += data[at]
            units[group[cells[at]], term] += 1
        ordered = np.sort(data[begins:ends])
        sizes, many = np.zeros(len(ordered), np.int64), np.zeros(len(ordered), np.int64)
        distinct = 0
        for at in range(len(ordered)):
            if at == 0 or ordered[at] != ordered[at - 1]:
                sizes[distinct] = ordered[at]
                distinct += 1
            many[distinct - 1] += 1
        for each in range(len(share)):
            if 0.0 < share[each] < 1.0:
                low[each, term], high[each, term] = _tails(
                    sizes[:distinct], many[:distinct], share[each], inside[each, term]
                )


@njit(cache=True, nogil=True)
def _tails(sizes: Any, many: Any, share: float, inside: int) -> Any:
    """Chance of at most, and of at least, so many occurrences inside."""
    total = units = 0
    for at in range(len(sizes)):
        total += sizes[at] * many[at]
        units += many[at]
    if total * units <= _EXACT:
        return _exact_tails(sizes, many, total, share, inside)
    low = 1.0 if inside >= total else 1.0 - _upper_tail(sizes, many, total, share, inside + 1)
    high = 1.0 if inside <= 0 else _upper_tail(sizes, many, total, share, inside)
    return min(max(low, 0.0), 1.0), min(max(high, 0.0), 1.0)


@njit(cache=True, nogil=True)
def _exact_tails(sizes: Any, many: Any, total: int, share: float, inside: int) -> Any:
    chance = np.zeros(total + 1)
    chance[0] = 1.0
    top = 0
    for at in range(len(sizes)):
        size = sizes[at]
        for _ in range(many[at]):
            for place in range(top, -1, -1):
                chance[place + size] += chance[place] * share
                chance[place] *= 1.0 - share
            top += size
    return chance[: inside + 1].sum(), chance[inside:].sum()


@njit(cache=True, nogil=True)
def _upper_tail(sizes: Any, many: Any, total: int, share: float, least: int) -> float:
    """Chance of at least so many, between 1 and all, by saddlepoint with the second continuity correction."""
    wanted = least - 0.5
    tilt, below, above = 0.0, -50.0, 50.0
    log_mean = spread = 0.0
    for _ in range(200):
        log_mean = mean = spread = 0.0
        for at in range(len(sizes)):
            # ln (1 − π + π e^{t c}), in a form that does not overflow.
            power = tilt * sizes[at] + math.log(share / (1.0 - share))
            log_mean += many[at] * (math.log(1.0 - share) + max(power, 0.0) + math.log1p(math.exp(-abs(power))))
            chance = 1.0 / (1.0 + math.exp(-power)) if power > -700.0 else 0.0
            mean += many[at] * sizes[at] * chance
            spread += many[at] * sizes[at] ** 2 * chance * (1.0 - chance)
        if abs(mean - wanted) < 1e-8 * total:
            break
        if mean > wanted:
            above = tilt
        else:
            below = tilt
        step = tilt - (mean - wanted) / max(spread, 1e-300)
        tilt = step if below < step < above else (below + above) / 2
    root = math.sqrt(max(2.0 * (tilt * wanted - log_mean), 0.0))
    if root < 1e-3:
        return 0.5  # at the mean, where no tail matters
    if tilt < 0:
        root = -root
    slope = 2.0 * math.sinh(tilt / 2.0) * math.sqrt(spread)
    normal = 0.5 * math.erfc(root / math.sqrt(2.0))
    density = math.exp(-root * root / 2.0) / math.sqrt(2.0 * math.pi)
    return normal + density * (1.0 / slope - 1.0 / root)
