"""The compiled loops behind ``segment``: boundaries, recognisers, and interning of types.

``tests/core/test_segment.py`` holds the references these are checked against.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.text.plain_kernel import plain_letters, plain_word
from skeinwork.core.text.recognise_kernel import abbreviation, address, hyphen_length, is_name_byte, run_end, tag
from skeinwork.core.text.unicode_classes import (
    ALETTER,
    CLASS_MASK,
    CR,
    DOUBLE_QUOTE,
    EMOJI,
    EXTEND,
    EXTEND_NUM_LET,
    FORMAT,
    HEBREW,
    KATAKANA,
    LETTER,
    LF,
    MID_LETTER,
    MID_NUM,
    MID_NUM_LET,
    NEWLINE,
    NUMBER,
    NUMERIC,
    PICTOGRAPH,
    PUNCTUATION,
    REGIONAL,
    SINGLE_QUOTE,
    SPACE,
    WSEG_SPACE,
    ZWJ,
)
from skeinwork.core.text.utf8_kernel import decode, entry_of, hash_bytes

# Token classes, in the order of segment.CLASSES.
_WORD, _NUMBER, _PUNCTUATION, _SYMBOL, _EMOJI, _ADDRESS, _HASHTAG, _MENTION = range(8)
_UNICODE, _UAX29, _LETTERS = range(3)
_AT, _HASH, _DOT, _PERCENT = 64, 35, 46, 37


@njit(cache=True, nogil=True)
def _next_significant(data: Any, at: int, end: int, index: Any, blocks: Any) -> int:
    """Class of the next character that WB4 does not skip, or -1 at the end."""
    while at < end:
        point, at = decode(data, at)
        kind = entry_of(point, index, blocks) & CLASS_MASK
        if kind != EXTEND and kind != FORMAT and kind != ZWJ:
            return kind
    return -1


@njit(cache=True, nogil=True)
def _joins(left: int, before: int, kind: int, after: int, odd: bool) -> bool:
    """Whether rules WB5 to WB16 forbid a break between classes ``left`` and ``kind``.

    ``before`` is the class before ``left``, ``after`` the one after ``kind``; ``odd`` says that an
    odd number of regional indicators stands to the left.
    """
    word = kind == ALETTER or kind == HEBREW
    if left == ALETTER or left == HEBREW:
        if word or kind == NUMERIC or kind == EXTEND_NUM_LET:
            return True
        if kind == MID_LETTER or kind == MID_NUM_LET or kind == SINGLE_QUOTE:
            if after == ALETTER or after == HEBREW:
                return True
            return left == HEBREW and kind == SINGLE_QUOTE
        return left == HEBREW and kind == DOUBLE_QUOTE and after == HEBREW
    if left == NUMERIC:
        if kind == MID_NUM or kind == MID_NUM_LET or kind == SINGLE_QUOTE:
            return after == NUMERIC
        return word or kind == NUMERIC or kind == EXTEND_NUM_LET
    if left == MID_LETTER or left == MID_NUM_LET or left == SINGLE_QUOTE:
        if word and (before == ALETTER or before == HEBREW):
            return True
    if left == MID_NUM or left == MID_NUM_LET or left == SINGLE_QUOTE:
        return kind == NUMERIC and before == NUMERIC
    if left == DOUBLE_QUOTE:
        return kind == HEBREW and before == HEBREW
    if left == KATAKANA:
        return kind == KATAKANA or kind == EXTEND_NUM_LET
    if left == EXTEND_NUM_LET:
        return word or kind == NUMERIC or kind == KATAKANA or kind == EXTEND_NUM_LET
    return left == REGIONAL and kind == REGIONAL and odd


@njit(cache=True, nogil=True)
def _boundary(data: Any, start: int, end: int, index: Any, blocks: Any) -> tuple[int, int]:
    """The end of the UAX #29 segment that starts at ``start``, and the flags of its characters."""
    point, at = decode(data, start)
    entry = entry_of(point, index, blocks)
    flags = entry & ~CLASS_MASK
    raw = left = entry & CLASS_MASK
    before = -1
    odd = left == REGIONAL
    if left == CR:
        if at < end and data[at] == 10:
            at += 1
        return at, flags
    if left == LF or left == NEWLINE:
        return at, flags
    while at < end:
        point, following = decode(data, at)
        entry = entry_of(point, index, blocks)
        kind = entry & CLASS_MASK
        if kind == EXTEND or kind == FORMAT or kind == ZWJ:
            raw = kind
        elif raw == ZWJ and entry & PICTOGRAPH:
            before, left, raw, odd = left, kind, kind, False
        elif raw == WSEG_SPACE and kind == WSEG_SPACE:
            pass
        else:
            if left == ALETTER and kind == ALETTER:
                pass
            else:
                middle = kind in (MID_LETTER, MID_NUM_LET, SINGLE_QUOTE, MID_NUM, DOUBLE_QUOTE)
                after = _next_significant(data, following, end, index, blocks) if middle else -1
                if not _joins(left, before, kind, after, odd):
                    return at, flags
                odd = kind == REGIONAL and not odd
            before, left, raw = left, kind, kind
        flags |= entry & ~CLASS_MASK
        at = following
    return at, flags


@njit(cache=True, nogil=True)
def _whole(data: Any, stop: int, end: int, flags: int, keep: bool, index: Any, blocks: Any) -> int:
    """Extend a segment of letters or digits over hyphens, percent and degree signs."""
    while keep and flags & LETTER:
        width = hyphen_length(data, stop, end)
        if width == 0 or stop + width >= end:
            break
        point, _ = decode(data, stop + width)
        if not entry_of(point, index, blocks) & (LETTER | NUMBER):
            break
        stop, _ = _boundary(data, stop + width, end, index, blocks)
    if flags & NUMBER and not flags & LETTER and stop < end:
        if data[stop] == _PERCENT:
            return stop + 1
        if stop + 1 < end and data[stop] == 0xC2 and data[stop + 1] == 0xB0:
            stop += 2
            if stop < end and data[stop] in (67, 70):
                stop += 1
    return stop


@njit(cache=True, nogil=True)
def _class_of(flags: int, first: int, point: int) -> int:
    if first & NUMBER:
        return _NUMBER
    if flags & LETTER:
        return _WORD
    if flags & EMOJI or (flags & PICTOGRAPH and point > 0xFF) or first & CLASS_MASK == REGIONAL:
        return _EMOJI
    if flags & NUMBER:
        return _NUMBER
    return _PUNCTUATION if flags & PUNCTUATION else _SYMBOL


@njit(cache=True, nogil=True)
def _recognise(data: Any, at: int, chunk: int, fresh: bool) -> tuple[int, int]:
    """The end and class of a token that a recogniser keeps whole, or (at, 0)."""
    b = data[at]
    if not fresh:
        return at, 0
    if b == _HASH or b == _AT:
        return tag(data, at, chunk), (_HASHTAG if b == _HASH else _MENTION)
    stop = address(data, at, chunk)
    if stop > at:
        return stop, _ADDRESS
    return abbreviation(data, at, chunk), _WORD


@njit(cache=True, nogil=True)
def _token(
    data: Any, at: int, end: int, rule: int, keep: bool, chunk: int, special: bool, fresh: bool, index: Any, blocks: Any
) -> tuple[int, int, bool]:
    """The end, class and worth keeping of the token that starts at ``at``."""
    point, following = decode(data, at)
    first = entry_of(point, index, blocks)
    if rule == _LETTERS:
        if not first & LETTER:
            return following, 0, False
        stop = following
        while stop < end:
            point, following = decode(data, stop)
            if not entry_of(point, index, blocks) & LETTER:
                break
            stop = following
        return stop, _WORD, True
    if rule == _UNICODE and special:
        stop, kind = _recognise(data, at, chunk, fresh)
        if stop > at:
            return stop, kind, True
    stop, flags = _boundary(data, at, end, index, blocks)
    if rule == _UAX29:
        return stop, _class_of(flags, first, point), flags & (LETTER | NUMBER) != 0
    if flags & (LETTER | NUMBER):
        stop = _whole(data, stop, end, flags, keep, index, blocks)
    elif flags & SPACE:
        return stop, 0, False
    return stop, _class_of(flags, first, point), True


@njit(cache=True, nogil=True)
def _same(data: Any, a: int, b: int, length: int) -> bool:
    for offset in range(length):
        if data[a + offset] != data[b + offset]:
            return False
    return True


@njit(cache=True, nogil=True)
def _find(data: Any, at: int, stop: int, value: Any, table: Any, hashes: Any, first: Any) -> Any:
    """The type whose bytes are ``data[at:stop]`` (or -1), and its slot in the open-addressing table."""
    last = len(table) - 1
    slot = np.int64(value & np.uint64(last))
    while True:
        found = np.int64(table[slot])
        if found < 0:
            return -1, slot
        if hashes[found] == value and first[found, 1] - first[found, 0] == stop - at:
            if _same(data, first[found, 0], at, stop - at):
                return found, slot
        slot = (slot + 1) & last


@njit(cache=True, nogil=True)
def _grown(array: Any, size: int) -> Any:
    larger = np.empty((size, *array.shape[1:]), dtype=array.dtype)
    larger[: len(array)] = array
    return larger


@njit(cache=True, nogil=True)
def _rehash(hashes: Any, count: int, size: int) -> Any:
    table = np.full(size, -1, dtype=np.int32)
    mask = np.uint64(size - 1)
    for kind in range(count):
        slot = np.int64(hashes[kind] & mask)
        while table[slot] >= 0:
            slot = (slot + 1) & (size - 1)
        table[slot] = kind
    return table


# Places in the state of an unfinished run.
_DOC, _PLACE, _COUNT, _TYPES, _CHUNK, _SPECIAL, _FRESH = range(7)


@njit(cache=True, nogil=True)
def _fill(
    data: Any,
    pointer: Any,
    rule: int,
    keep: bool,
    index: Any,
    blocks: Any,
    ids: Any,
    starts: Any,
    ends: Any,
    doc_ptr: Any,
    first: Any,
    hashes: Any,
    classes: Any,
    table: Any,
    state: Any,
) -> bool:
    """Go on tokenising until all is done (True) or an array is full (False).

    The arrays are not replaced in here: that would cost a count of references at every token.
    """
    at, count, types = state[_PLACE], state[_COUNT], state[_TYPES]
    chunk, special, fresh = state[_CHUNK], state[_SPECIAL] != 0, state[_FRESH] != 0
    for doc in range(state[_DOC], len(pointer) - 1):
        base, end = pointer[doc], pointer[doc + 1]
        if at < base:
            at, chunk, special, fresh = base, base, False, True
        while at < end:
            if count == len(ids) or types == len(first) or 2 * types >= len(table):
                state[_DOC], state[_PLACE], state[_COUNT], state[_TYPES] = doc, at, count, types
                state[_CHUNK], state[_SPECIAL], state[_FRESH] = chunk, special, fresh
                return False
            begins = rule == _UNICODE and at >= chunk
            if begins and data[at] <= 32:
                at, chunk, fresh = at + 1, at + 1, True
                continue
            stop, value = -1, np.uint64(0)
            if (begins or not special) and data[at] < 0x80:
                stop, value = plain_word(data, at, end)
            if stop < 0 and begins:
                chunk, special = run_end(data, at, end)
            other = stop == -2 or data[at] >= 0x80
            if stop < 0 and other and not special and rule != _LETTERS:
                stop = plain_letters(data, at, end, index, blocks)
                value = np.uint64(0)
            if stop > at:
                kind, wanted, fresh = _WORD, True, True
            else:
                stop, kind, wanted = _token(data, at, end, rule, keep, chunk, special, fresh, index, blocks)
                value, fresh = np.uint64(0), not is_name_byte(data[stop - 1])
            if wanted:
                if value == 0:
                    value = hash_bytes(data, at, stop)
                found, slot = _find(data, at, stop, value, table, hashes, first)
                if found < 0:
                    found = types
                    first[types, 0], first[types, 1] = at, stop
                    hashes[types], classes[types] = value, kind
                    table[slot] = types
                    types += 1
                ids[count], starts[count], ends[count] = found, at - base, stop - base
                count += 1
            at = stop
        doc_ptr[doc + 1] = count
        at = -1
    state[_COUNT], state[_TYPES] = count, types
    return True


@njit(cache=True, nogil=True)
def segment(data: NDArray[np.uint8], pointer: NDArray[np.int64], rule: int, keep: bool, index: Any, blocks: Any) -> Any:
    """Tokens of all documents of UTF-8 bytes, uint8[n_bytes] and int64[n_docs + 1].

    Returns
    -------
    ids, starts, ends : int32[n_tokens]; doc_ptr : int64[n_docs + 1]; first : int64[n_types, 2], the first
    span of each type; classes : uint8[n_types]
    """
    capacity, room = len(data) // 5 + 64, 1024
    ids = np.empty(capacity, dtype=np.int32)
    starts = np.empty(capacity, dtype=np.int32)
    ends = np.empty(capacity, dtype=np.int32)
    doc_ptr = np.zeros(len(pointer), dtype=np.int64)
    first = np.empty((room, 2), dtype=np.int64)
    hashes = np.empty(room, dtype=np.uint64)
    classes = np.empty(room, dtype=np.uint8)
    table = np.full(4 * room, -1, dtype=np.int32)
    state = np.zeros(7, dtype=np.int64)
    state[_PLACE] = -1
    while not _fill(
        data, pointer, rule, keep, index, blocks, ids, starts, ends, doc_ptr, first, hashes, classes, table, state
    ):
        count, types = state[_COUNT], state[_TYPES]
        if count == len(ids):
            ids, starts = _grown(ids, 2 * count), _grown(starts, 2 * count)
            ends = _grown(ends, 2 * count)
        if types == len(first):
            first, hashes = _grown(first, 2 * types), _grown(hashes, 2 * types)
            classes = _grown(classes, 2 * types)
        if 2 * types >= len(table):
            table = _rehash(hashes, types, 2 * len(table))
    count, types = state[_COUNT], state[_TYPES]
    return (
        ids[:count].copy(),
        starts[:count].copy(),
        ends[:count].copy(),
        doc_ptr,
        first[:types].copy(),
        classes[:types].copy(),
    )
