"""From documents to one token stream, whose spans always lie on the original text."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.progress import Report, silent
from skeinwork.core.text import segment
from skeinwork.core.text.about import About, unknown
from skeinwork.core.text.passes import Pass
from skeinwork.core.text.passes.base import Changed, TextPass
from skeinwork.core.text.segment import Segments
from skeinwork.core.text.splitting import Piece, hyphenated, split_types

VERSION = segment.VERSION
# Documents between two looks at whether the work is still wanted.
_BATCH = 20_000


class TokeniseSettings(BaseModel):
    """How documents are cut into tokens."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    rule: Literal["unicode", "letters"] = Field(
        "unicode", description="unicode: UAX #29 with recognisers; letters: split at non-letters"
    )
    hyphens: Literal["keep", "split", "both"] = Field("keep", description="sea-wall as one word, as two, or as both")

    @model_validator(mode="before")
    @classmethod
    def _without_markup(cls, given: Any) -> Any:
        """Earlier settings named the markup pass here too."""
        if isinstance(given, dict) and "strip_markup" in given:
            return {key: value for key, value in given.items() if key != "strip_markup"}
        return given


class TokensSettings(TokeniseSettings):
    """All that a token stream depends on: the rule, and the passes before it."""

    text: tuple[Pass, ...] = Field((), max_length=40)


def _merge(parts: list[Segments]) -> Segments:
    """One token stream from streams of consecutive documents; types keep first-appearance order."""
    types: dict[str, int] = {}
    classes: list[int] = []
    ids, pointers, total = [], [np.zeros(1, dtype=np.int64)], 0
    for part in parts:
        mapping = np.empty(len(part.types), dtype=np.int32)
        for at, word in enumerate(part.types):
            mapping[at] = types.setdefault(word, len(types))
            if mapping[at] == len(classes):
                classes.append(int(part.classes[at]))
        ids.append(mapping[part.ids])
        pointers.append(part.doc_ptr[1:] + total)
        total += len(part.ids)
    return Segments(
        np.concatenate(ids),
        np.concatenate([part.starts for part in parts]),
        np.concatenate([part.ends for part in parts]),
        np.concatenate(pointers),
        list(types),
        np.array(classes, dtype=np.uint8),
        np.concatenate([part.breaks for part in parts]),
        np.concatenate([part.opens for part in parts]),
    )


def tokenise_batch(texts: Sequence[str], settings: TokensSettings, about: About) -> Segments:
    """Tokens of a few documents at once; see ``tokenise``."""
    plain, ways = list(texts), dict[int, list[Changed]]()
    for each in settings.text:
        meant = about.meets(each.within).tolist()
        for at, text in enumerate(plain):
            if not meant[at] or not isinstance(each, TextPass):
                continue
            if (changed := each.change(text)) is not None:
                plain[at] = changed.text
                ways.setdefault(at, []).append(changed)
    found = segment.segment(plain, settings.rule, settings.hyphens != "split", about.names())
    for at, way in ways.items():
        rows = slice(found.doc_ptr[at], found.doc_ptr[at + 1])
        starts, ends = found.starts[rows], found.ends[rows]
        for changed in reversed(way):
            starts, ends = changed.to_original(starts, ends)
        found.starts[rows], found.ends[rows] = starts, ends
    return both_ways(found) if settings.hyphens == "both" else found


def both_ways(tokens: Segments) -> Segments:
    """A stream in which the parts of every hyphenated word follow the word itself."""
    parts = {}
    for at, word in enumerate(tokens.types):
        if tokens.classes[at] == segment.WORD and (pieces := hyphenated(word)):
            parts[at] = [Piece(word, 0, len(word.encode())), *pieces]
    return split_types(tokens, parts)[0] if parts else tokens


def tokenise(
    texts: Sequence[str], settings: TokensSettings, report: Report = silent, about: About | None = None
) -> Segments:
    """Tokens of all documents as one stream.

    Parameters
    ----------
    texts : the documents as imported
    settings : rule, hyphens, and the text passes in their order
    report : told the share of documents done, batch by batch
    about : of the documents: the language decides what is shortened, passes may be limited

    Returns
    -------
    Segments whose spans are byte offsets into the original texts.
    """
    parts, known = [], about or unknown(len(texts))
    for first in range(0, max(len(texts), 1), _BATCH):
        report("Tokenising", first / max(len(texts), 1))
        batch = slice(first, first + _BATCH)
        parts.append(tokenise_batch(texts[batch], settings, known.only(batch)))
    return parts[0] if len(parts) == 1 else _merge(parts)
