"""How many groups: measures of groupings over their number, for several seeds, beside documents without any groups.

The elbow of a curve is the point farthest from the line between its ends (V. Satopää and others, *Finding a
“kneedle” in a haystack*, ICDCS Workshops 2011).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.agreement import adjusted_rand_index, silhouettes
from skeinwork.core.relate.distances import Rows, distances

# Documents whose silhouettes are taken: the mean over so many is known to about a hundredth.
SILHOUETTE_SAMPLE = 2000
# What is left within groups of documents that are all the same is rounding.
_ROUNDING = 1e-9


@dataclass(frozen=True)
class Grouping:
    """What is measured of one way to group.

    Attributes
    ----------
    group : int32[n_rows], -1 for none
    within, total : sums of what the method makes small: squared distances, or distances
    """

    group: NDArray[np.int32]
    within: float
    total: float


@dataclass(frozen=True)
class CountMeasures:
    """Of each number of groups and each seed, float64[n_counts, n_seeds].

    Attributes
    ----------
    within : what is left within groups
    between : share of the whole that lies between groups
    silhouette : mean over documents, of a sample where there are many
    agreement : float64[n_counts, n_pairs], adjusted Rand index of each pair of seeds
    sample : documents whose silhouettes were taken
    """

    within: NDArray[np.float64]
    between: NDArray[np.float64]
    silhouette: NDArray[np.float64]
    agreement: NDArray[np.float64]
    sample: int


Group = Callable[[Rows, int, int], Grouping]


def measure_counts(
    rows: Rows, counts: Sequence[int], seeds: Sequence[int], group: Group, by: str, report: Report = silent
) -> CountMeasures:
    """Group the rows into each number of groups with each seed, and measure it.

    Parameters
    ----------
    group : rows, number of groups and seed to a grouping
    by : key of the distance of silhouettes
    """
    held = np.flatnonzero(np.diff(rows.indptr) > 0)
    sample = np.sort(np.random.default_rng(1).permutation(held)[:SILHOUETTE_SAMPLE])
    apart = distances(rows[sample], by)
    shape = (len(counts), len(seeds))
    within, between, silhouette = np.zeros(shape), np.zeros(shape), np.zeros(shape)
    pairs = list(combinations(range(len(seeds)), 2))
    agreement = np.zeros((len(counts), len(pairs)))
    done, whole = 0.0, float(sum(counts) * len(seeds))
    for row, number in enumerate(counts):
        made = []
        for column, seed in enumerate(seeds):
            report("Grouping", done / whole, groups=number, seed=seed)
            found = group(rows, number, seed)
            made.append(found.group[held].astype(np.int64))
            within[row, column] = found.within
            between[row, column] = 1 - found.within / found.total if found.total > 0 else 0.0
            silhouette[row, column] = silhouettes(apart, found.group[sample]).mean()
            done += number
        agreement[row] = [adjusted_rand_index(made[one], made[other]) for one, other in pairs]
    return CountMeasures(within, between, silhouette, agreement, len(sample))


def off_chord(counts: Sequence[int], values: NDArray[np.float64]) -> NDArray[np.float64] | None:
    """How far each point of a curve lies from the line between its ends, both taken as one; None where it has no bend.

    >>> off_chord([2, 3, 4, 5, 6], np.array([10.0, 5.0, 4.0, 3.5, 3.0])).round(2).tolist()
    [0.0, 0.46, 0.36, 0.18, 0.0]
    """
    x, y = np.asarray(counts, dtype=np.float64), np.asarray(values, dtype=np.float64)
    if len(x) < 3 or abs(y[0] - y[-1]) <= _ROUNDING * max(1.0, float(np.abs(y).max())):
        return None
    return np.abs((y - y[0]) / (y[-1] - y[0]) - (x - x[0]) / (x[-1] - x[0]))


def elbow(counts: Sequence[int], values: NDArray[np.float64]) -> int | None:
    """The place of the count where a curve bends the most; None under three, or where it hardly bends.

    It hardly does where it leaves the line between its ends by less than a tenth of their difference.

    >>> elbow([2, 3, 4, 5, 6], np.array([10.0, 5.0, 4.0, 3.5, 3.0]))
    1
    """
    off = off_chord(counts, values)
    if off is None:
        return None
    best = int(off.argmax())
    return best if off[best] >= 0.1 else None
