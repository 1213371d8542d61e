"""What passes that remove the words of a list have in common."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Sequence

from skeinwork.core.text.passes.base import Forms, Mask, TypePass


class ListPass(TypePass):
    """A pass that removes the words of a list, whatever reduction stands before it."""

    @abstractmethod
    def listed(self) -> Sequence[str]:
        """The words to remove, as the analyst wrote them."""

    def apply(self, forms: Forms) -> Mask:
        listed = list(self.listed())
        words = {*listed, *forms.reduce(listed)}
        return forms.matching(lambda form: form in words or form.casefold() in words)
