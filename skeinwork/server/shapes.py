"""Shapes that several answers share."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel


class Interval(BaseModel):
    """An estimate with its 95 % interval."""

    mean: float
    low: float
    high: float


def interval(values: Sequence[float]) -> Interval:
    """Mean, low and high as an interval."""
    mean, low, high = values
    return Interval(mean=mean, low=low, high=high)
