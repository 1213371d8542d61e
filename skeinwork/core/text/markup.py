"""Strip markup from a text while keeping the way back to every original byte.

Tags that begin or end a block become a line break; inline tags join what stands around them;
entities are decoded. The original text is never changed: spans found in the stripped text are
mapped back onto it.
"""

from __future__ import annotations

import html
import re
from collections.abc import Iterator

from skeinwork.core.text.mapped import Mapped, mapped

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


def has_markup(text: str) -> bool:
    """Whether stripping would change the text."""
    return ("<" in text or "&" in text) and _MARKUP.search(text) is not None


def _pieces(text: str, block: str) -> Iterator[tuple[str, str]]:
    """(original, what it becomes), in order, covering the whole text."""
    at = 0
    for found in _MARKUP.finditer(text):
        if found.start() > at:
            yield text[at : found.start()], text[at : found.start()]
        whole = found.group()
        if whole.startswith("&"):
            yield whole, html.unescape(whole)
        else:
            inline = (found.group(2) or "").lower() in _INLINE
            yield whole, "" if inline or whole.startswith("<!--") else block
        at = found.end()
    if at < len(text):
        yield text[at:], text[at:]


def strip(text: str, block: str = "\n") -> Mapped:
    """Remove tags and comments, decode entities; ``block`` stands where blocks begin and end.

    Examples
    --------
    >>> strip("<p>Lines &amp; <b>fen</b>ders</p>").text
    '\\nLines & fenders\\n'
    """
    return mapped(_pieces(text, block))
