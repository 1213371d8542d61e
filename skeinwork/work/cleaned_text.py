"""Cleaned text: what is left of a document, as running text."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

import numpy as np

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.text import clean
from skeinwork.core.text.about import About
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.segment import segment
from skeinwork.core.text.tokenise import tokenise


def of_document(cleaning: Cleaning, document: int, by_line: bool = False) -> str:
    """The forms that are left of a document, by space; each sentence on a line of its own when asked.

    A form of several words holds no space: they are joined by a ``_``.
    """
    rows = cleaning.rows(document)
    sentence = np.cumsum(cleaning.tokens.opens[rows]).tolist()
    parts: dict[int, list[str]] = {}
    for form, number in zip(cleaning.token_forms(document).tolist(), sentence, strict=True):
        if form >= 0:
            word = "_".join(cleaning.forms[form].split())
            parts.setdefault(number if by_line else 0, []).append(word)
    return "\n".join(" ".join(words) for words in parts.values())


def of_corpus(cleaning: Cleaning, corpus: Corpus, by_line: bool = False) -> Iterator[str]:
    """The cleaned text of every document, in order."""
    return (of_document(cleaning, at, by_line) for at in range(len(corpus)))


def of_texts(texts: Sequence[str], settings: CleanSettings) -> Iterator[str]:
    """The cleaned text of texts that are a corpus by themselves and have no fields."""
    found = detect_languages(segment(texts, "uax29"))
    language = np.where(found < 0, len(LANGUAGES), found).astype(np.int16)
    about = About(language, (*LANGUAGES, "unsure"))
    tokens = tokenise(texts, settings.tokenising(), about=about)
    cleaning = clean.clean(tokens, settings, about)
    return (of_document(cleaning, at) for at in range(len(texts)))
