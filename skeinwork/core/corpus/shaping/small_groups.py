"""Leave out the documents of groups that are too small."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.shaping.base import NAMES_A_FIELD, Done, Keeping, Mask, Sources, column_of


class SmallGroups(Keeping):
    """Leave out the documents of groups that are too small."""

    title: ClassVar[str] = "Small groups"
    action: ClassVar[str] = "Drop small groups"
    kind: Literal["small-groups"] = "small-groups"
    field: str = Field(description="drop groups of", json_schema_extra=NAMES_A_FIELD)
    least: int = Field(100, ge=2, le=10_000_000, description="with fewer documents than")

    def in_words(self) -> str:
        return f"drop groups of {self.field} below {self.least}"

    def kept(self, corpus: Corpus, sources: Sources, done: Done) -> Mask:
        column = column_of(corpus, self.field)
        sizes = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
        small = [f"{column.values[at]} ({sizes[at]})" for at in np.flatnonzero(sizes < self.least)]
        if small:
            done.lists["groups left out"] = small
        return np.append(sizes >= self.least, False)[column.codes]
