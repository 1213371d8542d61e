"""Streams: what becomes of topics from one period to the next, by flows of tokens that are given."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from hypothesis.extra.numpy import arrays
from numpy.typing import NDArray

from skeinwork.core.topics.streams import LEAST_LEFT, Link

Array = NDArray[np.float64]
NAMES = {"same": "same", "split": "merged", "merged": "split", "ended": "born", "unclear": "unclear"}


def link(before: Array, after: Array, seeds: int = 1) -> Link:
    """The same flows for every seed, whose models are alike."""
    again = [np.tile(np.eye(size) * 900.0, (seeds - 1, 1, 1)) for size in before.shape]
    return Link(np.tile(before, (seeds, 1, 1)), np.tile(after, (seeds, 1, 1)), *again)


def test_each_fate_and_origin_by_hand() -> None:
    # Gulls go on; engines split; nets and dues merge; ice ends, and paint is born.
    before = np.array(
        [[900.0, 0, 0, 0, 0], [0, 400, 400, 0, 0], [0, 0, 0, 500, 0], [0, 0, 0, 500, 0], [90, 90, 90, 90, 0]]
    )
    after = np.array(
        [[900.0, 0, 0, 0, 200], [0, 400, 400, 0, 200], [0, 0, 0, 500, 200], [0, 0, 0, 500, 100], [5, 5, 5, 5, 0]]
    )
    found = link(before, after, seeds=3)
    assert found.fates == ["same", "split", "merged", "merged", "ended"]
    assert found.origins == ["same", "split", "split", "merged", "born"]
    assert found.held_fates.tolist() == [1.0] * 5 and found.held_origins.tolist() == [1.0] * 5
    assert [each.all() for each in found.shown] == [True, True]


def test_a_quarter_of_its_share_is_left_of_what_has_ended() -> None:
    for left, fate in ((LEAST_LEFT - 0.01, "ended"), (LEAST_LEFT + 0.01, "same")):
        share = 0.2 * left
        after = np.diag([1000 * share, 1000 * (1 - share)])
        assert link(np.diag([200.0, 800.0]), after).fates[0] == fate


def test_shares_grow_by_their_ratio_whatever_the_sizes_of_periods() -> None:
    found = link(np.diag([100.0, 300.0]), np.diag([2000.0, 2000.0]))
    assert np.exp(found.grew) == pytest.approx([2.0, 2.0 / 3.0])


def test_a_seed_that_says_otherwise_is_counted() -> None:
    same, mixed = np.diag([900.0, 900.0, 900.0]), np.full((3, 3), 300.0)
    flows = np.array([same, same, mixed, same])
    alike = np.tile(np.eye(3), (3, 1, 1))
    found = Link(flows, flows, alike, alike)
    assert found.held_fates.tolist() == [0.75] * 3
    assert found.apart.held_threads.tolist() == [0.75] * 3
    # The second seed has the same topics in another order, the third finds none again, the fourth numbers them as here.
    swapped = np.array([np.eye(3)[::-1], np.ones((3, 3)), np.eye(3)])
    turned = np.array([same, same[::-1], same, same])
    assert Link(turned, turned, swapped, alike).held_fates.tolist() == [0.75] * 3


FLOWS = arrays(np.float64, (2, 4, 3), elements=st.integers(0, 900).map(float))


@given(FLOWS)
def test_time_turned_round_turns_births_into_ends_and_splits_into_merges(flows: Array) -> None:
    there, back = link(flows[0], flows[1]), link(flows[1].T, flows[0].T)
    assert there.born[0].tolist() == back.ended[0].tolist() and there.ended[0].tolist() == back.born[0].tolist()
    ends = {(each.before, each.after) for each in there.apart.alignment.threads}
    assert ends == {(each.after, each.before) for each in back.apart.alignment.threads}


@given(FLOWS, st.floats(0.01, 100.0))
def test_nothing_hangs_on_how_many_words_a_period_has(flows: Array, times: float) -> None:
    found, larger = link(flows[0], flows[1]), link(flows[0] * times, flows[1] * times)
    assert found.fates == larger.fates and found.origins == larger.origins
    assert larger.grew == pytest.approx(found.grew, abs=1e-6)


def test_two_models_without_topics_have_no_threads() -> None:
    found = Link(np.zeros((1, 0, 3)), np.zeros((1, 0, 3)), np.zeros((0, 0, 0)), np.zeros((0, 3, 3)))
    assert found.fates == [] and found.apart.alignment.threads == [] and len(found.grew) == 0
    assert len(found.held_fates) == 0 and len(found.held_origins) == 3 and len(found.apart.held_threads) == 0


def test_topics_whose_tokens_go_everywhere_have_no_threads() -> None:
    found = link(np.full((3, 3), 300.0), np.full((3, 3), 300.0), seeds=2)
    assert found.fates == ["unclear"] * 3 and found.held_fates.tolist() == [1.0] * 3
    assert len(found.apart.held_threads) == 0
