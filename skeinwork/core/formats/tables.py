"""Tables in binary files: spreadsheets (XLSX, ODS, XLS) and Parquet."""

from __future__ import annotations

import datetime
import io
from collections.abc import Iterator
from contextlib import suppress
from functools import lru_cache
from itertools import islice
from typing import Any

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import archive, nested
from skeinwork.core.formats.delimited import column_names
from skeinwork.core.formats.format import Format
from skeinwork.core.formats.heading import LOOKED_AT, passed_over, with_heading
from skeinwork.core.formats.records import FileSettings, Records, Row


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


@lru_cache(maxsize=1)
def _sheets(data: bytes) -> dict[str, Any]:
    """The sheets of a spreadsheet, without charts and the like, by their name."""
    from python_calamine import CalamineError, CalamineWorkbook

    book, found = CalamineWorkbook.from_filelike(io.BytesIO(data)), {}
    for name in book.sheet_names:
        with suppress(CalamineError, ValueError):
            found[name] = book.get_sheet_by_name(name)
    return found


def sheets(data: bytes, name: str) -> list[str]:
    """The names of a spreadsheet's sheets, the one with the most cells first.

    Raises
    ------
    BadInputError
        where it is damaged or locked.
    """
    from python_calamine import CalamineError

    if data.startswith(b"PK"):
        archive.open_zip(data, name).close()
    try:
        found = _sheets(data)
    except (CalamineError, ValueError, OSError) as fault:
        raise BadInputError(f"{name} is damaged, locked, not a spreadsheet, or repeats cells too often.") from fault
    return sorted(found, key=lambda each: -found[each].height * found[each].width)


def rows(data: bytes, sheet: str) -> Iterator[list[str]]:
    """The rows of a sheet, from the first row and column of the spreadsheet."""
    found = _sheets(data)[sheet]
    left = found.start[1] if found.start else 0
    for row in found.iter_rows():
        yield [*[""] * left, *map(_cell, row)]


def read_spreadsheet(data: bytes, name: str, settings: FileSettings) -> Records:
    """The rows of one sheet, numbered as the spreadsheet numbers them.

    Raises
    ------
    BadInputError
        where there is no such sheet.
    """
    known = sheets(data, name)
    wanted = settings.sheet or (known[0] if known else "")
    if wanted not in known:
        raise BadInputError(f"{name} has no sheet “{wanted}”. It has: {', '.join(known)}.")
    columns: list[str] | None = None
    yield from passed_over(settings, "row")
    for number, cells in islice(enumerate(rows(data, wanted), start=1), settings.begin - 1, None):
        if not any(cell.strip() for cell in cells):
            continue
        if columns is None:
            columns = column_names(cells if settings.header else [""] * len(cells))
            if settings.header:
                continue
        yield Row(number, dict(zip(columns, cells, strict=True)))


def detect_table(records: Records, settings: FileSettings) -> FileSettings:
    """The settings with first row and heading as the records, read without either, suggest."""
    first = (each for each in islice(records, LOOKED_AT) if isinstance(each, Row))
    return with_heading(settings, [(each.line, list(each.cells.values())) for each in first])


def _plain(value: Any) -> Any:
    """A value of a table as JSON has them."""
    if isinstance(value, dict):
        return {key: _plain(inner) for key, inner in value.items()}
    if isinstance(value, list):
        return [_plain(inner) for inner in value]
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    return None if value is None else _cell(value)


def read_parquet(data: bytes, name: str) -> Records:
    """The rows of a Parquet table; nested columns become fields named by their path."""
    import pyarrow
    import pyarrow.parquet

    pyarrow.set_cpu_count(1)
    table = pyarrow.parquet.ParquetFile(io.BytesIO(data))
    flat = {each.name: "" for each in table.schema_arrow if not each.type.num_fields}
    number = 0
    for batch in table.iter_batches(batch_size=500, use_threads=False):
        for row in batch.to_pylist():
            number += 1
            cells = nested.flatten(_plain(row))
            archive.count(sum(map(len, cells.values())), name, packs=False)
            yield Row(number, {**flat, **cells})


SPREADSHEET = Format("spreadsheet", "a spreadsheet", read_spreadsheet, ("sheet", "begin", "header"), "row")
PARQUET = Format(
    "parquet", "a Parquet table", lambda data, name, _: read_parquet(data, name), unit="row", signature=b"PAR1"
)
