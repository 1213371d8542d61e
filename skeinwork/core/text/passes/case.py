"""Letter case, and the possessive *'s*."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar, Literal

import numpy as np
from pydantic import Field, field_validator

from skeinwork.core.text import segment, stopwords
from skeinwork.core.text.about import Within
from skeinwork.core.text.capitals import mostly_capitals
from skeinwork.core.text.given_words import Words, tidy_words
from skeinwork.core.text.passes.base import BasePass, Forms, Joined, Mask, StreamPass, TypePass
from skeinwork.core.text.sample import Sample
from skeinwork.core.text.segment import Segments

_WITH_DOTLESS_I = ("Turkish", "Azerbaijani")
_DOTTED = str.maketrans({"I": "ı", "İ": "i"})


class CasePass(StreamPass, TypePass):
    """Full case folding, or that of sentence starts; the possessive *'s* cut off when asked.

    A word that this corpus writes mostly in capitals is kept as it is, apart from its twin. Where
    only sentence starts are folded, a word stays that has its capital inside sentences too, more
    often than not.
    """

    VERSION: ClassVar[int] = 2
    says: ClassVar[tuple[str, str]] = (
        "Mostly written in capitals, so kept apart",
        "Also written in capitals; keep apart",
    )

    title = "Case"
    about = "capitals and small letters become one"
    rewrites: ClassVar[bool] = True
    kind: Literal["case"] = "case"
    fold: Literal["everywhere", "at sentence starts"] = Field(
        "everywhere", description="where capitals become small letters"
    )
    letters: Literal["common", "Turkish and Azerbaijani"] = Field(
        "common", description="the small letter of I and İ; Turkish writes ı and i"
    )
    possessives: bool = Field(True, description="cut off a possessive ’s")
    capitals: bool = Field(True, description="keep apart words mostly written in capitals, like US")
    keep: Words = Field((), description="more words in capitals to keep apart")

    _tidy = field_validator("keep")(tidy_words)

    @classmethod
    def suggested(cls, sample: Sample) -> tuple[tuple[BasePass, str], ...]:
        """Dotless i where texts are in Turkish or Azerbaijani, in these alone where others are too."""
        dotted = tuple(name for name in sample.languages if name in _WITH_DOTLESS_I)
        if not dotted:
            return ((cls(), ""),)
        why = f"a small I has no dot in {sample.counted(dotted)} documents"
        turkish = cls(letters="Turkish and Azerbaijani")
        if len(dotted) == len(sample.languages):
            return ((turkish, why),)
        return ((turkish.model_copy(update={"within": Within(values=dotted)}), why), (cls(), ""))

    def said(self) -> str:
        words = "fold" if self.fold == "everywhere" else "fold sentence starts"
        words += ", as in Turkish" if self.letters != "common" else ""
        return f"{words}; cut off ’s" if self.possessives else words

    def join(self, tokens: Segments, forms: Forms) -> Joined | None:
        """The first words of sentences as types of their own, where they are to lose their capital."""
        if self.fold == "everywhere":
            return None
        wanted = forms.alive & forms.open & (forms.classes == segment.WORD)
        title = np.array([word[:1].isupper() and word[1:].islower() for word in tokens.types])
        inside = np.bincount(tokens.ids[~tokens.opens], minlength=len(tokens.types))
        small: dict[str, int] = {}
        for word, times in zip(tokens.types, inside.tolist(), strict=True):
            if not word[:1].isupper():
                small[word] = small.get(word, 0) + times
        low = [self._folded(word) for word in tokens.types]
        seldom = np.array([small.get(word, 0) for word in low]) >= inside
        loses = wanted & title & seldom
        here = tokens.opens & loses[tokens.ids]
        kinds = np.unique(tokens.ids[here])
        if not len(kinds):
            return None
        place = np.zeros(len(tokens.types), dtype=np.int32)
        place[kinds] = len(tokens.types) + np.arange(len(kinds), dtype=np.int32)
        split = replace(
            tokens,
            ids=np.where(here, place[tokens.ids], tokens.ids).astype(np.int32),
            types=[*tokens.types, *(tokens.types[at] for at in kinds.tolist())],
            classes=np.concatenate([tokens.classes, tokens.classes[kinds]]),
        )
        return Joined(split, [low[at] for at in kinds.tolist()], kinds)

    def _folded(self, word: str) -> str:
        return (word if self.letters == "common" else word.translate(_DOTTED)).casefold()

    def _name(self, forms: Forms) -> None:
        words = forms.alive & (forms.classes == segment.WORD)
        mostly, at_times = mostly_capitals(forms.current, forms.counts)
        listed = forms.matching(set(self.keep).__contains__) if self.keep else forms.none()
        kept = words & ((mostly & self.capitals) | listed)
        forms.concerned = kept
        forms.offered = forms.among(
            words & at_times & ~kept, lambda form: len(form) < 3 or form.casefold() in stopwords.english()
        )

    def apply(self, forms: Forms) -> Mask:
        if self.fold == "everywhere":
            self._name(forms)
            forms.apart = forms.apart | (forms.concerned & forms.open)
            forms.rewrite(self._folded)
        if self.possessives:
            forms.rewrite(_without_possessive)
        return forms.none()


def _without_possessive(word: str) -> str:
    if len(word) > 3 and word.endswith(("'s", "’s")) and word not in stopwords.english():
        return word[:-2]
    return word
