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
from skeinwork.core.text.utf8_kernel import decode, hash_bytes

_DOT = 46
_LONGEST = 24  # bytes of a word that a full stop may shorten


@njit(cache=True, nogil=True, inline="always")
def _kind(data: Any, at: int, index: Any, blocks: Any) -> Any:
    """Sentence_Break class of the character at a place, and the place after it."""
    point, after = decode(data, at)
    entry = blocks[index[point >> 8] + (point & 255)]
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
_PLAIN = np.array(
    [at == 32 or at > 63 or (at > 33 and at not in (_DOT, 63)) for at in range(128)] + [False] * 128
)


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


@njit(cache=True, nogil=True)
def _shortened(
    data: Any, begin: int, stop: int, index: Any, blocks: Any, first: int, last: int, words: Any
) -> bool:
    """Whether the word before the full stop at ``stop`` is a single capital or a listed one."""
    at, letters = stop, 0
    while at > begin and stop - at < _LONGEST:
        before = at - 1
        while before > begin and data[before] & 0xC0 == 0x80:
            before -= 1
        point, _ = decode(data, before)
        if not blocks[index[point >> 8] + (point & 255)] & LETTER and point != _DOT:
            break
        at, letters = before, letters + 1
    if at == stop:
        return False
    if letters == 1:
        kind, _ = _kind(data, at, index, blocks)
        if kind == S_UPPER:
            return True
    value = hash_bytes(data, at, stop)
    while first < last:
        middle = (first + last) // 2
        if words[middle] < value:
            first = middle + 1
        else:
            last = middle
    return words[first] == value


@njit(cache=True, nogil=True)
def _goes_on(
    data: Any, at: int, end: int, kind: int, term: int, before: int, close: bool, space: bool,
    tight: bool, own: bool, index: Any, blocks: Any,
) -> bool:  # fmt: skip
    """SB6 to SB8a: whether what follows a stop belongs to the same sentence.

    ``before`` is the class before the stop; ``close`` and ``space`` say what stood since; ``tight``
    that the stop is one of a script which puts spaces after it.
    """
    if term == S_ATERM and not (close or space):
        if kind == S_NUMERIC or (kind == S_UPPER and (before == S_UPPER or before == S_LOWER)):
            return True
    if kind == S_CONTINUE or kind == S_ATERM or kind == S_STERM:
        return True
    if own and tight and not (close or space):
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
) -> Any:  # fmt: skip
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
        at, before, term, stop, close, space = begin, S_OTHER, S_OTHER, begin, False, False
        while at < end:
            if not term:
                while at < end and _PLAIN[data[at]]:
                    at += 1
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
                if not _goes_on(
                    data, at, end, kind, term, before, close, space, data[stop] < 0x80, own, index,
                    blocks,
                ):  # fmt: skip
                    found[at] = not (
                        own and term == S_ATERM
                        and _shortened(data, begin, stop, index, blocks, first, last, words)
                    )  # fmt: skip
                term = S_OTHER
            if kind == S_ATERM or kind == S_STERM:
                term, stop, close, space = kind, at, False, False
                before = _class_before(data, begin, at, index, blocks)
            at = after
    return found


@njit(cache=True, nogil=True)
def mark_first(sentences: Any, pointer: Any, starts: Any, doc_ptr: Any) -> Any:
    """Which tokens are the first at or behind the beginning of a sentence, bool[n_tokens].

    Parameters
    ----------
    sentences : int64, where sentences begin but for the first of each document, ascending
    """
    first = np.zeros(len(starts), dtype=np.bool_)
    at = 0
    for doc in range(len(doc_ptr) - 1):
        shift, last = pointer[doc], pointer[doc + 1]
        begins = True
        for token in range(doc_ptr[doc], doc_ptr[doc + 1]):
            place = shift + starts[token]
            while at < len(sentences) and sentences[at] <= place:
                begins = begins or sentences[at] >= shift
                at += 1
            first[token] = begins
            begins = False
        while at < len(sentences) and sentences[at] < last:
            at += 1
    return first
