"""What passes that remove the words of a list have in common."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence

from skeinwork.core.text import segment
from skeinwork.core.text.passes.base import BasePass, Forms, Mask, TypePass


class ListPass(TypePass):
    """A pass that removes the words of a list, whatever reduction stands before it."""

    @abstractmethod
    def listed(self) -> Sequence[str]:
        """The words to remove, as the analyst wrote them."""

    def hint(self, before: Sequence[BasePass]) -> str:
        reducing = [each for each in before if isinstance(each, TypePass) and not each.readable]
        if not any(each.on for each in reducing):
            return ""
        return f"Stands after {reducing[-1].title.lower()}, so the list is brought to them as well."

    def apply(self, forms: Forms) -> Mask:
        listed = list(self.listed())
        joined = ["_".join(word.split()) for word in listed if " " in word]
        words = {*listed, *forms.reduce(listed), *forms.reduce(joined, segment.MULTIWORD)}
        return forms.matching(lambda form: form in words or form.casefold() in words)
