"""Whether topics that have nothing to do with each other are told to keep company, and corrected prevalence covers.

A part of ``make calibrate``.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.prevalence.corrected import corrected
from skeinwork.core.topics.checks.coding import coded_strata, coding_sample, precision_and_recall
from skeinwork.core.topics.co_occurrence import co_occurrence
from skeinwork.core.topics.holding import holding

Array = NDArray[Any]
CASES = ("odds that differ", "shares", "tokens of short and long documents", "rare topics", "chances that multiply")


def apart(rng: np.random.Generator, case: str) -> Array:
    """Documents by topics that have nothing to do with each other, bool."""
    if case == "odds that differ":
        odds = np.exp(rng.normal(-1.5, 0.7, 8)[None] + rng.normal(0, 1, 300)[:, None])
        return rng.random((300, 8)) < odds / (1 + odds)
    if case == "shares":
        return rng.dirichlet(rng.uniform(0.05, 0.4, 12), size=1500) > 0.1
    if case == "rare topics":
        return rng.random((8000, 12)) < rng.uniform(0.005, 0.2, 12)
    if case == "chances that multiply":
        chance = rng.uniform(0.03, 0.4, 10)[None] * rng.lognormal(0, 0.6, 400)[:, None]
        return rng.random((400, 10)) < np.clip(chance, 0, 0.95)
    shares = rng.dirichlet(rng.uniform(0.05, 0.4, 12), size=1200)
    lengths = np.clip(rng.lognormal(3.2, 0.9, 1200), 3, 600).astype(int)
    from scipy.sparse import csr_matrix

    tokens = [rng.multinomial(n, share) for n, share in zip(lengths, shares, strict=True)]
    return holding(csr_matrix(np.array(tokens, dtype=np.float64)))


def _of_tables(given: tuple[str, int]) -> tuple[Array, bool]:
    case, run = given
    held = apart(np.random.default_rng([run, len(case)]), case)
    found, pairs = co_occurrence(held, seed=run), np.triu_indices(held.shape[1], 1)
    return found.p[pairs], bool((found.adjusted[pairs] < 0.05).any())


def topics_apart(run: Any, runs: int) -> Iterator[str]:
    """How often pairs of topics without company have a small p, and any is told to keep it."""
    yield "| topics apart | p under .0005 | .002 | .01 | .05 | .5 | any told |\n|---|---|---|---|---|---|---|"
    for case in CASES:
        made = list(run(_of_tables, [(case, at) for at in range(runs)]))
        p = np.concatenate([each for each, _ in made])
        under = " | ".join(f"{(p < least).mean():.4f}" for least in (0.0005, 0.002, 0.01, 0.05, 0.5))
        yield f"| {case} | {under} | {np.mean([told for _, told in made]):.2f} |"


MEANING = {
    "sharp": (0.01, 0.1, 0.4, 0.75, 0.95),
    "rare": (0.0, 0.02, 0.2, 0.6, 0.9),
    "blunt": (0.15, 0.3, 0.5, 0.7, 0.85),
}
PARTS = np.array([0.6, 0.15, 0.1, 0.08, 0.07])
GROUPS = np.array([0.05, 0.15, 0.3, 0.5])


def _of_coding(given: tuple[str, int, int, int]) -> Array:
    """Whether intervals hold what the coders would say of all: precision, recall, and each group."""
    meaning, total, coders, at = given
    rng = np.random.default_rng([at, total, coders])
    right, wrong = (0.95, 0.03) if coders == 1 else (0.85, 0.07)
    rates = np.array(MEANING[meaning])
    cells = rng.choice(4, size=2000, p=GROUPS)
    parts = PARTS * np.exp(np.linspace(-0.8, 0.8, 4)[:, None] * np.arange(5) / 5)
    parts /= parts.sum(axis=1, keepdims=True)
    stratum = (rng.random(2000)[:, None] > parts.cumsum(axis=1)[cells]).sum(axis=1)
    said = np.where(rng.random(2000) < rates[stratum], right, wrong)
    sample = coding_sample(stratum, total, at)
    answers = [{int(one): bool(rng.random() < said[one]) for one in sample} for _ in range(coders)]
    coded = coded_strata(stratum, sample.tolist(), answers)
    precision, recall = precision_and_recall(coded, at)
    found, target = corrected(coded, stratum, cells, 4), parts @ (rates * right + (1 - rates) * wrong)
    held = stratum >= 2
    return np.array(
        [
            (precision.low or 0) <= said[held].mean() <= (precision.high or 0),
            (recall.low or 0) <= said[held].sum() / said.sum() <= (recall.high or 0),
            np.mean((found.low[:, 0] <= target) & (target <= found.high[:, 0])),
        ],
        dtype=np.float64,
    )


def coding_by_hand(run: Any, runs: int) -> Iterator[str]:
    """Coverage of precision, recall and corrected prevalence, by coders with known errors."""
    yield "| what a share means | coded | coders | precision | recall | groups |\n|---|---|---|---|---|---|"
    for meaning in MEANING:
        for total, coders in ((60, 1), (100, 1), (200, 1), (100, 3)):
            made = np.array(list(run(_of_coding, [(meaning, total, coders, at) for at in range(5 * runs)])))
            inside = " | ".join(f"{each:.3f}" for each in made.mean(axis=0))
            yield f"| {meaning} | {total} | {coders} | {inside} |"
