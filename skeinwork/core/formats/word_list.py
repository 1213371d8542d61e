"""Lists of words as files: text, CSV or JSON in and out; a word a line as they are kept.

Nothing is left out or changed silently: a file is read whole, refused with the place of what can't be
read, or remarks say what was done with it.
"""

from __future__ import annotations

import csv
import json
import re
import unicodedata
from collections.abc import Iterable, Iterator, Sequence
from functools import lru_cache
from pathlib import Path
from typing import Any, NamedTuple

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import delimited, encoding
from skeinwork.core.formats.export import plain_cell

# More than any dictionary has.
MOST_WORDS = 2_000_000
# Characters; longer lines are text.
LONGEST_WORD = 400
_HEADINGS = frozenset(
    "word words name names term terms token tokens type types form forms phrase phrases stopword "
    "stopwords stop_word stop_words".split()
)
_NO_TEXT = re.compile("[\x00-\x08\x0e-\x1f\x7f\ufffe\uffff]")
_SURROGATE = re.compile("[\ud800-\udfff]")
_REMARK = re.compile(r"(?:^|\s)#.*")
# A comma parts words, but not the thousands of a number.
_COMMA = re.compile(r"(?<!\d),|,(?!\d{3}(?!\d))")
Placed = tuple[int, str]


class ListRead(NamedTuple):
    """The lines of a list that was read, and what to say of the reading."""

    words: list[str]
    remarks: list[str]


def text_of(name: str, data: bytes) -> str:
    """The text of a list's file.

    Raises
    ------
    BadInputError
        with the line of the first byte or sign that is in no text.
    """
    found = encoding.decode(data)
    text = found.text.removeprefix("\ufeff")
    place = text.find("\ufffd") if found.doubtful else -1
    if place >= 0:
        raise BadInputError(
            f"Line {_line(text, place)} of {name} holds bytes that are no text ({found.encoding}). Save "
            "the list as UTF-8, and bring it in again."
        )
    if odd := _NO_TEXT.search(text):
        raise BadInputError(
            f"Line {_line(text, odd.start())} of {name} holds the sign U+{ord(odd[0]):04X}, which is in "
            "no word. Is it a list of words?"
        )
    return text


def _line(text: str, place: int) -> int:
    return text.count("\n", 0, place) + 1


def parse_json(name: str, text: str) -> Any:
    """What a JSON file holds.

    Raises
    ------
    BadInputError
        where it is none.
    """
    try:
        return json.loads(text)
    except (ValueError, RecursionError) as fault:
        raise BadInputError(f"{name} is not JSON: {fault}.") from fault


def _of_json(name: str, value: Any) -> Iterator[Placed]:
    """The texts of a JSON list, of the list in an object's ``words``, or of an object's keys."""
    if isinstance(value, dict):
        value = value.get("words", list(value))
    for number, item in enumerate(value if isinstance(value, list) else [], start=1):
        word = item.get("word", item.get("name")) if isinstance(item, dict) else item
        if not isinstance(word, str):
            raise BadInputError(f"Item {number} of {name} is no word, but {str(item)[:40]!r}.")
        yield number, word


def heading_of(first: Sequence[str], below: Sequence[Sequence[str]]) -> bool:
    """Whether the first row of a list names its columns.

    It does where it has a usual heading, or a text above what are otherwise numbers.
    """
    if any(_named(cell) in _HEADINGS for cell in first):
        return True
    columns = [[row[at] for row in below if len(row) > at] for at in range(len(first))]
    return any(
        cells and not cell.strip().isdigit() and all(each.strip().isdigit() for each in cells)
        for cell, cells in zip(first, columns, strict=True)
    )


def _named(cell: str) -> str:
    return "_".join(cell.strip().casefold().split())


def _delimiter(text: str) -> str:
    """As of any table; where nothing parts the first line it has one column."""
    first = text.partition("\n")[0]
    parted = any(each in first for each in delimited.DELIMITERS)
    return delimited.sniff_delimiter(text) if parted else ","


def _of_table(name: str, text: str) -> tuple[list[Placed], list[str]]:
    """The first column, or the one that is headed as words are."""
    rows = [
        (line, cells)
        for line, cells in delimited.strict_rows(name, text, _delimiter(text))
        if any(map(str.strip, cells))
    ]
    if not rows:
        return [], []
    first, below = rows[0][1], rows[1:]
    column = next((at for at, cell in enumerate(first) if _named(cell) in _HEADINGS), 0)
    if heading_of(first, [cells for _, cells in below]):
        rows = below
    words = [(line, plain_cell(cells[column])) for line, cells in rows if len(cells) > column]
    if len(first) == 1 or _named(first[column]) in _HEADINGS:
        return words, []
    return words, [f"The first of {len(first)} columns of {name} was taken."]


def words_of_line(line: str) -> list[str]:
    """The words of a line of text: apart by commas, quoted where they hold one; after ``#`` a remark.

    >>> words_of_line("ferry, 1,000, c#  # three"), words_of_line('"sea, wall"')
    (['ferry', '1,000', 'c#'], ['sea, wall'])
    """
    if '"' in line:
        try:
            return [cell.strip() for cell in next(csv.reader([line], skipinitialspace=True, strict=True))]
        except (csv.Error, StopIteration):
            pass
    return [word for each in _COMMA.split(_REMARK.sub("", line)) if (word := each.strip())]


def written(words: Iterable[str]) -> bytes:
    """A list as a text that is read again as the same words."""
    lines = (word if words_of_line(word) == [word] else '"' + word.replace('"', '""') + '"' for word in words)
    return "".join(f"{line}\n" for line in lines).encode()


def read_list(name: str, data: bytes) -> ListRead:
    """The words of a file by its name's ending: JSON, CSV (or TSV), else text, a word a line.

    In a text, commas part words too, and what follows a ``#`` is a remark.

    Raises
    ------
    BadInputError
        where it holds none, or too many, or something that is no word, with its line.

    >>> read_list("own.txt", b"ferry, gale  # both\\nquay").words
    ['ferry', 'gale', 'quay']
    """
    text, remarks = text_of(name, data), list[str]()
    if name.lower().endswith(".json"):
        placed, unit = list(_of_json(name, parse_json(name, text))), "Item"
    elif name.lower().endswith((".csv", ".tsv")):
        placed, remarks = _of_table(name, text)
        unit = "Line"
    else:
        lines = enumerate(text.splitlines(), start=1)
        placed = [(number, word) for number, line in lines for word in words_of_line(line)]
        unit = "Line"
    for number, word in placed:
        check_word(word, f"{unit} {number} of {name}")
    words = tidy(word for _, word in placed)
    if not words:
        raise BadInputError(f"{name} holds no words. A list has a word a line, or a column of words.")
    check_many(name, len(words))
    return ListRead(words, remarks)


def check_many(name: str, lines: int) -> None:
    """Raise ``BadInputError`` for more lines than a list may have."""
    if lines > MOST_WORDS:
        raise BadInputError(f"{name} holds more than {MOST_WORDS:,} words. Bring it in in parts.")


def check_word(word: str, where: str) -> None:
    """Raise ``BadInputError`` for what can be no word, named by where it stands."""
    if len(word) > LONGEST_WORD:
        raise BadInputError(f"{where} holds a word of {len(word):,} letters, and a word has at most {LONGEST_WORD}.")
    if _SURROGATE.search(word):
        raise BadInputError(f"{where} holds half of a character (a lone surrogate).")


def tidy(words: Iterable[str]) -> list[str]:
    """Words composed (NFC), without white space around or lines in them, each once, in their order."""
    each = [" ".join(word.split()) for word in words]
    composed = [word if word.isascii() else unicodedata.normalize("NFC", word) for word in each]
    return list(dict.fromkeys(word for word in composed if word))


def kept(words: Iterable[str]) -> bytes:
    """The file that a list is kept as: sorted, a word a line, the same for the same words."""
    return "".join(f"{word}\n" for word in sorted(words)).encode("utf-8", "replace")


def folded(words: Iterable[str]) -> frozenset[str]:
    """Words case folded, as passes look them up."""
    return frozenset(word.casefold() for word in words)


@lru_cache(maxsize=16)
def load(path: Path) -> tuple[str, ...]:
    """The words of a kept list; its name is its checksum, so that it never changes."""
    return tuple(path.read_text(encoding="utf-8").splitlines())
