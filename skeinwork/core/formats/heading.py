"""Where a table begins, below a title or notes, and whether its first row names the fields."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from skeinwork.core.formats import dates
from skeinwork.core.formats.records import FileSettings, Noted

# Rows from which it is told whether the first one is a heading.
LOOKED_AT = 60
# Words from which a cell is a text, not a name.
_SENTENCE = 8
Numbered = tuple[int, Sequence[str]]


def _width(cells: Sequence[str]) -> int:
    """Cells up to the last filled one."""
    return max((at + 1 for at, cell in enumerate(cells) if cell.strip()), default=0)


def _typed(cell: str) -> bool:
    """Whether a cell is a number or a date, as names seldom are."""
    plain = cell.strip().replace(",", "", 1).replace(".", "", 1).removeprefix("-")
    return plain.isdigit() or dates.parse(cell) is not None


def guess_begin(rows: Sequence[Numbered]) -> int:
    """The number of the row at which the table begins; 1 unless far narrower rows stand above it.

    A table's own rows are then nearly all wider than the first.

    Parameters
    ----------
    rows : the first rows that are not blank, each with its number from 1
    """
    widths = [_width(cells) for _, cells in rows]
    if not widths:
        return 1
    usual = Counter(widths).most_common(1)[0][0]
    first = next(at for at, width in enumerate(widths) if width >= usual)
    wider = sum(width > widths[0] for width in widths[first:])
    if 2 * widths[0] > usual or wider < 0.9 * len(widths[first:]):
        return 1
    return rows[first][0]


def guess_header(rows: Sequence[Sequence[str]]) -> bool:
    """Whether the first row of a table names its fields.

    It does unless it looks like those below: a value of it comes again in its column; or it has
    numbers or dates where they have, and a sentence; or it is one sentence that asks nothing.
    """
    first, below = rows[0], [row for row in rows[1:] if row != rows[0]]
    if not below:
        return True
    columns = list(zip(*(row for row in [first, *below] if len(row) == len(first)), strict=True))
    again = any(cell.strip() and rest.count(cell) > 1 for cell, *rest in columns)
    sentence = any(len(cell.split()) >= _SENTENCE for cell in first)
    if len(first) == 1:
        return not sentence or first[0].rstrip().endswith(("?", ":"))
    typed = any(_typed(cell) and sum(map(_typed, rest)) > 0.8 * len(rest) for cell, *rest in columns)
    return not (again or (typed and sentence))


def with_heading(settings: FileSettings, rows: Sequence[Numbered], begin: int | None = None) -> FileSettings:
    """The settings with where the table begins, unless that is known, and whether a heading does."""
    begin = begin or guess_begin(rows)
    table = [cells for number, cells in rows if number >= begin]
    header = not table or guess_header(table)
    return settings.model_copy(update={"begin": begin, "header": header})


def passed_over(settings: FileSettings, unit: str) -> Iterator[Noted]:
    """A note where rows stand above the table."""
    if settings.begin > 1:
        yield Noted(1, f"the table begins at {unit} {settings.begin}; what is above was not read")
