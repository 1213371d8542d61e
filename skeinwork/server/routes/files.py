"""Files brought in: kept, previewed, looked into; a folder and pasted text become files too."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal

from fastapi import Depends, File, Request, UploadFile
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile as SentFile
from starlette.exceptions import HTTPException

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import archive
from skeinwork.core.formats.records import FileSettings
from skeinwork.server.records import chunks_of
from skeinwork.server.routing import Routes
from skeinwork.server.state import State, StateOf
from skeinwork.work.screens import files
from skeinwork.work.screens.files import Brought, FilePreview, OutlineRecord, PagePart, preview_file
from skeinwork.work.strands import uploads

router = Routes(prefix="/api/uploads", tags=["files"])


def _previewed(state: State, file: Brought, settings: FileSettings | None) -> FilePreview:
    return preview_file(state.store.upload_path(file.sha256), file, settings)


def _name(file: UploadFile) -> str:
    """What the analyst calls it, without folders."""
    return (file.filename or "file").replace("\\", "/").rsplit("/", 1)[-1][:255]


def _kept(state: State, name: str, chunks: Iterable[bytes]) -> Brought:
    with state.store.connection():
        return uploads.brought(state.store.keep_upload(name, chunks, state.upload_limit))


def _keep(state: State, name: str, chunks: Iterable[bytes], settings: FileSettings | None = None) -> FilePreview:
    return _previewed(state, _kept(state, name, chunks), settings)


@router.post("")
def upload(state: StateOf, file: Annotated[UploadFile, File()]) -> FilePreview:
    """Bring a file in; answers with its detected settings and a preview."""
    return _keep(state, _name(file), chunks_of(file))


@router.post("/vectors")
def upload_vectors(state: StateOf, file: Annotated[UploadFile, File()]) -> Brought:
    """Bring a file of vectors in; it is looked into when they are made."""
    return _kept(state, _name(file), chunks_of(file))


@router.post(
    "/folder",
    openapi_extra={
        "requestBody": {
            "content": {
                "multipart/form-data": {
                    "schema": {
                        "type": "object",
                        "required": ["files"],
                        "properties": {
                            "name": {"type": "string"},
                            "files": {"type": "array", "items": {"type": "string", "format": "binary"}},
                        },
                    }
                }
            }
        }
    },
)
async def upload_folder(state: StateOf, request: Request) -> FilePreview:
    """Bring many files in as one folder: packed into a zip file, each with its path."""
    try:
        form = await request.form(max_files=archive.MOST_MEMBERS, max_fields=10)
    except HTTPException as fault:
        if fault.status_code == 413:
            raise
        raise BadInputError(f"The folder can't be taken: {fault.detail}.") from fault
    sent = [each for each in form.getlist("files") if isinstance(each, SentFile)]
    if not sent:
        raise BadInputError("The folder holds no files. Choose another.")
    name = f"{str(form.get('name') or 'folder')[:200]}.zip"

    def take() -> FilePreview:
        members = [(each.filename or str(at), each.file.read()) for at, each in enumerate(sent)]
        return _keep(state, name, [archive.pack(members)])

    return await run_in_threadpool(take)


@router.get("")
def list_uploads(state: StateOf) -> list[Brought]:
    """The files that were brought in last."""
    with state.store.connection():
        return uploads.newest()


class Pasted(BaseModel):
    """Text from the clipboard."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field("Pasted text", min_length=1, max_length=200)
    text: str = Field(min_length=1, max_length=50_000_000)
    between: Literal["lines", "blank-lines", "nothing"] = Field("lines", description="what stands between documents")


@router.post("/paste")
def paste(state: StateOf, pasted: Pasted) -> FilePreview:
    """Bring pasted text in, a document a line, or with blank lines between documents."""
    settings = FileSettings(
        format={"lines": "text-lines", "blank-lines": "text-blocks", "nothing": "text-file"}[pasted.between]
    )
    data = pasted.text.encode("utf-8", "replace")
    return _keep(state, f"{pasted.name}.txt", [data], settings)


def get_brought(state: StateOf, sha256: str, name: str) -> Brought:
    """A file that was brought in, by its checksum, called as the analyst calls it."""
    with state.store.connection():
        return uploads.find(sha256).model_copy(update={"name": name})


BroughtOf = Annotated[Brought, Depends(get_brought)]


@router.post("/{sha256}/preview")
def preview_upload(state: StateOf, file: BroughtOf, settings: FileSettings | None = None) -> FilePreview:
    """Preview a file that was brought in, with other settings; without any, as detected."""
    return _previewed(state, file, settings)


@router.post("/{sha256}/outline")
def outline(state: StateOf, file: BroughtOf, settings: FileSettings) -> OutlineRecord:
    """The tree of names in a JSON or XML file, to choose where its records are."""
    return files.outline(state.store.upload_path(file.sha256), file.name, settings)


@router.post("/{sha256}/pages")
def pages(state: StateOf, file: BroughtOf, settings: FileSettings) -> list[PagePart]:
    """Try the part of a page that is wanted on the first pages of a file."""
    return files.pages(state.store.upload_path(file.sha256), file.name, settings)
