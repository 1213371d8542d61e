"""Whether what the screens say of uncertainty is so: simulations with known truth.

``make calibrate`` prints the tables that docs/methods.md holds, in some minutes. Documents are drawn
from known topics and placed among them by sampling, so that the saved samples carry the uncertainty
that those of a fit do.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.topics import coherence, matching, trace, words
from skeinwork.core.topics.choose import suggest
from skeinwork.core.topics.fold_in import fold_in
from skeinwork.core.topics.methods import lda
from skeinwork.core.topics.methods.lda import LDA, LdaSettings
from skeinwork.core.topics.model import Samples, empty_topics

Array = NDArray[Any]
COMMON, RARE = np.array([0.3, 0.5, 0.7, 1.0]), np.array([0.03, 0.1, 0.5, 0.7])
LENGTHS: dict[str, Callable[[np.random.Generator, int], Array]] = {
    "even": lambda rng, n: rng.poisson(40, n) + 1,
    "short": lambda rng, n: rng.poisson(6, n) + 1,
    "heavy": lambda rng, n: np.ceil(np.exp(rng.normal(3.2, 1.2, n))).astype(int),
}


def topics_of(rng: np.random.Generator, count: int, terms: int = 300) -> Array:
    return rng.dirichlet(np.full(terms, 0.1), count)


def placed(rng: np.random.Generator, shares: Array, lengths: Array, alpha: Array) -> Samples:
    """Samples of documents with these shares, placed among the topics by which they were written."""
    topic_word = topics_of(rng, shares.shape[1])
    written = [
        rng.choice(topic_word.shape[1], int(size), p=share @ topic_word)
        for share, size in zip(shares, lengths, strict=True)
    ]
    pointer = np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)
    return fold_in(
        np.concatenate(written).astype(np.int32), pointer, topic_word, alpha, saved=10,
        seed=int(rng.integers(2**31)),
    )  # fmt: skip


def _coverage(given: tuple[str, Array, str, str, int, int]) -> tuple[float, float, float, float]:
    """Of the first topic and of all: how often its share is inside, and the mean width."""
    _, alpha, length, weight, units, runs = given
    truth, cells = alpha / alpha.sum(), 8
    inside, widths = [], []
    for run in range(runs):
        rng = np.random.default_rng([run, units, len(length), len(weight), int(alpha[0] * 100)])
        lengths = LENGTHS[length](rng, cells * units)
        samples = placed(rng, rng.dirichlet(alpha, cells * units), lengths, alpha)
        weights = lengths.astype(float) if weight == "tokens" else np.ones(len(lengths))
        found = prevalence(unit_totals(samples, weights, np.arange(cells * units) % cells, cells))
        inside.append((found.low <= truth) & (truth <= found.high))
        widths.append(found.high - found.low)
    hits, wide = np.concatenate(inside), np.concatenate(widths)
    return hits[:, 0].mean(), hits.mean(), wide[:, 0].mean(), wide.mean()


def coverage(run: Any, runs: int) -> Iterator[str]:
    yield "Coverage of 95 % intervals: first topic / all topics (mean width)"
    counts = (6, 10, 20, 50, 200)
    yield f"{'':26}" + "".join(f"{n:>28}" for n in counts)
    rows = [
        (kind, alpha, length, weight)
        for kind, alpha in (("common", COMMON), ("rare", RARE))
        for length in LENGTHS
        for weight in ("tokens", "documents")
    ]
    asked = [(*row, n, max(runs // 2, runs * 6 // n)) for row in rows for n in counts]
    answers = iter(run(_coverage, asked))
    for kind, _, length, weight in rows:
        cells = [next(answers) for _ in counts]
        said = [f"{a:.2f} / {b:.2f} ({c:.3f}, {d:.3f})" for a, b, c, d in cells]
        yield f"{kind + ', ' + length + ', ' + weight:26}" + "".join(f"{s:>28}" for s in said)


def _clustered(given: tuple[int, int, bool, int]) -> tuple[float, float]:
    """Coverage and width with documents of authors, told of them or not."""
    documents, authors, told, runs = given
    inside, widths = [], []
    for run in range(runs):
        rng = np.random.default_rng([run, documents])
        author = np.arange(documents) % authors
        shares = 0.6 * rng.dirichlet(COMMON, authors)[author]
        shares = shares + 0.4 * rng.dirichlet(COMMON, documents)
        lengths = LENGTHS["even"](rng, documents)
        counts = [rng.multinomial(n, p) for n, p in zip(lengths, shares, strict=True)]
        samples = Samples.of_counts([csr_matrix(np.array(counts))], np.zeros((1, len(COMMON))))
        totals = unit_totals(
            samples, lengths.astype(float), np.zeros(documents, np.int64), 1,
            author if told else None,
        )  # fmt: skip
        found, truth = prevalence(totals), COMMON / COMMON.sum()
        inside.append((found.low <= truth) & (truth <= found.high))
        widths.append(found.high - found.low)
    return float(np.mean(inside)), float(np.mean(widths))


def clusters(run: Any, runs: int) -> Iterator[str]:
    yield "\nDocuments of ten authors: coverage (width) by documents, by authors"
    asked = [(n, 10, told, 5 * runs) for n in (50, 200, 1000) for told in (False, True)]
    answers = list(run(_clustered, asked))
    for at, n in enumerate((50, 200, 1000)):
        alone, together = answers[2 * at : 2 * at + 2]
        yield f"{n:6} documents: {alone[0]:.2f} ({alone[1]:.3f}), {together[0]:.2f} ({together[1]:.3f})"


def _false(given: tuple[int, int, str, str, int]) -> tuple[float, float, float]:
    """Groups that do not differ: any told apart, single p under .05, intervals that hold none."""
    documents, groups, length, units, runs = given
    told, single, inside = [], [], []
    for run in range(runs):
        rng = np.random.default_rng([run, documents, groups])
        group, unit = rng.integers(0, groups, documents), None
        shares = rng.dirichlet(RARE, documents)
        if units != "documents":
            unit = rng.integers(0, documents // 4, documents)
            shares = 0.5 * rng.dirichlet(RARE, documents // 4)[unit] + 0.5 * shares
            group = unit % groups if units == "authors within groups" else group
        lengths = LENGTHS[length](rng, documents)
        samples = placed(rng, shares, lengths, RARE)
        found = differences(
            unit_totals(samples, lengths.astype(float), group, groups, unit), seed=run
        )
        known = np.isfinite(found.p)
        if known.any():
            told.append((found.adjusted[known] < 0.05).any())
            single.append((found.p[known] < 0.05).mean())
            inside.append(((found.low <= 0) & (found.high >= 0))[known].mean())
    return float(np.mean(told)), float(np.mean(single)), float(np.mean(inside))


def false_differences(run: Any, runs: int) -> Iterator[str]:
    yield "\nGroups that do not differ: any told apart (wanted .05), p < .05, intervals that hold 0"
    asked = [
        (n, groups, length, units, 4 * runs)
        for n, groups in ((60, 2), (120, 5), (400, 5))
        for length in ("even", "heavy")
        for units in ("documents", "authors within groups", "authors across groups")
    ]
    for row, (a, b, c) in zip(asked, run(_false, asked), strict=True):
        n, groups, length, units, _ = row
        yield f"{n:5} documents, {groups} groups, {length:6} {units:22} {a:.3f} {b:.3f} {c:.3f}"


def _slope(given: tuple[int, int]) -> tuple[float, float]:
    """Slope of the difference found on the true one, by counts and by shares with the prior."""
    length, run = given
    rng = np.random.default_rng([run, length])
    n, alpha = 3000, np.full(8, 0.15)
    tilt = np.where(rng.random(8) < 0.5, 0.5, 1.5)
    first = np.arange(n) < n // 2
    shares = np.where(
        first[:, None], rng.dirichlet(alpha * tilt, n), rng.dirichlet(alpha * (2 - tilt), n)
    )
    lengths = rng.poisson(length, n) + 1
    samples = placed(rng, shares, lengths, alpha)
    totals = unit_totals(samples, np.ones(n), (~first).astype(np.int64), 2)
    counted = prevalence(totals).mean
    smooth = np.mean([samples.shares(at) for at in range(len(samples))], axis=0)
    true = tilt / tilt.sum() - (2 - tilt) / (2 - tilt).sum()
    found = (counted[0] - counted[1], smooth[first].mean(axis=0) - smooth[~first].mean(axis=0))
    return float(found[0] @ true / (true @ true)), float(found[1] @ true / (true @ true))


def shrinkage(run: Any, runs: int) -> Iterator[str]:
    yield "\nTrue differences come out at: by assigned tokens, by shares with the prior"
    lengths, repeats = (6, 13, 39, 80), max(2, runs // 5)
    answers = list(run(_slope, [(n, at) for n in lengths for at in range(repeats)]))
    for at, n in enumerate(lengths):
        mine = np.mean(answers[at * repeats : (at + 1) * repeats], axis=0)
        yield f"{n:4} words a document: {mine[0]:.2f}, {mine[1]:.2f}"


def corpus(seed: int, themes: int, documents: int = 1000, terms: int = 700) -> tuple[Any, Any, Any]:
    """Counts, the stream of terms and where documents begin; of no themes words dealt out."""
    rng = np.random.default_rng(seed)
    lengths = rng.poisson(40, documents) + 1
    topic_word = rng.dirichlet(np.full(terms, 0.05), max(themes, 1))
    shares = rng.dirichlet(np.full(max(themes, 1), 0.1), documents)
    ids = np.concatenate([
        rng.choice(terms, n, p=share @ topic_word) for n, share in zip(lengths, shares, strict=True)
    ]).astype(np.int32)  # fmt: skip
    row = np.repeat(np.arange(documents), lengths)
    counts = csr_matrix((np.ones(len(ids), np.int32), (row, ids)), shape=(documents, terms))
    counts.sum_duplicates()
    return counts, ids, np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64)


def _fitted(given: tuple[int, int, int, int]) -> tuple[Any, ...]:
    themes, corpus_seed, topics, seed = given
    counts, ids, pointer = corpus(corpus_seed, themes)
    settings = LdaSettings(topics=topics, seed=seed, iterations=200)
    model = lda.fit(counts, settings)
    assert model.samples is not None
    tokens = model.samples.topic_tokens
    live = ~empty_topics(tokens)
    top = words.top_words(model.topic_word, 10)[live]
    gain = LDA.gain(counts, settings)
    assert gain is not None
    return (
        coherence.topic_coherence(top, ids, pointer, counts.shape[1]).tolist(),
        matching.own_words(model.topic_word, tokens)[live],
        (gain.mean, gain.mean - 1.96 * gain.error), int((~live).sum()), LDA.verdict(model),
    )  # fmt: skip


def choices(run: Any, runs: int) -> Iterator[str]:
    yield "\nCounts suggested (topics planted; counts tried; suggested; seeds agree; gain; empty)"
    cases = ((0, (2, 4, 8, 14)), (6, (3, 6, 9, 14)), (12, (6, 9, 12, 17, 24)), (30, (5, 9, 14, 22)))
    asked = [
        (themes, 10 * themes + made, topics, seed)
        for themes, counts in cases for made in range(max(1, runs // 10))
        for topics in counts for seed in (1, 2)
    ]  # fmt: skip
    answers = iter(run(_fitted, asked))
    for themes, counts in cases:
        for _ in range(max(1, runs // 10)):
            found = {topics: [next(answers) for _ in range(2)] for topics in counts}
            agree = {
                k: matching.stability([fit[1] for fit in two]).tolist() for k, two in found.items()
            }
            best = suggest(
                {k: [fit[0] for fit in two] for k, two in found.items()}, agree,
                {k: [fit[2] for fit in two] for k, two in found.items()},
                {k: [fit[3] for fit in two] for k, two in found.items()},
            )  # fmt: skip
            said = "nothing" if best is None or best.topics is None else str(best.topics)
            gain = max(fit[2][0] for two in found.values() for fit in two)
            empty = {k: [fit[3] for fit in two] for k, two in found.items()}
            yield (
                f"{themes:3} {counts!s:22} {said:8} "
                f"{[round(float(np.mean(v)), 2) for v in agree.values()]} {gain:+.3f} {empty}"
            )


def still_traces() -> Iterator[str]:
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


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--runs", type=int, default=40, help="how often each case is drawn")
    runs = parser.parse_args().runs
    with ProcessPoolExecutor() as pool:

        def run(work: Callable[[Any], Any], asked: Sequence[Any]) -> Iterator[Any]:
            return iter(pool.map(work, asked))

        parts = (coverage, clusters, false_differences, shrinkage, choices)
        for part in parts:
            for line in part(run, runs):
                print(line, flush=True)
    for line in still_traces():
        print(line, flush=True)


if __name__ == "__main__":
    main()
