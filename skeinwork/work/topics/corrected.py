"""How common a concept is by group or period, from a topic and from what people coded."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import Breakdown, cells_of
from skeinwork.core.prevalence.corrected import corrected
from skeinwork.core.prevalence.prevalence import Prevalence
from skeinwork.core.said import counted
from skeinwork.core.topics.checks.coding import EDGES, HOLDS, Coded
from skeinwork.work.checks.base import Answers
from skeinwork.work.checks.hand_coding import coded, strata
from skeinwork.work.results.view import View
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.strands.checks import QuestionRecord


class CorrectedCell(BaseModel):
    """A group, a period, or both.

    Attributes
    ----------
    holds : share of documents that have the topic, as it stands
    about : share of documents about the concept, with all that is not known
    certain : the same as if coding were sure, to see what it adds
    """

    group: str
    period: str
    documents: int
    units: int
    holds: Interval | None
    about: Interval | None
    certain: Interval | None


class CorrectedPrevalence(BaseModel):
    """A concept by group and period; ``says`` what was corrected, and what that adds to the uncertainty."""

    concept: str
    topic: int
    cells: list[CorrectedCell]
    says: list[str]


def corrected_prevalence(
    view: View, settings: Breakdown, concept: str, questions: Sequence[QuestionRecord], answers: Answers
) -> CorrectedPrevalence:
    """Documents about a concept, by what people coded in each stratum of a topic's share.

    Raises
    ------
    BadInputError
        where a stratum with documents has none that was coded.
    """
    known = coded(view, questions, answers)
    if not known.coded[known.size > 0].all() or not known.coded.sum():
        raise BadInputError("Some shares of the topic have no coded document yet. Code more of the sample at Label.")
    topic = questions[0].topic
    stratum, where = strata(view, topic), cells_of(view.corpus, settings)
    units = units_of(view.corpus, settings.unit)
    about = corrected(known, stratum, where.cells, where.number, units)
    certain = corrected(known, stratum, where.cells, where.number, units, certain=True)
    holds = _holding(stratum, where.cells, where.number, units)
    cells = [
        CorrectedCell(
            group=group,
            period=period,
            documents=int(about.documents[row]),
            units=int(about.units[row]),
            holds=_interval(holds, row),
            about=_interval(about, row),
            certain=_interval(certain, row),
        )
        for group, line in zip(where.groups, where.rows.tolist(), strict=True)
        for period, row in zip(where.periods, line, strict=True)
        if row >= 0 and about.units[row]
    ]
    says = [
        f"Share of documents about {concept}: as many of each share of the topic as "
        f"{counted(int(known.coded.sum()), 'coded document')} tell, taken to be so in every group.",
        _adds(cells),
    ]
    return CorrectedPrevalence(concept=concept, topic=topic, cells=cells, says=says)


def _holding(
    stratum: NDArray[np.int64], cells: NDArray[np.int64], number: int, units: NDArray[np.int64] | None
) -> Prevalence:
    """Share of documents that have the topic, as if its strata told for sure."""
    size = np.bincount(stratum[stratum >= 0], minlength=len(EDGES))
    yes = np.where(np.arange(len(EDGES)) >= HOLDS, size, 0).astype(np.float64)
    return corrected(Coded(size, size, yes, yes), stratum, cells, number, units, certain=True)


def _interval(found: Prevalence, row: int) -> Interval | None:
    return Interval.of(found.mean[row, 0], found.low[row, 0], found.high[row, 0])


def _adds(cells: Sequence[CorrectedCell]) -> str:
    """How much wider the intervals are for what coding leaves open."""
    widths = [
        (each.about.high - each.about.low, each.certain.high - each.certain.low)
        for each in cells
        if each.about
        and each.certain
        and each.about.low is not None
        and each.about.high is not None
        and each.certain.low is not None
        and each.certain.high is not None
    ]
    if not widths:
        return "No cell has enough units for an interval."
    wide, sure = (float(np.median(each)) for each in zip(*widths, strict=True))
    return (
        f"The 95 % intervals are {percent(wide)} wide in the middle of the cells; were coding sure, {percent(sure)}. "
        "More coded documents narrow the difference."
    )
