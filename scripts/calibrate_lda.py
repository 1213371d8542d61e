"""Whether starts, priors and samplers of LDA give what was planted, and agree for that alone.

A part of ``make calibrate``.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from typing import Any

import numpy as np
from calibrate_fits import Array, written

from skeinwork.core.topics import matching
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LdaSettings
from skeinwork.core.topics.samplers import SAMPLERS

STARTS = ("gathered", "random")
# Topics, documents, words a document, the sum of the prior; noise where there is one topic.
CORPORA = ((1, 600, 30, 1.0), (1, 2000, 60, 1.0), (10, 600, 30, 0.5), (10, 600, 30, 5.0), (20, 1500, 60, 2.0))
# Sums of the prior, from documents of one topic to documents of many.
MIXINGS = (0.1, 1.0, 5.0)


def starts(run: Any, runs: int) -> Iterator[str]:
    yield "\nAgreement of three seeds by start, and of their topics with those planted (— of noise)"
    repeats = max(2, runs // 10)
    cases = [(case, start, at) for case in range(len(CORPORA)) for start in STARTS for at in range(repeats)]
    yield from _in_rows(CORPORA, STARTS, repeats, list(run(_agreement, cases)))


def priors_that_stand(run: Any, runs: int) -> Iterator[str]:
    yield "\nSum of the prior that is found, and slope of the found shares of documents on the planted ones"
    repeats = max(2, runs // 10)
    cases = [(mixing, sampler, at) for mixing in MIXINGS for sampler in SAMPLERS for at in range(repeats)]
    yield from _in_rows(MIXINGS, SAMPLERS, repeats, list(run(_shares_again, cases)))


def _in_rows(rows: Any, columns: Any, repeats: int, answers: list[tuple[float, float]]) -> Iterator[str]:
    for at, (row, column) in enumerate(product(rows, columns)):
        first, second = np.mean(answers[at * repeats : (at + 1) * repeats], axis=0)
        yield f"{row!s:24} {column:14} {first:.2f}, {'—' if np.isnan(second) else f'{second:.3f}'}"


def _planted(topics: int, docs: int, length: int, whole: float, seed: int) -> tuple[Any, Array, Array]:
    rng = np.random.default_rng([seed, topics, docs])
    topic_word = rng.dirichlet(np.full(1500, 0.05), topics)
    shares = rng.dirichlet(np.full(topics, whole / topics), docs)
    return *written(rng, topic_word, shares, rng.poisson(length, docs) + 1), topic_word


def _agreement(given: tuple[int, str, int]) -> tuple[float, float]:
    case, start, seed = given
    topics, docs, length, whole = CORPORA[case]
    counts, true, topic_word = _planted(topics, docs, length, whole, seed)
    asked = max(topics, 8)
    fits = [lda.fit(counts, LdaSettings(topics=asked, seed=at, start=start, iterations=200)) for at in (1, 2, 3)]
    own = [matching.own_words(np.asarray(each.topic_word), each.drawn.topic_tokens) for each in fits]
    planted = matching.own_words(topic_word, true.sum(axis=0))
    with_planted = [like for *_, like in matching.match(planted, own[0])] if topics > 1 else [np.nan]
    return float(np.nanmean(matching.stability(own))), float(np.mean(with_planted))


def _shares_again(given: tuple[float, str, int]) -> tuple[float, float]:
    whole, sampler, seed = given
    counts, true, topic_word = _planted(10, 1500, 50, whole, seed)
    model = lda.fit(counts, LdaSettings(topics=10, sampler=sampler, iterations=400))
    own = matching.own_words(np.asarray(model.topic_word), model.drawn.topic_tokens)
    pairs = np.array(matching.match(matching.own_words(topic_word, true.sum(axis=0)), own))
    of_true, of_fit = pairs[:, 0].astype(int), pairs[:, 1].astype(int)
    tokens = true.sum(axis=1, keepdims=True)
    wanted = (true / tokens)[:, of_true]
    found = (model.drawn.assigned().toarray() / tokens)[:, of_fit]
    apart = wanted - wanted.mean(axis=0)
    return float(model.by_topic["alpha"].sum()), float((found * apart).sum() / (wanted * apart).sum())
