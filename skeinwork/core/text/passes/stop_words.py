"""Stop words."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

from pydantic import Field, field_validator

from skeinwork.core.text import stopwords
from skeinwork.core.text.about import BY_DOCUMENT, NONE, UNSURE, About
from skeinwork.core.text.given_words import Words, tidy_words
from skeinwork.core.text.language import SCRIPTS
from skeinwork.core.text.passes.base import BasePass
from skeinwork.core.text.passes.word_lists import ListPass
from skeinwork.core.text.sample import Sample

_CHOICES = ["English", BY_DOCUMENT, NONE, *(x for x in stopwords.languages() if x != "English")]


def _known(name: str) -> str:
    name = {"english": "English"}.get(name, name)
    if name not in _CHOICES:
        raise ValueError(f"there is no stop list for {name[:40]}")
    return name


class StopWordsPass(ListPass):
    """Remove function words: the list of a language, or of each document's; additions, exceptions."""

    title = "Stop words"
    about = "function words go"
    kind: Literal["stop-words"] = "stop-words"
    language: str = Field("English", description="list", json_schema_extra={"enum": [*_CHOICES]})
    unsure: str = Field(
        "English",
        description="list where the language is unsure",
        json_schema_extra={"enum": [x for x in _CHOICES if x != BY_DOCUMENT], "with": {"language": BY_DOCUMENT}},
    )
    own: Words = Field((), description="own words")
    keep: Words = Field((), description="words of the list to keep")

    _tidy = field_validator("own", "keep")(tidy_words)
    _listed = field_validator("language", "unsure")(_known)

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """The list of the language, or of each document's."""
        listed = [name for name in (sample.languages or (sample.language,)) if name in stopwords.languages()]
        if sample.language:
            found = listed[0] if listed else NONE
            why = "" if listed else f"there is no list for {sample.language}; "
            return ((cls(language=found), why + sample.in_languages()),)
        # What is unsure is in no script of its own.
        unsure = next((name for name in listed if name not in SCRIPTS), NONE)
        return ((cls(language=BY_DOCUMENT, unsure=unsure), sample.in_languages()),)

    def said(self) -> str:
        shipped = {NONE: "no list", BY_DOCUMENT: "list of each document’s language"}.get(
            self.language, f"{self.language} list"
        )
        return f"{shipped} + {len(self.own)} own" if self.own else shipped

    def note(self, about: About) -> str:
        if not self.by_language():
            return ""
        spoken = {about.languages[at] for at in set(about.language.tolist())} - {UNSURE}
        without = sorted(spoken - set(stopwords.languages()))
        return f"There is no list for {', '.join(without)}." if without else ""

    def by_language(self) -> bool:
        return self.language == BY_DOCUMENT

    def listed(self) -> Sequence[str]:
        return sorted(set(self.own) - set(self.keep))

    def _chosen(self, language: str) -> str:
        own = self.unsure if language == UNSURE else language
        return own if self.by_language() else self.language

    def called(self, language: str) -> str:
        return f"{self._chosen(language)} list"

    def shipped(self, language: str) -> frozenset[str]:
        return stopwords.words_of(self._chosen(language)) - set(self.keep)
