"""The files a strand's documents come from: looked at again, read otherwise, more of them."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from skeinwork.core.corpus.gather import Repeated
from skeinwork.core.errors import NO_DOCUMENTS, BadInputError
from skeinwork.server.records import Made
from skeinwork.server.routes.files import FilePreview, find_upload, preview_file
from skeinwork.server.state import NotFoundError, SelectedStrand, State, StateOf
from skeinwork.store.models import Job, Strand, Upload
from skeinwork.work import strands
from skeinwork.work.jobs import GatheredFile, GatherRequest

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["gather"])


class SourceFiles(BaseModel):
    """The files, each as it was read."""

    base: str
    files: list[FilePreview]
    repeated: Repeated


def check_brought_in(request: GatherRequest) -> None:
    """Refuse files that are not there; call inside a connection."""
    known = {row.sha256 for row in Upload.select(Upload.sha256)}
    for file in request.files:
        if file.sha256 not in known:
            raise NotFoundError(f"{file.name} was not brought in. Choose it again.")


def _gathered(state: State, strand: Strand) -> GatherRequest:
    """What the wanted documents were brought in with; before there are any, what was tried last."""
    if base := strands.wanted(strand).base:
        making = state.store.artefacts.open(base).making
        named = zip(making.inputs, making.settings["names"], making.settings["files"], strict=True)
        return GatherRequest(
            files=[GatheredFile(sha256=sha256, name=name, settings=each)
                   for sha256, name, each in named],
            repeated=making.settings["repeated"],
        )  # fmt: skip
    with state.store.connection():
        tried = Job.select().where((Job.strand == strand) & (Job.kind == "gather"))
        last = tried.order_by(Job.id.desc()).first()
    if last is None:
        raise BadInputError(NO_DOCUMENTS)
    return GatherRequest.model_validate(last.request)


@router.get("/files")
def list_files(state: StateOf, chosen: SelectedStrand) -> SourceFiles:
    """The files that the wanted documents come from, with how each is read."""
    request = _gathered(state, chosen.strand)
    return SourceFiles(
        base=strands.wanted(chosen.strand).base,
        files=[
            preview_file(state, find_upload(state, file.sha256), file.name, file.settings)
            for file in request.files
        ],
        repeated=request.repeated,
    )


@router.post("/gather")
def gather_again(
    state: StateOf, chosen: SelectedStrand, request: GatherRequest,
    base: Annotated[str, Query(max_length=64)],
) -> Made:  # fmt: skip
    """Bring files in again, with others or read otherwise, and make what follows from them.

    Refused with 409 if they have been brought in again since ``base`` was.
    """
    with state.store.connection():
        if base != strands.wanted(chosen.strand).base:
            raise strands.EditConflictError
        check_brought_in(request)
        job = state.runner.start("gather", chosen.strand, request, "Bring the files in again")
    return Made(strand=chosen.strand.id, job=job.id)
