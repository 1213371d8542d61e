"""What every reader yields: rows of named cells, and what could not be used, with its place."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

Role = Literal[
    "text", "title", "identifier", "date", "group", "author", "source", "kept", "ignored"
]
FormatName = Literal["delimited", "json-lines", "text-lines", "text-file"]
DateOrder = Literal["day-first", "month-first"]


class FileSettings(BaseModel):
    """How one file is read: what was detected, or what the analyst chose instead."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    format: FormatName = "delimited"
    encoding: str = Field("utf-8", max_length=40)
    delimiter: str = Field(",", min_length=1, max_length=1)
    header: bool = True
    roles: dict[str, Role] = Field(default_factory=dict)
    date_order: DateOrder = "day-first"


@dataclass(frozen=True)
class Row:
    """Cells by column, and the first line (from 1) they stand on."""

    line: int
    cells: dict[str, str]


@dataclass(frozen=True)
class Rejected:
    """What was left out: where it begins, why, and the lines as they were."""

    line: int
    reason: str
    raw: str


@dataclass(frozen=True)
class Noted:
    """A row that was read, but not as it stood."""

    line: int
    reason: str


Record = Row | Rejected | Noted
Records = Iterator[Record]
