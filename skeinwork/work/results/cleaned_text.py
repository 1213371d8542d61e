"""Cleaned text: what is left of a document, as running text."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from skeinwork.core.formats import word_list
from skeinwork.core.formats.export import csv_rows, zipped
from skeinwork.core.formats.names import safe_name
from skeinwork.core.text import clean
from skeinwork.core.text.about import About
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.segment import join_texts, tokens_of
from skeinwork.core.text.tokenise import tokenise
from skeinwork.work.results.parts import Part


def of_document(cleaning: Cleaning, document: int, by_line: bool = False, part: Part | None = None) -> str:
    """The forms that are left of a document, by space; each sentence on a line of its own when asked.

    A form of several words holds no space: they are joined by a ``_``.

    Parameters
    ----------
    part : of the document; None for all of it
    """
    rows, tokens = cleaning.rows(document), cleaning.tokens
    forms, sentence = cleaning.token_forms(document), np.cumsum(tokens.opens[rows])
    if part:
        here = part.holds(tokens.starts[rows], tokens.ends[rows])
        forms, sentence = forms[here], sentence[here]
    parts: dict[int, list[str]] = {}
    for form, number in zip(forms.tolist(), sentence.tolist(), strict=True):
        if form >= 0:
            word = "_".join(cleaning.forms[form].split())
            parts.setdefault(number if by_line else 0, []).append(word)
    return "\n".join(" ".join(words) for words in parts.values())


def table_rows(cleaning: Cleaning) -> Iterator[bytes]:
    """CSV with a document a row, its number and its tokens by space, piece by piece."""
    rows = ((at + 1, of_document(cleaning, at)) for at in range(len(cleaning.tokens.doc_ptr) - 1))
    return csv_rows(["document", "cleaned text"], rows)


def as_files(cleaning: Cleaning, names: Sequence[str]) -> bytes:
    """A zip archive with a text file a document, a sentence a line; its bytes depend on these alone."""
    width = len(str(len(names)))

    def parts() -> Iterator[tuple[str, bytes]]:
        for at, name in enumerate(names):
            text = of_document(cleaning, at, by_line=True)
            yield f"{at + 1:0{width}} {safe_name(name)[:80]}.txt", (text + "\n").encode("utf-8", "replace")

    return zipped(parts())


def of_texts(texts: Sequence[str], settings: CleanSettings, lists: Mapping[str, bytes]) -> Iterator[str]:
    """The cleaned text of texts that are a corpus by themselves and have no fields.

    ``lists`` are the saved lists that the passes read, as they are kept, by checksum.
    """
    found = detect_languages(tokens_of(*join_texts(texts), "uax29"))
    language = np.where(found < 0, len(LANGUAGES), found).astype(np.int16)
    about = About(language, (*LANGUAGES, "unsure"))
    tokens = tokenise(texts, settings.tokenising(), about=about)
    words = {each: word_list.folded(data.decode().splitlines()) for each, data in lists.items()}
    cleaning = clean.clean(tokens, settings, about, words)
    return (of_document(cleaning, at) for at in range(len(texts)))
