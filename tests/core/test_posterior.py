"""The sampler against the exact posterior of problems small enough to be summed up whole."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from numpy.typing import NDArray

from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.samplers import dense

WORDS = np.array([0, 0, 1, 2, 1, 2, 2], dtype=np.int32)
DOC_PTR = np.array([0, 3, 7], dtype=np.int64)
ALPHA = np.array([0.4, 0.9])
BETA = 0.3
N_TERMS = 3


def log_joint(z: tuple[int, ...]) -> float:
    """log p(words, topics), written from the Dirichlet-multinomial formula with counts by hand."""
    value = 0.0
    for topic in range(2):
        counts = [sum(z[i] == topic and WORDS[i] == w for i in range(len(z))) for w in range(N_TERMS)]
        value += math.lgamma(N_TERMS * BETA) - math.lgamma(sum(counts) + N_TERMS * BETA)
        value += sum(math.lgamma(n + BETA) - math.lgamma(BETA) for n in counts)
    for doc in range(2):
        rows = range(int(DOC_PTR[doc]), int(DOC_PTR[doc + 1]))
        counts = [sum(z[i] == topic for i in rows) for topic in range(2)]
        value += math.lgamma(ALPHA.sum()) - math.lgamma(sum(counts) + ALPHA.sum())
        value += sum(math.lgamma(n + a) - math.lgamma(a) for n, a in zip(counts, ALPHA, strict=True))
    return value


def exact() -> dict[tuple[int, ...], float]:
    """The posterior over all assignments of topics to the seven tokens."""
    every = list(itertools.product(range(2), repeat=len(WORDS)))
    weights = np.exp([log_joint(z) for z in every])
    return dict(zip(every, weights / weights.sum(), strict=True))


def sampled(sweeps: int, seed: int) -> dict[tuple[int, ...], float]:
    """How often each assignment is visited in a long run."""
    z = np.zeros(len(WORDS), dtype=np.int32)
    state = np.array([seed], dtype=np.uint64)
    word_topic, _, total = dense.count_topics(WORDS, DOC_PTR, z, N_TERMS, 2)
    visits: dict[tuple[int, ...], int] = {}
    for number in range(sweeps):
        dense.sweep(WORDS, DOC_PTR, z, word_topic, total, ALPHA, BETA, state)
        if number >= 200:
            key = tuple(z.tolist())
            visits[key] = visits.get(key, 0) + 1
    return {key: count / (sweeps - 200) for key, count in visits.items()}


def test_the_sampler_visits_assignments_as_often_as_the_posterior_says() -> None:
    truth, found = exact(), sampled(60_000, 5)
    distance = 0.5 * sum(abs(truth[z] - found.get(z, 0.0)) for z in truth)
    assert distance < 0.03


def test_expected_shares_agree_with_the_posterior() -> None:
    truth = exact()

    def first(weights: dict[tuple[int, ...], float]) -> NDArray[np.float64]:
        return np.array([sum(p for z, p in weights.items() if z[token] == 0) for token in range(len(WORDS))])

    assert np.allclose(first(sampled(60_000, 9)), first(truth), atol=0.02)


def test_the_log_likelihood_ranks_assignments_as_the_posterior_does() -> None:
    """Differences between assignments are those of the exact joint probability."""
    from scipy.sparse import csr_matrix

    counts = np.zeros((2, N_TERMS), dtype=np.int64)
    for doc in range(2):
        for at in range(int(DOC_PTR[doc]), int(DOC_PTR[doc + 1])):
            counts[doc, WORDS[at]] += 1
    settings = lda.LdaSettings(topics=2, alpha=0.5, beta=BETA)
    sampler = lda.Chain(csr_matrix(counts), settings, 0)
    sampler.alpha = ALPHA
    order = [
        at for doc in range(2) for at in sorted(range(int(DOC_PTR[doc]), int(DOC_PTR[doc + 1])), key=lambda i: WORDS[i])
    ]
    values = {}
    for z in itertools.islice(itertools.product(range(2), repeat=len(WORDS)), 40):
        sampler.z = np.array([z[at] for at in order], dtype=np.int32)
        sampler.word_topic, _, sampler.topic_total = dense.count_topics(
            sampler.words, sampler.doc_ptr, sampler.z, N_TERMS, 2
        )
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
