"""A figure with its working: formula, its own numbers, value."""

from __future__ import annotations

from skeinwork.core.relate.group_words import PRIOR_TOKENS, GroupWords
from skeinwork.core.working import Line
from skeinwork.work.steps.step import count

_PER = 10_000


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
