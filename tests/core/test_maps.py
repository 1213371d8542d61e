"""Maps: neighbours stay neighbours, what lies close together is found, an outline holds what is inside it."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.relate.agreement import adjusted_rand_index
from skeinwork.core.relate.density import density, in_polygon
from skeinwork.core.relate.layout import affinities, begin, lay_out
from skeinwork.core.relate.neighbours import neighbours, unit_vectors
from skeinwork.core.relate.trustworthiness import trustworthiness


def planted(n: int, clusters: int, seed: int, scatter: float = 0.8) -> tuple[NDArray[np.float32], NDArray[np.int64]]:
    chance = np.random.default_rng(seed)
    of = chance.integers(clusters, size=n)
    return unit_vectors(chance.normal(size=(clusters, 40))[of] + scatter * chance.normal(size=(n, 40))), of


def laid_out(vectors: NDArray[np.float32], tightness: float = 0.5, seed: int = 1) -> NDArray[np.float32]:
    return lay_out(affinities(neighbours(vectors, 15)), begin(vectors, seed), tightness, seed)


def test_neighbours_stay_neighbours_and_planted_clusters_are_areas() -> None:
    vectors, of = planted(1200, 8, 1)
    places = laid_out(vectors)
    assert trustworthiness(vectors, places, np.arange(0, 1200, 4)).mean() >= 0.9
    found = density(places, 20)
    inside = found.area >= 0
    assert len(found.peaks) == 8 and inside.mean() > 0.95
    assert adjusted_rand_index(found.area[inside], of[inside]) > 0.95
    sizes = np.bincount(found.area[inside])
    assert (np.diff(sizes) <= 0).all() and found.grid.max() == 1
    for peak, (x, y) in enumerate(found.peaks):
        near = np.hypot(places[:, 0] - x, places[:, 1] - y).argmin()
        assert found.area[near] == peak


def test_the_same_seed_gives_the_same_bytes_and_tightness_draws_together() -> None:
    vectors, of = planted(500, 4, 2)
    one = laid_out(vectors)
    assert laid_out(vectors).tobytes() == one.tobytes() and laid_out(vectors, seed=2).tobytes() != one.tobytes()

    def scatter(places: NDArray[np.float32]) -> float:
        """Mean distance from the middle of one's cluster, as a share of the spread of all."""
        middles = np.stack([places[of == each].mean(axis=0) for each in range(4)])
        return float(np.linalg.norm(places - middles[of], axis=1).mean() / places.std())

    assert scatter(laid_out(vectors, 5.0)) < scatter(laid_out(vectors, 0.5)) < scatter(laid_out(vectors, 0.05))


def test_what_falls_to_neighbours_is_as_even_as_wanted() -> None:
    vectors, _ = planted(300, 3, 3)
    found = neighbours(vectors, 15)
    attract = affinities(found)
    assert abs(attract - attract.T).max() == 0 and attract.sum() == pytest.approx(300)
    # Of each item alone, whose both ways are the mean, entropy is that of five even ones.
    one_way = np.zeros((300, 300))
    squares = 2 - 2 * found.cosine.astype(np.float64)
    for item in range(0, 300, 17):
        low, high = 1e-6, 1e6
        for _ in range(200):
            middle = np.sqrt(low * high)
            weights = np.exp(-middle * (squares[item] - squares[item].min()))
            weights /= weights.sum()
            entropy = -(weights * np.log(np.maximum(weights, 1e-300))).sum()
            low, high = (middle, high) if entropy > np.log(5) else (low, middle)
        one_way[item, found.near[item]] = weights
        others = [each for each in found.near[item] if item not in found.near[each]]
        assert np.allclose(attract[item, others].toarray() if others else 0, one_way[item, others] / 2, atol=1e-6)


def test_trustworthiness_is_that_of_its_definition() -> None:
    chance = np.random.default_rng(4)
    vectors, places = unit_vectors(chance.normal(size=(60, 5))), chance.normal(size=(60, 2)).astype(np.float32)
    k, sum_ = 4, 0.0
    for item in range(60):
        truth = np.argsort([-(vectors[item] @ other) for other in vectors], kind="stable").tolist()
        truth.remove(item)
        apart = np.linalg.norm(places - places[item], axis=1)
        apart[item] = np.inf
        sum_ += sum(max(truth.index(other) + 1 - k, 0) for other in np.argsort(apart)[:k].tolist())
    wanted = 1 - 2 / (60 * k * (2 * 60 - 3 * k - 1)) * sum_
    assert trustworthiness(vectors, places, np.arange(60), k).mean() == pytest.approx(wanted)
    line = unit_vectors(np.stack([np.cos(np.linspace(0, 1, 30)), np.sin(np.linspace(0, 1, 30))], axis=1))
    assert trustworthiness(line, line, np.arange(30), 5).tolist() == [1.0] * 30


@given(st.integers(0, 10_000), st.integers(3, 9))
def test_an_outline_holds_what_angles_round_a_point_say(seed: int, corners: int) -> None:
    chance = np.random.default_rng(seed)
    outline, places = chance.normal(size=(corners, 2)), chance.normal(size=(60, 2))
    turned = np.zeros(60)
    for one, other in zip(outline, np.roll(outline, -1, axis=0), strict=True):
        angle = np.arctan2(*(other - places).T[::-1]) - np.arctan2(*(one - places).T[::-1])
        turned += (angle + np.pi) % (2 * np.pi) - np.pi
    # An outline that crosses itself holds what it runs round an odd number of times.
    assert in_polygon(places, outline).tolist() == (np.round(turned / (2 * np.pi)).astype(int) % 2 == 1).tolist()


def test_few_points_and_points_in_one_place_have_an_area_or_none() -> None:
    assert density(np.zeros((12, 2), np.float32), 5).area.tolist() == [0] * 12
    assert density(np.arange(8, dtype=np.float32).reshape(4, 2), 5).area.tolist() == [-1] * 4
    same = unit_vectors(np.ones((40, 3)))
    assert np.isfinite(laid_out(same)).all()
