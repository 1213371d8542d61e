"""Numbers."""

from __future__ import annotations

from typing import Literal

from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class NumbersPass(TypePass):
    """Remove numbers; those joined to letters (*12kn*, *3rd*) only when asked."""

    title = "Numbers"
    about = "numbers go"
    kind: Literal["numbers"] = "numbers"
    keep_with_letters: bool = Field(False, description="keep those joined to letters, like 12kn")

    def said(self) -> str:
        return "drop; keep 12kn" if self.keep_with_letters else "drop"

    def apply(self, forms: Forms) -> Mask:
        numbers = forms.alive & (forms.classes == segment.NUMBER)
        if not self.keep_with_letters:
            return numbers
        return numbers & forms.matching(lambda form: not any(map(str.isalpha, form)))
