"""Whether what is said of fits is so: topics planted, fitted, and compared with the truth.

A part of ``make calibrate``.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from skeinwork.core.prevalence.chains import cell_shares, with_other_chains
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.topics import matching, trace
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LDA, LdaSettings

Array = NDArray[Any]
LENGTHS: dict[str, Callable[[np.random.Generator, int], Array]] = {
    "even": lambda rng, n: rng.poisson(40, n) + 1,
    "short": lambda rng, n: rng.poisson(6, n) + 1,
    "heavy": lambda rng, n: np.ceil(np.exp(rng.normal(3.2, 1.2, n))).astype(int),
}


def shrinkage_of_fits(run: Any, runs: int) -> Iterator[str]:
    yield "\nDifferences come out, topics fitted, at; said (— where nothing is foretold); furthest apart"
    repeats = max(2, runs // 8)
    answers = list(run(_slope_of_fit, [(case, at) for case in range(len(FITTED)) for at in range(repeats)]))
    for at, case in enumerate(FITTED):
        mine = np.array(answers[at * repeats : (at + 1) * repeats])
        said = ~np.isnan(mine[:, 1])
        of_said = f"{mine[said, 1].mean():.2f}" if said.any() else "—"
        apart = np.abs(mine[said, 0] - mine[said, 1]).max(initial=0.0)
        yield f"{case!s:38} {mine[:, 0].mean():.2f}, {of_said} in {said.mean():.2f}, {apart:.2f}"


# Topics, words a document (heavy-tailed where 0), documents, terms, of each in a topic, the sum of the prior.
FITTED = (
    (10, 5, 2000, 2000, 0.05, 1.0),
    (20, 15, 2000, 2000, 0.05, 2.0),
    (12, 25, 400, 1500, 0.05, 1.0),
    (8, 60, 300, 2000, 0.05, 0.5),
    (20, 0, 1500, 2000, 0.05, 1.0),
    (15, 40, 800, 2000, 0.1, 6.0),
    (30, 15, 4000, 3000, 0.02, 3.0),
    (40, 30, 6000, 3000, 0.03, 4.0),
    (30, 10, 2000, 2000, 0.05, 3.0),
    (30, 20, 2000, 2000, 0.1, 3.0),
    (50, 20, 2000, 2000, 0.1, 5.0),
)


def other_seeds(run: Any, runs: int) -> Iterator[str]:
    yield "\nShares of fitted topics in four groups, by the draws alone: coverage with 1, 2, 3, 5 seeds"
    repeats = max(2, runs // 8)
    answers = list(run(_covered_by_draws, [(case, at) for case in range(len(SHAPES)) for at in range(repeats)]))
    for at, case in enumerate(SHAPES):
        mine = np.mean(answers[at * repeats : (at + 1) * repeats], axis=0)
        yield f"{case!s:38} {', '.join(f'{each:.2f}' for each in mine)}"


# Topics, words a document, documents, the sum of the prior.
SHAPES = ((10, 30, 600, 1.0), (10, 15, 600, 1.0), (20, 30, 1000, 2.0), (30, 20, 2000, 3.0), (20, 60, 500, 2.0))


def _covered_by_draws(given: tuple[int, int]) -> list[float]:
    """How often the draws of more and more seeds hold what was written of the topics that a fit matches."""
    case, seed = given
    k, length, n, whole = SHAPES[case]
    rng = np.random.default_rng([seed, case])
    topic_word, group = rng.dirichlet(np.full(2000, 0.05), k), rng.integers(0, 4, n)
    tilt = rng.choice([0.5, 1.0, 1.5], (4, k))
    shares = rng.standard_gamma(whole / k * tilt[group]) + 1e-300
    lengths = rng.poisson(length, n) + 1
    counts, true = written(rng, topic_word, shares / shares.sum(axis=1, keepdims=True), lengths)
    models = [lda.fit(counts, LdaSettings(topics=k, seed=at, iterations=200)) for at in range(1, 6)]
    words = [matching.own_words(np.asarray(each.topic_word), each.drawn.topic_tokens) for each in models]
    totals = unit_totals(models[0].drawn, lengths.astype(float), group, 4)
    chains = []
    for model, own in zip(models, words, strict=True):
        same = matching.found_again(words[0], own)
        if model.trace[-1, 1] < models[0].trace[-1, 1] - LDA.poorer:
            same[:] = -1
        found = cell_shares(model.drawn.assigned(), lengths.astype(float), group, 4)
        chains.append(np.where(same >= 0, found[:, same], np.nan))
    planted = matching.found_again(words[0], matching.own_words(topic_word, true.sum(axis=0)), least=0.5)
    wanted = np.array([true[group == at].sum(axis=0) / true[group == at].sum() for at in range(4)])
    error = np.abs(chains[0] - wanted[:, planted])[:, planted >= 0]
    spreads = [with_other_chains(totals, chains[1:count]).spread[:, planted >= 0] for count in (1, 2, 3, 5)]
    return [float((error < 1.96 * np.sqrt(each)).mean()) for each in spreads]


def _slope_of_fit(given: tuple[int, int]) -> tuple[float, float]:
    """Slope of the differences of a fit on the true ones of the topics it matches, and what is said of it."""
    case, seed = given
    k, length, n, terms, narrow, whole = FITTED[case]
    rng = np.random.default_rng([seed, case])
    topic_word, alpha = rng.dirichlet(np.full(terms, narrow), k), np.full(k, whole / k)
    first, tilt = rng.random(n) < 0.5, np.where(rng.random(k) < 0.5, 0.5, 1.5)
    shares = rng.standard_gamma(np.where(first[:, None], alpha * tilt, alpha * (2 - tilt))) + 1e-300
    lengths = rng.poisson(length, n) + 1 if length else LENGTHS["heavy"](rng, n)
    counts, true = written(rng, topic_word, shares / shares.sum(axis=1, keepdims=True), lengths)
    settings = LdaSettings(topics=k, iterations=200)
    model, gain = lda.fit(counts, settings), LDA.gain(counts, settings)
    assert model.samples is not None and gain is not None
    apart = [
        each[first].sum(axis=0) / each[first].sum() - each[~first].sum(axis=0) / each[~first].sum()
        for each in (true, np.mean([model.samples.counts(at).toarray() for at in range(len(model.samples))], axis=0))
    ]
    own = [
        matching.own_words(topic_word, true.sum(axis=0)),
        matching.own_words(np.asarray(model.topic_word), model.samples.topic_tokens),
    ]
    of_true, of_fit, _ = map(np.array, zip(*matching.match(*own), strict=True))
    wanted, found = apart[0][of_true], apart[1][of_fit]
    said = LDA.recovery(model, lengths) if gain.low > 0 else None
    return float(found @ wanted / (wanted @ wanted)), np.nan if said is None else said


def written(rng: np.random.Generator, topic_word: Array, shares: Array, lengths: Array) -> tuple[Any, Array]:
    """Counts of documents with these shares, and the tokens of every topic in each."""
    row = np.repeat(np.arange(len(lengths)), lengths)
    topic = (np.cumsum(shares, axis=1)[row] < rng.random((len(row), 1))).sum(axis=1)
    topic = np.minimum(topic, shares.shape[1] - 1)
    ids, true = np.zeros(len(row), np.int32), np.zeros(shares.shape)
    for k, words_of in enumerate(topic_word):
        mine = np.flatnonzero(topic == k)
        ids[mine] = rng.choice(len(words_of), len(mine), p=words_of)
    np.add.at(true, (row, topic), 1.0)
    return counted(row, ids, len(lengths), topic_word.shape[1]), true


def counted(row: Array, ids: Array, documents: int, terms: int) -> Any:
    """How often each term stands in each document, from the document and the term of every token."""
    counts = csr_matrix((np.ones(len(ids), np.int32), (row, ids)), shape=(documents, terms))
    counts.sum_duplicates()
    return counts


def corpus(seed: int, themes: int, documents: int = 1000, terms: int = 700) -> tuple[Any, Any, Any]:
    """Counts, the stream of terms and where documents begin; of no themes words dealt out."""
    rng = np.random.default_rng(seed)
    lengths = rng.poisson(40, documents) + 1
    topic_word = rng.dirichlet(np.full(terms, 0.05), max(themes, 1))
    shares = rng.dirichlet(np.full(max(themes, 1), 0.1), documents)
    ids = np.concatenate(
        [rng.choice(terms, n, p=share @ topic_word) for n, share in zip(lengths, shares, strict=True)]
    ).astype(np.int32)
    row = np.repeat(np.arange(documents), lengths)
    counts = counted(row, ids, documents, terms)
    return counts, ids, np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)


def _gain_of_none(given: tuple[int, int, int, int]) -> tuple[float, float, float]:
    """What topics of dealt-out words foretell, some common and most rare."""
    topics, documents, length, seed = given
    rng, frequency = np.random.default_rng([seed, topics]), 1.0 / np.arange(1, 1001)
    lengths = rng.poisson(length, documents) + 1
    dealt = csr_matrix(rng.multinomial(lengths, frequency / frequency.sum()).astype(np.int32))
    found = LDA.gain(dealt, LdaSettings(topics=topics))
    assert found is not None
    return found.mean, found.error, found.low


def gains_of_none(run: Any, runs: int) -> Iterator[str]:
    yield "\nWords dealt out foretold better (topics, documents, words; mean, its spread, that stated; for nothing)"
    for case in ((5, 1500, 15), (15, 1500, 15), (30, 1000, 60), (8, 200, 30), (20, 4000, 30)):
        found = np.array(list(run(_gain_of_none, [(*case, seed) for seed in range(runs)])))
        mean, error, low = found.T
        yield f"{case!s:16} {mean.mean():+.4f} {mean.std():.4f} {error.mean():.4f} {(low > 0).mean():.2f}"


def still_traces(run: Any, runs: int) -> Iterator[str]:
    yield "\nStill traces called moving, by points and likeness of neighbours (wanted .01)"
    rng = np.random.default_rng(1)
    for points in (40, 80, 160):
        shares = []
        for alike in (0.0, 0.3, 0.6, 0.8):
            called = 0
            for _ in range(1000):
                series = np.zeros(points + 50)
                for at in range(1, len(series)):
                    series[at] = alike * series[at - 1] + rng.normal(0, 0.01)
                called += trace.verdict(series[50:], np.full(points, 0.2)) == "still moving"
            shares.append(f"{alike}: {called / 1000:.3f}")
        yield f"{points:4} points  {'  '.join(shares)}"


# Themes planted, topics fitted, documents, words a document, sum of the prior.
SETTLED = ((6, 6, 600, 40, 1.0), (12, 12, 1000, 40, 1.2), (12, 20, 1000, 40, 1.2), (25, 25, 1500, 30, 2.5))
LONGER = 1600


def _settles(given: tuple[int, int, int]) -> list[tuple[str, float, float]]:
    """Of fits that go on: what the trace says, by how much the longest recovers more, nats that it is likelier."""
    case, seed, start = given
    themes, topics, documents, length, prior = SETTLED[case]
    rng = np.random.default_rng([case, seed])
    planted = rng.dirichlet(np.full(800, 0.05), themes)
    shares = rng.dirichlet(np.full(themes, prior / themes), documents)
    counts, _ = written(rng, planted, shares, rng.poisson(length, documents) + 1)
    found = []
    for iterations in (40, 60, 100, 200, 400, LONGER):
        begun = ("gathered", "random")[start]
        model = lda.fit(counts, LdaSettings(topics=topics, seed=seed + 1, iterations=iterations, start=begun))
        rows = np.vstack([planted, model.topic_word])
        alike = rows / np.linalg.norm(rows, axis=1, keepdims=True)
        cosine = (alike[:themes] @ alike[themes:].T).max(axis=1).mean()
        found.append((LDA.verdict(model.trace), float(cosine), float(model.trace[-10:, 1].mean())))
    _, best, likely = found[-1]
    return [(said, best - cosine, likely - value) for said, cosine, value in found[:-1]]


def settled(run: Any, runs: int) -> Iterator[str]:
    yield f"\nWhat {LONGER} iterations recover more (cosine of themes) and are likelier by (nats a token)"
    asked = [(case, at, start) for case in range(len(SETTLED)) for at in range(max(2, runs // 8)) for start in (0, 1)]
    every = [each for answer in run(_settles, asked) for each in answer]
    for verdict in ("level", "still moving", "too short to tell", "stuck"):
        mine = np.array([each[1:] for each in every if each[0] == verdict])
        if len(mine):
            more, nats = mine.T
            yield (
                f"{verdict:18} {len(mine):3} fits: {more.mean():+.3f}, at most {more.max():+.3f}; over .02 in "
                f"{(more > 0.02).mean():.2f}; {nats.mean():+.3f} nats, over .05 in {(nats > 0.05).mean():.2f}"
            )
