"""Long documents in parts: stretches of text that an answer and a screen can hold."""

from __future__ import annotations

import re
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import NotFoundError

# Bytes, some four thousand tokens: a paper is drawn in tens of milliseconds, the answer under 1 MB.
SIZE = 24_000
_REACH = 2000
_BLANK = re.compile(rb"\s+")


class Part(NamedTuple):
    """A stretch of a document's UTF-8 bytes: which of how many it is, and where it begins and ends."""

    number: int
    of: int
    begin: int
    end: int

    def holds(self, starts: NDArray[np.int32], ends: NDArray[np.int32]) -> NDArray[np.int64]:
        """The tokens that lie in it, by their byte offsets."""
        return np.flatnonzero((starts >= self.begin) & (ends <= self.end))


def borders(data: bytes) -> list[int]:
    """Where parts begin, and the end: behind white space where there is any, never inside a character.

    >>> borders(b"ab " * 10_000)[1] % 3
    0
    """
    found = [0]
    while len(data) - found[-1] > SIZE + _REACH:
        at = found[-1] + SIZE
        blank = _BLANK.search(data, at, at + _REACH)
        at = blank.end() if blank else at
        while at < len(data) and data[at] & 0xC0 == 0x80:
            at += 1
        found.append(at)
    return [*found, len(data)]


def part_of(data: bytes, number: int) -> Part:
    """A part of a document by its number, from 0.

    Raises
    ------
    NotFoundError
        where the document has no such part.
    """
    found = borders(data)
    if not 0 <= number < len(found) - 1:
        raise NotFoundError(f"The document has {len(found) - 1} parts, and none of the number {number + 1}.")
    return Part(number, len(found) - 1, found[number], found[number + 1])


def parts_with(data: bytes, places: NDArray[np.int64]) -> list[int]:
    """The parts in which some byte offsets lie, ascending."""
    found = np.searchsorted(np.array(borders(data)[1:-1], dtype=np.int64), places, side="right")
    return [int(each) for each in np.unique(found)]
