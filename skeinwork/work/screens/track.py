"""Track: prevalence by group and over time, and how groups differ."""

from __future__ import annotations

import math
from collections.abc import Sequence
from datetime import date
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.periods import PERIODS, Period, bounds, said
from skeinwork.core.formats.dates import MISSING, from_days, to_days
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import TIME, Breakdown, Cells, Weights
from skeinwork.core.prevalence.prevalence import FEW_UNITS, LEAST_UNITS, Prevalence
from skeinwork.core.prevalence.smoothing import loess_weights, rolling_weights, smoothed
from skeinwork.core.said import counted, listed
from skeinwork.work.results.view import View
from skeinwork.work.screens.movement import moved_of
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.steps.movement import Contrast
from skeinwork.work.topics.breakdowns import (
    SuggestedUnit,
    design_fields,
    group_fields,
    suggested,
    suggested_units,
    unit_fields,
    weighed_by,
)
from skeinwork.work.topics.prevalence import (
    Seeds,
    Tracked,
    compare,
    movement_settings,
    said_of_differences,
    said_of_seeds,
    track,
    units_held,
)

PAGE = 60  # groups
# Documents beyond which groups are held against each other in a job: half a million take some seconds.
AT_ONCE = 200_000


class Cell(BaseModel):
    """Share of every wanted topic in one cell with its interval; no values without documents.

    ``smooth`` are the same smoothed over time; ``covered`` is the share of the fixed composition it has documents of.
    """

    documents: int
    units: int
    values: list[Interval]
    smooth: list[Interval] = []
    covered: float = 1.0


class PeriodOf(BaseModel):
    """A period: its first and last day, and where documents end before it does, or begin after it has, since when."""

    name: str
    first: date
    last: date
    partial: str = ""


Smooth = Literal["", "mean 3", "mean 5", "mean 9", "loess 0.3", "loess 0.5", "loess 0.8"]


class PrevalenceTable(BaseModel):
    """Prevalence of the groups of one page.

    ``first`` is the place of the first group shown among ``all_groups``.
    ``few`` and ``least`` are the units under which a cell is warned of, and gets no interval;
    ``of_differences`` says how much too small they come out, ``of_seeds`` whose draws are in the intervals,
    ``drawn`` that there are any; ``of_weights`` what design weights and a fixed composition leave out.
    """

    group: str | None
    period: Period | None
    breaks: list[str]
    weight: str
    unit: str | None
    design: str | None
    fixed: list[str]
    groups: list[str]
    first: int
    all_groups: int
    page: int
    pages: int
    periods: list[PeriodOf]
    topics: list[int]
    cells: list[Cell]
    left_out: int
    few: int
    least: int
    of_differences: str
    of_seeds: str
    of_weights: str
    drawn: bool


class TrackChoices(BaseModel):
    """What prevalence can be broken down by, and what is suggested, with the reason.

    ``suggested_units`` are fields whose documents are alike; ``design_fields`` hold numbers above 0.
    """

    group_fields: list[str]
    unit_fields: list[str]
    design_fields: list[str]
    fixed_fields: list[str]
    periods: list[Period]
    smooth: list[Smooth]
    suggested_group: str | None
    suggested_period: Period | None
    suggestion: str
    suggested_units: list[SuggestedUnit]
    dated: bool


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
    """Differences that have an interval. ``compared`` is how many p was adjusted over.

    Of very many documents they are ``made`` with what moves and differs, in a job.
    """

    made: bool
    group: str
    unit: str | None
    weight: str
    differences: list[Difference]
    compared: int
    without: list[str]


def choices(view: View) -> TrackChoices:
    """What there is to choose from."""
    first = view.cached("suggested", lambda: suggested(view))
    return TrackChoices(
        group_fields=group_fields(view),
        unit_fields=unit_fields(view),
        design_fields=view.cached("design fields", lambda: design_fields(view)),
        fixed_fields=[*group_fields(view), *([TIME] if view.corpus.has_dates else [])],
        periods=list(PERIODS),
        smooth=list(get_args(Smooth)),
        suggested_group=first.group,
        suggested_period=first.period,
        suggestion=first.why,
        suggested_units=view.cached("suggested units", lambda: suggested_units(view)),
        dated=view.corpus.has_dates,
    )


def _interval(found: Prevalence, row: int, topics: list[int]) -> list[Interval]:
    return [Interval.of(found.mean[row, k], found.low[row, k], found.high[row, k]) for k in topics]


def _wanted(view: View, wanted: Sequence[int] | None) -> list[int]:
    count = len(view.model.topic_word)
    return list(range(count)) if wanted is None else [k for k in wanted if 0 <= k < count]


def table(
    view: View, by: Breakdown, seeds: Seeds, wanted: Sequence[int] | None, page: int = 1, smooth: Smooth = ""
) -> PrevalenceTable:
    """Shares of topics in every group, period, or both, with 95 % intervals.

    Groups come a page at a time, the largest first; every total and interval is of all of them.
    """
    tracked = track(view, by, seeds)
    topics, n_groups = _wanted(view, wanted), len(tracked.cells.groups)
    pages = max(1, -(-n_groups // PAGE))
    page = min(page, pages)
    shown = slice((page - 1) * PAGE, page * PAGE)
    return PrevalenceTable(
        group=by.group,
        period=by.period,
        breaks=list(by.breaks),
        weight=weighed_by(view, by.weight),
        unit=by.unit,
        design=by.design,
        fixed=list(by.fixed),
        groups=tracked.cells.groups[shown] if by.group else [],
        first=shown.start + 1,
        all_groups=n_groups if by.group else 0,
        page=page,
        pages=pages,
        periods=_periods(view, tracked.cells.periods) if by.timed else [],
        topics=topics,
        cells=_cells(view, by, seeds, tracked, shown, topics, smooth),
        left_out=tracked.left_out,
        few=FEW_UNITS,
        least=LEAST_UNITS,
        of_differences=said_of_differences(view),
        of_seeds=said_of_seeds(seeds),
        of_weights=_of_weights(by, tracked.weights, tracked.cells),
        drawn=view.model.samples is not None,
    )


def _cells(
    view: View, by: Breakdown, seeds: Seeds, tracked: Tracked, shown: slice, topics: list[int], smooth: Smooth
) -> list[Cell]:
    found: list[Cell] = []
    for line in tracked.cells.rows[shown]:
        there = line[line >= 0]
        lines = _smoothed(view, by, seeds, there, smooth) if smooth and by.timed and len(there) else None
        place = {int(row): at for at, row in enumerate(there)}
        for row in line.tolist():
            if row < 0 or not tracked.result.units[row]:
                found.append(Cell(documents=0, units=0, values=[]))
                continue
            cell = Cell(
                documents=int(tracked.result.documents[row]),
                units=int(tracked.result.units[row]),
                values=_interval(tracked.result, row, topics),
                covered=float(tracked.weights.covered[row]),
            )
            if lines is not None:
                cell.smooth = _interval(lines, place[row], topics)
            found.append(cell)
    return found


def _smoothed(view: View, by: Breakdown, seeds: Seeds, rows: NDArray[np.int64], smooth: Smooth) -> Prevalence:
    """The shares of one group's cells, smoothed over its periods."""
    cells, _, totals = units_held(view, by, seeds)

    def made() -> Prevalence:
        kept = np.isin(totals.cell, rows)
        place, weight = cells.period[rows], totals.cell_weight[rows]
        way, amount = smooth.split(" ")
        parts = np.zeros((len(rows), totals.n_cells))
        parts[:, rows] = (
            rolling_weights(place, weight, int(amount))
            if way == "mean"
            else loess_weights(place, weight, float(amount))
        )
        return smoothed(totals.ordered(np.flatnonzero(kept)), parts)

    return view.cached("smoothed", made, by, seeds, smooth, int(rows[0]))


def _periods(view: View, names: Sequence[str]) -> list[PeriodOf]:
    """With their days; the first and the last are partial where documents leave some of them open.

    That is a tenth of their days, and more than nearly all gaps between documents.
    """
    known = np.unique(view.corpus.days[view.corpus.days != MISSING])
    gap = float(np.quantile(np.diff(known), 0.95)) if len(known) > 1 else 0.0
    found = []
    for at, name in enumerate(names):
        first, last = bounds(name)
        open_ = max(gap, 0.1 * (last - first).days)
        partial = ""
        if last != date.max and at == len(names) - 1 and to_days(last) - known[-1] > open_:
            partial = f"documents to {said(from_days(int(known[-1])).isoformat())}"
        elif first != date.min and at == 0 and known[0] - to_days(first) > open_:
            partial = f"documents from {said(from_days(int(known[0])).isoformat())}"
        found.append(PeriodOf(name=name, first=first, last=last, partial=partial))
    return found


def _of_weights(by: Breakdown, weights: Weights, cells: Cells) -> str:
    said_of = []
    if weights.unweighted:
        said_of.append(
            f"{counted(weights.unweighted, 'document')} without a number above 0 in {by.design} don’t count."
        )
    short = int((weights.covered < 0.995).sum())
    if by.fixed:
        held = f"The composition of {listed(list(by.fixed))} is held at that of all documents."
        said_of.append(held)
    if short:
        said_of.append(
            f"{short} of {counted(cells.number, 'cell')} lack some of it; the least has documents for "
            f"{percent(float(weights.covered.min()))} of that composition."
        )
    return " ".join(said_of)


def compared(view: View, settings: Breakdown, seeds: Seeds, wanted: Sequence[int] | None) -> DifferenceTable:
    """How much more or less of each topic every group holds than the others, the clearest first.

    Of very many documents as they were worked out with what moves and differs; not made where they weren't.
    """
    alone, topics = settings.timeless, _wanted(view, wanted)
    if len(view.corpus) > AT_ONCE:
        moved = moved_of(view, movement_settings(view, alone, seeds))
        names = moved.groups if moved else []
        each = moved.each if moved else []
        rows = [
            _difference(name, k, mine[k]) for name, mine in zip(names, each, strict=False) for k in topics if mine[k]
        ]
        return _table(settings, rows, sum(bool(one) for mine in each for one in mine), [], moved is not None)
    names, found = view.cached("differences", lambda: compare(view, alone, seeds), alone, seeds)
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
    bare = [name for at, name in enumerate(names) if math.isnan(found.p[at, 0])]
    return _table(settings, rows, int((~np.isnan(found.p)).sum()), bare, True)


def _difference(group: str, topic: int, contrast: Contrast | None) -> Difference:
    assert contrast is not None
    figures = contrast.model_dump(include={"difference", "low", "high", "p", "adjusted"})
    return Difference(group=group, topic=topic, **figures)


def _table(
    settings: Breakdown, rows: list[Difference], compared: int, without: list[str], made: bool
) -> DifferenceTable:
    rows.sort(key=lambda each: (each.adjusted, -abs(each.difference)))
    return DifferenceTable(
        made=made,
        group=str(settings.group),
        unit=settings.unit,
        weight=settings.weight,
        differences=rows,
        compared=compared,
        without=without,
    )
