"""Exclusivity: how much the top words of a topic are its own.

After J. Bischof and E. Airoldi, *Summarizing topical content with word frequency and exclusivity*,
ICML 2012.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.measures.base import USUAL, Measure, Measured, Part
from skeinwork.core.topics.words import ownness, top_words


def exclusivity(topic_word: NDArray[np.float64], count: int = USUAL) -> NDArray[np.float64]:
    """Mean ownness of each topic's top words.

    Parameters
    ----------
    topic_word : float64[n_topics, n_terms]; count : how many top words

    Returns
    -------
    float64[n_topics], between 1 / n_topics and 1
    """
    rows = np.arange(len(topic_word))[:, None]
    return ownness(topic_word)[rows, top_words(topic_word, count)].mean(axis=1)


class Exclusivity(Measure):
    """Mean ownness of a topic's top words."""

    key: ClassVar[str] = "exclusivity"
    title: ClassVar[str] = "Exclusivity"
    rewards: ClassVar[str] = "top words that are a topic’s own; falls when topics overlap"
    misses: ClassVar[str] = "whether the words belong together: rare ones are easily a topic’s own"
    column: ClassVar[str] = "exclusivity"
    VERSION: ClassVar[int] = 0

    def of_topics(self, fit: Measured, top: int = USUAL) -> NDArray[np.float64]:
        return exclusivity(fit.topic_word, min(top, len(fit.lengths)))

    def parts(self, fit: Measured, topic: int, top: int = USUAL) -> tuple[str, list[Part]]:
        own = ownness(fit.topic_word)[topic]
        found = [
            Part(
                (word,),
                f"{fit.topic_word[topic, word]:.4f} of {fit.topic_word[:, word].sum():.4f} over all topics",
                float(own[word]),
            )
            for word in fit.top(top)[topic].tolist()
        ]
        return "the mean over words of φ(k, w) / Σ φ(j, w)", found


MEASURE = Exclusivity()
