"""Words by group: which words set each group of documents apart, and how surely by the units sampled."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar, Self

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, model_validator

from skeinwork.core.content import expect, expect_array, expect_words
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.grouping import groups_of, units_of
from skeinwork.core.corpus.periods import period_index
from skeinwork.core.corpus.renumber import renumber
from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, part_of
from skeinwork.core.relate.settings import GroupWordsSettings
from skeinwork.core.relate.significance import significance, unit_counts
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted
from skeinwork.work.steps.tokens import TOKENS

# More groups than anybody reads, and as many columns as terms times these.
MOST_GROUPS = 300
OTHERS = "the others"


class GroupWordsSummary(BaseModel):
    """Groups compared, documents in them, and terms."""

    groups: int
    documents: int
    terms: int


@dataclass(frozen=True)
class GroupTerms:
    """Terms inside and outside of groups.

    Attributes
    ----------
    names : of the groups
    inside, units : int32[n_groups, n_terms], occurrences in each group, and its units that have the term
    p : float64[n_groups, n_terms], by unit; NaN where a side has too few
    tokens, group_units, documents : int64[n_groups], of each group
    lengths : float64[n_groups], how many times as long its units are as the others, or those as they
    """

    names: list[str]
    inside: NDArray[np.int32]
    units: NDArray[np.int32]
    p: NDArray[np.float64]
    tokens: NDArray[np.int64]
    group_units: NDArray[np.int64]
    documents: NDArray[np.int64]
    lengths: NDArray[np.float64]


_ARRAYS = ("inside", "units", "p", "tokens", "group_units", "documents", "lengths")


class _Wanted(GroupWordsSettings):
    """One of the three ways to group, where a result is made."""

    @model_validator(mode="after")
    def _one(self) -> Self:
        if sum(each is not None for each in (self.field, self.period, self.numbers)) != 1:
            raise ValueError("groups are the values of a field, periods, or chosen documents: one of these")
        return self


class GroupWordsStep(Step[GroupWordsSettings, GroupTerms, GroupWordsSummary]):
    name: ClassVar[str] = "group_words"
    called: ClassVar[str] = "the words of groups"
    missing: ClassVar[str] = "Groups are not compared by their words yet. Compare them at Relate."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = GroupWordsSettings
    summary: ClassVar[type[BaseModel]] = GroupWordsSummary
    needs = (MATRIX, CLEANING, TOKENS, CORPUS)

    @property
    def parents(self) -> tuple[Any, ...]:
        return (MATRIX,)

    def numbered(self, settings: GroupWordsSettings) -> bool:
        return settings.numbers is not None

    def renumbered(self, settings: GroupWordsSettings, before: Corpus, after: Corpus) -> GroupWordsSettings:
        return settings.model_copy(update={"numbers": renumber(before, after, settings.numbers or ())})

    def seconds(self, making: Making, size: int) -> float:
        return 1e-6 * size

    def compute(
        self, earlier: Earlier, settings: GroupWordsSettings, report: Report
    ) -> tuple[GroupTerms, GroupWordsSummary]:
        corpus, matrix = earlier.load(CORPUS), earlier.load(MATRIX)
        group, names = group_of_documents(corpus, settings)
        report("Counting by unit", 0.1)
        found = unit_counts(matrix.counts, group, units_of(corpus, settings.unit))
        tested = significance(found, part_of(report, 0.2, 1.0))
        made = GroupTerms(
            names,
            tested.inside.astype(np.int32),
            tested.units.astype(np.int32),
            tested.p,
            found.tokens,
            found.units,
            np.bincount(group[group >= 0], minlength=len(names)),
            np.array([found.lengths_ratio(each) for each in range(len(names))]),
        )
        return made, _summary(made)

    def save(self, value: GroupTerms) -> tuple[Arrays, Documents]:
        # What is not known is no number, and is stored as 2, which no p is.
        arrays = {name: getattr(value, name) for name in _ARRAYS} | {"p": np.nan_to_num(value.p, nan=2.0)}
        return arrays, {"names": value.names}

    def load(self, stored: Stored, earlier: Earlier) -> GroupTerms:
        parts = {name: stored.array(name) for name in _ARRAYS}
        p = np.where(np.asarray(parts["p"]) > 1.0, np.nan, parts["p"])
        return GroupTerms(names=stored.document("names"), **{**parts, "p": p})

    def check(self, stored: Stored, earlier: Earlier) -> GroupWordsSummary:
        made, counts = self.load(stored, earlier), earlier.load(MATRIX).counts
        n, shape = len(made.names), (len(made.names), counts.shape[1])
        expect_words("names", made.names, n)
        inside = expect_array("inside", made.inside, np.int32, shape, 0)
        expect_array("units", made.units, np.int32, shape, 0, inside)
        expect_array("p", stored.array("p"), np.float64, shape, 0, 2)
        for name in ("tokens", "group_units", "documents"):
            expect_array(name, getattr(made, name), np.int64, (n,), 0)
        expect_array("lengths", made.lengths, np.float64, (n,), 0)
        expect((inside.sum(axis=1) == made.tokens).all(), "tokens are not those of the terms")
        expect(made.documents.sum() <= counts.shape[0], "there are more documents than the matrix has")
        return _summary(made)

    def said(self, settings: GroupWordsSettings, summary: GroupWordsSummary) -> Said:
        """What is compared."""
        by = settings.field or settings.period or settings.said or "chosen documents"
        return Said(name=f"words by {by}", size=counted(summary.groups, "group"))


GROUP_WORDS = GroupWordsStep()


def group_of_documents(corpus: Corpus, settings: GroupWordsSettings) -> tuple[NDArray[np.int64], list[str]]:
    """The group of each document, int64[n_docs], -1 for none, and the groups' names.

    Raises
    ------
    BadInputError
        where there are not two groups, or more than anybody reads.
    """
    _Wanted.model_validate(settings.model_dump())
    if settings.field is not None:
        group, names = groups_of(corpus, settings.field)
    elif settings.period is not None:
        index, periods = period_index(corpus.days, corpus.precision, settings.period)
        used, place = np.unique(index[index >= 0], return_inverse=True)
        group, names = np.full(len(index), -1, dtype=np.int64), [periods[at] for at in used.tolist()]
        group[index >= 0] = place.ravel()
    else:
        chosen = np.isin(corpus.numbers, np.array(settings.numbers, dtype=np.int64))
        group, names = np.where(chosen, 0, 1).astype(np.int64), [settings.said or "chosen", OTHERS]
    if not 2 <= len(names) <= MOST_GROUPS or len(np.unique(group[group >= 0])) < 2:
        raise BadInputError(f"{counted(len(names), 'group')}: two to {MOST_GROUPS} are compared. Choose another field.")
    return group, names


def _summary(made: GroupTerms) -> GroupWordsSummary:
    return GroupWordsSummary(groups=len(made.names), documents=int(made.documents.sum()), terms=made.inside.shape[1])
