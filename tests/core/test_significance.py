"""How surely a word is a group's: against SciPy's binomial test, plain enumeration, and shuffled labels."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.stats import binom, hypergeom

from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.relate.significance import (
    LEAST_UNITS,
    UNLIKE_LENGTHS,
    UnitCounts,
    _exact_tails,
    _upper_tail,
    log_ratio_intervals,
    significance,
    unit_counts,
)

Counts = NDArray[np.int64]


def interval(found: UnitCounts, p: float) -> tuple[float, float]:
    """Of the one word, in the first group."""
    low, high = log_ratio_intervals(found, 0, [0], np.array([p]))[0].tolist()
    return low, high


def table(words: Counts, lengths: Counts) -> scipy.sparse.csr_matrix:
    """One word beside all others, so that units have these lengths."""
    return scipy.sparse.csr_matrix(np.stack([words, lengths - words], axis=1))


def test_a_word_that_each_unit_says_once_is_tested_by_the_binomial() -> None:
    words, lengths = np.repeat([1, 0], [30, 70]), np.full(100, 10)
    group = np.concatenate([np.zeros(22), np.ones(8), np.zeros(28), np.ones(42)]).astype(np.int64)
    found = significance(unit_counts(table(words, lengths), group))
    share = 0.5
    low, high = binom.cdf(22, 30, share), binom.sf(21, 30, share)
    assert found.inside[:, 0].tolist() == found.units[:, 0].tolist() == [22, 8]
    np.testing.assert_allclose(found.p[:, 0], min(1, 2 * min(low, high)), rtol=1e-12)


@given(st.lists(st.integers(1, 4), min_size=1, max_size=7), st.floats(0.05, 0.95))
@settings(max_examples=60, deadline=None)
def test_tails_are_those_of_all_ways_to_deal_the_units(given: list[int], share: float) -> None:
    sizes, many = np.unique(given, return_counts=True)
    total = sum(given)
    chances = np.zeros(total + 1)
    for inside in product((0, 1), repeat=len(given)):
        sum_inside = sum(size for size, is_in in zip(given, inside, strict=True) if is_in)
        chances[sum_inside] += share ** sum(inside) * (1 - share) ** (len(given) - sum(inside))
    for inside in range(total + 1):
        low, high = _exact_tails(sizes, many, total, share, inside)
        assert low == pytest.approx(chances[: inside + 1].sum(), abs=1e-12)
        assert high == pytest.approx(chances[inside:].sum(), abs=1e-12)


def test_the_saddlepoint_is_near_the_exact_tail() -> None:
    sizes, many = np.array([1, 2, 3, 7]), np.array([240, 90, 30, 5])
    total = int((sizes * many).sum())
    for share in (0.04, 0.3, 0.8):
        middle, spread = share * total, np.sqrt(share * (1 - share) * (many * sizes**2).sum())
        for away in (-5.0, -3.0, -1.0, 1.0, 2.0, 4.0, 6.0):
            least = int(np.clip(round(middle + away * spread), 1, total))
            exact = _exact_tails(sizes, many, total, share, least)[1]
            assert _upper_tail(sizes, many, total, share, least) == pytest.approx(exact, rel=0.02)


def test_intervals_turn_the_test_round() -> None:
    """At either end of the interval the test just does not reject; no difference lies inside where p says so."""
    chance = np.random.default_rng(3)
    lengths, group = np.full(80, 50), np.arange(80) % 2
    for rate in (0.01, 0.03, 0.1):
        words = chance.poisson(rate * lengths * np.where(group == 0, 2.0, 1.0))
        found = unit_counts(table(words, lengths), group)
        p = float(significance(found).p[0, 0])
        low, high = interval(found, p)
        ratio = np.log2(words[group == 0].sum() / max(words[group == 1].sum(), 1))
        assert low < ratio < high
        assert (low > 0 or high < 0) == (p <= 0.05)
        sizes, many = np.unique(words[words > 0], return_counts=True)
        inside, total = int(words[group == 0].sum()), int(words.sum())
        for end, side in ((low, 1), (high, 0)):
            share = 2**end / (1 + 2**end)
            assert _exact_tails(sizes, many, total, share, inside)[side] == pytest.approx(0.025, rel=1e-3)


def test_a_word_that_one_side_lacks_has_an_open_interval() -> None:
    words = np.where(np.arange(60) < 20, 1, 0)
    found = unit_counts(table(words, np.full(60, 9)), (np.arange(60) >= 30).astype(np.int64))
    low, high = interval(found, float(significance(found).p[0, 0]))
    assert low > 1 and high == np.inf
    assert np.isnan(interval(found, float("nan"))).all()


@pytest.mark.parametrize("inside", [0, 1, 150, 299, 300])
def test_intervals_of_frequent_words_reach_to_the_ends(inside: int) -> None:
    words, lengths = np.where(np.arange(600) % 2 == 0, 2, 0), np.full(600, 20)
    group = np.ones(600, dtype=np.int64)
    group[np.arange(0, 600, 2)[:inside]] = 0
    group[np.arange(1, 600, 2)[: 300 - inside]] = 0
    found = unit_counts(table(words, lengths), group)
    p = float(significance(found).p[0, 0])
    low, high = interval(found, p)
    assert low < high and (low == -np.inf) == (inside == 0) and (high == np.inf) == (inside == 300)
    assert (p <= 0.05) == (inside != 150) and (low > 0 or high < 0) == (p <= 0.05)


def test_what_one_unit_says_often_is_one_units_word() -> None:
    """Thirty times in one document, or once in each of thirty: the second is the group's word."""
    lengths, group = np.full(200, 60), np.arange(200) % 2
    one, many = np.zeros(200, np.int64), np.zeros(200, np.int64)
    one[0], many[np.arange(0, 60, 2)] = 30, 1
    by_one, by_many = (significance(unit_counts(table(each, lengths), group)).p[0, 0] for each in (one, many))
    assert by_one == 1.0 and by_many < 1e-6
    author = np.where(np.arange(200) < 60, 0, np.arange(200))
    by_author = significance(unit_counts(table(many, lengths), group, author))
    assert by_author.p[0, 0] == 1.0 and by_author.units[0, 0] == 1


def test_no_test_where_a_side_has_too_few_units() -> None:
    words, lengths = np.ones(40, np.int64), np.full(40, 10)
    group = (np.arange(40) >= LEAST_UNITS - 1).astype(np.int64)
    assert np.isnan(significance(unit_counts(table(words, lengths), group)).p).all()
    group = (np.arange(40) >= LEAST_UNITS).astype(np.int64)
    assert not np.isnan(significance(unit_counts(table(words, lengths), group)).p[:, 0]).any()


def test_where_lengths_are_unlike_the_units_must_tell_too() -> None:
    """A clump in long documents: a tenth of them hold the word, as of the short ones; by tokens it seems theirs."""
    lengths = np.repeat([400, 20], [40, 400])
    group = np.repeat([0, 1], [40, 400])
    words = np.zeros(440, np.int64)
    words[:9], words[40:60] = 40, 2
    found = unit_counts(table(words, lengths), group)
    assert found.lengths_ratio(0) == pytest.approx(20) and found.lengths_ratio(0) > UNLIKE_LENGTHS
    tested = significance(found)
    wanted = 2 * min(hypergeom.sf(8, 440, 40, 29), 1.0)
    assert tested.p[0, 0] >= min(1.0, wanted) - 1e-12


def test_documents_without_a_group_are_left_out() -> None:
    words, lengths = np.ones(30, np.int64), np.full(30, 5)
    group = np.where(np.arange(30) < 10, -1, np.arange(30) % 2)
    found = unit_counts(table(words, lengths), group)
    assert found.units.tolist() == [10, 10] and found.tokens.tolist() == [50, 50]


def test_shuffled_groups_are_told_apart_no_more_often_than_stated() -> None:
    """Clumped words, documents of authors, groups dealt out to authors: at most 5 in 100."""
    chance = np.random.default_rng(11)
    told, found, tests = 0, 0, 0
    for _ in range(12):
        author = np.repeat(np.arange(60), chance.integers(1, 9, 60))
        rates = chance.dirichlet(np.full(300, 0.3)) * chance.gamma(0.4, 2.5, (60, 300))
        shares = rates / rates.sum(axis=1, keepdims=True)
        lengths = np.maximum(5, chance.lognormal(3.5, 0.7, len(author))).astype(int)
        counts = np.stack([chance.multinomial(n, shares[a]) for n, a in zip(lengths, author, strict=True)])
        group = chance.permutation(np.arange(60) % 3)[author]
        p = significance(unit_counts(scipy.sparse.csr_matrix(counts), group, author)).p
        known = p[~np.isnan(p)]
        told, tests = told + int((known <= 0.05).sum()), tests + len(known)
        found += int((false_discovery_rates(known) <= 0.05).any())
    assert told / tests <= 0.05 and found <= 2
