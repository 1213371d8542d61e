"""Files brought in, as they would be read: a preview, the tree of names, the parts of pages."""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

from pydantic import BaseModel, Field

from skeinwork.core import apart
from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import html, nested, readers, tables
from skeinwork.core.formats.encoding import OFFERED
from skeinwork.core.formats.records import FileSettings, named_by

PREVIEW_ROWS = 12
_LOOKING = threading.BoundedSemaphore(2)
OUTLINED = 100


class Brought(BaseModel):
    """A file that was brought in."""

    sha256: str
    name: str
    size: int


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
    """The beginning of a file as it would be read with these settings; ``asks`` names those it heeds."""

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
    asks: list[str]
    remarks: list[str] = Field(default_factory=list)
    unseen: str = Field("", description="why there is no preview, though the file may be read")


def look(call: Callable[..., Iterator[Any]], path: Path, name: str, *arguments: Any) -> Iterator[Any]:
    """What a call yields that looks into a file, apart and with little time and memory, as two may."""
    try:
        size = path.stat().st_size
    except OSError as fault:
        raise BadInputError(
            f"{name}, as it was brought in, is missing on disk. Bring the same file in again."
        ) from fault
    limits = readers.limits(size, looking=True)
    with _LOOKING:
        yield from apart.each(call, path, name, *arguments, name=lambda: name, limits=limits)


def preview_file(path: Path, file: Brought, settings: FileSettings | None) -> FilePreview:
    """The beginning of a file; with no settings, as detected."""
    found = look(_preview, path, file.name, file, settings)
    known: FileSettings = next(found)
    try:
        return FilePreview.model_validate(next(found))
    except apart.OverLimitError as fault:
        if not readers.FORMATS[known.format].single:
            raise
        return _unseen(file, known, str(fault))


def _unseen(file: Brought, settings: FileSettings, why: str) -> FilePreview:
    """A file that is one document, which is known without having been read."""
    ready = settings.model_copy(update={"roles": settings.roles or {"text": "text"}})
    return _shown(
        file,
        ready,
        columns=list(ready.roles),
        rows=[],
        looked_at=0,
        filled={},
        rejected=[],
        order_is_certain=True,
        doubtful=0,
        guessed_encoding=False,
        sheets=[],
        unseen=f"{why.split('. ')[0]}. It is one document, and can be brought in unseen.",
    )


def _shown(file: Brought, settings: FileSettings, **seen: Any) -> FilePreview:
    """A preview: what is known of the file and its format, with what was seen of it."""
    chosen = readers.FORMATS[settings.format]
    return FilePreview(
        sha256=file.sha256,
        name=file.name,
        size=file.size,
        settings=settings,
        unit=chosen.unit,
        asks=list(chosen.settings),
        encodings=list(OFFERED),
        formats={key: each.label for key, each in readers.FORMATS.items()},
        **seen,
    )


def _preview(
    path: Path, name: str, file: Brought, settings: FileSettings | None
) -> Iterator[FileSettings | FilePreview]:
    data = readers.head(path, name)
    settings = settings or readers.detect_settings(data, name)
    yield settings
    found = preview(data, name, settings)
    ready = settings.model_copy(update={"roles": found.roles, "html_text": found.html_text})
    if not settings.roles:
        ready = ready.model_copy(update={"date_order": found.date_order})
    yield _shown(
        file,
        ready,
        columns=found.columns,
        rows=[
            PreviewRow(line=row.line, place=row.place, cells={k: v[:600] for k, v in row.cells.items()})
            for row in found.rows[:PREVIEW_ROWS]
        ],
        looked_at=len(found.rows),
        filled=found.filled,
        rejected=[
            RejectedRow(line=r.line, place=r.place, reason=r.reason, raw=r.raw[:400]) for r in found.rejected[:20]
        ],
        order_is_certain=found.order_is_certain,
        doubtful=found.doubtful,
        guessed_encoding=found.guessed_encoding,
        remarks=found.remarks,
        sheets=tables.sheets(data, file.name) if settings.format == "spreadsheet" else [],
    )


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
        name=node.name,
        path=node.path,
        count=node.count,
        holders=node.holders,
        of=of,
        lists=node.lists,
        example=node.example,
        children=[_outlined(child, node.count) for child in children],
    )


def outline(path: Path, name: str, settings: FileSettings) -> OutlineRecord:
    """The tree of names in a nested file, to choose where its records are."""
    if not readers.FORMATS[settings.format].nested:
        raise BadInputError("Only JSON and XML have a tree of names.")
    (found,) = look(_outline, path, name, settings)
    return OutlineRecord.model_validate(found)


def _outline(path: Path, name: str, settings: FileSettings) -> Iterator[OutlineRecord]:
    yield _outlined(readers.outline(readers.head(path, name), name, settings), 1)


class PagePart(BaseModel):
    """What the chosen part of one page gives, beside the whole of it."""

    name: str
    found: str
    whole: str


def pages(path: Path, name: str, settings: FileSettings) -> list[PagePart]:
    """Try the part of a page that is wanted on the first pages of a file."""
    return list(look(_pages, path, name, settings))


def _pages(path: Path, name: str, settings: FileSettings) -> Iterator[PagePart]:
    data = readers.head(path, name)
    plain = settings.model_copy(update={"html_text": False, "page": "whole"})
    text = named_by(settings.roles, "text") or "text"
    wholes = preview(data, name, plain, 5).rows
    if readers.FORMATS[settings.format].paged:
        parts = {row.place: row for row in preview(data, name, settings, 5).rows}
        for row in wholes:
            yield PagePart(
                name=row.cells.get("title") or row.place or name,
                found=(parts[row.place].cells.get(text, "") if row.place in parts else "")[:4000],
                whole=row.cells.get(text, "")[:4000],
            )
        return
    for row in wholes:
        page = row.cells.get(text, "")
        found, _ = html.page_text(page, settings)
        whole, _ = html.page_text(page, plain)
        yield PagePart(
            name=f"{readers.FORMATS[settings.format].unit} {row.line}", found=found[:4000], whole=whole[:4000]
        )
