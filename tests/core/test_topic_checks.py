"""Checks by people: agreement as in the literature, intruders that nothing gives away, coding that covers."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.stats import binomtest

from skeinwork.core.prevalence.corrected import corrected
from skeinwork.core.topics.checks.alpha import krippendorff_alpha
from skeinwork.core.topics.checks.coding import allotted, coded_strata, coding_sample, precision_and_recall, strata_of
from skeinwork.core.topics.checks.intrusion import (
    Found,
    Question,
    found_by_topic,
    log_odds_of_topics,
    topic_intrusion,
    word_intrusion,
)

# K. Krippendorff, Computing Krippendorff's alpha-reliability (2011): two observers and binary data; two and nominal
# data; four, with values missing.
BINARY = ["0100000010", "1110010000"]
NOMINAL = ["aabbdcccedda", "babbbccceddd"]
FOUR = ["123321412...", "1233224125.3", ".3332342251.", "12332441251."]


def test_alpha_is_as_in_the_worked_examples() -> None:
    assert krippendorff_alpha(list(zip(*BINARY, strict=True))) == pytest.approx(0.095, abs=5e-4)
    assert krippendorff_alpha(list(zip(*NOMINAL, strict=True))) == pytest.approx(0.692, abs=5e-4)
    units = [[each for each in column if each != "."] for column in zip(*FOUR, strict=True)]
    assert krippendorff_alpha(units) == pytest.approx(0.743, abs=5e-4)
    assert krippendorff_alpha([["a"], ["b"]]) is None and krippendorff_alpha([["a", "a"]]) is None
    assert krippendorff_alpha([["a", "a"], ["b", "b"]]) == 1.0


def _topics(seed: int) -> tuple[NDArray[np.float64], list[str]]:
    random = np.random.default_rng(seed)
    words = ["".join(random.choice(list("aeiklmnorst"), size=random.integers(3, 13))) for _ in range(400)]
    return random.dirichlet(np.full(400, 0.05), 12), words


def test_an_intruding_word_is_weak_here_strong_elsewhere_and_given_away_by_nothing() -> None:
    guesses = {"longest": 0, "shortest": 0, "first": 0, "last": 0, "alphabet": 0}
    asked = 0
    for seed in range(25):
        phi, words = _topics(seed)
        for each in word_intrusion(phi, words, skip=[3], sets=2, seed=seed):
            own = [term for at, term in enumerate(each.options) if at != each.intruder]
            intruder = each.options[each.intruder]
            assert len(set(each.options)) == 6 and each.topic != 3
            assert phi[each.topic, intruder] <= np.median(phi[each.topic])
            assert phi[each.topic, own].min() > phi[each.topic, intruder]
            assert intruder in {
                int(term) for k in range(12) if k not in (3, each.topic) for term in np.argsort(-phi[k])[:25]
            }
            shown = [words[term] for term in each.options]
            asked += 1
            guesses["longest"] += max(range(6), key=lambda at: len(shown[at])) == each.intruder
            guesses["shortest"] += min(range(6), key=lambda at: len(shown[at])) == each.intruder
            guesses["first"] += each.intruder == 0
            guesses["last"] += each.intruder == 5
            guesses["alphabet"] += min(range(6), key=lambda at: shown[at]) == each.intruder
    assert asked == 25 * 11 * 2
    for name, hits in guesses.items():
        assert binomtest(hits, asked, 1 / 6).pvalue > 0.001, (name, hits, asked)


def test_words_are_seen_in_one_question_alone_and_the_same_seed_asks_the_same() -> None:
    phi, words = _topics(1)
    asked = word_intrusion(phi, words, sets=3, seed=4)
    own = [(each.topic, term) for each in asked for at, term in enumerate(each.options) if at != each.intruder]
    assert len(own) == len(set(own)) == 12 * 3 * 5
    assert asked == word_intrusion(phi, words, sets=3, seed=4) != word_intrusion(phi, words, sets=3, seed=5)


def test_an_intruding_topic_is_not_of_the_document_and_as_usual_as_the_others() -> None:
    random = np.random.default_rng(2)
    alpha = np.geomspace(0.02, 0.3, 10)
    tokens = np.array([random.multinomial(60, random.dirichlet(alpha)) for _ in range(3000)]).astype(np.float64)
    asked = topic_intrusion(tokens, skip=[0], each=10, seed=1)
    share = tokens / 60
    shown, intruding = np.zeros(10), np.zeros(10)
    for each in asked:
        own = [k for at, k in enumerate(each.options) if at != each.intruder]
        assert 0 not in each.options and 2 <= len(own) <= 3
        assert (share[each.document, own] >= 0.1).all() and share[each.document, each.options[each.intruder]] <= 0.01
        assert share[each.document, each.topic] == share[each.document, own].max()
        shown[own] += 1
        intruding[each.options[each.intruder]] += 1
    assert len(asked) == 90
    # Topics that are seen often intrude often: who bets on the rarest one shown wins next to nothing.
    assert np.corrcoef(shown, intruding)[0, 1] > 0.8
    rarest = sum(min(each.options, key=lambda k: shown[k]) == each.options[each.intruder] for each in asked)
    assert binomtest(rarest, 90, sum(1 / len(each.options) for each in asked) / 90).pvalue > 0.01
    assert topic_intrusion(np.eye(4) * 9) == []


def test_what_was_found_by_topic_with_its_interval_and_log_odds() -> None:
    asked = [Question(0, 0, (0, 1, 2), 1), Question(2, 1, (2, 0), 0)]
    found = found_by_topic(asked, [[1, 0], [2, None]], 3)
    assert [(each.right, each.answers) for each in found] == [(1, 2), (0, 0), (1, 1)]
    assert found[0].chance == pytest.approx(1 / 3) and found[1].share is None and found[1].interval() is None
    wilson = binomtest(7, 9).proportion_ci(method="wilson")
    assert Found(7, 9, 0.2).interval() == pytest.approx((wilson.low, wilson.high))
    shares = np.array([[0.5, 0.1, 0.4], [0.2, 0.7, 0.1]])
    wanted = np.mean([0.0, 0.0, np.log(0.1 / 0.4)])
    assert log_odds_of_topics(asked, [[1, 0], [2, None]], shares) == pytest.approx(wanted)
    assert log_odds_of_topics(asked, [], shares) is None


def test_strata_of_shares_and_how_many_are_drawn_of_each() -> None:
    share = np.array([0.0, 0.05, 0.1, 0.3, 0.6, 1.0, 0.5])
    known = np.array([True] * 6 + [False])
    assert strata_of(share, known).tolist() == [0, 1, 2, 3, 4, 4, -1]
    size = np.array([1900, 100, 40, 3, 0])
    drawn = allotted(size, 100)
    assert drawn[0] > drawn[1] > drawn[2] >= 5 and drawn[3:].tolist() == [3, 0]
    stratum = np.repeat(np.arange(5), size)
    sample = coding_sample(stratum, 100, 3)
    assert np.bincount(stratum[sample], minlength=5).tolist() == drawn.tolist()
    assert len(set(sample.tolist())) == len(sample) and (sample == coding_sample(stratum, 100, 3)).all()


def test_coders_who_differ_count_in_part_and_those_unsure_not_at_all() -> None:
    stratum = np.array([0, 0, 2, 2, -1])
    found = coded_strata(stratum, [0, 2, 3, 4], [{0: False, 2: True, 4: True}, {2: False, 3: True}])
    assert found.size.tolist() == [2, 0, 2, 0, 0] and found.coded.tolist() == [1, 0, 2, 0, 0]
    assert found.yes.tolist() == [0.0, 0.0, 1.5, 0.0, 0.0] and found.squares[2] == 1.25
    precision, recall = precision_and_recall(found)
    assert precision.value == pytest.approx(0.75) and recall.value == 1.0
    assert precision_and_recall(coded_strata(stratum, [0], [{0: True}]))[0].value is None


RATES = np.array([0.01, 0.1, 0.4, 0.75, 0.95])
# Coders who miss one in twenty, and find one in thirty that is none.
SAYS_YES = RATES * 0.95 + (1 - RATES) / 30


def _coded_world(seed: int) -> tuple[bool, bool, float]:
    """Whether intervals hold what the coders would say of all: of precision, recall, and by groups of unlike sizes."""
    random = np.random.default_rng([11, seed])
    cells = random.choice(4, size=2000, p=[0.05, 0.15, 0.3, 0.5])
    tilt = np.exp(np.linspace(-0.8, 0.8, 4)[:, None] * np.arange(5) / 5)
    parts = np.array([0.6, 0.15, 0.1, 0.08, 0.07]) * tilt
    parts /= parts.sum(axis=1, keepdims=True)
    stratum = (random.random(2000)[:, None] > parts.cumsum(axis=1)[cells]).sum(axis=1)
    about = random.random(2000) < RATES[stratum]
    said = np.where(about, 0.95, 1 / 30)
    sample = coding_sample(stratum, 100, seed)
    coded = coded_strata(stratum, sample.tolist(), [{int(at): bool(random.random() < said[at]) for at in sample}])
    precision, recall = precision_and_recall(coded, seed)
    found = corrected(coded, stratum, cells, 4)
    target = parts @ SAYS_YES
    inside = (found.low[:, 0] <= target) & (target <= found.high[:, 0])
    held = stratum >= 2
    assert (
        precision.low is not None and precision.high is not None and recall.low is not None and recall.high is not None
    )
    return (
        precision.low <= said[held].mean() <= precision.high,
        recall.low <= said[held].sum() / said.sum() <= recall.high,
        float(inside.mean()),
    )


def test_corrected_prevalence_covers_what_coders_with_known_errors_would_say() -> None:
    runs = np.array([_coded_world(seed) for seed in range(150)], dtype=np.float64)
    # 150 runs of four groups: .95 within three of its own standard errors.
    assert (runs.mean(axis=0) >= 0.9).all() and runs[:, 2].mean() <= 0.985


def test_coding_adds_to_what_is_not_known() -> None:
    stratum = np.repeat(np.arange(5), [600, 150, 100, 80, 70])
    cells = np.arange(1000) % 2
    answers = {int(at): bool(at % 3 == 0) for at in coding_sample(stratum, 60)}
    coded = coded_strata(stratum, list(answers), [answers])
    wide, sure = corrected(coded, stratum, cells, 2), corrected(coded, stratum, cells, 2, certain=True)
    assert (wide.mean == sure.mean).all()
    assert (wide.high - wide.low > 1.5 * (sure.high - sure.low)).all()
