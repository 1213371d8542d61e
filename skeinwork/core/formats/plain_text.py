"""Plain text: a document a line, or the whole file as one document."""

from __future__ import annotations

from skeinwork.core.formats.records import Records, Row


def read_lines(text: str) -> Records:
    """One document for each line that is not blank."""
    for number, line in enumerate(text.split("\n"), start=1):
        if line.strip():
            yield Row(number, {"text": line.rstrip("\r")})


def read_file(text: str, name: str) -> Records:
    """The whole file as one document, named after the file."""
    if text.strip():
        yield Row(1, {"text": text, "file": name})
