"""Small files that hold, or lay out, far more than they are: refused with a sentence, no crash."""

from __future__ import annotations

import collections
import io

import numpy as np
import openpyxl
import pyarrow
import pyarrow.parquet
import pytest

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import office
from skeinwork.core.formats.apart import read_apart
from skeinwork.core.formats.readers import detect_settings, read_records
from skeinwork.core.formats.records import Row
from tests import files


def far_cells() -> bytes:
    book = openpyxl.Workbook()
    book.active["A1"], book.active["XFD1048576"] = "text", "a far corner"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def repeated_cells() -> bytes:
    cell = '<table:table-cell office:value-type="string" table:number-columns-repeated="16384">'
    row = (
        f'<table:table-row table:number-rows-repeated="1000000">{cell}<text:p>ice</text:p>'
        "</table:table-cell></table:table-row>"
    )
    return files.ods_of(row)


def repeated_values() -> bytes:
    once = pyarrow.array(["ice on the ramp " * 6_000])
    column = pyarrow.DictionaryArray.from_arrays(np.zeros(300_000, dtype=np.int32), once)
    out = io.BytesIO()
    pyarrow.parquet.write_table(pyarrow.table({"text": column}), out)
    return out.getvalue()


@pytest.mark.parametrize(("name", "data"), [("a.xlsx", far_cells()), ("a.ods", repeated_cells())])
def test_a_small_sheet_that_lays_out_to_very_much_is_refused(name: str, data: bytes) -> None:
    assert len(data) < 10_000
    with pytest.raises(BadInputError, match="more than 3 GB|repeats cells too often"):
        detect_settings(data, name)


def test_a_small_table_that_unpacks_to_very_much_is_refused(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    data = repeated_values()
    assert len(data) < 200_000
    monkeypatch.setenv("SKEINWORK_ARCHIVE_LIMIT", "100")
    records = read_records(data, "a.parquet", detect_settings(data, "a.parquet"))
    assert isinstance(next(records), Row)
    with pytest.raises(
        BadInputError, match=r"over the limit of 100,000,000 bytes.*--archive-limit"
    ):
        collections.deque(records, maxlen=0)


def test_cells_apart_within_reason_keep_their_row_and_column() -> None:
    book = openpyxl.Workbook()
    book.active["C3"], book.active["D3"], book.active["C9"] = "what", "when", "ice"
    out = io.BytesIO()
    book.save(out)
    found = list(read_apart("rows", out.getvalue(), "a.xlsx", "Sheet"))
    assert found[2] == ["", "", "what", "when"] and found[8] == ["", "", "ice", ""]
    rows = read_records(out.getvalue(), "a.xlsx", detect_settings(out.getvalue(), "a.xlsx"))
    assert [(each.line, each.cells["what"]) for each in rows if isinstance(each, Row)] == [
        (9, "ice")
    ]


def test_a_large_document_is_read_apart_as_a_small_one_is(monkeypatch: pytest.MonkeyPatch) -> None:
    data = files.docx_file()
    small = list(office.read_docx(data, "a.docx"))
    monkeypatch.setattr(office, "_LARGE", 0)
    assert list(office.read_docx(data, "a.docx")) == small
