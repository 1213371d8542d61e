"""Compiled recognisers of what is kept whole: addresses, tags, abbreviations, hyphens.

They read bytes of valid UTF-8; ``segment_kernel`` calls them where a token may begin.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

_AT, _HASH, _DOT, _HYPHEN, _SLASH, _UNDERSCORE = 64, 35, 46, 45, 47, 95


@njit(cache=True, nogil=True)
def is_name_byte(b: int) -> bool:
    """Whether a byte may stand in a name: letters, digits, _ and all beyond ASCII."""
    return 97 <= b <= 122 or 65 <= b <= 90 or 48 <= b <= 57 or b == _UNDERSCORE or b >= 128


@njit(cache=True, nogil=True)
def run_end(data: Any, at: int, end: int) -> tuple[int, bool]:
    """End of the run without ASCII white space that starts here; whether it may hold an address."""
    special = False
    while at < end:
        b = data[at]
        if b <= 32:
            break
        if b == _AT or b == _HASH or b == _SLASH or (b == _DOT and at + 1 < end and data[at + 1] > 32):
            special = True
        at += 1
    return at, special


@njit(cache=True, nogil=True)
def _starts_with(data: Any, at: int, end: int, prefix: Any) -> bool:
    if at + len(prefix) > end:
        return False
    for offset in range(len(prefix)):
        if data[at + offset] | 32 != prefix[offset] | 32:
            return False
    return True


_SCHEMES = tuple(np.frombuffer(s, dtype=np.uint8) for s in (b"http://", b"https://", b"ftp://", b"www."))


@njit(cache=True, nogil=True)
def address(data: Any, at: int, end: int) -> int:
    """End of the web or mail address that starts here, or ``at`` where there is none."""
    for scheme in _SCHEMES:
        if _starts_with(data, at, end, scheme):
            stop = at
            while stop < end and data[stop] not in (60, 62, 34):
                stop += 1
            while stop > at and data[stop - 1] in (46, 44, 59, 58, 33, 63, 39, 41, 93):
                stop -= 1
            return stop if stop > at + len(scheme) else at
    stop = at
    while stop < end and (is_name_byte(data[stop]) or data[stop] in (46, 45, 43, 37)):
        stop += 1
    if stop == at or stop >= end or data[stop] != _AT:
        return at
    stop += 1
    domain, dot = stop, -1
    while stop < end and (is_name_byte(data[stop]) or data[stop] in (46, 45)):
        if data[stop] == _DOT and stop > domain and stop + 1 < end and is_name_byte(data[stop + 1]):
            dot = stop
        stop += 1
    while stop > domain and data[stop - 1] in (46, 45):
        stop -= 1
    return stop if dot >= 0 else at


@njit(cache=True, nogil=True)
def abbreviation(data: Any, at: int, end: int) -> int:
    """End of a dotted abbreviation such as *e.g.* or *U.S.A.*, or ``at``."""
    count, stop = 0, at
    while stop + 1 < end and data[stop + 1] == _DOT and 65 <= (data[stop] & 223) <= 90:
        count, stop = count + 1, stop + 2
    if count < 2 or (stop < end and is_name_byte(data[stop])):
        return at
    return stop


@njit(cache=True, nogil=True)
def tag(data: Any, at: int, end: int) -> int:
    """End of the hashtag or mention whose sign stands at ``at``; ``at`` where none is."""
    stop = at + 1
    while stop < end and is_name_byte(data[stop]):
        stop += 1
    return stop if stop > at + 1 else at


@njit(cache=True, nogil=True)
def hyphen_length(data: Any, at: int, end: int) -> int:
    """Byte length of the hyphen at ``at``, or 0."""
    if at < end and data[at] == _HYPHEN:
        return 1
    if at + 2 < end and data[at] == 0xE2 and data[at + 1] == 0x80:
        return 3 if data[at + 2] in (0x90, 0x91) else 0
    return 0
