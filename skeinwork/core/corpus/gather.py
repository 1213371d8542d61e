"""Bring files together into a corpus: read, give fields their roles, reject with reasons."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace
from itertools import islice
from pathlib import Path
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import cut, dates, html
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.readers import FORMATS, read_records
from skeinwork.core.formats.records import (
    FileSettings,
    Noted,
    Record,
    Rejected,
    Role,
    Row,
    named_by,
)
from skeinwork.core.formats.roles import guess_roles
from skeinwork.core.progress import Report, silent
from skeinwork.core.text import expressions

VERSION = 4
# Which of several text fields of a record a document is.
TEXT_FIELD = "text field"
MOST_FIELDS = 300
_EVERY = 200


Repeated = Literal["number", "first", "refuse"]


class GatherSettings(BaseModel):
    """How the files of a corpus are read, file by file, and what repeated identifiers get."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    files: tuple[FileSettings, ...] = Field(min_length=1, max_length=10_000)
    repeated: Repeated = Field(
        "number",
        description="documents whose identifier occurred before: number, leave out, refuse",
    )


@dataclass(frozen=True)
class Trouble:
    """A place in a file, and what was wrong there. ``raw`` is set for what was left out."""

    file: str
    line: int
    reason: str
    raw: str | None = None
    unit: str = "line"


@dataclass
class _Gathered:
    """What has been read so far, field by field."""

    repeated: str
    data: bytearray = field(default_factory=bytearray)
    pointer: list[int] = field(default_factory=lambda: [0])
    worded: bool = False
    cells: list[dict[str, str]] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)
    sources: list[int] = field(default_factory=list)
    names: dict[str, int] = field(default_factory=dict)
    days: list[int] = field(default_factory=list)
    precision: list[int] = field(default_factory=list)
    trouble: list[Trouble] = field(default_factory=list)
    roles: dict[str, Role] = field(default_factory=dict)
    order: dict[str, None] = field(default_factory=dict)
    seen: dict[str, int] = field(default_factory=dict)


class _File:
    """One file on its way into the corpus."""

    def __init__(self, out: _Gathered, name: str, settings: FileSettings) -> None:
        self.out = out
        self.name = name
        self.settings = settings
        self.unit = FORMATS[settings.format].unit
        self.texts = [name for name, role in settings.roles.items() if role == "text"] or [""]
        self.text = self.texts[0]
        self.date = named_by(settings.roles, "date")
        self.identifier = named_by(settings.roles, "identifier")

    def _where(self, record: Record) -> str:
        return f"{self.name}/{record.place}" if record.place else self.name

    def note(self, record: Record, reason: str, raw: str | None = None) -> None:
        trouble = Trouble(self._where(record), record.line, reason, raw, self.unit)
        self.out.trouble.append(trouble)

    def take(self, record: Record) -> None:
        """Put a record in, or note why it is not."""
        if isinstance(record, Rejected):
            self.note(record, record.reason, record.raw)
        elif isinstance(record, Noted):
            self.note(record, record.reason)
        elif row := self._identified(record):
            if not any(name in row.cells for name in self.texts):
                self.note(row, f"has no field “{self.text}”; kept without text")
            for each in self._apart(row):
                whole = self._unpacked(each)
                (parts,) = cut.pieces([whole], self.text, self.settings.cut)
                for part in parts:
                    self._add(self._numbered(part, part.cells["part"]) if len(parts) > 1 else part)

    def _apart(self, row: Row) -> list[Row]:
        """A row for each of its text fields that is filled, named in the field ``TEXT_FIELD``."""
        if len(self.texts) == 1:
            return [row]
        rest = {name: cell for name, cell in row.cells.items() if name not in self.texts}
        filled = [name for name in self.texts if row.cells.get(name, "").strip()] or [self.text]
        found = []
        for name in filled:
            cells = {**rest, self.text: row.cells.get(name, ""), TEXT_FIELD: name}
            each = replace(row, cells=cells, breaks=row.breaks if name == "text" else ())
            found.append(self._numbered(each, name) if len(filled) > 1 else each)
        return found

    def _unpacked(self, row: Row) -> Row:
        """The row with the text of the HTML page that its field holds."""
        if not self.settings.html_text or not row.cells.get(self.text, "").strip():
            return row
        try:
            text, breaks = html.page_text(row.cells[self.text], self.settings)
        except html.DeepPageError as fault:
            self.note(row, f"{fault} Kept without text")
            return replace(row, cells={**row.cells, self.text: ""})
        if not text.strip():
            self.note(row, "has a page without text in the part that was asked for")
        return replace(row, cells={**row.cells, self.text: text}, breaks=breaks)

    def _identified(self, row: Row) -> Row | None:
        """The row with its identifier settled, or None where it is left out."""
        name, seen = self.identifier, self.out.seen
        given = row.cells.get(name, "").strip() if name else ""
        if not name or not given:
            return row
        times = seen[given] = seen.get(given, 0) + 1
        if times == 1:
            return row
        said = f"identifier “{given}” occurred before"
        if self.out.repeated == "refuse":
            raise BadInputError(
                f"{self.name}, {self.unit} {row.line}: the identifier “{given}” occurs twice. "
                "Number repeated identifiers, keep the first of each, or choose another field."
            )
        if self.out.repeated == "first":
            self.note(row, said, given)
            return None
        self.note(row, f"{said}; numbered")
        return replace(row, cells={**row.cells, name: f"{given} ({times})"})

    def _numbered(self, part: Row, piece: str) -> Row:
        """A piece of a record: its identifier is that of the whole with what the piece is called."""
        name = self.identifier
        if not name or not part.cells.get(name, "").strip():
            return part
        return replace(part, cells={**part.cells, name: f"{part.cells[name]}.{piece}"})

    def _called(self, cells: dict[str, str]) -> dict[str, str]:
        """The cells under the names that the fields have in the corpus."""
        if not self.settings.names:
            return cells
        called = {self.settings.names.get(name, name): cell for name, cell in cells.items()}
        if len(called) < len(cells):
            names = [self.settings.names.get(name, name) for name in cells]
            twice = next(name for name in names if names.count(name) > 1)
            raise BadInputError(
                f"{self.name}: two fields would be called “{twice}”. Call one of them otherwise."
            )
        return called

    def _add(self, row: Row) -> None:
        out = self.out
        day, precision = dates.MISSING, "day"
        if self.date and (written := row.cells.get(self.date, "").strip()):
            parsed = dates.parse(written, self.settings.date_order)
            if parsed:
                day, precision = parsed
            else:
                self.note(row, f"“{written[:60]}” is not a date; kept without date")
        text = row.cells.get(self.text, "")
        out.data += text.encode("utf-8", "surrogatepass")
        out.pointer.append(len(out.data))
        out.worded = out.worded or bool(text.strip())
        cells = self._called({name: cell for name, cell in row.cells.items() if name != self.text})
        out.order.update(dict.fromkeys(cells))
        out.cells.append(cells)
        out.lines.append(row.line)
        out.sources.append(out.names.setdefault(self._where(row), len(out.names)))
        out.days.append(day)
        out.precision.append(dates.PRECISIONS.index(precision))


def gather(
    paths: Sequence[tuple[Path, str]], settings: GatherSettings, report: Report = silent
) -> tuple[Corpus, list[Trouble]]:
    """Read files into a corpus.

    Parameters
    ----------
    paths : where each file lies, and the name the analyst knows it by
    settings : as many ``files`` as paths

    Raises
    ------
    BadInputError
        if nothing usable is left, a file is unreadable or has no text field.
    """
    out = _Gathered(settings.repeated)
    for number, ((path, name), each) in enumerate(zip(paths, settings.files, strict=True)):
        if "text" not in each.roles.values():
            raise BadInputError(f"{name}: no field has the role text. Say which field holds it.")
        cut.check(each.cut)
        file = _File(out, name, each)
        for count, record in enumerate(read_records(path.read_bytes(), name, each)):
            if count % _EVERY == 0:
                report("Reading files", number / len(paths), name=name, documents=len(out.lines))
            file.take(record)
        for field_name, role in each.roles.items():
            if role != "text":
                out.roles.setdefault(each.names.get(field_name, field_name), role)
        if len(file.texts) > 1:
            out.roles.setdefault(TEXT_FIELD, "group")
    _refuse_if_empty(out)
    return _corpus(out), out.trouble


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
    absent = sorted(set(out.roles) - set(out.order))
    roles = {name: out.roles.get(name, "kept") for name in (*out.order, *absent)}
    if len(roles) > MOST_FIELDS:
        wanted = [name for name, role in roles.items() if role not in ("kept", "ignored")]
        kept = set(wanted) | set(_fullest(out.cells, MOST_FIELDS))
        gone = [name for name in roles if name not in kept]
        said = f"{len(gone)} fields that few documents have were left out, such as “{gone[0]}”"
        out.trouble.append(Trouble("", 0, said))
        roles = {name: role for name, role in roles.items() if name in kept}
    return list(roles.items())


def _fullest(cells: Iterable[dict[str, str]], most: int) -> list[str]:
    """The fields that the most rows have, the first of equals."""
    counts = Counter(name for row in cells for name in row)
    return [name for name, _ in counts.most_common(most)]


def _corpus(out: _Gathered) -> Corpus:
    columns = [
        encode_column(name, role, [cells.get(name, "").strip() for cells in out.cells])
        for name, role in _in_file_order(out)
        if role != "ignored"
    ]
    return Corpus(
        np.frombuffer(out.data, dtype=np.uint8), np.array(out.pointer, dtype=np.int64), columns,
        np.array(out.days, dtype=np.int32), np.array(out.precision, dtype=np.uint8),
        np.array(out.lines, dtype=np.int32), np.array(out.sources, dtype=np.int32),
        np.arange(len(out.lines), dtype=np.int32), list(out.names),
    )  # fmt: skip


@dataclass(frozen=True)
class Preview:
    """The beginning of a file as it would be read.

    Attributes
    ----------
    filled : how many of the rows have a value in each column
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


def preview(data: bytes, name: str, settings: FileSettings, rows: int = 200) -> Preview:
    """Read the first rows and guess the roles that are not given."""
    cut.check(settings.cut)
    found: list[Row] = []
    rejected: list[Rejected] = []
    for record in islice(read_records(data, name, settings), rows):
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
    decoded = decode(data, settings.encoding) if FORMATS[settings.format].encoded else None
    filled = {name: sum(bool(cell.strip()) for cell in cells) for name, cells in values.items()}
    return Preview(
        list(values), shown, filled, rejected, roles, order, certain,
        decoded.doubtful if decoded else 0, bool(decoded and decoded.guessed), settings.html_text,
    )  # fmt: skip


def _by_column(rows: list[Row]) -> dict[str, list[str]]:
    """The cells of every column, empty where a row has none; of very many the fullest."""
    columns = dict.fromkeys(column for row in rows for column in row.cells)
    if len(columns) > MOST_FIELDS:
        fullest = set(_fullest((row.cells for row in rows), MOST_FIELDS))
        columns = {name: None for name in columns if name in fullest}
    return {column: [row.cells.get(column, "") for row in rows] for column in columns}


def _refuse_if_unusable(
    name: str, settings: FileSettings, found: list[Row], rejected: list[Rejected]
) -> None:
    if any(row.cells for row in found):
        return
    if rejected:
        unit, first = FORMATS[settings.format].unit, rejected[0]
        where = first.place or f"{unit} {first.line}"
        raise BadInputError(
            f"{name} has no usable rows: {len(rejected)} of its first rows were rejected "
            f"({where} {first.reason})."
        )
    raise BadInputError(
        f"{name} has no rows of documents. Choose another way of reading it, or another file."
    )


def _prepared(rows: list[Row], text: str, settings: FileSettings) -> list[Row]:
    """The rows as documents: pages unpacked, long texts cut."""
    file = _File(_Gathered("number"), "", settings.model_copy(update={"roles": {text: "text"}}))
    whole: Iterable[Row] = (file._unpacked(row) for row in rows)
    parts = cut.pieces(whole, text, settings.cut, expressions.ALL_SECONDS)
    return [part for each in parts for part in each]
