"""The process that binary files are read in whose contents may be far larger than they are.

Started by ``apart`` as a script, with what to read as its argument and the file on its input, so
that it loads nothing but the library it needs. It answers with lines of JSON.
"""

from __future__ import annotations

import datetime
import io
import json
import resource
import sys
from collections.abc import Callable, Iterator
from typing import Any

MEMORY = 3 * 2**30


def _cell(value: Any) -> str:
    """A cell as text: whole numbers without a point, dates as ISO 8601."""
    if value is None:
        return ""
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, float):
        return str(int(value)) if value.is_integer() and abs(value) < 1e15 else repr(value)
    if isinstance(value, datetime.datetime):
        midnight = value.time() == datetime.time()
        return value.date().isoformat() if midnight else value.isoformat(sep=" ")
    return str(value)


def sheets(data: bytes) -> Iterator[tuple[str, int]]:
    """The sheets of a spreadsheet with the cells of the area they fill; -1 for what is none."""
    from python_calamine import CalamineError, CalamineWorkbook

    book = CalamineWorkbook.from_filelike(io.BytesIO(data))
    for name in book.sheet_names:
        try:
            sheet = book.get_sheet_by_name(name)
        except (CalamineError, ValueError):
            yield name, -1
        else:
            yield name, sheet.height * sheet.width


def rows(data: bytes, name: str) -> Iterator[list[str]]:
    """The rows of a sheet, from the first row and column of the spreadsheet."""
    from python_calamine import CalamineWorkbook

    sheet = CalamineWorkbook.from_filelike(io.BytesIO(data)).get_sheet_by_name(name)
    left = sheet.start[1] if sheet.start else 0
    for row in sheet.iter_rows():
        yield [*[""] * left, *map(_cell, row)]


def _plain(value: Any) -> Any:
    """A value of a table as JSON has them."""
    if isinstance(value, dict):
        return {key: _plain(inner) for key, inner in value.items()}
    if isinstance(value, list):
        return [_plain(inner) for inner in value]
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    return None if value is None else _cell(value)


def parquet(data: bytes) -> Iterator[Any]:
    """The names of the columns that are not nested, then each row by column."""
    import pyarrow
    import pyarrow.parquet

    pyarrow.set_cpu_count(1)
    table = pyarrow.parquet.ParquetFile(io.BytesIO(data))
    yield [each.name for each in table.schema_arrow if not each.type.num_fields]
    for batch in table.iter_batches(batch_size=500, use_threads=False):
        for row in batch.to_pylist():
            yield _plain(row)


def docx(data: bytes) -> Iterator[Any]:
    """What a document says of itself, then its paragraphs, each with whether it is a heading."""
    from docx import Document
    from docx.table import Table

    document = Document(io.BytesIO(data))
    about = document.core_properties
    when = about.created.date().isoformat() if about.created else None
    yield {"title": about.title, "author": about.author, "date": when, "language": about.language}
    for block in document.iter_inner_content():
        if isinstance(block, Table):
            for row in block.rows:
                yield "\t".join(cell.text for cell in row.cells), False
        else:
            style = (block.style.name or "") if block.style is not None else ""
            yield block.text, style.startswith(("Heading", "Title"))


READERS: dict[str, Callable[..., Iterator[Any]]] = {
    "sheets": sheets, "rows": rows, "parquet": parquet, "docx": docx,
}  # fmt: skip


def serve(reader: str, arguments: list[str]) -> None:
    """Read the file on standard input."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    try:
        for value in READERS[reader](sys.stdin.buffer.read(), *arguments):
            sys.stdout.write(json.dumps(value) + "\n")
        sys.stdout.write("true\n")
    except MemoryError:
        raise
    except Exception as fault:  # what a damaged file raises is open
        sys.stdout.write(json.dumps(f"{type(fault).__name__}: {fault}") + "\n")


if __name__ == "__main__":
    serve(sys.argv[1], sys.argv[2:])
