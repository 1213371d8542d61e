"""Whether words stand among the same neighbours: on texts whose truth is known."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.neighbours import Likeness, likeness


def corpus(seed: int) -> tuple[NDArray[np.int32], NDArray[np.int64]]:
    """Documents of 20 words: 0 and 1 stand in the same ones, 2 among others, 3 is rare.

    Words 10 to 59 make up the one kind of document, 60 to 109 the other.
    """
    random = np.random.default_rng(seed)
    documents = []
    for number in range(400):
        kind = number % 2
        words = random.integers(10 + 50 * kind, 60 + 50 * kind, 20)
        words[10] = random.integers(0, 2) if kind == 0 else 2
        documents.append(words)
    documents[0][10] = 3
    flat = np.concatenate(documents).astype(np.int32)
    return flat, np.arange(0, len(flat) + 1, 20, dtype=np.int64)


def test_words_dealt_at_random_are_alike_and_words_of_other_documents_are_not() -> None:
    same, other = list[float](), list[float]()
    for seed in range(12):
        ids, pointer = corpus(seed)
        one, two = likeness(ids, pointer, [(0, 1), (0, 2)], 110, seed=seed)
        assert isinstance(one, Likeness) and isinstance(two, Likeness)
        assert one.low <= one.alike <= one.high
        same.append(one.alike)
        other.append(two.alike)
        assert all(10 <= word < 60 for word in two.first) and all(word >= 60 for word in two.second)
    assert abs(np.mean(same) - 1) < 0.03 and max(other) < 0.05


def test_removed_tokens_are_stepped_over_and_too_little_is_not_judged() -> None:
    ids, pointer = corpus(1)
    gaps = np.full(2 * len(ids), -1, dtype=np.int32)
    gaps[::2] = ids
    assert likeness(gaps, 2 * pointer, [(0, 2)], 110) == likeness(ids, pointer, [(0, 2)], 110)
    assert likeness(ids, pointer, [(0, 3)], 110) == [None]
    assert likeness(ids, pointer, [], 110) == []
