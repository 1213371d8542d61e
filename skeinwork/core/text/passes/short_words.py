"""Short and long words."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.about import UNSURE, Within
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass
from skeinwork.core.text.sample import Sample

_DENSE = ("Chinese", "Japanese", "Korean", "Thai")


class ShortWordsPass(TypePass):
    """Remove words of fewer characters than a limit, or more than another."""

    VERSION: ClassVar[int] = 2

    title = "Word length"
    about = "words of few or very many letters go"
    kind: Literal["short-words"] = "short-words"
    under: int = Field(3, ge=2, le=20, description="least letters to stay")
    most: int | None = Field(
        None, ge=5, le=400, description="most letters to stay", json_schema_extra={"left_open": "any"}
    )

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """Two characters stay where they make a word."""
        dense = [name for name in sample.languages if name in _DENSE]
        if not dense:
            return ((cls(), ""),)
        why = f"two characters are a word in {sample.counted(dense)} documents"
        others = (*(name for name in sample.spoken if name not in _DENSE), UNSURE)
        if len(dense) == len(sample.languages):
            return ((cls(under=2), why),)
        return ((cls(within=Within(values=others)), why),)

    def said(self) -> str:
        return f"under {self.under} letters" + (f", over {self.most}" if self.most else "")

    def apply(self, forms: Forms) -> Mask:
        words = (forms.classes != segment.EMOJI) & ~forms.apart
        most = self.most or 10**6
        return words & forms.matching(lambda form: not self.under <= len(form) <= most)
