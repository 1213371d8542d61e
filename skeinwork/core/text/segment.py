"""Word segmentation after UAX #29 with spans, in one pass over UTF-8 bytes.

Three rules are offered. ``uax29`` is the standard's default word boundaries (Unicode Standard
Annex #29, rules WB1 to WB999, without tailoring). ``unicode``, the default, adds recognisers that
keep addresses, hashtags, mentions, emoji, numbers with a sign of unit, dotted abbreviations and
hyphenated words whole. ``letters`` splits at every character that is not a letter.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect, expect_array, expect_pointer, expect_words, on_borders
from skeinwork.core.text import segment_kernel as kernel
from skeinwork.core.text import sentences, unicode_classes
from skeinwork.core.text.breaks import breaks_and_openings

VERSION = 3
Rule = Literal["unicode", "uax29", "letters"]
RULES: tuple[Rule, ...] = ("unicode", "uax29", "letters")

CLASSES = (*("word", "number", "punctuation", "symbol"), *("emoji", "address", "hashtag", "mention", "multiword"))
WORD, NUMBER, PUNCTUATION, SYMBOL, EMOJI, ADDRESS, HASHTAG, MENTION, MULTIWORD = range(9)


@dataclass(frozen=True)
class Tokens:
    """The tokens of some documents.

    Attributes
    ----------
    ids : int32[n_tokens], the type (distinct surface form) of each token
    starts, ends : int32[n_tokens], half-open UTF-8 byte offsets within the token's document
    doc_ptr : int64[n_docs + 1], where each document's tokens begin and end
    types : the surface forms, by first appearance
    classes : uint8[n_types], an index into CLASSES
    """

    ids: NDArray[np.int32]
    starts: NDArray[np.int32]
    ends: NDArray[np.int32]
    doc_ptr: NDArray[np.int64]
    types: list[str]
    classes: NDArray[np.uint8]

    @property
    def leads(self) -> NDArray[np.int64]:
        """The first token, int64[n], of every document that has any."""
        return self.doc_ptr[:-1][np.diff(self.doc_ptr) > 0]

    def words(self, document: int) -> list[str]:
        """The surface forms of one document, in order."""
        first, last = self.doc_ptr[document], self.doc_ptr[document + 1]
        return [self.types[at] for at in self.ids[first:last]]


@dataclass(frozen=True)
class Segments(Tokens):
    """Tokens, and where runs of words and sentences begin.

    Attributes
    ----------
    breaks : bool[n_tokens], whether a line, block or sentence ends before each token, or a sign
        stands there: no run of words goes over it
    opens : bool[n_tokens], whether a sentence begins with each token
    """

    breaks: NDArray[np.bool_]
    opens: NDArray[np.bool_]

    def check(self, data: NDArray[np.uint8], pointer: NDArray[np.int64]) -> None:
        """Raise ``ContentError`` unless these can be tokens of documents.

        Parameters
        ----------
        data, pointer : uint8[n_bytes] and int64[n_docs + 1], the documents' UTF-8 text
        """
        expect_words("types", self.types)
        n_types = len(self.types)
        ids = expect_array("ids", self.ids, np.int32, (None,), 0, n_types - 1)
        expect_pointer("doc_ptr", self.doc_ptr, len(pointer) - 1, len(ids))
        each = (len(ids),)
        sizes = np.diff(self.doc_ptr)
        ends = expect_array("ends", self.ends, np.int32, each, 0, np.repeat(np.diff(pointer), sizes))
        starts = expect_array("starts", self.starts, np.int32, each, 0, ends)
        first = np.repeat(pointer[:-1], sizes)
        for name, places in (("starts", starts), ("ends", ends)):
            expect(on_borders(data, first + places), f"{name} cuts a character in two")
        expect_array("classes", self.classes, np.uint8, (n_types,), high=len(CLASSES) - 1)
        expect_array("breaks", self.breaks, np.bool_, each)
        expect_array("opens", self.opens, np.bool_, each)


def join_texts(texts: Sequence[str]) -> tuple[NDArray[np.uint8], NDArray[np.int64]]:
    """UTF-8 bytes of all texts one after another, and int64[n + 1] offsets of each."""
    joined = bytearray()
    pointer = np.zeros(len(texts) + 1, dtype=np.int64)
    for number, text in enumerate(texts, start=1):
        joined += text.encode("utf-8", "surrogatepass")
        pointer[number] = len(joined)
    return np.frombuffer(joined, dtype=np.uint8), pointer


def tokens_of(
    data: NDArray[np.uint8], pointer: NDArray[np.int64], rule: Rule = "unicode", keep_hyphens: bool = True
) -> Tokens:
    """Split documents, given as joined UTF-8 bytes, into tokens; white space is dropped.

    Parameters
    ----------
    data : uint8[n_bytes], valid UTF-8
    pointer : int64[n_docs + 1], document ``d`` is ``data[pointer[d]:pointer[d + 1]]``
    rule : see the module; ``uax29`` and ``letters`` keep only what holds a letter or digit
    keep_hyphens : under ``unicode``, whether *sea-wall* is one token or three
    """
    index, blocks = unicode_classes.load()
    ids, starts, ends, doc_ptr, first, classes = kernel.segment(
        data, pointer, RULES.index(rule), keep_hyphens, index, blocks
    )
    raw = np.ascontiguousarray(data).data
    types = [str(raw[a:b], "utf-8", "surrogatepass") for a, b in first.tolist()]
    return Tokens(ids, starts, ends, doc_ptr, types, classes)


def segment_bytes(
    data: NDArray[np.uint8],
    pointer: NDArray[np.int64],
    rule: Rule = "unicode",
    keep_hyphens: bool = True,
    languages: Sequence[str | None] | None = None,
) -> Segments:
    """Tokens of UTF-8 texts, with where runs of words and sentences begin.

    Parameters
    ----------
    data : uint8[n_bytes], the texts one after another
    pointer : int64[n_docs + 1], where each begins and ends

    Parameters
    ----------
    languages : the name of each document's language: what is shortened in it ends no sentence
    """
    found = tokens_of(data, pointer, rule, keep_hyphens)
    begin = sentences.starts_of(data, pointer, languages=languages)
    marks = breaks_and_openings(data, pointer, found.starts, found.ends, found.doc_ptr, begin)
    return Segments(found.ids, found.starts, found.ends, found.doc_ptr, found.types, found.classes, *marks)


def segment(
    texts: Sequence[str],
    rule: Rule = "unicode",
    keep_hyphens: bool = True,
    languages: Sequence[str | None] | None = None,
) -> Segments:
    """Split texts into tokens.

    Examples
    --------
    >>> segment(["Wind 12kn, e.g. off the sea-wall."]).words(0)
    ['Wind', '12kn', ',', 'e.g.', 'off', 'the', 'sea-wall', '.']
    """
    return segment_bytes(*join_texts(texts), rule, keep_hyphens, languages)
