"""Small files that hold, or lay out, far more than they are: refused with a sentence, no crash."""

from __future__ import annotations

import bz2
import collections
import gzip
import io
from collections.abc import Callable
from pathlib import Path

import numpy as np
import openpyxl
import pyarrow
import pyarrow.parquet
import pytest

from skeinwork.core import apart
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import tables
from skeinwork.core.formats.readers import detect_settings, read_records
from skeinwork.core.formats.records import Row
from skeinwork.work.screens.files import Brought, FilePreview, preview_file
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


def long_document() -> bytes:
    whole = files.unzipped(files.docx_file())
    more = b"<w:p><w:r><w:t>ice on the ramp</w:t></w:r></w:p>" * 500_000
    body = whole["word/document.xml"].replace(b"</w:body>", more + b"</w:body>")
    return files.zipped({**whole, "word/document.xml": body})


def packed_twice() -> bytes:
    inner = gzip.compress(b"ice on the ramp " * 2_000_000)
    return files.zipped({f"{at}.txt.gz": inner for at in range(20)})


def look(path: Path, data: bytes) -> FilePreview:
    path.write_bytes(data)
    return preview_file(path, Brought(sha256="0" * 64, name=path.name, size=len(data)), None)


TOO_MUCH = "more than .* GB|repeats cells too often|over 200 times its size"


@pytest.mark.parametrize(
    ("name", "made"),
    [
        ("a.xlsx", far_cells),
        ("a.ods", repeated_cells),
        ("a.docx", long_document),
        ("a.zip", packed_twice),
        ("b.zip", lambda: files.zipped({"mimetype": b"0" * 300_000_000})),
        ("a.txt.gz", lambda: gzip.compress(bytes(300_000_000))),
        ("a.tar.bz2", lambda: bz2.compress(bytes(300_000_000))),
    ],
)
def test_a_small_file_that_holds_very_much_is_refused(name: str, made: Callable[[], bytes], tmp_path: Path) -> None:
    data = made()
    assert len(data) < 1_500_000
    with pytest.raises(BadInputError, match=TOO_MUCH):
        look(tmp_path / name, data)


def many_marks(mark: str, times: int) -> str:
    return f"<html><body><p>Ice on the ramp.</p>{mark * times}</body></html>"


ATTRIBUTES = " ".join(f"a{at}='1'" for at in range(100_000))
ALIASES = "---\na0: &a0 [x, x]\n" + "".join(f"a{at}: &a{at} [{', '.join([f'*a{at - 1}'] * 9)}]\n" for at in range(1, 9))
COSTLY = {
    "comments.xml": "<?xml version='1.0'?>" + "<!-- ice -->\n" * 30 + "<r><a>ice</a><a>fog</a></r>",
    "scripts.html": many_marks("<script>fog</script>", 60_000),
    "open.html": many_marks("<script>", 60_000),
    "comments.html": many_marks("<!--", 100_000),
    "deep.json": '{"a":' * 50_000 + "1" + "}" * 50_000,
    "aliases.md": f"{ALIASES}---\nIce on the ramp.\n",
    "alike.csv": "\n".join([",".join(["harbour"] * 1_500), ",".join(["Kelpwick"] * 1_500)] * 2),
    "wide.csv": "\n".join(",".join(f"c{row}{at}" for at in range(20_000)) for row in range(20)),
    "lines.ris": "TY  - JOUR\nAB  - Ice\n" + "on the ramp\n" * 200_000 + "ER  - \n",
}


@pytest.mark.parametrize("name", COSTLY)
def test_what_is_costly_to_read_badly_is_read_or_refused_with_its_reason(name: str, tmp_path: Path) -> None:
    if name == "deep.json":
        with pytest.raises(BadInputError, match="nested too deeply"):
            look(tmp_path / name, COSTLY[name].encode())
    else:
        found = look(tmp_path / name, COSTLY[name].encode())
        assert found.rows and not found.unseen and len(found.columns) <= 300


@pytest.mark.parametrize("name", ["a.html", "a.xml"])
def test_a_reader_that_takes_too_long_is_stopped(name: str, tmp_path: Path) -> None:
    head = "<?xml version='1.0'?><r>" if name == "a.xml" else "<html>"
    data = f"{head}<a {ATTRIBUTES}>Ice</a><a>fog</a></r>".encode()
    path = tmp_path / name
    if name == "a.xml":
        with pytest.raises(apart.OverLimitError, match=r"a\.xml was given up after 4 s"):
            look(path, data)
    else:
        found = look(path, data)
        assert "given up after 4 s" in found.unseen and found.settings.roles == {"text": "text"}


def test_cells_with_hostile_pages_are_bounded_too(tmp_path: Path) -> None:
    page = f"<html><body><p {ATTRIBUTES}>Ice</p></body></html>"
    path = tmp_path / "pages.csv"
    with pytest.raises(apart.OverLimitError, match="given up"):
        look(path, f'id,page\n1,"{page}"\n2,"{page}"\n'.encode())


def test_a_small_table_that_unpacks_to_very_much_is_refused(monkeypatch: pytest.MonkeyPatch) -> None:
    data = repeated_values()
    assert len(data) < 200_000
    monkeypatch.setenv("SKEINWORK_ARCHIVE_LIMIT", "100")
    records = read_records(data, "a.parquet", detect_settings(data, "a.parquet"))
    assert isinstance(next(records), Row)
    with pytest.raises(BadInputError, match=r"over the limit of 100,000,000 bytes.*--archive-limit"):
        collections.deque(records, maxlen=0)


def test_cells_apart_within_reason_keep_their_row_and_column() -> None:
    book = openpyxl.Workbook()
    book.active["C3"], book.active["D3"], book.active["C9"] = "what", "when", "ice"
    out = io.BytesIO()
    book.save(out)
    found = list(tables.rows(out.getvalue(), "Sheet"))
    assert found[2] == ["", "", "what", "when"] and found[8] == ["", "", "ice", ""]
    rows = read_records(out.getvalue(), "a.xlsx", detect_settings(out.getvalue(), "a.xlsx"))
    assert [(each.line, each.cells["what"]) for each in rows if isinstance(each, Row)] == [(9, "ice")]
