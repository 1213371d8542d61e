"""Grapheme clusters: what readers take for one character (UAX #29, rules GB1 to GB999)."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

from skeinwork.core.text import unicode_classes
from skeinwork.core.text.unicode_classes import (
    G_CONSONANT,
    G_CONTROL,
    G_CR,
    G_EXTEND,
    G_JOINED,
    G_L,
    G_LF,
    G_LINKER,
    G_LV,
    G_LVT,
    G_PICTOGRAPH,
    G_PREPEND,
    G_REGIONAL,
    G_SPACING,
    G_T,
    G_V,
    G_ZWJ,
)

_CLASS = 15


@njit(cache=True, nogil=True)
def _breaks(left: int, right: int) -> bool:
    """Rules GB3 to GB9b and GB999, for the classes of two characters side by side."""
    if left == G_CR and right == G_LF:
        return False
    if left == G_CONTROL or left == G_CR or left == G_LF:
        return True
    if right == G_CONTROL or right == G_CR or right == G_LF:
        return True
    if left == G_L and (right == G_L or right == G_V or right == G_LV or right == G_LVT):
        return False
    if (left == G_LV or left == G_V) and (right == G_V or right == G_T):
        return False
    if (left == G_LVT or left == G_T) and right == G_T:
        return False
    if right == G_EXTEND or right == G_ZWJ or right == G_SPACING:
        return False
    return left != G_PREPEND


@njit(cache=True, nogil=True)
def _find(points: Any, index: Any, blocks: Any) -> Any:
    """Whether a cluster begins at each code point, bool[n_points]."""
    begins = np.ones(len(points), dtype=np.bool_)
    left, regional = -1, 0
    pictograph = False  # Extended_Pictographic Extend* so far
    conjunct, linked = False, False  # consonant, then extenders and linkers; a linker among them
    for at in range(len(points)):
        entry = blocks[index[points[at] >> 8] + (points[at] & 255)]
        kind = entry & _CLASS
        if at:
            begins[at] = _breaks(left, kind)
            if left == G_ZWJ and pictograph and entry & G_PICTOGRAPH:
                begins[at] = False  # GB11
            if left == G_REGIONAL and kind == G_REGIONAL and regional % 2 == 1:
                begins[at] = False  # GB12, GB13
            if conjunct and linked and entry & G_CONSONANT:
                begins[at] = False  # GB9c
        if entry & G_CONSONANT:
            conjunct, linked = True, False
        elif conjunct and entry & G_LINKER:
            linked = True
        elif not entry & G_JOINED:
            conjunct = False
        regional = regional + 1 if kind == G_REGIONAL else 0
        if entry & G_PICTOGRAPH:
            pictograph = True
        elif kind != G_EXTEND and kind != G_ZWJ:
            pictograph = False
        left = kind
    return begins


def cluster_starts(text: str) -> NDArray[np.int64]:
    """Where each grapheme cluster of a text begins, by character, int64[n_clusters].

    >>> cluster_starts("e\u0301te\u0301").tolist()
    [0, 2, 3]
    """
    points = np.frombuffer(text.encode("utf-32-le", "surrogatepass"), dtype=np.uint32)
    begins = _find(points.astype(np.int64), *unicode_classes.load_graphemes())
    return np.flatnonzero(begins)


def clusters(text: str) -> list[str]:
    """The grapheme clusters of a text, in order."""
    if text.isascii() and "\r" not in text:
        return list(text)
    cuts = [*cluster_starts(text).tolist(), len(text)]
    return [text[first:last] for first, last in pairwise(cuts)]
