"""Smallest topic: the share of the tokens that the smallest topic of a fit has."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.measures.base import FitFigures, FitMeasure


class SmallestTopic(FitMeasure):
    """The share of the tokens that the smallest topic holds."""

    key: ClassVar[str] = "smallest"
    title: ClassVar[str] = "Smallest topic"
    rewards: ClassVar[str] = "fits whose every topic holds a good part of the tokens"
    misses: ClassVar[str] = "that a theme may be small and still be one"

    def of_fit(self, fit: FitFigures) -> float | None:
        return min(fit.shares, default=None)


MEASURE = SmallestTopic()
