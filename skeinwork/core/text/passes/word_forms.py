"""Word forms: the forms of a word become one."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text.forms import METHODS, MethodName
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class WordFormsPass(TypePass):
    """Bring the forms of a word together.

    Capitals and a possessive ’s stay as they are, so that it does not matter whether they go before
    or after.
    """

    VERSION: ClassVar[int] = 2

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
        method = self.method
        forms.rewrite(lambda word: _remembered(word, method), words_only=True)
        return forms.none()


@lru_cache(maxsize=300_000)  # cleanings that are tried have their words in common
def _remembered(word: str, method: MethodName) -> str:
    return _formed(word, METHODS[method].form)


def _formed(word: str, form: Callable[[str], str]) -> str:
    for ending in ("'s", "’s", "'", "’"):
        if word.endswith(ending) and len(word) > len(ending):
            return _formed(word[: -len(ending)], form) + ending
    if not word.replace("-", "").isalpha():
        return word
    formed = form(word.lower())
    if word.islower():
        return formed
    return formed.upper() if word.isupper() and len(word) > 1 else formed[:1].upper() + formed[1:]
