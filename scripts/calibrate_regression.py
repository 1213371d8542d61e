"""Simulations of regressions: intervals of predictions and differences, and effects that are not there."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from calibrate_fits import LENGTHS, Array
from scipy.sparse import csr_matrix
from scipy.special import gammaincinv

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.prevalence.breakdown import TIME
from skeinwork.core.prevalence.design_matrix import REST, Design, Regression, design_of
from skeinwork.core.prevalence.regression import regress
from skeinwork.core.topics.model import Samples

# Documents, topics, values of the field, authors (0: none), lengths, whether the field and the time are a pair.
SHAPES: dict[str, tuple[int, int, int, int, str, bool]] = {
    "300, 3 values": (300, 10, 3, 0, "even", False),
    "300, a pair": (300, 10, 3, 0, "even", True),
    "2,000, heavy lengths, a pair": (2000, 20, 5, 0, "heavy", True),
    "1,500 by 60 authors, a pair": (1500, 10, 4, 60, "even", True),
    "3,000 by 300 authors, a pair": (3000, 20, 4, 300, "even", True),
    "400 by 25 authors": (400, 10, 2, 25, "even", False),
    "10,000, 40 topics, a pair": (10_000, 40, 6, 0, "even", True),
}
_DAYS = 4000
# Topics that an effect is planted in: a large, a middling and the rarest.
_PLANTED = (0, 3, -1)


def _shares_of(base: float, level: Any, when: Any, levels: int, effect: float, pair: bool) -> Any:
    """What is planted: values differ, the time rises, and it rises more at one value where they are a pair."""
    more = effect * (level / levels - 0.4) + effect * (when - 0.5)
    return base * (1.0 + more + (effect * (level == 1) * (when - 0.5) if pair else 0.0))


def _drawn(name: str, seed: int, effect: float) -> tuple[Samples, Design, Array, Array, Array]:
    """Samples, the design, base shares, each row's value and time; the field goes with the time, and with authors."""
    n, topics, levels, authors, length, pair = SHAPES[name]
    rng = np.random.default_rng([seed, n, topics, levels, authors])
    usual = np.geomspace(1.0, 0.1, levels)
    level = rng.choice(levels, n, p=usual / usual.sum())
    author = rng.integers(0, authors, n) if authors else np.arange(n)
    if authors:
        level = np.where(rng.random(n) < 0.7, rng.choice(levels, authors, p=usual / usual.sum())[author], level)
    when = np.clip(rng.beta(2, 2, n) * 0.7 + 0.3 * level / levels, 0.0, 1.0)
    days = np.rint(when * _DAYS).astype(np.int32)
    base = np.geomspace(1.0, 0.05, topics)
    base /= base.sum()
    mean = np.tile(base, (n, 1))
    for k in _PLANTED:
        mean[:, k] = _shares_of(base[k], level, days / _DAYS, levels, effect, pair)
    rest = np.setdiff1d(np.arange(topics), np.arange(topics)[list(_PLANTED)])
    mean[:, rest] *= ((1.0 - mean[:, list(_PLANTED)].sum(axis=1)) / mean[:, rest].sum(axis=1))[:, None]
    alpha = mean * 0.1 * topics
    shares = rng.standard_gamma(alpha) + 1e-300
    shares /= shares.sum(axis=1, keepdims=True)
    if authors:
        own = gammaincinv(alpha, rng.random((authors, topics))[author]) + 1e-300
        shares = 0.5 * shares + 0.5 * own / own.sum(axis=1, keepdims=True)
    counts = rng.multinomial(LENGTHS[length](rng, n), shares / shares.sum(axis=1, keepdims=True))
    cells = [("value", level), ("author", author)]
    at = np.arange(n + 1)
    corpus = Corpus(
        np.zeros(n, dtype=np.uint8),
        at.astype(np.int64),
        [encode_column(field, "group", [f"{field[0]}{each}" for each in values]) for field, values in cells],
        days,
        np.zeros(n, dtype=np.uint8),
        *(at[:-1].astype(np.int32) for _ in range(3)),
        ["x"],
    )
    of = Regression(
        factors=("value",), time=True, pairs=(("value", TIME),) if pair else (), unit="author" if authors else None
    )
    design = design_of(corpus, of, np.ones(n))
    samples = Samples.of_counts([csr_matrix(counts)], np.zeros((1, topics)))
    return samples, design, base, level[design.documents], days[design.documents] / _DAYS


def _regressed(given: tuple[str, str, float, int]) -> tuple[float, ...]:
    """Predictions that are covered, those of the rarest topic, differences; p under .05; any effect said."""
    name, link, effect, seed = given
    levels, pair = SHAPES[name][2], SHAPES[name][5]
    samples, design, base, level, when = _drawn(name, seed, effect)
    found = regress(samples, design, link)
    points = found.effects.given
    true = np.empty((len(points), len(_PLANTED)))
    labels = design.terms["value"].labels
    values = [int(each[1:]) if each != REST else levels - 1 for each in labels]
    for row, given_there in enumerate(points):
        at = level if "value" not in given_there else np.full(len(level), values[given_there["value"]])
        day = (
            when
            if TIME not in given_there
            else np.full(len(when), design.terms[TIME].values[given_there[TIME]] / _DAYS)
        )
        for column, k in enumerate(_PLANTED):
            true[row, column] = _shares_of(base[k], at, day, levels, effect, pair).mean()
    planted = list(_PLANTED)
    inside = _covered(found.low[:, planted], true, found.high[:, planted])
    apart = (found.effects.one - found.effects.other) @ true * found.effects.times[:, None]
    told = _covered(found.difference_low[:, planted], apart, found.difference_high[:, planted])
    known = found.p[~np.isnan(found.p)]
    said = bool((found.adjusted < 0.05).any())
    under = (known < 0.05).mean() if len(known) else np.nan
    return np.nanmean(inside), np.nanmean(inside[:, -1]), np.nanmean(told), under, float(said)


def _covered(low: Array, true: Array, high: Array) -> Array:
    """Whether intervals hold what is true; NaN where there is none."""
    return np.where(np.isnan(low), np.nan, (low <= true) & (true <= high))


def regressions(run: Any, runs: int) -> Iterator[str]:
    yield "\nRegressions: intervals of predictions, of the rarest topic, of differences; nothing there: p < .05, any"
    for link in ("identity", "logit"):
        for name in SHAPES:
            there = np.nanmean(list(run(_regressed, [(name, link, 0.6, seed) for seed in range(runs)])), axis=0)
            none = np.nanmean(list(run(_regressed, [(name, link, 0.0, seed) for seed in range(runs)])), axis=0)
            said = " ".join(f"{each:.3f}" for each in (*there[:3], *none[3:]))
            yield f"{link:9} {name:30} {said}"
