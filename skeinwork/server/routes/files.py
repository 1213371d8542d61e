"""Files brought in: kept, previewed, looked into; a folder and pasted text become files too."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Annotated, Literal

from fastapi import APIRouter, File, Request, UploadFile
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool
from starlette.datastructures import UploadFile as SentFile
from starlette.exceptions import HTTPException

from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import archive, html, nested, readers, tables
from skeinwork.core.formats.encoding import OFFERED
from skeinwork.core.formats.records import FileSettings, named_by
from skeinwork.server.state import NotFoundError, State, StateOf
from skeinwork.store.models import Upload

router = APIRouter(prefix="/api/uploads", tags=["files"])
PREVIEW_ROWS = 12
OUTLINED = 100


class PreviewRow(BaseModel):
    line: int
    place: str
    cells: dict[str, str]


class RejectedRow(BaseModel):
    line: int
    place: str
    reason: str
    raw: str


class FilePreview(BaseModel):
    """The beginning of a file as it would be read with these settings."""

    sha256: str
    name: str
    size: int
    settings: FileSettings
    unit: str
    columns: list[str]
    rows: list[PreviewRow]
    looked_at: int
    filled: dict[str, int]
    rejected: list[RejectedRow]
    order_is_certain: bool
    doubtful: int
    guessed_encoding: bool
    encodings: list[str]
    sheets: list[str]
    formats: dict[str, str]


def preview_file(
    state: State, upload: Upload, name: str, settings: FileSettings | None
) -> FilePreview:
    """The beginning of a file that was brought in; with no settings, as detected."""
    data = readers.head(state.store.upload_path(upload.sha256), name)
    settings = settings or readers.detect_settings(data, name)
    found = preview(data, name, settings)
    ready = settings.model_copy(update={"roles": found.roles, "html_text": found.html_text})
    if not settings.roles:
        ready = ready.model_copy(update={"date_order": found.date_order})
    return FilePreview(
        sha256=upload.sha256, name=name, size=upload.size, settings=ready,
        unit=readers.FORMATS[settings.format].unit, columns=found.columns,
        rows=[
            PreviewRow(line=row.line, place=row.place,
                       cells={k: v[:600] for k, v in row.cells.items()})
            for row in found.rows[:PREVIEW_ROWS]
        ],
        looked_at=len(found.rows), filled=found.filled,
        rejected=[
            RejectedRow(line=r.line, place=r.place, reason=r.reason, raw=r.raw[:400])
            for r in found.rejected[:20]
        ],
        order_is_certain=found.order_is_certain, doubtful=found.doubtful,
        guessed_encoding=found.guessed_encoding, encodings=list(OFFERED),
        sheets=tables.sheets(data, name) if settings.format == "spreadsheet" else [],
        formats={key: each.label for key, each in readers.FORMATS.items()},
    )  # fmt: skip


def _keep(state: State, name: str, chunks: Iterable[bytes]) -> FilePreview:
    with state.store.connection():
        kept = state.store.keep_upload(name, chunks, state.upload_limit)
    return preview_file(state, kept, name, None)


def _chunks(file: UploadFile) -> Iterator[bytes]:
    while chunk := file.file.read(1 << 20):
        yield chunk


@router.post("")
def upload(state: StateOf, file: Annotated[UploadFile, File()]) -> FilePreview:
    """Bring a file in; answers with its detected settings and a preview."""
    name = (file.filename or "file").replace("\\", "/").rsplit("/", 1)[-1][:255]
    return _keep(state, name, _chunks(file))


@router.post("/folder", openapi_extra={
    "requestBody": {"content": {"multipart/form-data": {"schema": {
        "type": "object", "required": ["name", "files"],
        "properties": {"name": {"type": "string"},
                       "files": {"type": "array", "items": {"type": "string", "format": "binary"}}},
    }}}}})  # fmt: skip
async def upload_folder(state: StateOf, request: Request) -> FilePreview:
    """Bring many files in as one folder: packed into a zip file, each with its path."""
    try:
        form = await request.form(max_files=archive.MOST_MEMBERS, max_fields=10)
    except HTTPException as fault:
        raise BadInputError(f"The folder can't be taken: {fault.detail}.") from fault
    files = [each for each in form.getlist("files") if isinstance(each, SentFile)]
    if not files:
        raise BadInputError("The folder holds no files. Choose another.")
    if sum(each.size or 0 for each in files) > state.upload_limit:
        raise BadInputError(
            f"The folder is larger than the limit of {state.upload_limit // 1_000_000} MB. "
            "Raise it with --upload-limit."
        )
    name = f"{str(form.get('name') or 'folder')[:200]}.zip"

    def take() -> FilePreview:
        members = [(each.filename or str(at), each.file.read()) for at, each in enumerate(files)]
        return _keep(state, name, [archive.pack(members)])

    return await run_in_threadpool(take)


class KeptFile(BaseModel):
    """A file that was brought in before."""

    sha256: str
    name: str
    size: int


@router.get("")
def list_uploads(state: StateOf) -> list[KeptFile]:
    """The files that were brought in last."""
    with state.store.connection():
        rows = Upload.select().order_by(Upload.created.desc()).limit(30)
        return [KeptFile(sha256=row.sha256, name=row.name, size=row.size) for row in rows]


class Pasted(BaseModel):
    """Text from the clipboard."""

    model_config = ConfigDict(extra="forbid")
    name: str = Field("Pasted text", min_length=1, max_length=200)
    text: str = Field(min_length=1, max_length=50_000_000)
    between: Literal["lines", "blank-lines", "nothing"] = Field(
        "lines", description="what stands between documents"
    )


@router.post("/paste")
def paste(state: StateOf, pasted: Pasted) -> FilePreview:
    """Bring pasted text in, a document a line, or with blank lines between documents."""
    name = f"{pasted.name}.txt"
    data = pasted.text.encode("utf-8", "replace")
    with state.store.connection():
        kept = state.store.keep_upload(name, [data], state.upload_limit)
    settings = FileSettings(format={
        "lines": "text-lines", "blank-lines": "text-blocks", "nothing": "text-file",
    }[pasted.between])  # fmt: skip
    return preview_file(state, kept, name, settings)


def find_upload(state: State, sha256: str) -> Upload:
    """A file that was brought in, by its checksum."""
    with state.store.connection():
        found: Upload | None = Upload.get_or_none(Upload.sha256 == sha256)
    if found is None:
        raise NotFoundError("That file was not brought in. Choose it again.")
    return found


@router.post("/{sha256}/preview")
def preview_upload(
    state: StateOf, sha256: str, name: str, settings: FileSettings | None = None
) -> FilePreview:
    """Preview a file that was brought in, with other settings; without any, as detected."""
    return preview_file(state, find_upload(state, sha256), name, settings)


class OutlineRecord(BaseModel):
    """One name of a nested file: where it is, how often it occurs and in how many of its holders."""

    name: str
    path: str
    count: int
    holders: int
    of: int
    lists: bool
    example: str
    children: list[OutlineRecord]


def _outlined(node: nested.Outline, of: int) -> OutlineRecord:
    children = list(node.children.values())[:OUTLINED]
    return OutlineRecord(
        name=node.name, path=node.path, count=node.count, holders=node.holders, of=of,
        lists=node.lists, example=node.example,
        children=[_outlined(child, node.count) for child in children],
    )  # fmt: skip


@router.post("/{sha256}/outline")
def outline(state: StateOf, sha256: str, name: str, settings: FileSettings) -> OutlineRecord:
    """The tree of names in a JSON or XML file, to choose where its records are."""
    if settings.format not in ("json", "xml"):
        raise BadInputError("Only JSON and XML have a tree of names.")
    data = state.store.upload_path(find_upload(state, sha256).sha256).read_bytes()
    return _outlined(readers.outline(data, name, settings), 1)


class PagePart(BaseModel):
    """What the chosen part of one page gives, beside the whole of it."""

    name: str
    found: str
    whole: str


@router.post("/{sha256}/pages")
def pages(state: StateOf, sha256: str, name: str, settings: FileSettings) -> list[PagePart]:
    """Try the part of a page that is wanted on the first pages of a file."""
    upload = find_upload(state, sha256)
    data = readers.head(state.store.upload_path(upload.sha256), name)
    plain = settings.model_copy(update={"html_text": False, "page": "whole"})
    text = named_by(settings.roles, "text") or "text"
    out = []
    if settings.format in ("html", "archive"):
        wholes = preview(data, name, plain, 5).rows
        parts = {row.place: row for row in preview(data, name, settings, 5).rows}
        for row in wholes:
            part = parts.get(row.place)
            out.append(PagePart(
                name=row.cells.get("title") or row.place or name,
                found=(part.cells.get(text, "") if part else "")[:4000],
                whole=row.cells.get(text, "")[:4000],
            ))  # fmt: skip
        return out
    for row in preview(data, name, plain, 5).rows:
        page = row.cells.get(text, "")
        found, _ = html.page_text(page, settings)
        whole, _ = html.page_text(page, plain)
        out.append(PagePart(name=f"{readers.FORMATS[settings.format].unit} {row.line}",
                            found=found[:4000], whole=whole[:4000]))  # fmt: skip
    return out
