"""Leave out documents that repeat another."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, StrictBool

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.duplicates import exact_groups, folded_words, near_groups
from skeinwork.core.corpus.shaping.base import Done, Keeping, Mask, Sources
from skeinwork.core.text.segment import tokens_of


class Duplicates(Keeping):
    """Leave out documents that repeat another."""

    title: ClassVar[str] = "Repeats"
    action: ClassVar[str] = "Leave repeats out"
    kind: Literal["duplicates"] = "duplicates"
    near: StrictBool = Field(
        False, description="near-repeats too, not only the very same words", json_schema_extra={"suggested": True}
    )
    threshold: float = Field(
        0.8,
        ge=0.3,
        le=1.0,
        description="near from this likeness (Jaccard)",
        json_schema_extra={"with": {"near": True}, "step": 0.05},
    )
    keep: Literal["first", "longest", "newest"] = Field("first", description="keep the")

    def in_words(self) -> str:
        what = f"near-duplicates (from {self.threshold:g})" if self.near else "duplicates"
        return f"leave out {what}, keep the {self.keep}"

    def kept(self, corpus: Corpus, sources: Sources, done: Done) -> Mask:
        words, pointer = folded_words(tokens_of(corpus.data, corpus.pointer, "uax29"))
        groups = near_groups(words, pointer, self.threshold) if self.near else exact_groups(words, pointer)
        rank = np.arange(len(groups), dtype=np.int64)
        if self.keep == "longest":
            rank = np.lexsort((rank, -np.diff(pointer))).argsort()
        elif self.keep == "newest":
            rank = np.lexsort((rank, -corpus.days.astype(np.int64))).argsort()
        order = np.lexsort((rank, groups))
        first = np.concatenate([[True], groups[order][1:] != groups[order][:-1]])
        stays = np.zeros(len(groups), dtype=bool)
        stays[order[first]] = True
        return stays
