"""The sampler against the exact posterior of problems small enough to be summed up whole."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from functools import cache

import numpy as np
import pytest
from numpy.typing import NDArray

from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.samplers.constant_time import ConstantTime
from skeinwork.core.topics.samplers.dense import Dense
from skeinwork.core.topics.seed_words import SeedTokens
from skeinwork.core.topics.topic_counts import word_topic_counts

WORDS = np.array([0, 0, 1, 0, 1, 2, 2], dtype=np.int32)
DOC_PTR = np.array([0, 3, 7], dtype=np.int64)
ALPHA = np.array([0.4, 0.9])
BETA = 0.3
N_TERMS = 3
Draw = Callable[[int, int], dict[tuple[int, ...], float]]


def log_joint(z: tuple[int, ...], more: int = 0) -> float:
    """log p(words, topics), written from the Dirichlet-multinomial formula with counts by hand.

    The prior of the last word in the second topic is higher by ``more``.
    """
    value = 0.0
    for topic in range(2):
        prior = [BETA, BETA, BETA + more * topic]
        counts = [sum(z[i] == topic and WORDS[i] == w for i in range(len(z))) for w in range(N_TERMS)]
        value += math.lgamma(sum(prior)) - math.lgamma(sum(counts) + sum(prior))
        value += sum(math.lgamma(n + b) - math.lgamma(b) for n, b in zip(counts, prior, strict=True))
    for doc in range(2):
        rows = range(int(DOC_PTR[doc]), int(DOC_PTR[doc + 1]))
        counts = [sum(z[i] == topic for i in rows) for topic in range(2)]
        value += math.lgamma(ALPHA.sum()) - math.lgamma(sum(counts) + ALPHA.sum())
        value += sum(math.lgamma(n + a) - math.lgamma(a) for n, a in zip(counts, ALPHA, strict=True))
    return value


@cache
def exact(more: int) -> dict[tuple[int, ...], float]:
    """The posterior over all assignments of topics to the seven tokens."""
    every = list(itertools.product(range(2), repeat=len(WORDS)))
    weights = np.exp([log_joint(z, more) for z in every])
    return dict(zip(every, weights / weights.sum(), strict=True))


class Chain:
    """The tokens above, all in the first topic."""

    words, doc_ptr, n_terms, alpha, beta = WORDS, DOC_PTR, N_TERMS, ALPHA, BETA

    def __init__(self, seed: int, more: int) -> None:
        self.z = np.zeros(len(WORDS), dtype=np.int32)
        self.stream = np.array([seed], dtype=np.uint64)
        self.seeds = SeedTokens(np.full(more, 2, np.int32), np.ones(more, np.int32))
        words, z = np.append(WORDS, self.seeds.words), np.append(self.z, self.seeds.topics)
        self.word_topic, self.topic_total = word_topic_counts(words, z, N_TERMS, 2)


def sampled(sweep: Callable[[], object], chain: Chain, sweeps: int) -> dict[tuple[int, ...], float]:
    """How often each assignment is visited in a long run."""
    visits: dict[tuple[int, ...], int] = {}
    for number in range(sweeps):
        sweep()
        if number >= 200:
            key = tuple(chain.z.tolist())
            visits[key] = visits.get(key, 0) + 1
    return {key: count / (sweeps - 200) for key, count in visits.items()}


@cache
def dense(seed: int, more: int) -> dict[tuple[int, ...], float]:
    chain = Chain(seed, more)
    return sampled(Dense(chain).sweep, chain, 60_000)


@cache
def constant_time(seed: int, more: int) -> dict[tuple[int, ...], float]:
    """A part for each document, so that no word is drawn twice in one turn: delayed counts are exact ones then."""
    chain = Chain(seed, more)
    return sampled(ConstantTime(chain, parts=2, threads=1).once, chain, 25_000)


# How each draws, tokens of a seed word, and how far off chance may leave it.
DRAWS = [(dense, 0, 0.03), (dense, 3, 0.03), (constant_time, 0, 0.05), (constant_time, 3, 0.05)]


@pytest.mark.parametrize(("draw", "more", "off"), DRAWS)
def test_a_sampler_visits_assignments_as_often_as_the_posterior_says(draw: Draw, more: int, off: float) -> None:
    truth, found = exact(more), draw(5, more)
    distance = 0.5 * sum(abs(truth[z] - found.get(z, 0.0)) for z in truth)
    assert distance < off


@pytest.mark.parametrize(("draw", "more", "off"), DRAWS)
def test_expected_shares_agree_with_the_posterior(draw: Draw, more: int, off: float) -> None:
    truth = exact(more)

    def first(weights: dict[tuple[int, ...], float]) -> NDArray[np.float64]:
        return np.array([sum(p for z, p in weights.items() if z[token] == 0) for token in range(len(WORDS))])

    assert np.allclose(first(draw(5, more)), first(truth), atol=off)


def test_the_log_likelihood_ranks_assignments_as_the_posterior_does() -> None:
    """Differences between assignments are those of the exact joint probability."""
    from scipy.sparse import csr_matrix

    counts = np.zeros((2, N_TERMS), dtype=np.int64)
    for doc in range(2):
        for at in range(int(DOC_PTR[doc]), int(DOC_PTR[doc + 1])):
            counts[doc, WORDS[at]] += 1
    settings = lda.LdaSettings(topics=2, alpha=0.5, beta=BETA)
    sampler = lda.Chain(csr_matrix(counts), settings)
    sampler.alpha = ALPHA
    order = [
        at for doc in range(2) for at in sorted(range(int(DOC_PTR[doc]), int(DOC_PTR[doc + 1])), key=lambda i: WORDS[i])
    ]
    values = {}
    for z in itertools.islice(itertools.product(range(2), repeat=len(WORDS)), 40):
        sampler.z = np.array([z[at] for at in order], dtype=np.int32)
        sampler.count_words()
        values[z] = sampler.log_likelihood() * len(WORDS) - log_joint(z)
    assert max(values.values()) - min(values.values()) == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize("topics", [2, 3])
def test_a_corpus_of_one_document_or_one_word_is_fitted(topics: int) -> None:
    from scipy.sparse import csr_matrix

    for counts in (np.full((4, 1), 3), np.array([[5, 4, 3]] * 4)):
        model = lda.fit(csr_matrix(counts), lda.LdaSettings(topics=topics, iterations=20))
        assert np.isfinite(model.topic_word).all()
        assert np.allclose(model.doc_topic.sum(axis=1), 1, atol=1e-5)
        assert np.isfinite(model.trace).all()
