"""The branches of a tree, and the clusters that a cut leaves."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.relate.clusters import by_centrality, recurrence
from skeinwork.core.relate.distances import distances
from skeinwork.core.relate.group_words import words_apart
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import TREE
from skeinwork.work.steps.tree import MadeTree, rows_of

HEADS = 3  # words that name a cluster


@dataclass(frozen=True)
class Branch:
    """What lies under one node.

    Attributes
    ----------
    node : an item, or from the number of items on a step
    items : columns of the matrix, or documents, the most central first
    heads : what it is called by: its central words, or the words that set its documents apart
    words : whether these are words
    """

    node: int
    items: NDArray[np.int64]
    heads: list[str]
    words: bool


def of_words(view: View) -> bool:
    """Whether the tree joins words."""
    return view.record(TREE).making.settings["of"] == "words"


def item_names(view: View, made: MadeTree) -> list[str]:
    """What the items of a tree are called."""
    if of_words(view):
        display = view.matrix_of(TREE).display
        return [display[at] for at in made.items.tolist()]
    return [documents.name(view, at) for at in made.items.tolist()]


def between_items(view: View) -> NDArray[np.float64]:
    """Distances between the items of the tree, float64[n_items, n_items]."""
    record = view.record(TREE)
    settings, made = TREE.parse(record.making.settings), view.value(TREE)

    def measure() -> NDArray[np.float64]:
        return distances(rows_of(view.matrix_of(TREE), settings, made.items), settings.distance)

    return view.cache.get(("distances of the tree", record.identity), measure)


def branch(view: View, node: int) -> Branch:
    """One branch with its central items first."""
    return view.cache.get(("branch", view.identity(TREE), node), lambda: _branch(view, node))


def _branch(view: View, node: int) -> Branch:
    made = view.value(TREE)
    members = made.tree.members(node)
    here = between_items(view)[np.ix_(members, members)]
    (order,) = by_centrality(here, np.zeros(len(members), dtype=np.int64))
    items = made.items[members[order]]
    display = view.matrix_of(TREE).display
    if of_words(view):
        return Branch(node, items, [display[at] for at in items[:HEADS].tolist()], True)
    if node < made.tree.n_items:
        return Branch(node, items, [documents.name(view, int(items[0]))], False)
    return Branch(node, items, [display[at] for at in _own_words(view, made, items)], False)


def _own_words(view: View, made: MadeTree, items: NDArray[np.int64]) -> list[int]:
    """Columns of the words that set some documents of the tree apart from its others, the most telling first."""
    counts = view.matrix_of(TREE).counts
    one, whole = (np.asarray(counts[each].sum(axis=0), dtype=np.int64).ravel() for each in (items, made.items))
    other = whole - one
    telling = words_apart(one, other).log_odds if other.any() else one
    return [int(at) for at in np.argsort(-telling, kind="stable")[:HEADS] if one[at]]


@dataclass(frozen=True)
class Cluster:
    """A branch that a cut leaves.

    Attributes
    ----------
    recurrence : how well it comes back over columns drawn anew, from 0 to 1; NaN where none were
    height : how far apart its halves are
    """

    branch: Branch
    recurrence: float
    height: float


def clusters(view: View, number: int) -> list[Cluster]:
    """The clusters of a cut, from top to bottom as the tree is drawn."""
    made = view.value(TREE)
    tree, n = made.tree, made.tree.n_items
    group = tree.cut(number)
    again = recurrence(group, made.again)
    nodes = _tops(tree.joined, group, n)
    first = np.array([np.flatnonzero(group[made.order] == each)[0] for each in range(len(nodes))])
    return [
        Cluster(
            branch(view, nodes[at]), float(again[at]), float(tree.heights[nodes[at] - n]) if nodes[at] >= n else 0.0
        )
        for at in np.argsort(first).tolist()
    ]


def _tops(joined: NDArray[np.int64], group: NDArray[np.int64], n: int) -> list[int]:
    """The highest node of each group."""
    number = int(group.max()) + 1
    steps = n - number  # those that a cut leaves
    of_node = np.concatenate([group, np.zeros(steps, dtype=np.int64)])
    top = [int(np.flatnonzero(group == each)[0]) for each in range(number)]
    for step in range(steps):
        of_node[n + step] = of_node[joined[step, 0]]
        top[int(of_node[n + step])] = n + step
    return top
