"""Fit and Choose: start fits and sweeps, compare what they gave, take one."""

from __future__ import annotations

import math
from collections.abc import Iterable
from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.server.records import Made
from skeinwork.server.state import Identity, State, StateOf, StrandOf, ViewOf
from skeinwork.store.models import Strand
from skeinwork.work.jobs.plans import Fit, Plan, Sweep, SweepRequest
from skeinwork.work.screens import choose, fit, placed_text
from skeinwork.work.screens.choose import FitList
from skeinwork.work.screens.fit import FitDetail, MethodKind, SettingAdvice
from skeinwork.work.screens.new_text import NewText, texts_of_file
from skeinwork.work.screens.placed_text import PlacedTexts
from skeinwork.work.screens.strand import StrandRecord, describe
from skeinwork.work.steps import CORPUS, MATRIX
from skeinwork.work.strands import strands, uploads
from skeinwork.work.topics import fits

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["fit"])
MOST_FITS = 500


@router.get("/fits")
def list_fits(state: StateOf, strand: StrandOf, view: ViewOf) -> FitList:
    """All fits of the present matrix, and a suggestion from them."""
    with state.store.connection():
        rows = fits.of_matrix(strand.results.get(MATRIX.name))
    return choose.compared(view, rows)


@router.get("/methods")
def list_methods(strand: StrandOf) -> list[MethodKind]:
    """The topic methods there are."""
    return fit.methods()


@router.get("/fits/{identity}")
def get_fit(state: StateOf, view: ViewOf, identity: Identity) -> FitDetail:
    """One fit in detail."""
    matrix = fits.open_fit(view, identity).making.inputs[0]
    with state.store.connection():
        rows = fits.of_matrix(matrix)
    return fit.detail(view, identity, rows)


def _start(state: State, strand: Strand, plan: Plan, settings: Iterable[MethodSettings]) -> Made:
    """Begin a plan; what its fits would refuse later is refused at once."""
    if strands.standing(state.store, strand)[MATRIX.name] == "ready":
        fit.check(state.view(strand), settings)
    with state.store.connection():
        return Made.of(strand, state.runner.start(plan, strand))


@router.post("/fits", status_code=202)
def start_fit(state: StateOf, strand: StrandOf, settings: FitSettings) -> Made:
    """Fit one model in a job, and put it on the strand."""
    wanted = strands.wanted(strand).model_copy(update={"fit": settings})
    return _start(state, strand, Fit(wanted=wanted), [settings])


@router.post("/advice")
def advise(state: StateOf, strand: StrandOf, view: ViewOf, settings: FitSettings) -> list[SettingAdvice]:
    """What the settings of a method may be for this corpus, measured on a sample of it."""
    with state.store.connection():
        rows = fits.of_matrix(strand.results.get(MATRIX.name))
    return fit.advice(view, settings, rows)


@router.post("/placed")
def place_text(view: ViewOf, given: NewText) -> PlacedTexts:
    """A text among the topics of the fit."""
    return placed_text.place_texts(view, [given.text], ["Typed in"], 1)


@router.get("/placed/held-out")
def place_held_out(view: ViewOf, offset: Annotated[int, Query(ge=0, le=2**31)] = 0) -> PlacedTexts:
    """Documents that were held out at Weigh, in the same way."""
    return placed_text.place_held_out(view, offset)


@router.get("/placed/files/{sha256}")
def place_file(state: StateOf, view: ViewOf, sha256: str) -> PlacedTexts:
    """The first documents of a file, in the same way."""
    with state.store.connection():
        file = uploads.find(sha256)
    found = texts_of_file(state.store.upload_path(file.sha256), file.name)
    return placed_text.place_texts(view, [text for _, text in found], [name for name, _ in found], len(found))


@router.post("/sweeps", status_code=202)
def start_sweep(state: StateOf, strand: StrandOf, request: SweepRequest) -> Made:
    """Fit models over topic counts and seeds in a job."""
    if any(not 2 <= count <= 500 for count in request.counts):
        raise BadInputError("Topic counts go from 2 to 500.")
    if math.prod(len(set(each)) for each in (request.counts, request.seeds, *request.over.values())) > MOST_FITS:
        raise BadInputError(f"A sweep has at most {MOST_FITS} fits. Ask for fewer counts or seeds.")
    plan = Sweep(request=request, wanted=strands.wanted(strand))
    largest = max(plan.fits(), key=lambda each: each.topics)
    return _start(state, strand, plan, [largest])


class Take(BaseModel):
    model_config = ConfigDict(extra="forbid")
    fit: str = Field(pattern="^[0-9a-f]{64}$")


@router.post("/take")
def take(state: StateOf, strand: StrandOf, choice: Take) -> StrandRecord:
    """Put a fit on the strand; labels follow the matched topics."""
    artefacts = state.store.artefacts
    if not artefacts.has(choice.fit):
        raise NotFoundError("That fit does not exist any more.")
    if artefacts.ancestor(choice.fit, CORPUS.name).identity != strand.results.get(CORPUS.name):
        raise BadInputError("That fit was made from other documents.")
    with state.store.connection():
        strands.take_fit(state.store, strand, choice.fit)
        return describe(state.store, strand)
