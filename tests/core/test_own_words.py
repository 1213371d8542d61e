"""A topic's own words in groups: against plain loops, planted words and drifts, and groups dealt out at random."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.special import gammaln

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.significance import significance, unit_counts
from skeinwork.core.topics.own_words import (
    LEAST_OCCURRENCES,
    MOST_WORDS,
    most_probable_topics,
    of_topic,
    own_words,
    prior_tokens,
)

Array = NDArray[np.float64]
TERMS = 60


def documents(words: list[Array], each: int = 60, length: int = 30, seed: int = 0) -> tuple[csr_matrix, Any]:
    """Documents of a topic in groups, each with words of its own."""
    rng = np.random.default_rng(seed)
    group = np.repeat(np.arange(len(words)), each)
    return csr_matrix(np.array([rng.multinomial(length, words[at]) for at in group])), group


def flat(*raised: tuple[int, float]) -> Array:
    found = np.ones(TERMS)
    for term, times in raised:
        found[term] *= times
    return found / found.sum()


def topics() -> Array:
    """Two topics: all words alike, and the last ten alone."""
    return np.stack([flat(), np.where(np.arange(TERMS) >= 50, 0.0999, 0.001 / 50)])


@settings(deadline=None, max_examples=40)
@given(st.integers(0, 2**32 - 1))
def test_every_occurrence_counts_for_its_most_probable_topic(seed: int) -> None:
    rng = np.random.default_rng(seed)
    counts = csr_matrix(rng.integers(0, 3, (4, 7)))
    topic_word, doc_topic = rng.random((3, 7)), rng.random((4, 3))
    found = most_probable_topics(counts, topic_word, doc_topic)
    rows = np.repeat(np.arange(4), np.diff(counts.indptr))
    for at, (doc, term) in enumerate(zip(rows, counts.indices, strict=True)):
        assert found[at] == int(np.argmax(topic_word[:, term] * doc_topic[doc]))
    parts = [of_topic(counts, found, k).toarray() for k in range(3)]
    assert (sum(parts) == counts.toarray()).all()


def test_the_prior_is_the_most_probable_of_a_grid() -> None:
    counts, group = documents([flat((0, 3.0)), flat((1, 3.0)), flat()])
    inside = np.array([counts[group == at].sum(axis=0).A1 for at in range(3)])
    base = inside.sum(axis=0) / inside.sum()

    def likelihood(a: float) -> float:
        found = 0.0
        for row in inside:
            found += gammaln(a) - gammaln(a + row.sum())
            found += sum(gammaln(n + a * q) - gammaln(a * q) for n, q in zip(row, base, strict=True) if q > 0)
        return float(found)

    best = prior_tokens(inside, base)
    assert all(likelihood(best) >= likelihood(each) - 1e-6 for each in np.geomspace(1, 1e6, 60))


def test_words_that_a_group_says_more_are_found_with_intervals_that_hold_them() -> None:
    counts, group = documents([flat((3, 4.0), (4, 0.2)), flat(), flat()], each=150)
    found = own_words(counts, group, None, topics(), 0)
    assert found.more[0][0].term == 3
    assert found.less[0][0].term == 4
    assert found.more[0][0].adjusted < 0.01
    share = flat((3, 4.0), (4, 0.2))
    for word in (found.more[0][0], found.less[0][0]):
        truth = np.log2(share[word.term] / flat()[word.term])
        assert word.low <= truth <= word.high
        assert word.low <= word.ratio <= word.high
    assert found.words[0][0][0] == 3
    # Drawn towards the share that it has in all groups.
    assert flat()[3] < found.words[0][0][1] < counts[group == 0][:, [3]].sum() / counts[group == 0].sum()
    sure = [word for at in (1, 2) for word in found.more[at] if word.adjusted < 0.05 and word.term not in (3, 4)]
    assert not sure


def test_p_is_that_of_words_of_groups_by_unit() -> None:
    counts, group = documents([flat((3, 2.0)), flat()])
    unit = np.arange(len(group)) // 4
    found = own_words(counts, group, unit, topics(), 0)
    whole = significance(unit_counts(counts, group, unit))
    assert counts.sum(axis=0).min() >= LEAST_OCCURRENCES
    for at, words in enumerate(found.more):
        assert len(words) <= MOST_WORDS
        for word in words:
            assert word.p == pytest.approx(whole.p[at, word.term])
            assert word.inside == counts[group == at][:, [word.term]].sum()
    assert found.compared == 2 * TERMS


def test_a_topic_that_becomes_another_is_told_and_one_that_stays_is_not() -> None:
    moved, group = documents([flat(), flat(), topics()[1]])
    found = own_words(moved, group, None, topics(), 0)
    assert found.another.tolist() == [False, False, True]
    assert found.nearest[2] == 1
    stays, group = documents([flat()] * 3, seed=4)
    still = own_words(stays, group, None, topics(), 0)
    assert not still.another.any()
    assert (still.drift <= still.by_chance * 1.2).all()


def test_groups_dealt_out_at_random_have_no_words_of_their_own() -> None:
    false = 0
    for seed in range(30):
        rng = np.random.default_rng(seed)
        base = rng.dirichlet(np.full(TERMS, 0.5))
        own = rng.dirichlet(40 * base + 1e-3, 30)
        unit = rng.integers(0, 30, 240)
        counts = csr_matrix(np.array([rng.multinomial(25, own[at]) for at in unit]))
        group = rng.integers(0, 3, 30)[unit]
        found = own_words(counts, group, unit, topics(), 0, seed)
        false += any(word.adjusted < 0.05 for words in (*found.more, *found.less) for word in words)
        assert not found.another.any()
    assert false <= 4


def test_a_topic_of_one_group_alone_is_refused_in_words() -> None:
    counts, group = documents([flat(), flat()])
    counts = csr_matrix(counts.toarray() * (group == 0)[:, None])
    with pytest.raises(BadInputError, match="No two of these groups"):
        own_words(counts, group, None, topics(), 0)
