"""The files a strand's documents come from: looked at again, read otherwise, more of them."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel

from skeinwork.core.corpus.documents import Repeated
from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import StateOf, StrandOf
from skeinwork.work.jobs.plans import Gather, GatherRequest
from skeinwork.work.screens.files import FilePreview, preview_file
from skeinwork.work.strands import strands, uploads

router = Routes(prefix="/api/strands/{strand_id}", tags=["gather"])


class SourceFiles(BaseModel):
    """The files, each as it was read."""

    base: str
    files: list[FilePreview]
    repeated: Repeated


@router.get("/files")
def list_files(state: StateOf, strand: StrandOf) -> SourceFiles:
    """The files that the wanted documents come from, with how each is read."""
    with state.store.connection():
        request = uploads.gathered(state.store, strand)
        kept = [uploads.find(file.sha256) for file in request.files]
    files = [
        preview_file(state.store.upload_path(each.sha256), each.model_copy(update={"name": file.name}), file.settings)
        for file, each in zip(request.files, kept, strict=True)
    ]
    return SourceFiles(base=strands.wanted(strand).base, files=files, repeated=request.repeated)


@router.post("/gather")
def gather_again(
    state: StateOf, strand: StrandOf, request: GatherRequest, base: Annotated[str, Query(max_length=64)]
) -> Made:
    """Bring files in again, with others or read otherwise, and make what follows from them.

    Refused with 409 if they have been brought in again since ``base`` was.
    """
    with state.store.connection():
        wanted = strands.wanted(strand)
        if base != wanted.base:
            raise strands.EditConflictError
        uploads.check_brought_in(request)
        refit = bool(strands.last_fit(state.store, strand))
        plan = Gather(called="Bring the files in again", request=request, wanted=wanted, refit=refit)
        return Made.of(strand, state.runner.start(plan, strand))
