"""Words kept by their part of speech."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass
from skeinwork.core.text.passes.parts_of_speech import PartsOfSpeechPass
from skeinwork.core.text.tagging.tags import NAMES, TAGS

_CHOICES: dict[str, str] = {tag: f"{NAMES[tag]}s" for tag in TAGS if tag not in ("PUNCT", "X")} | {
    "PUNCT": "punctuation",
    "X": "others",
}
if TYPE_CHECKING:
    Tag = str
else:
    Tag = Literal[tuple(TAGS)]


class TagFilterPass(TypePass):
    """Keep the words of some parts of speech, and write the tag behind the word where wanted.

    Terms of several words stay, since the analyst named them.
    """

    title = "Parts of speech kept"
    about = "words stay or go by what they are in their sentence"
    rewrites: ClassVar[bool] = True
    kind: Literal["tag-filter"] = "tag-filter"
    kept: tuple[Tag, ...] = Field(
        ("NOUN", "PROPN", "ADJ", "VERB"),
        max_length=len(TAGS),
        description="kept",
        json_schema_extra={"several": {**_CHOICES}},
    )
    written: bool = Field(False, description="terms are word/TAG, apart for each tag")

    @field_validator("kept")
    @classmethod
    def _once(cls, kept: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(tag for tag in TAGS if tag in kept)

    def said(self) -> str:
        kept = [_CHOICES[tag] for tag in self.kept]
        said = "all" if len(kept) == len(TAGS) else ", ".join(kept) or "nothing kept"
        return said + (", as word/TAG" if self.written else "")

    def hint(self, before: Sequence[BasePass]) -> str:
        if any(isinstance(each, PartsOfSpeechPass) and each.on for each in before):
            return ""
        return "Nothing is tagged before this pass. Put Parts of speech before it."

    def reason(self, word: str, language: str) -> str:
        return "by its part of speech"

    def apply(self, forms: Forms) -> Mask:
        tagged = forms.alive & forms.open & (forms.tags >= 0)
        kept = np.isin(forms.tags, [TAGS.index(tag) for tag in self.kept])
        kept |= forms.classes == segment.MULTIWORD
        if self.written:
            for at in np.flatnonzero(tagged & kept).tolist():
                forms.current[at] += f"/{TAGS[forms.tags[at]]}"
                forms.readable[at] += f"/{TAGS[forms.tags[at]]}"
        return tagged & ~kept
