"""Dense groups of items that stand out further than by chance, and how they come out in halves of the items.

Clusters by density (``relate/density_clusters``), in the leading directions of vectors; of these only such as stand out
further than any does in one heap as spread and as skewed in every direction.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.density_clusters import (
    ClusterTree,
    cluster_tree,
    core_distances,
    densities,
    members,
    of_greatest_mass,
    prominence,
    spanning_tree,
)
from skeinwork.core.relate.neighbours import Neighbours, neighbours, unit_vectors
from skeinwork.core.relate.truncated_svd import truncated_svd
from skeinwork.core.threads import most_threads
from skeinwork.core.topics.clustered import OUTLIER
from skeinwork.core.topics.factors import threads

VERSION = 1
# Neighbours within which density is looked at. With 5 planted clusters were found with an adjusted Rand index of .90
# to .98, with 10 of .94 to .98, with 15 the same.
NEIGHBOURS = 10
# Heaps without groups that are drawn: where there is nothing to find, one in twenty fits has a topic.
HEAPS = 19
# Whatever heaps do, one that stands out by less is none: noise with heavier tails than a heap came to 1.08.
LEAST_PROMINENCE = 1.1
# Items of a heap at most, and of its smallest group.
_MOST_DRAWN, _LEAST_DRAWN = 5000, 5
# A heap that is skewed further is a spike; one that is less so is none.
_MOST_SKEWED, _STRAIGHT = 1.5, 0.05


@dataclass(frozen=True)
class Grouped:
    """What stands out among items.

    Attributes
    ----------
    topic : int64[n_items], -1 for outliers
    prominence : float64[n_topics], how many times as dense as around
    until : float64[n_topics], the distance at which each begins
    """

    topic: NDArray[np.int64]
    prominence: NDArray[np.float64]
    until: NDArray[np.float64]


def reduced(unit: NDArray[np.float32], dimensions: int) -> NDArray[np.float32]:
    """Vectors in their leading directions about their middle, float32[n_items, dimensions]."""
    about = np.asarray(unit - unit.astype(np.float64).mean(axis=0), dtype=np.float32)
    found = truncated_svd(about, min(dimensions, *unit.shape))
    return np.asarray(found.left * found.values, dtype=np.float32)


def grouped(places: NDArray[np.float32], found: Neighbours, smallest: int, chance: float) -> Grouped:
    """Clusters by density that stand out by more than ``chance``.

    Parameters
    ----------
    places : float32[n_items, n_dimensions] of length 1; found : neighbours of each
    """
    tree, density = _tree(places, found, smallest)
    stands_out = prominence(tree, density)
    chosen = of_greatest_mass(tree, stands_out > chance)
    return Grouped(members(tree, chosen), stands_out[chosen], 1.0 / np.maximum(tree.born[chosen], 1e-300))


def _tree(places: NDArray[np.float32], found: Neighbours, smallest: int) -> tuple[ClusterTree, NDArray[np.float64]]:
    core = core_distances(found)
    spanned = spanning_tree(places, core)
    return cluster_tree(spanned, smallest), densities(spanned, core)


def by_chance(places: NDArray[np.float32], smallest: int, seed: int, report: Report = silent) -> float:
    """How far the foremost cluster stands out in one heap: as many items, drawn about the middle of all.

    In each direction as spread and as skewed as the items are, by a shifted gamma distribution (K. Pearson,
    *Contributions to the mathematical theory of evolution II*, 1895), without any other bond. The greatest of ``HEAPS``
    (E. Edgington and P. Onghena, *Randomization tests*, 2007).

    At least ``LEAST_PROMINENCE``.

    Parameters
    ----------
    places : float32[n_items, n_dimensions], not brought to length 1
    """
    # Of fewer items as many more lie in one place.
    some = min(_MOST_DRAWN, len(places))
    smallest = max(_LEAST_DRAWN, round(smallest * some / len(places)))
    wide = places.astype(np.float64)
    middle, spread = wide.mean(axis=0), np.maximum(wide.std(axis=0), 1e-12)
    skew = np.clip((((wide - middle) / spread) ** 3).mean(axis=0), -_MOST_SKEWED, _MOST_SKEWED)

    def heap(first: int, end: int) -> float:
        report("Drawing heaps without groups", first / HEAPS)
        drawn = middle + spread * _skewed(np.random.default_rng([seed, first]), some, skew)
        unit = unit_vectors(drawn.astype(np.float32))
        tree, density = _tree(unit, neighbours(unit, min(NEIGHBOURS, some - 1)), smallest)
        return float(prominence(tree, density).max())

    with threads(most_threads()) as at_work:
        return max(LEAST_PROMINENCE, *at_work.each(heap, HEAPS, 1))


def _skewed(chance: np.random.Generator, items: int, skew: NDArray[np.float64]) -> NDArray[np.float64]:
    """Numbers of mean 0 and spread 1 with a skewness, float64[n_items, n_dimensions]."""
    shape = 4.0 / np.maximum(skew**2, _STRAIGHT**2)
    drawn = (chance.standard_gamma(shape, (items, len(skew))) - shape) / np.sqrt(shape)
    straight = chance.standard_normal((items, len(skew)))
    # What logarithms give differs between machines in its last bits.
    return np.asarray(np.round(np.where(np.abs(skew) < _STRAIGHT, straight, np.sign(skew) * drawn), 6))


def in_half(
    places: NDArray[np.float32], near: Neighbours, smallest: int, chance: float, draw: np.random.Generator
) -> NDArray[np.int64]:
    """Clusters of half of the items, int64[n_items]; others are in that of their nearest neighbour of the half, where
    they are near enough to have been in it, else -1."""
    n = len(places)
    inside = np.zeros(n, bool)
    inside[draw.permutation(n)[: n // 2]] = True
    some = np.flatnonzero(inside)
    half = grouped(places[some], neighbours(places[some], min(NEIGHBOURS // 2, len(some) - 1)), smallest, chance)
    topic = np.full(n, OUTLIER, np.int64)
    topic[some] = half.topic
    others = np.flatnonzero(~inside)
    there = inside[near.near[others]]
    first = there.argmax(axis=1)
    joined = near.near[others, first]
    # As far as it is, and as sparse as it is around both, it would have been reached from there.
    core = core_distances(near)
    apart = np.sqrt(np.maximum(2.0 - 2.0 * near.cosine[others, first].astype(np.float64), 0.0))
    reached = np.maximum(apart, np.maximum(core[others], core[joined]))
    of = topic[joined]
    inside_it = there.any(axis=1) & (of >= 0) & (reached <= np.append(half.until, 0.0)[of])
    topic[others] = np.where(inside_it, of, OUTLIER)
    return topic


def as_those(topic: NDArray[np.int64], those: NDArray[np.int64]) -> NDArray[np.int64]:
    """Groups by the number of the group among ``those`` that most of their items are in; -1 where that is none."""
    if not len(topic) or topic.max() < 0 or those.max() < 0:
        return np.full(len(topic), OUTLIER, np.int64)
    both = np.zeros((topic.max() + 1, those.max() + 2), np.int64)
    there = topic >= 0
    np.add.at(both, (topic[there], those[there] + 1), 1)
    most = both[:, 1:].argmax(axis=1)
    known = both[np.arange(len(both)), most + 1] > 0
    return np.where(there & np.append(known, False)[topic], np.append(most, OUTLIER)[topic], OUTLIER)


def merged_down(unit: NDArray[np.float32], topic: NDArray[np.int64], most: int) -> NDArray[np.int64]:
    """Topics, the two nearest taken together until ``most`` are left, int64[n_items].

    Parameters
    ----------
    unit : float32[n_items, n_dimensions] of length 1; topic : int64[n_items], -1 for none
    """
    number = int(topic.max()) + 1
    sums = [unit[topic == k].astype(np.float64).sum(axis=0) for k in range(number)]
    groups, _ = nearest_together(np.array(sums), np.bincount(topic[topic >= 0], minlength=number), most)
    place = np.full(number + 1, OUTLIER)
    for at, group in enumerate(groups):
        place[group] = at
    return place[topic]


def nearest_together(
    sums: NDArray[np.float64], sizes: NDArray[np.int64], most: int
) -> tuple[list[list[int]], list[float]]:
    """Groups in families, the two of the greatest mean cosine of their items taken together until ``most`` are left.

    Average linkage (R. Sokal and C. Michener 1958).

    Parameters
    ----------
    sums : float64[n_groups, n_dimensions], of the vectors of each, which have length 1; sizes : int64[n_groups]

    Returns
    -------
    the families, each by rising number; the mean cosines of what was taken together, in turn
    """
    families, total, size, cosines = [[k] for k in range(len(sums))], list(sums), sizes.tolist(), []
    while len(families) > max(most, 1):
        means = np.array([each / max(n, 1) for each, n in zip(total, size, strict=True)])
        alike = np.round(means @ means.T, 9)
        np.fill_diagonal(alike, -2.0)
        one, other = sorted(divmod(int(alike.argmax()), len(families)))
        cosines.append(float(alike[one, other]))
        families[one] = sorted(families[one] + families.pop(other))
        total[one] = total[one] + total.pop(other)
        size[one] += size.pop(other)
    return families, cosines
