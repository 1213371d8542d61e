"""Simulations of Track: corpora without changes, changes of the promised size, smoothed and standardised shares."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from calibrate_fits import LENGTHS, Array
from scipy.sparse import csr_matrix
from scipy.special import gammaincinv

from skeinwork.core.prevalence.change_points import change_points
from skeinwork.core.prevalence.detectable import detectable
from skeinwork.core.prevalence.differences import differences
from skeinwork.core.prevalence.movement import Movement, movement, over_time
from skeinwork.core.prevalence.prevalence import prevalence
from skeinwork.core.prevalence.smoothing import loess_weights, smoothed
from skeinwork.core.prevalence.standardising import standardised
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.topics.model import Samples

# Periods, documents in each (or all, unevenly), topics, whether authors write in several periods, lengths.
SHAPES: dict[str, tuple[int, int, int, bool, str]] = {
    "3 periods of 200": (3, 200, 20, False, "even"),
    "10 of 30, heavy lengths": (10, 30, 12, False, "heavy"),
    "10 of 80, authors across": (10, 80, 10, True, "even"),
    "10 of 1,000": (10, 1000, 30, False, "even"),
    "20 uneven ones of 3,000": (20, -3000, 20, False, "heavy"),
    "40 of 8": (40, 8, 10, False, "even"),
    "40 of 60": (40, 60, 12, False, "even"),
    "100 of 100": (100, 100, 50, False, "even"),
}


def _prior(topics: int) -> Array:
    each = np.geomspace(1.0, 0.05, topics)
    return each / each.sum() * 0.1 * topics


def corpus(name: str, seed: int, planted: tuple[int, float] | None = None) -> UnitTotals:
    """Documents of some periods; from the middle on a topic holds so much more, where something is planted.

    Periods, lengths and authors are those of the seed, with something planted or without; shares are drawn anew.
    """
    periods, each, topics, authors, length = SHAPES[name]
    rng, fixed = (np.random.default_rng([seed, periods, topics, at]) for at in (int(planted is not None), 2))
    uneven = np.geomspace(1, 30, periods)
    when = np.repeat(np.arange(periods), each) if each > 0 else fixed.choice(periods, -each, p=uneven / uneven.sum())
    alpha = np.tile(_prior(topics), (len(when), 1))
    if planted is not None:
        topic, size = planted
        after, whole, share = when >= periods // 2, alpha[0].sum(), alpha[0, topic] / alpha[0].sum()
        low = max(share - size * after.mean(), 0.25 * share)
        mean = np.where(after, low + size, low)
        alpha *= ((1 - mean) / (1 - share))[:, None]
        alpha[:, topic] = mean * whole
    shares = rng.standard_gamma(alpha) + 1e-300
    shares /= shares.sum(axis=1, keepdims=True)
    unit = None
    if authors:
        # An author's own shares, in every period the same place within the prior of that period.
        unit = fixed.integers(0, len(when) // 4, len(when))
        own = gammaincinv(alpha, rng.random((len(when) // 4, topics))[unit]) + 1e-300
        shares = 0.5 * shares + 0.5 * own / own.sum(axis=1, keepdims=True)
    return _totals(rng, shares, LENGTHS[length](fixed, len(when)), when, unit)


def _totals(rng: np.random.Generator, shares: Array, lengths: Array, cells: Array, unit: Array | None) -> UnitTotals:
    counts = rng.multinomial(lengths, shares / shares.sum(axis=1, keepdims=True))
    samples = Samples.of_counts([csr_matrix(counts)], np.zeros((1, shares.shape[1])))
    return unit_totals(samples, lengths.astype(float), cells, int(cells.max()) + 1, unit)


def _moved(totals: UnitTotals) -> Movement:
    return movement(totals, over_time(np.arange(totals.n_cells), totals.cell_weight))


def _false(given: tuple[str, int]) -> tuple[float, float, float]:
    """Any topic said to move; topics with p under .05; series with a change point."""
    totals = corpus(*given)
    found = _moved(totals)
    points = change_points(totals, np.arange(totals.n_cells), deals=0).points
    shown = len({each.topic for each in points}) / totals.n_topics
    return float((found.adjusted < 0.05).any()), float((found.p < 0.05).mean()), shown


def changes_of_none(run: Any, runs: int) -> Iterator[str]:
    yield "\nNothing changes: any topic said to move (wanted .05), topics with p < .05, series with a change point"
    for name in SHAPES:
        found = np.mean(list(run(_false, [(name, seed) for seed in range(4 * runs)])), axis=0)
        yield f"{name:28} {found[0]:.3f} {found[1]:.3f} {found[2]:.4f}"


def _kept(given: tuple[str, int]) -> tuple[float, float]:
    """Whether what was promised of a topic is found in another corpus, and the size; NaN where nothing is promised."""
    name, seed = given
    totals = corpus(name, seed)
    topic = int(np.random.default_rng(seed).integers(0, totals.n_topics))
    size = detectable(totals, _moved(totals), totals.n_cells // 2 - 1, [topic])[topic]
    if np.isnan(size):
        return float("nan"), float("nan")
    return float(_moved(corpus(name, seed, (topic, float(size)))).adjusted[topic] < 0.05), float(size)


def promised(run: Any, runs: int) -> Iterator[str]:
    yield "\nThe least lasting change that is promised: how often found (wanted .75 to .85), mean size, no promise"
    for name in SHAPES:
        found = np.array(list(run(_kept, [(name, seed) for seed in range(5 * runs)])))
        none = np.isnan(found[:, 0]).mean()
        said = "nothing is" if none == 1 else f"{np.nanmean(found[:, 0]):.3f} {np.nanmean(found[:, 1]):.3f}"
        yield f"{name:28} {said} {none:.2f}"


def _smooth(given: tuple[bool, int]) -> tuple[float, float]:
    """How often bands hold the smoothed true shares: all topics, rare ones."""
    authors, seed = given
    rng = np.random.default_rng(seed)
    periods, each, topics = 20, 40, 12
    when = np.repeat(np.arange(periods), each)
    alpha = _prior(topics) * np.exp(0.6 * np.sin(np.arange(periods)[:, None] / 3 + np.arange(topics)))
    truth = alpha / alpha.sum(axis=1, keepdims=True)
    shares = rng.standard_gamma(alpha[when]) + 1e-300
    shares /= shares.sum(axis=1, keepdims=True)
    unit = None
    if authors:
        unit = rng.integers(0, 100, len(when))
        own = gammaincinv(alpha[when], rng.random((100, topics))[unit]) + 1e-300
        shares = 0.5 * shares + 0.5 * own / own.sum(axis=1, keepdims=True)
        drawn = rng.standard_gamma(alpha[:, None, :], (periods, 20_000, topics)) + 1e-300
        truth = (drawn / drawn.sum(axis=2, keepdims=True)).mean(axis=1)
    lengths = LENGTHS["even"](rng, len(when))
    totals = _totals(rng, shares, lengths, when, unit)
    parts = loess_weights(np.arange(periods), totals.cell_weight, 0.5)
    found, true = smoothed(totals, parts), parts @ truth
    inside = (found.low <= true) & (true <= found.high)
    return float(inside.mean()), float(inside[true < 0.03].mean())


def smoothed_bands(run: Any, runs: int) -> Iterator[str]:
    yield "\nBands of LOESS over 20 periods of 40 documents hold the smoothed shares: all topics, those under 3 %"
    for authors in (False, True):
        found = np.nanmean(list(run(_smooth, [(authors, seed) for seed in range(2 * runs)])), axis=0)
        yield f"{'authors across periods' if authors else 'single documents':28} {found[0]:.3f} {found[1]:.3f}"


def _fixed(given: tuple[float, int]) -> tuple[float, float, float]:
    """Groups of unlike composition and no difference within strata: coverage, false differences, and of plain ones."""
    apart, seed = given
    rng = np.random.default_rng(seed)
    n, topics = 900, 10
    stratum = rng.integers(0, 3, n)
    group = np.array([rng.choice(4, p=np.roll([0.55, 0.25, 0.15, 0.05], at)) for at in stratum])
    tilt = np.exp(apart * rng.standard_normal((3, topics)))
    shares = rng.standard_gamma(_prior(topics) * 4 * tilt[stratum]) + 1e-300
    shares /= shares.sum(axis=1, keepdims=True)
    alpha = _prior(topics) * tilt
    truth = (alpha / alpha.sum(axis=1, keepdims=True)).mean(axis=0)
    lengths = LENGTHS["even"](rng, n)
    counts = rng.multinomial(lengths, shares)
    samples = Samples.of_counts([csr_matrix(counts)], np.zeros((1, topics)))
    kept = standardised(np.ones(n), group, 4, stratum).weights
    fixed = unit_totals(samples, kept, group, 4)
    found = prevalence(fixed)
    plain = differences(unit_totals(samples, np.ones(n), group, 4))
    inside = (found.low <= truth) & (truth <= found.high)
    return float(inside.mean()), float((differences(fixed).p < 0.05).mean()), float((plain.p < 0.05).mean())


def fixed_composition(run: Any, runs: int) -> Iterator[str]:
    yield "\nComposition held fixed: coverage, p < .05 of groups that are alike within strata, the same of plain shares"
    for apart in (0.0, 0.5, 1.0):
        found = np.mean(list(run(_fixed, [(apart, seed) for seed in range(4 * runs)])), axis=0)
        yield f"strata apart by {apart:.1f}          {found[0]:.3f} {found[1]:.3f} {found[2]:.3f}"
