"""The ways in which one thing is written in the texts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True)
class Variant:
    """One way in which a phrase or name is written, with the tokens of it."""

    words: str
    tokens: int


def as_cell(variants: Sequence[Variant]) -> str:
    """Variants in a cell of a table: each behind a semicolon, with its tokens."""
    return "; ".join(f"{each.words} {each.tokens}" for each in variants)


def from_cell(cell: str) -> list[str]:
    """What is written in a cell of variants, without the counts behind them.

    >>> from_cell("harbour watch 8; harbour watches 2; pier 9")
    ['harbour watch', 'harbour watches', 'pier']
    """
    found = []
    for part in cell.split(";"):
        words, _, count = part.strip().rpartition(" ")
        found.append(words if words and count.isdigit() else part.strip())
    return [each for each in found if each]
