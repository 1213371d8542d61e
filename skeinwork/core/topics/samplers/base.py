"""What a sampler of LDA is: it draws the topic of every token anew, given all others and the priors."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from typing import Any, ClassVar, Protocol

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect
from skeinwork.core.topics.seed_words import SeedTokens


class State(Protocol):
    """What a sampler reads and changes in place.

    Attributes
    ----------
    words, z : int32[n_tokens], term and topic of each token; doc_ptr : int64[n_docs + 1]
    n_terms : how many terms there are
    word_topic : int32[n_terms, n_topics], which a sampler keeps that says so; topic_total : int64[n_topics]
    seeds : tokens that always are of their topic, which both of these count too
    alpha : float64[n_topics], the document prior; beta : the word prior
    stream : uint64[1], of random numbers
    """

    words: NDArray[np.int32]
    doc_ptr: NDArray[np.int64]
    z: NDArray[np.int32]
    n_terms: int
    topic_total: NDArray[np.int64]
    seeds: SeedTokens
    alpha: NDArray[np.float64]
    beta: float
    stream: NDArray[np.uint64]

    @property
    def word_topic(self) -> NDArray[np.int32]: ...


class Sampler(ABC):
    """One way to draw the topics of tokens, of one chain.

    Attributes
    ----------
    name : in the settings; title : what the screens call it
    VERSION : raised when it gives other results
    least_tokens : of a corpus for which it is chosen unasked
    keeps_words : whether it keeps ``word_topic`` of its state; it is counted anew otherwise
    """

    name: ClassVar[str]
    title: ClassVar[str]
    VERSION: ClassVar[int]
    least_tokens: ClassVar[int] = 0
    keeps_words: ClassVar[bool] = False

    @abstractmethod
    def __init__(self, state: State) -> None:
        """For a chain that begins with this state."""

    @classmethod
    @abstractmethod
    def seconds(cls, topics: int) -> float:
        """That a token takes in one sweep, on some machine; only ratios matter."""

    def memory(self) -> dict[str, NDArray[Any]]:
        """What it carries from sweep to sweep beside its state, by names of its own."""
        return {}

    def recall(self, memory: Mapping[str, NDArray[Any]]) -> None:
        """Take up what another of its kind carried, to go on from the same state.

        Raises
        ------
        ContentError
            where that is not what one of this state can have carried.
        """
        expect(not self.memory(), f"the {self.name} sampler carries more than this")

    @abstractmethod
    def sweep(self) -> int:
        """Draw the topics of all tokens in place until they are about as far as draws from all topics
        would bring them; how many changed."""
