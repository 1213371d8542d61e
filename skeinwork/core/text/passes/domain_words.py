"""Domain words: what every document of a corpus is full of."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import Field, field_validator

from skeinwork.core.text.given_words import Words, named_words, tidy_words
from skeinwork.core.text.passes.word_lists import ListPass


class DomainWordsPass(ListPass):
    """Remove words that every document of this corpus is full of."""

    title = "Domain words"
    about = "words that every document is full of go"
    kind: Literal["domain-words"] = "domain-words"
    words: Words = Field((), description="words to leave out")

    _tidy = field_validator("words")(tidy_words)

    def said(self) -> str:
        return named_words(self.words, "none yet; press x on a term")

    def listed(self) -> Sequence[str]:
        return self.words
