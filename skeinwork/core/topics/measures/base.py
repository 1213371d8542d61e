"""What a measure of a fit is: its words, its direction, and its value for every topic."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.topics.measures.windows import Texts, Windows
from skeinwork.core.topics.words import top_words

# Words of a topic that measures look at: few say what a topic is called, many what it is of.
TOPS = (5, 10, 20)
USUAL = 10
# Topics whose words are counted in one go.
AT_A_TIME = 100


@dataclass(frozen=True)
class Measured:
    """What a measure looks at: the topics of a fit that are not empty, and texts to count words in.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms], each row sums to one
    lengths : int8[n_terms], words in each term
    texts : those that the topics came from as cleaning left them, or others of the same terms
    """

    topic_word: NDArray[np.float64]
    lengths: NDArray[np.int8]
    texts: Texts
    _windows: dict[tuple[int, int], Windows] = field(default_factory=dict, repr=False)

    def top(self, count: int) -> NDArray[np.int64]:
        """The most probable terms of each topic, int64[n_topics, count] or fewer."""
        return top_words(self.topic_word, count)

    def top_single(self, count: int) -> NDArray[np.int64]:
        """The same of one-word terms alone, since windows count words."""
        single = self.lengths == 1
        return top_words(np.where(single, self.topic_word, -1.0), min(count, int(single.sum())))

    def windows(self, size: int, topic: int) -> Windows:
        """The windows, of ``size`` tokens, or 0 for whole documents, that hold the top words of a topic.

        They are counted for some topics at a time: of all pairs of words of many there are too many.
        """
        block = topic // AT_A_TIME
        if (size, block) not in self._windows:
            watched = np.unique(self.top_single(TOPS[-1])[block * AT_A_TIME : (block + 1) * AT_A_TIME])
            self._windows[size, block] = Windows.count(self.texts, watched, len(self.lengths), size)
        return self._windows[size, block]

    def missing(self) -> tuple[int, int]:
        """How many top words there are, and how many of them the texts don't hold."""
        first = range(0, len(self.topic_word), AT_A_TIME)
        seen = [self.windows(0, topic) for topic in first]
        held = {word: n > 0 for each in seen for word, n in zip(each.words.tolist(), np.diag(each.joint), strict=True)}
        return len(held), sum(not there for there in held.values())


@dataclass(frozen=True)
class Part:
    """One of the values that a measure is the mean of: of which terms it is, and from what numbers it comes."""

    terms: tuple[int, ...]
    numbers: str
    value: float


class Described(ABC):
    """What is said of a measure.

    Attributes
    ----------
    key : in summaries, answers and addresses
    title : for people
    rewards, misses : what is high in it, and what it does not see, a few words each
    rises : whether more is better
    """

    key: ClassVar[str]
    title: ClassVar[str]
    rewards: ClassVar[str]
    misses: ClassVar[str]
    rises: ClassVar[bool] = True


class Measure(Described):
    """A number for a fit, the mean over its topics. It holds no state; ``MEASURES`` is all there is of them.

    Attributes
    ----------
    column : its name in files, for each topic
    VERSION : raised when its values change; 0 for one that took part before measures had versions
    """

    column: ClassVar[str]
    VERSION: ClassVar[int]

    @abstractmethod
    def of_topics(self, fit: Measured, top: int = USUAL) -> NDArray[np.float64]:
        """Its value for every topic by the ``top`` words of each, float64[n_topics]; NaN where there is none."""

    @abstractmethod
    def parts(self, fit: Measured, topic: int, top: int = USUAL) -> tuple[str, list[Part]]:
        """What the value of a topic is the mean of: a formula, and the parts with their own numbers."""


@dataclass(frozen=True)
class FitFigures:
    """What a fit says of itself.

    Attributes
    ----------
    shares : of its topics among all tokens
    gain : nats a token by which it foretells better than one topic; None where that is not known
    told : the share of the weights that its topics tell; None for a method that tells of no weights
    level : whether its trace is level at the end
    steady : the share of documents that keep their topic in halves; None for a method that looks at none
    """

    shares: Sequence[float]
    gain: float | None
    told: float | None
    level: bool
    steady: float | None = None


class FitMeasure(Described):
    """A number for a fit as a whole, from what it says of itself."""

    @abstractmethod
    def of_fit(self, fit: FitFigures) -> float | None:
        """Its value; None where there is none."""


class SeedsMeasure(Described):
    """A number for each of several fits that differ by their seeds alone."""

    @abstractmethod
    def of_seeds(self, words: list[NDArray[np.float64]]) -> NDArray[np.float64]:
        """Its value for every fit, float64[n_fits].

        Parameters
        ----------
        words : two fits or more; of each, float64[n_live, n_terms], what the words of its topics have above all others
        """
