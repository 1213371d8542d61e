"""Files brought in, as they would be read: a preview, the tree of names, the parts of pages."""

from __future__ import annotations

from pathlib import Path

from pydantic import BaseModel

from skeinwork.core.corpus.gather import preview
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import html, nested, readers, tables
from skeinwork.core.formats.encoding import OFFERED
from skeinwork.core.formats.records import FileSettings, named_by

PREVIEW_ROWS = 12
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


def preview_file(path: Path, file: Brought, settings: FileSettings | None) -> FilePreview:
    """The beginning of a file; with no settings, as detected."""
    data = readers.head(path, file.name)
    settings = settings or readers.detect_settings(data, file.name)
    found = preview(data, file.name, settings)
    ready = settings.model_copy(update={"roles": found.roles, "html_text": found.html_text})
    if not settings.roles:
        ready = ready.model_copy(update={"date_order": found.date_order})
    return FilePreview(
        sha256=file.sha256, name=file.name, size=file.size, settings=ready,
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
        sheets=tables.sheets(data, file.name) if settings.format == "spreadsheet" else [],
        formats={key: each.label for key, each in readers.FORMATS.items()},
        asks=list(readers.FORMATS[settings.format].settings),
    )  # fmt: skip


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


def outline(path: Path, name: str, settings: FileSettings) -> OutlineRecord:
    """The tree of names in a nested file, to choose where its records are."""
    if not readers.FORMATS[settings.format].nested:
        raise BadInputError("Only JSON and XML have a tree of names.")
    return _outlined(readers.outline(path.read_bytes(), name, settings), 1)


class PagePart(BaseModel):
    """What the chosen part of one page gives, beside the whole of it."""

    name: str
    found: str
    whole: str


def pages(path: Path, name: str, settings: FileSettings) -> list[PagePart]:
    """Try the part of a page that is wanted on the first pages of a file."""
    data = readers.head(path, name)
    plain = settings.model_copy(update={"html_text": False, "page": "whole"})
    text = named_by(settings.roles, "text") or "text"
    wholes = preview(data, name, plain, 5).rows
    if readers.FORMATS[settings.format].paged:
        parts = {row.place: row for row in preview(data, name, settings, 5).rows}
        return [
            PagePart(
                name=row.cells.get("title") or row.place or name,
                found=(parts[row.place].cells.get(text, "") if row.place in parts else "")[:4000],
                whole=row.cells.get(text, "")[:4000],
            )
            for row in wholes
        ]
    out = []
    for row in wholes:
        page = row.cells.get(text, "")
        found, _ = html.page_text(page, settings)
        whole, _ = html.page_text(page, plain)
        out.append(PagePart(name=f"{readers.FORMATS[settings.format].unit} {row.line}",
                            found=found[:4000], whole=whole[:4000]))  # fmt: skip
    return out
