"""Fit as a station to stay at: documents by share, how shares are spread, and how figures came about."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
from scipy.special import gammaln

from skeinwork.core.errors import BadInputError
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.evidence.topic import over_documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.evidence import answer
from skeinwork.work.screens.fit_working import share_working, watched_working, word_working
from skeinwork.work.screens.topic_documents import EDGES, DocumentsQuery, shares_spread, topic_documents


@pytest.fixture(scope="module")
def counted(view: View) -> np.ndarray[Any, Any]:
    """Tokens of each topic in each document, the mean over the saved samples, laid out by hand."""
    samples = view.model.samples
    assert samples
    found: np.ndarray[Any, Any] = np.mean([samples.counts(at).toarray() for at in range(len(samples))], axis=0)
    return found


def listed(view: View, topic: int, **query: Any) -> list[tuple[int, float]]:
    """Documents of a topic with what they are ordered by."""
    found = topic_documents(view, topic, DocumentsQuery(limit=200, **query))
    return [(each.document, each.score) for each in found.documents]


@pytest.mark.parametrize("topic", [0, 3])
def test_documents_are_ordered_as_is_said(view: View, counted: np.ndarray[Any, Any], topic: int) -> None:
    sizes = counted.sum(axis=1)
    share = np.divide(counted[:, topic], sizes, where=sizes > 0, out=np.zeros(len(sizes)))
    for order, score in (("share", share), ("share and length", share * np.log(np.maximum(sizes, 1)))):
        expected = sorted(
            (at for at in range(len(sizes)) if share[at] >= 0.2), key=lambda at: (-score[at].round(12), at)
        )
        found = listed(view, topic, order=order, least=0.2)
        assert [at for at, _ in found] == expected[:200]
        assert [value for _, value in found] == pytest.approx([score[at] for at in expected[:200]])
    answered = topic_documents(view, topic, DocumentsQuery(least=0.2))
    assert answered.total == int((share >= 0.2).sum())
    assert answered.of == int((sizes > 0).sum())
    page = topic_documents(view, topic, DocumentsQuery(least=0.2, offset=3, limit=2)).documents
    assert [each.document for each in page] == [at for at, _ in listed(view, topic, least=0.2)][3:5]


def test_what_comes_first_is_said_from_its_lengths(view: View, counted: np.ndarray[Any, Any]) -> None:
    found = topic_documents(view, 1, DocumentsQuery(limit=10))
    lengths = [each.counted for each in found.documents]
    assert f"have {min(lengths):.0f} to {max(lengths):.0f} counted words" in found.why
    few = topic_documents(view, 1, DocumentsQuery(least=1.0))
    assert (few.total < 10 and "Here that puts" not in few.why) or few.total >= 10
    with pytest.raises(BadInputError, match="no topic 77"):
        topic_documents(view, 77, DocumentsQuery())


def test_shares_are_spread_over_all_documents_and_over_groups(view: View, counted: np.ndarray[Any, Any]) -> None:
    found = shares_spread(view, 2, "harbour")
    sizes = counted.sum(axis=1)
    share = counted[sizes > 0] / sizes[sizes > 0, None]
    for topic, spread in enumerate(found.topics):
        assert sum(spread.counts) == spread.documents == int((sizes > 0).sum())
        assert spread.counts[0] == int((share[:, topic] < EDGES[1]).sum())
        assert sum(spread.counts[7:]) == int((share[:, topic] >= 0.5).sum())
    assert found.chosen.whole == found.topics[2]
    by_group = np.sum([group.counts for group in found.chosen.groups], axis=0)
    assert by_group.tolist() == found.topics[2].counts
    assert [group.documents for group in found.chosen.groups] == sorted(
        (group.documents for group in found.chosen.groups), reverse=True
    )
    assert shares_spread(view, 0, None).chosen.groups == []
    with pytest.raises(BadInputError):
        shares_spread(view, 0, "no such field")


def test_a_range_of_shares_is_evidence(view: View) -> None:
    spread = shares_spread(view, 0, None).topics[0]
    for at in (0, 5, len(spread.counts) - 1):
        wanted = EvidenceRequest.model_validate({"share_of": 0, "share_from": EDGES[at], "share_to": EDGES[at + 1]})
        found = answer(view, wanted, {0: "Storms"}, 0, 5)
        assert found.total == spread.counts[at]
        assert "Storms" in found.title


def test_topics_over_documents(view: View, counted: np.ndarray[Any, Any]) -> None:
    leads, means = over_documents(view)
    sizes = counted.sum(axis=1)
    known = counted[sizes > 0]
    assert leads == np.bincount(known.argmax(axis=1), minlength=known.shape[1]).tolist()
    assert means == pytest.approx((known / known.sum(axis=1, keepdims=True)).mean(axis=0).tolist())


def test_a_share_is_worked_out_from_the_documents_tokens(view: View, counted: np.ndarray[Any, Any]) -> None:
    document = listed(view, 1, least=0.3)[2][0]
    found = share_working(view, 1, document)
    lines = {line.name: line for line in found.lines}
    assert lines["share"].value == pytest.approx(counted[document, 1] / counted[document].sum())
    assert lines["share with the prior"].value == pytest.approx(float(view.model.doc_topic[document, 1]))
    parts = lines["share"].numbers.split(" / ")
    drawn = [int(each) for each in parts[0].strip("()").split(" + ")]
    assert sum(drawn) / int(parts[1]) / int(parts[2]) == pytest.approx(lines["share"].value)
    # Its words bring about as many tokens together as the samples have.
    row = view.fit_matrix.counts[[document]]
    assert 0 < sum(word.tokens for word in found.words) <= row.sum()
    assert all(word.tokens <= word.n + 1e-9 for word in found.words)
    with pytest.raises(BadInputError):
        share_working(view, 1, 10**6)


def test_a_words_weight_is_worked_out(view: View) -> None:
    column = int(np.argmax(np.asarray(view.model.topic_word)[0]))
    found = word_working(view, 0, view.fit_matrix.terms[column])
    first = found.lines[0]
    assert first.value == pytest.approx(float(view.model.topic_word[0, column]))
    above, below = (part.strip("()") for part in first.numbers.replace("\u202f", "").replace(",", "").split(") / ("))
    tokens, terms_beta = below.split(" + ")
    terms, beta = terms_beta.split(" × ")
    numerator = sum(float(each) for each in above.split(" + "))
    assert numerator / (float(tokens) + float(terms) * float(beta)) == pytest.approx(first.value, rel=0.01)
    with pytest.raises(BadInputError):
        word_working(view, 0, "zzyx")


def test_the_likelihood_is_the_sum_of_its_parts(view: View) -> None:
    found = watched_working(view)
    topics, words, whole = found.lines
    samples = view.model.samples
    assert samples
    last, alpha = samples.counts(len(samples) - 1).toarray(), samples.prior[-1]
    by_hand = 0.0
    for row in last:
        by_hand += math.lgamma(alpha.sum()) - math.lgamma(row.sum() + alpha.sum())
        by_hand += float((gammaln(row + alpha) - gammaln(alpha)).sum())
    assert topics.value == pytest.approx(by_hand)
    assert whole.value == pytest.approx(view.model.trace[-1, 1])
    assert (topics.value + words.value) / last.sum() == pytest.approx(whole.value)
    assert topics.value < 0 and words.value < 0
