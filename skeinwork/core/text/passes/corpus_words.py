"""Words that the corpus itself names: those of nearly all documents, those of very few."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np
from pydantic import Field

from skeinwork.core.in_words import percent
from skeinwork.core.text.passes.base import Forms, Mask, TypePass
from skeinwork.core.text.spread import spread


class CorpusWordsPass(TypePass):
    """Remove words by the share of documents that hold them, counted here, after the passes before."""

    title = "Words of nearly all documents"
    about = "words in very many documents go, or in very few"
    kind: Literal["corpus-words"] = "corpus-words"
    says: ClassVar[tuple[str, str]] = ("In that many documents", "")
    over: float = Field(
        0.6, gt=0, le=1, description="largest share of documents to stay", json_schema_extra={"step": 0.05}
    )
    under: int = Field(1, ge=1, le=1_000_000, description="fewest documents to stay")

    def said(self) -> str:
        fewest = f", under {self.under} documents" if self.under > 1 else ""
        return f"in over {percent(self.over)} of the documents{fewest}"

    def apply(self, forms: Forms) -> Mask:
        if forms.tokens is None:
            return forms.none()
        index: dict[str, int] = {}
        living = forms.alive & forms.open
        form = np.array(
            [
                index.setdefault(word, len(index)) if alive else -1
                for word, alive in zip(forms.current, living, strict=True)
            ],
            dtype=np.int32,
        )
        tokens = forms.tokens
        documents = spread(form[tokens.ids], tokens.doc_ptr, len(index)).documents
        held = int((np.diff(tokens.doc_ptr) > 0).sum())
        many = documents > self.over * held
        gone = np.append(many | (documents < self.under), False)[form]
        forms.concerned = np.append(many, False)[form] & living
        return gone & living
