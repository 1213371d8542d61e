"""Cut a long text into documents that keep the fields of the whole."""

from __future__ import annotations

import re
from dataclasses import replace

import regex

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.records import Cut, Row

SECONDS = 2.0
_GAP = re.compile(r"\n[ \t\r\f]*(?:\n[ \t\r\f]*)+")
_WORD = re.compile(r"\S+")


def check(cut: Cut) -> None:
    """Raise ``BadInputError`` for an expression that is none."""
    if cut.by != "expression":
        return
    if not cut.expression:
        raise BadInputError("Write the regular expression that a document begins with.")
    try:
        regex.compile(cut.expression, regex.MULTILINE)
    except regex.error as fault:
        raise BadInputError(f"The expression to cut at can't be read: {fault}.") from fault


def _by_expression(text: str, expression: str) -> list[tuple[int, int, dict[str, str]]]:
    """Pieces as (begin, end, fields); what named groups take is a field and leaves the text."""
    try:
        found = list(regex.compile(expression, regex.MULTILINE).finditer(text, timeout=SECONDS))
    except TimeoutError as fault:
        raise BadInputError(
            "The expression to cut at took more than 2 s on one document and was stopped. "
            "Make it simpler."
        ) from fault
    found = [each for each in found if each.end() > each.start()]
    stops = [*(each.start() for each in found[1:]), len(text)]
    pieces = [] if found and not text[: found[0].start()].strip() else [
        (0, found[0].start() if found else len(text), dict[str, str]())
    ]  # fmt: skip
    for each, stop in zip(found, stops, strict=False):
        fields = {name: value or "" for name, value in each.groupdict().items()}
        pieces.append((each.end() if fields else each.start(), stop, fields))
    return pieces


def _starts(row: Row, text: str, cut: Cut) -> list[tuple[int, str]]:
    """Where pieces begin, with their heading where they have one."""
    if cut.by == "paragraph":
        return [(0, ""), *((gap.end(), "") for gap in _GAP.finditer(text))]
    if cut.by == "length":
        words = [found.start() for found in _WORD.finditer(text)]
        return [(at, "") for at in words[:: cut.words]]
    marks = [(at, title) for kind, at, title in row.breaks if kind == cut.by]
    return marks if marks and not text[: marks[0][0]].strip() else [(0, ""), *marks]


def pieces(row: Row, field: str, cut: Cut) -> list[Row]:
    """The documents that a row is cut into, numbered in the field ``part``; blank ones are dropped.

    Parameters
    ----------
    field : the cell that holds the text; page and heading marks belong to the cell ``text``
    """
    text = row.cells.get(field, "")
    if cut.by == "nothing" or not text.strip():
        return [row]
    if cut.by == "expression":
        spans = _by_expression(text, cut.expression)
    else:
        marked = row if field == "text" else replace(row, breaks=())
        starts = _starts(marked, text, cut)
        stops = [*(at for at, _ in starts[1:]), len(text)]
        label = "page" if cut.by == "page" else "heading"
        spans = [
            (at, stop, {label: title} if title else {})
            for (at, title), stop in zip(starts, stops, strict=True)
        ]
    found = [span for span in spans if text[span[0] : span[1]].strip()]
    out, line, before = [], row.line, 0
    for number, (begin, stop, fields) in enumerate(found, start=1):
        line += text.count("\n", before, begin)
        before = begin
        cells = {**row.cells, **fields, field: text[begin:stop].strip(), "part": str(number)}
        out.append(Row(line, cells, row.place))
    return out
