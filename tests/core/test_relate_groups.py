"""Groups of documents against a plain loop from the same start, and on planted groups."""

from __future__ import annotations

from itertools import combinations

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate import groups
from skeinwork.core.relate.agreement import adjusted_rand_index, silhouettes
from skeinwork.core.relate.groups import GroupSettings, k_means
from skeinwork.core.relate.medoids import k_medoids


def planted(seed: int, sizes: tuple[int, ...] = (120, 60, 30, 20)) -> tuple[scipy.sparse.csr_matrix, NDArray[np.int64]]:
    """Documents of groups that share half of their words with all others; the largest group first."""
    chance = np.random.default_rng(seed)
    group = np.repeat(np.arange(len(sizes)), sizes)
    rates = np.full((len(sizes), 200), 0.1)
    for at in range(len(sizes)):
        rates[at, at * 25 : at * 25 + 25] = 1.0
    order = chance.permutation(len(group))
    return scipy.sparse.csr_matrix(chance.poisson(rates[group[order]]).astype(np.float64)), group[order]


def plain_loop(points: NDArray[np.float64], centres: NDArray[np.float64]) -> tuple[NDArray[np.int64], float]:
    """Lloyd's iteration as one writes it down."""
    group = np.full(len(points), -1)
    while True:
        apart = ((points[:, None, :] - centres[None, :, :]) ** 2).sum(axis=2)
        now = apart.argmin(axis=1)
        if (now == group).all():
            return group, float(apart[np.arange(len(points)), group].sum())
        group = now
        centres = np.stack([points[group == each].mean(axis=0) for each in range(len(centres))])


def test_from_the_same_start_it_comes_to_the_groups_of_a_plain_loop(monkeypatch: pytest.MonkeyPatch) -> None:
    for seed in range(4):
        rows, _ = planted(seed)
        start = rows[np.random.default_rng(seed).choice(rows.shape[0], 5, replace=False)].toarray()
        monkeypatch.setattr(groups, "_spread_starts", lambda *_, start=start: start)
        found = k_means(rows, GroupSettings(groups=5, starts=1, spherical=False))
        group, within = plain_loop(rows.toarray(), start)
        assert float(found.within.sum()) == pytest.approx(within)
        assert len(set(zip(group.tolist(), found.group.tolist(), strict=True))) == 5


@pytest.mark.parametrize("spherical", [False, True])
def test_planted_groups_come_back_by_falling_size(spherical: bool) -> None:
    rows, truth = planted(1)
    found = k_means(rows, GroupSettings(groups=4, spherical=spherical))
    assert (found.group == truth).mean() > 0.99
    assert 0.05 < found.between_share < 1


def test_sums_of_squares_are_those_of_their_definition() -> None:
    rows, _ = planted(2)
    points = rows.toarray()
    found = k_means(rows, GroupSettings(groups=3, spherical=False))
    within = [
        ((points[found.group == each] - points[found.group == each].mean(axis=0)) ** 2).sum() for each in range(3)
    ]
    np.testing.assert_allclose(found.within, within)
    assert found.total == pytest.approx(((points - points.mean(axis=0)) ** 2).sum())
    between = sum(
        (found.group == each).sum() * ((found.centres[each] - points.mean(axis=0)) ** 2).sum() for each in range(3)
    )
    assert found.between_share == pytest.approx(between / found.total)


def test_by_angle_the_length_of_a_document_makes_no_difference() -> None:
    rows, _ = planted(3)
    times = scipy.sparse.diags_array(np.random.default_rng(0).integers(1, 30, rows.shape[0]).astype(np.float64))
    once, long = (k_means(each, GroupSettings(groups=4)) for each in (rows, scipy.sparse.csr_matrix(times @ rows)))
    assert (once.group == long.group).all()
    np.testing.assert_allclose(np.linalg.norm(once.centres, axis=1), 1.0)


def test_more_starts_are_never_worse_and_the_same_seed_gives_the_same() -> None:
    rows, _ = planted(4, (40, 40, 40, 40, 40, 40))
    few, many, again = (k_means(rows, GroupSettings(groups=6, starts=each, seed=5)) for each in (1, 12, 12))
    assert many.within.sum() <= few.within.sum() + 1e-9
    assert many.group.tobytes() == again.group.tobytes() and many.centres.tobytes() == again.centres.tobytes()


def test_a_document_without_words_is_in_no_group_and_more_groups_than_documents_are_refused() -> None:
    rows = scipy.sparse.csr_matrix(np.array([[1.0, 0], [0, 0], [0, 2], [1, 1]]))
    found = k_means(rows, GroupSettings(groups=3))
    assert found.group[1] == -1 and sorted(found.group.tolist()) == [-1, 0, 1, 2]
    with pytest.raises(BadInputError, match="more than the 3 documents"):
        k_means(rows, GroupSettings(groups=4))


@given(st.lists(st.lists(st.integers(0, 2), min_size=3, max_size=3), min_size=2, max_size=12), st.integers(2, 5))
@settings(max_examples=60, deadline=None)
def test_any_documents_are_grouped_and_no_group_is_empty(table: list[list[int]], number: int) -> None:
    """Also where many are alike: every row with a number is in a group, every group has one."""
    rows = scipy.sparse.csr_matrix(np.array(table, dtype=np.float64))
    held = np.array(table).any(axis=1)
    if held.sum() < number:
        return
    for spherical in (False, True):
        found = k_means(rows, GroupSettings(groups=number, starts=2, spherical=spherical))
        sizes = np.bincount(found.group[held], minlength=number)
        assert (found.group[~held] == -1).all() and (sizes > 0).all() and (np.diff(sizes) <= 0).all()


def apart(points: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.asarray(np.sqrt(((points[:, None, :] - points[None, :, :]) ** 2).sum(axis=2)))


def test_no_other_middles_are_nearer_to_all_on_few_items() -> None:
    for seed in range(12):
        between = apart(np.random.default_rng(seed).normal(size=(11, 2)))
        for number in (1, 2, 3):
            found = k_medoids(between, number, seed, starts=40)
            least = min(between[:, list(each)].min(axis=1).sum() for each in combinations(range(11), number))
            assert found.apart.sum() == pytest.approx(least)
            assert (found.group[found.medoid] == np.arange(number)).all()


def test_no_swap_makes_the_middles_of_many_items_nearer() -> None:
    between = apart(np.random.default_rng(1).normal(size=(150, 3)))
    found = k_medoids(between, 6, starts=1)
    sizes = np.bincount(found.group)
    assert (np.diff(sizes) <= 0).all() and found.apart.sum() == pytest.approx(
        between[:, found.medoid].min(axis=1).sum()
    )
    for at in range(6):
        for item in range(150):
            swapped = found.medoid.copy()
            swapped[at] = item
            assert between[:, swapped].min(axis=1).sum() > found.apart.sum() - 1e-8


def test_items_on_one_place_and_too_many_groups() -> None:
    found = k_medoids(np.zeros((5, 5)), 3)
    assert len(set(found.medoid.tolist())) == 3 and found.apart.sum() == 0
    with pytest.raises(BadInputError, match="more than the 5 documents"):
        k_medoids(np.zeros((5, 5)), 6)


def test_silhouettes_by_their_definition() -> None:
    chance = np.random.default_rng(2)
    between, group = apart(chance.normal(size=(40, 2))), chance.integers(0, 4, 40).astype(np.int32)
    group[7] = 4  # alone
    found = silhouettes(between, group)
    for item in range(40):
        mine = [other for other in range(40) if group[other] == group[item] and other != item]
        if not mine:
            assert found[item] == 0
            continue
        own = np.mean([between[item, other] for other in mine])
        others = min(between[item][group == each].mean() for each in range(5) if each != group[item])
        assert found[item] == pytest.approx((others - own) / max(own, others))
    assert not silhouettes(between, np.zeros(40, dtype=np.int32)).any()


@given(st.lists(st.tuples(st.integers(0, 3), st.integers(0, 3)), min_size=2, max_size=25))
@settings(max_examples=80, deadline=None)
def test_the_adjusted_index_by_counting_pairs(items: list[tuple[int, int]]) -> None:
    one, other = (np.array([each[at] for each in items]) for at in (0, 1))
    pairs = [(one[a] == one[b], other[a] == other[b]) for a, b in combinations(range(len(items)), 2)]
    first, second = sum(a for a, _ in pairs), sum(b for _, b in pairs)
    expected, most = first * second / len(pairs), (first + second) / 2
    found = adjusted_rand_index(one, other)
    if most == expected:
        assert found == 1
    else:
        assert found == pytest.approx((sum(a and b for a, b in pairs) - expected) / (most - expected))
    assert found == pytest.approx(adjusted_rand_index(other, one)) and adjusted_rand_index(one, one) == 1


def test_by_chance_two_ways_to_group_agree_as_little_as_chance() -> None:
    chance = np.random.default_rng(3)
    found = [adjusted_rand_index(*chance.integers(0, 5, (2, 60))) for _ in range(300)]
    assert abs(np.mean(found)) < 0.01
