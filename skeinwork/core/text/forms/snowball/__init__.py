"""The Snowball stemmers, as their published definitions of version 2 say.

M. F. Porter, *Snowball: a language for stemming algorithms*, 2001. A language is added by its file
and its entry here.
"""

from __future__ import annotations

from typing import ClassVar

from pydantic import Field, field_validator

from skeinwork.core.kinds import NoOptions
from skeinwork.core.text.about import BY_DOCUMENT, NONE, UNSURE
from skeinwork.core.text.forms.base import Form, Method, Place
from skeinwork.core.text.forms.snowball import (
    danish,
    dutch,
    english,
    french,
    german,
    italian,
    norwegian,
    portuguese,
    russian,
    spanish,
    swedish,
)

STEMS = {
    "English": english.stem,
    "French": french.stem,
    "German": german.stem,
    "Spanish": spanish.stem,
    "Italian": italian.stem,
    "Portuguese": portuguese.stem,
    "Dutch": dutch.stem,
    "Swedish": swedish.stem,
    "Norwegian": norwegian.stem,
    "Danish": danish.stem,
    "Russian": russian.stem,
}
_ELIDING = ("French", "Italian")


def _behind_elision(stem: Form) -> Form:
    """What stands before an apostrophe stays, and the word behind it is stemmed."""

    def formed(word: str) -> str:
        for sign in "'’":
            head, found, tail = word.rpartition(sign)
            if found:
                return head + found + stem(tail)
        return stem(word)

    return formed


class SnowballOptions(NoOptions):
    """The language of the stems: one, or that of each document."""

    language: str = Field(
        "English",
        description="language",
        json_schema_extra={
            "enum": ["English", BY_DOCUMENT, *(x for x in STEMS if x != "English")],
            "with": {"method": "snowball"},
        },
    )
    unsure: str = Field(
        NONE,
        description="stems where the language is unsure",
        json_schema_extra={"enum": [NONE, *STEMS], "with": {"method": "snowball", "language": BY_DOCUMENT}},
    )

    @field_validator("language", "unsure")
    @classmethod
    def _has_stems(cls, name: str) -> str:
        if name not in (*STEMS, BY_DOCUMENT, NONE):
            raise ValueError(f"there are no stems of {name[:40]}")
        return name


class Snowball(Method[SnowballOptions]):
    """Snowball stems; words of languages that there are none for stay."""

    name: ClassVar[str] = "snowball"
    title: ClassVar[str] = "stems (Snowball)"
    languages: ClassVar[tuple[str, ...]] = tuple(STEMS)
    options: ClassVar[type[SnowballOptions]] = SnowballOptions
    elides: ClassVar[bool] = True

    def form(self, options: SnowballOptions, place: Place) -> Form:
        language = options.language
        if language == BY_DOCUMENT:
            language = options.unsure if place.language == UNSURE else place.language
        stem = STEMS.get(language)
        if stem is None:
            return str
        return _behind_elision(stem) if language in _ELIDING else stem

    def said(self, options: SnowballOptions) -> str:
        return self.title if options.language == "English" else f"stems (Snowball, {options.language})"

    def spoken(self, options: SnowballOptions) -> tuple[str, ...]:
        return self.languages if self.by_language(options) else (options.language,)

    def suggested(self, language: str) -> SnowballOptions:
        return SnowballOptions(language=language if language in STEMS else "English")

    def each_document(self) -> SnowballOptions:
        """The stems of each document's own language."""
        return SnowballOptions(language=BY_DOCUMENT)

    def by_language(self, options: SnowballOptions) -> bool:
        return options.language == BY_DOCUMENT


METHOD = Snowball()
