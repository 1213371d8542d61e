"""Texts that are not in a corpus, cleaned and counted as its own were; nothing is learnt from them."""

from __future__ import annotations

from collections.abc import Container, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
import scipy

from skeinwork.core.text import clean, tokenise
from skeinwork.core.text.about import About
from skeinwork.core.text.clean import Cleaning, CleanSettings
from skeinwork.core.text.language import LANGUAGES, detect_languages
from skeinwork.core.text.segment import WORD, join_texts, tokens_of

Why = Literal["not in the corpus", "pruned", "left out by Clean"]


@dataclass(frozen=True)
class Known:
    """What a corpus knows of words.

    Attributes
    ----------
    settings : how it was cleaned; lists : the saved lists that passes read, by checksum
    forms : of every word that has one alone; None where it was removed
    columns : of the terms of its matrix
    longest : words of an n-gram; bridge : n-grams go over removed words
    """

    settings: CleanSettings
    lists: Mapping[str, frozenset[str]]
    forms: Mapping[str, str | None]
    columns: Mapping[str, int]
    longest: int
    bridge: bool


@dataclass(frozen=True)
class NewTexts:
    """Some texts as a corpus reads them: the form of every type, and their counts, int32[n_texts, n_terms]."""

    cleaning: Cleaning
    forms: list[str | None]
    counts: scipy.sparse.csr_matrix

    def words(self, text: int) -> int:
        """How many words one has."""
        return len(self._words(text))

    def kept(self, text: int) -> int:
        """How many of them cleaning leaves."""
        return sum(self.forms[at] is not None for at in self._words(text))

    def _words(self, text: int) -> list[int]:
        tokens = self.cleaning.tokens
        ids = tokens.ids[self.cleaning.rows(text)]
        words: list[int] = ids[tokens.classes[ids] == WORD].tolist()
        return words


def known_forms(cleaning: Cleaning) -> dict[str, str | None]:
    """The form of every word that has one alone in a cleaning; None where it was removed."""
    found: dict[str, int] = {}
    for word, form in zip(cleaning.tokens.types, cleaning.form_of.tolist(), strict=True):
        found[word] = form if found.get(word, form) == form else -2
    return {word: cleaning.forms[at] if at >= 0 else None for word, at in found.items() if at != -2}


def read_new_texts(known: Known, texts: Sequence[str]) -> NewTexts:
    """Texts through the passes of a corpus, its own form for every word that it knows."""
    guessed = detect_languages(tokens_of(*join_texts(texts), "uax29"))
    about = About(np.where(guessed < 0, len(LANGUAGES), guessed).astype(np.int16), (*LANGUAGES, "unsure"))
    tokens = tokenise.tokenise(texts, known.settings.tokenising(), about=about)
    cleaning = clean.clean(tokens, known.settings, about, known.lists)
    own = [cleaning.forms[at] if at >= 0 else None for at in cleaning.form_of.tolist()]
    forms = [known.forms.get(word, form) for word, form in zip(cleaning.tokens.types, own, strict=True)]
    return NewTexts(cleaning, forms, _counts(known, cleaning, forms))


def _counts(known: Known, cleaning: Cleaning, forms: Sequence[str | None]) -> scipy.sparse.csr_matrix:
    """Counts of a matrix's terms, n-grams as the matrix has them too."""
    tokens = cleaning.tokens
    breaks = tokens.breaks.copy()
    breaks[tokens.leads] = True
    texts = np.repeat(np.arange(len(tokens.doc_ptr) - 1), np.diff(tokens.doc_ptr)).tolist()
    run: list[str] = []
    rows, columns = [], []
    for at, kind in enumerate(tokens.ids.tolist()):
        form = forms[kind]
        if breaks[at] or (form is None and not (known.bridge and tokens.classes[kind] == WORD)):
            run = []
        if form is None:
            continue
        run = [*run, form][-known.longest :]
        for size in range(1, len(run) + 1):
            if (column := known.columns.get(" ".join(run[-size:]))) is not None:
                rows.append(texts[at])
                columns.append(column)
    shape = (len(tokens.doc_ptr) - 1, len(known.columns))
    ones = np.ones(len(rows), dtype=np.int32)
    places = (np.array(rows, np.int64), np.array(columns, np.int64))
    return scipy.sparse.coo_matrix((ones, places), shape=shape, dtype=np.int32).tocsr()


def unknown_share(read: NewTexts, text: int, columns: Container[str]) -> float | None:
    """The share of the words that cleaning leaves which have no column; None where it leaves none."""
    kept = read.kept(text)
    missing = sum(n for (_, why), n in unknown_words(read, text, columns, ()).items() if why != "left out by Clean")
    return missing / kept if kept else None


def unknown_words(
    read: NewTexts, text: int, columns: Container[str], in_corpus: Container[str]
) -> dict[tuple[str, Why], int]:
    """Words of a text without a column, and why, with how often they stand there.

    Parameters
    ----------
    in_corpus : the forms of the corpus, those among them that were pruned
    """
    tokens = read.cleaning.tokens
    found: dict[tuple[str, Why], int] = {}
    for at in tokens.ids[read.cleaning.rows(text)].tolist():
        form = read.forms[at]
        if (form is not None and form in columns) or tokens.classes[at] != WORD:
            continue
        why: Why = "left out by Clean"
        if form is not None:
            why = "pruned" if form in in_corpus else "not in the corpus"
        key = tokens.types[at], why
        found[key] = found.get(key, 0) + 1
    return found
