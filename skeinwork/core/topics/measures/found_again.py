"""Found again: the share of the topics of a fit that most other seeds find too."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics import matching
from skeinwork.core.topics.measures.base import SeedsMeasure


class FoundAgain(SeedsMeasure):
    """The share of the topics that are found again in more than half of the fits of other seeds."""

    key: ClassVar[str] = "found_again"
    title: ClassVar[str] = "Topics found again"
    rewards: ClassVar[str] = "fits most of whose topics are found in most other seeds"
    misses: ClassVar[str] = "how alike they are beyond that"

    def of_seeds(self, words: list[NDArray[np.float64]]) -> NDArray[np.float64]:
        others = len(words) - 1
        again = [matching.recurrence(each, [*words[:at], *words[at + 1 :]]) for at, each in enumerate(words)]
        return np.array([float(np.mean(counts > others / 2)) if len(counts) else np.nan for counts in again])


MEASURE = FoundAgain()
