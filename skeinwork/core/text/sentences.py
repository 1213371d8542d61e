"""Where sentences begin: UAX #29, and a rule of our own that knows what people shorten.

``uax29`` is the standard's default (Unicode Standard Annex #29, rules SB1 to SB998, no tailoring).
``abbreviations``, the default, adds to it: a full stop after a word that the language of the text
often shortens, or after a single capital, ends nothing; neither does a single line break, nor any
stop before a small letter, nor one inside a word, as in addresses. An ellipsis is a stop.
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import cache
from itertools import chain
from pathlib import Path
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.text import sentence_kernel as kernel
from skeinwork.core.text import unicode_classes
from skeinwork.core.text.utf8_kernel import HASH_BEGIN

VERSION = 1
SentenceRule = Literal["abbreviations", "uax29"]


@cache
def shortened_words() -> dict[str, tuple[str, ...]]:
    """What is often shortened, by the name of a language, without the last full stop."""
    path = Path(__file__).parent / "data" / "abbreviations.txt"
    found = {}
    for line in path.read_text(encoding="utf-8").splitlines():
        if line and not line.startswith("#"):
            language, _, words = line.partition(":")
            found[language] = tuple(words.split())
    return found


def _hashed(words: Sequence[str]) -> list[int]:
    """Hashes of words as they are listed, and with a capital."""
    forms = {form for word in words for form in (word, word[:1].upper() + word[1:])}
    data = [np.frombuffer(form.encode(), dtype=np.uint8) for form in forms]
    return sorted(int(kernel.backwards(each, 0, len(each), HASH_BEGIN)) for each in data)


@cache
def _lists() -> tuple[dict[str, int], NDArray[np.int64], NDArray[np.uint64]]:
    """The place of every language, where its hashes begin, and the hashes; all of them come first."""
    by_language = shortened_words()
    each = [_hashed([word for words in by_language.values() for word in words])]
    each += [_hashed(words) for words in by_language.values()]
    bounds = np.concatenate([[0], np.cumsum([len(one) for one in each])])
    places = {name: at for at, name in enumerate(by_language, start=1)}
    return places, bounds.astype(np.int64), np.array([*chain(*each), 0], dtype=np.uint64)


def starts_of(
    data: NDArray[np.uint8],
    pointer: NDArray[np.int64],
    rule: SentenceRule = "abbreviations",
    languages: Sequence[str | None] | None = None,
) -> NDArray[np.int64]:
    """Where sentences begin in some documents, but for the first of each.

    Parameters
    ----------
    data, pointer : UTF-8 bytes, uint8[n_bytes], and where documents begin and end, int64[n_docs + 1]
    languages : the name of each document's language, which decides what is shortened in it; where
        none is known, what any language shortens counts

    Returns
    -------
    int64[n_sentences], offsets into ``data``, ascending
    """
    places, bounds, words = _lists()
    own = np.zeros(len(pointer) - 1, dtype=np.int16)
    if languages is not None:
        own[:] = [places.get(name or "", 0) for name in languages]
    index, blocks = unicode_classes.load()
    found = kernel.find_starts(data, pointer, rule == "abbreviations", own, bounds, words, index, blocks)
    return np.flatnonzero(found)


def sentence_starts(text: str, rule: SentenceRule = "abbreviations", language: str | None = None) -> list[int]:
    """Where each sentence of a text begins, by character; the first at 0.

    >>> sentence_starts("Gale at six. Dr. Askew rang! All safe.")
    [0, 13, 29]
    """
    data = np.frombuffer(text.encode("utf-8", "surrogatepass"), dtype=np.uint8)
    pointer = np.array([0, len(data)], dtype=np.int64)
    found = starts_of(data, pointer, rule, [language])
    if text.isascii() or not len(found):
        return [0, *found.tolist()]
    characters = np.cumsum((data & 0xC0) != 0x80)
    return [0, *(characters[found] - 1).tolist()]
