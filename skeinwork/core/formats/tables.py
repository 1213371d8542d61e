"""Tables in binary files: spreadsheets (XLSX, ODS, XLS) and Parquet."""

from __future__ import annotations

from itertools import islice

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import nested
from skeinwork.core.formats.apart import read_apart
from skeinwork.core.formats.delimited import column_names
from skeinwork.core.formats.format import Format
from skeinwork.core.formats.heading import LOOKED_AT, passed_over, with_heading
from skeinwork.core.formats.records import FileSettings, Records, Row


def sheets(data: bytes, name: str) -> list[str]:
    """The names of a spreadsheet's sheets, the one with the most cells first."""
    try:
        sizes = dict(read_apart("sheets", data, name))
    except ValueError as fault:
        raise BadInputError(
            f"{name} is damaged, locked, not a spreadsheet, or repeats cells too often."
        ) from fault
    return sorted((each for each in sizes if sizes[each] >= 0), key=lambda each: -sizes[each])


def read_spreadsheet(data: bytes, name: str, settings: FileSettings) -> Records:
    """The rows of one sheet, numbered as the spreadsheet numbers them."""
    known = sheets(data, name)
    wanted = settings.sheet or (known[0] if known else "")
    if wanted not in known:
        raise BadInputError(f"{name} has no sheet “{wanted}”. It has: {', '.join(known)}.")
    rows = read_apart("rows", data, name, wanted)
    columns: list[str] | None = None
    yield from passed_over(settings, "row")
    for number, cells in islice(enumerate(rows, start=1), settings.begin - 1, None):
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
    rows = read_apart("parquet", data, name)
    flat = dict.fromkeys(next(rows), "")
    for number, cells in enumerate(rows, start=1):
        yield Row(number, {**flat, **nested.flatten(cells)})


SPREADSHEET = Format(
    "spreadsheet", "a spreadsheet", read_spreadsheet, ("sheet", "begin", "header"), "row"
)
PARQUET = Format(
    "parquet", "a Parquet table", lambda data, name, _: read_parquet(data, name), unit="row",
    signature=b"PAR1",
)  # fmt: skip
