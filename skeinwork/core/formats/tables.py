"""Tables in binary files: spreadsheets (XLSX, ODS, XLS) and Parquet."""

from __future__ import annotations

import datetime
import io
from itertools import islice
from typing import Any

from python_calamine import CalamineError, CalamineWorkbook

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import nested
from skeinwork.core.formats.delimited import column_names
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


def sheets(data: bytes, name: str) -> list[str]:
    """The names of a spreadsheet's sheets, the one with the most cells first."""
    try:
        book = CalamineWorkbook.from_filelike(io.BytesIO(data))
    except (CalamineError, OSError, ValueError) as fault:
        raise BadInputError(f"{name} is damaged, locked, or not a spreadsheet.") from fault
    sizes = {}
    for each in book.sheet_names:
        try:
            sheet = book.get_sheet_by_name(each)
        except (CalamineError, ValueError):
            continue
        sizes[each] = sheet.height * sheet.width
    return sorted(sizes, key=lambda each: -sizes[each])


def read_spreadsheet(data: bytes, name: str, settings: FileSettings) -> Records:
    """The rows of one sheet, numbered as the spreadsheet numbers them."""
    known = sheets(data, name)
    wanted = settings.sheet or (known[0] if known else "")
    if wanted not in known:
        raise BadInputError(f"{name} has no sheet “{wanted}”. It has: {', '.join(known)}.")
    book = CalamineWorkbook.from_filelike(io.BytesIO(data))
    rows = book.get_sheet_by_name(wanted).to_python(skip_empty_area=False)
    columns: list[str] | None = None
    yield from passed_over(settings, "row")
    for number, values in islice(enumerate(rows, start=1), settings.begin - 1, None):
        cells = [_cell(value) for value in values]
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


def read_parquet(data: bytes, name: str) -> Records:
    """The rows of a Parquet table; nested columns become fields named by their path."""
    import pyarrow.parquet

    table = pyarrow.parquet.ParquetFile(io.BytesIO(data))
    flat = {each.name: "" for each in table.schema_arrow if not each.type.num_fields}
    number = 0
    for batch in table.iter_batches(batch_size=10_000):
        for row in batch.to_pylist():
            number += 1
            cells = {key: _plain(value) for key, value in row.items()}
            yield Row(number, {**flat, **nested.flatten(cells)})


def _plain(value: Any) -> Any:
    """A value of a table as JSON has them."""
    if isinstance(value, dict):
        return {key: _plain(inner) for key, inner in value.items()}
    if isinstance(value, list):
        return [_plain(inner) for inner in value]
    if isinstance(value, bytes):
        return value.decode("utf-8", "replace")
    return None if value is None else _cell(value)
