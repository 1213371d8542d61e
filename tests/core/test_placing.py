"""New documents among the topics of a fit: against the exact posterior, and what is true."""

from __future__ import annotations

import itertools
from dataclasses import astuple

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.testing import assert_allclose, assert_array_equal
from numpy.typing import NDArray

from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.core.topics.placing import Placed, intervals, topics_of_terms

WORDS = np.array([[0.6, 0.3, 0.1], [0.1, 0.2, 0.7]])
ALPHA = np.array([0.4, 0.9])


def sparse(rows: list[list[int]]) -> scipy.sparse.csr_matrix:
    return scipy.sparse.csr_matrix(np.array(rows, np.int32))


def model(words: NDArray[np.float64], alpha: NDArray[np.float64]) -> TopicModel:
    """What is known of topics of which no document was fitted."""
    return TopicModel(words, np.zeros((0, len(alpha))), None, np.zeros((0, 2)), {"alpha": alpha})


def placed(rows: list[list[int]], seed: int = 1) -> Placed:
    return LDA.place(model(WORDS, ALPHA), sparse(rows), LdaSettings(seed=seed))


def exact(row: list[int]) -> tuple[float, float, float]:
    """Mean and both ends of the 95 % interval of the first topic's share, over all topics of the tokens."""
    terms = [term for term, n in enumerate(row) for _ in range(n)]
    alpha = ALPHA
    weights: dict[int, float] = {}
    for z in itertools.product(range(2), repeat=len(terms)):
        first = z.count(0)
        prior = scipy.special.beta(first + alpha[0], len(z) - first + alpha[1])
        likely = float(np.prod([WORDS[k, term] for k, term in zip(z, terms, strict=True)]))
        weights[first] = weights.get(first, 0.0) + prior * likely
    total = sum(weights.values())
    parts = [(p / total, scipy.stats.beta(n + alpha[0], len(terms) - n + alpha[1])) for n, p in weights.items()]

    def quantile(q: float) -> float:
        return float(scipy.optimize.brentq(lambda x: sum(p * b.cdf(x) for p, b in parts) - q, 0, 1))

    return sum(p * b.mean() for p, b in parts), quantile(0.025), quantile(0.975)


@pytest.mark.parametrize("row", [[1, 0, 0], [2, 1, 0], [0, 1, 3], [3, 2, 4], [8, 0, 1], [0, 0, 10]])
def test_shares_are_those_of_the_exact_posterior(row: list[int]) -> None:
    mean, low, high = exact(row)
    runs = [placed([row], seed) for seed in range(30)]
    assert runs[0].share[0].sum() == pytest.approx(1)
    found = [np.mean([part[0, 0] for part in parts]) for parts in zip(*map(astuple, runs), strict=True)]
    assert_allclose(found, [mean, low, high], atol=0.025)


def test_true_shares_lie_in_their_intervals() -> None:
    """Of 600 documents drawn from known topics, 40 words each, 95 in a hundred and not many more."""
    rng = np.random.default_rng(4)
    words = rng.dirichlet(np.full(200, 0.05), size=6)
    alpha = np.full(6, 0.3)
    theta = rng.dirichlet(alpha, size=600)
    counts = scipy.sparse.csr_matrix(np.array([rng.multinomial(40, row @ words) for row in theta], np.int32))
    found = LDA.place(model(words, alpha), counts, LdaSettings())
    inside = (found.low <= theta) & (theta <= found.high)
    assert 0.93 <= inside.mean() <= 0.98
    large = theta > 0.2
    assert 0.92 <= inside[large].mean() <= 0.98


def test_a_document_is_placed_alike_whatever_others_are_placed_with_it() -> None:
    rows = [[n % 5, 3, n % 7] for n in range(600)]
    every = placed(rows)
    for at in (0, 255, 256, 599):
        alone = placed([rows[at]])
        assert_array_equal(alone.share[0], every.share[at])
        assert alone.high is not None and every.high is not None
        assert_array_equal(alone.high[0], every.high[at])


def test_without_a_word_the_prior_is_all_that_is_known() -> None:
    found = placed([[0, 0, 0]])
    assert found.low is not None
    assert_allclose(found.share[0], ALPHA / 1.3)
    assert_allclose(found.low[0, 0], scipy.stats.beta(0.4, 0.9).ppf(0.025), atol=1e-6)
    none = LDA.place(model(WORDS, ALPHA), sparse([[0, 0, 0]])[:0], LdaSettings())
    assert none.share.shape == (0, 2)


@settings(max_examples=40, deadline=None)
@given(st.lists(st.integers(0, 9), min_size=2, max_size=6), st.floats(0.01, 3))
def test_of_one_sample_the_interval_is_that_of_its_dirichlet(counts: list[int], prior: float) -> None:
    row = scipy.sparse.csr_matrix(np.array([counts], np.int32))
    share, low, high = intervals(Samples.of_counts([row], np.full((1, len(counts)), prior)))
    a, whole = np.array(counts) + prior, sum(counts) + prior * len(counts)
    assert_allclose(share[0], a / whole)
    assert_allclose(low[0], scipy.stats.beta(a, whole - a).ppf(0.025), rtol=1e-4, atol=1e-6)
    assert_allclose(high[0], scipy.stats.beta(a, whole - a).ppf(0.975), rtol=1e-4, atol=1e-6)


def test_a_words_topics_are_by_share_and_probability() -> None:
    found = topics_of_terms(np.array([0.5, 0.5]), WORDS, np.array([0, 2, -1]))
    assert_allclose(found, [[0.6 / 0.7, 0.1 / 0.8, 0], [0.1 / 0.7, 0.7 / 0.8, 0]])
