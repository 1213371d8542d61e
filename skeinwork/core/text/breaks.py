"""Where a run of words breaks off, and which tokens are the first of a sentence.

A run breaks off at the end of a line, a block or a sentence, at any sign between. What stands
between two tokens decides, whether the rule made tokens of it or not: white space on one line,
hyphens and apostrophes join; line breaks and everything else part.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

VERSION = 1


@njit(cache=True, nogil=True)
def _joins(data: Any, at: int, end: int) -> int:
    """Bytes of the character at a place if it joins, else 0."""
    byte = data[at]
    if byte == 0x20 or byte == 0x09 or byte == 0x2D or byte == 0x27:
        return 1
    after = data[at + 1] if at + 1 < end else 0
    if byte == 0xC2 and (after == 0xA0 or after == 0xAD):  # no-break space, soft hyphen
        return 2
    third = data[at + 2] if at + 2 < end else 0
    if byte == 0xE2 and after == 0x80:
        # Spaces of other widths, joiners, hyphens, the curly apostrophe; not line separators.
        return 3 if third <= 0x91 or third == 0x99 or third == 0xAF else 0
    if byte == 0xE3 and after == 0x80 and third == 0x80:  # the ideographic space
        return 3
    return 3 if byte == 0xEF and after == 0xBB and third == 0xBF else 0


@njit(cache=True, nogil=True)
def _ends_sentence(data: Any, start: int, end: int) -> bool:
    """Whether a token is a sign that ends sentences."""
    first = data[start]
    if end - start == 1 or first < 0x80:
        return first == 0x2E or first == 0x21 or first == 0x3F
    if end - start != 3:
        return False
    second, third = data[start + 1], data[start + 2]
    return (
        (first == 0xE2 and second == 0x80 and third == 0xA6)
        or (first == 0xE3 and second == 0x80 and third == 0x82)
        or (first == 0xEF and second == 0xBC and (third == 0x81 or third == 0x9F))
    )


@njit(cache=True, nogil=True, inline="always")
def _parted(data: Any, begin: int, at: int, end: int) -> bool:
    """Whether a run breaks off between a token from ``begin`` to ``at`` and one from ``end`` on."""
    first = data[np.uint64(begin)]
    if (first < 0x40 or first >= 0x80) and _ends_sentence(data, begin, at):
        return True
    while at < end:
        size = 1 if data[np.uint64(at)] == 0x20 else _joins(data, at, end)
        if size == 0:
            return True
        at += size
    return False


@njit(cache=True, nogil=True)
def _find(data: Any, pointer: Any, starts: Any, ends: Any, doc_ptr: Any, sentences: Any) -> Any:
    breaks = np.zeros(len(starts), dtype=np.bool_)
    opens = np.zeros(len(starts), dtype=np.bool_)
    at, none = 0, len(data) + 1
    for doc in range(len(doc_ptr) - 1):
        first, shift = doc_ptr[doc], pointer[doc]
        while at < len(sentences) and sentences[at] < shift:  # behind the last token of one before
            at += 1
        following = sentences[at] if at < len(sentences) else none
        begin = before = shift
        for token in range(first, doc_ptr[doc + 1]):
            start = shift + starts[token]
            breaks[token] = token == first or _parted(data, begin, before, start)
            opens[token] = token == first or following <= start
            while following <= start:
                at += 1
                following = sentences[at] if at < len(sentences) else none
            begin, before = start, shift + ends[token]
    return breaks, opens


def breaks_and_openings(
    data: NDArray[np.uint8],
    pointer: NDArray[np.int64],
    starts: NDArray[np.int32],
    ends: NDArray[np.int32],
    doc_ptr: NDArray[np.int64],
    sentences: NDArray[np.int64],
) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Whether a run of words breaks off before each token, and whether a sentence begins with it.

    Parameters
    ----------
    data, pointer : the documents' UTF-8 bytes, as ``segment_bytes`` takes them
    starts, ends : int32[n_tokens], byte offsets within the documents; doc_ptr : int64[n_docs + 1]
    sentences : where sentences begin, as ``sentences.starts_of`` gives them

    Returns
    -------
    bool[n_tokens], twice
    """
    found: tuple[NDArray[np.bool_], NDArray[np.bool_]] = _find(data, pointer, starts, ends, doc_ptr, sentences)
    return found
