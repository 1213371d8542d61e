"""Choose a reader for a file, and read it. To add a format: its reader, its name, its guess."""

from __future__ import annotations

import csv
import json
from pathlib import PurePath

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import delimited, json_lines, plain_text
from skeinwork.core.formats.encoding import decode
from skeinwork.core.formats.records import FileSettings, FormatName, Records

_SIGNATURES = (
    (b"PK\x03\x04", "a zip archive (or an office document)"),
    (b"%PDF", "a PDF document"),
    (b"\x1f\x8b", "a gzip archive"),
    (b"\xd0\xcf\x11\xe0", "an old office document"),
    (b"\x89PNG", "a picture"),
    (b"\xff\xd8\xff", "a picture"),
    (b"SQLite format 3", "a database file"),
    (b"PAR1", "a Parquet table"),
)


def refuse_unreadable(data: bytes, name: str) -> None:
    """Raise ``BadInputError`` for what is no text: empty files and known binary formats."""
    if not data.strip():
        raise BadInputError(f"{name} is empty. Choose a file with at least one document.")
    for signature, what in _SIGNATURES:
        if data.startswith(signature):
            raise BadInputError(
                f"{name} is {what}, which can't be read here. Save its text or table as CSV, "
                "JSON Lines or plain text and bring that in."
            )
    nuls = data[:100_000].count(0)
    if nuls > 0.02 * min(len(data), 100_000) and decode(data[:4000]).encoding[:6] != "utf-16":
        raise BadInputError(f"{name} is not text: it holds {nuls} NUL bytes near its beginning.")


def guess_format(text: str, name: str) -> FormatName:
    """The format by content first, by name where the content leaves it open."""
    first = text.lstrip()[:200_000].split("\n", 1)[0].strip()
    if first.startswith("{"):
        try:
            if isinstance(json.loads(first), dict):
                return "json-lines"
        except json.JSONDecodeError:
            pass
    suffix = PurePath(name).suffix.lower()
    if suffix in (".csv", ".tsv", ".tab"):
        return "delimited"
    if suffix in (".jsonl", ".ndjson"):
        return "json-lines"
    return "delimited" if _looks_like_table(text) else "text-lines"


def _looks_like_table(text: str) -> bool:
    delimiter = delimited.sniff_delimiter(text)
    rows = [row for row in csv.reader(text[:20_000].splitlines()[:20], delimiter=delimiter) if row]
    widths = {len(row) for row in rows[:-1] or rows}
    if len(rows) < 2 or len(widths) != 1 or widths == {1}:
        return False
    return all(0 < len(cell.strip()) < 60 for cell in rows[0])


def detect_settings(data: bytes, name: str) -> FileSettings:
    """Format, encoding and delimiter of a file, as far as they can be told from it."""
    refuse_unreadable(data, name)
    decoded = decode(data)
    kind = guess_format(decoded.text, name)
    return FileSettings(
        format=kind,
        encoding=decoded.encoding,
        delimiter=delimited.sniff_delimiter(decoded.text) if kind == "delimited" else ",",
    )


def read_text(text: str, name: str, settings: FileSettings) -> Records:
    """All records of a decoded file."""
    if settings.format == "delimited":
        return delimited.read(text, settings)
    if settings.format == "json-lines":
        return json_lines.read(text)
    if settings.format == "text-lines":
        return plain_text.read_lines(text)
    return plain_text.read_file(text, name)
