"""Settled: whether a fit had come to rest at its last iteration."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.measures.base import FitFigures, FitMeasure


class Settled(FitMeasure):
    """1 where the trace of a fit is level at the end, else 0; the mean over seeds is the share that settled."""

    key: ClassVar[str] = "settled"
    title: ClassVar[str] = "Settled"
    rewards: ClassVar[str] = "fits whose trace is level at the end, so that more iterations would change little"
    misses: ClassVar[str] = "whether where they came to rest is any good"

    def of_fit(self, fit: FitFigures) -> float | None:
        return float(fit.level)


MEASURE = Settled()
