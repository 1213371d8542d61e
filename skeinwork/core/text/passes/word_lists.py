"""What passes that remove the words of a list have in common."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence
from typing import ClassVar

import numpy as np

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass
from skeinwork.core.text.passes.multiword import MultiwordPass

# Words that a sentence names as examples.
_NAMED = 4


class ListPass(TypePass):
    """A pass that removes the words of a list, wherever it stands.

    Words of a list that ships with the program go only as they are written: after stemming *use*
    would go for *us*, *willing* for *will*. A word that the analyst listed goes with all words of
    its form, which are named beside the pass.
    """

    VERSION: ClassVar[int] = 2
    says: ClassVar[tuple[str, str]] = ("These go too, since they have the form of a listed word", "")

    @abstractmethod
    def listed(self) -> Sequence[str]:
        """The words to remove that the analyst wrote."""

    def shipped(self, language: str) -> frozenset[str]:
        """Those of a list that ships with the program, for documents of a language."""
        return frozenset()

    def hint(self, before: Sequence[BasePass]) -> str:
        joined = {
            " ".join(term.casefold().split())
            for each in before
            if isinstance(each, MultiwordPass) and each.on
            for term in each.terms
        }
        several = [word for word in self.listed() if " " in word and " ".join(word.casefold().split()) not in joined]
        if not several:
            return ""
        named = ", ".join(f"“{word}”" for word in several[:_NAMED])
        more = f" and {len(several) - _NAMED} more" if len(several) > _NAMED else ""
        return (
            f"{named}{more} can match nothing: an entry of several words needs a pass Multiword terms "
            "before this one that lists it too."
        )

    def reason(self, word: str, language: str) -> str:
        folded = word.casefold()
        if folded in {each.casefold() for each in self.listed()}:
            return "own word"
        return self.called(language) if folded in self.shipped(language) else "form of an own word"

    def called(self, language: str) -> str:
        """What the list that ships with the program is called."""
        return ""

    def _of_list(self, forms: Forms) -> Mask:
        """Types that are on a list as they are written."""
        own = set(self.listed())
        words = own | {word.casefold() for word in own}
        shipped = [self.shipped(language) for language in forms.languages]
        found, readable, scope = forms.none(), forms.readable, forms.scope
        if not own and not any(shipped):
            return found
        for at in np.flatnonzero(forms.alive & forms.open).tolist():
            word = readable[at]
            folded = word.casefold()
            if folded in shipped[scope[at]] or word in words or folded in words:
                found[at] = word in own if forms.apart[at] else True
        return found

    def _of_form(self, forms: Forms) -> Mask:
        """Types that have the form of a word which the analyst listed."""
        listed = list(self.listed())
        if not listed:
            return forms.none()
        joined = ["_".join(word.split()) for word in listed if " " in word]
        words = {*listed, *forms.reduce(listed), *forms.reduce(joined, segment.MULTIWORD)}
        return ~forms.apart & forms.matching(lambda form: form in words or form.casefold() in words)

    def apply(self, forms: Forms) -> Mask:
        on_list, of_form = self._of_list(forms), self._of_form(forms)
        forms.concerned = of_form & ~on_list
        return on_list | of_form
