"""A field that says which group each document was sorted into."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field

from skeinwork.core.corpus.corpus import Corpus, encode_column
from skeinwork.core.corpus.renumber import renumber
from skeinwork.core.corpus.shaping.base import Done, Operation, Sources
from skeinwork.core.errors import BadInputError

Numbers = Annotated[tuple[Annotated[int, Field(ge=0, le=2**31 - 1)], ...], Field(max_length=10_000_000)]


class SortedGroups(Operation):
    """Give every document a field with the group that it was sorted into."""

    title: ClassVar[str] = "Groups of documents"
    about: ClassVar[str] = "a field with the group that each document falls into at Relate"
    action: ClassVar[str] = "To Relate"
    kind: Literal["sorted-groups"] = "sorted-groups"
    name: str = Field("sorted", min_length=1, max_length=100, description="field")
    groups: dict[Annotated[str, Field(min_length=1, max_length=200)], Numbers] = Field(
        default_factory=dict, max_length=500, description="of each group the numbers of its documents as brought in"
    )

    def in_words(self) -> str:
        return f"“{self.name}”: {len(self.groups)} groups of {sum(map(len, self.groups.values()))} documents"

    def apply(self, corpus: Corpus, sources: Sources, done: Done) -> Corpus:
        if corpus.column(self.name):
            raise BadInputError(f"There is a field “{self.name}” already. Give it another name.")
        if not self.groups:
            raise BadInputError("There are no groups to keep. Group the documents at Relate first.")
        place = {number: group for group, numbers in self.groups.items() for number in numbers}
        cells = [place.get(number) for number in corpus.numbers.tolist()]
        if none := cells.count(None):
            done.notes.append(f"{none} of {len(cells)} documents are in no group")
        if none == len(cells):
            raise BadInputError("A step sorts documents by their number, but these are other documents. Remove it.")
        return replace(corpus, columns=[*corpus.columns, encode_column(self.name, "group", cells)])

    def numbered(self) -> bool:
        return True

    def renumbered(self, before: Corpus, after: Corpus) -> Self:
        groups = {name: renumber(before, after, numbers) for name, numbers in self.groups.items()}
        return self.model_copy(update={"groups": groups})


def sorted_groups(name: str, corpus: Corpus, codes: np.ndarray, names: list[str]) -> SortedGroups:
    """The operation that keeps some groups of a corpus as a field; ``codes`` are int[n_docs], -1 for none."""
    said = [each if names.count(each) == 1 else f"{each} {at + 1}" for at, each in enumerate(names)]
    return SortedGroups(
        name=name, groups={each: tuple(corpus.numbers[codes == at].tolist()) for at, each in enumerate(said)}
    )
