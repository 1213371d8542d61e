"""Letter case, and the possessive *'s*."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text import stopwords
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class CasePass(TypePass):
    """Full case folding, and the possessive *'s* cut off when asked."""

    title = "Case"
    about = "capitals and small letters become one"
    rewrites: ClassVar[bool] = True
    kind: Literal["case"] = "case"
    possessives: bool = Field(True, description="cut off a possessive ’s")

    def said(self) -> str:
        return "fold; cut off ’s" if self.possessives else "fold"

    def apply(self, forms: Forms) -> Mask:
        forms.rewrite(str.casefold)
        if self.possessives:
            forms.rewrite(_without_possessive)
        return forms.none()


def _without_possessive(word: str) -> str:
    if len(word) > 3 and word.endswith(("'s", "’s")) and word not in stopwords.english():
        return word[:-2]
    return word
