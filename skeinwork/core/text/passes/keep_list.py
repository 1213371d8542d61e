"""Words that no later pass may touch."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field, field_validator

from skeinwork.core.text.given_words import Words, named_words, tidy_words
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class KeepListPass(TypePass):
    """Keep listed words as they are here: no pass after this one changes or removes them."""

    title = "Keep list"
    about = "listed words that no later pass may touch"
    kind: Literal["keep-list"] = "keep-list"
    says: ClassVar[tuple[str, str]] = ("Kept from here on", "")
    words: Words = Field((), description="words to keep")

    _tidy = field_validator("words")(tidy_words)

    def said(self) -> str:
        return named_words(self.words, "none yet")

    def apply(self, forms: Forms) -> Mask:
        words = {word.casefold() for word in self.words}
        words |= {word.casefold() for word in forms.reduce(self.words)}
        words |= {"_".join(word.split()) for word in words}
        listed = forms.matching(lambda form: form.casefold() in words)
        forms.safe = forms.safe | (listed & forms.open)
        return forms.none()
