"""Tokens that become several: hyphenated words, contractions, hashtags."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text.segment import NUMBER, WORD, Segments

_HYPHENS = re.compile("[-‐‑]")


class Piece(NamedTuple):
    """A word made of a type, and where it stands in it by UTF-8 bytes; what it is brought to."""

    word: str
    start: int
    end: int
    form: str | None = None


def pieces_at(word: str, cuts: Sequence[tuple[int, int]]) -> list[Piece]:
    """The pieces of a word between pairs of characters."""
    return [Piece(word[first:last], len(word[:first].encode()), len(word[:last].encode())) for first, last in cuts]


def hyphenated(word: str) -> list[Piece]:
    """The parts of a hyphenated word; none of any other.

    >>> [piece.word for piece in hyphenated("sea-wall")]
    ['sea', 'wall']
    """
    if not _HYPHENS.search(word):
        return []
    found, at = [], 0
    for sign in [*(match.start() for match in _HYPHENS.finditer(word)), len(word)]:
        if sign > at:
            found.append((at, sign))
        at = sign + 1
    return pieces_at(word, found) if len(found) > 1 else []


def _classes(words: Sequence[str]) -> NDArray[np.uint8]:
    return np.array([NUMBER if word.isdecimal() else WORD for word in words], dtype=np.uint8)


def split_types(
    tokens: Segments, parts: Mapping[int, Sequence[Piece]]
) -> tuple[Segments, NDArray[np.int64], list[str | None]]:
    """A stream in which every token of some types is replaced by its pieces.

    Parameters
    ----------
    parts : the pieces of each type to split; none of them takes its tokens out. A piece that is the
        type itself keeps its type

    Returns
    -------
    The stream, whose new types follow the old ones; for each of those, int64[n_new], the type it was made of first,
    and what it is brought to where that is not how it stands. Spans of a token that is not as long
    as its type, as after decoding entities, are those of the whole token.
    """
    new: dict[tuple[str, str | None], int] = {}
    source: list[int] = []
    number = np.ones(len(tokens.types), dtype=np.int64)
    number[list(parts)] = [len(pieces) for pieces in parts.values()]
    pointer = np.concatenate([[0], np.cumsum(number)])
    kinds = np.repeat(np.arange(len(tokens.types)), number)
    begin, end = np.zeros(len(kinds), dtype=np.int32), np.full(len(kinds), -1, dtype=np.int32)
    for kind, pieces in parts.items():
        for at, piece in enumerate(pieces, start=int(pointer[kind])):
            begin[at], end[at] = piece.start, piece.end
            if piece.word != tokens.types[kind] or piece.form is not None:
                key = (piece.word, piece.form)
                if key not in new:
                    new[key] = len(tokens.types) + len(new)
                    source.append(kind)
                kinds[at] = new[key]
    times = number[tokens.ids]
    owner = np.repeat(np.arange(len(tokens.ids)), times)
    within = np.arange(len(owner)) - np.repeat(np.cumsum(times) - times, times)
    flat = pointer[tokens.ids[owner]] + within
    starts, ends = tokens.starts[owner], tokens.ends[owner]
    sizes = np.array([len(word.encode()) for word in tokens.types], dtype=np.int32)
    exact = (end[flat] >= 0) & (ends - starts == sizes[tokens.ids[owner]])
    first = within == 0
    split = replace(
        tokens,
        ids=kinds[flat].astype(np.int32),
        starts=np.where(exact, starts + begin[flat], starts).astype(np.int32),
        ends=np.where(exact, starts + end[flat], ends).astype(np.int32),
        doc_ptr=np.concatenate([[0], np.cumsum(times)])[tokens.doc_ptr].astype(np.int64),
        types=[*tokens.types, *(word for word, _ in new)],
        classes=np.concatenate([tokens.classes, _classes([word for word, _ in new])]),
        breaks=tokens.breaks[owner] & first,
        opens=tokens.opens[owner] & first,
    )
    return split, np.array(source, dtype=np.int64), [form for _, form in new]
