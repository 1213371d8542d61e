"""Distances and trees against SciPy's, and what holds of any of them."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from numpy.typing import NDArray
from scipy.cluster.hierarchy import fcluster, leaves_list, optimal_leaf_ordering
from scipy.cluster.hierarchy import linkage as scipy_linkage
from scipy.spatial.distance import pdist, squareform

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.clusters import by_centrality, recurrence, resampled_trees
from skeinwork.core.relate.distances import DISTANCES, MOST_ITEMS, distances
from skeinwork.core.relate.leaf_order import leaf_order
from skeinwork.core.relate.linkage import LINKAGES, Tree, linkage


def counts(seed: int, items: int = 40, features: int = 60) -> NDArray[np.float64]:
    """Counts of which most are none, every item with at least one."""
    chance = np.random.default_rng(seed)
    found = chance.poisson(0.4, (items, features)) * chance.integers(1, 5, (items, features))
    found[np.arange(items), chance.integers(0, features, items)] += 1
    return found.astype(np.float64)


def shares(table: NDArray[np.float64]) -> NDArray[np.float64]:
    return table / table.sum(axis=1, keepdims=True)


REFERENCES = {
    "euclidean": lambda x: pdist(x),
    "scaled": lambda x: pdist(x[:, x.std(axis=0) > 0], "seuclidean", V=x[:, x.std(axis=0) > 0].var(axis=0, ddof=1)),
    "cosine": lambda x: pdist(x, "cosine"),
    "jaccard": lambda x: pdist(x > 0, "jaccard"),
    "hellinger": lambda x: pdist(np.sqrt(shares(x))) / np.sqrt(2),
    "jensen-shannon": lambda x: pdist(shares(x), lambda p, q: scipy.spatial.distance.jensenshannon(p, q, base=2)),
}


@pytest.mark.parametrize("by", DISTANCES)
def test_distances_are_those_of_the_reference(by: str) -> None:
    for seed in range(3):
        table = counts(seed)
        found = distances(scipy.sparse.csr_matrix(table), by)
        np.testing.assert_allclose(found, squareform(REFERENCES[by](table)), atol=2e-8)
        assert (found == found.T).all() and not np.diagonal(found).any()


@pytest.mark.parametrize("by", [by for by, each in DISTANCES.items() if each.profile])
def test_how_often_an_item_occurs_makes_no_difference_to_its_profile(by: str) -> None:
    table = counts(5)
    times = np.random.default_rng(1).integers(1, 9, (len(table), 1))
    once, often = (distances(scipy.sparse.csr_matrix(each), by) for each in (table, table * times))
    np.testing.assert_allclose(once, often, atol=1e-7)


def test_an_item_without_any_number_is_far_from_all_others() -> None:
    table = scipy.sparse.csr_matrix(np.array([[1.0, 2], [0, 0], [3, 0]]))
    for by in ("cosine", "jaccard", "hellinger"):
        assert distances(table, by)[1].tolist() == [1.0, 0.0, 1.0]


def test_too_many_items_and_negative_numbers_are_refused() -> None:
    with pytest.raises(BadInputError, match="too many"):
        distances(scipy.sparse.csr_matrix((MOST_ITEMS + 1, 2)), "cosine")
    with pytest.raises(BadInputError, match="negative"):
        distances(scipy.sparse.csr_matrix([[1.0, -1.0]]), "cosine")


def reference(between: NDArray[np.float64], by: str) -> NDArray[np.float64]:
    """SciPy's table of joins; the first of Ward's variants by the second, of square roots."""
    condensed = squareform(between)
    if by == "ward-d":
        table = scipy_linkage(np.sqrt(condensed), "ward")
        table[:, 2] **= 2
        return table
    return scipy_linkage(condensed, by)


def same_groups(one: NDArray[np.int64], other: NDArray[np.int64]) -> bool:
    pairs = set(zip(one.tolist(), other.tolist(), strict=True))
    return len(pairs) == len(set(one.tolist())) == len(set(other.tolist()))


@pytest.mark.parametrize("by", LINKAGES)
def test_trees_are_those_of_the_reference(by: str) -> None:
    for seed in range(4):
        points = np.random.default_rng(seed).normal(size=(60, 7))
        between = squareform(pdist(points))
        tree, table = linkage(between, by), reference(between, by)
        np.testing.assert_allclose(tree.heights, table[:, 2], rtol=1e-9)
        assert tree.joined.tolist() == np.sort(table[:, :2], axis=1).astype(int).tolist()
        assert tree.sizes().tolist() == table[:, 3].astype(int).tolist()
        for number in (1, 2, 5, 17, 60):
            assert same_groups(tree.cut(number), fcluster(table, number, "maxclust"))


@given(arrays(np.float64, st.tuples(st.integers(2, 14), st.integers(1, 3)), elements=st.integers(0, 3)), st.data())
@settings(max_examples=60, deadline=None)
def test_any_items_make_a_tree(points: NDArray[np.float64], data: st.DataObject) -> None:
    """Also where many are equally far apart: heights never fall, cuts are nested, as many groups as asked for."""
    by = data.draw(st.sampled_from(list(LINKAGES)))
    tree = linkage(squareform(pdist(points)), by)
    assert (np.diff(tree.heights) >= 0).all() and tree.sizes()[-1] == len(points)
    coarser: NDArray[np.int64] | None = None
    for number in range(1, len(points) + 1):
        groups = tree.cut(number)
        assert sorted(set(groups.tolist())) == list(range(number))
        assert [groups.tolist().index(each) for each in range(number)] == sorted(
            groups.tolist().index(each) for each in range(number)
        )
        if coarser is not None:
            assert len(set(zip(groups.tolist(), coarser.tolist(), strict=True))) == number
        coarser = groups


def test_complete_linkage_by_its_definition() -> None:
    """Whatever lies under a step is at most so far apart as its height says, and some two just so far."""
    between = squareform(pdist(np.random.default_rng(8).normal(size=(30, 3))))
    tree = linkage(between, "complete")
    for number in range(1, 30):
        groups = tree.cut(number)
        widest = max(between[np.ix_(groups == each, groups == each)].max() for each in range(number))
        assert widest == pytest.approx(tree.heights[30 - number - 1])


def test_a_height_says_how_many_groups_are_left() -> None:
    tree = Tree(np.array([[0, 1], [2, 3], [4, 5]]), np.array([1.0, 1.0, 4.0]))
    assert [tree.groups_at(height) for height in (0.5, 1.0, 3.9, 4.0)] == [4, 2, 2, 1]


def flipped(tree: Tree) -> list[list[int]]:
    """Every order of the leaves that a tree can be drawn in."""
    orders: list[list[list[int]]] = [[[item]] for item in range(tree.n_items)]
    for one, other in tree.joined.tolist():
        orders.append([x + y for a in orders[one] for b in orders[other] for x, y in ((a, b), (b, a))])
    return orders[-1]


def length(order: list[int], between: NDArray[np.float64]) -> float:
    return float(sum(between[a, b] for a, b in pairwise(order)))


@pytest.mark.parametrize("items", [2, 3, 5, 8])
def test_no_order_of_the_leaves_is_shorter(items: int) -> None:
    for seed in range(6):
        between = squareform(pdist(np.random.default_rng(seed).normal(size=(items, 2))))
        tree = linkage(between, ("average", "ward")[seed % 2])
        found = leaf_order(tree, between).tolist()
        orders = flipped(tree)
        assert found in orders
        assert length(found, between) == pytest.approx(min(length(each, between) for each in orders))


def test_the_order_of_many_leaves_is_one_of_the_tree_and_no_longer_than_the_reference() -> None:
    points = np.random.default_rng(3).normal(size=(150, 4))
    between = squareform(pdist(points))
    tree = linkage(between, "average")
    found = leaf_order(tree, between).tolist()
    place = {item: at for at, item in enumerate(found)}
    under: list[list[int]] = [[item] for item in range(150)]
    for one, other in tree.joined.tolist():
        under.append(under[one] + under[other])
        places = sorted(place[item] for item in under[-1])
        assert places[-1] - places[0] == len(places) - 1
    table = scipy_linkage(pdist(points), "average")
    theirs = leaves_list(optimal_leaf_ordering(table, pdist(points))).tolist()
    assert length(found, between) <= length(theirs, between)


def test_the_most_central_member_is_nearest_to_the_others() -> None:
    line = np.array([0.0, 1.0, 2.1, 20.0, 21.0, 30.0])
    between = np.abs(line[:, None] - line[None, :])
    found = by_centrality(between, np.array([0, 0, 0, 1, 1, 1]))
    assert [each.tolist() for each in found] == [[1, 0, 2], [4, 3, 5]]


def test_a_planted_cluster_comes_back_and_one_of_noise_does_not() -> None:
    """Words of two themes, each in the documents of its theme; then words of no theme, cut into two."""
    chance = np.random.default_rng(2)
    theme, of = np.repeat([0, 1], 12), np.repeat([0, 1], 60)
    planted = chance.poisson(np.where(theme[:, None] == of[None, :], 1.2, 0.05)).astype(np.float64)
    noise = chance.poisson(0.5, planted.shape).astype(np.float64)
    for table, sure in ((planted, True), (noise, False)):
        rows = scipy.sparse.csr_matrix(table)
        group = linkage(distances(rows, "cosine"), "average").cut(6 if not sure else 2)
        found = recurrence(group, resampled_trees(rows, "cosine", "average"))
        assert ((found >= 0) & (found <= 1)).all()
        assert (found.min() > 0.95) if sure else (found.mean() < 0.6)
    again = recurrence(group, resampled_trees(rows, "cosine", "average"))
    assert found.tobytes() == again.tobytes()
