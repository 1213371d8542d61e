"""Stability: how far topics are found again in fits of other seeds."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics import matching
from skeinwork.core.topics.measures.base import SeedsMeasure


class Stability(SeedsMeasure):
    """The mean cosine of the topics of a fit with those that they are matched to, over the fits of other seeds."""

    key: ClassVar[str] = "stability"
    title: ClassVar[str] = "Stability"
    rewards: ClassVar[str] = "topics that are found again from another start; falls when topics are forced"
    misses: ClassVar[str] = "whether they mean anything: a few coarse topics are easily found again"

    def of_seeds(self, words: list[NDArray[np.float64]]) -> NDArray[np.float64]:
        return matching.stability(words)


MEASURE = Stability()
