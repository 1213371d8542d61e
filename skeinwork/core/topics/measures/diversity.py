"""Diversity: how many of the top words of all topics are different ones.

A. Dieng, F. Ruiz and D. Blei, *Topic modeling in embedding spaces*, TACL 8, 2020.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.said import counted
from skeinwork.core.topics.measures.base import USUAL, Measure, Measured, Part


class Diversity(Measure):
    """Different words among the top words of all topics, by their number.

    Of a topic each word counts by the share of the topics with it that this one is, so that the mean over
    topics is that of the fit.
    """

    key: ClassVar[str] = "diversity"
    title: ClassVar[str] = "Diversity"
    rewards: ClassVar[str] = "topics without top words in common"
    misses: ClassVar[str] = "whether the words belong together, and how much the topics share below the top"
    column: ClassVar[str] = "diversity"
    VERSION: ClassVar[int] = 1

    def of_topics(self, fit: Measured, top: int = USUAL) -> NDArray[np.float64]:
        words = fit.top(top)
        topics_with = np.bincount(words.ravel(), minlength=len(fit.lengths))
        found: NDArray[np.float64] = (1.0 / topics_with[words]).mean(axis=1)
        return found

    def parts(self, fit: Measured, topic: int, top: int = USUAL) -> tuple[str, list[Part]]:
        words = fit.top(top)
        topics_with = np.bincount(words.ravel(), minlength=len(fit.lengths))
        found = [
            Part((word,), f"a top word of {counted(int(topics_with[word]), 'topic')}", 1.0 / int(topics_with[word]))
            for word in words[topic].tolist()
        ]
        return "the mean over words of 1 / topics that have it among their top words", found


MEASURE = Diversity()
