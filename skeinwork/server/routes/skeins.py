"""Skeins and strands: their wanted settings, versions, rebuilding."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.server.records import Made
from skeinwork.server.state import State, StateOf, StrandOf
from skeinwork.store.models import Strand
from skeinwork.work import skeins, strands, uploads
from skeinwork.work.plans import Build, Gather, GatherRequest
from skeinwork.work.screens.strand import StrandRecord, describe
from skeinwork.work.screens.versions import Version
from skeinwork.work.screens.versions import versions as list_versions
from skeinwork.work.skeins import SkeinEntry
from skeinwork.work.strands import Wanted

router = APIRouter(prefix="/api", tags=["skeins"])


class NewSkein(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)
    gather: GatherRequest


@router.post("/skeins")
def make_skein(state: StateOf, new: NewSkein) -> Made:
    """Begin a skein from files that were brought in."""
    with state.store.connection():
        uploads.check_brought_in(new.gather)
        strand = skeins.begin(new.name)
        plan = Gather(
            called=f"Bring in {new.name.strip()}", request=new.gather, wanted=strands.wanted(strand)
        )
        return Made.of(strand, state.runner.start(plan, strand))


@router.get("/skeins")
def list_skeins(state: StateOf) -> list[SkeinEntry]:
    """All skeins, the newest first."""
    with state.store.connection():
        return skeins.entries()


@router.get("/strands/{strand_id}")
def get_strand(state: StateOf, strand: StrandOf) -> StrandRecord:
    """A strand as it stands."""
    with state.store.connection():
        return describe(state.store, strand)


class WantedEdit(BaseModel):
    model_config = ConfigDict(extra="forbid")
    revision: int
    wanted: Wanted


@router.put("/strands/{strand_id}/wanted")
def edit_wanted(state: StateOf, strand: StrandOf, change: WantedEdit) -> StrandRecord:
    """Set the wanted settings; refused with 409 if they changed since ``revision``."""
    with state.store.connection():
        known = {strands.wanted(strand).base, *strands.bases(strand)}
        if change.wanted.base not in known:
            raise BadInputError("The strand never had those documents. Bring them in first.")
        return describe(state.store, strands.edit(strand, change.wanted, change.revision))


@router.post("/strands/{strand_id}/undo")
def undo(state: StateOf, strand: StrandOf, redo: bool = False) -> StrandRecord:
    """Undo or redo the last change of settings."""
    with state.store.connection():
        strands.step_back(strand, redo)
        return describe(state.store, strand)


def _build(state: State, strand: Strand) -> Made:
    plan = Build(wanted=strands.wanted(strand), refit=bool(strands.last_fit(state.store, strand)))
    return Made.of(strand, state.runner.start(plan, strand))


@router.post("/strands/{strand_id}/rebuild")
def rebuild(state: StateOf, strand: StrandOf) -> Made:
    """Make everything that is out of date again, with the wanted settings."""
    with state.store.connection():
        return _build(state, strand)


@router.post("/strands/{strand_id}/fork")
def fork(state: StateOf, strand: StrandOf) -> Made:
    """A second strand with the same results, to go another way from here."""
    with state.store.connection():
        return Made.of(skeins.fork(strand))


@router.get("/strands/{strand_id}/versions/{step}")
def versions(state: StateOf, strand: StrandOf, step: strands.StepName) -> list[Version]:
    """Results of a step that were made from this strand's corpus."""
    with state.store.connection():
        return list_versions(state.store.artefacts, strand, step)


class Switch(BaseModel):
    model_config = ConfigDict(extra="forbid")
    identity: str = Field(pattern="^[0-9a-f]{64}$")


@router.post("/strands/{strand_id}/switch")
def switch(state: StateOf, strand: StrandOf, to: Switch) -> StrandRecord:
    """Put an earlier result on the strand, with the settings that made it."""
    with state.store.connection():
        if skeins.switch(state.store, strand, to.identity):
            _build(state, strand)
        return describe(state.store, strands.get(strand.id))
