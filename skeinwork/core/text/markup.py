"""Strip markup from a text while keeping the way back to every original byte.

Tags that begin or end a block become a line break; inline tags join what stands around them;
entities are decoded. The original text is never changed: spans found in the stripped text are
mapped back onto it.
"""

from __future__ import annotations

import html
import re
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

_INLINE = frozenset(
    [
        "a",
        "abbr",
        "b",
        "bdi",
        "bdo",
        "cite",
        "code",
        "data",
        "del",
        "dfn",
        "em",
        "font",
        "i",
        "ins",
        "kbd",
        "mark",
        "q",
        "s",
        "samp",
        "small",
        "span",
        "strike",
        "strong",
        "sub",
        "sup",
        "time",
        "tt",
        "u",
        "var",
        "wbr",
    ]
)
_HIDDEN = r"<(script|style)\b[^>]*>.*?</\1\s*>"
_MARKUP = re.compile(
    rf"{_HIDDEN}|<!--.*?-->|<!\w[^<>]*>|</?([A-Za-z][A-Za-z0-9]*)(?:\s[^<>]*|/)?>"
    r"|&(?:#\d{1,7}|#[xX][0-9A-Fa-f]{1,6}|[A-Za-z][A-Za-z0-9]{1,31});",
    re.DOTALL | re.IGNORECASE,
)


@dataclass(frozen=True)
class Stripped:
    """A text without markup, and how its UTF-8 bytes lie on the original's.

    Attributes
    ----------
    text : what is left
    places : int64[n_pieces], where each piece begins in ``text`` (bytes)
    origins : int64[n_pieces], where it begins in the original (bytes)
    lengths : int64[n_pieces], its length in the original; 0 for an inserted break
    copied : bool[n_pieces], whether the piece is the original's own bytes
    tags : number of tags and comments removed
    """

    text: str
    places: NDArray[np.int64]
    origins: NDArray[np.int64]
    lengths: NDArray[np.int64]
    copied: NDArray[np.bool_]
    tags: int

    def to_original(
        self, starts: NDArray[np.int32], ends: NDArray[np.int32]
    ) -> tuple[NDArray[np.int32], NDArray[np.int32]]:
        """Half-open byte spans in ``text`` as the smallest spans of the original that hold them."""
        first = np.searchsorted(self.places, starts, side="right") - 1
        last = np.searchsorted(self.places, ends - 1, side="right") - 1
        begin = self.origins[first] + np.where(self.copied[first], starts - self.places[first], 0)
        end = self.origins[last] + np.where(
            self.copied[last], ends - self.places[last], self.lengths[last]
        )
        return begin.astype(np.int32), end.astype(np.int32)


def has_markup(text: str) -> bool:
    """Whether stripping would change the text."""
    return ("<" in text or "&" in text) and _MARKUP.search(text) is not None


def _pieces(text: str, block: str) -> Iterator[tuple[str, str, bool]]:
    """(original, what it becomes, whether it is a tag), in order, covering the whole text."""
    at = 0
    for found in _MARKUP.finditer(text):
        if found.start() > at:
            yield text[at : found.start()], text[at : found.start()], False
        whole = found.group()
        if whole.startswith("&"):
            yield whole, html.unescape(whole), False
        else:
            inline = (found.group(2) or "").lower() in _INLINE
            yield whole, "" if inline or whole.startswith("<!--") else block, True
        at = found.end()
    if at < len(text):
        yield text[at:], text[at:], False


def strip(text: str, block: str = "\n") -> Stripped:
    """Remove tags and comments, decode entities; ``block`` stands where blocks begin and end.

    Examples
    --------
    >>> strip("<p>Lines &amp; <b>fen</b>ders</p>").text
    '\\nLines & fenders\\n'
    """
    parts, rows = [], []
    place = origin = tags = 0
    for original, becomes, tag in _pieces(text, block):
        length = len(original.encode("utf-8", "surrogatepass"))
        if becomes:
            rows.append((place, origin, length, original == becomes))
            parts.append(becomes)
            place += len(becomes.encode("utf-8", "surrogatepass"))
        origin += length
        tags += tag
    table = np.array(rows, dtype=np.int64).reshape(-1, 4)
    return Stripped(
        "".join(parts), table[:, 0], table[:, 1], table[:, 2], table[:, 3].astype(bool), tags
    )
