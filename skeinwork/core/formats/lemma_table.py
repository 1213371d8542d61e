"""Tables of forms and lemmas: two columns, tab-separated, in whichever order."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import encoding

_HEADINGS = {"form": 0, "word": 0, "lemma": 1, "lemmas": 1, "base": 1}


def _lemma_column(rows: list[tuple[str, str]]) -> int:
    """The column of lemmas: that with fewer different words; the second where they are as many."""
    first, second = (len({row[at] for row in rows}) for at in (0, 1))
    return 0 if first < second else 1


def read_table(name: str, data: bytes) -> list[tuple[str, str]]:
    """Forms with their lemmas, case folded; of a form with several the first.

    Which column holds the lemmas is read from a heading (form, lemma), or is the one with fewer
    different words. Lines that begin with ``#`` are remarks; more columns are left aside.

    Raises
    ------
    BadInputError
        where there are no two columns.

    >>> read_table("t.tsv", b"havn\\thavne\\nhavn\\thavnen\\n")
    [('havne', 'havn'), ('havnen', 'havn')]
    """
    lines = encoding.decode(data).text.removeprefix("\ufeff").splitlines()
    cells = (line.split("\t") for line in lines if line.strip() and not line.startswith("#"))
    rows = [(_tidy(row[0]), _tidy(row[1])) for row in cells if len(row) > 1]
    rows = [row for row in rows if all(row)]
    if not rows:
        raise BadInputError(
            f"{name} is no table of forms and lemmas. It needs two columns with a tab between them."
        )
    heading = [_HEADINGS.get(cell) for cell in rows[0]]
    if None not in heading and len(set(heading)) > 1:
        lemma, rows = heading.index(1), rows[1:]
    else:
        lemma = _lemma_column(rows)
    found: dict[str, str] = {}
    for row in rows:
        found.setdefault(row[1 - lemma], row[lemma])
    return list(found.items())


def _tidy(cell: str) -> str:
    return " ".join(unicodedata.normalize("NFC", cell).casefold().split())


def lines(table: Iterable[tuple[str, str]]) -> list[str]:
    """A table as the lines of a list, in which it is kept."""
    return [f"{form}\t{lemma}" for form, lemma in table]
