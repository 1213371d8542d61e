"""What became of topics: by hand, by exhaustive search, and on planted corpora."""

from __future__ import annotations

from itertools import permutations

import numpy as np
import pytest
import scipy
from numpy.typing import NDArray

from skeinwork.core.topics.alignment import Fitted, align, moved, token_flow

Floats = NDArray[np.float64]


def corpus(words: Floats, docs: int = 400, length: int = 60, seed: int = 1) -> tuple[scipy.sparse.csr_matrix, Floats]:
    """Counts of documents of mostly one topic of some words, and their shares."""
    rng = np.random.default_rng(seed)
    shares = rng.dirichlet(np.full(len(words), 0.15), docs)
    counts = np.array([rng.multinomial(length, each @ words) for each in shares], dtype=np.int32)
    return scipy.sparse.csr_matrix(counts), shares


def placed(counts: scipy.sparse.csr_matrix, words: Floats, rounds: int = 200) -> Fitted:
    """Documents among topics with these words, by expectation and maximisation."""
    n, shares = counts.toarray(), np.full((counts.shape[0], len(words)), 1 / len(words))
    for _ in range(rounds):
        shares *= (n / np.maximum(shares @ words, 1e-300)) @ words.T
        shares /= shares.sum(axis=1, keepdims=True)
    return Fitted(shares, words)


def themes(topics: int, terms: int = 120, seed: int = 3) -> Floats:
    return np.random.default_rng(seed).dirichlet(np.full(terms, 0.05), topics) * 0.99 + 0.01 / terms


def test_the_flow_of_tokens_is_that_of_a_plain_loop() -> None:
    counts, shares = corpus(themes(3), docs=30)
    before, after = Fitted(shares, themes(3)), Fitted(np.roll(shares, 1, axis=0), themes(3, seed=5))
    expected = np.zeros((3, 3))
    for d, w in zip(*counts.nonzero(), strict=True):
        one, other = (each.doc_topic[d] * each.topic_word[:, w] for each in (before, after))
        expected += counts[d, w] * np.outer(one / one.sum(), other / other.sum())
    assert token_flow(before, after, counts) == pytest.approx(expected)
    assert expected.sum() == pytest.approx(counts.sum())


def test_a_large_corpus_is_sampled_to_about_the_same_flow() -> None:
    counts, shares = corpus(themes(4), docs=6000, length=80)
    fitted = Fitted(shares, themes(4))
    assert counts.nnz > 0
    whole = counts.sum() * np.einsum("di,dj->ij", shares, shares) / len(shares)
    flow = token_flow(fitted, fitted, counts)
    assert flow.sum() == pytest.approx(counts.sum(), rel=1e-9)
    assert np.trace(flow) > np.trace(whole)


@pytest.mark.parametrize("seed", range(5))
def test_topics_in_another_order_are_matched_as_by_exhaustive_search(seed: int) -> None:
    rng, words = np.random.default_rng(seed), themes(5, seed=seed)
    counts, _ = corpus(words, docs=150, seed=seed)
    order = rng.permutation(5)
    flow = token_flow(placed(counts, words), placed(counts, words[order]), counts)
    best = max(permutations(range(5)), key=lambda each: sum(flow[i, j] for i, j in enumerate(each)))
    found = align(flow)
    assert [(each.before, each.after) for each in found.threads] == list(enumerate(best))
    assert set(found.before) == set(found.after) == {"same"}
    assert [int(order[j]) for j in best] == [0, 1, 2, 3, 4]


@pytest.mark.parametrize("seed", range(6))
def test_planted_splits_and_merges_are_named_as_such(seed: int) -> None:
    """The first two themes stay, the next two are one before, the last two one after."""
    words = themes(6, seed=seed)
    counts, _ = corpus(words, seed=seed)
    before = np.array([words[0], words[1], (words[2] + words[3]) / 2, words[4], words[5]])
    after = np.array([words[0], words[1], words[2], words[3], (words[4] + words[5]) / 2])
    found = align(token_flow(placed(counts, before), placed(counts, after), counts))
    assert found.before == ["same", "same", "split", "merged", "merged"]
    assert found.after == ["same", "same", "split", "split", "merged"]
    assert sorted((each.before, each.after) for each in found.threads) == [
        (0, 0), (1, 1), (2, 2), (2, 3), (3, 4), (4, 4)
    ]  # fmt: skip


def test_a_topic_without_most_of_any_is_gone_or_new() -> None:
    found = align(np.array([[100.0, 0, 0], [30, 20, 20], [30, 20, 20], [30, 20, 20]]))
    assert found.before == ["same", "gone", "gone", "gone"]
    assert found.after == ["same", "new", "new"]


def test_fits_of_nothing_in_common_share_no_topics() -> None:
    rng = np.random.default_rng(2)
    counts, _ = corpus(themes(6), docs=200)
    one, other = (Fitted(rng.dirichlet(np.ones(6), 200), rng.dirichlet(np.ones(120), 6)) for _ in range(2))
    found = align(token_flow(one, other, counts))
    assert set(found.before) == {"gone"} and set(found.after) == {"new"} and not found.threads


def test_documents_that_moved() -> None:
    flow = np.array([[50.0, 0, 1], [1, 20, 30], [0, 0, 0.0]])
    found = align(flow)
    before = np.array([[1.0, 0, 0], [0, 1, 0], [0.5, 0.5, 0], [0, 0, 0], [1, 0, 0]])
    after = np.array([[1.0, 0, 0], [0, 0.4, 0.6], [0, 0.5, 0.5], [0, 0, 0], [0, 0, 0]])
    assert moved(found, before, after).tolist() == [0.0, 0.0, 0.5, 0.0, 0.0]
