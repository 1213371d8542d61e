"""What a measure of a fit is: its words, its direction, and its value for every topic."""

from __future__ import annotations

from abc import ABC, abstractmethod
from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Measured:
    """What a measure looks at: the topics of a fit that are not empty, and the texts they came from.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms], each row sums to one
    lengths : int8[n_terms], words in each term
    stream : int32[n_tokens], term of each token that cleaning left, -1 for terms that pruning dropped
    doc_ptr : int64[n_docs + 1], where documents begin in it
    """

    topic_word: NDArray[np.float64]
    lengths: NDArray[np.int8]
    stream: NDArray[np.int32]
    doc_ptr: NDArray[np.int64]


class Measure(ABC):
    """A number for a fit, the mean over its topics. It holds no state; ``MEASURES`` is all there is of them.

    Attributes
    ----------
    key : in summaries, answers and addresses
    title, about : for people; what it is, what it rewards and what it misses
    column : its name in files, for each topic
    rises : whether more is better
    VERSION : raised when its values change; 0 for one that took part before measures had versions
    """

    key: ClassVar[str]
    title: ClassVar[str]
    about: ClassVar[str]
    column: ClassVar[str]
    rises: ClassVar[bool] = True
    VERSION: ClassVar[int]

    @abstractmethod
    def of_topics(self, fit: Measured) -> NDArray[np.float64]:
        """Its value for every topic, float64[n_topics]; NaN where there is none."""
