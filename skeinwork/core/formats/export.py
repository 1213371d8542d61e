"""Writers of open formats: CSV that a spreadsheet can't be made to run, Matrix Market, and archives."""

from __future__ import annotations

import csv
import io
import zipfile
from collections.abc import Iterable, Iterator, Sequence
from itertools import islice
from typing import Any

import numpy as np
import scipy

_RISKY = ("=", "+", "-", "@", "＝", "＋", "－", "＠", "\t", "\r")
_BLANK = "\r\n\v\f\0\ufeff\u200b"


def safe_cell(value: Any) -> str:
    """A cell's text; one that a spreadsheet would take for a formula gets an apostrophe before it.

    Numbers are written with up to nine significant digits and are left as they are.
    """
    if value is None:
        return ""
    if isinstance(value, float):
        return "" if value != value else f"{value:.9g}"
    text = str(value)
    return f"'{text}" if _is_risky(text) and not isinstance(value, int) else text


def _is_risky(text: str) -> bool:
    """Whether a spreadsheet would run a text, or it looks as one that got an apostrophe."""
    return text.lstrip(_BLANK + "'").startswith(_RISKY)


def plain_cell(cell: str) -> str:
    """The text of a cell that ``safe_cell`` wrote.

    >>> plain_cell(safe_cell("=SUM(A1)")), plain_cell("'tis")
    ('=SUM(A1)', "'tis")
    """
    return cell[1:] if cell.startswith("'") and _is_risky(cell) else cell


_FIRST, _CHUNK = 20, 2000  # rows written at first, and at a time


def csv_rows(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> Iterator[bytes]:
    """UTF-8 CSV with a heading, lines ending in CR LF as RFC 4180 says, piece by piece."""
    given = iter(rows)
    part: list[Sequence[Any]] = [header, *islice(given, _FIRST)]
    while part:
        out = io.StringIO(newline="")
        table = csv.writer(out, lineterminator="\r\n")
        table.writerows([safe_cell(cell) for cell in row] for row in part)
        yield out.getvalue().encode("utf-8", "replace")
        part = list(islice(given, _CHUNK))


def to_csv(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """The same as a whole."""
    return b"".join(csv_rows(header, rows))


def zipped(parts: Iterable[tuple[str, bytes]]) -> bytes:
    """A zip archive of contents by their names, whose bytes depend on these alone."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in parts:
            entry = zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0))
            entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)
    return out.getvalue()


def matrix_market(cells: scipy.sparse.csr_matrix, comment: str = "") -> Iterator[bytes]:
    """A sparse matrix, [n_rows, n_columns], in Matrix Market coordinate format, piece by piece; both numbered from 1.

    Counts are written as integers, weights with as many digits as bring them back exactly.
    """
    whole = np.issubdtype(cells.dtype, np.integer)
    kind = "integer" if whole else "real"
    lines = [f"%%MatrixMarket matrix coordinate {kind} general"]
    lines += [f"% {line}" for line in comment.splitlines()]
    lines.append(f"{cells.shape[0]} {cells.shape[1]} {cells.nnz}")
    yield ("\n".join(lines) + "\n").encode()
    for first in range(0, cells.shape[0], _CHUNK):
        part = cells[first : first + _CHUNK].tocoo()
        rows = (part.row + first + 1).tolist()
        triples = zip(rows, (part.col + 1).tolist(), part.data.tolist(), strict=True)
        yield "".join(f"{row} {column} {value!r}\n" for row, column, value in triples).encode()


def to_matrix_market(cells: scipy.sparse.csr_matrix, comment: str = "") -> bytes:
    """The same as a whole."""
    return b"".join(matrix_market(cells, comment))
