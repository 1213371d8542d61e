"""What there is to know of a corpus before anything is done with it."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.content import expect_array
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.duplicates import exact_groups, folded_words, near_groups
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.segment import tokens_of

VERSION = 2  # of what is stored; raised with the list of languages too
# Jaccard similarity of two texts that repeat each other but for a few words.
NEAR = 0.8
_GARBLED = re.compile(rb"\xef\xbf\xbd|\xc3[\x82\x83]\xc2[\x80-\xbf]|\xc3\xa2\xe2\x82\xac|\xc2[\x80-\x9f]")


@dataclass(frozen=True)
class Survey:
    """Words, language and likeness of every document.

    Attributes
    ----------
    words : int32[n_docs], words with a letter or digit (UAX #29)
    language : int8[n_docs], index into ``language.LANGUAGES``, -1 unsure
    same : int32[n_docs], the first document with the same words
    near : int32[n_docs], the first document of the chain of near-duplicates (Jaccard 0.8)
    garbled : bool[n_docs], holds U+FFFD, or characters that a wrong encoding leaves behind
    """

    words: NDArray[np.int32]
    language: NDArray[np.int8]
    same: NDArray[np.int32]
    near: NDArray[np.int32]
    garbled: NDArray[np.bool_]

    def check(self, n_docs: int) -> None:
        """Raise ``ContentError`` unless it can be of so many documents."""
        each = (n_docs,)
        expect_array("words", self.words, np.int32, each, 0)
        expect_array("language", self.language, np.int8, each, -1, len(LANGUAGES) - 1)
        expect_array("same", self.same, np.int32, each, 0, n_docs - 1)
        expect_array("near", self.near, np.int32, each, 0, n_docs - 1)
        expect_array("garbled", self.garbled, np.bool_, each)


def garbled(corpus: Corpus) -> NDArray[np.bool_]:
    """Documents, bool[n_docs], with characters that nobody wrote: undecodable bytes, or text decoded wrongly."""
    found = np.zeros(len(corpus), dtype=bool)
    data: Any = np.ascontiguousarray(corpus.data)
    places = [match.start() for match in _GARBLED.finditer(data)]
    found[np.searchsorted(corpus.pointer, places, side="right") - 1] = True
    return found


def survey(corpus: Corpus) -> Survey:
    """Look at every document of a corpus once."""
    tokens = tokens_of(corpus.data, corpus.pointer, "uax29")
    words, pointer = folded_words(tokens)
    languages = detect_languages(tokens)
    del tokens  # several times the words alone
    return Survey(
        np.diff(pointer).astype(np.int32),
        languages,
        exact_groups(words, pointer),
        near_groups(words, pointer, NEAR),
        garbled(corpus),
    )
