"""Choose: sweep over counts, compare the fits, see what happens between counts, choose one with a reason."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.starting import start
from skeinwork.server.state import Identity, State, StateOf, StrandOf, ViewOf
from skeinwork.store.models import Result, Strand
from skeinwork.work.jobs.plans import Sweep, SweepRequest
from skeinwork.work.results.view import View
from skeinwork.work.screens import choose, chosen
from skeinwork.work.screens.between_counts import BetweenCounts
from skeinwork.work.screens.choose import ComparedBy, FitList
from skeinwork.work.screens.chosen import ChosenFit
from skeinwork.work.screens.measure_working import MeasureWorking
from skeinwork.work.screens.references import Reference, references
from skeinwork.work.screens.sweep import SweepTime, sweep_time
from skeinwork.work.steps import FIT, MATRIX, TWIN
from skeinwork.work.strands import choices, strands
from skeinwork.work.strands.choices import VoteEdit
from skeinwork.work.strands.schemas import Remark
from skeinwork.work.topics import fits, sweeps

router = Routes(prefix="/api/strands/{strand_id}", tags=["choose"])
MOST_FITS = 500


def _rows(state: State, strand: Strand, view: View) -> tuple[list[Result], list[Result]]:
    """The fits that are compared, and those of words dealt out at random."""
    if MATRIX.name not in strand.results:
        return [], []
    of = sweeps.matrices(view)
    with state.store.connection():
        return fits.made_of(of, FIT.name), fits.made_of(of, TWIN.name)


@router.get("/fits")
def list_fits(state: StateOf, strand: StrandOf, view: ViewOf, how: Annotated[ComparedBy, Query()]) -> FitList:
    """All fits of the present matrix, and a suggestion from them."""
    return choose.compared(view, *_rows(state, strand, view), how)


class Between(ComparedBy):
    """Counts to set side by side; the suggested one and those around it where there are none."""

    counts: list[Annotated[int, Field(ge=2, le=500)]] = Field([], max_length=6)


@router.get("/between-counts")
def get_between_counts(
    state: StateOf, strand: StrandOf, view: ViewOf, asked: Annotated[Between, Query()]
) -> BetweenCounts:
    """What becomes of topics from one count to the next, and which of them last."""
    rows = _rows(state, strand, view)
    with state.store.connection():
        votes = choices.votes(strand)
    return choose.between(view, *rows, _how(asked), asked.counts, votes)


class AskedWorking(ComparedBy):
    """A topic of a fit."""

    topic: int = Field(0, ge=0, lt=500)


def _how(asked: ComparedBy) -> ComparedBy:
    return ComparedBy(**{name: getattr(asked, name) for name in ComparedBy.model_fields})


@router.get("/fits/{identity}/measures/{key}")
def get_measure_working(
    state: StateOf,
    strand: StrandOf,
    view: ViewOf,
    identity: Identity,
    key: Annotated[str, Path(max_length=40)],
    asked: Annotated[AskedWorking, Query()],
) -> MeasureWorking:
    """How a measure of a compared fit came about, of one of its topics."""
    rows, _ = _rows(state, strand, view)
    return choose.working(view, rows, _how(asked), identity, key, asked.topic)


def _sweep(strand: Strand, request: SweepRequest) -> Sweep:
    if any(not 2 <= count <= 500 for count in request.counts):
        raise BadInputError("Topic counts go from 2 to 500.")
    if request.size > MOST_FITS:
        raise BadInputError(f"A sweep has at most {MOST_FITS} fits. Ask for fewer counts or seeds.")
    return Sweep(request=request, wanted=strands.wanted(strand))


@router.post("/sweeps", status_code=202)
def start_sweep(state: StateOf, strand: StrandOf, request: SweepRequest) -> Made:
    """Fit models over topic counts and seeds in a job."""
    plan = _sweep(strand, request)
    largest = max(plan.fits(), key=lambda each: each.topics)
    return start(state, strand, plan, [largest])


@router.post("/sweep-time")
def get_sweep_time(state: StateOf, strand: StrandOf, view: ViewOf, request: SweepRequest) -> SweepTime:
    """How long a sweep will take, from a short trial on this corpus."""
    rows, _ = _rows(state, strand, view)
    return sweep_time(view, _sweep(strand, request), state.runner.executor.workers, rows)


@router.get("/references")
def list_references(state: StateOf, strand: StrandOf) -> list[Reference]:
    """Other texts in which coherence may be looked at."""
    with state.store.connection():
        return references(state.store.artefacts, strand)


@router.post("/measures", status_code=202)
def measure_fits(state: StateOf, strand: StrandOf, view: ViewOf, how: ComparedBy) -> Made:
    """Measure the fits of a series by all measures, in their own texts or in others."""
    rows, _ = _rows(state, strand, view)
    plan = choose.measuring(view, rows, how, strands.wanted(strand).base)
    with state.store.connection():
        if how.reference and how.reference not in {each.cleaning for each in references(state.store.artefacts, strand)}:
            raise NotFoundError("The texts that coherence is to be looked at in are not there any more.")
        return Made.of(strand, state.runner.start(plan, strand))


class Choose(ComparedBy):
    """The fit that is chosen, why, and how fits were compared when it was."""

    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    reason: Remark = ""


@router.post("/choice", status_code=202)
def choose_fit(state: StateOf, strand: StrandOf, view: ViewOf, given: Choose) -> Made:
    """Choose a fit: it goes on with all documents, and is put on the strand; what spoke for it is kept."""
    rows = _rows(state, strand, view)
    row = next((each for each in rows[0] if each.identity == given.fit), None)
    if row is None:
        raise NotFoundError("That fit is not among those compared any more. Sweep again.")
    how = _how(given)
    plan = chosen.plan_for(view, strands.wanted(strand), row, rows[0])
    with state.store.connection():
        votes = choices.votes(strand, [given.fit])
    said = chosen.said_of(choose.compared(view, *rows, how), given.fit, votes)
    with state.store.connection():
        choices.choose(strand, given.fit, chosen.taken_by(plan), given.reason, said)
    return start(state, strand, plan, [])


class Chose(BaseModel):
    """The last choice, where one was made."""

    choice: ChosenFit | None


@router.get("/choice")
def get_choice(state: StateOf, strand: StrandOf, view: ViewOf) -> Chose:
    """The choice that was made, its reason, and what all documents changed of it."""
    with state.store.connection():
        row = choices.latest(strand)
    return Chose(choice=chosen.chosen_fit(view, row) if row else None)


@router.put("/votes")
def put_vote(state: StateOf, strand: StrandOf, view: ViewOf, edit: VoteEdit) -> VoteEdit:
    """Say of a topic that it is to be kept apart, is the same as another, or none."""
    chosen.check_vote(view, edit)
    with state.store.connection():
        choices.vote(strand, edit)
    return edit
