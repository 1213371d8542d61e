"""Writers of open formats: CSV that a spreadsheet can't be made to run, and Matrix Market."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Sequence
from typing import Any

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
    return (
        f"'{text}"
        if text.lstrip(_BLANK).startswith(_RISKY) and not isinstance(value, int)
        else text
    )


def to_csv(header: Sequence[str], rows: Iterable[Sequence[Any]]) -> bytes:
    """UTF-8 CSV with a heading, lines ending in CR LF as RFC 4180 says."""
    out = io.StringIO(newline="")
    table = csv.writer(out, lineterminator="\r\n")
    table.writerow([safe_cell(cell) for cell in header])
    table.writerows([safe_cell(cell) for cell in row] for row in rows)
    return out.getvalue().encode("utf-8", "replace")


def to_matrix_market(counts: scipy.sparse.csr_matrix, comment: str = "") -> bytes:
    """Counts in Matrix Market coordinate format, rows and columns numbered from 1."""
    coordinates = counts.tocoo()
    lines = ["%%MatrixMarket matrix coordinate integer general"]
    lines += [f"% {line}" for line in comment.splitlines()]
    lines.append(f"{counts.shape[0]} {counts.shape[1]} {counts.nnz}")
    cells = zip(
        coordinates.row.tolist(), coordinates.col.tolist(), coordinates.data.tolist(), strict=True
    )
    lines += [f"{row + 1} {column + 1} {value}" for row, column, value in cells]
    return ("\n".join(lines) + "\n").encode()
