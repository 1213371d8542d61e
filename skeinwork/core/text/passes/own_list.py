"""Lists of words with a name, which any skein can use."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import Field

from skeinwork.core.text.given_words import ListRef, named_words
from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class OwnListPass(TypePass):
    """Remove the words of lists, in any case, as they are written before word forms; with ’s too."""

    title = "Own lists"
    about = "the words of saved lists go: names, places, boilerplate"
    kind: Literal["own-list"] = "own-list"
    lists: tuple[ListRef, ...] = Field((), max_length=50, description="lists")
    possessives: bool = Field(True, description="with a possessive ’s too")

    def said(self) -> str:
        return named_words([each.name or each.sha256[:8] for each in self.lists], "no list chosen")

    def refs(self) -> Sequence[ListRef]:
        return self.lists

    def reason(self, word: str, language: str) -> str:
        if len(self.lists) == 1:
            return self.lists[0].name
        return f"one of {len(self.lists)} lists" if self.lists else ""

    def apply(self, forms: Forms) -> Mask:
        words = frozenset[str]().union(*(forms.lists.get(each.sha256, ()) for each in self.lists))
        endings = ("'s", "’s") if self.possessives else ()

        def listed(word: str) -> bool:
            folded = word.casefold()
            return folded in words or (folded.endswith(endings) and folded[:-2] in words)

        found = forms.none()
        at = np.flatnonzero(forms.alive & forms.open)
        found[at] = [listed(forms.readable[each]) for each in at.tolist()]
        return found
