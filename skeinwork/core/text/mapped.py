"""A text that was changed in places, with the way back to every original byte."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray


@dataclass(frozen=True)
class Mapped:
    """A changed text, and how its UTF-8 bytes lie on the original's.

    Attributes
    ----------
    text : what is left
    places : int64[n_pieces], where each piece begins in ``text`` (bytes)
    origins : int64[n_pieces], where it begins in the original (bytes)
    lengths : int64[n_pieces], its length in the original; 0 for an inserted break
    copied : bool[n_pieces], whether the piece is the original's own bytes
    """

    text: str
    places: NDArray[np.int64]
    origins: NDArray[np.int64]
    lengths: NDArray[np.int64]
    copied: NDArray[np.bool_]

    def to_original(
        self, starts: NDArray[np.int32], ends: NDArray[np.int32]
    ) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        """Half-open byte spans in ``text``, int32[n], as the smallest of the original that hold them, int32[n]."""
        first = np.searchsorted(self.places, starts, side="right") - 1
        last = np.searchsorted(self.places, ends - 1, side="right") - 1
        begin = self.origins[first] + np.where(self.copied[first], starts - self.places[first], 0)
        end = self.origins[last] + np.where(self.copied[last], ends - self.places[last], self.lengths[last])
        return begin.astype(np.int32), end.astype(np.int32)


def mapped(pieces: Iterable[tuple[str, str]]) -> Mapped:
    """A text from its pieces in order, each as it was and what it becomes.

    >>> mapped([("a", "a"), ("&lt;", "<")]).text
    'a<'
    """
    parts, rows = [], []
    place = origin = 0
    for original, becomes in pieces:
        length = len(original.encode("utf-8", "surrogatepass"))
        if becomes:
            rows.append((place, origin, length, original == becomes))
            parts.append(becomes)
            place += len(becomes.encode("utf-8", "surrogatepass"))
        origin += length
    table = np.array(rows, dtype=np.int64).reshape(-1, 4)
    return Mapped("".join(parts), table[:, 0], table[:, 1], table[:, 2], table[:, 3].astype(bool))
