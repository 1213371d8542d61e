"""Letter case, and the possessive *'s*."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field, field_validator

from skeinwork.core.text import segment, stopwords
from skeinwork.core.text.capitals import mostly_capitals
from skeinwork.core.text.passes.base import Forms, Mask, TypePass, Words, tidy_words


class CasePass(TypePass):
    """Full case folding, and the possessive *'s* cut off when asked.

    A word that this corpus writes mostly in capitals is kept as it is, apart from its twin.
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
    possessives: bool = Field(True, description="cut off a possessive ’s")
    capitals: bool = Field(True, description="keep apart words mostly written in capitals, like US")
    keep: Words = Field((), description="more words in capitals to keep apart")

    _tidy = field_validator("keep")(tidy_words)

    def said(self) -> str:
        return "fold; cut off ’s" if self.possessives else "fold"

    def _name(self, forms: Forms) -> None:
        words = forms.alive & (forms.classes == segment.WORD)
        mostly, at_times = mostly_capitals(forms.current, forms.counts)
        listed = forms.matching(set(self.keep).__contains__)
        kept = words & ((mostly & self.capitals) | listed)
        lost = forms.matching(lambda form: len(form) < 3 or form.casefold() in stopwords.english())
        forms.concerned, forms.offered = kept, words & at_times & lost & ~kept

    def apply(self, forms: Forms) -> Mask:
        self._name(forms)
        forms.apart = forms.apart | forms.concerned
        forms.rewrite(str.casefold)
        if self.possessives:
            forms.rewrite(_without_possessive)
        return forms.none()


def _without_possessive(word: str) -> str:
    if len(word) > 3 and word.endswith(("'s", "’s")) and word not in stopwords.english():
        return word[:-2]
    return word
