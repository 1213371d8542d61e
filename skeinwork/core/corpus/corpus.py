"""A corpus: the texts as imported and their fields, in columns."""

from __future__ import annotations

from array import array
from collections.abc import Sequence
from dataclasses import dataclass, field
from datetime import date
from typing import get_args

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array, expect_pointer, expect_words, on_borders
from skeinwork.core.formats.dates import MISSING, PRECISIONS, to_days
from skeinwork.core.formats.records import Role


@dataclass(frozen=True)
class Column:
    """One field of every document, dictionary-encoded.

    ``values[codes[d]]`` is document ``d``'s value; -1 stands for none.
    """

    name: str
    role: Role
    codes: NDArray[np.int32]
    values: list[str]

    def value(self, document: int) -> str | None:
        code = int(self.codes[document])
        return self.values[code] if code >= 0 else None

    def take(self, keep: NDArray[np.bool_]) -> Column:
        """The field of the documents that a mask, bool[n_docs], keeps."""
        codes = self.codes[keep]
        used = np.unique(codes[codes >= 0])
        place = np.full(len(self.values) + 1, -1, dtype=np.int32)
        place[used] = np.arange(len(used), dtype=np.int32)
        return Column(self.name, self.role, place[codes], [self.values[at] for at in used])

    def order(self) -> NDArray[np.int32]:
        """Rank, int32[n_docs], of every code among the sorted values, for sorting documents by this field."""
        ranks = np.empty(len(self.values) + 1, dtype=np.int32)
        ranks[np.argsort(np.array([v.casefold() for v in self.values], dtype=object))] = np.arange(len(self.values))
        ranks[-1] = len(self.values)
        return ranks[self.codes]


@dataclass(frozen=True)
class Corpus:
    """Documents with their fields.

    Attributes
    ----------
    data : uint8[n_bytes], the texts' UTF-8 bytes one after another
    pointer : int64[n_docs + 1], document ``d`` is ``data[pointer[d]:pointer[d + 1]]``
    columns : the fields, without the text
    days : int32[n_docs], days since 1970, ``dates.MISSING`` where there is no date
    precision : uint8[n_docs], index into ``dates.PRECISIONS``
    lines : int32[n_docs], line of the source the document begins on
    sources : int32[n_docs], index of the file it came from
    numbers : int32[n_docs], the document's number in the corpus as it was brought in, from 0
    names : the files' names
    """

    data: NDArray[np.uint8]
    pointer: NDArray[np.int64]
    columns: list[Column]
    days: NDArray[np.int32]
    precision: NDArray[np.uint8]
    lines: NDArray[np.int32]
    sources: NDArray[np.int32]
    numbers: NDArray[np.int32]
    names: list[str] = field(default_factory=list)

    def __len__(self) -> int:
        return len(self.pointer) - 1

    def text(self, document: int) -> str:
        part = self.data[self.pointer[document] : self.pointer[document + 1]]
        return part.tobytes().decode("utf-8", "surrogatepass")

    def texts(self) -> list[str]:
        """All texts; only for work that reads every one of them."""
        return [self.text(document) for document in range(len(self))]

    def column(self, name: str) -> Column | None:
        return next((column for column in self.columns if column.name == name), None)

    def role(self, role: Role) -> Column | None:
        """The first field with a role."""
        return next((column for column in self.columns if column.role == role), None)

    def take(self, keep: NDArray[np.bool_]) -> Corpus:
        """The documents that a mask, bool[n_docs], keeps, in their order; values that none of them has are gone."""
        sizes = np.diff(self.pointer)
        pointer = np.concatenate([[0], np.cumsum(sizes[keep])]).astype(np.int64)
        columns = [column.take(keep) for column in self.columns]
        return Corpus(
            self.data[np.repeat(keep, sizes)],
            pointer,
            columns,
            self.days[keep],
            self.precision[keep],
            self.lines[keep],
            self.sources[keep],
            self.numbers[keep],
            self.names,
        )

    def check(self) -> None:
        """Raise ``ContentError`` unless the parts fit each other, and the bytes are UTF-8."""
        data = expect_array("data", self.data, np.uint8, (None,))
        expect_pointer("pointer", self.pointer, None, len(data))
        n_docs = len(self)
        try:
            data.tobytes().decode("utf-8", "surrogatepass")
        except UnicodeDecodeError:
            expect(False, "data is no UTF-8 text")
        expect(on_borders(data, self.pointer), "pointer cuts a character in two")
        days = expect_array("days", self.days, np.int32, (n_docs,))
        known = days[days != MISSING]
        expect_array("days", known, np.int32, (None,), to_days(date.min), to_days(date.max))
        last = len(PRECISIONS) - 1
        expect_array("precision", self.precision, np.uint8, (n_docs,), high=last)
        expect_words("names", self.names)
        expect_array("lines", self.lines, np.int32, (n_docs,))
        expect_array("sources", self.sources, np.int32, (n_docs,), 0, len(self.names) - 1)
        expect_array("numbers", self.numbers, np.int32, (n_docs,), 0)
        for at, column in enumerate(self.columns):
            expect(isinstance(column.name, str), "a field has no name")
            expect(column.role in get_args(Role), f"a field has the role {column.role!r}"[:80])
            expect_words("fields", column.values)
            expect_array(f"codes_{at}", column.codes, np.int32, (n_docs,), -1, len(column.values) - 1)

    @property
    def has_dates(self) -> bool:
        return bool((self.days != MISSING).any())


class Values:
    """The values of a field as they come, each kept once (dictionary encoding).

    Attributes
    ----------
    filled : cells that came, be they empty
    """

    def __init__(self) -> None:
        self.codes: array[int] = array("i")
        self.index: dict[str, int] = {}
        self.filled = 0

    def add(self, cell: str | None) -> None:
        """The value of the next document; an empty cell is none."""
        self.codes.append(self.index.setdefault(cell, len(self.index)) if cell else -1)
        self.filled += 1

    def reach(self, documents: int) -> None:
        """No value for the documents up to here that have none yet."""
        if lacking := documents - len(self.codes):
            self.codes.extend([-1] * lacking)

    def column(self, name: str, role: Role) -> Column:
        return Column(name, role, np.array(self.codes, dtype=np.int32), list(self.index))


def encode_column(name: str, role: Role, cells: Sequence[str | None]) -> Column:
    """Dictionary-encode the values of a field; empty cells have no value."""
    values = Values()
    for cell in cells:
        values.add(cell)
    return values.column(name, role)
