"""Word forms: the forms of a word become one."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text.forms import METHODS, MethodName
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class WordFormsPass(TypePass):
    """Bring the forms of a word together."""

    title = "Word forms"
    about = "the forms of a word become one"
    rewrites: ClassVar[bool] = True
    readable: ClassVar[bool] = False
    kind: Literal["word-forms"] = "word-forms"
    method: MethodName = Field("porter", description="method")

    def versions(self) -> list[int]:
        return [self.VERSION, METHODS[self.method].version]

    def said(self) -> str:
        return METHODS[self.method].title

    def apply(self, forms: Forms) -> Mask:
        form = METHODS[self.method].form
        forms.rewrite(lambda word: form(word) if word.isascii() and word.islower() else word, True)
        return forms.none()
