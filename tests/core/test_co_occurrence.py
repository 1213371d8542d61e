"""Topics that documents hold together: tables with the same margins, p that is uniform where nothing is to be found."""

from __future__ import annotations

import itertools

import numpy as np
import pytest
import scipy.stats
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.topics import co_occurrence as module
from skeinwork.core.topics.co_occurrence import co_occurrence, packed
from skeinwork.core.topics.log_ratios import log_ratio_correlation


def unpacked(bits: NDArray[np.uint64], topics: int) -> NDArray[np.bool_]:
    return np.array([[bool(int(row[k // 64]) >> (k % 64) & 1) for k in range(topics)] for row in bits], dtype=bool)


@settings(deadline=None)  # the first compiles a kernel, where indices are checked
@given(st.integers(2, 30), st.integers(1, 70), st.integers(0, 2**31))
def test_trades_keep_how_many_topics_a_document_has_and_how_many_documents_a_topic(
    documents: int, topics: int, seed: int
) -> None:
    random = np.random.default_rng(seed)
    held = random.random((documents, topics)) < 0.3
    bits = packed(held)
    assert (unpacked(bits, topics) == held).all()
    for _ in range(5):
        module._trade(bits, random.permutation(documents), random.random(int(held.sum())))
    after = unpacked(bits, topics)
    assert (after.sum(axis=0) == held.sum(axis=0)).all() and (after.sum(axis=1) == held.sum(axis=1)).all()


def test_expected_is_the_mean_over_all_tables_with_the_same_margins() -> None:
    held = np.array([[1, 1, 0, 0], [1, 0, 1, 0], [0, 1, 1, 1], [1, 0, 0, 0]], dtype=bool)
    rows = [list(itertools.combinations(range(4), int(each))) for each in held.sum(axis=1)]
    tables = [np.array([[k in row for k in range(4)] for row in chosen]) for chosen in itertools.product(*rows)]
    same = [each.astype(int) for each in tables if (each.sum(axis=0) == held.sum(axis=0)).all()]
    wanted = np.mean([each.T @ each for each in same], axis=0)
    found = co_occurrence(held, 4000)
    assert found.expected == pytest.approx(wanted, abs=0.04)
    assert found.observed.tolist() == (held.astype(int).T @ held.astype(int)).tolist()


def _independent(seed: int) -> NDArray[np.bool_]:
    """Documents of lengths that differ, with topics apart from each other."""
    random = np.random.default_rng([3, seed])
    odds = np.exp(random.normal(-1.5, 0.7, 8)[None] + random.normal(0, 1, 300)[:, None])
    return np.asarray(random.random((300, 8)) < odds / (1 + odds))


def test_p_is_uniform_over_topics_that_have_nothing_to_do_with_each_other() -> None:
    pairs = np.triu_indices(8, 1)
    runs = [co_occurrence(_independent(seed), 199, seed) for seed in range(40)]
    p = np.concatenate([each.p[pairs] for each in runs])
    assert scipy.stats.kstest(p, "uniform").statistic < 0.05
    assert 0.03 < (p <= 0.05).mean() < 0.075 and (p <= 0.002).mean() < 0.006
    assert sum((each.adjusted[pairs] < 0.05).any() for each in runs) <= 6


def test_planted_pairs_are_found_both_ways() -> None:
    random = np.random.default_rng(5)
    held = random.random((800, 10)) < 0.15
    held[:, 1] |= held[:, 0] & (random.random(800) < 0.3)
    held[:, 3] &= ~(held[:, 2] & (random.random(800) < 0.9))
    found = co_occurrence(held)
    sure = {tuple(each) for each in np.argwhere(np.triu(found.adjusted < 0.05, 1)).tolist()}
    assert sure == {(0, 1), (2, 3)}
    assert found.effect[0, 1] > 0.5 and found.effect[2, 3] < -0.5
    again = co_occurrence(held)
    assert (again.p == found.p).all()


def test_log_ratios_of_parts_of_a_whole() -> None:
    shares = np.random.default_rng(1).dirichlet(np.full(5, 2.0), 4000)
    found = log_ratio_correlation(shares)
    logs = np.log(shares) - np.log(shares).mean(axis=1, keepdims=True)
    assert found == pytest.approx(np.corrcoef(logs.T))
    assert found[np.triu_indices(5, 1)].mean() == pytest.approx(-0.25, abs=0.01)
    assert (log_ratio_correlation(np.ones((2, 3))) == np.eye(3)).all()
    assert log_ratio_correlation(np.full((9, 3), 1 / 3))[0, 1] == 0.0
