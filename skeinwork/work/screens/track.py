"""Track: prevalence by group and over time, and how groups differ."""

from __future__ import annotations

import math
from collections.abc import Sequence

from pydantic import BaseModel

from skeinwork.core.corpus.periods import PERIODS, Period
from skeinwork.core.prevalence.prevalence import FEW_UNITS, LEAST_UNITS
from skeinwork.work.results.view import View
from skeinwork.work.steps.fit import Interval
from skeinwork.work.topics.breakdowns import SuggestedUnit, group_fields, suggested, suggested_units, unit_fields
from skeinwork.work.topics.prevalence import (
    Seeds,
    Tracked,
    TrackSettings,
    compare,
    said_of_differences,
    said_of_seeds,
    track,
)

PAGE = 60  # groups


class Cell(BaseModel):
    """Share of every wanted topic in one cell with its interval; no values without documents."""

    documents: int
    units: int
    values: list[Interval]


class PrevalenceTable(BaseModel):
    """Prevalence of the groups of one page.

    ``first`` is the place of the first group shown among ``all_groups``.
    ``few`` and ``least`` are the units under which a cell is warned of, and gets no interval;
    ``of_differences`` says how much too small they come out, ``of_seeds`` whose draws are in the intervals.
    """

    group: str | None
    period: Period | None
    weight: str
    unit: str | None
    groups: list[str]
    first: int
    all_groups: int
    page: int
    pages: int
    periods: list[str]
    topics: list[int]
    cells: list[Cell]
    left_out: int
    few: int
    least: int
    group_fields: list[str]
    unit_fields: list[str]
    all_periods: list[Period]
    suggested_group: str | None
    suggested_period: Period | None
    suggestion: str
    suggested_units: list[SuggestedUnit]
    of_differences: str
    of_seeds: str


class Difference(BaseModel):
    """The share of a topic in one group less that in all others together, adjusted p with it."""

    group: str
    topic: int
    difference: float
    low: float
    high: float
    p: float
    adjusted: float


class DifferenceTable(BaseModel):
    """Differences that have an interval. ``compared`` is how many p was adjusted over."""

    group: str
    unit: str | None
    weight: str
    differences: list[Difference]
    compared: int
    without: list[str]


def _cell(tracked: Tracked, row: int, topics: list[int]) -> Cell:
    if row < 0 or not tracked.result.units[row]:
        return Cell(documents=0, units=0, values=[])
    result = tracked.result
    values = [Interval.of(result.mean[row, k], result.low[row, k], result.high[row, k]) for k in topics]
    return Cell(documents=int(result.documents[row]), units=int(result.units[row]), values=values)


def _wanted(view: View, wanted: Sequence[int] | None) -> list[int]:
    count = len(view.model.topic_word)
    return list(range(count)) if wanted is None else [k for k in wanted if 0 <= k < count]


def table(
    view: View, settings: TrackSettings, seeds: Seeds, wanted: Sequence[int] | None, page: int = 1
) -> PrevalenceTable:
    """Shares of topics in every group, period, or both, with 95 % intervals.

    Groups come a page at a time, the largest first; every total and interval is of all of them.
    """
    tracked = view.cached("track", lambda: track(view, settings, seeds), settings, seeds)
    first = view.cached("suggested", lambda: suggested(view))
    units = view.cached("suggested units", lambda: suggested_units(view))
    topics, n_groups = _wanted(view, wanted), len(tracked.groups)
    pages = max(1, -(-n_groups // PAGE))
    page = min(page, pages)
    shown = slice((page - 1) * PAGE, page * PAGE)
    return PrevalenceTable(
        group=settings.group,
        period=settings.period,
        weight=settings.weight,
        unit=settings.unit,
        groups=tracked.groups[shown] if settings.group else [],
        first=shown.start + 1,
        all_groups=n_groups if settings.group else 0,
        page=page,
        pages=pages,
        periods=tracked.periods if settings.period else [],
        topics=topics,
        cells=[_cell(tracked, int(row), topics) for row in tracked.rows[shown].ravel()],
        left_out=tracked.left_out,
        few=FEW_UNITS,
        least=LEAST_UNITS,
        group_fields=group_fields(view),
        unit_fields=unit_fields(view),
        all_periods=list(PERIODS),
        suggested_group=first.group,
        suggested_period=first.period,
        suggestion=first.why,
        suggested_units=units,
        of_differences=said_of_differences(view.fit_summary),
        of_seeds=said_of_seeds(seeds),
    )


def compared(view: View, settings: TrackSettings, seeds: Seeds, wanted: Sequence[int] | None) -> DifferenceTable:
    """How much more or less of each topic every group holds than the others, the clearest first."""
    names, found = view.cached("differences", lambda: compare(view, settings, seeds), settings, seeds)
    topics = _wanted(view, wanted)
    rows = [
        Difference(
            group=name,
            topic=k,
            difference=found.difference[at, k],
            low=found.low[at, k],
            high=found.high[at, k],
            p=found.p[at, k],
            adjusted=found.adjusted[at, k],
        )
        for at, name in enumerate(names)
        for k in topics
        if not math.isnan(found.p[at, k])
    ]
    rows.sort(key=lambda each: (each.adjusted, -abs(each.difference)))
    bare = [name for at, name in enumerate(names) if math.isnan(found.p[at, 0])]
    return DifferenceTable(
        group=str(settings.group),
        unit=settings.unit,
        weight=settings.weight,
        differences=rows,
        compared=sum(not math.isnan(value) for value in found.p.ravel()),
        without=bare,
    )
