"""Topics taken together as one, and families that stand out."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.topics.merging import FIRST_OF, alike, families, members_of, merged_model, trouble
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.core.topics.model import TopicModel
from tests.conftest import Prepared


@given(st.integers(2, 30), st.data())
def test_every_topic_is_in_one_group(topics: int, data: st.DataObject) -> None:
    order = data.draw(st.permutations(range(topics)))
    cut = data.draw(st.integers(2, topics))
    merged = [order[:cut]] if cut < topics else []
    found = members_of(merged, topics)
    assert sorted(each for group in found for each in group) == list(range(topics))
    assert [group[0] for group in found] == sorted(group[0] for group in found)


def test_a_merged_topic_has_the_sum_of_shares_counts_and_priors(demo: Prepared, model: TopicModel) -> None:
    assert model.samples is not None
    tokens = model.samples.topic_tokens
    merged, members = merged_model(model, [[4, 9], [0, 11, 2]], tokens, ["alpha"])
    assert merged.samples is not None and len(members) == len(merged.topic_word) == 9
    assert sorted(each for group in members for each in group) == list(range(12))
    assert merged.by_topic[FIRST_OF].tolist() == [group[0] for group in members]
    for at, group in enumerate(members):
        assert merged.doc_topic[:, at] == pytest.approx(model.doc_topic[:, group].sum(axis=1))
        assert merged.by_topic["alpha"][at] == pytest.approx(model.by_topic["alpha"][group].sum())
        assert merged.samples.topic_tokens[at] == pytest.approx(tokens[group].sum())
        words = (tokens[group, None] * model.topic_word[group]).sum(axis=0) / tokens[group].sum()
        assert merged.topic_word[at] == pytest.approx(words)
    assert (np.diff(merged.samples.topic_tokens) <= 0).all()
    words = np.asarray(demo.matrix.counts.sum(axis=1)).ravel()
    merged.check(words, demo.matrix.counts.shape[1])
    # Prevalence of the merged topic is that of its topics together, with an interval of its own.
    cells = np.arange(len(words)) % 3
    both = prevalence(unit_totals(merged.drawn, words.astype(float), cells, 3))
    apart = prevalence(unit_totals(model.drawn, words.astype(float), cells, 3))
    assert both.mean[:, 0] == pytest.approx(apart.mean[:, members[0]].sum(axis=1))
    assert (both.low[:, 0] < both.mean[:, 0]).all()


def test_groups_that_are_none_are_told() -> None:
    for merged in (((1,),), ((0, 1), (1, 2)), ((0, 12),), ((0, 0),), (tuple(range(12)),)):
        assert trouble(merged, 12)
    assert trouble((), 12) == trouble(((0, 3), (5, 6, 7)), 12) == ""
    assert LdaSettings(topics=12, merged=((0, 3), (5, 6, 7))).left == 9


def test_families_are_topics_that_stand_out_as_alike() -> None:
    random = np.random.default_rng(1)
    apart = random.dirichlet(np.full(300, 0.05), 12)
    assert families(apart) == []
    common = random.dirichlet(np.full(300, 0.05), 2)
    planted = apart.copy()
    planted[[2, 5, 8]] = 0.5 * apart[[2, 5, 8]] + 0.5 * common[0]
    planted[[1, 10]] = 0.5 * apart[[1, 10]] + 0.5 * common[1]
    assert families(planted) == [[2, 5, 8], [1, 10]]
    assert families(planted, skip=[10]) == [[2, 5, 8]]
    assert families(planted[:2]) == []
    near = alike(planted)
    assert (near == near.T).all() and near[2, 5] > near[2, 3] and near[4, 4] == 1.0
