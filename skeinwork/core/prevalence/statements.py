"""Statements on how much some documents hold of a topic, or of a word, that can be tested again over other choices.

One selection against another or all others, or several in the order of what they hold. Each step of an order is a
contrast; the order is as sure as its least sure step.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from functools import cache
from itertools import pairwise
from typing import Literal

import numpy as np
import scipy
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.grouping import groups_of, units_of
from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, Held, broken_down
from skeinwork.core.prevalence.movement import SURE
from skeinwork.core.prevalence.selections import Selection, apart, compared
from skeinwork.core.progress import Report, silent
from skeinwork.core.relate.significance import log_ratio_intervals, significance, unit_counts
from skeinwork.core.topics.model import Samples

VERSION = 1
Verdict = Literal["holds", "leans", "turns", "reversed", "untold", "lost"]
# Selections in one order: more nobody says in a sentence.
MOST_SIDES = 12


class Saying(BaseModel):
    """What somebody says of some documents, whether or not it means anything."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    by: Breakdown
    sides: tuple[Selection, ...] = Field(
        min_length=1, max_length=MOST_SIDES, description="that hold less and less; one alone is held against all others"
    )
    less: bool = Field(False, description="one alone holds less than all others")


class Statement(Saying):
    """What is said of some documents."""

    @model_validator(mode="after")
    def _possible(self) -> Statement:
        if self.less and len(self.sides) > 1:
            raise ValueError("of several sides each holds more than the next")
        if len(set(self.sides)) < len(self.sides):
            raise ValueError("each side stands in it once")
        if not self.by.group and any(each.value is not None for each in self.sides):
            raise ValueError("values are those of a group field")
        return self

    def pairs(self) -> Iterator[tuple[Selection, Selection | None]]:
        """Each side with the next; one alone with all others."""
        if len(self.sides) == 1:
            yield self.sides[0], None
        yield from pairwise(self.sides)

    def said(self, more: str) -> str:
        """In words: ``more`` is what the one has, such as “more of it”."""
        names = [each.said(self.by) for each in self.sides]
        if len(names) == 1:
            return f"{'less' if self.less else 'more'} {more} in {names[0]} than in {self.sides[0].rest_said(self.by)}"
        if len(names) == 2:
            return f"more {more} in {names[0]} than in {names[1]}"
        values = [each.value for each in self.sides if each.value is not None and not each.at]
        if len(values) == len(names):
            return f"less and less {more} by {self.by.group}, from {' to '.join(values)}"
        return f"less and less {more} from {' to '.join(names)}"


class SayingOf(Saying):
    """The same of a topic, or of a word."""

    topic: int | None = Field(None, ge=0, lt=500, description="of the fit, from 0; or")
    word: str | None = Field(None, min_length=1, max_length=400, description="a word, or n-gram, of the matrix")


class Pinned(Statement, SayingOf):
    """A statement of a topic, or of a word, that an analyst wants to be sure of."""

    @model_validator(mode="after")
    def _of_one(self) -> Pinned:
        if (self.topic is None) == (self.word is None):
            raise ValueError("a statement is of a topic or of a word")
        return self

    @property
    def statement(self) -> dict[str, object]:
        """What is said, without what it is said of."""
        return {name: getattr(self, name) for name in Statement.model_fields}


class Outcome(BaseModel):
    """A statement tested on one set of results.

    Attributes
    ----------
    place : the topic, or the column of the word, that it is of there; -1 where there is none
    name : its words; likeness : to the one that the statement is of
    pair : which step of an order is the least sure
    estimate, low, high, p : of that step, above 0 where it is as stated; None where too few units tell anything
    adjusted : p adjusted over all ``family`` topics, or words and groups, as where the statement was pinned
    units : of the smaller side
    why : it can't be tested
    """

    model_config = ConfigDict(extra="forbid")
    place: int = -1
    name: str = ""
    likeness: float = 1.0
    pair: int = 0
    estimate: float | None = None
    low: float | None = None
    high: float | None = None
    p: float | None = None
    adjusted: float | None = None
    family: int = 0
    units: int = 0
    why: str = ""

    @property
    def verdict(self) -> Verdict:
        """*leans*: as stated, but not surely; *turns*: the other way round, but not surely."""
        if self.why or self.place < 0:
            return "lost"
        if self.adjusted is None or self.estimate is None:
            return "untold"
        if self.estimate > 0:
            return "holds" if self.adjusted < SURE else "leans"
        return "reversed" if self.adjusted < SURE else "turns"


class _Step(BaseModel):
    """One contrast of a statement: estimate and interval above 0 where it is as stated."""

    estimate: float
    low: float
    high: float
    p: float
    adjusted: float
    family: int
    units: int

    def turned(self) -> _Step:
        return self.model_copy(update={"estimate": -self.estimate, "low": -self.high, "high": -self.low})


def _least_sure(statement: Statement, steps: list[_Step], **of: object) -> Outcome:
    """The step that says least for a statement; nothing where one has too few units."""
    steps = [each.turned() for each in steps] if statement.less else steps
    units = min(each.units for each in steps)
    unknown = next((at for at, each in enumerate(steps) if math.isnan(each.p)), None)
    if unknown is not None:
        return Outcome.model_validate({**of, "pair": unknown, "units": units})
    pair = min(range(len(steps)), key=lambda at: (steps[at].estimate > 0, _support(steps[at])))
    figures = steps[pair].model_dump(include={"estimate", "p", "adjusted", "family"})
    ends = {name: value for name in ("low", "high") if math.isfinite(value := getattr(steps[pair], name))}
    return Outcome.model_validate({**of, **figures, **ends, "pair": pair, "units": units})


def _support(step: _Step) -> float:
    """The less, the less it says for the statement."""
    return -step.adjusted if step.estimate > 0 else step.adjusted


def topic_outcome(
    statement: Statement, topic: int, samples: Samples, corpus: Corpus, tokens: np.ndarray, name: str, likeness: float
) -> Outcome:
    """A statement on the prevalence of a topic; estimates are differences of shares.

    Parameters
    ----------
    samples : of the fit; tokens : float64[n_docs], those that the fit counted

    Raises
    ------
    BadInputError
        where a side has no documents.
    """

    @cache
    def of_groups(by: Breakdown) -> Held:
        return broken_down(samples, corpus, by, tokens)

    def hold(by: Breakdown, cells: Cells | None) -> Held:
        return of_groups(by) if cells is None else broken_down(samples, corpus, by, tokens, (), cells)

    steps = []
    for one, other in statement.pairs():
        found = compared(corpus, statement.by, one, other, tokens > 0, hold).found
        figures = {each: float(getattr(found, each)[0, topic]) for each in ("low", "high", "p", "adjusted")}
        figures |= {"family": int(np.isfinite(found.p).sum())}
        units = min(int(side.moments.units[0]) for side in (found.one, found.other))
        steps.append(_Step(estimate=float(found.difference[0, topic]), units=units, **figures))
    return _least_sure(statement, steps, place=topic, name=name, likeness=likeness)


def word_outcome(
    statement: Statement,
    column: int,
    counts: scipy.sparse.csr_matrix,
    corpus: Corpus,
    name: str,
    likeness: float,
    report: Report = silent,
) -> Outcome:
    """A statement on how frequent a word is; estimates are log₂ of how many times as frequent.

    Parameters
    ----------
    counts : int[n_docs, n_terms]

    Raises
    ------
    BadInputError
        where a side has no documents.
    """
    own = np.asarray(counts[:, [column]].todense()).ravel()
    sizes = np.asarray(counts.sum(axis=1)).ravel()
    steps = []
    for one, other in statement.pairs():
        side, _ = apart(corpus, statement.by, one, other, sizes > 0)
        group, place = side, 0
        if other is None and not one.at and statement.by.group:
            # Whole groups in the cells by which all are compared at Relate: a unit may be in several of the others.
            group, names = groups_of(corpus, statement.by.group)
            place = names.index(str(one.value))
        found = unit_counts(counts, group, units_of(corpus, statement.by.unit))
        tested = significance(found, report).p
        p, adjusted = tested[place, [column]], float(false_discovery_rates(tested)[place, column])
        low, high = log_ratio_intervals(found, place, [column], p)[0]
        units = int(min(found.units[place], found.units.sum() - found.units[place]))
        inside, outside = (float(own[side == at].sum()) / max(float(sizes[side == at].sum()), 1.0) for at in (0, 1))
        ratio = _log_ratio(inside, outside)
        known = {"p": float(p[0]), "adjusted": adjusted, "family": int(np.isfinite(tested).sum())}
        steps.append(_Step(estimate=ratio, low=low, high=high, units=units, **known))
    return _least_sure(statement, steps, place=column, name=name, likeness=likeness)


# Beyond it one side has none: a thousand times as frequent, and more.
_FAR = 10.0


def _log_ratio(one: float, other: float) -> float:
    if one <= 0 or other <= 0:
        return 0.0 if one == other else _FAR if one > 0 else -_FAR
    return max(-_FAR, min(_FAR, math.log2(one / other)))
