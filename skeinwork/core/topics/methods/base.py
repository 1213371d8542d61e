"""What a topic method is."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Annotated, Any, ClassVar, Generic, Literal, NamedTuple, TypeVar

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.kinds import Numbers
from skeinwork.core.matrix.split import Split
from skeinwork.core.progress import Report, silent
from skeinwork.core.said import signed
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.gain import Foretold, Gain
from skeinwork.core.topics.model import TopicModel, Topics
from skeinwork.core.topics.placing import Placed
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.core.topics.trace import Trend
from skeinwork.core.topics.trace import Verdict as Verdict
from skeinwork.core.working import Working

MOST_ITERATIONS = 20_000


class Vectors(NamedTuple):
    """Documents that have a vector, int64[n_items], rising; and these, float32[n_items, n_dimensions] of length 1."""

    documents: NDArray[np.int64]
    unit: NDArray[np.float32]

    def of(self, wanted: NDArray[np.bool_]) -> Vectors:
        """Those of some documents, bool[n_docs]."""
        held = wanted[self.documents]
        return Vectors(self.documents[held], self.unit[held])


class NoTopicsError(BadInputError):
    """There is nothing that a method would call a topic."""


class Continues(Numbers):
    """A fit that goes on with all documents, from the topics of one that has not seen some of them."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    split: Split = Field(description="the documents that the first part did not see")
    iterations: int = Field(strict=True, ge=1, le=MOST_ITERATIONS, description="of the first part")


class MethodSettings(Numbers):
    """What the settings of every method have."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    method: Any
    topics: int = Field(12, strict=True, ge=2, le=500)
    seed: int = Field(1, strict=True, ge=0, le=2**31 - 1)
    iterations: int = Field(400, strict=True, ge=1, le=MOST_ITERATIONS)
    continues: Continues | None = Field(None, description="the fit that this one goes on from, with all documents")
    merged: tuple[tuple[Annotated[int, Field(strict=True, ge=0, lt=500)], ...], ...] = Field(
        (), max_length=250, description="topics of the fit that are taken together as one, by their numbers from 0"
    )

    @property
    def left(self) -> int:
        """Topics that are left after merging."""
        return self.topics - sum(len(group) - 1 for group in self.merged)


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


def expect_documents(counts: scipy.sparse.csr_matrix, topics: int) -> None:
    """Raise ``BadInputError`` for an empty vocabulary, one document, more topics than documents with words.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    """
    filled = int((np.diff(counts.indptr) > 0).sum())
    if counts.shape[1] == 0 or filled == 0:
        raise BadInputError("The vocabulary is empty, so there is nothing to fit.")
    if filled == 1:
        raise BadInputError(
            "Only one document has counted words, and one makes no topics. Bring in more at Gather, or "
            "cut it into parts there."
        )
    if topics > filled:
        raise BadInputError(f"{topics} topics are more than the {filled} documents with words. Ask for fewer.")


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
    placed_by, weighs_by, told_by : further numbers that ``place`` reads, by their names: of topics, of terms,
        and of the method's
    shares_of : what a topic's share is a part of
    gives_intervals : of the shares of documents that ``place`` is given
    stops : its fits stop by themselves, so that none that is level can go on
    reads_vectors : of documents, by ``vectors`` of its settings
    finds : how many topics there are, up to those asked for
    finishing : settings that only what comes last heeds, besides iterations: fits that differ in these alone go on
        from each other's states
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
    weighs_by: ClassVar[tuple[str, ...]] = ()
    told_by: ClassVar[tuple[str, ...]] = ()
    shares_of: ClassVar[str] = "tokens"
    gives_intervals: ClassVar[bool] = True
    stops: ClassVar[bool] = False
    reads_vectors: ClassVar[bool] = False
    finds: ClassVar[bool] = False
    finishing: ClassVar[tuple[str, ...]] = ()

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
        begun: Topics | None = None,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        """Fit to counts, int[n_docs, n_terms]; ``report`` gets the trace and top words so far.

        Parameters
        ----------
        states : of fits that differ in nothing but their iterations: where it goes on from, and leaves its own
        others : int[n_others, n_terms], documents whose words may be foretold as it goes on
        begun : topics to begin with, of the same terms, in place of a start
        vectors : of the documents, for a method that reads them
        """

    def least_to_go_on(self, reached: int) -> int:
        """The fewest iterations of a fit that goes on from a state after so many."""
        return reached + 1

    @abstractmethod
    def seconds(self, settings: S, tokens: int) -> float:
        """About how long a fit to so many tokens takes, the gain with it; only ratios matter."""

    def seeded(self, settings: S) -> bool:
        """Whether another seed makes another fit."""
        return True

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
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
    ) -> Gain | None:
        """How much better topics like a fit's foretell words than one topic for all; None if not known.

        They are fitted to most of the documents, int[n_docs, n_terms], and foretell the words of the rest.
        """
        return None

    def foretold(self, model: TopicModel, counts: scipy.sparse.csr_matrix, settings: S) -> Foretold | None:
        """What the fit's own topics foretell of documents that it has not seen, int[n_others, n_terms]."""
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
        self,
        model: TopicModel,
        counts: scipy.sparse.csr_matrix,
        test: NDArray[np.bool_],
        settings: S,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        """A model of the other documents with those in ``test``, bool[n_docs], placed among its topics."""

    @abstractmethod
    def place(self, topics: Topics, counts: scipy.sparse.csr_matrix, settings: S) -> Placed:
        """Documents that a fit has not seen, int[n_docs, n_terms], among its topics."""

    def recovery(self, model: TopicModel, lengths: NDArray[np.int64], settings: S) -> float | None:
        """At which factor differences between groups come out; None where that is not known.

        Parameters
        ----------
        lengths : int64[n_docs], counted words of each document
        """
        return None

    def shares_said(self, model: TopicModel, settings: S) -> str:
        """What is to be said of shares in groups and periods, and of their intervals; empty for those of tokens."""
        return ""

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

    def share_working(
        self, model: TopicModel, topic: int, document: int, counts: scipy.sparse.csr_matrix, settings: S
    ) -> Working:
        """How a topic's share of a document came about; ``counts``, int[1, n_terms], are the document's."""
        return Working()

    def word_working(self, model: TopicModel, topic: int, term: int, counts: scipy.sparse.csr_matrix) -> Working:
        """How a word's weight in a topic came about; ``counts``, int[n_docs, n_terms]."""
        return Working()

    def watched_working(self, model: TopicModel, counts: scipy.sparse.csr_matrix, settings: S) -> Working:
        """How the last value of what it watches first came about, of the documents fitted, int[n_docs, n_terms]."""
        return Working()

    def said(self, settings: S) -> tuple[str, str]:
        """Its name with the topics, and the seed."""
        return f"{self.title} {settings.topics}", f"seed {settings.seed}"
