"""Letters repeated for effect."""

from __future__ import annotations

import re
from typing import ClassVar, Literal

from pydantic import Field

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import Forms, Mask, TypePass

_RUN = re.compile(r"([^\W\d_])\1{2,}")


class RepeatsPass(TypePass):
    """Shorten runs of three and more of a letter to the form that this corpus writes otherwise."""

    title = "Repeated letters"
    about = "sooo becomes so"
    rewrites: ClassVar[bool] = True
    kind: Literal["repeats"] = "repeats"
    otherwise: Literal["one", "two"] = Field("one", description="letters left where neither form is in the corpus")

    def said(self) -> str:
        return f"runs of three and more; else {self.otherwise} left"

    def apply(self, forms: Forms) -> Mask:
        counts: dict[str, int] = {}
        living = forms.alive & (forms.classes == segment.WORD)
        for word, alive, count in zip(forms.current, living, forms.counts.tolist(), strict=True):
            if alive:
                counts[word.casefold()] = counts.get(word.casefold(), 0) + count

        def shorten(word: str) -> str:
            if not _RUN.search(word):
                return word
            one, two = _RUN.sub(r"\1", word), _RUN.sub(r"\1\1", word)
            seen = {each: counts.get(each.casefold(), 0) for each in (one, two)}
            if not any(seen.values()):
                return one if self.otherwise == "one" else two
            return max(seen, key=lambda each: seen[each])

        forms.rewrite(shorten, words_only=True)
        return forms.none()
