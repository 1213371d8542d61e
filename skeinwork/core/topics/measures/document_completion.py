"""Held-out fit: how well half the words of documents held out are foretold from their other half.

H. Wallach, I. Murray, R. Salakhutdinov and D. Mimno, *Evaluation methods for topic models*, ICML 2009.
"""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.measures.base import FitFigures, FitMeasure


class DocumentCompletion(FitMeasure):
    """The log-likelihood of a word held out, less that by one topic for all documents."""

    key: ClassVar[str] = "held_out"
    title: ClassVar[str] = "Held-out fit"
    rewards: ClassVar[str] = "topics that foretell words of documents held out, in nats a word above one topic for all"
    misses: ClassVar[str] = "whether people understand the topics: it may still rise when they no longer do"

    def of_fit(self, fit: FitFigures) -> float | None:
        return fit.gain


MEASURE = DocumentCompletion()
