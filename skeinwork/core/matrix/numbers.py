"""Logarithms by their base, and numbers as they are put into a formula."""

from __future__ import annotations

from enum import StrEnum
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

# What another base of the logarithm does to a weight: nothing, it multiplies all alike, or not all alike.
Logarithms = Literal["none", "multiplied by", "added to"]


class Base(StrEnum):
    """The base of a logarithm."""

    E = "e"
    TWO = "2"
    TEN = "10"

    @property
    def sign(self) -> str:
        """How it is written before a number."""
        return {"e": "ln", "2": "log₂", "10": "log₁₀"}[self]


def log(values: Any, base: str) -> NDArray[np.float64]:
    """The logarithm, float64 and of the same shape, of values above zero, in a base of ``Base``."""
    by = {Base.E: np.log, Base.TWO: np.log2, Base.TEN: np.log10}[Base(base)]
    return np.asarray(by(np.asarray(values, dtype=np.float64)))


def said(value: Any) -> str:
    """A number with up to five digits behind the point, those of thousands apart.

    >>> said(12), said(0.25), said(2.079441542), said(np.array([25488.0]))
    ('12', '0.25', '2.07944', '25\\u202f488')
    """
    number = float(np.asarray(value, dtype=np.float64).reshape(-1)[0])
    if number and abs(number) < 1e-4:
        return f"{number:.3g}"
    text = f"{number:,.5f}".rstrip("0").rstrip(".").replace(",", "\u202f")
    return text.replace("-", "−")
