"""Advice on settings of LDA: what it measures is there, and what it suggests holds what was planted."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.sparse import csr_matrix

from skeinwork.core.errors import BadInputError
from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.core.topics.methods.lda_advice import Advisor, effective_number

TERMS = 200


def planted(docs: int = 500, topics: int = 8, whole: float = 0.8) -> csr_matrix:
    rng = np.random.default_rng(2)
    words = rng.dirichlet(np.full(TERMS, 0.05), topics)
    shares = rng.dirichlet(np.full(topics, whole / topics), docs)
    return csr_matrix(np.array([rng.multinomial(40, row @ words) for row in shares], dtype=np.int32))


def test_effective_number_of_even_rows_is_their_length() -> None:
    assert effective_number(np.full((2, 5), 0.2), np.ones(2)) == pytest.approx(5)
    both = np.array([[1.0, 0, 0, 0], [0.25, 0.25, 0.25, 0.25]])
    assert effective_number(both, np.ones(2)) == pytest.approx(2) and effective_number(
        both, np.array([1.0, 0])
    ) == pytest.approx(1)


def test_what_was_planted_lies_in_the_safe_ranges() -> None:
    counts = planted()
    found = LDA.advice(counts, LdaSettings(topics=8))
    assert list(found) == ["topics", "iterations", "alpha", "beta", "start", "sampler"]
    topics, alpha, beta = found["topics"], found["alpha"], found["beta"]
    assert topics.low is not None and topics.high is not None and topics.low <= 8 <= topics.high
    assert topics.value == topics.low and "a sample of" in topics.why
    assert alpha.value is None and alpha.low is not None and alpha.high is not None and alpha.low < 0.1 < alpha.high
    assert beta.low is not None and beta.high is not None and beta.low < 0.05 < beta.high
    assert "dense" in found["sampler"].why and found["start"].value == "gathered"
    again = LDA.advice(counts, LdaSettings(topics=8))
    assert [found[name] == again[name] for name in ("topics", "alpha", "beta", "start")] == [True] * 4


def test_more_of_a_prior_spreads_documents_and_topics() -> None:
    advisor = Advisor(planted(), LdaSettings(topics=8), {})
    for advice in (advisor.alpha(), advisor.beta()):
        held = [
            float(text.split(" over ")[-1].split(" holds ")[-1].split()[0]) for text in (advice.little, advice.much)
        ]
        assert held[0] < held[1]


def test_fits_that_were_still_moving_ask_for_twice_the_iterations() -> None:
    counts = planted(60)
    assert Advisor(counts, LdaSettings(topics=3), {}).iterations().value == 400
    more = Advisor(counts, LdaSettings(topics=3), {}, unsettled=900).iterations()
    assert more.value == 1800 and "900" in more.why
    assert more.low is not None and 1 <= more.low <= 1800


def test_seed_words_held_by_far_too_many_tokens_lose_their_topic() -> None:
    """Their topic then holds nothing but them, and documents without them leave it."""
    counts = planted()
    uses = np.asarray(counts.sum(axis=0)).ravel()
    common = np.argsort(-uses)[:2]
    wanted = LdaSettings(topics=8, seed_words=(" ".join(f"w{at}" for at in common),))
    advisor = Advisor(counts, wanted, {f"w{at}": at for at in range(TERMS)})
    advice = advisor.hold()
    assert advice and isinstance(advice.value, int) and advice.low and advice.high
    assert advice.low <= advice.value <= advice.high < 4 * np.median(uses[common])
    best, least, most = (
        float(text.split(" in ")[-1].split("%")[0]) for text in (advice.why.split("%")[0], advice.little, advice.much)
    )
    assert best >= least > 2 * most > 0


def test_two_documents_are_few_and_still_answered() -> None:
    """And what a fit would refuse is refused."""
    two = csr_matrix(np.array([[3, 1, 0], [0, 2, 4]], dtype=np.int32))
    found = LDA.advice(two, LdaSettings(topics=2))
    assert "not known" in found["topics"].little
    with pytest.raises(BadInputError, match="Only one document"):
        LDA.check(two[:1], LdaSettings(topics=2), {})
