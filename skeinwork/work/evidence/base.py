"""What a kind of evidence is: one way in which something selected stands for documents.

A *leading* kind scores documents and marks the words that count; a *narrowing* kind says which
documents are meant at all. A request has one leading kind at most, and any number of narrowing ones.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.text.clean import Cleaning
from skeinwork.work.results.view import View

Labels = Mapping[int, str]


class Asked(BaseModel):
    """What of the request belongs to a kind; every field may be left out."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    of_fit: str | None = Field(
        None, pattern="^[0-9a-f]{64}$", description="the fit that topics are of, where that is not the strand’s"
    )


@dataclass(frozen=True)
class Scores:
    """Of every document, 0 where it is no evidence; ``why`` says how they are ranked."""

    values: NDArray[np.float64]
    why: str


@dataclass(frozen=True)
class Marks:
    """Tokens of a document that count, by weight, in the stream of a cleaning."""

    cleaning: Cleaning
    weights: NDArray[np.float64]
    kind: str = "marked"


@dataclass(frozen=True)
class Piece:
    """Why a document is evidence: its score for people, and the reason in words."""

    score: str
    reason: str


class Evidence(ABC):
    """One kind.

    Attributes
    ----------
    asked : its fields of the request
    names : the field that says whether it is asked for
    """

    asked: ClassVar[type[Asked]]
    names: ClassVar[str]

    def given(self, request: Any) -> bool:
        """Whether a request asks for this kind."""
        return getattr(request, self.names) not in (None, "")

    @abstractmethod
    def title(self, view: View, request: Any, labels: Labels) -> str:
        """What is selected, in a few words; ``labels`` are those of the topics that have one."""

    def where(self, view: View, request: Any) -> str:
        """The same where it only narrows something else."""
        return self.title(view, request, {})


class Leading(Evidence):
    """A kind that scores documents and marks words."""

    @abstractmethod
    def scores(self, view: View, request: Any) -> Scores:
        """The score of every document."""

    @abstractmethod
    def piece(self, view: View, request: Any, document: int, score: float) -> Piece:
        """Why a document is there."""

    @abstractmethod
    def marks(self, view: View, request: Any, document: int) -> Marks:
        """Which of its words count."""


class Narrowing(Evidence):
    """A kind that says which documents are meant."""

    @abstractmethod
    def keep(self, view: View, request: Any) -> NDArray[np.bool_]:
        """Which documents are meant, bool[n_docs]."""

    def reason(self, view: View, request: Any, document: int) -> str:
        """More to say of a document; empty where there is nothing."""
        return ""
