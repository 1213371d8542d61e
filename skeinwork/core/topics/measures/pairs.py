"""Measures of coherence: how the top words of a topic stand together in texts, from pairs of them."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.said import count
from skeinwork.core.topics.measures.base import USUAL, Measure, Measured, Part
from skeinwork.core.topics.measures.windows import Windows

# What is added to the probability of a pair where its logarithm would not be finite (Röder and others 2015).
EPSILON = 1e-12


def probabilities(joint: NDArray[np.int64], total: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """p(i, j), and p(i) p(j), of windows that hold both, int64[n, n], of so many."""
    pair = joint / max(total, 1)
    single = np.diag(pair)
    return pair, np.outer(single, single)


class PairCoherence(Measure):
    """The mean over the pairs of a topic's top words. Words that the texts don't hold are left out.

    Attributes
    ----------
    window : tokens of a window; 0 for whole documents
    formula : of one part, for people
    """

    window: ClassVar[int]

    @abstractmethod
    def scores(self, joint: NDArray[np.int64], total: int) -> NDArray[np.float64]:
        """Of a word with each of those before it, float64[n, n].

        Parameters
        ----------
        joint : int64[n, n], windows that hold both words, the most probable first; the diagonal, all above 0,
            those that hold one
        total : all windows
        """

    formula: ClassVar[str]

    def parts(self, fit: Measured, topic: int, top: int = USUAL) -> tuple[str, list[Part]]:
        words, windows = fit.top_single(top)[topic], fit.windows(self.window, topic)
        joint = windows.among(words)
        held = np.flatnonzero(np.diag(joint) > 0)
        joint, words = joint[np.ix_(held, held)], words[held]
        return self.formula, self.parts_of(words, joint, windows.total)

    def parts_of(self, words: NDArray[np.int64], joint: NDArray[np.int64], total: int) -> list[Part]:
        """Of the pairs of words, int64[n], the most probable first; see ``scores``."""
        scores = self.scores(joint, total)
        what = "windows" if self.window else "documents"
        return [
            Part(
                (int(words[i]), int(words[j])),
                f"both in {count(int(joint[i, j]))}, each in {count(int(joint[i, i]))} and "
                f"{count(int(joint[j, j]))} of {count(total)} {what}",
                float(scores[i, j]),
            )
            for i in range(len(words))
            for j in range(i)
        ]

    def of_words(self, joint: NDArray[np.int64], total: int) -> float:
        """Of the words of a topic; see ``scores``."""
        return float(self.scores(joint, total)[np.tril_indices(len(joint), -1)].mean())

    def of_topics(self, fit: Measured, top: int = USUAL) -> NDArray[np.float64]:
        return self.of_top_words(fit.top_single(top), lambda topic: fit.windows(self.window, topic))

    def of_top_words(self, top_words: NDArray[np.int64], windows_of: Callable[[int], Windows]) -> NDArray[np.float64]:
        """The same of words of each topic, int64[n_topics, n_top], the most probable first, with its windows."""
        found = np.full(len(top_words), np.nan)
        for topic, words in enumerate(top_words):
            windows = windows_of(topic)
            joint = windows.among(words)
            held = np.diag(joint) > 0
            if held.sum() > 1:
                found[topic] = self.of_words(joint[np.ix_(held, held)], windows.total)
        return found
