"""Vectors that somebody else computed: as text in a field, as an array or a table beside the documents, by word."""

from __future__ import annotations

import re
from array import array
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.encoding import decode

# Numbers of one vector; more are a mistake of the separator.
MOST_NUMBERS = 4096
# Vectors that are handed on at once.
_ROWS = 2000
_APART = re.compile(r"[\s,;|]+")
_BRACKETS = "[](){}<> \t\r\n"


class BadVector(NamedTuple):
    """A vector that can't be read: the document or line it is of, from 0, and why."""

    at: int
    reason: str


@dataclass(frozen=True)
class VectorRows:
    """Vectors of one length by the documents, or words, that they are of.

    Attributes
    ----------
    at : int64[n_vectors], rising
    vectors : float32[n_vectors, n_dimensions]
    bad : those that can't be read
    """

    at: NDArray[np.int64]
    vectors: NDArray[np.float32]
    bad: list[BadVector]


class VectorReader:
    """Vectors as they come; what most of them are long is what all have to be."""

    def __init__(self) -> None:
        self.places: dict[int, array[int]] = {}
        self.numbers: dict[int, array[float]] = {}
        self.bad: list[BadVector] = []

    def take(self, at: int, cell: str) -> None:
        """The vector of a document as it is written; an empty cell is none."""
        if not cell.strip():
            return
        try:
            self.add(at, read_vector(cell))
        except ValueError as fault:
            self.bad.append(BadVector(at, str(fault)))

    def add(self, at: int, numbers: NDArray[np.float32]) -> None:
        """The vector of a document."""
        size = len(numbers)
        if size not in self.places:
            self.places[size], self.numbers[size] = array("q"), array("f")
        self.places[size].append(at)
        self.numbers[size].frombytes(np.ascontiguousarray(numbers, dtype=np.float32).tobytes())

    def whole(self) -> VectorRows:
        """All that have the length that most of them have."""
        sizes = Counter({size: len(places) for size, places in self.places.items()})
        if not sizes:
            return VectorRows(np.zeros(0, np.int64), np.zeros((0, 0), np.float32), self.bad)
        size = max(sizes, key=lambda each: (sizes[each], each))
        for other, places in self.places.items():
            if other != size:
                self.bad += [BadVector(at, f"has {other} numbers where {size} are wanted") for at in places]
        vectors = np.frombuffer(self.numbers[size], dtype=np.float32).reshape(-1, size)
        return VectorRows(np.array(self.places[size], dtype=np.int64), vectors, sorted(self.bad))


def read_vector(cell: str) -> NDArray[np.float32]:
    """Numbers as JSON, or apart by commas, semicolons or spaces, with brackets or without.

    Raises
    ------
    ValueError
        with the reason, for what is no number, or none at all.

    Examples
    --------
    >>> read_vector("[1, 2.5]").tolist(), read_vector("1 2.5").tolist()
    ([1.0, 2.5], [1.0, 2.5])
    """
    parts = _APART.split(cell.strip(_BRACKETS + ",;|"))
    if len(parts) > MOST_NUMBERS:
        raise ValueError(f"has {len(parts):,} numbers, more than {MOST_NUMBERS:,}")
    try:
        found = np.array(list(map(float, parts)), dtype=np.float64)
    except ValueError:
        odd = next(part for part in parts if not _is_number(part))
        raise ValueError(f"“{odd[:30]}” is no number") from None
    return checked(found)


def checked(numbers: NDArray[Any]) -> NDArray[np.float32]:
    """Numbers that a direction can have, or ``ValueError``."""
    if not np.isfinite(numbers).all() or np.abs(numbers).max(initial=0.0) > 1e18:
        raise ValueError("holds what is no finite number")
    if not numbers.any():
        raise ValueError("is 0 throughout, which has no direction")
    return numbers.astype(np.float32)


def _is_number(part: str) -> bool:
    try:
        float(part)
    except ValueError:
        return False
    return True


class VectorTable(NamedTuple):
    """Some rows of a file of vectors: the identifiers of a table that has some, and the vectors."""

    keys: list[str] | None
    rows: NDArray[Any]


def tables_of_vectors(path: Path, name: str) -> Iterator[VectorTable]:
    """The rows of a ``.npy`` array or a Parquet table, some at a time.

    Of a table, the first column of lists is the vectors, or else all columns of numbers are; the first column of
    texts are the identifiers of the documents.

    Raises
    ------
    BadInputError
        for a file that holds no such thing.
    """
    with path.open("rb") as source:
        begins = source.read(6)
    if begins == b"\x93NUMPY":
        yield from _array_rows(path, name)
    elif begins[:4] == b"PAR1":
        yield from _parquet_rows(path, name)
    else:
        raise BadInputError(
            f"{name} is neither an array (.npy) nor a Parquet table. Save the vectors as one of these, or give the "
            "field that holds them the role vector."
        )


def _array_rows(path: Path, name: str) -> Iterator[VectorTable]:
    try:
        found = np.load(path, mmap_mode="r", allow_pickle=False)
    except (ValueError, OSError, EOFError) as fault:
        raise BadInputError(f"{name} can't be read as an array: {fault}.") from fault
    if found.ndim != 2 or found.dtype.kind not in "fiu" or not 1 <= found.shape[1] <= MOST_NUMBERS:
        raise BadInputError(
            f"{name} holds {found.dtype} of shape {found.shape}; wanted are numbers, a row for each document, up to "
            f"{MOST_NUMBERS:,} in each."
        )
    for begins in range(0, len(found), _ROWS):
        yield VectorTable(None, np.array(found[begins : begins + _ROWS]))


def _parquet_rows(path: Path, name: str) -> Iterator[VectorTable]:
    import pyarrow as pa
    import pyarrow.parquet as pq

    try:
        file = pq.ParquetFile(path)
        schema = file.schema_arrow
        lists = [each.name for each in schema if pa.types.is_list(each.type) or pa.types.is_fixed_size_list(each.type)]
        numbers = [each.name for each in schema if pa.types.is_floating(each.type) or pa.types.is_integer(each.type)]
        texts = [each.name for each in schema if pa.types.is_string(each.type) or pa.types.is_large_string(each.type)]
        wanted = lists[:1] or numbers
        if not wanted:
            raise BadInputError(f"{name} has no column of lists and none of numbers. Save the vectors as one.")
        for batch in file.iter_batches(_ROWS, columns=[*texts[:1], *wanted]):
            keys = [str(each or "") for each in batch.column(texts[0]).to_pylist()] if texts else None
            yield VectorTable(keys, _batch_rows(batch, lists, wanted))
    except pa.ArrowException as fault:
        raise BadInputError(f"{name} can't be read as a Parquet table: {fault}.") from fault


def _batch_rows(batch: Any, lists: list[str], wanted: list[str]) -> NDArray[Any]:
    """Rows of numbers; of lists that are not of one length, rows of objects."""
    if not lists:
        return np.stack([batch.column(each).to_numpy(zero_copy_only=False) for each in wanted], axis=1)
    rows = batch.column(wanted[0]).to_pylist()
    found = np.empty(len(rows), dtype=object)
    found[:] = [np.array([] if row is None else [np.nan if x is None else x for x in row], np.float64) for row in rows]
    return found


class WordVectorRows(NamedTuple):
    """Words with their vectors as a file has them, and the lines that can't be read."""

    words: list[str]
    vectors: NDArray[np.float32]
    bad: list[BadVector]


def read_word_vectors(path: Path, name: str, wanted: frozenset[str]) -> WordVectorRows:
    """A word and its numbers a line, of the words that are wanted; a first line with two whole numbers is a heading.

    Raises
    ------
    BadInputError
        where no line is of a word that is wanted.
    """
    reader, words = VectorReader(), dict[str, int]()
    with path.open("rb") as source:
        for at, line in enumerate(source):
            word, rest = [*_decoded(line).split(maxsplit=1), "", ""][:2]
            if not word or (at == 0 and word.isdigit() and rest.strip().isdigit()) or word not in wanted:
                continue
            if word not in words:
                words[word] = len(words)
                reader.take(words[word], rest)
    found = reader.whole()
    if not len(found.at):
        raise BadInputError(
            f"{name} has no line of a word of this corpus with its numbers. Wanted is a word and its numbers a line, "
            f"apart by spaces, in the form that Clean leaves: such as “{min(wanted, default='word')} 0.1 -0.2”."
        )
    names = list(words)
    return WordVectorRows([names[at] for at in found.at.tolist()], found.vectors, found.bad)


def _decoded(line: bytes) -> str:
    try:
        return line.decode("utf-8-sig")
    except UnicodeDecodeError:
        return decode(line).text
