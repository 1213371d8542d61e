"""Join a second table to the documents by a key, to get the group of each."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from pathlib import Path
from typing import ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from skeinwork.core import apart
from skeinwork.core.corpus.corpus import Column, Corpus
from skeinwork.core.corpus.shaping.base import Done, Operation, Sources, Table
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats import readers
from skeinwork.core.formats.records import FileSettings, Record, Role, Row


class Join(Operation):
    """Give every document the fields of the row of a table that has its key."""

    title: ClassVar[str] = "Fields from a second table"
    about: ClassVar[str] = "A table with a row for each group, author or place, joined by a key."
    action: ClassVar[str] = "Join a table"
    kind: Literal["join"] = "join"
    sha256: str = Field(pattern="^[0-9a-f]{64}$", description="checksum of the table's file")
    name: str = Field(min_length=1, max_length=255, description="of the table's file")
    settings: FileSettings = Field(description="how it is read; fields that are ignored stay away")
    field: str = Field(description="the documents' field with the key")
    key: str = Field(description="the table's column with the key")
    case: bool = Field(False, description="whether letter case tells keys apart")
    repeated: Literal["refuse", "first"] = Field(
        "refuse", description="several rows of one key: refuse, or take the first"
    )

    def in_words(self) -> str:
        return f"join {self.name} by {self.field}"

    def tables(self) -> list[Table]:
        return [Table(self.sha256, self.name)]

    def with_tables(self, tables: Sequence[Table]) -> Self:
        (table,) = tables
        return self.model_copy(update=table._asdict())

    def apply(self, corpus: Corpus, sources: Sources, done: Done) -> Corpus:
        """The table's columns as fields; a name that is taken gets the table's before it."""
        column = corpus.column(self.field)
        if column is None:
            raise BadInputError(f"There is no field “{self.field}” to join by.")
        rows = _rows(self, sources)
        found, passed = _by_key(self, rows)
        keys = [_normal(value, self.case) for value in column.values]
        matched = [found.get(key) for key in keys]
        taken = {each.name for each in corpus.columns}
        columns = list(corpus.columns)
        for name in dict.fromkeys(name for row in rows for name in row.cells):
            role = self.settings.roles.get(name, "group")
            if name != self.key and role != "ignored":
                cells = [row.cells.get(name, "").strip() if row else "" for row in matched]
                label = name if name not in taken else f"{Path(self.name).stem} {name}"
                columns.append(_spread(label, role, column, cells))
        _report(column, matched, keys, found, passed, done)
        return replace(corpus, columns=columns)


def _rows(wanted: Join, sources: Sources) -> list[Row]:
    path = sources.tables.get(wanted.sha256)
    if path is None:
        raise BadInputError(f"The table {wanted.name} was not given. Give it with --tables.")
    records = apart.each(
        _records,
        path,
        wanted,
        name=lambda: wanted.name,
        limits=readers.limits(path.stat().st_size, looking=sources.seconds is not None),
    )
    rows = [record for record in records if isinstance(record, Row)]
    if not any(wanted.key in row.cells for row in rows):
        names = dict.fromkeys(name for row in rows for name in row.cells)
        raise BadInputError(f"{wanted.name} has no column “{wanted.key}”. It has: {', '.join(names)}.")
    return rows


def _records(path: Path, wanted: Join) -> Iterator[Record]:
    yield from readers.read_records(path.read_bytes(), wanted.name, wanted.settings)


def _normal(key: str, case: bool) -> str:
    plain = " ".join(key.split())
    return plain if case else plain.casefold()


def _by_key(wanted: Join, rows: list[Row]) -> tuple[dict[str, Row], int]:
    """The row of every key, and how many rows were passed over."""
    found: dict[str, Row] = {}
    again: dict[str, int] = {}
    for row in rows:
        key = _normal(row.cells.get(wanted.key, ""), wanted.case)
        if key and key in found:
            again[key] = again.get(key, 1) + 1
        elif key:
            found[key] = row
    if again and wanted.repeated == "refuse":
        example = max(again, key=lambda key: again[key])
        raise BadInputError(
            f"{wanted.name} has several rows for {len(again)} of its keys, such as “{example}” "
            f"({again[example]} rows), so a document would get several. Take the first row of each, "
            "or choose another key."
        )
    return found, sum(again.values()) - len(again)


def _spread(name: str, role: Role, key: Column, cells: list[str]) -> Column:
    """A table's column, given for every key, as a field of the documents.

    Short values that recur over the documents make groups, though each stands once in the table.
    """
    values = list(dict.fromkeys(cell for cell in cells if cell))
    place = {value: at for at, value in enumerate(values)}
    codes = np.array([*(place.get(cell, -1) for cell in cells), -1], dtype=np.int32)
    found = codes[key.codes]
    if role in ("text", "kept", "title"):
        recur = len(values) <= max(2, int((found >= 0).sum()) // 2)
        role = "group" if recur and max(map(len, values), default=0) < 80 else "kept"
    return Column(name, role, found, values)


def _report(
    column: Column, matched: list[Row | None], keys: list[str], found: dict[str, Row], passed: int, out: Done
) -> None:
    sizes = np.bincount(column.codes + 1, minlength=len(column.values) + 1)
    alone = [at for at, row in enumerate(matched) if row is None]
    without = int(sizes[0] + sum(sizes[at + 1] for at in alone))
    unused = sorted(set(found) - set(keys))
    total = len(column.codes)
    out.notes.append(f"{total - without} of {total} documents found their row")
    if alone or sizes[0]:
        out.lists["keys of documents without a row"] = [
            *(f"{column.values[at]} ({sizes[at + 1]})" for at in alone),
            *([f"no key ({sizes[0]})"] if sizes[0] else []),
        ]
    if unused:
        out.lists["rows that no document has"] = unused
    if passed:
        out.notes.append(f"{passed} further rows of the same keys were passed over")
