"""Words that the analyst gives in settings: written there, or a saved list."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Words = Annotated[tuple[str, ...], Field(max_length=100_000, json_schema_extra={"words": True})]


class ListRef(BaseModel):
    """A list by the checksum of its words; the name is what it was called."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    sha256: str = Field(pattern="^[0-9a-f]{64}$")
    name: str = Field("", max_length=200)
    words: int = Field(0, ge=0)


def tidy_words(words: Sequence[str]) -> tuple[str, ...]:
    """Words without white space around them, each once."""
    return tuple(dict.fromkeys(word.strip() for word in words if word.strip()))


def named_words(words: Sequence[str], none: str, most: int = 4) -> str:
    """The first of some words, or what to say where there are none."""
    return ", ".join(words[:most]) + (", …" if len(words) > most else "") if words else none
