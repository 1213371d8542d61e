"""Compiled short cuts of ``segment_kernel``: words that every rule cuts at the same place."""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from skeinwork.core.text.unicode_classes import ALETTER, CLASS_MASK, EXTEND, HEBREW, LETTER, OTHER
from skeinwork.core.text.utf8_kernel import HASH_BEGIN, HASH_STEP, decode, entry_of, mixed

_DOT = 46


@njit(cache=True, nogil=True, inline="always")
def _closed(data: Any, stop: int, end: int, letters: int) -> bool:
    """Whether white space follows, or a closing mark with white space behind it."""
    if stop == end or data[stop] == 32 or data[stop] == 10:
        return True
    if letters < 2 or (data[stop] != 44 and data[stop] != _DOT):
        return False
    return stop + 1 == end or data[stop + 1] == 32 or data[stop + 1] == 10


@njit(cache=True, nogil=True, inline="always")
def plain_word(data: Any, at: int, end: int) -> Any:
    """End and hash of a run of ASCII letters that every rule ends at the same place.

    The end is -1 where there is none, -2 where a letter of another script may follow. The run must meet
    white space, with at most one closing mark between: no rule looks further, and no recogniser finds
    anything in it.
    """
    stop, value = at, HASH_BEGIN
    while stop < end:
        byte = data[stop]
        if not 97 <= (byte | 32) <= 122:
            break
        value = (value ^ np.uint64(byte)) * HASH_STEP
        stop += 1
    if stop == at:
        return -1, value
    if not _closed(data, stop, end, stop - at):
        return (-2 if data[stop] >= 0x80 else -1), value
    return stop, mixed(value)


@njit(cache=True, nogil=True)
def plain_letters(data: Any, at: int, end: int, index: Any, blocks: Any) -> int:
    """The same for letters of other scripts: a run with what extends them, or a single ideograph."""
    point, stop = decode(data, at)
    entry = entry_of(point, index, blocks)
    kind = entry & CLASS_MASK
    if not entry & LETTER:
        return -1
    if kind == OTHER:  # nothing but what extends it joins it
        while True:
            if stop == end or data[stop] == 32 or data[stop] == 10:
                return stop
            if data[stop] < 0x80:
                return -1
            point, after = decode(data, stop)
            entry = entry_of(point, index, blocks)
            if entry & CLASS_MASK != EXTEND:
                return stop if entry & CLASS_MASK == OTHER and entry & LETTER else -1
            stop = after
    letters = 1
    while kind == ALETTER or kind == HEBREW or kind == EXTEND:
        if stop == end or data[stop] < 0x80:
            if stop < end and 97 <= (data[stop] | 32) <= 122:
                stop, letters, kind = stop + 1, letters + 1, ALETTER
                continue
            return stop if _closed(data, stop, end, letters) else -1
        point, stop = decode(data, stop)
        kind = entry_of(point, index, blocks) & CLASS_MASK
        letters += kind != EXTEND
    return -1
