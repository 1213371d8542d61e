"""What a cleaning may know of documents beside their texts: language and fields."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

UNSURE = "unsure"
BY_DOCUMENT, NONE = "of each document", "none"  # what may stand for a language in settings


class Within(BaseModel):
    """Documents of some languages, or with some values in a field."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    field: str = Field("", max_length=200, description="empty for the language")
    values: tuple[str, ...] = Field(min_length=1, max_length=200)

    def said(self) -> str:
        """Which they are, in a few words."""
        named = ", ".join(self.values[:3]) + (", …" if len(self.values) > 3 else "")
        return f"{self.field} {named}" if self.field else named


@dataclass(frozen=True)
class About:
    """Of every document.

    Attributes
    ----------
    language : int16[n_docs], an index into ``languages``
    languages : names; the last one is ``UNSURE``
    fields : by name the code of each document's value, int32[n_docs], and the values
    near : int32[n_docs], the same for documents that nearly repeat each other; None where that is not known
    """

    language: NDArray[np.int16]
    languages: tuple[str, ...]
    fields: Mapping[str, tuple[NDArray[np.int32], list[str]]] = field(default_factory=dict)
    near: NDArray[np.int32] | None = None

    def meets(self, within: Within | None) -> NDArray[np.bool_]:
        """Which documents are meant, bool[n_docs]; all where there is no limit."""
        if within is None:
            return np.ones(len(self.language), dtype=bool)
        codes, values = self.language.astype(np.int32), list(self.languages)
        if within.field:
            codes, values = self.fields.get(within.field, (codes, []))
        wanted = [at for at, value in enumerate(values) if value in within.values]
        found: NDArray[np.bool_] = np.isin(codes, wanted)
        return found

    def only(self, documents: slice | list[int]) -> About:
        """The same for some of the documents."""
        fields = {name: (codes[documents], values) for name, (codes, values) in self.fields.items()}
        near = None if self.near is None else self.near[documents]
        return About(self.language[documents], self.languages, fields, near)

    def names(self) -> list[str]:
        """The language of every document."""
        return [self.languages[at] for at in self.language.tolist()]


def unknown(documents: int) -> About:
    """Nothing is known of so many documents."""
    return About(np.zeros(documents, dtype=np.int16), (UNSURE,))
