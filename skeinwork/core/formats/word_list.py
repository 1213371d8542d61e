"""Lists of words as files: text, CSV or JSON in; a word a line as they are kept."""

from __future__ import annotations

import csv
import io
import json
import unicodedata
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path
from typing import Any

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import encoding

MOST_WORDS = 2_000_000
_HEADINGS = frozenset(["word", "words", "name", "names", "term", "terms", "token", "stopword"])


def _of_json(value: Any) -> Iterable[str]:
    """The texts of a JSON list, of the list in an object's ``words``, or of an object's keys."""
    if isinstance(value, dict):
        value = value.get("words", list(value))
    if not isinstance(value, list):
        return []
    each = (
        item.get("word", item.get("name", "")) if isinstance(item, dict) else item for item in value
    )
    return [item for item in each if isinstance(item, str)]


def _of_table(text: str) -> Iterable[str]:
    """The first column, or the one that is headed as words are."""
    rows = list(csv.reader(io.StringIO(text), delimiter="\t" if "\t" in text[:2000] else ","))
    heading = [cell.strip().casefold() for cell in rows[0]] if rows else []
    column = next((at for at, cell in enumerate(heading) if cell in _HEADINGS), None)
    if column is None:
        return [row[0] for row in rows if row]
    return [row[column] for row in rows[1:] if len(row) > column]


def read_words(name: str, data: bytes) -> list[str]:
    """The words of a file by its name's ending: JSON, CSV (or TSV), else text, a word a line.

    In a text, commas part words too, and what follows a ``#`` is a remark.

    Raises
    ------
    BadInputError
        where it holds none, or too many, or is no JSON.

    >>> read_words("own.txt", b"ferry, gale  # both\\nquay")
    ['ferry', 'gale', 'quay']
    """
    text = encoding.decode(data).text.removeprefix("\ufeff")
    if name.lower().endswith(".json"):
        try:
            found = _of_json(json.loads(text))
        except (ValueError, RecursionError) as fault:
            raise BadInputError(f"{name} is not JSON: {fault}.") from fault
    elif name.lower().endswith((".csv", ".tsv")):
        try:
            found = _of_table(text)
        except csv.Error as fault:
            raise BadInputError(f"{name} can't be read as a table: {fault}.") from fault
    else:
        lines = (line.partition("#")[0] for line in text.splitlines())
        found = [word for line in lines for word in line.split(",")]
    words = tidy(found)
    if not words:
        raise BadInputError(
            f"{name} holds no words. A list has a word a line, or a column of words."
        )
    if len(words) > MOST_WORDS:
        raise BadInputError(f"{name} holds more than {MOST_WORDS:,} words. Bring it in in parts.")
    return words


def tidy(words: Iterable[str]) -> list[str]:
    """Words composed (NFC), without white space around or lines in them, each once, in their order."""
    each = [" ".join(word.split()) for word in words]
    composed = [word if word.isascii() else unicodedata.normalize("NFC", word) for word in each]
    return list(dict.fromkeys(word[:400] for word in composed if word))


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
