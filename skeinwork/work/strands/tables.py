"""Tables of phrases and names that were saved here and are brought back."""

from __future__ import annotations

from itertools import islice

from pydantic import BaseModel, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import delimited
from skeinwork.core.formats.export import plain_cell


class TableText(BaseModel):
    """The text of a table that is brought in, as CSV."""

    text: str = Field(max_length=20_000_000)


def table_rows(text: str, first: str) -> list[tuple[int, dict[str, str]]]:
    """The rows of a table with a column of this name, each with its line.

    Raises
    ------
    BadInputError
        where it has no such column, or a line can't be read.
    """
    text = text.removeprefix("\ufeff")
    for delimiter in delimited.DELIMITERS:
        heading = next(iter(delimited.first_rows(text, delimiter)), [])
        names = [cell.strip() for cell in heading]
        if first in names:
            rows = islice(delimited.strict_rows("the table", text, delimiter), 1, None)
            return [
                (line, dict(zip(names, map(plain_cell, cells), strict=False)))
                for line, cells in rows
                if any(map(str.strip, cells))
            ]
    raise BadInputError(f"The table has no column “{first}”. Save the table here as CSV, and change that file.")
