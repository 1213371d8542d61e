"""Statements tested: topics found again by their documents, words by their tokens, orders by their least sure step."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import scipy
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.selections import Selection
from skeinwork.core.prevalence.statements import Outcome, Pinned, Statement, topic_outcome, word_outcome
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.relate.significance import significance, unit_counts
from skeinwork.core.topics.same_documents import found_in
from tests.core.test_regression import corpus_of, planted

HARBOURS = ("Tarnholt", "Ossingby", "Quellan")
BY = Breakdown(group="harbour")
FEW = settings(max_examples=20, deadline=None)


def saying(*values: str, less: bool = False, by: Breakdown = BY) -> Statement:
    return Statement(by=by, sides=tuple(Selection(value=each) for each in values), less=less)


@given(st.integers(0, 10_000), st.integers(2, 6))
def test_a_topic_is_found_again_wherever_it_stands(seed: int, topics: int) -> None:
    rng = np.random.default_rng(seed)
    shares = rng.dirichlet(np.full(topics, 0.3), 80)
    order = rng.permutation(topics)
    topic = int(rng.integers(topics))
    again = found_in(topic, shares, shares[:, order])
    assert order[again.topic] == topic and again.likeness == 1.0 and again.own


@given(st.integers(0, 10_000))
def test_likeness_is_the_correlation_of_shares_over_documents(seed: int) -> None:
    rng = np.random.default_rng(seed)
    one, other = rng.dirichlet(np.ones(4), 60), rng.dirichlet(np.ones(3), 60)
    one[:5] = 0.0  # without words in one of the fits: not looked at
    again = found_in(2, one, other)
    against = [np.corrcoef(one[5:, 2], other[5:, each])[0, 1] for each in range(3)]
    assert again.likeness == pytest.approx(max(against), abs=1e-6) and again.topic == int(np.argmax(against))
    assert not again.own or again.likeness >= 0.5


def test_a_topic_that_went_into_a_larger_one_is_not_found_again() -> None:
    rng = np.random.default_rng(4)
    shares = rng.dirichlet([2.0, 0.3, 1.0, 1.0], 400)
    merged = np.column_stack([shares[:, 0] + shares[:, 1], shares[:, 2:]])
    assert found_in(0, shares, merged).own and found_in(0, shares, merged).topic == 0
    small = found_in(1, shares, merged)
    assert not small.own and (small.back == -1 or small.likeness < 0.5)


def test_without_documents_in_common_nothing_is_found() -> None:
    again = found_in(0, np.zeros((4, 2)), np.ones((4, 3)) / 3)
    assert again.likeness == 0.0 and not again.own


def test_figures_are_those_of_the_contrast() -> None:
    corpus, samples, tokens = planted(seed=2)
    group = np.array([HARBOURS.index(str(each)) for each in values_of(corpus, "harbour")])
    found = topic_outcome(saying("Quellan"), 0, samples, corpus, tokens, "gulls", 1.0)
    totals = unit_totals(samples, tokens, group, 3, None)
    reference = differences(totals, np.where(np.arange(3) == 2, 1, -1).astype(np.int8)[None])
    assert found.estimate == pytest.approx(reference.difference[0, 0])
    assert (found.low, found.high, found.p) == pytest.approx(
        (reference.low[0, 0], reference.high[0, 0], reference.p[0, 0])
    )
    assert found.adjusted == pytest.approx(reference.adjusted[0, 0]) and found.family == 4
    assert found.verdict == ("holds" if reference.adjusted[0, 0] < 0.05 else "leans")
    assert found.units == int((group == 2).sum())


def values_of(corpus: Any, field: str) -> list[str]:
    column = corpus.column(field)
    return [column.values[each] for each in column.codes.tolist()]


@FEW
@given(st.integers(0, 300))
def test_less_is_more_turned_round(seed: int) -> None:
    corpus, samples, tokens = planted(n=120, seed=seed)
    more, less = (
        topic_outcome(saying("Ossingby", less=each), 1, samples, corpus, tokens, "", 1.0) for each in (False, True)
    )
    assert more.estimate is not None and less.estimate == -more.estimate
    assert (less.low, less.high) == (-(more.high or 0), -(more.low or 0)) and less.p == more.p
    turned = {"holds": "reversed", "leans": "turns", "turns": "leans", "reversed": "holds"}
    assert less.verdict == turned[more.verdict]


@FEW
@given(st.integers(0, 100))
def test_an_order_says_no_more_than_each_of_its_steps(seed: int) -> None:
    corpus, samples, tokens = planted(n=150, seed=seed)
    order = topic_outcome(saying(*HARBOURS), 0, samples, corpus, tokens, "", 1.0)
    steps = [topic_outcome(saying(*HARBOURS[at : at + 2]), 0, samples, corpus, tokens, "", 1.0) for at in range(2)]
    ranks = ["holds", "leans", "turns", "reversed"]
    assert ranks.index(order.verdict) == max(ranks.index(each.verdict) for each in steps)
    assert order.estimate == steps[order.pair].estimate and order.p == steps[order.pair].p


def test_too_few_units_tell_nothing() -> None:
    corpus, samples, tokens = planted(n=200, authors=7)
    by = Breakdown(group="writer", unit="writer")
    found = topic_outcome(saying("w1", by=by), 0, samples, corpus, tokens, "", 1.0)
    assert (found.verdict, found.units, found.p) == ("untold", 1, None)


@FEW
@given(st.integers(0, 200), st.booleans())
def test_a_words_figures_are_those_of_the_groups_words(seed: int, sampled: bool) -> None:
    corpus, _, _ = planted(n=100, seed=seed, authors=30)
    rng = np.random.default_rng(seed)
    counts = scipy.sparse.csr_matrix(rng.poisson([0.5, 1.0, 2.0, 4.0], (100, 4)))
    by = Breakdown(group="harbour", unit="writer" if sampled else None)
    found = word_outcome(saying("Tarnholt", by=by), 1, counts, corpus, "gull", 1.0)
    names = list(corpus.column("harbour").values)
    unit = corpus.column("writer").codes.astype(np.int64) if sampled else None
    tested = significance(unit_counts(counts, corpus.column("harbour").codes.astype(np.int64), unit))
    assert found.p == pytest.approx(tested.p[names.index("Tarnholt"), 1], nan_ok=True)
    if found.estimate is not None:
        mine = np.array(values_of(corpus, "harbour")) == "Tarnholt"
        dense = counts.toarray()
        rates = [dense[each, 1].sum() / dense[each].sum() for each in (mine, ~mine)]
        assert found.estimate == pytest.approx(np.log2(rates[0] / rates[1]))


def test_documents_without_a_value_are_on_neither_side() -> None:
    corpus = corpus_of(np.zeros(40, dtype=np.int64), quay=["A"] * 15 + ["B"] * 15 + [None] * 10)
    counts = np.stack([1 + np.arange(40) % 3, np.full(40, 4)], axis=1)
    counts[30:, 0] = 500
    found = word_outcome(
        saying("A", by=Breakdown(group="quay")), 0, scipy.sparse.csr_matrix(counts), corpus, "gull", 1.0
    )
    assert found.estimate == 0.0 and found.verdict == "turns" and found.units == 15 and (found.p or 0) > 0.9


@pytest.mark.parametrize(
    ("outcome", "verdict"),
    [
        ({"place": -1}, "lost"),
        ({"place": 2, "why": "no document is left"}, "lost"),
        ({"place": 2}, "untold"),
        ({"place": 2, "estimate": 0.1, "p": 0.04, "adjusted": 0.2}, "leans"),
        ({"place": 2, "estimate": -0.1, "p": 0.2, "adjusted": 0.2}, "turns"),
    ],
)
def test_every_outcome_has_its_verdict(outcome: dict[str, Any], verdict: str) -> None:
    assert Outcome.model_validate(outcome).verdict == verdict


@pytest.mark.parametrize(
    "wrong",
    [
        {"sides": []},
        {"sides": [{"value": "A"}, {"value": "A"}]},
        {"sides": [{"value": "A"}, {"value": "B"}], "less": True},
        {"sides": [{"value": str(each)} for each in range(13)]},
        {"by": {}},
        {"word": "gull"},
        {"topic": None},
    ],
)
def test_what_nobody_could_say_is_no_statement(wrong: dict[str, Any]) -> None:
    said = {"by": {"group": "quay"}, "sides": [{"value": "A"}], "topic": 0}
    assert Pinned.model_validate(said).said("of it") == "more of it in quay A than in all others"
    with pytest.raises(ValidationError):
        Pinned.model_validate({**said, **wrong})
