"""Models apart: a model for each part of the documents."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.periods import Period
from skeinwork.core.prevalence.breakdown import Breakdown, Day
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import LabelsOf, StateOf, StrandOf, ViewOf
from skeinwork.work.jobs.plans import Partings
from skeinwork.work.screens.models_apart import ApartTable, apart_table
from skeinwork.work.screens.streams import Streams, streams
from skeinwork.work.steps.part_fit import MOST_SEEDS, Parting
from skeinwork.work.strands import strands
from skeinwork.work.topics.partings import link_settings, settings_of

router = Routes(prefix="/api/strands/{strand_id}", tags=["apart"])


class PartingQuery(BaseModel):
    """By what documents are parted: the values of a field, or the time where there is none; and how they are fitted."""

    model_config = ConfigDict(extra="forbid")
    group: str | None = Field(None, max_length=200)
    period: Period | None = None
    breaks: list[Day] = Field([], max_length=200)
    unit: str | None = Field(None, max_length=200)
    topics: int | None = Field(None, ge=2, le=500)
    seeds: int = Field(3, ge=1, le=MOST_SEEDS)
    smallest: int | None = Field(None, ge=2, le=10_000_000)

    def parting(self) -> Parting:
        timed = {} if self.group else {"period": None if self.breaks else self.period}
        breaks = () if self.group else tuple(sorted(set(self.breaks)))
        by = Breakdown(group=self.group, breaks=breaks, unit=self.unit, **timed)
        return Parting(by=by, topics=self.topics, seeds=self.seeds, smallest=self.smallest)


@router.get("/apart")
def get_apart(view: ViewOf, labels: LabelsOf, query: Annotated[PartingQuery, Query()]) -> ApartTable:
    """What each topic of the fit became in the model of each part."""
    return apart_table(view, query.parting(), labels)


@router.post("/apart", status_code=202)
def make_apart(state: StateOf, strand: StrandOf, view: ViewOf, wanted: PartingQuery) -> Made:
    """Fit each part alone, in a job."""
    parting = wanted.parting()
    asked = [each for dealt in (False, True) for each in settings_of(view, parting, dealt)]
    linked = [each for dealt in (False, True) for each in link_settings(view, parting, dealt)]
    with state.store.connection():
        plan = Partings(
            fit=view.fit_record.identity,
            base=strands.wanted(strand).base,
            parts=[each.model_dump(mode="json") for each in asked],
            links=[each.model_dump(mode="json") for each in linked],
        )
        return Made.of(strand, state.runner.start(plan, strand))


class StreamsQuery(PartingQuery):
    """The periods; ``whole`` of the topics of the one fit, else of a model for each period."""

    whole: bool = True


@router.get("/streams")
def get_streams(view: ViewOf, labels: LabelsOf, query: Annotated[StreamsQuery, Query()]) -> Streams:
    """Topics through periods: born, the same, split, merged, ended."""
    return streams(view, query.parting(), query.whole, labels)
