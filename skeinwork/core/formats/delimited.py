"""Delimited tables (CSV, TSV and their like), read so that nothing shifts or vanishes silently.

Rows are parsed strictly, however long their quoted cells are. Only where a file can't be parsed so
to its end does ``quoting`` choose how the rest is read, and each row it mends is noted.
"""

from __future__ import annotations

import csv
import re
from collections import Counter
from collections.abc import Iterator
from itertools import islice

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import quoting
from skeinwork.core.formats.format import Format, of_text
from skeinwork.core.formats.heading import LOOKED_AT, passed_over, with_heading
from skeinwork.core.formats.quoting import Dialect
from skeinwork.core.formats.records import FileSettings, Noted, Record, Records, Rejected, Row

DELIMITERS = (",", "\t", ";", "|")
# Characters of a cell: a book has fewer, and a quote that is never closed more.
LONGEST_FIELD = 20_000_000
# Characters from which the delimiter is told.
_SAMPLE = 100_000
# Repeats of a name that are told apart by underscores; then by numbers.
_UNDERSCORES = 10
# Characters of the name of a column.
_LONGEST_NAME = 200
_LINE = re.compile(r"[^\r\n]*(?:\r\n|\r|\n)?")
_DECLARED = re.compile(r"sep=(.)\r?\n", re.IGNORECASE)
# A row: the line it begins on, its cells (None: one is too long), its text, what was amiss.
Cells = tuple[int, list[str] | None, str, str | None]


class _Lines(Iterator[str]):
    """The lines of a file; ``at`` counts lines, ``place`` characters, both up to the next one."""

    def __init__(self, text: str, begin: int) -> None:
        self.text = text
        self.at = self.place = 0
        while self.at < begin - 1 and self.place < len(text):
            next(self)
        self.mark()

    def __next__(self) -> str:
        if self.place >= len(self.text):
            raise StopIteration
        before = self.place
        found = _LINE.match(self.text, before)
        self.place = found.end() if found else len(self.text)
        self.at += 1
        return self.text[before : self.place]

    def mark(self) -> None:
        """Remember that a row begins here."""
        self.begin, self.begin_place = self.at, self.place

    def back(self) -> None:
        """Go back to where the row begins."""
        self.at, self.place = self.begin, self.begin_place

    def raw(self) -> str:
        """The lines of the row so far, as they stand."""
        return self.text[self.begin_place : self.place]


def detect_table(text: str, settings: FileSettings) -> FileSettings:
    """The settings with delimiter, escapes, first line and heading as the first rows suggest."""
    declared = _DECLARED.match(text)
    delimiter = declared[1] if declared else sniff_delimiter(text)
    found = settings.model_copy(update={"delimiter": delimiter, "begin": 2 if declared else 1})
    escaped = found.model_copy(update={"escaped": True})
    if '\\"' in text and _fitting(text, escaped) > _fitting(text, found):
        found = escaped
    return with_heading(found, _first_rows(text, found), found.begin if declared else None)


def _first_rows(text: str, settings: FileSettings) -> list[tuple[int, list[str]]]:
    rows = islice(_cells(text, settings), LOOKED_AT)
    return [(line, cells) for line, cells, _, _ in rows if cells and any(map(str.strip, cells))]


def _fitting(text: str, settings: FileSettings) -> tuple[bool, int]:
    """Whether all of a text parses strictly, and how many first rows have as many cells as one."""
    rows = _first_rows(text, settings)
    fitting = sum(len(cells) == len(rows[0][1]) for _, cells in rows)
    return _strict(text, _dialect(settings)), fitting


def _dialect(settings: FileSettings) -> Dialect:
    return Dialect(settings.delimiter, settings.escaped)


def _strict(text: str, dialect: Dialect) -> bool:
    """Whether a text parses strictly to its end."""
    csv.field_size_limit(LONGEST_FIELD)
    try:
        for _ in dialect.rows(_Lines(text, 1), strict=True):
            pass
    except csv.Error:
        return False
    return True


def first_rows(text: str, delimiter: str) -> list[list[str]]:
    """The first rows with a cell, up to where they can't be parsed strictly."""
    out: list[list[str]] = []
    try:
        for row in Dialect(delimiter, False).rows(_Lines(text[:_SAMPLE], 1), strict=True):
            out += [row] if row else []
            if len(out) == LOOKED_AT:
                break
    except csv.Error:
        pass
    return out


def sniff_delimiter(text: str) -> str:
    """The delimiter that cuts the first rows into the same number of cells, more than one."""
    best, best_score = ",", 0.0
    for delimiter in DELIMITERS:
        rows = first_rows(text, delimiter)
        if not rows:
            continue
        width, times = Counter(map(len, rows)).most_common(1)[0]
        score = (times / len(rows)) * (1 if width > 1 else 0) * (1 + min(width, 50) / 1000)
        if score > best_score:
            best, best_score = delimiter, score
    return best


def _cells(text: str, settings: FileSettings) -> Iterator[Cells]:
    """Each row of a table; parsed strictly as far as that goes."""
    csv.field_size_limit(LONGEST_FIELD)
    dialect = _dialect(settings)
    lines = _Lines(text, settings.begin)
    rows = dialect.rows(lines, strict=True)
    width, sure = 0, False
    while True:
        lines.mark()
        try:
            cells = next(rows)
        except StopIteration:
            return
        except csv.Error as fault:
            lines.back()
            if "field limit" not in str(fault) or not quoting.pass_row(lines, dialect):
                break
            yield lines.begin + 1, None, lines.raw(), None
            rows = dialect.rows(lines, strict=True)
            continue
        if width and len(cells) != width and lines.at > lines.begin + 1 and not sure:
            # a quote may have swallowed rows: not if all that follows parses
            sure = _strict(text[lines.place :], dialect)
            if not sure:
                break
        width = width or (len(cells) if any(map(str.strip, cells)) else 0)
        yield lines.begin + 1, cells, lines.raw(), None
    rest = text[lines.begin_place :]
    for at, found, raw, way in quoting.read(rest, dialect, width):
        yield lines.begin + at + 1, found, raw, way.value


def strict_rows(name: str, text: str, delimiter: str) -> Iterator[tuple[int, list[str]]]:
    """Each row of a table that has to be sound, with the line it begins on.

    Raises
    ------
    BadInputError
        with the line on which a quote opens that never closes, or a cell is too long.
    """
    csv.field_size_limit(LONGEST_FIELD)
    lines = _Lines(text, 1)
    rows = Dialect(delimiter, False).rows(lines, strict=True)
    while True:
        lines.mark()
        try:
            cells = next(rows)
        except StopIteration:
            return
        except csv.Error as fault:
            said = (
                f"a cell of over {LONGEST_FIELD:,} letters"
                if "field limit" in str(fault)
                else "a quote that never closes, or that stands amidst a cell"
            )
            raise BadInputError(f"Line {lines.begin + 1} of {name} holds {said}.") from fault
        yield lines.begin + 1, cells


def column_names(header: list[str]) -> list[str]:
    """Column names: stripped, filled where empty, made unique."""
    names: dict[str, None] = {}
    times: Counter[str] = Counter()
    for number, cell in enumerate(header, start=1):
        given = name = cell.strip()[:_LONGEST_NAME] or f"column {number}"
        while name in names:
            times[given] += 1
            at = times[given]
            name = given + "_" * at if at < _UNDERSCORES else f"{given}_{at}"
        names[name] = None
    return list(names)


def read(text: str, settings: FileSettings) -> Records:
    """Rows of a delimited table; ragged rows and rows with NUL bytes are rejected."""
    columns: list[str] | None = None
    yield from passed_over(settings, "line")
    for line, cells, raw, note in _cells(text, settings):
        if cells is None:
            yield Rejected(line, f"has a cell of over {LONGEST_FIELD:,} characters", raw[:1000])
            continue
        if not any(cell.strip() for cell in cells):
            if columns is not None and len(cells) > 1:
                yield Rejected(line, "every cell is empty", raw)
            continue
        if columns is None:
            columns = column_names(cells if settings.header else [""] * len(cells))
            if settings.header:
                continue
        yield from _record(line, cells, columns, raw, note)


def _record(line: int, cells: list[str], columns: list[str], raw: str, note: str | None) -> Iterator[Record]:
    if "\0" in raw:
        yield Rejected(line, "holds NUL bytes", raw)
    elif len(cells) != len(columns):
        found = "1 cell" if len(cells) == 1 else f"{len(cells)} cells"
        yield Rejected(line, f"has {found} where the heading has {len(columns)}", raw)
    else:
        if note:
            yield Noted(line, note)
        yield Row(line, dict(zip(columns, cells, strict=True)))


def looks_like_table(text: str) -> bool:
    """Whether a text without other marks is a table: lines of as many short cells."""
    delimiter = sniff_delimiter(text)
    rows = first_rows(text[:20_000], delimiter)[:20]
    widths = {len(row) for row in rows[:-1] or rows}
    if len(rows) < 2 or len(widths) != 1 or widths == {1}:
        return False
    return all(0 < len(cell.strip()) < 60 for cell in rows[0])


FORMAT = Format(
    "delimited",
    "a table",
    of_text(lambda text, _, settings: read(text, settings)),
    ("encoding", "delimiter", "begin", "header", "escaped"),
    by_line=True,
    endings=(".csv", ".tsv", ".tab"),
)
