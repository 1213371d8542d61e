"""JSON: one document with records somewhere in it, or JSON Lines with a record a line."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from itertools import count, islice
from typing import Any

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import nested
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.format import Beginning, Format, of_text
from skeinwork.core.formats.records import Records, Rejected, Row

_SPACE = re.compile(r"[ \t\r\n]*")
_BROKEN = "breaks off or is not JSON; nothing after it could be read"


def _missing(_: str) -> None:
    """What is written as no number (NaN, Infinity) is missing."""


def _after_space(text: str, at: int) -> int:
    found = _SPACE.match(text, at)
    return found.end() if found else at


def parse(text: str, name: str) -> Any:
    """The value of a JSON document.

    Raises
    ------
    BadInputError
        with the place where it breaks.
    """
    try:
        return nested.unkeyed(_values(text))
    except json.JSONDecodeError as fault:
        raise BadInputError(
            f"{name} breaks off or is not JSON at line {fault.lineno}, column {fault.colno}: {fault.msg.lower()}."
        ) from fault
    except RecursionError as fault:
        raise BadInputError(f"{name} is nested too deeply to be read.") from fault


def _values(text: str) -> Any:
    """The value of a document; of several, one after the other, their list."""
    decoder = json.JSONDecoder(parse_constant=_missing, strict=False)
    found: list[Any] = []
    at = 0
    while not found or at < len(text):
        value, at = decoder.raw_decode(text, _after_space(text, at))
        found.append(value)
        at = _after_space(text, at)
    return found[0] if len(found) == 1 else found


_SIGN = re.compile(r'"(?:[^"\\]++|\\.)*+"|[\[\]{},"]', re.DOTALL)


def beginning(data: bytes) -> bytes:
    """The first part of a document up to the last value that is whole, with all that is open closed.

    >>> beginning(b'{"a": [{"b": 1}, {"b": 2}, {"b')
    b'{"a": [{"b": 1}, {"b": 2}]}'
    """
    decoded = decode(data)
    text, end = decoded.text, 0
    for sign in _SIGN.finditer(text):
        if sign[0] == ",":
            end = sign.start()
        elif sign[0] == '"':  # a text that breaks off
            break
    open_ones: list[str] = []
    for sign in _SIGN.finditer(text, 0, end):
        if sign[0] in "[{":
            open_ones.append("]" if sign[0] == "[" else "}")
        elif sign[0] in "]}" and open_ones:
            open_ones.pop()
    return (text[:end] + "".join(reversed(open_ones))).encode(decoded.encoding) if end else data


def read(text: str, name: str, place: str) -> Records:
    """The records at a place of a JSON document, numbered from 1.

    A list at the root that breaks off gives what stands before the break.
    """
    if not place and text.lstrip().startswith("["):
        yield from _read_list(text.lstrip())
        return
    for number, cells in enumerate(nested.records_at(parse(text, name), place), start=1):
        yield Row(number, cells)


def _read_list(text: str) -> Records:
    """The items of a list, one after the other, up to its end or to where it breaks."""
    decoder = json.JSONDecoder(parse_constant=_missing, strict=False)
    at = _after_space(text, 1)
    for number in count(1):
        if text[at : at + 1] == "]":
            return
        begin = at
        try:
            value, at = decoder.raw_decode(text, at)
        except (ValueError, RecursionError):
            yield Rejected(number, _BROKEN, text[begin : begin + 2000])
            return
        yield Row(number, nested.flatten(value))
        at = _after_space(text, at)
        if text[at : at + 1] == ",":
            at = _after_space(text, at + 1)
        elif text[at : at + 1] != "]":
            yield Rejected(number + 1, _BROKEN, text[at : at + 2000])
            return


def read_lines(text: str) -> Records:
    """Rows of a JSON Lines file; lines that are no JSON object are rejected."""
    for number, line in enumerate(text.split("\n"), start=1):
        if not line.strip():
            continue
        try:
            value = json.loads(line, parse_constant=_missing, strict=False)
        except (ValueError, RecursionError) as fault:
            place = f" at column {fault.colno}" if isinstance(fault, json.JSONDecodeError) else ""
            yield Rejected(number, f"is not JSON{place}", line)
            continue
        if not isinstance(value, dict):
            yield Rejected(number, "is JSON, but not an object with named fields", line)
            continue
        yield Row(number, nested.flatten(value))


# Characters: a longer line is no line of records but one value.
_LONG_LINE = 1_000_000
# Lines from which it is told whether each is a record.
_LINES_LOOKED_AT = 20
_BEGINS_JSON = re.compile(
    r"""\ufeff?\s*(?:\{\s*"(?:[^"\\]|\\.)*"\s*: | \[\s*(?: [{\[] | \]\s*$ | "(?:[^"\\]|\\.)*"\s*[,\]]
    | -?\d[\d.eE+-]*\s*, ))""",
    re.VERBOSE,
)


def _mostly_objects(text: str) -> bool:
    """Whether most of the first lines are JSON objects, each whole: one bad line is no other format."""
    lines = [line for line in islice(_lines(text), _LINES_LOOKED_AT) if line.strip()]
    objects = 0
    for line in lines:
        try:
            objects += isinstance(json.loads(line, strict=False), dict)
        except (ValueError, RecursionError):
            continue
    return objects >= 2 and objects > 0.5 * len(lines)


def _lines(text: str) -> Iterator[str]:
    """Lines that are not very long."""
    at = 0
    while at < len(text):
        end = text.find("\n", at)
        end = len(text) if end < 0 else end
        if end - at < _LONG_LINE:
            yield text[at:end]
        at = end + 1


def _guess(given: Beginning) -> str | None:
    """JSON or JSON Lines; a very long first line is not read for it."""
    if _mostly_objects(given.text):
        return "json-lines"
    if not given.begin.startswith(("{", "[")):
        return None
    first = given.begin.split("\n", 1)[0].strip()
    begins = "json" if _BEGINS_JSON.match(given.text[:5000]) else None
    if len(first) > _LONG_LINE:
        return begins
    try:
        value = nested.unkeyed(json.loads(first, strict=False))
        flat = not nested.likely_records(nested.outline(value))
        return "json-lines" if isinstance(value, dict) and flat else "json"
    except RecursionError:
        return "json"
    except ValueError:
        return begins


JSON = Format(
    "json",
    "JSON",
    of_text(lambda text, name, settings: read(text, name, settings.records)),
    ("encoding", "records"),
    "record",
    beginning=beginning,
    guess=_guess,
)
JSON_LINES = Format(
    "json-lines",
    "JSON Lines",
    of_text(lambda text, *_: read_lines(text)),
    ("encoding",),
    by_line=True,
    endings=(".jsonl", ".ndjson"),
)
