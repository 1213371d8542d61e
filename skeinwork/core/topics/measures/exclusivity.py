"""Exclusivity: how much the top words of a topic are its own.

After J. Bischof and E. Airoldi, *Summarizing topical content with word frequency and exclusivity*,
ICML 2012.
"""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.measures.base import Measure, Measured
from skeinwork.core.topics.words import ownness, top_words

TOP = 10  # words of a topic


def exclusivity(topic_word: NDArray[np.float64], count: int = TOP) -> NDArray[np.float64]:
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
    about: ClassVar[str] = "how much the top words are a topic’s own; falls when topics overlap"
    column: ClassVar[str] = "exclusivity"
    VERSION: ClassVar[int] = 0

    def of_topics(self, fit: Measured) -> NDArray[np.float64]:
        return exclusivity(fit.topic_word, min(TOP, len(fit.lengths)))


MEASURE = Exclusivity()
