"""A figure with its working: formula, its own numbers, value."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.relate.group_words import PRIOR_TOKENS, GroupWords
from skeinwork.core.relate.nearest import strongest
from skeinwork.core.working import Line
from skeinwork.work.steps.step import count, counted

_PER = 10_000
# Of what adds up to a figure, so many are written out.
_WRITTEN_OUT = 4


def cosine_line(one: NDArray[np.float64], other: NDArray[np.float64]) -> Line:
    """How the cosine of two vectors, float64[n_dimensions], came about."""
    product = float(one @ other)
    lengths = [float(np.sqrt(each @ each)) for each in (one, other)]
    return Line(
        name="cosine of the vectors",
        formula="Σ x y / (|x| |y|)",
        numbers=f"{product:.4g} / ({lengths[0]:.4g} × {lengths[1]:.4g})",
        value=product / max(lengths[0] * lengths[1], 1e-300),
    )


def sum_in_numbers(parts: NDArray[np.float64], what: str) -> str:
    """The greatest parts of a sum, and of how many ``what`` it is."""
    shown = " + ".join(f"{parts[at]:.3f}" for at in strongest(parts, _WRITTEN_OUT)) or "0"
    number = int((parts > 0).sum())
    return shown + (f" + … ({counted(number, what)})" if number > _WRITTEN_OUT else "")


def words_apart_lines(words: GroupWords, at: int) -> list[Line]:
    """How the figures of one word inside and outside of a group came about."""
    a, b = int(words.inside[at]), int(words.outside[at])
    n, m = int(words.inside.sum()), int(words.outside.sum())
    share = (a + b) / (n + m)
    prior = PRIOR_TOKENS * share
    rates = f"10 000 · {count(a)} / {count(n)}, against 10 000 · {count(b)} / {count(m)} = {_PER * b / m:.2f}"
    expected = f"{n * share:.1f}, {m * share:.1f}, {n * (1 - share):.1f}, {m * (1 - share):.1f}"
    return [
        Line(name="per ten thousand", formula="10 000 · a / n", numbers=rates, value=_PER * a / n),
        Line(
            name="G²",
            formula="2 Σ O ln (O / E), with the sign of the difference",
            numbers=f"O = {count(a)}, {count(b)}, {count(n - a)}, {count(m - b)}; E = {expected}",
            value=float(words.likelihood[at]),
        ),
        Line(
            name="log ratio",
            formula="log₂ ((a + ½) / n) − log₂ ((b + ½) / m)",
            numbers=f"log₂ ({a + 0.5:g} / {count(n)}) − log₂ ({b + 0.5:g} / {count(m)})",
            value=float(words.log_ratio[at]),
        ),
        Line(
            name="weighted log odds",
            formula="(ln (a′ / (n + p − a′)) − ln (b′ / (m + p − b′))) / √ (1/a′ + 1/b′); a′ = a + p s, b′ = b + p s",
            numbers=f"a′ = {a + prior:.2f}, b′ = {b + prior:.2f}, p = {PRIOR_TOKENS:g} tokens, s = {share:.6f}",
            value=float(words.log_odds[at]),
        ),
    ]
