"""Bring files together into a corpus: read, give fields their roles, reject with reasons."""

from __future__ import annotations

from array import array
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from itertools import islice
from pathlib import Path

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core import apart
from skeinwork.core.corpus.corpus import Corpus, Values
from skeinwork.core.corpus.documents import TEXT_FIELD, Document, Documents, Repeated, Trouble, documents
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import cut, dates, html, readers
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.records import FileSettings, Rejected, Role, Row, named_by
from skeinwork.core.formats.roles import guess_roles, repeating
from skeinwork.core.progress import Report, silent
from skeinwork.core.text import expressions

VERSION = 4
# More columns than this are a matrix of numbers rather than fields of documents.
MOST_FIELDS = 300
# Documents between two reports.
_EVERY = 200


class GatherSettings(BaseModel):
    """How the files of a corpus are read, file by file, and what repeated identifiers get."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    files: tuple[FileSettings, ...] = Field(min_length=1, max_length=10_000)
    repeated: Repeated = Field(
        "number", description="documents whose identifier occurred before: number, leave out, refuse"
    )


@dataclass
class _Gathered:
    """What has been read so far, field by field."""

    data: bytearray = field(default_factory=bytearray)
    pointer: array[int] = field(default_factory=lambda: array("q", [0]))
    worded: bool = False
    columns: dict[str, Values] = field(default_factory=dict)
    lines: array[int] = field(default_factory=lambda: array("q"))
    sources: array[int] = field(default_factory=lambda: array("q"))
    names: dict[str, int] = field(default_factory=dict)
    days: array[int] = field(default_factory=lambda: array("q"))
    precision: array[int] = field(default_factory=lambda: array("q"))
    trouble: list[Trouble] = field(default_factory=list)
    roles: dict[str, Role] = field(default_factory=dict)
    passed_over: frozenset[str] = frozenset()

    def take(self, item: Document | Trouble) -> None:
        """Put a document in, or note what was amiss."""
        if isinstance(item, Trouble):
            self.trouble.append(item)
            return
        self.data += item.text.encode("utf-8", "surrogatepass")
        self.pointer.append(len(self.data))
        self.worded = self.worded or bool(item.text.strip())
        for name, cell in item.cells.items():
            if name in self.passed_over:
                continue
            column = self.columns.get(name)
            if column is None:
                column = self.columns[name] = Values()
            column.reach(len(self.lines))
            column.add(cell.strip())
        self.lines.append(item.line)
        self.sources.append(self.names.setdefault(item.source, len(self.names)))
        self.days.append(item.day)
        self.precision.append(dates.PRECISIONS.index(item.precision))

    def settle_roles(self, file: FileSettings) -> None:
        """Fields have the role that the first file gives them."""
        for name, role in file.roles.items():
            if role != "text":
                self.roles.setdefault(file.names.get(name, name), role)
        if list(file.roles.values()).count("text") > 1:
            self.roles.setdefault(TEXT_FIELD, "group")


def gather(
    paths: Sequence[tuple[Path, str]], settings: GatherSettings, report: Report = silent
) -> tuple[Corpus, list[Trouble]]:
    """Read files into a corpus, in a process apart.

    Parameters
    ----------
    paths : where each file lies, and the name the analyst knows it by
    settings : as many ``files`` as paths

    Raises
    ------
    BadInputError
        if nothing usable is left, a file is unreadable, too costly to read or has no text field.
    """
    for (_, name), each in zip(paths, settings.files, strict=True):
        if "text" not in each.roles.values():
            raise BadInputError(f"{name}: no field has the role text. Say which field holds it.")
        cut.check(each.cut)
    out = _Gathered(passed_over=frozenset(vector_fields(settings)))
    at = 0

    def tell() -> None:
        report("Reading files", at / len(paths), name=paths[at][1], documents=len(out.lines))

    found = apart.each(
        documents,
        paths,
        settings.files,
        settings.repeated,
        name=lambda: paths[at][1],
        limits=readers.limits(max(path.stat().st_size for path, _ in paths)),
        watch=tell,
    )
    for count, item in enumerate(found):
        if count % _EVERY == 0:
            tell()
        if isinstance(item, int):
            at = item
        else:
            out.take(item)
    for each in settings.files:
        out.settle_roles(each)
    _refuse_if_empty(out)
    return _corpus(out), out.trouble


def vector_fields(settings: GatherSettings) -> list[str]:
    """Fields that hold vectors: they are read where they are wanted, and are no values of documents."""
    found = (
        each.names.get(name, name) for each in settings.files for name, role in each.roles.items() if role == "vector"
    )
    return list(dict.fromkeys(found))


def _refuse_if_empty(out: _Gathered) -> None:
    if out.worded:
        return
    rejected = [each for each in out.trouble if each.raw is not None]
    said = f"; the first, {rejected[0].file}, {rejected[0].reason}" if rejected else ""
    raise BadInputError(
        f"No document has any text ({len(out.lines)} rows read, {len(rejected)} rejected{said}). "
        "Check the role of the fields."
    )


def _in_file_order(out: _Gathered) -> list[tuple[str, Role]]:
    """Fields with their roles as they stand in the files, whatever the order of the settings.

    A field that no preview showed, because it first occurs far down, is kept; of more than
    ``MOST_FIELDS`` those without a role of their own that the fewest documents have are left out.
    """
    absent = sorted(set(out.roles) - set(out.columns))
    roles = {name: out.roles.get(name, "kept") for name in (*out.columns, *absent)}
    if len(roles) > MOST_FIELDS:
        wanted = [name for name, role in roles.items() if role not in ("kept", "ignored")]
        counts = Counter({name: values.filled for name, values in out.columns.items()})
        kept = {*wanted, *(name for name, _ in counts.most_common(MOST_FIELDS))}
        gone = [name for name in roles if name not in kept]
        said = f"{len(gone)} fields that few documents have were left out, such as “{gone[0]}”"
        out.trouble.append(Trouble("", 0, said))
        roles = {name: role for name, role in roles.items() if name in kept}
    return list(roles.items())


def _corpus(out: _Gathered) -> Corpus:
    columns = []
    for name, role in _in_file_order(out):
        if role not in ("ignored", "vector"):
            values = out.columns.get(name, Values())
            values.reach(len(out.lines))
            columns.append(values.column(name, role))
    return Corpus(
        np.frombuffer(out.data, dtype=np.uint8),
        np.array(out.pointer, dtype=np.int64),
        columns,
        np.array(out.days, dtype=np.int32),
        np.array(out.precision, dtype=np.uint8),
        np.array(out.lines, dtype=np.int32),
        np.array(out.sources, dtype=np.int32),
        np.arange(len(out.lines), dtype=np.int32),
        list(out.names),
    )


@dataclass(frozen=True)
class Preview:
    """The beginning of a file as it would be read.

    Attributes
    ----------
    filled : how many of the rows have a value in each column
    remarks : what is worth knowing of the roles
    """

    columns: list[str]
    rows: list[Row]
    filled: dict[str, int]
    rejected: list[Rejected]
    roles: dict[str, Role]
    date_order: str
    order_is_certain: bool
    doubtful: int
    guessed_encoding: bool
    html_text: bool
    remarks: list[str]


def preview(data: bytes, name: str, settings: FileSettings, rows: int = 200) -> Preview:
    """Read the first rows and guess the roles that are not given."""
    cut.check(settings.cut)
    found: list[Row] = []
    rejected: list[Rejected] = []
    for record in islice(readers.read_records(data, name, settings), rows):
        if isinstance(record, Row):
            found.append(record)
        elif isinstance(record, Rejected):
            rejected.append(record)
    _refuse_if_unusable(name, settings, found, rejected)
    roles = {**guess_roles(_by_column(found)), **settings.roles}
    text_field = named_by(roles, "text") or ""
    pages = [row.cells.get(text_field, "") for row in found]
    if not settings.roles and html.looks_like_page(pages):
        settings = settings.model_copy(update={"html_text": True})
    shown = _prepared(found, text_field, settings)
    values = _by_column(shown)
    guessed = guess_roles(values, text_field)
    roles = {**guessed, **{name: role for name, role in settings.roles.items() if name in values}}
    date_field = named_by(roles, "date")
    order, certain = dates.guess_order(values[date_field]) if date_field else ("day-first", True)
    decoded = decode(data, settings.encoding) if readers.FORMATS[settings.format].encoded else None
    filled = {name: sum(bool(cell.strip()) for cell in cells) for name, cells in values.items()}
    return Preview(
        list(values),
        shown,
        filled,
        rejected,
        roles,
        order,
        certain,
        decoded.doubtful if decoded else 0,
        bool(decoded and decoded.guessed),
        settings.html_text,
        repeating(values, roles),
    )


def _by_column(rows: list[Row]) -> dict[str, list[str]]:
    """The cells of every column, empty where a row has none; of very many the fullest."""
    columns = dict.fromkeys(column for row in rows for column in row.cells)
    if len(columns) > MOST_FIELDS:
        counts = Counter(name for row in rows for name in row.cells)
        fullest = {name for name, _ in counts.most_common(MOST_FIELDS)}
        columns = {name: None for name in columns if name in fullest}
    return {column: [row.cells.get(column, "") for row in rows] for column in columns}


def _refuse_if_unusable(name: str, settings: FileSettings, found: list[Row], rejected: list[Rejected]) -> None:
    if any(row.cells for row in found):
        return
    if rejected:
        unit, first = readers.FORMATS[settings.format].unit, rejected[0]
        where = first.place or f"{unit} {first.line}"
        raise BadInputError(
            f"{name} has no usable rows: {len(rejected)} of its first rows were rejected ({where} {first.reason})."
        )
    raise BadInputError(f"{name} has no rows of documents. Choose another way of reading it, or another file.")


def _prepared(rows: list[Row], text: str, settings: FileSettings) -> list[Row]:
    """The rows as documents: pages unpacked, long texts cut."""
    file = Documents("", settings.model_copy(update={"roles": {text: "text"}}), "number", {})
    whole: Iterable[Row] = (file.unpacked(row) for row in rows)
    parts = cut.pieces(whole, text, settings.cut, expressions.ALL_SECONDS)
    return [part for each in parts for part in each]
