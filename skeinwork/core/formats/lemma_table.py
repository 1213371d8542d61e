"""Tables of forms and lemmas: two columns, in whichever order, or JSON."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Iterator
from typing import Any

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import delimited
from skeinwork.core.formats.export import plain_cell
from skeinwork.core.formats.word_list import ListRead, check_many, check_word, parse_json, text_of

_HEADINGS = {"form": 0, "word": 0, "lemma": 1, "lemmas": 1, "base": 1}
# Lines that a sentence names.
_NAMED = 5
Pair = tuple[int, str, str]  # line, and both cells


def _lemma_column(rows: list[Pair]) -> int:
    """The column of lemmas: that with fewer different words; the second where they are as many."""
    first, second = len({row[1] for row in rows}), len({row[2] for row in rows})
    return 0 if first < second else 1


def _of_json(name: str, value: Any) -> Iterator[Pair]:
    """An object of lemmas by form, by itself or as ``forms``; or a list ``words`` of both with a tab."""
    if isinstance(value, dict):
        value = value.get("forms", value.get("words", value))
    if isinstance(value, dict):
        value = list(value.items())
    for number, item in enumerate(value if isinstance(value, list) else [], start=1):
        pair = item.split("\t", 1) if isinstance(item, str) else item
        if not isinstance(pair, list | tuple) or [type(each) for each in pair] != [str, str]:
            raise BadInputError(f"Item {number} of {name} is no form with its lemma: {str(item)[:40]!r}.")
        yield number, pair[0], pair[1]


def _of_lines(text: str) -> Iterator[Pair]:
    """Rows with tabs; a line that begins with ``# `` is a remark."""
    for number, line in enumerate(text.splitlines(), start=1):
        cells = line.split("\t")
        if len(cells) > 1 and not line.startswith("# "):
            yield number, cells[0], cells[1]


def _of_table(name: str, text: str) -> Iterator[Pair]:
    for line, cells in delimited.strict_rows(name, text, delimited.sniff_delimiter(text)):
        if len(cells) > 1:
            yield line, plain_cell(cells[0]), plain_cell(cells[1])


def read_table(name: str, data: bytes) -> list[tuple[str, str]]:
    """Forms with their lemmas, case folded; see ``read_lines``.

    >>> read_table("t.tsv", b"havn\\thavne\\nhavn\\thavnen\\n")
    [('havne', 'havn'), ('havnen', 'havn')]
    """
    pairs = (line.split("\t", 1) for line in read_lines(name, data).words)
    return [(form, lemma) for form, lemma in pairs]


def read_lines(name: str, data: bytes) -> ListRead:
    """Forms with their lemmas as the lines of a list; of a form with several lemmas the first, and said so.

    Cells are apart by tabs, commas or semicolons. Which column holds the lemmas is read from a heading
    (form, lemma), or is the one with fewer different words. More columns are left aside.

    Raises
    ------
    BadInputError
        where there are no two columns, or something that is no word, with its line.
    """
    text, unit = text_of(name, data), "Line"
    if name.lower().endswith(".json"):
        given, unit = _of_json(name, parse_json(name, text)), "Item"
    else:
        given = _of_lines(text) if "\t" in text else _of_table(name, text)
    rows = [(number, one, other) for number, *cells in given for one, other in [map(_tidy, cells)] if one and other]
    if not rows:
        raise BadInputError(
            f"{name} is no table of forms and lemmas. It needs two columns, with tabs, commas or "
            "semicolons between them."
        )
    for number, one, other in rows:
        check_word(max(one, other, key=len), f"{unit} {number} of {name}")
    heading = [_HEADINGS.get(cell) for cell in rows[0][1:]]
    if None not in heading and len(set(heading)) > 1:
        lemma, rows = heading.index(1), rows[1:]
    else:
        lemma = _lemma_column(rows)
    found: dict[str, str] = {}
    several = []
    for number, *cells in rows:
        if found.setdefault(cells[1 - lemma], cells[lemma]) != cells[lemma]:
            several.append(f"{unit.lower()} {number}: {cells[1 - lemma]} = {cells[lemma]}")
    check_many(name, len(found))
    return ListRead(lines(found.items()), _remarks(several))


def _remarks(several: list[str]) -> list[str]:
    if not several:
        return []
    more = f" and {len(several) - _NAMED:,} more" if len(several) > _NAMED else ""
    return [
        f"{len(several):,} rows give a form another lemma than it has before, which stays: "
        f"{'; '.join(several[:_NAMED])}{more}."
    ]


def _tidy(cell: str) -> str:
    return " ".join(unicodedata.normalize("NFC", cell).casefold().split())


def lines(table: Iterable[tuple[str, str]]) -> list[str]:
    """A table as the lines of a list, in which it is kept."""
    return [f"{form}\t{lemma}" for form, lemma in table]
