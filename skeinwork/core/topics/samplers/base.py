"""What a sampler of LDA is: it draws the topic of every token anew, given all others and the priors."""

from __future__ import annotations

from abc import ABC, abstractmethod
from typing import ClassVar, Protocol

import numpy as np
from numpy.typing import NDArray


class State(Protocol):
    """What a sampler reads and changes in place.

    Attributes
    ----------
    words, z : int32[n_tokens], term and topic of each token; doc_ptr : int64[n_docs + 1]
    word_topic : int32[n_terms, n_topics]; topic_total : int64[n_topics]
    alpha : float64[n_topics], the document prior; beta : the word prior
    stream : uint64[1], of random numbers
    """

    words: NDArray[np.int32]
    doc_ptr: NDArray[np.int64]
    z: NDArray[np.int32]
    word_topic: NDArray[np.int32]
    topic_total: NDArray[np.int64]
    alpha: NDArray[np.float64]
    beta: float
    stream: NDArray[np.uint64]


class Sampler(ABC):
    """One way to draw the topics of tokens.

    Attributes
    ----------
    title : what the screens call it
    """

    title: ClassVar[str]

    @abstractmethod
    def seconds(self, topics: int) -> float:
        """That a token takes in one sweep, on some machine; only ratios matter."""

    @abstractmethod
    def sweep(self, state: State) -> int:
        """Draw the topic of every token once, in place; how many changed."""
