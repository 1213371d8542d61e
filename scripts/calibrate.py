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
from calibrate_choice import choices
from calibrate_fits import LENGTHS, Array, gains_of_none, other_seeds, settled, shrinkage_of_fits, still_traces
from calibrate_label import coding_by_hand, topics_apart
from calibrate_lda import priors_that_stand, starts
from calibrate_regression import regressions
from calibrate_track import changes_of_none, fixed_composition, promised, smoothed_bands
from calibrate_words import false_words, ratios_of_words
from scipy.sparse import csr_matrix

from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.topics.fold_in import fold_in
from skeinwork.core.topics.model import Samples

COMMON, RARE = np.array([0.3, 0.5, 0.7, 1.0]), np.array([0.03, 0.1, 0.5, 0.7])


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
        np.concatenate(written).astype(np.int32), pointer, topic_word, alpha, saved=10, seed=int(rng.integers(2**31))
    )


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
        totals = unit_totals(samples, lengths.astype(float), np.zeros(documents, np.int64), 1, author if told else None)
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


def drawn(
    rng: np.random.Generator, shares: Array, lengths: Array, group: Array, units: Array | None = None
) -> UnitTotals:
    """Totals of documents whose tokens have the topics that they were written by."""
    counts = rng.multinomial(lengths, shares / shares.sum(axis=1, keepdims=True))
    samples = Samples.of_counts([csr_matrix(counts)], np.zeros((1, shares.shape[1])))
    return unit_totals(samples, lengths.astype(float), group, int(group.max()) + 1, units)


def many(count: int, whole: float) -> Array:
    """A prior of topics from common to rare."""
    each = np.geomspace(1.0, 0.05, count)
    return each / each.sum() * whole


def _rare(given: tuple[str, float, int, int, int, float, int]) -> tuple[float, float, float]:
    """Of topics of some 1 % and of all: how often the share is inside; and how often above, rare ones."""
    length, whole, cells, units, documents, narrower, runs = given
    alpha = many(20, whole)
    truth = alpha / alpha.sum()
    rare = truth < 0.03
    inside, above = [], []
    for run in range(runs):
        rng = np.random.default_rng([run, cells, units, documents, len(length)])
        unit = np.repeat(np.arange(cells * units), documents)
        group = unit % cells
        own = np.where((group == 0)[:, None], alpha, narrower * alpha)
        shares = rng.standard_gamma(own) + 1e-300
        if documents > 1:
            shares = 0.4 * shares / shares.sum(axis=1, keepdims=True)
            shares = shares + 0.6 * rng.dirichlet(alpha, cells * units)[unit]
        lengths = LENGTHS[length](rng, len(unit))
        found = prevalence(drawn(rng, shares, lengths, group, unit))
        which = slice(0, 1 if narrower > 1 else None)
        inside.append(((found.low <= truth) & (truth <= found.high))[which])
        above.append((truth > found.high)[which])
    hits, over = np.concatenate(inside), np.concatenate(above)
    return hits[:, rare].mean(), hits.mean(), over[:, rare].mean()


def rare_topics(run: Any, runs: int) -> Iterator[str]:
    yield "\nTwenty topics, rare ones (1 to 3 %) / all; rare ones whose truth lies above"
    asked = [
        (length, whole, cells, units, documents, narrower, 4 * runs)
        for length in ("even", "heavy")
        for whole, cells, units, documents, narrower in (
            (0.5, 1, 20, 1, 1),
            (0.5, 1, 200, 1, 1),
            (0.5, 4, 30, 1, 1),
            (2.0, 1, 50, 1, 1),
            (1.0, 1, 10, 20, 1),
            (1.0, 2, 60, 5, 1),
            (1.0, 5, 30, 1, 30),
        )
    ]
    for row, (a, b, c) in zip(asked, run(_rare, asked), strict=True):
        length, whole, cells, units, documents, narrower, _ = row
        yield (
            f"{length:6} {cells} cells of {units:3} units of {documents:2} documents"
            f"{', the first wide' if narrower > 1 else '':16} prior {whole}: {a:.2f} / {b:.2f}, {c:.3f}"
        )


# Groups without a difference: sizes, topics, how wide priors are, lengths, units.
SHAPES: dict[str, tuple[tuple[int, ...], int, tuple[float, ...], tuple[str, ...], str]] = {
    "30 and 30": ((30, 30), 10, (1,), ("even",), "documents"),
    "five of 24, heavy": ((24,) * 5, 10, (1,), ("heavy",), "documents"),
    "five of 80": ((80,) * 5, 20, (1,), ("even",), "documents"),
    "five of 80, authors within": ((80,) * 5, 10, (1,), ("even",), "within"),
    "five of 80, authors across": ((80,) * 5, 10, (1,), ("heavy",), "across"),
    "12 wide, 400 narrow": ((12, 400), 10, (0.3, 10), ("even",), "documents"),
    "60 and 60, spreads 1 to 10": ((60, 60), 10, (1, 10), ("even",), "documents"),
    "60 and 60, lengths 10, 200": ((60, 60), 10, (1,), ("10", "200"), "documents"),
    "200 and 200, other lengths": ((200, 200), 10, (1,), ("short", "heavy"), "documents"),
    "8 and 2,000, heavy": ((8, 2000), 30, (1,), ("heavy",), "documents"),
    "30 and 6,000": ((30, 6000), 50, (1,), ("even",), "documents"),
    "30 and 10,170": ((30, 10_170), 50, (1,), ("even",), "documents"),
    "nine of 104, one of 9,464": ((104,) * 9 + (9464,), 50, (1,), ("heavy",), "documents"),
    "forty of 200": ((200,) * 40, 50, (1,), ("even",), "documents"),
    "forty of 300": ((300,) * 40, 50, (1,), ("even",), "documents"),
}


def without_difference(name: str, seed: int) -> UnitTotals:
    """Groups of one of the shapes, whose topics have the same mean shares."""
    sizes, topics, scatter, lengths, units = SHAPES[name]
    rng = np.random.default_rng([seed, sum(sizes), len(sizes), topics])
    group = np.repeat(np.arange(len(sizes)), sizes)
    alpha, n = many(topics, 0.1 * topics), len(group)
    own = np.array([scatter[at % len(scatter)] for at in range(len(sizes))])[group]
    shares = rng.standard_gamma(own[:, None] * alpha) + 1e-300
    shares /= shares.sum(axis=1, keepdims=True)
    unit = None
    if units != "documents":
        unit = rng.integers(0, n // 4, n)
        group = unit % len(sizes) if units == "within" else group
        shares = 0.5 * shares + 0.5 * rng.dirichlet(alpha, n // 4)[unit]
    size = np.zeros(n, dtype=np.int64)
    for at in range(len(sizes)):
        mine = group == at
        length, count = lengths[at % len(lengths)], int(mine.sum())
        size[mine] = LENGTHS[length](rng, count) if length in LENGTHS else int(length)
    return drawn(rng, shares, size, group, unit)


def _false(given: tuple[str, int]) -> tuple[float, float, float]:
    """Any told apart; single p under .05; p and intervals that say otherwise."""
    found = differences(without_difference(*given))
    known = np.isfinite(found.p)
    outside = ((found.low > 0) | (found.high < 0))[known]
    few = found.p[known] < 0.05
    return float((found.adjusted[known] < 0.05).any()), few.mean(), (few != outside).mean()


def false_differences(run: Any, runs: int) -> Iterator[str]:
    yield "\nGroups that do not differ: any told apart (wanted .05), p < .05, p against interval"
    for name, (sizes, *_) in SHAPES.items():
        times = 4 * runs if sum(sizes) < 5000 else 2 * runs
        found = np.mean(list(run(_false, [(name, seed) for seed in range(times)])), axis=0)
        yield f"{name:28} {found[0]:.3f} {found[1]:.3f} {found[2]:.3f}"


def _slope(given: tuple[int, int]) -> tuple[float, float]:
    """Slope of the difference found on the true one, by counts and by shares with the prior."""
    length, run = given
    rng = np.random.default_rng([run, length])
    n, alpha = 3000, np.full(8, 0.15)
    tilt = np.where(rng.random(8) < 0.5, 0.5, 1.5)
    first = np.arange(n) < n // 2
    shares = np.where(first[:, None], rng.dirichlet(alpha * tilt, n), rng.dirichlet(alpha * (2 - tilt), n))
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


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--runs", type=int, default=40, help="how often each case is drawn")
    parts = (
        coverage,
        clusters,
        rare_topics,
        false_differences,
        shrinkage,
        shrinkage_of_fits,
        other_seeds,
        gains_of_none,
        choices,
        still_traces,
        settled,
        starts,
        priors_that_stand,
        false_words,
        ratios_of_words,
        topics_apart,
        coding_by_hand,
        changes_of_none,
        promised,
        smoothed_bands,
        fixed_composition,
        regressions,
    )
    named = {part.__name__: part for part in parts}
    parser.add_argument("--only", nargs="+", choices=named, default=list(named), metavar="PART")
    asked = parser.parse_args()
    with ProcessPoolExecutor() as pool:

        def run(work: Callable[[Any], Any], asked: Sequence[Any]) -> Iterator[Any]:
            return iter(pool.map(work, asked))

        for name in asked.only:
            for line in named[name](run, asked.runs):
                print(line, flush=True)


if __name__ == "__main__":
    main()
