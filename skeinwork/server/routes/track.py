"""Track: prevalence by group and over time, and the events drawn on it."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Query

from skeinwork.core.corpus.periods import Period
from skeinwork.server.state import RecordNumber, SeedsOf, StateOf, StrandOf, ViewOf
from skeinwork.work.screens import track
from skeinwork.work.screens.track import DifferenceTable, PrevalenceTable
from skeinwork.work.strands import events
from skeinwork.work.strands.events import EventRecord, NewEvent
from skeinwork.work.topics.prevalence import TrackSettings

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["track"])


Weight = Literal["tokens", "documents"]
Topics = Annotated[list[int] | None, Query(max_length=500)]


@router.get("/prevalence")
def prevalence(
    view: ViewOf,
    seeds: SeedsOf,
    group: str | None = None,
    period: Period | None = None,
    weight: Weight = "tokens",
    unit: str | None = None,
    topic: Topics = None,
    page: Annotated[int, Query(ge=1)] = 1,
) -> PrevalenceTable:
    """Share of topics in every group, period, or both, with 95 % intervals."""
    settings = TrackSettings(group=group, period=period, weight=weight, unit=unit)
    return track.table(view, settings, seeds, topic, page)


@router.get("/differences")
def differences(
    view: ViewOf, seeds: SeedsOf, group: str, weight: Weight = "tokens", unit: str | None = None, topic: Topics = None
) -> DifferenceTable:
    """How much more or less of a topic each group holds than the others, how surely."""
    return track.compared(view, TrackSettings(group=group, weight=weight, unit=unit), seeds, topic)


@router.get("/events")
def list_events(state: StateOf, strand: StrandOf) -> list[EventRecord]:
    """The skein's events, by date."""
    with state.store.connection():
        return events.events_of(strand.skein_id)


@router.post("/events")
def add_event(state: StateOf, strand: StrandOf, new: NewEvent) -> list[EventRecord]:
    """Add a dated line to the charts."""
    with state.store.connection():
        events.add(strand.skein_id, new)
        return events.events_of(strand.skein_id)


@router.delete("/events/{event_id}")
def remove_event(state: StateOf, strand: StrandOf, event_id: RecordNumber) -> list[EventRecord]:
    """Remove an event."""
    with state.store.connection():
        events.remove(strand.skein_id, event_id)
        return events.events_of(strand.skein_id)
