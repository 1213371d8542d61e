"""What each pass of a cleaning changed, as it is stored: read as dictionaries when somebody asks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from typing import overload

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect_array, expect_pointer, expect_words

Changes = Mapping[int, str]


@dataclass(frozen=True)
class Trail(Sequence[Changes]):
    """For each pass the types that it changed, and to what.

    Attributes
    ----------
    pointer : int64[passes + 1], where the changes of each pass begin
    types : int32[n_changes], ascending for each pass
    forms : int32[n_changes], what each became, among ``words``
    words : all that any became
    """

    pointer: NDArray[np.int64]
    types: NDArray[np.int32]
    forms: NDArray[np.int32]
    words: list[str]

    @classmethod
    def of(cls, changes: Sequence[Changes]) -> Trail:
        """From dictionaries, one a pass."""
        index: dict[str, int] = {}
        forms = [index.setdefault(each[kind], len(index)) for each in changes for kind in sorted(each)]
        return cls(
            np.cumsum([0, *map(len, changes)], dtype=np.int64),
            np.array([kind for each in changes for kind in sorted(each)], dtype=np.int32),
            np.array(forms, dtype=np.int32),
            list(index),
        )

    def check(self, passes: int, types: int) -> None:
        """Raise ``ContentError`` unless so many passes can have changed so many types."""
        expect_words("trail_words", self.words)
        expect_pointer("trail_pointer", self.pointer, passes, len(self.types))
        expect_array("trail_types", self.types, np.int32, (None,), 0, types - 1)
        expect_array("trail_forms", self.forms, np.int32, (len(self.types),), 0, len(self.words) - 1)

    @cached_property
    def _changes(self) -> list[Changes]:
        forms = [self.words[form] for form in self.forms.tolist()]
        pairs = list(zip(self.types.tolist(), forms, strict=True))
        return [dict(pairs[begin:end]) for begin, end in pairwise(self.pointer.tolist())]

    def __len__(self) -> int:
        return len(self.pointer) - 1

    @overload
    def __getitem__(self, at: int) -> Changes: ...
    @overload
    def __getitem__(self, at: slice) -> list[Changes]: ...
    def __getitem__(self, at: int | slice) -> Changes | list[Changes]:
        return self._changes[at]
