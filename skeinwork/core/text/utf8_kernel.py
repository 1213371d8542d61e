"""Compiled pieces that every loop over UTF-8 bytes needs."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit


@njit(cache=True, nogil=True, inline="always")
def decode(data: Any, at: int) -> Any:
    """The code point at a byte offset of valid UTF-8, and the offset after it."""
    b = np.int64(data[at])
    if b < 0x80:
        return b, at + 1
    if b < 0xE0:
        return ((b & 31) << 6) | (data[at + 1] & 63), at + 2
    if b < 0xF0:
        return ((b & 15) << 12) | ((data[at + 1] & 63) << 6) | (data[at + 2] & 63), at + 3
    point = ((b & 7) << 18) | ((data[at + 1] & 63) << 12)
    return point | ((data[at + 2] & 63) << 6) | (data[at + 3] & 63), at + 4


@njit(cache=True, nogil=True, inline="always")
def entry_of(point: int, index: Any, blocks: Any) -> Any:
    """What the tables of ``unicode_classes`` say of a code point."""
    return blocks[index[point >> 8] + (point & 255)]


@njit(cache=True, nogil=True, inline="always")
def past_all(data: Any, at: int, end: int, table: Any) -> Any:
    """The next place with a byte for which the table says no, or the end.

    Counted without a sign: a place that might be negative costs a look at every byte.
    """
    place, last, one = np.uint64(at), np.uint64(end), np.uint64(1)
    while place < last and table[data[place]]:
        place += one
    return np.int64(place)


# FNV-1a (G. Fowler, L. Noll and K.-P. Vo), 64 bits: where it begins, and what each byte multiplies by.
HASH_BEGIN, HASH_STEP = np.uint64(14695981039346656037), np.uint64(1099511628211)


@njit(cache=True, nogil=True, inline="always")
def mixed(value: np.uint64) -> np.uint64:
    """A hash with its high bits mixed into the low ones."""
    return value ^ (value >> np.uint64(29))


@njit(cache=True, nogil=True)
def hash_bytes(data: Any, start: int, end: int) -> np.uint64:
    """FNV-1a of some bytes, mixed."""
    value = HASH_BEGIN
    for at in range(start, end):
        value = (value ^ np.uint64(data[at])) * HASH_STEP
    return mixed(value)
