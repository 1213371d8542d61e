"""Whether words are told apart for nothing, and intervals of their ratios cover: words of known rates, drawn.

A part of ``make calibrate``.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.relate.significance import log_ratio_intervals, significance, unit_counts

Array = NDArray[Any]
WORDS = 40
RATES = np.geomspace(2e-4, 2e-2, WORDS)
# Units of two groups, and how many times as long those of the first are.
SIZES = ((6, 6, 1.0), (10, 100, 1.0), (50, 50, 1.0), (8, 500, 1.0), (200, 800, 1.0), (400, 400, 1.4))
UNLIKE = ((10, 100, 4.0), (8, 500, 8.0), (50, 50, 4.0), (200, 800, 8.0), (200, 800, 0.2), (500, 8, 4.0))
# Of the units, those that speak of a word at all; how unevenly these do (shape of a gamma, 0 for evenly).
CLUMPS = {"even": (1.0, 0.0), "uneven": (1.0, 0.3), "in 1 of 20": (0.05, 0.0), "in 1 of 100": (0.01, 0.0)}


def drawn(
    rng: np.random.Generator, sizes: tuple[int, int, float], clump: str, times: float = 1.0
) -> tuple[csr_matrix, Array]:
    """Words of units of two groups, of which the first says them so many times as often; the last is all others."""
    first, second, longer = sizes
    group = np.repeat([0, 1], [first, second])
    lengths = np.where(group == 0, 60 * longer, 60) * rng.lognormal(0, 0.6, len(group))
    lengths = np.maximum(4, lengths).astype(int)
    speaking, shape = CLUMPS[clump]
    unevenness = rng.gamma(shape, 1 / shape, (len(group), WORDS)) if shape else np.ones((len(group), WORDS))
    rates = RATES * unevenness * (rng.random((len(group), WORDS)) < speaking) / speaking
    rates[group == 0] *= times
    counts = rng.poisson(np.minimum(rates, 0.5) * lengths[:, None])
    others = np.maximum(lengths - counts.sum(axis=1), 0)
    return csr_matrix(np.column_stack([counts, others])), group


def _false(given: tuple[tuple[int, int, float], str, int]) -> tuple[float, float, float]:
    """p under .05, p under .001, anything told apart by the discovery rate; of words of equal rates."""
    sizes, clump, seed = given
    rng = np.random.default_rng([seed, *sizes[:2], len(clump)])
    counts, group = drawn(rng, sizes, clump)
    p = significance(unit_counts(counts, group)).p[0, :WORDS]
    p = p[~np.isnan(p)]
    if not len(p):
        return 0.0, 0.0, 0.0
    return (p <= 0.05).mean(), (p <= 0.001).mean(), float((false_discovery_rates(p) <= 0.05).any())


def _covered(given: tuple[tuple[int, int, float], str, float, int]) -> tuple[float, float]:
    """How often the true ratio is inside, and how often a p contradicts its interval."""
    sizes, clump, times, seed = given
    rng = np.random.default_rng([seed, *sizes[:2], len(clump), int(10 * times)])
    counts, group = drawn(rng, sizes, clump, times)
    found = unit_counts(counts, group)
    p = significance(found).p[0]
    inside, contradicts = [], []
    known = np.flatnonzero(~np.isnan(p[:WORDS])).tolist()
    for word, (low, high) in zip(known, log_ratio_intervals(found, 0, known, p[known]), strict=True):
        inside.append(low <= np.log2(times) <= high)
        contradicts.append((p[word] <= 0.05) != (low > 0 or high < 0))
    return (float(np.mean(inside)), float(np.mean(contradicts))) if inside else (np.nan, 0.0)


def false_words(run: Any, runs: int) -> Iterator[str]:
    yield "\nWords of equal rates: p under .05, under .001, any told apart (wanted .05)"
    for sizes in (*SIZES, *UNLIKE):
        cells = []
        for clump in CLUMPS:
            found = np.mean(list(run(_false, [(sizes, clump, seed) for seed in range(5 * runs)])), axis=0)
            cells.append(f"{clump} {found[0]:.3f} {found[1]:.4f} {found[2]:.3f}")
        yield f"{sizes[0]:4} and {sizes[1]:4} units, {sizes[2]:3} times as long: " + "; ".join(cells)


def ratios_of_words(run: Any, runs: int) -> Iterator[str]:
    yield "\nIntervals of how many times as often: coverage, p against interval"
    for sizes in SIZES[1:]:
        cells = []
        for clump in CLUMPS:
            asked = [(sizes, clump, times, seed) for times in (1.0, 2.0, 4.0) for seed in range(2 * runs)]
            found = np.nanmean(list(run(_covered, asked)), axis=0)
            cells.append(f"{clump} {found[0]:.3f} {found[1]:.3f}")
        yield f"{sizes[0]:4} and {sizes[1]:4} units, {sizes[2]:3} times as long: " + "; ".join(cells)
