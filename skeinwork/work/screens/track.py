"""Track: prevalence by group and over time."""

from __future__ import annotations

import math
from collections.abc import Sequence

from pydantic import BaseModel

from skeinwork.core.prevalence.periods import PERIODS, Period
from skeinwork.work.steps.fit import Interval
from skeinwork.work.track import Tracked, TrackSettings, group_fields, suggested, track
from skeinwork.work.view import View

_MANY = 400_000  # shares, from which fewer replicates have to do


class Cell(BaseModel):
    """Mean, low and high of the share of every wanted topic in one cell; empty without documents."""

    documents: int
    values: list[Interval]


class PrevalenceTable(BaseModel):
    group: str | None
    period: Period | None
    weight: str
    groups: list[str]
    periods: list[str]
    topics: list[int]
    cells: list[Cell]
    left_out: int
    replicates: int
    group_fields: list[str]
    all_periods: list[Period]
    suggested_group: str | None
    suggested_period: Period | None
    suggestion: str


def _cells(tracked: Tracked, topics: list[int]) -> list[Cell]:
    result = tracked.result
    cells = []
    for at in range(len(tracked.cells)):
        values = [] if math.isnan(result.mean[at, 0]) else [
            Interval(mean=result.mean[at, k], low=result.low[at, k], high=result.high[at, k])
            for k in topics
        ]  # fmt: skip
        cells.append(Cell(documents=int(result.documents[at]), values=values))
    return cells


def table(view: View, settings: TrackSettings, wanted: Sequence[int] | None) -> PrevalenceTable:
    """Mean share of topics in every group, period, or both, with 95 % bootstrap intervals."""
    count = len(view.model.topic_word)
    replicates = 1000 if len(view.corpus) * count < _MANY else 300
    tracked = view.cached("track", lambda: track(view, settings, replicates), settings)
    topics = list(range(count)) if wanted is None else [k for k in wanted if 0 <= k < count]
    first = view.cached("suggested", lambda: suggested(view))
    return PrevalenceTable(
        group=settings.group, period=settings.period, weight=settings.weight,
        groups=tracked.groups, periods=tracked.periods, topics=topics,
        cells=_cells(tracked, topics), left_out=tracked.left_out, replicates=replicates,
        group_fields=group_fields(view), all_periods=list(PERIODS),
        suggested_group=first.group, suggested_period=first.period,
        suggestion=first.why,
    )  # fmt: skip
