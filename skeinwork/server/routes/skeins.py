"""Skeins and strands: their wanted settings, versions, rebuilding."""

from __future__ import annotations

from contextlib import suppress
from typing import Annotated

from fastapi import Depends, File, Query, Request, Response, UploadFile
from fastapi.responses import FileResponse
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from starlette.background import BackgroundTask
from starlette.concurrency import run_in_threadpool

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.names import safe_name
from skeinwork.server.demo import ensure_demo
from skeinwork.server.records import Made, chunks_of, saves
from skeinwork.server.routing import Routes
from skeinwork.server.state import RecordNumber, State, StateOf, StrandOf, ViewOf
from skeinwork.store.models import Skein, Strand
from skeinwork.work.jobs.plans import Build, Gather, GatherRequest, Unpack
from skeinwork.work.screens.strand import StrandRecord, describe
from skeinwork.work.screens.versions import Version
from skeinwork.work.screens.versions import versions as list_versions
from skeinwork.work.steps import StepName
from skeinwork.work.strands import skein_file, skeins, strands, uploads
from skeinwork.work.strands.by_language import LanguageStrand, split_by_language
from skeinwork.work.strands.schemas import SkeinName
from skeinwork.work.strands.skeins import Content, SkeinEntry
from skeinwork.work.strands.strands import Wanted

router = Routes(prefix="/api", tags=["skeins"])


class NewSkein(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: SkeinName
    gather: GatherRequest


@router.post("/skeins")
def make_skein(state: StateOf, new: NewSkein) -> Made:
    """Begin a skein from files that were brought in."""
    with state.store.connection():
        uploads.check_brought_in(new.gather)
        strand = skeins.begin(new.name)
        plan = Gather(called=f"Bring in {new.name.strip()}", request=new.gather, wanted=strands.wanted(strand))
        return Made.of(strand, state.runner.start(plan, strand))


@router.get("/skeins")
def list_skeins(state: StateOf) -> list[SkeinEntry]:
    """All skeins, the newest first."""
    with state.store.connection():
        return skeins.entries()


def get_skein(state: StateOf, skein_id: RecordNumber) -> Skein:
    with state.store.connection():
        return skeins.find(skein_id)


def get_deleted_skein(state: StateOf, skein_id: RecordNumber) -> Skein:
    with state.store.connection():
        return skeins.find(skein_id, deleted=True)


SkeinOf = Annotated[Skein, Depends(get_skein)]
DeletedSkeinOf = Annotated[Skein, Depends(get_deleted_skein)]


class Renaming(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: SkeinName


@router.put("/skeins/{skein_id:int}")
def rename_skein(state: StateOf, skein: SkeinOf, to: Renaming) -> list[SkeinEntry]:
    """Call a skein otherwise."""
    with state.store.connection():
        skeins.rename(skein, to.name)
        return skeins.entries()


@router.get("/skeins/{skein_id}/content")
def skein_content(state: StateOf, skein: SkeinOf) -> Content:
    """What goes when the skein is deleted."""
    with state.store.connection():
        return skeins.content(state.store, skein)


@router.delete("/skeins/{skein_id:int}")
def delete_skein(state: StateOf, skein: SkeinOf) -> list[SkeinEntry]:
    """Delete a skein; undone by restoring it, until the server stops."""
    with state.store.connection():
        skeins.delete(skein, state.runner)
        return skeins.entries()


@router.post("/skeins/{skein_id}/restore")
def restore_skein(state: StateOf, skein: DeletedSkeinOf) -> list[SkeinEntry]:
    """Undo the deletion of a skein."""
    with state.store.connection():
        skeins.delete(skein, undo=True)
        return skeins.entries()


@router.post("/skeins/{skein_id}/copy")
def copy_skein(state: StateOf, skein: SkeinOf) -> Made:
    """A second skein with the same strands."""
    with state.store.connection():
        return Made.of(skeins.copy(skein))


@router.get("/skeins/{skein_id}/file", **saves("application/zip"))
def skein_as_file(state: StateOf, skein: SkeinOf) -> Response:
    """The skein as one file, to be opened elsewhere."""
    with state.store.connection():
        path = state.store.temporary(".skein.zip")
        skein_file.write(state.store, skein, path)
    return FileResponse(
        path,
        media_type="application/zip",
        filename=safe_name(skein.name.lower(), ending=".skein.zip"),
        background=BackgroundTask(path.unlink, missing_ok=True),
    )


@router.post("/skeins/open", status_code=202)
def open_skein_file(state: StateOf, file: Annotated[UploadFile, File()]) -> Made:
    """Bring a skein in from a file, in a job."""
    name = (file.filename or "skein").replace("\\", "/").rsplit("/", 1)[-1][:255]
    with state.store.connection():
        kept = state.store.keep_upload(name, chunks_of(file), state.upload_limit)
        return Made(job=state.runner.start(Unpack(sha256=kept.sha256, name=name)).id)


@router.post("/demo", status_code=202)
def open_demo(state: StateOf) -> Made:
    """Put the demo corpus beside one's own work; the strand to open."""
    return Made(strand=ensure_demo(state.store, state.runner))


@router.get("/strands/{strand_id}")
def get_strand(state: StateOf, strand: StrandOf) -> StrandRecord:
    """A strand as it stands."""
    with state.store.connection():
        return describe(state.store, strand)


class WantedEdit(BaseModel):
    model_config = ConfigDict(extra="forbid")
    revision: int
    wanted: Wanted


async def _read_apart(request: Request) -> None:
    """Long rules are checked beside the event loop, and what was found is remembered by their settings."""
    body = await request.body()
    with suppress(ValidationError):
        await run_in_threadpool(WantedEdit.model_validate_json, body)


@router.put("/strands/{strand_id}/wanted", dependencies=[Depends(_read_apart)])
def edit_wanted(state: StateOf, strand: StrandOf, change: WantedEdit) -> StrandRecord:
    """Set the wanted settings; refused with 409 if they changed since ``revision``."""
    with state.store.connection():
        known = {strands.wanted(strand).base, *strands.bases(strand)}
        if change.wanted.base not in known:
            raise BadInputError("The strand never had those documents. Bring them in first.")
        return describe(state.store, strands.edit(strand, change.wanted, change.revision))


@router.post("/strands/{strand_id}/undo")
def undo(
    state: StateOf, strand: StrandOf, revision: Annotated[int, Query(ge=1, le=2**31 - 1)], redo: bool = False
) -> StrandRecord:
    """Undo or redo the last change of settings; refused where the revision is not the present one."""
    with state.store.connection():
        strands.step_back(strand, revision, redo)
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


@router.post("/strands/{strand_id}/split")
def split(state: StateOf, strand: StrandOf, view: ViewOf) -> list[LanguageStrand]:
    """A strand for each language of the documents, which are made now."""
    with state.store.connection():
        found = split_by_language(strand, view)
        for each in found:
            made = strands.get(each.strand)
            plan = Build(wanted=strands.wanted(made), refit=False)
            each.job = state.runner.start(plan, made).id
        return found


@router.get("/strands/{strand_id}/versions/{step}")
def versions(state: StateOf, strand: StrandOf, step: StepName) -> list[Version]:
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
