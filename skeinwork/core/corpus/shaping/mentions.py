"""A field that says which of some names or phrases a document mentions."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.corpus.shaping.base import Done, Operation, Sources
from skeinwork.core.errors import BadInputError
from skeinwork.core.text import segment
from skeinwork.core.text.given_words import Words, tidy_words
from skeinwork.core.text.passes.base import Forms
from skeinwork.core.text.passes.multiword import MultiwordPass
from skeinwork.core.text.segment import Segments


class Mentions(Operation):
    """Give every document a field with the names or phrases that it mentions.

    They are found as terms are: in any case, with hyphens or without, the longest first; of ``variant
    = name`` the name is mentioned.
    """

    title: ClassVar[str] = "Mentions"
    about: ClassVar[str] = "a field with the names or phrases that a document mentions"
    action: ClassVar[str] = "Add the field"
    kind: Literal["mentions"] = "mentions"
    name: str = Field("mentions", min_length=1, max_length=100, description="field")
    terms: Words = Field((), description="names or phrases; variant = name")
    value: Literal["most", "all"] = Field(
        "most", description="what it holds: the one mentioned most, or all of them, by semicolon"
    )

    _tidy = field_validator("terms")(tidy_words)

    def in_words(self) -> str:
        which = "mentioned most" if self.value == "most" else "mentioned"
        return f"“{self.name}”: which of {len(self.terms)} names is {which}"

    def apply(self, corpus: Corpus, sources: Sources, done: Done) -> Corpus:
        if corpus.column(self.name):
            raise BadInputError(f"There is a field “{self.name}” already. Give it another name.")
        if not self.terms:
            raise BadInputError("There are no names or phrases to look for. List some.")
        pointer = corpus.pointer
        found = mentioned(segment.segment_bytes(corpus.data, pointer), self.terms)
        cells = [self._cell(each) for each in found]
        none = sum(cell is None for cell in cells)
        if none:
            done.notes.append(f"{none} of {len(cells)} documents mention none of them")
        column = encode_column(self.name, "group", cells)
        return replace(corpus, columns=[*corpus.columns, column])

    def _cell(self, counts: Counter[str]) -> str | None:
        ordered = sorted(counts, key=lambda name: (-counts[name], name))
        if self.value == "most":
            return ordered[0] if ordered else None
        return "; ".join(sorted(ordered)) or None


def mentioned(tokens: Segments, terms: tuple[str, ...]) -> list[Counter[str]]:
    """How often each document mentions each of some terms."""
    documents = len(tokens.doc_ptr) - 1
    found = [Counter[str]() for _ in range(documents)]
    made = MultiwordPass(terms=terms).join(tokens, Forms(tokens.types, tokens.classes))
    if made is None:
        return found
    stream = made.tokens
    rows = np.flatnonzero(stream.classes[stream.ids] == segment.MULTIWORD)
    owners = np.searchsorted(stream.doc_ptr, rows, side="right") - 1
    for document, kind in zip(owners.tolist(), stream.ids[rows].tolist(), strict=True):
        found[document][stream.types[kind]] += 1
    return found
