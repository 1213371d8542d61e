"""Clusters by density, as a tree of them: where items lie closer together than around.

R. Campello, D. Moulavi and J. Sander, *Density-based clustering based on hierarchical density estimates*, PAKDD 2013:
the mutual reachability distance, its minimum spanning tree, the tree of clusters that are large enough, and of these
those of the greatest excess of mass. What lies in none is an outlier.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.progress import Report, check_wanted, silent
from skeinwork.core.relate.neighbours import Neighbours

VERSION = 1
# Items that are taken into the spanning tree between two looks at whether it is still wanted.
_AT_A_TIME = 500
_TILE = 1024
# Of the usual edge, one that is shorter says no more: copies of a document would outweigh all else.
_CLOSEST = 0.1


@dataclass(frozen=True)
class SpanningTree:
    """A minimum spanning tree, its edges in rising order.

    Attributes
    ----------
    one, other : int64[n_items - 1]
    distance : float64[n_items - 1]
    """

    one: NDArray[np.int64]
    other: NDArray[np.int64]
    distance: NDArray[np.float64]


@dataclass(frozen=True)
class ClusterTree:
    """The tree of clusters, the whole first, each before those that it falls into.

    Attributes
    ----------
    parent : int64[n_clusters]; -1 of the whole
    born : float64[n_clusters], the density (one over the distance) at which a cluster stands apart; 0 of the whole
    mass : float64[n_clusters], its excess of mass: over its items, how much denser than that they stay in it
    size : int64[n_clusters], items
    cluster : int64[n_items], the last cluster that an item is in
    density : float64[n_items], at which it falls out of that
    """

    parent: NDArray[np.int64]
    born: NDArray[np.float64]
    mass: NDArray[np.float64]
    size: NDArray[np.int64]
    cluster: NDArray[np.int64]
    density: NDArray[np.float64]


def core_distances(found: Neighbours) -> NDArray[np.float64]:
    """The distance of each item to the last of its neighbours, float64[n_items]."""
    return np.sqrt(np.maximum(2.0 - 2.0 * found.cosine[:, -1].astype(np.float64), 0.0))


def spanning_tree(places: NDArray[Any], core: NDArray[np.float64], report: Report = silent) -> SpanningTree:
    """The minimum spanning tree of the mutual reachability distance (R. Prim 1957).

    That distance of two items is the greatest of their distance and of what each has to its k-th neighbour.

    Parameters
    ----------
    places : float[n_items, n_dimensions]
    core : float64[n_items], of ``core_distances``

    Examples
    --------
    >>> spanning_tree(np.array([[0.0], [1.0], [3.0]]), np.array([1.0, 1.0, 2.0])).distance.tolist()
    [1.0, 2.0]
    """
    n = len(places)
    turned = np.ascontiguousarray(places.T, dtype=np.float32).copy()
    squares = (np.asarray(core, dtype=np.float32) ** 2).copy()
    left, nearest, best = np.arange(n), np.zeros(n, np.int64), np.full(n, np.inf, np.float32)
    for begins in range(0, n - 1, _AT_A_TIME):
        check_wanted()
        report("Spanning", 1.0 - ((n - begins) / n) ** 2)
        _grow(begins, min(_AT_A_TIME, n - 1 - begins), turned, squares, left, nearest, best)
    one, other, distance = nearest[:-1], left[:-1], np.sqrt(best[:-1].astype(np.float64))
    order = np.lexsort((np.maximum(one, other), np.minimum(one, other), distance))
    return SpanningTree(one[order], other[order], distance[order])


def densities(spanned: SpanningTree, distance: NDArray[np.float64]) -> NDArray[np.float64]:
    """One over distances, float64[n]; what is all but in one place counts as somewhat apart."""
    usual = float(np.median(spanned.distance)) if len(spanned.distance) else 1.0
    return 1.0 / np.maximum(distance, max(_CLOSEST * usual, 1e-6))


def cluster_tree(spanned: SpanningTree, smallest: int) -> ClusterTree:
    """What of a spanning tree's components has ``smallest`` items or more, from the sparsest to the densest.

    Where a component falls into two that are large enough, two clusters begin; where only one is, it goes on as the
    same cluster, which the items of the other leave.
    """
    n = len(spanned.one) + 1
    left, right, size = _components(spanned.one, spanned.other)
    density = densities(spanned, spanned.distance)
    most = 2 * (n // max(smallest, 1)) + 2
    parent, born = np.full(most, -1, np.int64), np.zeros(most)
    cluster, out = np.zeros(n, np.int64), np.zeros(n)
    found = _condense(left, right, size, density, smallest, parent, born, cluster, out)
    parent, born = parent[:found].copy(), born[:found].copy()
    mass, sizes = np.bincount(cluster, out - born[cluster], found), np.bincount(cluster, minlength=found)
    for at in range(found - 1, 0, -1):
        sizes[parent[at]] += sizes[at]
        mass[parent[at]] += sizes[at] * (born[at] - born[parent[at]])
    return ClusterTree(parent, born, np.asarray(mass, np.float64), sizes.astype(np.int64), cluster, out)


def prominence(tree: ClusterTree, density: NDArray[np.float64]) -> NDArray[np.float64]:
    """How many times as dense as where it begins a cluster is in the middle of its items, float64[n_clusters].

    1 of the whole.

    Parameters
    ----------
    density : float64[n_items], around each item: one over its core distance
    """
    found = np.ones(len(tree.parent))
    order = np.argsort(tree.cluster, kind="stable")
    own = np.split(order, np.cumsum(np.bincount(tree.cluster, minlength=len(found)))[:-1])
    inside: list[list[NDArray[np.int64]]] = [[each] for each in own]
    for at in range(len(found) - 1, 0, -1):
        items = np.concatenate(inside[at])
        found[at] = np.median(density[items]) / max(tree.born[at], 1e-300)
        inside[tree.parent[at]].append(items)
    return found


def of_greatest_mass(tree: ClusterTree, allowed: NDArray[np.bool_] | None = None) -> NDArray[np.int64]:
    """The clusters, none inside another, whose excess of mass is the greatest together, int64[n_chosen].

    Never the whole. ``allowed``, bool[n_clusters], are those that may be among them.
    """
    n = len(tree.parent)
    wanted = np.ones(n, bool) if allowed is None else allowed.copy()
    wanted[0] = False
    best, below = np.zeros(n), np.zeros(n)
    alone = np.zeros(n, bool)
    for at in range(n - 1, -1, -1):
        alone[at] = wanted[at] and tree.mass[at] >= below[at]
        best[at] = tree.mass[at] if alone[at] else below[at]
        if at:
            below[tree.parent[at]] += best[at]
    inside = np.zeros(n, bool)
    for at in range(1, n):
        inside[at] = inside[tree.parent[at]] or alone[tree.parent[at]]
    return np.flatnonzero(alone & ~inside)


def members(tree: ClusterTree, chosen: NDArray[np.int64]) -> NDArray[np.int64]:
    """Which of the chosen clusters each item is in, int64[n_items]; -1 for none."""
    within = np.full(len(tree.parent), -1, np.int64)
    within[chosen] = np.arange(len(chosen))
    for at in range(1, len(within)):
        if within[at] < 0:
            within[at] = within[tree.parent[at]]
    return within[tree.cluster]


# Whether the least of some numbers is looked for from the left or in any order makes no difference without NaN.
@njit(cache=True, nogil=True, fastmath={"nnan"})
def _grow(begins: int, many: int, places: Any, cores: Any, left: Any, nearest: Any, best: Any) -> None:
    """Take the nearest item into the tree, so many times, after ``begins`` and the first one.

    The tree's items stand at the end of ``left``, the last one taken before all others of it; with each stand its
    place, its core, the item that it was nearest to as it was taken and the square of how far that is to reach.
    """
    dimensions, n = places.shape
    square = np.empty(_TILE, np.float32)
    for step in range(begins, begins + many):
        size = n - 1 - step
        here, place, core = left[size], places[:, size].copy(), cores[size]
        for first in range(0, size, _TILE):
            tile = min(_TILE, size - first)
            sums = square[:tile]
            sums[:] = 0.0
            for at in range(dimensions):
                row, value = places[at, first : first + tile], place[at]
                for item in range(tile):
                    sums[item] += (row[item] - value) * (row[item] - value)
            for item in range(tile):
                reach = max(sums[item], max(cores[first + item], core))
                nearest[first + item] = here if reach < best[first + item] else nearest[first + item]
                best[first + item] = min(reach, best[first + item])
        least = np.float32(np.inf)
        for item in range(size):
            least = min(least, best[item])
        chosen = 0
        while best[chosen] > least:
            chosen += 1
        # It changes places with the last that is left, where the next step finds it.
        last = size - 1
        left[chosen], left[last] = left[last], left[chosen]
        nearest[chosen], nearest[last] = nearest[last], nearest[chosen]
        best[chosen], best[last] = best[last], best[chosen]
        cores[chosen], cores[last] = cores[last], cores[chosen]
        for at in range(dimensions):
            places[at, chosen], places[at, last] = places[at, last], places[at, chosen]


@njit(cache=True, nogil=True)
def _components(one: Any, other: Any) -> Any:
    """The components that edges join in turn, as their two parts and size; items first, then one an edge."""
    n = len(one) + 1
    left, right, size = np.empty(n - 1, np.int64), np.empty(n - 1, np.int64), np.ones(2 * n - 1, np.int64)
    above, stands = np.arange(n), np.arange(n)
    for edge in range(n - 1):
        i, j = _root(above, one[edge]), _root(above, other[edge])
        left[edge], right[edge] = stands[i], stands[j]
        size[n + edge] = size[stands[i]] + size[stands[j]]
        if size[stands[i]] < size[stands[j]]:
            i, j = j, i
        above[j] = i
        stands[i] = n + edge
    return left, right, size


@njit(cache=True, nogil=True)
def _root(above: Any, item: int) -> int:
    while above[item] != item:
        above[item] = above[above[item]]
        item = above[item]
    return item


@njit(cache=True, nogil=True)
def _condense(
    left: Any, right: Any, size: Any, density: Any, smallest: int, parent: Any, born: Any, cluster: Any, out: Any
) -> int:
    """Walk down from the whole; gives how many clusters there are."""
    n = len(left) + 1
    waiting, of = np.empty(2 * n, np.int64), np.empty(2 * n, np.int64)
    waiting[0], of[0] = 2 * n - 2, 0
    number, found = 1, 1
    while number:
        number -= 1
        node, inside = waiting[number], of[number]
        if node < n:
            cluster[node], out[node] = inside, density[-1] if n == 1 else out[node]
            continue
        at = density[node - n]
        large = 0
        for part in (left[node - n], right[node - n]):
            large += size[part] >= smallest
        for part in (left[node - n], right[node - n]):
            if size[part] >= smallest and large == 2:
                parent[found], born[found] = inside, at
                waiting[number], of[number] = part, found
                found += 1
                number += 1
            elif size[part] >= smallest:
                waiting[number], of[number] = part, inside
                number += 1
            else:
                _leave(part, n, left, right, inside, at, cluster, out)
    return found


@njit(cache=True, nogil=True)
def _leave(part: int, n: int, left: Any, right: Any, inside: int, at: float, cluster: Any, out: Any) -> None:
    """All items of a part leave a cluster."""
    waiting = [part]
    while len(waiting):
        node = waiting.pop()
        if node < n:
            cluster[node], out[node] = inside, at
        else:
            waiting.append(left[node - n])
            waiting.append(right[node - n])
