"""Short words."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class ShortWordsPass(TypePass):
    """Remove words of fewer characters than a limit."""

    VERSION: ClassVar[int] = 2

    title = "Short words"
    about = "words of few letters go"
    kind: Literal["short-words"] = "short-words"
    under: int = Field(3, ge=2, le=20, description="least letters to stay")

    def said(self) -> str:
        return f"under {self.under} letters"

    def apply(self, forms: Forms) -> Mask:
        words = (forms.classes != segment.EMOJI) & ~forms.apart
        return words & forms.matching(lambda form: len(form) < self.under)
