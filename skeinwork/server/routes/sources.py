"""The files a strand's documents come from: looked at again, read otherwise, more of them."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query
from pydantic import BaseModel

from skeinwork.core.corpus.gather import GatherSettings
from skeinwork.server.records import Made
from skeinwork.server.routes.files import FilePreview, find_upload, preview_file
from skeinwork.server.state import NotFoundError, SelectedStrand, StateOf
from skeinwork.store.models import Upload
from skeinwork.work import strands
from skeinwork.work.jobs import GatherRequest

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["gather"])


class SourceFiles(BaseModel):
    """The files, each as it was read."""

    base: str
    files: list[FilePreview]
    repeated: str


def check_brought_in(request: GatherRequest) -> None:
    """Refuse files that are not there; call inside a connection."""
    known = {row.sha256 for row in Upload.select(Upload.sha256)}
    for file in request.files:
        if file.sha256 not in known:
            raise NotFoundError(f"{file.name} was not brought in. Choose it again.")


@router.get("/files")
def list_files(state: StateOf, chosen: SelectedStrand) -> SourceFiles:
    """The files that the wanted documents come from, with how each is read."""
    base = strands.wanted_base(chosen.strand)
    making = state.store.artefacts.open(base).making
    names = making.settings["names"]
    settings = GatherSettings.model_validate(
        {key: value for key, value in making.settings.items() if key != "names"}
    )
    return SourceFiles(
        base=base,
        files=[
            preview_file(state, find_upload(state, sha256), name, each)
            for sha256, name, each in zip(making.inputs, names, settings.files, strict=True)
        ],
        repeated=settings.repeated,
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
        if base != strands.wanted_base(chosen.strand):
            raise strands.EditConflictError
        check_brought_in(request)
        job = state.runner.start("gather", chosen.strand, request, "Bring the files in again")
    return Made(strand=chosen.strand.id, job=job.id)
