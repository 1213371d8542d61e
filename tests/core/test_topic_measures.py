"""Coherence, words of topics, matching and the choice of a count."""

from __future__ import annotations

import itertools
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.stats import rankdata

from skeinwork.core.topics import choose, matching, words
from skeinwork.core.topics.measures import coherence
from skeinwork.core.topics.measures.exclusivity import exclusivity
from skeinwork.core.topics.model import TopicModel
from tests.conftest import Prepared


def brute_windows(docs: list[list[int]], n_words: int, window: int) -> tuple[NDArray[np.int64], int]:
    joint, total = np.zeros((n_words, n_words), dtype=np.int64), 0
    for doc in docs:
        for at in range(max(1, len(doc) - window + 1) if doc else 0):
            present = {word for word in doc[at : at + window] if word >= 0}
            total += 1
            for a, b in itertools.product(present, present):
                joint[a, b] += 1
    return joint, total


@settings(max_examples=200, deadline=None)
@given(st.lists(st.lists(st.integers(-1, 4), max_size=15), max_size=5), st.integers(1, 7))
def test_windows_are_counted_as_by_hand(docs: list[list[int]], window: int) -> None:
    ids = np.array([i for doc in docs for i in doc], dtype=np.int32)
    doc_ptr = np.concatenate([[0], np.cumsum([len(doc) for doc in docs])]).astype(np.int64)
    joint, total = coherence.count_windows(ids, doc_ptr, 5, window)
    expected, windows = brute_windows(docs, 5, window)
    assert np.array_equal(joint, expected)
    assert total == windows


def test_a_window_full_of_watched_words_stays_within_its_bounds() -> None:
    docs = [list(range(5)) * 4, [4, 3, 2, 1, 0]]
    ids = np.concatenate(docs).astype(np.int32)
    joint, total = coherence.count_windows(ids, np.array([0, 20, 25]), 5, 3)
    expected, windows = brute_windows(docs, 5, 3)
    assert np.array_equal(joint, expected) and total == windows


def test_npmi_is_one_for_words_that_always_meet_and_minus_one_for_words_that_never_do() -> None:
    joint = np.array([[4, 4, 0, 2], [4, 4, 0, 2], [0, 0, 4, 2], [2, 2, 2, 4]])
    scores = coherence.npmi(joint, 8)
    assert scores[0, 1] == pytest.approx(1)
    assert scores[0, 2] == -1
    assert scores[0, 3] == pytest.approx(0, abs=1e-10)  # 2/8 = 4/8 * 4/8: independent


def test_npmi_has_its_published_limits_however_rare_or_common_the_words() -> None:
    assert (coherence.npmi(np.array([[1, 0], [0, 1]]), 10**9)[0, 1]) == -1
    assert coherence.npmi(np.array([[1, 1], [1, 1]]), 10**9)[0, 1] == pytest.approx(1)
    assert coherence.npmi(np.array([[9, 9], [9, 9]]), 9)[0, 1] == 1
    assert coherence.npmi(np.array([[0, 0], [0, 5]]), 9)[0, 1] == -1


def test_topic_coherence_is_the_mean_over_pairs(demo: Prepared) -> None:
    top = np.array([[0, 5, 9], [2, 5, 7]])
    ids = np.random.default_rng(3).integers(-1, 12, 400).astype(np.int32)
    doc_ptr = np.array([0, 150, 400])
    found = coherence.topic_coherence(top, ids, doc_ptr, 12)
    docs = [ids[:150].tolist(), ids[150:].tolist()]
    joint, total = brute_windows(docs, 12, 10)
    for row, value in zip(top, found, strict=True):
        pairs = []
        for a, b in itertools.combinations(row, 2):
            p = joint[a, b] / total
            pairs.append(math.log(p * total * total / joint[a, a] / joint[b, b]) / -math.log(p))
        assert value == pytest.approx(np.mean(pairs))


def test_umass_by_hand() -> None:
    counts = csr_matrix(np.array([[1, 1, 0], [2, 1, 0], [1, 0, 3], [0, 0, 1]]))
    # D(0)=3, D(1)=2, D(2)=2; D(0,1)=2, D(0,2)=1, D(1,2)=0
    expected = np.mean([math.log(3 / 3), math.log(2 / 3), math.log(1 / 2)])
    assert coherence.umass(np.array([[0, 1, 2]]), counts)[0] == pytest.approx(expected)
    absent = np.hstack([counts.toarray(), np.zeros((4, 1), dtype=np.int64)])
    scores = coherence.umass(np.array([[3, 0, 1], [0, 1, 3], [0, 1, 2]]), csr_matrix(absent))
    assert scores[0] == pytest.approx(np.mean([math.log(1 / 4), math.log(1 / 4), math.log(3 / 3)]))
    assert scores[0] < scores[1] < scores[2]


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


def test_the_choice_is_the_steadiest_within_one_standard_error() -> None:
    coherent = {
        8: [[0.10, 0.12]],
        12: [[0.16, 0.24], [0.18, 0.26]],
        14: [[0.18, 0.26], [0.20, 0.28]],
        20: [[0.15, 0.14]],
    }
    # Over topics var = 0.0032 each, so 0.0016 for a mean of two; over seeds var = 0.0002, so 0.0001.
    assert choose._standard_error(coherent[14]) == pytest.approx(math.sqrt(0.0016 + 0.0001))
    found = choose.suggest(coherent, {8: [0.7], 12: [0.95], 14: [0.8]})
    assert found is not None
    assert (found.topics, found.candidates) == (12, [12, 14])
    assert "14" in found.reason and "0.95" in found.reason
    assert choose.suggest({}, {}) is None
    one_seed = choose.suggest({4: [[0.1, 0.1]], 6: [[0.3, 0.3]], 8: [[0.1, 0.1]]}, {})
    assert one_seed is not None and one_seed.topics == 6 and "one seed" in one_seed.reason


def test_the_best_at_the_edge_of_what_was_tried_is_no_optimum() -> None:
    rising = {k: [[0.01 * k, 0.01 * k + 0.001]] for k in (4, 8, 12)}
    found = choose.suggest(rising, {})
    assert found is not None and found.topics is None and not found.candidates
    assert found.widen == [15, 19, 24] and "no optimum is in sight" in found.reason
    falling = choose.suggest({k: [[1 / k, 1 / k]] for k in (6, 8, 12)}, {})
    assert falling is not None and falling.topics is None and falling.widen == [3, 4, 5]
    level = choose.suggest({4: [[0.1, 0.12]], 12: [[0.3, 0.32]], 22: [[0.31, 0.32]]}, {12: [1.0], 22: [0.7]})
    assert level is not None and (level.topics, level.candidates) == (12, [12, 22])
    unfilled = choose.suggest(
        {4: [[0.1, 0.1]], 12: [[0.3, 0.32]], 18: [[0.31, 0.32]], 22: [[0.1, 0.1]]},
        {12: [0.9], 18: [1.0]},
        empty={18: [5, 6], 12: [0]},
    )
    assert unfilled is not None and unfilled.topics == 12
    assert "stayed empty: 5.5 at 18." in unfilled.reason
    all_bare = choose.suggest(
        {k: [[0.5, 0.5]] for k in (20, 30, 42)},
        {k: [0.9] for k in (20, 30, 42)},
        {},
        {20: [2, 1], 30: [1, 1], 42: [4, 5]},
    )
    assert all_bare is not None and all_bare.topics == 30
    assert "stayed empty: 1.5 at 20, 1 at 30, 4.5 at 42." in all_bare.reason
    from_two = choose.suggest({k: [[1 / k, 1 / k]] for k in (2, 8, 12)}, {})
    assert from_two is not None and from_two.topics == 2


def test_nothing_is_suggested_where_no_fit_beats_one_topic() -> None:
    coherent = {k: [[0.1, 0.2]] for k in (2, 4, 8)}
    found = choose.suggest(coherent, {}, {k: [(-0.02, -0.04)] for k in coherent})
    assert found is not None and found.topics is None and "−0.020 nats" in found.reason
    some = choose.suggest(coherent, {}, {2: [(-0.02, -0.04)], 4: [(0.05, 0.01)]})
    assert some is not None and some.topics is not None


def test_a_steadier_count_outside_the_candidates_is_named() -> None:
    found = choose.suggest({4: [[0.1, 0.1]] * 2, 9: [[0.3, 0.3]] * 2, 12: [[0.1, 0.1]]}, {4: [0.9], 9: [0.6]})
    assert found is not None and found.topics == 9
    assert "Seeds agree best at 4" in found.reason
