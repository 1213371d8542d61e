"""Key words in context: every place where something stands, with the words on both sides."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from itertools import tee
from typing import Literal

from skeinwork.core.text.query import fold

# Characters on either side, about half a line.
WIDTH = 60
# Lines that are found at most: more are not read.
MOST = 20_000
Order = Literal["document", "left", "right", "hit"]
_WORD = re.compile(r"\w+")


@dataclass(frozen=True)
class Line:
    """One place: the document, and the text before, at and after it."""

    document: int
    left: str
    hit: str
    right: str

    def neighbours(self, side: Literal["left", "right"]) -> list[str]:
        """The words next to the place, the nearest first, without case and accents."""
        words = _WORD.findall(fold(getattr(self, side)))
        return words[::-1] if side == "left" else words


def _before(text: str, at: int) -> str:
    part = " ".join(text[max(0, at - 3 * WIDTH) : at].split())
    gap = " " if at and text[at - 1].isspace() else ""
    return part[-WIDTH:].partition(" ")[2] + gap if len(part) > WIDTH else part + gap


def _after(text: str, at: int) -> str:
    part = " ".join(text[at : at + 3 * WIDTH].split())
    gap = " " if text[at : at + 1].isspace() else ""
    return gap + (part[:WIDTH].rpartition(" ")[0] if len(part) > WIDTH else part)


def concordance(
    texts: Iterable[tuple[int, str]], spans: Callable[[Iterable[str]], Iterator[list[tuple[int, int]]]]
) -> tuple[list[Line], bool]:
    """Lines in the order of the documents, at most ``MOST``, and whether these are all.

    Parameters
    ----------
    texts : numbers of documents with their texts
    spans : where the key stands in each of many texts, as character offsets
    """
    found: list[Line] = []
    held, asked = tee(texts)
    for (document, text), at in zip(held, spans(text for _, text in asked), strict=True):
        for begin, end in at:
            if len(found) == MOST:
                return found, False
            hit = " ".join(text[begin:end].split())
            found.append(Line(document, _before(text, begin), hit, _after(text, end)))
    return found, True


def ordered(lines: list[Line], order: Order) -> list[Line]:
    """Lines by the words to the left, to the right, or by the words found; ties keep their order."""
    if order == "document":
        return lines
    if order == "hit":
        return sorted(lines, key=lambda line: fold(line.hit))
    return sorted(lines, key=lambda line: line.neighbours(order))
