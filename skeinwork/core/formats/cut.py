"""Cut a long text into documents that keep the fields of the whole."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import replace
from itertools import tee

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.records import Cut, Row
from skeinwork.core.text import expressions
from skeinwork.core.text.expressions import Place
from skeinwork.core.text.sentences import sentence_starts

_GAP = re.compile(r"\n[ \t\r\f]*(?:\n[ \t\r\f]*)+")
_WORD = re.compile(r"\S+")
Span = tuple[int, int, dict[str, str]]


def check(cut: Cut) -> None:
    """Raise ``BadInputError`` for an expression that is none."""
    if cut.by != "expression":
        return
    if not cut.expression:
        raise BadInputError("Write the regular expression that a document begins with.")
    expressions.check(cut.expression, ignore_case=False)


def _by_expression(text: str, found: list[Place]) -> list[Span]:
    """Pieces as (begin, end, fields); what named groups take is a field and leaves the text."""
    stops = [*(each.begin for each in found[1:]), len(text)]
    pieces: list[Span] = (
        [] if found and not text[: found[0].begin].strip() else [(0, found[0].begin if found else len(text), {})]
    )
    for each, stop in zip(found, stops, strict=False):
        fields = {name: value or "" for name, value in each.groups.items()}
        pieces.append((each.end if fields else each.begin, stop, fields))
    return pieces


def _starts(row: Row, text: str, cut: Cut) -> list[tuple[int, str]]:
    """Where pieces begin, with their heading where they have one."""
    if cut.by == "paragraph":
        return [(0, ""), *((gap.end(), "") for gap in _GAP.finditer(text))]
    if cut.by == "sentence":
        return [(at, "") for at in sentence_starts(text)[:: cut.sentences]]
    if cut.by == "length":
        words = [found.start() for found in _WORD.finditer(text)]
        return [(at, "") for at in words[:: cut.words]]
    marks = [(at, title) for kind, at, title in row.breaks if kind == cut.by]
    return marks if marks and not text[: marks[0][0]].strip() else [(0, ""), *marks]


def pieces(rows: Iterable[Row], field: str, cut: Cut, limit: float | None = None) -> Iterator[list[Row]]:
    """The documents that each row is cut into, numbered in the field ``part``; blank ones are dropped.

    Parameters
    ----------
    field : the cell that holds the text; page and heading marks belong to the cell ``text``
    limit : seconds that an expression may take on all rows together; None: only each has its limit
    """
    if cut.by != "expression":
        for row in rows:
            whole = cut.by == "nothing" or not row.cells.get(field, "").strip()
            yield [row] if whole else _placed(row, field, _by_marks(row, field, cut))
        return
    held, asked = tee(rows)
    texts = (row.cells.get(field, "") for row in asked)
    places = expressions.places(cut.expression, texts, limit, ignore_case=False)
    for row, found in zip(held, places, strict=True):
        yield _placed(row, field, _by_expression(row.cells.get(field, ""), found))


def _by_marks(row: Row, field: str, cut: Cut) -> list[Span]:
    text = row.cells.get(field, "")
    marked = row if field == "text" else replace(row, breaks=())
    starts = _starts(marked, text, cut)
    stops = [*(at for at, _ in starts[1:]), len(text)]
    label = "page" if cut.by == "page" else "heading"
    return [(at, stop, {label: title} if title else {}) for (at, title), stop in zip(starts, stops, strict=True)]


def _placed(row: Row, field: str, spans: list[Span]) -> list[Row]:
    """The row's pieces as rows; itself where it has no text."""
    text = row.cells.get(field, "")
    found = [span for span in spans if text[span[0] : span[1]].strip()]
    if not found:
        return [row]
    out, line, before = [], row.line, 0
    for number, (begin, stop, fields) in enumerate(found, start=1):
        line += text.count("\n", before, begin)
        before = begin
        cells = {**row.cells, **fields, field: text[begin:stop].strip(), "part": str(number)}
        out.append(Row(line, cells, row.place))
    return out
