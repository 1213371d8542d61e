"""Coherence, words of topics, matching and the choice of a count."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import rankdata

from skeinwork.core.topics import matching, words
from skeinwork.core.topics.measures import MEASURES, Measured, Texts
from skeinwork.core.topics.measures.base import AT_A_TIME
from skeinwork.core.topics.measures.exclusivity import exclusivity
from skeinwork.core.topics.measures.npmi import npmi
from skeinwork.core.topics.measures.windows import count_windows
from skeinwork.core.topics.model import TopicModel

Docs = list[list[int]]


def texts_of(docs: Docs) -> Texts:
    ids = np.array([i for doc in docs for i in doc], dtype=np.int32)
    return Texts(ids, np.concatenate([[0], np.cumsum([len(doc) for doc in docs])]).astype(np.int64))


def windows_of(docs: Docs, size: int) -> list[set[int]]:
    return [
        {word for word in doc[at : at + size] if word >= 0}
        for doc in docs
        if doc
        for at in range(max(1, len(doc) - size + 1))
    ]


@settings(max_examples=200, deadline=None)
@given(st.lists(st.lists(st.integers(-1, 4), max_size=15), max_size=5), st.integers(1, 7))
def test_windows_are_counted_as_by_hand(docs: Docs, size: int) -> None:
    joint, total = count_windows(*texts_of(docs), 5, size)
    seen = windows_of(docs, size)
    assert total == len(seen)
    for a, b in itertools.product(range(5), repeat=2):
        both = joint[a, b] + joint[b, a] if a != b else joint[a, a]
        assert both == sum({a, b} <= each for each in seen)


def test_npmi_has_its_published_limits_however_rare_or_common_the_words() -> None:
    joint = np.array([[4, 4, 0, 2], [4, 4, 0, 2], [0, 0, 4, 2], [2, 2, 2, 4]])
    assert npmi(joint, 8)[0].tolist() == pytest.approx([1, 1, -1, 0], abs=1e-10)
    for rare, value in (([[1, 0], [0, 1]], -1), ([[1, 1], [1, 1]], 1), ([[0, 0], [0, 5]], -1)):
        assert npmi(np.array(rare), 10**9)[0, 1] == pytest.approx(value)
    assert npmi(np.array([[9, 9], [9, 9]]), 9, 1e-12)[0, 1] == 1


def by_hand(key: str, words: list[int], docs: Docs) -> float:
    """A measure of coherence by its published definition, from sets of windows alone."""
    size = {"coherence": 10, "uci": 10, "c_v": 110, "umass": 10**6}[key]
    seen = windows_of(docs, size)

    def p(*some: int) -> float:
        return sum(set(some) <= each for each in seen) / len(seen)

    def npmi_of(a: int, b: int, e: float) -> float:
        both = p(a, b) + e
        return -1.0 if both <= 0 else 1.0 if p(a, b) == 1 else math.log(both / p(a) / p(b)) / -math.log(both)

    words = [word for word in words if p(word) > 0]
    if len(words) < 2:
        return math.nan
    pairs = [(words[i], words[j]) for i in range(len(words)) for j in range(i)]
    if key == "coherence":
        return float(np.mean([npmi_of(a, b, 0.0) for a, b in pairs]))
    if key == "uci":
        return float(np.mean([math.log((p(a, b) + 1e-12) / p(a) / p(b)) for a, b in pairs]))
    if key == "umass":
        return float(np.mean([math.log((p(a, b) * len(seen) + 1) / (p(b) * len(seen))) for a, b in pairs]))
    rows = [[max(-1.0, min(1.0, npmi_of(a, b, 1e-12))) for b in words] for a in words]
    whole = [sum(column) for column in zip(*rows, strict=True)]
    return float(
        np.mean(
            [
                sum(x * y for x, y in zip(row, whole, strict=True)) / math.hypot(*row) / (math.hypot(*whole) or 1e300)
                for row in rows
            ]
        )
    )


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.lists(st.integers(-1, 7), max_size=130), min_size=1, max_size=6).filter(any),
    st.integers(0, 2**16),
    st.sampled_from([5, 10]),
)
def test_coherence_is_as_its_definition_says(docs: Docs, seed: int, top: int) -> None:
    """In documents shorter and longer than a window, of words that never meet, and of some that are not there."""
    topic_word = np.random.default_rng(seed).dirichlet(np.ones(8), 2)
    fit = Measured(topic_word, np.ones(8, np.int8), texts_of(docs))
    for key in ("coherence", "c_v", "umass", "uci"):
        found = MEASURES[key].of_topics(fit, top)
        expected = [by_hand(key, row, docs) for row in words.top_words(topic_word, top).tolist()]
        assert found.tolist() == pytest.approx(expected, abs=1e-9, nan_ok=True), key


def test_coherence_looks_at_single_words_and_diversity_at_all() -> None:
    topic_word = np.array([[0.4, 0.3, 0.2, 0.1], [0.4, 0.1, 0.3, 0.2]])
    fit = Measured(topic_word, np.array([2, 1, 1, 1], np.int8), texts_of([[1, 2, 3, 1]]))
    assert fit.top_single(2).tolist() == [[1, 2], [2, 3]]
    assert MEASURES["diversity"].of_topics(fit, 2).mean() == pytest.approx(3 / 4)
    assert MEASURES["diversity"].of_topics(fit, 20).mean() == pytest.approx(4 / 8)
    assert MEASURES["exclusivity"].of_topics(fit, 1).tolist() == [0.5, 0.5]


def test_frex_is_the_harmonic_mean_of_two_ranks(model: TopicModel) -> None:
    phi = model.topic_word
    own = phi / phi.sum(axis=0)
    n = phi.shape[1]
    expected = 2 / (n / rankdata(own, axis=1) + n / rankdata(phi, axis=1))
    assert np.allclose(words.frex(phi), expected)
    assert np.allclose(words.ownness(phi).sum(axis=0), 1)
    assert ((exclusivity(phi) > 1 / 12) & (exclusivity(phi) <= 1)).all()


def test_top_words_break_ties_by_order() -> None:
    assert words.top_words(np.array([[0.2, 0.4, 0.2, 0.2]]), 3).tolist() == [[1, 0, 2]]


def test_matching_finds_a_permutation_again(model: TopicModel) -> None:
    order = np.random.default_rng(1).permutation(12)
    pairs = matching.match(model.topic_word, model.topic_word[order])
    assert all(order[j] == i and cosine == pytest.approx(1) for i, j, cosine in pairs)
    assert matching.stability([model.topic_word, model.topic_word[order]]) == pytest.approx([1, 1])
    assert matching.recurrence(model.topic_word, [model.topic_word[order]] * 2).tolist() == [2] * 12


def test_fits_over_other_vocabularies_are_compared_on_shared_terms() -> None:
    a, b = np.array([[1.0, 2, 3]]), np.array([[9.0, 8]])
    left, right = matching.on_shared_terms(a, ["x", "y", "z"], b, ["z", "x"])
    assert (left.tolist(), right.tolist()) == ([[1, 3]], [[8, 9]])


def test_many_topics_are_measured_as_each_by_itself() -> None:
    """Their windows are counted for some of them at a time."""
    rng = np.random.default_rng(8)
    topic_word = rng.dirichlet(np.full(60, 0.1), 2 * AT_A_TIME + 3)
    texts = texts_of(rng.integers(-1, 58, (30, 25)).tolist())
    many = Measured(topic_word, np.ones(60, np.int8), texts)
    for key in ("coherence", "c_v", "umass"):
        found = MEASURES[key].of_topics(many, 5)
        for topic in (0, AT_A_TIME, 2 * AT_A_TIME + 2):
            alone = Measured(topic_word[[topic]], np.ones(60, np.int8), texts)
            assert found[topic] == pytest.approx(MEASURES[key].of_topics(alone, 5)[0])
    words, missing = many.missing()
    assert words == len(np.unique(many.top_single(20))) and missing == sum(
        n >= 58 for n in np.unique(many.top_single(20))
    )
