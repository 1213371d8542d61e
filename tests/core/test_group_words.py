"""The words of a group against SciPy's contingency tables and the formulas of their papers."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.stats import chi2_contingency

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.group_words import GroupWords, words_apart

CHANCE = np.random.default_rng(5)
COUNTS = CHANCE.poisson(CHANCE.random(40) * 2, (50, 40))
COUNTS[:20, :5] *= 4
GROUP = np.arange(50) < 20


def group_words(counts: NDArray[np.int64], group: NDArray[np.bool_], **prior: float) -> GroupWords:
    """The documents of a group against all others."""
    return words_apart(counts[group].sum(axis=0), counts[~group].sum(axis=0), **prior)


def test_likelihood_is_that_of_the_contingency_table() -> None:
    found = group_words(COUNTS, GROUP)
    inside, outside = COUNTS[GROUP].sum(axis=0), COUNTS[~GROUP].sum(axis=0)
    for term in np.flatnonzero(inside + outside).tolist():
        table = [[inside[term], outside[term]], [inside.sum() - inside[term], outside.sum() - outside[term]]]
        wanted = chi2_contingency(table, correction=False, lambda_="log-likelihood").statistic
        assert abs(found.likelihood[term]) == pytest.approx(wanted, abs=1e-8)
        more = inside[term] / inside.sum() > outside[term] / outside.sum()
        assert (found.likelihood[term] > 0) == (found.log_ratio[term] > 0) == more or wanted < 0.05
    assert set(np.argsort(-found.likelihood)[:5].tolist()) == set(range(5))


def test_log_odds_by_the_formula_of_the_paper() -> None:
    """Equations 15, 16, 19 and 22, term by term, with the shares of both sides as the prior."""
    found = group_words(COUNTS, GROUP, prior_tokens=100)
    y_i, y_j = COUNTS[GROUP].sum(axis=0).tolist(), COUNTS[~GROUP].sum(axis=0).tolist()
    n_i, n_j = sum(y_i), sum(y_j)
    for w in range(40):
        a = 100 * (y_i[w] + y_j[w]) / (n_i + n_j)
        if not a:
            continue
        delta = math.log((y_i[w] + a) / (n_i + 100 - y_i[w] - a)) - math.log((y_j[w] + a) / (n_j + 100 - y_j[w] - a))
        variance = 1 / (y_i[w] + a) + 1 / (y_j[w] + a)
        assert found.log_odds[w] == pytest.approx(delta / math.sqrt(variance))


def test_a_word_twice_as_frequent_has_a_log_ratio_of_one() -> None:
    counts = np.array([[4000, 6000], [2000, 8000]])
    found = group_words(counts, np.array([True, False]))
    assert found.log_ratio[0] == pytest.approx(1, abs=0.001)


@given(st.lists(st.lists(st.integers(0, 6), min_size=4, max_size=4), min_size=2, max_size=10))
@settings(max_examples=60, deadline=None)
def test_the_others_against_the_group_is_the_same_turned_round(table: list[list[int]]) -> None:
    counts, group = np.array(table), np.arange(len(table)) % 2 == 0
    if not counts[group].any() or not counts[~group].any():
        with pytest.raises(BadInputError, match="no counted word"):
            group_words(counts, group)
        return
    one, other = (group_words(counts, each) for each in (group, ~group))
    for name in ("likelihood", "log_ratio", "log_odds"):
        np.testing.assert_allclose(getattr(one, name), -getattr(other, name), atol=1e-9)
    assert one.inside.tolist() == other.outside.tolist()
