"""Read on in a delimited table whose quotes don't match, so that the most rows are whole.

Each line is passed over twice, once as the beginning of a row and once as the inside of a quoted
cell. From the last line back to the first it is then known, in linear time, where a row that begins
on a line would end and which way of reading the rest leaves more rows with the wanted cells.
"""

from __future__ import annotations

import csv
import re
from array import array
from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from enum import Enum

QUOTE = '"'
_LINE = re.compile(r"[^\r\n]*(?:\r\n|\r|\n)|[^\r\n]+")
_ESCAPED = re.compile(r"\\.", re.DOTALL)


class Way(Enum):
    """How a row is read: as it stands, or what is done about its quotes."""

    STRICT = None
    LENIENT = "quotes inside a quoted cell were read leniently"
    CLOSED = "a quote that never closes was closed at the end of the row"
    PLAIN = "a quote that never closes was read as text"


@dataclass(frozen=True)
class Dialect:
    """What cuts a line into cells."""

    delimiter: str
    escaped: bool

    def masked(self, text: str) -> str:
        """The text with what stands after backslashes, and these, replaced by plain letters."""
        return _ESCAPED.sub("xx", text) if self.escaped else text

    def rows(self, lines: Iterator[str], *, strict: bool, quotes: bool = True) -> Iterator[list[str]]:
        """The rows of lines, by the standard reader."""
        return csv.reader(
            lines,
            delimiter=self.delimiter,
            strict=strict,
            escapechar="\\" if self.escaped else None,
            quoting=csv.QUOTE_MINIMAL if quotes else csv.QUOTE_NONE,
        )


def _pass(line: str, quoted: bool, delimiter: str, strays: list[int] | None = None) -> tuple[int, bool, int]:
    """Delimiters passed in a line, whether it ends inside a quoted cell, and its stray quotes.

    A quote inside a quoted cell that neither a delimiter nor the end of the line follows is stray:
    it closes nothing.

    Parameters
    ----------
    line : without its end, escapes masked
    quoted : whether the line begins inside a quoted cell
    strays : where their places are put, if that is wanted
    """
    at, passed, stray = 0, 0, 0
    while True:
        if not quoted:
            if line.startswith(QUOTE, at):
                quoted, at = True, at + 1
                continue
            if line.find(QUOTE, at) < 0:
                return passed + line.count(delimiter, at), False, stray
            at = line.find(delimiter, at) + 1
            if not at:
                return passed, False, stray
            passed += 1
            continue
        at = line.find(QUOTE, at) + 1
        if not at:
            return passed, True, stray
        if line.startswith(QUOTE, at):
            at += 1
        elif at == len(line):
            return passed, False, stray
        elif line.startswith(delimiter, at):
            quoted, passed, at = False, passed + 1, at + 1
        else:
            stray += 1
            if strays is not None:
                strays.append(at - 1)


def pass_row(lines: Iterable[str], dialect: Dialect) -> bool:
    """Take the lines of one row that parses strictly; False where it does not."""
    quoted = False
    for line in lines:
        if quoted and QUOTE not in line:
            continue
        _, quoted, strays = _pass(_bare(dialect.masked(line)), quoted, dialect.delimiter)
        if strays or not quoted:
            return not strays
    return False


class _Ahead:
    """For every line: delimiters up to the end of the row, the line after it (-1: none), strays.

    ``stays`` says of which lines the whole lies inside one quoted cell, if the line before ends so.
    """

    def __init__(self, count: int) -> None:
        self.passed, self.end, self.strays = (array("q", bytes(8 * (count + 1))) for _ in range(3))
        self.end[count] = -1
        self.stays = bytearray(count + 1)

    def put(self, at: int, found: tuple[int, bool, int], inside: _Ahead) -> None:
        passed, quoted, strays = found
        self.stays[at] = quoted and not passed
        if quoted:
            passed, strays = passed + inside.passed[at + 1], strays + inside.strays[at + 1]
        self.passed[at], self.strays[at] = passed, strays
        self.end[at] = inside.end[at + 1] if quoted else at + 1


def _bare(line: str) -> str:
    return line.rstrip("\r\n")


def _ahead(lines: Sequence[str], dialect: Dialect) -> tuple[_Ahead, _Ahead]:
    """What lies ahead of every line as the beginning of a row, and as the inside of a cell."""
    count, delimiter = len(lines), dialect.delimiter
    fresh, inside = _Ahead(count), _Ahead(count)
    for at in range(count - 1, -1, -1):
        line = _bare(dialect.masked(lines[at]))
        if QUOTE in line:
            inside.put(at, _pass(line, True, delimiter), inside)
            fresh.put(at, _pass(line, False, delimiter), inside)
        else:
            inside.put(at, (0, True, 0), inside)
            fresh.passed[at], fresh.end[at] = line.count(delimiter), at + 1
    return fresh, inside


def plan(lines: Sequence[str], dialect: Dialect, width: int) -> list[tuple[int, Way]]:
    """How many lines each row takes, and how it is read.

    A row that parses strictly into the wanted cells is taken as it stands. Otherwise whole rows less
    broken ones to the end of the file decide between its ways; with a single column nothing
    is known of the rows, and only a quote that never closes is mended.

    Parameters
    ----------
    width : cells of a whole row; 0 where that is not known yet
    """
    fresh, inside = _ahead(lines, dialect)
    if not width:
        usual = Counter(fresh.passed[at] for at in range(len(lines)) if fresh.end[at] == at + 1)
        width = usual.most_common(1)[0][0] + 1 if usual else 1
    ways, ends = _best(lines, dialect, width, fresh, inside)
    out, at = [], 0
    while at < len(lines):
        out.append((ends[at] - at, ways[at]))
        at = ends[at]
    return out


def _best(
    lines: Sequence[str], dialect: Dialect, width: int, fresh: _Ahead, inside: _Ahead
) -> tuple[list[Way], array[int]]:
    """The way of a row that begins on each line, and the line after it."""
    count = len(lines)
    score, shut = (array("q", bytes(8 * (count + 1))) for _ in range(2))
    shut[count] = count  # the best line for a row to begin on, of those a quoted cell reaches
    ends = array("q", fresh.end)
    ways = [Way.STRICT] * count

    def worth(cells: int) -> int:
        return 1 if cells == width else -1

    for at in range(count - 1, -1, -1):
        end, clean, shut[at] = fresh.end[at], not fresh.strays[at], at
        if not _bare(lines[at]):
            score[at] = score[at + 1]
        elif clean and end >= 0 and (fresh.passed[at] + 1 == width or end == at + 1):
            score[at] = worth(fresh.passed[at] + 1) + score[end]
        else:
            line = _bare(dialect.masked(lines[at]))
            here, opens, _ = _pass(line, False, dialect.delimiter)
            after = shut[at + 1]
            choice = (
                [(worth(fresh.passed[at] + 1) + score[end], end, Way.STRICT if clean else Way.LENIENT)]
                if end >= 0
                else []
            )
            if end < 0 or width > 1:
                plain = worth(line.count(dialect.delimiter) + 1) + score[at + 1]
                choice.append((plain, at + 1, Way.PLAIN))
                if opens:
                    choice.append((worth(here + 1) + score[after], after, Way.CLOSED))
            score[at], ends[at], ways[at] = max(choice, key=lambda each: each[0])
        if inside.stays[at] and score[shut[at + 1]] > score[at]:
            shut[at] = shut[at + 1]
    return ways, ends


def _repaired(lines: Sequence[str], dialect: Dialect, close: bool) -> Iterator[str]:
    """Lines of one row with their stray quotes doubled, and the last cell closed on request."""
    quoted = False
    for number, line in enumerate(lines, start=1):
        strays: list[int] = []
        _, quoted, _ = _pass(_bare(dialect.masked(line)), quoted, dialect.delimiter, strays)
        begins = [0, *strays]
        mended = QUOTE.join(line[a:b] for a, b in zip(begins, [*strays, len(line)], strict=True))
        yield f"{_bare(mended)}{QUOTE}" if close and number == len(lines) else mended


def read(text: str, dialect: Dialect, width: int) -> Iterator[tuple[int, list[str] | None, str, Way]]:
    """The rows of a text as planned: lines before it, cells, the text of the row, how it was read.

    ``cells`` is None for a row with a cell longer than the standard reader's limit.
    """
    lines = _LINE.findall(text)
    at = 0
    for count, way in plan(lines, dialect, width):
        row = lines[at : at + count]
        mend = way in (Way.LENIENT, Way.CLOSED)
        wanted = _repaired(row, dialect, way is Way.CLOSED) if mend else iter(row)
        try:
            cells = next(dialect.rows(wanted, strict=False, quotes=way is not Way.PLAIN), [])
        except csv.Error:
            cells = None
        yield at, cells, "".join(row), way
        at += count
