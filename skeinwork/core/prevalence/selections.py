"""Selections of documents, by group and time, and two of them held against each other."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.grouping import groups_of
from skeinwork.core.corpus.periods import lie_within, said_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, Held
from skeinwork.core.prevalence.differences import ONE, OTHER, Differences, differences
from skeinwork.core.prevalence.totals import UnitTotals

# What units hold in the cells of a breakdown, or in given ones.
Hold = Callable[[Breakdown, Cells | None], Held]


class Selection(BaseModel):
    """Documents of a group, of a stretch of time, or both; all documents where neither is given."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    value: str | None = Field(None, max_length=400, description="a value of the group field")
    at: str | None = Field(None, max_length=60, description="a period, or two joined by “..”")

    def said(self, by: Breakdown) -> str:
        """In words, the group with the name of its field."""
        group = f"{by.group} {self.value}" if self.value is not None else ""
        return ", ".join(filter(None, (group, said_of(self.at) if self.at else ""))) or "all documents"

    def rest_said(self, by: Breakdown) -> str:
        """What it is held against where nothing else is chosen."""
        if self.at and self.value is not None:
            return f"all other dates of {by.group} {self.value}"
        return "all other dates" if self.at else "all others"


@dataclass(frozen=True)
class Compared:
    """Two selections: ``both`` counts documents in both, which are left out of both; ``sides`` are their cells."""

    found: Differences
    totals: UnitTotals
    sides: tuple[list[int], list[int]]
    both: int


def selected(corpus: Corpus, by: Breakdown, choice: Selection) -> NDArray[np.bool_]:
    """Which documents are meant, bool[n_docs].

    Raises
    ------
    BadInputError
        where there is no such group or period.
    """
    meant = np.ones(len(corpus), dtype=bool)
    if choice.value is not None:
        group, names = _groups(corpus, by)
        meant &= group == _place(by, names, choice.value)
    if choice.at:
        meant &= lie_within(corpus.days, corpus.precision, choice.at)
    return meant


def apart(
    corpus: Corpus, by: Breakdown, one: Selection, other: Selection | None, counted: NDArray[np.bool_]
) -> tuple[NDArray[np.int64], int]:
    """The side of each document, int64[n_docs]: 0, 1, or -1 for neither; and how many are on both, left out.

    Parameters
    ----------
    other : all other documents where it is left out, of the same group where there is a time
    counted : bool[n_docs], documents with counted words

    Raises
    ------
    BadInputError
        where one of them has no documents.
    """
    mine = selected(corpus, by, one)
    theirs = selected(corpus, by, other) if other else _rest(corpus, by, one) & ~mine
    both = mine & theirs
    for side, name in ((mine, one.said(by)), (theirs, other.said(by) if other else "all others")):
        if not (side & ~both & counted).any():
            raise BadInputError(f"No documents with counted words are in “{name}” alone. Choose another selection.")
    return np.where(both, -1, np.where(mine, 0, np.where(theirs, 1, -1))).astype(np.int64), int(both.sum())


def compared(
    corpus: Corpus, by: Breakdown, one: Selection, other: Selection | None, counted: NDArray[np.bool_], hold: Hold
) -> Compared:
    """One selection against another, or against all other documents.

    Whole groups are compared in the cells by which all groups are, so that figures are the same there and here.

    Raises
    ------
    BadInputError
        where one of them has no documents.
    """
    if one.value is not None and not one.at and not (other and other.at):
        return _of_groups(corpus, by, one.value, other.value if other else None, hold)
    side, both = apart(corpus, by, one, other, counted)
    cells = Cells(["one", "other"], [""], np.array([[0], [1]]), side, 2)
    totals = hold(by, cells).totals
    sides = np.array([[ONE, OTHER]], dtype=np.int8)
    return Compared(differences(totals, sides), totals, ([0], [1]), both)


def _groups(corpus: Corpus, by: Breakdown) -> tuple[NDArray[np.int64], list[str]]:
    if not by.group:
        raise BadInputError("Choose a field to group by before a value of it.")
    return groups_of(corpus, by.group)


def _place(by: Breakdown, names: list[str], value: str) -> int:
    if value not in names:
        raise BadInputError(f"“{value}” is no value of {by.group}.")
    return names.index(value)


def _rest(corpus: Corpus, by: Breakdown, one: Selection) -> NDArray[np.bool_]:
    """All documents of a known group, or date; of a stretch of time within the same group where there is one."""
    if not one.at:
        return np.ones(len(corpus), dtype=bool) if one.value is None else _groups(corpus, by)[0] >= 0
    return selected(corpus, by, Selection(value=one.value)) & (corpus.days != MISSING)


def _of_groups(corpus: Corpus, by: Breakdown, value: str, other: str | None, hold: Hold) -> Compared:
    names = _groups(corpus, by)[1]
    place = _place(by, names, value)
    against = None if other is None else _place(by, names, other)
    if place == against:
        raise BadInputError(f"No documents are in “{value}” alone. Choose another selection.")
    cells, _, totals = hold(by.timeless, None)
    mine = cells.group == place
    theirs = ~mine if against is None else cells.group == against
    sides = np.where(mine, ONE, np.where(theirs, OTHER, 0)).astype(np.int8)[None, :]
    held = tuple(np.flatnonzero(each).tolist() for each in (mine, theirs))
    return Compared(differences(totals, sides), totals, (held[0], held[1]), 0)
