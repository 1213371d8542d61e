"""Delimited tables (CSV, TSV and their like), read so that nothing shifts or vanishes silently.

Strict parsing first; a row that breaks the quoting rules is read leniently and noted. A quoted
field that never closes would swallow the rest of the file: past 200 lines or 1 MB its quote is
taken as text, the row stands alone, and reading resumes at the next line.
"""

from __future__ import annotations

import csv
import re
from collections import Counter
from collections.abc import Iterator
from itertools import islice
from typing import Any

from skeinwork.core.formats.heading import LOOKED_AT, passed_over, with_heading
from skeinwork.core.formats.records import FileSettings, Noted, Record, Records, Rejected, Row

DELIMITERS = (",", "\t", ";", "|")
LONGEST_FIELD = 20_000_000
_QUOTED_LINES = 200
_QUOTED_SIZE = 1_000_000
_SAMPLE = 200_000
_LINE = re.compile(r"[^\r\n]*(?:\r\n|\r|\n)?")
_DECLARED = re.compile(r"sep=(.)\r?\n", re.IGNORECASE)


class _RunawayError(Exception):
    """A quoted field has run on for too long."""


class _Lines(Iterator[str]):
    """The lines of a file, with a place that can be set back; ``at`` counts lines, ``place`` characters."""

    def __init__(self, text: str, begin: int) -> None:
        self.text = text
        self.at = self.place = 0
        while self.at < begin - 1 and self.place < len(text):
            self._pass()
        self.mark()

    def _pass(self) -> str:
        before = self.place
        found = _LINE.match(self.text, before)
        self.place = found.end() if found else len(self.text)
        self.at += 1
        return self.text[before : self.place]

    def mark(self) -> None:
        """Remember that a row begins here."""
        self.begin, self.begin_place = self.at, self.place

    def reset(self) -> None:
        """Go back to the line after the one that the row begins on."""
        self.at, self.place = self.begin, self.begin_place
        self._pass()

    def __next__(self) -> str:
        if self.place >= len(self.text):
            raise StopIteration
        if self.at - self.begin >= _QUOTED_LINES or (
            self.at > self.begin and self.place - self.begin_place > _QUOTED_SIZE
        ):
            raise _RunawayError
        return self._pass()

    def raw(self) -> str:
        """The lines of the row so far, as they stand."""
        return self.text[self.begin_place : self.place]


def detect_table(text: str, settings: FileSettings) -> FileSettings:
    """The settings with delimiter, escapes, first line and heading as the first rows suggest."""
    sample = text[:_SAMPLE]
    if len(text) > _SAMPLE and (last := max(sample.rfind("\n"), sample.rfind("\r"))) > 0:
        sample = sample[:last]  # up to the end of a line
    declared = _DECLARED.match(sample)
    delimiter = declared[1] if declared else sniff_delimiter(sample)
    found = settings.model_copy(update={"delimiter": delimiter, "begin": 2 if declared else 1})
    escaped = found.model_copy(update={"escaped": True})
    if '\\"' in sample and _fitting(sample, escaped) > _fitting(sample, found):
        found = escaped
    return with_heading(found, _first_rows(sample, found), found.begin if declared else None)


def _first_rows(text: str, settings: FileSettings) -> list[tuple[int, list[str]]]:
    rows = islice(_cells(text, settings), LOOKED_AT)
    return [(line, cells) for line, cells, _, _ in rows if any(cell.strip() for cell in cells)]


def _fitting(text: str, settings: FileSettings) -> int:
    """How many of the first rows have as many cells as the first."""
    rows = _first_rows(text, settings)
    return sum(len(cells) == len(rows[0][1]) for _, cells in rows)


def sniff_delimiter(text: str) -> str:
    """The delimiter that cuts the first rows into the same number of cells, more than one."""
    best, best_score = ",", 0.0
    sample = text[:100_000]
    for delimiter in DELIMITERS:
        try:
            rows = [row for row in csv.reader(sample.splitlines()[:60], delimiter=delimiter) if row]
        except csv.Error:
            continue
        if not rows:
            continue
        width, times = Counter(map(len, rows)).most_common(1)[0]
        score = (times / len(rows)) * (1 if width > 1 else 0) * (1 + min(width, 50) / 1000)
        if score > best_score:
            best, best_score = delimiter, score
    return best


def _cells(text: str, settings: FileSettings) -> Iterator[tuple[int, list[str], str, str | None]]:
    """Each row as (line, cells, raw text, note)."""
    csv.field_size_limit(max(LONGEST_FIELD * 2, len(text) + 1))
    lines = _Lines(text, settings.begin)
    escape = "\\" if settings.escaped else None

    def reader() -> Iterator[list[str]]:
        return csv.reader(lines, delimiter=settings.delimiter, escapechar=escape, strict=True)

    rows = reader()
    while True:
        lines.mark()
        note = None
        try:
            cells = next(rows)
        except StopIteration:
            return
        except (_RunawayError, csv.Error) as fault:
            runaway = isinstance(fault, _RunawayError) or "end of data" in str(fault)
            if runaway:
                lines.reset()
            quoting: Any = csv.QUOTE_NONE if runaway else csv.QUOTE_MINIMAL
            raw = lines.raw()
            cells = next(
                csv.reader(
                    raw.splitlines(True), delimiter=settings.delimiter, quoting=quoting,
                    escapechar=escape,
                )
            )  # fmt: skip
            note = (
                "a quote that never closes was read as text" if runaway
                else "quotes inside a quoted cell were read leniently"
            )  # fmt: skip
            rows = reader()
        yield lines.begin + 1, cells, lines.raw(), note


def column_names(header: list[str]) -> list[str]:
    """Column names: stripped, filled where empty, made unique."""
    names: list[str] = []
    for number, cell in enumerate(header, start=1):
        name = cell.strip() or f"column {number}"
        while name in names:
            name += "_"
        names.append(name)
    return names


def read(text: str, settings: FileSettings) -> Records:
    """Rows of a delimited table; ragged rows and rows with NUL bytes are rejected."""
    columns: list[str] | None = None
    yield from passed_over(settings, "line")
    for line, cells, raw, note in _cells(text, settings):
        if not any(cell.strip() for cell in cells):
            if columns is not None and len(cells) > 1:
                yield Rejected(line, "every cell is empty", raw)
            continue
        if columns is None:
            columns = column_names(cells if settings.header else [""] * len(cells))
            if settings.header:
                continue
        yield from _record(line, cells, columns, raw, note)


def _record(
    line: int, cells: list[str], columns: list[str], raw: str, note: str | None
) -> Iterator[Record]:
    if "\0" in raw:
        yield Rejected(line, "holds NUL bytes", raw)
    elif len(cells) != len(columns):
        found = "1 cell" if len(cells) == 1 else f"{len(cells)} cells"
        yield Rejected(line, f"has {found} where the heading has {len(columns)}", raw)
    elif max(map(len, cells)) > LONGEST_FIELD:
        yield Rejected(line, f"has a cell of over {LONGEST_FIELD:,} characters", raw[:1000])
    else:
        if note:
            yield Noted(line, note)
        yield Row(line, dict(zip(columns, cells, strict=True)))
