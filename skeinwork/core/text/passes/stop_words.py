"""Stop words."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import Field, field_validator

from skeinwork.core.text import stopwords
from skeinwork.core.text.passes.base import Words, tidy_words
from skeinwork.core.text.passes.word_lists import ListPass


class StopWordsPass(ListPass):
    """Remove function words: a shipped list, own additions, own exceptions."""

    title = "Stop words"
    about = "function words go"
    kind: Literal["stop-words"] = "stop-words"
    language: Literal["english", "none"] = Field("english", description="list")
    own: Words = Field((), description="own words")
    keep: Words = Field((), description="words of the list to keep")

    _tidy = field_validator("own", "keep")(tidy_words)

    def said(self) -> str:
        shipped = "English list" if self.language == "english" else "no list"
        return f"{shipped} + {len(self.own)} own" if self.own else shipped

    def listed(self) -> Sequence[str]:
        return sorted(set(self.own) - set(self.keep))

    def shipped(self) -> frozenset[str]:
        return stopwords.english() - set(self.keep) if self.language == "english" else frozenset()
