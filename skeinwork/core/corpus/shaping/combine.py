"""Make one document of all that share a value."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.corpus.shaping.base import NAMES_A_FIELD, Done, Operation, Sources, column_of
from skeinwork.core.text.segment import join_texts


class Combine(Operation):
    """Make one document of all that share a value."""

    title: ClassVar[str] = "Several rows, one document"
    action: ClassVar[str] = "Combine"
    kind: Literal["combine"] = "combine"
    field: str = Field(description="one document for each", json_schema_extra=NAMES_A_FIELD)

    def in_words(self) -> str:
        return f"combine by {self.field}"

    def apply(self, corpus: Corpus, sources: Sources, done: Done) -> Corpus:
        """One document for each value, in the place of its first; others stay as they are."""
        column = column_of(corpus, self.field)
        own = len(column.values) + np.arange(len(corpus))
        group = np.where(column.codes >= 0, column.codes, own)
        _, first, inverse = np.unique(group, return_index=True, return_inverse=True)
        order = np.argsort(first, kind="stable")
        place = np.empty(len(order), dtype=np.int64)
        place[order] = np.arange(len(order))
        parts: list[list[str]] = [[] for _ in order]
        for document, at in enumerate(place[inverse].tolist()):
            parts[at].append(corpus.text(document))
        keep = np.zeros(len(corpus), dtype=bool)
        keep[first] = True
        heads = corpus.take(keep)
        for each in corpus.columns:
            differing = np.zeros(len(order), dtype=bool)
            differing[place[inverse[each.codes != each.codes[first][inverse]]]] = True
            if differing.any():
                done.notes.append(
                    f"“{each.name}” differs within {int(differing.sum())} of {len(order)} documents; "
                    "that of the first is kept"
                )
        data, pointer = join_texts(["\n\n".join(text for text in texts if text.strip()) for texts in parts])
        counted = encode_column("combined", "kept", [str(len(texts)) for texts in parts])
        columns = [each for each in heads.columns if each.name != "combined"]
        return replace(heads, data=data, pointer=pointer, columns=[*columns, counted])
