"""Track: prevalence by group and over time, and the events drawn on it."""

from __future__ import annotations

import math
from typing import Annotated, Literal

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import dates
from skeinwork.core.prevalence.periods import Period
from skeinwork.server.state import NotFoundError, RecordNumber, SelectedStrand, StateOf
from skeinwork.store.models import Event
from skeinwork.work.steps.fit import Interval
from skeinwork.work.track import Tracked, TrackSettings, group_fields, suggested_period, track

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["track"])


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
    suggested_period: Period | None


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


@router.get("/prevalence")
def prevalence(
    chosen: SelectedStrand, group: str | None = None, period: Period | None = None,
    weight: Literal["tokens", "documents"] = "tokens",
    topic: Annotated[list[int] | None, Query(max_length=500)] = None,
) -> PrevalenceTable:  # fmt: skip
    """Mean share of topics in every group, period, or both, with 95 % bootstrap intervals."""
    view = chosen.view
    settings = TrackSettings(group=group, period=period, weight=weight)
    replicates = 1000 if len(view.corpus) * len(view.model.topic_word) < 400_000 else 300
    tracked: Tracked = chosen.cached("track", lambda: track(view, settings, replicates), settings)
    count = len(view.model.topic_word)
    topics = [k for k in topic if 0 <= k < count] if topic is not None else list(range(count))
    return PrevalenceTable(
        group=group, period=period, weight=weight, groups=tracked.groups, periods=tracked.periods,
        topics=topics, cells=_cells(tracked, topics), left_out=tracked.left_out,
        replicates=replicates, group_fields=group_fields(view), suggested_period=suggested_period(view),
    )  # fmt: skip


class EventRecord(BaseModel):
    id: int
    day: str
    label: str


class NewEvent(BaseModel):
    model_config = ConfigDict(extra="forbid")
    day: str = Field(max_length=40, examples=["2014-01-14"])
    label: str = Field(min_length=1, max_length=80)


@router.get("/events")
def list_events(state: StateOf, chosen: SelectedStrand) -> list[EventRecord]:
    """The skein's events, by date."""
    with state.store.connection():
        rows = Event.select().where(Event.skein == chosen.strand.skein_id).order_by(Event.day)
        return [EventRecord(id=row.id, day=row.day, label=row.label) for row in rows]


@router.post("/events")
def add_event(state: StateOf, chosen: SelectedStrand, new: NewEvent) -> list[EventRecord]:
    """Add a dated line to the charts."""
    parsed = dates.parse(new.day)
    if parsed is None:
        raise BadInputError(f"“{new.day}” is not a date. Write it as 2014-01-14 or 14 Jan 2014.")
    with state.store.connection():
        day = dates.from_days(parsed[0]).isoformat()
        Event.create(skein=chosen.strand.skein_id, day=day, label=new.label.strip())
    return list_events(state, chosen)


@router.delete("/events/{event_id}")
def remove_event(
    state: StateOf, chosen: SelectedStrand, event_id: RecordNumber
) -> list[EventRecord]:
    """Remove an event."""
    with state.store.connection():
        mine = (Event.id == event_id) & (Event.skein == chosen.strand.skein_id)
        if not Event.delete().where(mine).execute():
            raise NotFoundError("That event is gone already.")
    return list_events(state, chosen)
