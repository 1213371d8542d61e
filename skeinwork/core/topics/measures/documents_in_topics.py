"""Documents in topics: how many a method that leaves some out has in any."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.measures.base import FitFigures, FitMeasure


class DocumentsInTopics(FitMeasure):
    """The share of the documents that are in a topic, of a method that leaves some out."""

    key: ClassVar[str] = "documents_in_topics"
    title: ClassVar[str] = "Documents in topics"
    rewards: ClassVar[str] = "topics that have many of the documents"
    misses: ClassVar[str] = "whether those belong there: a wide reach takes in all"

    def of_fit(self, fit: FitFigures) -> float | None:
        return None if fit.steady is None else sum(fit.shares)


MEASURE = DocumentsInTopics()
