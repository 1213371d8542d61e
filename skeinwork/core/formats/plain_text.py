"""Plain text: a document a line, a document between blank lines, or the whole file as one."""

from __future__ import annotations

import re

from skeinwork.core.formats.format import Format, of_text, up_to_a_space
from skeinwork.core.formats.records import Break, Records, Row

_PAGE = "\f"


def read_lines(text: str) -> Records:
    """One document for each line that is not blank."""
    for number, line in enumerate(text.split("\n"), start=1):
        if line.strip():
            yield Row(number, {"text": line.rstrip("\r")})


def read_blocks(text: str) -> Records:
    """One document for each run of lines with a blank line before and after it."""
    begun, block = 0, []
    for number, line in enumerate((*text.split("\n"), ""), start=1):
        if line.strip():
            begun = begun or number
            block.append(line.rstrip("\r"))
        elif block:
            yield Row(begun, {"text": "\n".join(block)})
            begun, block = 0, []


def read_file(text: str, name: str) -> Records:
    """The whole file as one document, named after the file; form feeds begin pages."""
    if text.strip():
        pages = [0, *(found.end() for found in re.finditer(_PAGE, text))]
        breaks: list[Break] = [("page", at, str(n)) for n, at in enumerate(pages, start=1)]
        yield Row(1, {"text": text, "file": name}, breaks=tuple(breaks) if breaks[1:] else ())


LINES = Format(
    "text-lines", "text, a document a line", of_text(lambda text, *_: read_lines(text)), ("encoding",), by_line=True
)
BLOCKS = Format(
    "text-blocks",
    "text, blank lines between documents",
    of_text(lambda text, *_: read_blocks(text)),
    ("encoding",),
    by_line=True,
)
FILE = Format(
    "text-file",
    "text, one document",
    of_text(lambda text, name, _: read_file(text, name)),
    ("encoding",),
    beginning=up_to_a_space,
)
