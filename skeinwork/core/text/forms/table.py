"""Lemmas from a form-lemma table that the analyst supplies, for any language."""

from __future__ import annotations

from collections.abc import Sequence
from typing import ClassVar

from pydantic import Field

from skeinwork.core.kinds import NoOptions
from skeinwork.core.text.forms.base import Form, Method, Place
from skeinwork.core.text.given_words import ListRef


class TableOptions(NoOptions):
    """Which table."""

    table: ListRef | None = Field(
        None, description="table of forms and lemmas", json_schema_extra={"with": {"method": "table"}}
    )


class Table(Method[TableOptions]):
    """Lemmas of a table; words that it does not have stay."""

    name: ClassVar[str] = "table"
    title: ClassVar[str] = "lemmas of a table"
    languages: ClassVar[tuple[str, ...]] = ()
    options: ClassVar[type[TableOptions]] = TableOptions

    def form(self, options: TableOptions, place: Place) -> Form:
        return lambda word: place.table.get(word.casefold(), word)

    def said(self, options: TableOptions) -> str:
        return f"lemmas of {options.table.name or 'a table'}" if options.table else "no table chosen"

    def suggested(self, language: str) -> None:
        """A table has to be given."""

    def refs(self, options: TableOptions) -> Sequence[ListRef]:
        return [options.table] if options.table else []


METHOD = Table()
