"""Held fixed: regressions of prevalence."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.design_matrix import Regression
from skeinwork.core.working import Working
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import LabelsOf, SeedsOf, StateOf, StrandOf, ViewOf
from skeinwork.work.jobs.plans import Regressing
from skeinwork.work.screens import regressions
from skeinwork.work.screens.regressions import RegressionChoices, RegressionTable
from skeinwork.work.steps import REGRESSION
from skeinwork.work.strands import strands
from skeinwork.work.strands.schemas import problems_in_words
from skeinwork.work.topics.regressions import design_of, settings_of

router = Routes(prefix="/api/strands/{strand_id}", tags=["regression"])
BETWEEN = " × "


class RegressionQuery(BaseModel):
    """What prevalence is regressed on; pairs are two names joined by “ × ”."""

    model_config = ConfigDict(extra="forbid")
    factor: list[str] = Field([], max_length=6)
    number: list[str] = Field([], max_length=6)
    time: bool = False
    bends: int = Field(3, ge=1, le=8)
    pair: list[str] = Field([], max_length=3)
    link: str = Field("identity", pattern="^(identity|logit)$")
    weight: str = Field("tokens", pattern="^(tokens|documents)$")
    unit: str | None = Field(None, max_length=200)
    design: str | None = Field(None, max_length=200)

    def regression(self) -> Regression:
        try:
            return Regression(
                factors=tuple(self.factor),
                numbers=tuple(self.number),
                time=self.time,
                bends=self.bends,
                pairs=tuple((one, other) for one, _, other in (each.partition(BETWEEN) for each in self.pair)),
                link=self.link,
                weight=self.weight,
                unit=self.unit or None,
                design=self.design or None,
            )
        except ValidationError as fault:
            raise BadInputError(f"This can't be regressed: {problems_in_words(fault)}.") from fault


class RegressionTableQuery(RegressionQuery):
    """The same with the topics whose predictions are shown."""

    topic: list[int] = Field([], max_length=500)


class RegressionWorkingQuery(RegressionQuery):
    """One prediction of one topic."""

    topic: int = Field(ge=0, le=10_000)
    point: int = Field(ge=0, le=100_000)


@router.get("/regression/choices")
def list_regression_choices(view: ViewOf) -> RegressionChoices:
    """What can stand in a regression, and what is suggested."""
    return regressions.regression_choices(view)


@router.get("/regression")
def get_regression(
    view: ViewOf, seeds: SeedsOf, labels: LabelsOf, query: Annotated[RegressionTableQuery, Query()]
) -> RegressionTable:
    """What each field tells of every topic when the others are held fixed."""
    return regressions.regression_table(view, query.regression(), seeds, query.topic, labels)


@router.post("/regression", status_code=202)
def make_regression(state: StateOf, strand: StrandOf, view: ViewOf, seeds: SeedsOf, wanted: RegressionQuery) -> Made:
    """Work a regression out, in a job."""
    of = wanted.regression()
    design_of(view, of)
    settings = settings_of(view, of, seeds).model_dump(mode="json")
    with state.store.connection():
        plan = Regressing(
            fit=view.fit_record.identity, base=strands.wanted(strand).base, wanted={REGRESSION.name: settings}
        )
        return Made.of(strand, state.runner.start(plan, strand))


@router.get("/regression/working")
def get_regression_working(view: ViewOf, seeds: SeedsOf, query: Annotated[RegressionWorkingQuery, Query()]) -> Working:
    """How one prediction came about."""
    return regressions.regression_working(view, query.regression(), seeds, query.topic, query.point)
