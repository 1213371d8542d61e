"""The order of a tree's leaves in which neighbours are as near as the tree allows.

Z. Bar-Joseph, D. Gifford and T. Jaakkola, *Fast optimal leaf ordering for hierarchical clustering*,
Bioinformatics 17, 2001.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.linkage import Tree


def leaf_order(tree: Tree, distances: NDArray[np.float64], report: Report = silent) -> NDArray[np.int64]:
    """The items from left to right, int64[n_items]: of all orders a tree can be drawn in, that with the shortest way.

    Parameters
    ----------
    distances : float64[n_items, n_items], symmetric; the way is their sum over neighbours
    report : told how far it is; takes a time that rises with the third power of the items

    Examples
    --------
    >>> from skeinwork.core.relate.linkage import linkage
    >>> line = np.array([0.0, 1.0, 5.0, 7.0])
    >>> apart = np.abs(line[:, None] - line[None, :])
    >>> leaf_order(linkage(apart, "average"), apart).tolist()
    [0, 1, 2, 3]
    """
    n = tree.n_items
    first, order = _drawn(tree)
    here = np.ascontiguousarray(distances[np.ix_(order, order)])
    way = np.full((n, n), np.inf)
    np.fill_diagonal(way, 0.0)
    sizes = np.concatenate([np.ones(n, dtype=np.int64), tree.sizes()])
    done, whole = 0.0, float(sizes[n:].astype(float) @ sizes[n:].astype(float)) or 1.0
    for step in range(n - 1):
        _join(here, way, *_bounds(tree, first, sizes, n + step))
        done += float(sizes[n + step]) ** 2
        if step % 50 == 0:
            report("Ordering the leaves", done / whole)
    return order[np.array(_walk(tree, here, way, first, sizes), dtype=np.int64)]


def _drawn(tree: Tree) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Where the leaves of each node begin in some order of the tree, and that order."""
    n = tree.n_items
    sizes = np.concatenate([np.ones(n, dtype=np.int64), tree.sizes()])
    first = np.zeros(2 * n - 1, dtype=np.int64)
    for step in range(n - 2, -1, -1):
        one, other = tree.joined[step]
        first[one] = first[n + step]
        first[other] = first[n + step] + sizes[one]
    order = np.zeros(n, dtype=np.int64)
    order[first[:n]] = np.arange(n)
    return first, order


def _bounds(
    tree: Tree, first: NDArray[np.int64], sizes: NDArray[np.int64], node: int
) -> tuple[int, int, int, int, int]:
    """Where the leaves of a node begin, where its halves and the halves of those meet, and where it ends."""
    n = tree.n_items
    one, other = tree.joined[node - n].tolist()
    middle = int(first[other])

    def meets(half: int) -> int:
        return int(first[half]) + (int(sizes[tree.joined[half - n][0]]) if half >= n else 0)

    return int(first[node]), meets(one), middle, meets(other), middle + int(sizes[other])


@njit(cache=True, nogil=True)
def _join(here: Any, way: Any, low: int, left: int, middle: int, right: int, high: int) -> None:
    """Fill in the shortest way from each leaf of the first half to each of the second.

    It ends where the halves of a half let it: one that begins in a half's first part ends in its second.
    """
    to = np.empty(high - middle)
    for i in range(low, middle):
        begin, end = (left, middle) if i < left else (low, left)
        if middle - low == 1:
            begin, end = low, middle
        to[:] = np.inf
        for k in range(begin, end):
            before = way[i, k]
            for at in range(high - middle):
                to[at] = min(to[at], before + here[k, middle + at])
        for at in range(middle, high):
            begin, end = (right, high) if at < right else (middle, right)
            if high - middle == 1:
                begin, end = middle, high
            for j in range(begin, end):
                way[i, j] = min(way[i, j], to[at - middle] + way[at, j])
        for j in range(middle, high):
            way[j, i] = way[i, j]


def _walk(
    tree: Tree, here: NDArray[np.float64], way: NDArray[np.float64], first: NDArray[np.int64], sizes: NDArray[np.int64]
) -> list[int]:
    """The leaves along the shortest way of all, by their places."""
    n = tree.n_items
    low, _, middle, _, high = _bounds(tree, first, sizes, 2 * n - 2)
    best = int(np.argmin(way[low:middle, middle:high]))
    start, end = low + best // (high - middle), middle + best % (high - middle)
    # Parts still to be walked: a node, and the leaves it begins and ends with.
    waiting, found = [(2 * n - 2, start, end)], list[int]()
    while waiting:
        node, start, end = waiting.pop()
        if node < n:
            found.append(start)
            continue
        low, left, middle, right, high = _bounds(tree, first, sizes, node)
        one, other = tree.joined[node - n].tolist()
        turned = start >= middle
        i, j = (end, start) if turned else (start, end)
        ends = _far(i, low, left, middle)
        begins = _far(j, middle, right, high)
        total = way[i, ends][:, None] + here[np.ix_(ends, begins)] + way[begins, j][None, :]
        at = int(np.argmin(total))
        k, m = int(ends[at // len(begins)]), int(begins[at % len(begins)])
        parts = [(one, i, k), (other, m, j)]
        # The last is walked first.
        waiting += [(part, b, a) for part, a, b in parts] if turned else parts[::-1]
    return found


def _far(leaf: int, low: int, meets: int, high: int) -> NDArray[np.int64]:
    """The leaves that a half can end with where it begins with one."""
    if high - low == 1:
        return np.array([low])
    return np.arange(meets, high) if leaf < meets else np.arange(low, meets)
