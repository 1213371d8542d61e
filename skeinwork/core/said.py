"""Numbers as people read them."""

from __future__ import annotations

from collections.abc import Sequence


def count(number: int) -> str:
    """A whole number, in groups of three digits."""
    return f"{number:,}".replace(",", "\u202f")


def counted(number: int, noun: str) -> str:
    """So many of something."""
    return f"{count(number)} {noun}{'' if number == 1 else 's'}"


def decimal(number: float, digits: int = 2) -> str:
    """With so many digits after the point, and a true minus, which 0 has none of."""
    return f"{round(number, digits) + 0.0:.{digits}f}".replace("-", "−")


def signed(number: float, digits: int = 2) -> str:
    """As ``decimal``, a plus before what is not below 0."""
    return f"{number:+.{digits}f}".replace("-", "−")


def listed(parts: Sequence[str]) -> str:
    """Words in a row, as they are read.

    >>> listed(["4", "6", "9"])
    '4, 6 and 9'
    """
    return " and ".join(filter(None, (", ".join(parts[:-1]), *parts[-1:])))
