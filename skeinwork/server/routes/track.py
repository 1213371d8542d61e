"""Track: what moves and differs, prevalence by group and over time, and the events drawn on it."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.periods import Period
from skeinwork.core.prevalence.breakdown import Breakdown, Day
from skeinwork.core.prevalence.selections import Selection
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import LabelsOf, RecordNumber, SeedsOf, StateOf, StrandOf, ViewOf
from skeinwork.work.jobs.plans import Tracking
from skeinwork.work.screens import contrasts, movement, own_words, track, track_working
from skeinwork.work.screens.contrasts import ContrastTable, ContrastWorking
from skeinwork.work.screens.moving import MovementTable
from skeinwork.work.screens.own_words import OwnWordsTable
from skeinwork.work.screens.track import DifferenceTable, PrevalenceTable, Smooth, TrackChoices
from skeinwork.work.screens.track_working import ShareWorking
from skeinwork.work.steps import DETECTABLE, MOVEMENT
from skeinwork.work.strands import events, strands
from skeinwork.work.strands.events import EventRecord, NewEvent
from skeinwork.work.topics.prevalence import movement_settings

router = Routes(prefix="/api/strands/{strand_id}", tags=["track"])

Weight = Literal["tokens", "documents"]
_Name = Annotated[str | None, Field(max_length=200)]


class BreakdownQuery(BaseModel):
    """What prevalence is broken down by."""

    model_config = ConfigDict(extra="forbid")
    group: _Name = None
    period: Period | None = None
    breaks: list[Day] = Field([], max_length=200)
    weight: Weight = "tokens"
    unit: _Name = None
    design: _Name = None
    fixed: list[str] = Field([], max_length=5)

    def breakdown(self) -> Breakdown:
        return Breakdown(
            group=self.group,
            period=None if self.breaks else self.period,
            breaks=tuple(sorted(set(self.breaks))),
            weight=self.weight,
            unit=self.unit,
            design=self.design,
            fixed=tuple(dict.fromkeys(self.fixed)),
        )


class PrevalenceQuery(BreakdownQuery):
    """The same with what of it is shown."""

    topic: list[int] | None = Field(None, max_length=500)
    page: int = Field(1, ge=1)
    smooth: Smooth = ""


class DifferencesQuery(BreakdownQuery):
    """The same for groups."""

    group: str = Field(max_length=200)
    topic: list[int] | None = Field(None, max_length=500)


class ContrastQuery(BreakdownQuery):
    """Two selections; the other is all other documents where it is not given."""

    value: str | None = Field(None, max_length=400)
    at: str | None = Field(None, max_length=60)
    against_value: str | None = Field(None, max_length=400)
    against_at: str | None = Field(None, max_length=60)

    def sides(self) -> tuple[Selection, Selection | None]:
        one = Selection(value=self.value, at=self.at)
        given = self.against_value is not None or self.against_at is not None
        return one, Selection(value=self.against_value, at=self.against_at) if given else None


class ContrastWorkingQuery(ContrastQuery):
    """One topic of it."""

    topic: int = Field(ge=0, le=10_000)


class ShareWorkingQuery(BreakdownQuery):
    """One topic in one cell."""

    topic: int = Field(ge=0, le=10_000)
    value: str | None = Field(None, max_length=400)
    at: str | None = Field(None, max_length=60)


class OwnWordsQuery(BreakdownQuery):
    """A topic in the groups of a field, or over time where there is none; ``halves`` parts the time in two."""

    topic: int = Field(ge=0, le=10_000)
    halves: bool = False


@router.get("/track")
def list_track_choices(view: ViewOf) -> TrackChoices:
    """What prevalence can be broken down by, and what is suggested."""
    return track.choices(view)


@router.get("/prevalence")
def prevalence(view: ViewOf, seeds: SeedsOf, query: Annotated[PrevalenceQuery, Query()]) -> PrevalenceTable:
    """Share of topics in every group, period, or both, with 95 % intervals."""
    return track.table(view, query.breakdown(), seeds, query.topic, query.page, query.smooth)


@router.get("/prevalence/working")
def get_cell_working(view: ViewOf, seeds: SeedsOf, query: Annotated[ShareWorkingQuery, Query()]) -> ShareWorking:
    """How the share of one topic in one cell came about."""
    return track_working.share_working(view, query.breakdown(), seeds, query.topic, query.value, query.at)


@router.get("/differences")
def differences(view: ViewOf, seeds: SeedsOf, query: Annotated[DifferencesQuery, Query()]) -> DifferenceTable:
    """How much more or less of a topic each group holds than the others, how surely."""
    return track.compared(view, query.breakdown(), seeds, query.topic)


@router.get("/contrast")
def get_contrast(
    view: ViewOf, seeds: SeedsOf, labels: LabelsOf, query: Annotated[ContrastQuery, Query()]
) -> ContrastTable:
    """Two selections held against each other, topic by topic."""
    return contrasts.contrast_table(view, query.breakdown(), *query.sides(), seeds, labels)


@router.get("/contrast/working")
def get_contrast_working(
    view: ViewOf, seeds: SeedsOf, query: Annotated[ContrastWorkingQuery, Query()]
) -> ContrastWorking:
    """How one topic's difference came about."""
    return contrasts.contrast_working(view, query.breakdown(), *query.sides(), seeds, query.topic)


@router.get("/movement")
def get_movement(
    view: ViewOf, seeds: SeedsOf, labels: LabelsOf, query: Annotated[BreakdownQuery, Query()]
) -> MovementTable:
    """Which topics move over time, which differ between groups, and what could be shown."""
    return movement.movement_table(view, query.breakdown(), seeds, labels)


@router.post("/movement", status_code=202)
def make_movement(state: StateOf, strand: StrandOf, view: ViewOf, seeds: SeedsOf, wanted: BreakdownQuery) -> Made:
    """Work out movement and what could be shown, in a job."""
    settings = movement_settings(view, wanted.breakdown(), seeds).model_dump(mode="json")
    asked: dict[str, dict[str, Any]] = {MOVEMENT.name: settings, DETECTABLE.name: settings}
    with state.store.connection():
        plan = Tracking(fit=view.fit_record.identity, base=strands.wanted(strand).base, wanted=asked)
        return Made.of(strand, state.runner.start(plan, strand))


@router.get("/own-words")
def get_own_words(view: ViewOf, labels: LabelsOf, query: Annotated[OwnWordsQuery, Query()]) -> OwnWordsTable:
    """What a topic is said with in each group, or at each time."""
    return own_words.own_words_table(view, query.breakdown(), query.topic, query.halves, labels)


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
