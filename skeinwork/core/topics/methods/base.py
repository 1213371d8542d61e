"""What a topic method is."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any, ClassVar, Generic, Literal, TypeVar

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import ConfigDict, Field

from skeinwork.core.kinds import Numbers
from skeinwork.core.progress import Report, silent
from skeinwork.core.said import signed
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.held_out import Gain
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.core.topics.trace import Trend
from skeinwork.core.topics.trace import Verdict as Verdict

MOST_ITERATIONS = 20_000


class MethodSettings(Numbers):
    """What the settings of every method have."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    method: Any
    topics: int = Field(12, strict=True, ge=2, le=500)
    seed: int = Field(1, strict=True, ge=0, le=2**31 - 1)
    iterations: int = Field(400, strict=True, ge=1, le=MOST_ITERATIONS)


@dataclass(frozen=True)
class Watched:
    """A column of a trace: what it is called, what its numbers are, and whether they are of documents held out.

    Such a column is there where documents are held out.
    """

    title: str
    unit: Literal["nats a token", "share", "number"]
    held_out: bool = False


# Where no setting names a term.
NO_COLUMNS: Mapping[str, int] = MappingProxyType({})
S = TypeVar("S", bound=MethodSettings)
_JUDGED: dict[Verdict, str] = {
    "level": "The trace is level",
    "still moving": "Still moving",
    "too short to tell": "The trace is too short to tell whether it moves",
    "stuck": "Stuck",
}


class Method(ABC, Generic[S]):
    """One way to find topics.

    Attributes
    ----------
    name : ``method`` in its settings
    title, about : what the screens call it, and what it is in one line
    VERSION : raised when it gives other results
    settings : the class of its settings
    watches : what its trace holds after the iteration; the last value of the first judges a fit, the more
        the better
    poorer : so far below that of another seed, what it watches first says that a fit is in a poorer mode
    stuck : what it means that the second did not change
    sweeps : names of the settings that a sweep may go over, besides seeds
    placed_by : further numbers of topics that ``place`` reads, by their names
    """

    name: ClassVar[str]
    title: ClassVar[str]
    about: ClassVar[str]
    VERSION: ClassVar[int]
    settings: ClassVar[type[MethodSettings]]
    watches: ClassVar[tuple[Watched, ...]]
    poorer: ClassVar[float]
    stuck: ClassVar[str] = "nothing changed in the last half"
    sweeps: ClassVar[tuple[str, ...]] = ("topics",)
    placed_by: ClassVar[tuple[str, ...]] = ()

    def reads(self, settings: S, lengths: NDArray[np.int8]) -> NDArray[np.bool_]:
        """Which terms a fit reads, bool[n_terms]; ``lengths``, int8[n_terms], are words in each."""
        return np.ones(len(lengths), dtype=bool)

    @abstractmethod
    def check(self, counts: scipy.sparse.csr_matrix, settings: S, columns: Mapping[str, int]) -> None:
        """Raise ``BadInputError`` where a fit to counts, int[n_docs, n_terms], would mean nothing.

        ``columns`` are those of the terms, by what these are called, for settings that name some.
        """

    @abstractmethod
    def fit(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: S,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
        states: States = FORGETFUL,
        others: scipy.sparse.csr_matrix | None = None,
    ) -> TopicModel:
        """Fit to counts, int[n_docs, n_terms]; ``report`` gets the trace and top words so far.

        Parameters
        ----------
        states : of fits that differ in nothing but their iterations: where it goes on from, and leaves its own
        others : int[n_others, n_terms], documents whose words may be foretold as it goes on
        """

    def least_to_go_on(self, reached: int) -> int:
        """The fewest iterations of a fit that goes on from a state after so many."""
        return reached + 1

    @abstractmethod
    def seconds(self, settings: S, tokens: int) -> float:
        """About how long a fit to so many tokens takes, the gain with it; only ratios matter."""

    def fit_share(self, settings: S) -> float:
        """The share of these seconds that the fit takes; the gain takes the rest."""
        return 1.0

    @abstractmethod
    def verdict(self, trace: NDArray[np.float64]) -> Verdict:
        """What a trace says, float64[n_points, 1 + n_watched], of a fit that ended or is at work."""

    def judged(self, verdict: Verdict, change: tuple[float, float, float] | None, ended: bool = True) -> str:
        """What the trace says, in a sentence without its full stop.

        Parameters
        ----------
        change : of what it watches first over the last half, with both ends of its interval
        ended : whether the fit has, so that more iterations would have to be asked for
        """
        said = _JUDGED[verdict] + (f": {self.stuck}" if verdict == "stuck" else "")
        if change:
            first, low, high = (signed(each, 3) for each in change)
            said += f": over the last half the {self.watches[0].title} changed by {first} ({low} to {high})"
        more = ended and verdict in ("still moving", "too short to tell")
        return said + (". Ask for more iterations" if more else "")

    def trend(self, trace: NDArray[np.float64]) -> Trend | None:
        """How much what it watches first still changes over its last half; None where that is not known."""
        return None

    def gain(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: S,
        test: NDArray[np.bool_] | None = None,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
    ) -> Gain | None:
        """How much better such topics foretell words than one topic for all; None if not known.

        Parameters
        ----------
        counts : int[n_docs, n_terms]
        test : bool[n_docs], the documents whose words are to be foretold; None to draw some
        """
        return None

    def advice(
        self, counts: scipy.sparse.csr_matrix, settings: S, columns: Mapping[str, int] = NO_COLUMNS, unsettled: int = 0
    ) -> dict[str, Advice]:
        """What settings may be for counts, int[n_docs, n_terms], by their names; measured in a second or two.

        ``unsettled`` are iterations after which fits of these counts were still moving; 0 where none was.
        """
        return {}

    @abstractmethod
    def place_held_out(
        self, model: TopicModel, counts: scipy.sparse.csr_matrix, test: NDArray[np.bool_], settings: S
    ) -> TopicModel:
        """A model of the other documents with those in ``test``, bool[n_docs], placed among its topics."""

    @abstractmethod
    def place(
        self,
        topic_word: NDArray[np.float64],
        by_topic: Mapping[str, NDArray[np.float64]],
        counts: scipy.sparse.csr_matrix,
        seed: int,
    ) -> Samples:
        """Samples of the topics of documents that a fit has not seen.

        Parameters
        ----------
        topic_word : float64[n_topics, n_terms]; by_topic : as a model has it
        counts : int[n_docs, n_terms]
        """

    def recovery(self, model: TopicModel, lengths: NDArray[np.int64]) -> float | None:
        """At which factor differences between groups come out; None where that is not known.

        Parameters
        ----------
        lengths : int64[n_docs], counted words of each document
        """
        return None

    @abstractmethod
    def remarks(self, model: TopicModel, settings: S) -> str:
        """How the fit was made, in a few words."""

    def parts(self, settings: S) -> dict[str, int]:
        """The versions of what takes part in a fit."""
        return {self.name: self.VERSION}

    @abstractmethod
    def token_weights(self, model: TopicModel, document: int, terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """How much each token of a document is of each topic, float64[n_topics, n_tokens].

        Parameters
        ----------
        terms : int64[n_tokens], the term of each token; -1, which gives zeros, for none
        """

    def said(self, settings: S) -> tuple[str, str]:
        """Its name with the topics, and the seed."""
        return f"{self.title} {settings.topics}", f"seed {settings.seed}"
