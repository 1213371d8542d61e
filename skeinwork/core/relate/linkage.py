"""Trees of items that are joined pair by pair, the nearest first.

G. Lance and W. Williams, *A general theory of classificatory sorting strategies*, The Computer Journal 9,
1967; the chain of nearest neighbours after F. Murtagh, *A survey of recent advances in hierarchical
clustering algorithms*, The Computer Journal 26, 1983; both of Ward's variants after F. Murtagh and
P. Legendre, *Ward's hierarchical agglomerative clustering method: which algorithms implement Ward's
criterion?*, Journal of Classification 31, 2014.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array

_WARD, _AVERAGE, _COMPLETE = range(3)


class Linkage(NamedTuple):
    """One way to tell how far two groups are apart.

    Attributes
    ----------
    title, about : what the screens call it, and what it does, in one line
    rule : of the update after Lance and Williams
    squared : whether distances are squared first, and heights their roots
    """

    title: str
    about: str
    rule: int
    squared: bool = False


LINKAGES: dict[str, Linkage] = {
    "ward": Linkage("Ward (D2)", "the least growth of the squares within, of squared distances", _WARD, True),
    "ward-d": Linkage("Ward (D)", "the same update on the distances as they are; heights are no distances", _WARD),
    "average": Linkage("average", "the mean distance between members", _AVERAGE),
    "complete": Linkage("complete", "the distance of the two members farthest apart", _COMPLETE),
}


@dataclass(frozen=True)
class Tree:
    """Items joined into one, the nearest first.

    Attributes
    ----------
    joined : int64[n_items - 1, 2], what each step joins: items, or from ``n_items`` on earlier steps,
        the smaller number first
    heights : float64[n_items - 1], how far apart they were, never falling
    """

    joined: NDArray[np.int64]
    heights: NDArray[np.float64]

    @property
    def n_items(self) -> int:
        return len(self.heights) + 1

    def check(self, n_items: int) -> None:
        """Raise ``ContentError`` unless it joins so many items, each once, the nearest first."""
        steps = n_items - 1
        # A step joins items, or steps before it.
        highest = n_items + np.arange(steps, dtype=np.int64)[:, None] - 1
        joined = expect_array("joined", self.joined, np.int64, (steps, 2), 0, highest)
        expect_array("heights", self.heights, np.float64, (steps,), 0)
        expect(len(np.unique(joined)) == 2 * steps, "joined names something twice")
        expect((np.diff(self.heights) >= 0).all(), "heights fall")

    def members(self, node: int) -> NDArray[np.int64]:
        """The items under an item or, from ``n_items`` on, a step, by rising number."""
        waiting, found = [node], []
        while waiting:
            each = waiting.pop()
            if each < self.n_items:
                found.append(each)
            else:
                waiting += self.joined[each - self.n_items].tolist()
        return np.array(sorted(found), dtype=np.int64)

    def sizes(self) -> NDArray[np.int64]:
        """Items under each step, int64[n_items - 1]."""
        n = self.n_items
        found = np.ones(2 * n - 1, dtype=np.int64)
        for step, (one, other) in enumerate(self.joined.tolist()):
            found[n + step] = found[one] + found[other]
        return found[n:]

    def cut(self, number: int) -> NDArray[np.int64]:
        """The group of every item, int64[n_items], where so many are left; numbered by their first item."""
        n = self.n_items
        parent = np.arange(2 * n - 1)
        for step, (one, other) in enumerate(self.joined[: n - min(max(number, 1), n)].tolist()):
            parent[one] = parent[other] = n + step
        for node in range(2 * n - 2, -1, -1):  # a step lies above what it joins
            parent[node] = parent[parent[node]]
        _, first, group = np.unique(parent[:n], return_index=True, return_inverse=True)
        return np.argsort(np.argsort(first)).astype(np.int64)[group.ravel()]

    def groups_at(self, height: float) -> int:
        """How many groups are left where all that lies at most so far apart is joined."""
        return self.n_items - int(np.searchsorted(self.heights, height, side="right"))


def linkage(distances: NDArray[np.float64], by: str) -> Tree:
    """Join items into a tree.

    Parameters
    ----------
    distances : float64[n_items, n_items], symmetric
    by : a key of ``LINKAGES``

    Examples
    --------
    >>> tree = linkage(np.array([[0.0, 1, 4], [1, 0, 5], [4, 5, 0]]), "complete")
    >>> tree.joined.tolist(), tree.heights.tolist(), tree.cut(2).tolist()
    ([[0, 1], [2, 3]], [1.0, 5.0], [0, 0, 1])
    """
    way = LINKAGES[by]
    work = np.array(distances, dtype=np.float64, order="C")
    if way.squared:
        work *= work
    one, other, heights = _chain(work, way.rule)
    if way.squared:
        heights = np.sqrt(heights)
    return _in_order(one, other, heights)


def _in_order(one: NDArray[np.int64], other: NDArray[np.int64], heights: NDArray[np.float64]) -> Tree:
    """Joins by rising height; each names two items, any of the groups they are in by then."""
    order = np.argsort(heights, kind="stable")
    n = len(heights) + 1
    joined = np.zeros((n - 1, 2), dtype=np.int64)
    top = np.arange(2 * n - 1)

    def group(item: int) -> int:
        while top[item] != item:
            top[item] = top[top[item]]
            item = int(top[item])
        return item

    for step, at in enumerate(order.tolist()):
        pair = sorted((group(int(one[at])), group(int(other[at]))))
        joined[step] = pair
        top[pair] = n + step
    return Tree(joined, heights[order])


@njit(cache=True, nogil=True)
def _chain(between: Any, rule: int) -> Any:
    """Follow nearest neighbours until two are each other's; join them; go on from where the chain came.

    ``between`` is overwritten. A group goes by its last item.
    """
    n = between.shape[0]
    one, other = np.zeros(n - 1, np.int64), np.zeros(n - 1, np.int64)
    heights = np.zeros(n - 1)
    size = np.ones(n)
    chain = np.zeros(n, np.int64)
    length, first = 0, 0
    for step in range(n - 1):
        if length == 0:
            while size[first] == 0:
                first += 1
            chain[0], length = first, 1
        while True:
            here = chain[length - 1]
            # The one before in the chain wins where others are as near: the chain ends.
            best, nearest = (chain[length - 2], between[here, chain[length - 2]]) if length > 1 else (-1, np.inf)
            for each in range(n):
                if size[each] > 0 and each != here and between[here, each] < nearest:
                    best, nearest = each, between[here, each]
            if length > 1 and best == chain[length - 2]:
                break
            chain[length] = best
            length += 1
        length -= 2
        low, high = min(here, best), max(here, best)
        one[step], other[step], heights[step] = low, high, nearest
        for each in range(n):
            if size[each] > 0 and each != low and each != high:
                to_low, to_high = between[low, each], between[high, each]
                if rule == _COMPLETE:
                    value = max(to_low, to_high)
                elif rule == _AVERAGE:
                    value = (size[low] * to_low + size[high] * to_high) / (size[low] + size[high])
                else:
                    three = size[low] + size[high] + size[each]
                    value = (size[low] + size[each]) * to_low + (size[high] + size[each]) * to_high
                    value = (value - size[each] * nearest) / three
                between[high, each] = between[each, high] = value
        size[high] += size[low]
        size[low] = 0
    return one, other, heights
