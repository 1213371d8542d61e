"""Any two selections of documents held against each other, topic by topic."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.grouping import groups_of
from skeinwork.core.corpus.periods import lie_within, said_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, broken_down
from skeinwork.core.prevalence.differences import ONE, OTHER, Differences, differences
from skeinwork.core.prevalence.totals import UnitTotals
from skeinwork.work.results.view import View
from skeinwork.work.topics.prevalence import Seeds, chains_of, units_held


class Selection(BaseModel):
    """Documents of a group, of a stretch of time, or both; all documents where neither is given."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    value: str | None = Field(None, max_length=400, description="a value of the group field")
    at: str | None = Field(None, max_length=60, description="a period, or two joined by “..”")

    def said(self, by: Breakdown) -> str:
        """In words, the group with the name of its field."""
        group = f"{by.group} {self.value}" if self.value is not None else ""
        return ", ".join(filter(None, (group, said_of(self.at) if self.at else ""))) or "all documents"


@dataclass(frozen=True)
class Compared:
    """Two selections: ``both`` counts documents in both, which are left out of both; ``sides`` are their cells."""

    found: Differences
    totals: UnitTotals
    sides: tuple[list[int], list[int]]
    both: int


def selected(view: View, by: Breakdown, choice: Selection) -> NDArray[np.bool_]:
    """Which documents are meant, bool[n_docs].

    Raises
    ------
    BadInputError
        where there is no such group or period.
    """
    meant = np.ones(len(view.corpus), dtype=bool)
    if choice.value is not None:
        group, names = _groups(view, by)
        meant &= group == _place(by, names, choice.value)
    if choice.at:
        meant &= lie_within(view.corpus.days, view.corpus.precision, choice.at)
    return meant


def _groups(view: View, by: Breakdown) -> tuple[NDArray[np.int64], list[str]]:
    if not by.group:
        raise BadInputError("Choose a field to group by before a value of it.")
    return groups_of(view.corpus, by.group)


def _place(by: Breakdown, names: list[str], value: str) -> int:
    if value not in names:
        raise BadInputError(f"“{value}” is no value of {by.group}.")
    return names.index(value)


def compared(view: View, by: Breakdown, one: Selection, other: Selection | None, seeds: Seeds = ()) -> Compared:
    """One selection against another, or against all other documents.

    Raises
    ------
    BadInputError
        where one of them has no documents.
    """
    if one.value is not None and not one.at and not (other and other.at):
        return _of_groups(view, by, one.value, other.value if other else None, seeds)
    mine = selected(view, by, one)
    theirs = selected(view, by, other) if other else _rest(view, by, one) & ~mine
    both = mine & theirs
    counted = view.token_weights > 0
    for side, choice in ((mine, one), (theirs, other)):
        if not (side & ~both & counted).any():
            name = choice.said(by) if choice else "all others"
            raise BadInputError(f"No documents with counted words are in “{name}” alone. Choose another selection.")
    cells = np.where(both, -1, np.where(mine, 0, np.where(theirs, 1, -1))).astype(np.int64)
    found = Cells(["one", "other"], [""], np.array([[0], [1]]), cells, 2)
    chains = chains_of(view, seeds)
    totals = broken_down(view.model.drawn, view.corpus, by, view.token_weights, chains, found).totals
    sides = np.array([[ONE, OTHER]], dtype=np.int8)
    return Compared(differences(totals, sides), totals, ([0], [1]), int(both.sum()))


def _rest(view: View, by: Breakdown, one: Selection) -> NDArray[np.bool_]:
    """What a stretch of time is held against: all other dates, of the same group where there is one."""
    if not one.at:
        return np.ones(len(view.corpus), dtype=bool)
    return selected(view, by, Selection(value=one.value)) & (view.corpus.days != MISSING)


def _of_groups(view: View, by: Breakdown, value: str, other: str | None, seeds: Seeds) -> Compared:
    """Whole groups, in the cells by which all groups are compared, so that figures are the same there and here."""
    names = _groups(view, by)[1]
    place = _place(by, names, value)
    against = None if other is None else _place(by, names, other)
    if place == against:
        raise BadInputError(f"No documents are in “{value}” alone. Choose another selection.")
    cells, _, totals = units_held(view, by.timeless, seeds)
    mine = cells.group == place
    theirs = ~mine if against is None else cells.group == against
    sides = np.where(mine, ONE, np.where(theirs, OTHER, 0)).astype(np.int8)[None, :]
    held = tuple(np.flatnonzero(each).tolist() for each in (mine, theirs))
    return Compared(differences(totals, sides), totals, (held[0], held[1]), 0)
