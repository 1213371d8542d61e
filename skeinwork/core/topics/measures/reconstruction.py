"""Reconstruction: how much of what is factorised the topics tell."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.measures.base import FitFigures, FitMeasure


class Reconstruction(FitMeasure):
    """The share of the weights that the topics of a factorisation tell."""

    key: ClassVar[str] = "reconstruction"
    title: ClassVar[str] = "Reconstruction"
    rewards: ClassVar[str] = "topics that give the weights of documents again, of those that were factorised"
    misses: ClassVar[str] = "that any more topics tell more: where it bends matters, not where it is highest"

    def of_fit(self, fit: FitFigures) -> float | None:
        return fit.told


MEASURE = Reconstruction()
