"""What every reader yields: rows of named cells, and what could not be used, with its place."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

# A vector is read where it is wanted, and no value of a document.
Role = Literal[
    "text", "title", "identifier", "date", "group", "author", "source", "language", "vector", "kept", "ignored"
]
FieldName = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200)]
DateOrder = Literal["day-first", "month-first"]


# Of the formats there are; ``readers``, which needs this module, says them.
FORMAT_NAMES: list[str] = []


def _known(name: str) -> str:
    if name not in FORMAT_NAMES:
        raise ValueError(f"there is no format {name}")
    return name


def _listed(schema: dict[str, Any]) -> None:
    schema["enum"] = FORMAT_NAMES


FormatName = Annotated[str, AfterValidator(_known), Field(json_schema_extra=_listed)]


class Cut(BaseModel):
    """How a long text is cut into documents, each of which keeps the fields of the whole."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    by: Literal["nothing", "paragraph", "sentence", "page", "heading", "length", "expression"] = "nothing"
    sentences: int = Field(1, ge=1, le=1000, description="a document, for sentence")
    words: int = Field(300, ge=10, le=100_000, description="words a document, for length")
    expression: str = Field(
        "", max_length=1000, description="a document begins where this matches; named groups become fields"
    )


class FileSettings(BaseModel):
    """How one file is read: what was detected, or what the analyst chose instead."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    format: FormatName = "delimited"
    encoding: str = Field("utf-8", max_length=40)
    delimiter: str = Field(",", min_length=1, max_length=1)
    escaped: bool = Field(False, description="quotes inside cells stand after a backslash")
    begin: int = Field(1, ge=1, le=10_000, description="line or row at which a table begins")
    header: bool = Field(True, description="the first row of a table names the fields")
    sheet: str = Field("", max_length=200, description="of a spreadsheet; empty: the fullest")
    records: str = Field(
        "",
        max_length=1000,
        description="where the records of nested JSON or XML are: names from the root, with / between",
    )
    page: Literal["main", "whole", "selector"] = Field("main", description="which part of an HTML page is its text")
    selector: str = Field("", max_length=1000, description="CSS selector, for page = selector")
    html_text: bool = Field(False, description="the field with the text holds HTML pages")
    cut: Cut = Cut.model_validate({})
    roles: dict[str, Role] = Field(default_factory=dict)
    names: dict[str, FieldName] = Field(
        default_factory=dict, description="what fields are called in the corpus, where otherwise"
    )
    date_order: DateOrder = "day-first"


def named_by(roles: Mapping[str, Role], role: Role) -> str | None:
    """The first field that is given a role."""
    return next((name for name, given in roles.items() if given == role), None)


Break = tuple[Literal["heading", "page"], int, str]


@dataclass(frozen=True)
class Row:
    """Cells by column, and the first line (from 1) they stand on.

    Attributes
    ----------
    place : the file within an archive
    breaks : where headings and pages begin in the cell ``text``, by character, with their title
    """

    line: int
    cells: dict[str, str]
    place: str = ""
    breaks: tuple[Break, ...] = ()


@dataclass(frozen=True)
class Rejected:
    """What was left out: where it begins, why, and the lines as they were."""

    line: int
    reason: str
    raw: str
    place: str = ""


@dataclass(frozen=True)
class Noted:
    """A row that was read, but not as it stood."""

    line: int
    reason: str
    place: str = ""


Record = Row | Rejected | Noted
Records = Iterator[Record]
