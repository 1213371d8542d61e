"""Bring files together into a corpus: read, give fields their roles, reject with reasons."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus import dates
from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.corpus.roles import guess_roles
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.readers import read_text, refuse_unreadable
from skeinwork.core.formats.records import FileSettings, Noted, Rejected, Role, Row
from skeinwork.core.progress import Report, silent
from skeinwork.core.text.segment import join_texts

VERSION = 1


class GatherSettings(BaseModel):
    """How the files of a corpus are read, file by file, and what repeated identifiers get."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    files: tuple[FileSettings, ...] = Field(min_length=1, max_length=10_000)
    repeated: Literal["number", "first", "refuse"] = Field(
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


@dataclass
class _Gathered:
    texts: list[str] = field(default_factory=list)
    cells: list[dict[str, str]] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)
    sources: list[int] = field(default_factory=list)
    days: list[int] = field(default_factory=list)
    precision: list[int] = field(default_factory=list)
    trouble: list[Trouble] = field(default_factory=list)
    roles: dict[str, Role] = field(default_factory=dict)
    order: dict[str, None] = field(default_factory=dict)
    seen: dict[str, int] = field(default_factory=dict)


def _named_by(roles: dict[str, Role], role: Role) -> str | None:
    return next((name for name, given in roles.items() if given == role), None)


def _take_row(out: _Gathered, row: Row, file: str, source: int, settings: FileSettings) -> None:
    text_field = _named_by(settings.roles, "text")
    date_field = _named_by(settings.roles, "date")
    text = row.cells.get(text_field or "", "")
    day, precision = dates.MISSING, "day"
    if date_field and (written := row.cells.get(date_field, "").strip()):
        parsed = dates.parse(written, settings.date_order)
        if parsed:
            day, precision = parsed
        else:
            reason = f"“{written[:60]}” is not a date; kept without date"
            out.trouble.append(Trouble(file, row.line, reason))
    out.order.update(dict.fromkeys(row.cells))
    out.texts.append(text)
    out.cells.append(row.cells)
    out.lines.append(row.line)
    out.sources.append(source)
    out.days.append(day)
    out.precision.append(dates.PRECISIONS.index(precision))


def _identified(
    out: _Gathered, row: Row, file: str, settings: FileSettings, repeated: str
) -> Row | None:
    """The row with its identifier settled, or None where it is left out."""
    name = _named_by(settings.roles, "identifier")
    given = row.cells.get(name, "").strip() if name else ""
    if not name or not given:
        return row
    times = out.seen[given] = out.seen.get(given, 0) + 1
    if times == 1:
        return row
    if repeated == "refuse":
        raise BadInputError(
            f"{file}, line {row.line}: the identifier “{given}” occurs twice. "
            "Number repeated identifiers, keep the first of each, or choose another field."
        )
    if repeated == "first":
        out.trouble.append(Trouble(file, row.line, f"identifier “{given}” occurred before", given))
        return None
    out.trouble.append(Trouble(file, row.line, f"identifier “{given}” occurred before; numbered"))
    return Row(row.line, {**row.cells, name: f"{given} ({times})"})


def _read_file(
    out: _Gathered, data: bytes, name: str, source: int, settings: FileSettings, repeated: str
) -> None:
    refuse_unreadable(data, name)
    decoded = decode(data, settings.encoding)
    if decoded.doubtful:
        out.trouble.append(
            Trouble(name, 0, f"{decoded.doubtful} bytes are not {settings.encoding}; shown as �")
        )
    for record in read_text(decoded.text, name, settings):
        if isinstance(record, Rejected):
            out.trouble.append(Trouble(name, record.line, record.reason, record.raw))
        elif isinstance(record, Noted):
            out.trouble.append(Trouble(name, record.line, record.reason))
        elif row := _identified(out, record, name, settings, repeated):
            _take_row(out, row, name, source, settings)
    for field_name, role in settings.roles.items():
        out.roles.setdefault(field_name, role)


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
    out = _Gathered()
    for source, ((path, name), each) in enumerate(zip(paths, settings.files, strict=True)):
        report("Reading files", source / len(paths), name=name)
        if "text" not in each.roles.values():
            raise BadInputError(f"{name}: no field has the role text. Say which field holds it.")
        _read_file(out, path.read_bytes(), name, source, each, settings.repeated)
    if not any(text.strip() for text in out.texts):
        raise BadInputError(
            f"No document has any text ({len(out.texts)} rows read, "
            f"{sum(t.raw is not None for t in out.trouble)} rejected). Check the role of the fields."
        )
    return _corpus(out, [name for _, name in paths]), out.trouble


def _in_file_order(out: _Gathered) -> list[tuple[str, Role]]:
    """Fields with their roles as they stand in the files, whatever the order of the settings."""
    absent = sorted(set(out.roles) - set(out.order))
    return [(name, out.roles[name]) for name in (*out.order, *absent) if name in out.roles]


def _corpus(out: _Gathered, names: list[str]) -> Corpus:
    data, pointer = join_texts(out.texts)
    columns = [
        encode_column(name, role, [cells.get(name, "").strip() for cells in out.cells])
        for name, role in _in_file_order(out)
        if role not in ("text", "ignored")
    ]
    return Corpus(
        data, pointer, columns,
        np.array(out.days, dtype=np.int32), np.array(out.precision, dtype=np.uint8),
        np.array(out.lines, dtype=np.int32), np.array(out.sources, dtype=np.int32), names,
    )  # fmt: skip


@dataclass(frozen=True)
class Preview:
    """The beginning of a file as it would be read."""

    columns: list[str]
    rows: list[Row]
    rejected: list[Rejected]
    roles: dict[str, Role]
    date_order: str
    order_is_certain: bool
    doubtful: int
    guessed_encoding: bool


def preview(data: bytes, name: str, settings: FileSettings, rows: int = 200) -> Preview:
    """Read the first rows and guess the roles that are not given."""
    refuse_unreadable(data, name)
    decoded = decode(data, settings.encoding)
    found: list[Row] = []
    rejected: list[Rejected] = []
    for record in _first(read_text(decoded.text, name, settings), rows):
        if isinstance(record, Row):
            found.append(record)
        elif isinstance(record, Rejected):
            rejected.append(record)
    if not found:
        raise BadInputError(
            f"{name} has no usable rows: {len(rejected)} of its first rows were rejected"
            + (f" (line {rejected[0].line} {rejected[0].reason})." if rejected else ".")
        )
    columns = list(dict.fromkeys(column for row in found for column in row.cells))
    values = {column: [row.cells.get(column, "") for row in found] for column in columns}
    roles = {**guess_roles(values), **{k: v for k, v in settings.roles.items() if k in values}}
    date_field = _named_by(roles, "date")
    order, certain = dates.guess_order(values[date_field]) if date_field else ("day-first", True)
    return Preview(
        columns, found, rejected, roles, order, certain, decoded.doubtful, decoded.guessed
    )


def _first(
    records: Iterable[Row | Rejected | Noted], count: int
) -> Iterable[Row | Rejected | Noted]:
    for number, record in enumerate(records):
        if number >= count:
            return
        yield record
