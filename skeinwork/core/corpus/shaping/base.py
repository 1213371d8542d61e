"""What a shaping operation is: it makes another corpus of one, and says what it did."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any, ClassVar, NamedTuple, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.corpus.survey import Survey
from skeinwork.core.errors import BadInputError

Mask = NDArray[np.bool_]
Search = Callable[[Corpus, str], NDArray[np.int64]]
# Marks a setting that names a field of the documents; the screens offer the fields there are.
NAMES_A_FIELD: dict[str, Any] = {"of": "fields"}


class Table(NamedTuple):
    """A table's file by its checksum, with the analyst's name for it."""

    sha256: str
    name: str


@dataclass
class Sources:
    """What operations need besides the corpus: how to search it, where tables lie, its survey.

    ``seconds`` is how long a regular expression may take, where somebody waits for it; None in a
    job, which can be cancelled.
    """

    search: Search
    tables: Mapping[str, Path] = field(default_factory=dict)
    known: Survey | None = None
    seconds: float | None = None


@dataclass
class Done:
    """What an operation did. ``lists`` names things to look at, such as keys without a match."""

    before: int
    after: int
    notes: list[str] = field(default_factory=list)
    lists: dict[str, list[str]] = field(default_factory=dict)


class Operation(BaseModel):
    """One step of shaping. A subclass with a field ``kind`` is offered to the analyst.

    Attributes
    ----------
    title, about, action : what the screens call it, what it is for, and what its button says
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    title: ClassVar[str]
    about: ClassVar[str] = ""
    action: ClassVar[str]
    kind: Any

    @abstractmethod
    def in_words(self) -> str:
        """What it does in a few words."""

    @abstractmethod
    def apply(self, corpus: Corpus, sources: Sources, done: Done) -> Corpus:
        """The corpus that it makes; what there is to know of it goes into ``done``.

        Raises
        ------
        BadInputError
            where it can't be done.
        """

    def tables(self) -> list[Table]:
        """The tables that it needs."""
        return []

    def with_tables(self, tables: Sequence[Table]) -> Self:
        """The same with other tables in the place of its own."""
        return self

    def numbered(self) -> bool:
        """Whether it names documents by their numbers."""
        return False

    def renumbered(self, before: Corpus, after: Corpus) -> Self:
        """The same for another corpus as brought in, naming the same documents."""
        return self


class Keeping(Operation):
    """An operation that keeps some documents as they are."""

    @abstractmethod
    def kept(self, corpus: Corpus, sources: Sources, done: Done) -> Mask:
        """Which documents stay, bool[n_docs]."""

    def apply(self, corpus: Corpus, sources: Sources, done: Done) -> Corpus:
        return corpus.take(self.kept(corpus, sources, done))


def column_of(corpus: Corpus, name: str) -> Column:
    """A field by its name.

    Raises
    ------
    BadInputError
        where there is none, naming those that there are.
    """
    found = corpus.column(name)
    if found is None:
        names = ", ".join(column.name for column in corpus.columns)
        raise BadInputError(f"There is no field “{name}”. The fields are: {names}.")
    return found
