"""The compiled loop behind ``sentences``: the rules SB1 to SB998 of UAX #29, and what we add to them.

``tests/core/test_sentences.py`` holds Unicode's own test file, which this is checked against.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit

from skeinwork.core.text.unicode_classes import (
    LETTER,
    S_ATERM,
    S_CLOSE,
    S_CONTINUE,
    S_CR,
    S_EXTEND,
    S_FORMAT,
    S_LETTER,
    S_LF,
    S_LOWER,
    S_NUMERIC,
    S_OTHER,
    S_SEP,
    S_SP,
    S_STERM,
    S_UPPER,
    SENTENCE_MASK,
    SENTENCE_SHIFT,
)
from skeinwork.core.text.utf8_kernel import HASH_BEGIN, HASH_STEP, decode, entry_of, past_all

_DOT = 46
_LONGEST = 24  # bytes of a word that a full stop may shorten


@njit(cache=True, nogil=True, inline="always")
def _kind(data: Any, at: int, index: Any, blocks: Any) -> Any:
    """Sentence_Break class of the character at a place, and the place after it."""
    point, after = decode(data, at)
    entry = entry_of(point, index, blocks)
    return (entry >> SENTENCE_SHIFT) & SENTENCE_MASK, after


@njit(cache=True, nogil=True)
def _lower_follows(data: Any, at: int, end: int, index: Any, blocks: Any) -> bool:
    """SB8: only what is no letter, no end of a paragraph and no stop stands before a small letter."""
    while at < end:
        kind, at = _kind(data, at, index, blocks)
        if kind == S_LOWER:
            return True
        if kind in (S_UPPER, S_LETTER, S_SEP, S_CR, S_LF, S_ATERM, S_STERM):
            return False
    return False


@njit(cache=True, nogil=True, inline="always")
def _is_ellipsis(data: Any, at: int, after: int) -> bool:
    return after == at + 3 and data[at] == 0xE2 and data[at + 1] == 0x80 and data[at + 2] == 0xA6


# ASCII characters that neither end sentences nor lines.
_PLAIN = np.array([at == 32 or at > 63 or (at > 33 and at not in (_DOT, 63)) for at in range(128)] + [False] * 128)
# Those of words that a full stop shortens.
_WORD = np.array([chr(at).isalpha() or at == _DOT for at in range(128)] + [False] * 128)


@njit(cache=True, nogil=True)
def _next_stop(data: Any, at: int, end: int, index: Any, blocks: Any) -> int:
    """The next character that may end a sentence or a line."""
    while at < end:
        at = past_all(data, at, end, _PLAIN)
        if at == end or data[at] < 0x80:
            return at
        kind, after = _kind(data, at, index, blocks)
        if kind == S_ATERM or kind == S_STERM or kind == S_SEP or _is_ellipsis(data, at, after):
            return at
        at = after
    return at


@njit(cache=True, nogil=True)
def _class_before(data: Any, begin: int, at: int, index: Any, blocks: Any) -> int:
    """Class of the character before a place, past what only extends it."""
    kind = S_EXTEND
    while at > begin and (kind == S_EXTEND or kind == S_FORMAT):
        at -= 1
        while at > begin and data[at] & 0xC0 == 0x80:
            at -= 1
        kind, _ = _kind(data, at, index, blocks)
    return kind


@njit(cache=True, nogil=True)
def _blank_line(data: Any, at: int, end: int) -> bool:
    """Whether nothing but blanks stands between a place and the end of its line."""
    while at < end and (data[at] == 32 or data[at] == 9 or data[at] == 13):
        at += 1
    return at < end and data[at] == 10


@njit(cache=True, nogil=True, inline="always")
def backwards(data: Any, start: int, end: int, value: np.uint64) -> np.uint64:
    """FNV-1a of some bytes, the last one first, going on from a value."""
    place, first, one = np.uint64(end), np.uint64(start), np.uint64(1)
    while place > first:
        place -= one
        value = (value ^ np.uint64(data[place])) * HASH_STEP
    return value


@njit(cache=True, nogil=True)
def _shortened(data: Any, begin: int, stop: int, index: Any, blocks: Any, first: int, last: int, words: Any) -> bool:
    """Whether the word before the full stop at ``stop`` is a single capital or a listed one."""
    at, letters, value = stop, 0, HASH_BEGIN
    while at > begin and stop - at < _LONGEST:
        before = at - 1
        if data[before] >= 0x80:
            while before > begin and data[before] & 0xC0 == 0x80:
                before -= 1
            point, _ = decode(data, before)
            if not entry_of(point, index, blocks) & LETTER:
                break
        elif not _WORD[data[before]]:
            break
        value = backwards(data, before, at, value)
        at, letters = before, letters + 1
    if at == stop:
        return False
    if letters == 1:
        kind, _ = _kind(data, at, index, blocks)
        if kind == S_UPPER:
            return True
    while first < last:
        middle = (first + last) // 2
        if words[middle] < value:
            first = middle + 1
        else:
            last = middle
    return words[first] == value


@njit(cache=True, nogil=True)
def _goes_on(
    data: Any,
    at: int,
    end: int,
    kind: int,
    term: int,
    begin: int,
    stop: int,
    close: bool,
    space: bool,
    own: bool,
    index: Any,
    blocks: Any,
) -> bool:
    """SB6 to SB8a: whether what follows a stop belongs to the same sentence.

    The document begins at ``begin``, the stop is at ``stop``; ``close`` and ``space`` say what stood
    since.
    """
    if term == S_ATERM and not (close or space):
        if kind == S_NUMERIC:
            return True
        if kind == S_UPPER:
            before = _class_before(data, begin, stop, index, blocks)
            if before == S_UPPER or before == S_LOWER:
                return True
    if kind == S_CONTINUE or kind == S_ATERM or kind == S_STERM:
        return True
    if own and data[stop] < 0x80 and not (close or space):
        return True  # an ASCII stop inside a word, as in addresses
    if term == S_ATERM or (own and (close or space)):
        return _lower_follows(data, at, end, index, blocks)
    return False


@njit(cache=True, nogil=True)
def _line_end(data: Any, at: int, end: int, own: bool) -> int:
    """Where the next line begins; with our additions the next one that holds anything."""
    if data[at] == 13 and at + 1 < end and data[at + 1] == 10:
        at += 1
    _, at = decode(data, at)
    while own and at < end and data[at] <= 32:
        at += 1
    return at


@njit(cache=True, nogil=True)
def find_starts(
    data: Any, pointer: Any, own: bool, languages: Any, bounds: Any, words: Any, index: Any, blocks: Any
) -> Any:
    """Where sentences begin after the first of each document, bool[n_bytes].

    Parameters
    ----------
    data, pointer : documents as ``segment_bytes`` takes them
    own : with our additions: shortened words, single line breaks and small letters end nothing
    languages : int16[n_docs], the list of shortened words of each document
    bounds, words : uint64 hashes of the lists one after another, each sorted, and where they begin
    """
    found = np.zeros(len(data), dtype=np.bool_)
    for doc in range(len(pointer) - 1):
        begin, end = pointer[doc], pointer[doc + 1]
        first, last = bounds[languages[doc]], bounds[languages[doc] + 1]
        at, term, stop, close, space = begin, S_OTHER, begin, False, False
        while at < end:
            if not term:
                at = _next_stop(data, at, end, index, blocks)
            if at == end:
                break
            kind, after = _kind(data, at, index, blocks)
            if kind == S_EXTEND or kind == S_FORMAT:
                at = after
                continue
            if own and _is_ellipsis(data, at, after):
                kind = S_STERM
            line = kind == S_SEP or kind == S_CR or kind == S_LF
            if own and line and not (kind == S_LF and _blank_line(data, after, end)):
                kind, line = S_SP, False
            if line:
                after = _line_end(data, at, end, own)
                if after < end:
                    found[after] = True
                term = S_OTHER
            elif term and kind == S_SP:
                space = True
            elif term and kind == S_CLOSE and not space:
                close = True
            elif term:
                if not _goes_on(data, at, end, kind, term, begin, stop, close, space, own, index, blocks) and not (
                    own and term == S_ATERM and _shortened(data, begin, stop, index, blocks, first, last, words)
                ):
                    found[at] = True
                term = S_OTHER
            if kind == S_ATERM or kind == S_STERM:
                term, stop, close, space = kind, at, False, False
            at = after
    return found
