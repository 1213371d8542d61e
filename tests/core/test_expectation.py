"""Starts by expected counts: shares by the formula, draws by the shares, planted topics at once."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import linear_sum_assignment
from scipy.sparse import csr_matrix

from skeinwork.core.topics.expectation import drawn, share_out, shares_of_words, wide
from skeinwork.core.topics.held_out import tokens_of
from skeinwork.core.topics.starts import LikelyStart

NONE = csr_matrix((0, 40), dtype=np.int32)


def parts(topics: int, seed: int, docs: int = 7, terms: int = 11) -> tuple[Any, Any, Any, Any]:
    rng = np.random.default_rng(seed)
    counts = csr_matrix(rng.poisson(0.6, (docs, terms)).astype(np.int32))
    width = wide(topics)
    held = (np.arange(width) < topics).astype(np.float32)
    topic_word = shares_of_words(rng.random((terms, width)).astype(np.float32) * held)
    in_doc = rng.random((docs, width)).astype(np.float32) * held
    return counts, topic_word, in_doc, (0.3 * held).astype(np.float32)


@settings(deadline=None)
@given(st.integers(1, 40), st.integers(0, 10**6))
def test_tokens_are_shared_out_by_the_formula(topics: int, seed: int) -> None:
    counts, topic_word, in_doc, alpha = parts(topics, seed)
    dense, weight = counts.toarray(), (in_doc + alpha)[:, None, :] * topic_word[None, :, :]
    each = dense[:, :, None] * weight / weight.sum(axis=2, keepdims=True)
    log_p = (dense * np.log(weight.sum(axis=2))).sum()
    word_topic, found = share_out(counts, topic_word, in_doc, alpha)
    assert np.allclose(word_topic, each.sum(axis=0), rtol=1e-4, atol=1e-5)
    assert np.allclose(in_doc, each.sum(axis=1), rtol=1e-4, atol=1e-5)
    assert found == pytest.approx(log_p, rel=1e-4)
    assert word_topic.sum() == pytest.approx(dense.sum(), rel=1e-4)
    assert not word_topic[:, topics:].any()


def test_topics_are_drawn_as_often_as_their_shares_say() -> None:
    counts, topic_word, in_doc, alpha = parts(5, 3, docs=1, terms=1)
    counts = csr_matrix(np.array([[40_000]], dtype=np.int32))
    weight = ((in_doc + alpha) * topic_word)[0, :5]
    z = drawn(counts, topic_word, in_doc, alpha, np.random.default_rng(1))
    assert np.allclose(np.bincount(z, minlength=5) / len(z), weight / weight.sum(), atol=0.01)


def planted(seed: int, docs: int = 300) -> tuple[csr_matrix, np.ndarray]:
    """Documents mostly of one of four topics, each of ten words of its own."""
    rng = np.random.default_rng(seed)
    own = np.kron(np.eye(4), np.full(10, 0.1))
    shares = rng.dirichlet(np.full(4, 0.2), docs)
    return csr_matrix(np.array([rng.multinomial(30, row @ own) for row in shares], dtype=np.int32)), own


@pytest.mark.parametrize("seed", [1, 2, 3])
def test_planted_topics_are_found_before_any_sampling(seed: int) -> None:
    counts, own = planted(seed)
    z = LikelyStart(counts, 4, (0.25, 0.01), NONE, np.random.default_rng(seed)).topics()
    words, _ = tokens_of(counts)
    table = np.zeros((4, 40))
    np.add.at(table, (z, words), 1)
    like = (table / table.sum(axis=1, keepdims=True)) @ (own > 0).T
    rows, columns = linear_sum_assignment(-like)
    assert like[rows, columns].min() > 0.9


def test_words_of_a_topic_start_in_it() -> None:
    counts, _ = planted(5)
    given_words = np.zeros((2, 40), dtype=np.int32)
    given_words[0, 30:35] = given_words[1, 0:5] = 50
    start = LikelyStart(counts, 4, (0.25, 0.01), csr_matrix(given_words), np.random.default_rng(1))
    words, z = tokens_of(counts)[0], start.topics()
    assert (z[words >= 30] == 0).mean() > 0.9
    assert (z[words < 10] == 1).mean() > 0.9


def test_a_start_is_the_same_over_one_part_and_many(monkeypatch: pytest.MonkeyPatch) -> None:
    counts, _ = planted(6)
    whole = LikelyStart(counts, 4, (0.25, 0.01), NONE, np.random.default_rng(1)).topics()
    monkeypatch.setattr("skeinwork.core.topics.starts._AT_A_TIME", 37)
    assert np.array_equal(whole, LikelyStart(counts, 4, (0.25, 0.01), NONE, np.random.default_rng(1)).topics())
