"""Tables of phrases and names that were saved here and are brought back."""

from __future__ import annotations

import csv
import io

from pydantic import BaseModel, Field

from skeinwork.core.errors import BadInputError


class TableText(BaseModel):
    """The text of a table that is brought in, as CSV."""

    text: str = Field(max_length=20_000_000)


def table_rows(text: str, first: str) -> list[dict[str, str]]:
    """The rows of a CSV with a column of this name.

    Raises
    ------
    BadInputError : where it has no such column.
    """
    rows = list(csv.DictReader(io.StringIO(text.removeprefix("\ufeff"))))
    if not rows or first not in rows[0]:
        raise BadInputError(
            f"The table has no column “{first}”. Save the table here as CSV, and change that file."
        )
    return [{key: value or "" for key, value in row.items() if key} for row in rows]


def variants_of(cell: str) -> list[str]:
    """The variants of a cell, without the counts behind them."""
    found = []
    for part in cell.split(";"):
        words, _, count = part.strip().rpartition(" ")
        found.append(words if words and count.isdigit() else part.strip())
    return [each for each in found if each]
