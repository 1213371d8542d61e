"""Models apart: what became of topics over seeds, and documents dealt out over parts."""

from __future__ import annotations

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

from skeinwork.core.topics.part_models import Apart, dealt_parts

SAME = np.diag([900.0, 800.0, 700.0])
# The first topic's words in two topics of the part, the other two's in one.
PARTED = np.array([[450.0, 450, 0], [0, 0, 800], [0, 0, 700]])


def test_what_the_first_seed_found_is_held_by_those_that_found_it_too() -> None:
    apart = Apart(np.array([PARTED, PARTED, SAME, PARTED]), np.array([np.eye(3), SAME, np.eye(3)]))
    assert apart.alignment.before == ["split", "merged", "merged"]
    assert apart.held_before.tolist() == [0.75, 0.75, 0.75]
    assert apart.became("split").tolist() == [True, False, False]
    assert apart.became("merged", held=0.8).sum() == 0


def test_own_topics_are_found_again_by_the_tokens_that_they_share() -> None:
    # The second model has the same topics in another order, the third none of them.
    order = np.eye(3)[[2, 0, 1]]
    apart = Apart(np.array([SAME, SAME @ order, SAME]), np.array([order, np.ones((3, 3))]))
    assert apart.held_after.tolist() == [2 / 3] * 3


def test_a_topic_of_few_words_in_the_part_says_nothing() -> None:
    few = SAME.copy()
    few[2, 2] = 150.0
    assert Apart(few[None], np.zeros((0, 3, 3))).shown.tolist() == [True, True, False]


@given(st.lists(st.tuples(st.integers(-1, 3), st.integers(-1, 6)), min_size=1, max_size=60), st.integers(0, 99))
def test_dealing_keeps_sizes_and_units_whole_but_at_the_ends(rows: list[tuple[int, int]], seed: int) -> None:
    part, unit = (np.array(each, dtype=np.int64) for each in zip(*rows, strict=True))
    dealt: NDArray[np.int64] = dealt_parts(part, unit, seed)
    assert np.bincount(dealt + 1, minlength=5).tolist() == np.bincount(part + 1, minlength=5).tolist()
    assert ((dealt < 0) == (part < 0)).all()
    known = part >= 0
    pieces = sum(len(np.unique(dealt[known & (unit == each)])) - 1 for each in np.unique(unit[known & (unit >= 0)]))
    assert pieces <= len(np.unique(part[known])) - 1 if known.any() else pieces == 0
