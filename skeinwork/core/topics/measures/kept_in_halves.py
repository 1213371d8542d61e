"""Kept in halves: how many documents keep their topic where it is looked for among half of them."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.measures.base import FitFigures, FitMeasure


class KeptInHalves(FitMeasure):
    """The share of the documents with a topic that have the same in a half of the documents, the mean over halves."""

    key: ClassVar[str] = "kept_in_halves"
    title: ClassVar[str] = "Kept in halves"
    rewards: ClassVar[str] = "groups of documents that are found in halves of them too, with other smallest topics"
    misses: ClassVar[str] = "how many documents are in no topic"

    def of_fit(self, fit: FitFigures) -> float | None:
        return fit.steady


MEASURE = KeptInHalves()
