"""Fit and Choose: start fits and sweeps, compare what they gave, take one."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.topics.methods import FitSettings
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.starting import start
from skeinwork.server.state import Identity, StateOf, StrandOf, ViewOf
from skeinwork.work.jobs.plans import Fit
from skeinwork.work.screens import compared_fits, fit, placed_text
from skeinwork.work.screens.compared_fits import ComparedFits, OtherFit
from skeinwork.work.screens.fit import FitDetail, MethodKind, SettingAdvice
from skeinwork.work.screens.new_text import NewText, texts_of_file
from skeinwork.work.screens.placed_text import PlacedTexts
from skeinwork.work.screens.strand import StrandRecord, describe
from skeinwork.work.screens.versions import results_of
from skeinwork.work.steps import CORPUS, FIT, MATRIX
from skeinwork.work.strands import strands, topic_notes, uploads
from skeinwork.work.topics import fits

router = Routes(prefix="/api/strands/{strand_id}", tags=["fit"])


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


@router.post("/fits", status_code=202)
def start_fit(state: StateOf, strand: StrandOf, settings: FitSettings) -> Made:
    """Fit one model in a job, and put it on the strand."""
    settings = settings.model_copy(update={"merged": ()})  # topics of another fit
    wanted = strands.wanted(strand).model_copy(update={"fit": settings})
    return start(state, strand, Fit(wanted=wanted), [settings])


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


@router.get("/compared")
def list_comparable(state: StateOf, strand: StrandOf, view: ViewOf) -> list[OtherFit]:
    """The fits of the same documents that the strand's can be held against."""
    with state.store.connection():
        rows = list(results_of(strand, FIT.name))
        before = topic_notes.fit_before(strand)
    return compared_fits.others(view, rows, before)


@router.get("/compared/{identity}")
def get_compared(state: StateOf, strand: StrandOf, view: ViewOf, identity: Identity) -> ComparedFits:
    """The strand's fit beside another: topics matched, settings that differ, documents that moved."""
    with state.store.connection():
        now, then = topic_notes.notes(strand), topic_notes.notes(strand, identity)
    return compared_fits.compared_fits(view, identity, now, then)


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
    if artefacts.open(choice.fit).making.inputs[0] == strands.compared_by(artefacts, strand):
        raise BadInputError(
            "That fit has not seen the documents that are held out for comparing. Take it at Choose: it then goes "
            "on with all documents."
        )
    with state.store.connection():
        strands.take_fit(state.store, strand, choice.fit)
        return describe(state.store, strand)
