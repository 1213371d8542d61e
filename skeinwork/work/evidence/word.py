"""Documents that hold a word, or a run of words, as it stands in the text, whatever becomes of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.text.passes.base import bare_word, one_word
from skeinwork.core.text.segment import Segments
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import counted


class AskedWord(Asked):
    word: str | None = Field(None, max_length=400, description="a word of the texts, or several in a row, in any case")


class Word(Leading):
    asked = AskedWord
    names = "word"

    def title(self, view: View, request: AskedWord, labels: Labels) -> str:
        return f"“{request.word}” in the texts"

    def scores(self, view: View, request: AskedWord) -> Scores:
        running = np.concatenate([[0], np.cumsum(_begins(view, request))])
        counts = np.diff(running[view.tokens.doc_ptr])
        return Scores(counts / np.sqrt(np.maximum(view.lengths, 1)), "by count against length")

    def piece(self, view: View, request: AskedWord, document: int, score: float) -> Piece:
        first, last = view.tokens.doc_ptr[document : document + 2]
        times = int(_begins(view, request)[first:last].sum())
        said = "once" if times == 1 else f"{times} times"
        return Piece(f"{times}×", f"{said} in {counted(int(view.lengths[document]), 'word')}")

    def marks(self, view: View, request: AskedWord, document: int) -> Marks:
        return Marks(view.cleaning, _within(view, request)[view.cleaning.rows(document)].astype(float))


def _parts(request: AskedWord) -> list[str]:
    """The words that stand one behind the other, case folded."""
    return one_word(request.word or "").casefold().split()


def _begins(view: View, request: AskedWord) -> NDArray[np.bool_]:
    """Tokens of the texts at which the word, or the run of words, begins."""
    parts = _parts(request)
    return view.cached("word begins", lambda: _found(view.tokens, parts), *parts)


def _within(view: View, request: AskedWord) -> NDArray[np.bool_]:
    """Tokens of the cleaning that stand in a run of these words, or were joined from them."""
    tokens, parts = view.cleaning.tokens, _parts(request)

    def find() -> NDArray[np.bool_]:
        begins = _found(tokens, parts)
        marked = begins.copy()
        for gap in range(1, len(parts)):
            marked[gap:] |= begins[: len(begins) - gap]
        joined = {"_".join(parts), " ".join(parts)} if len(parts) > 1 else set[str]()
        one = np.array([word.casefold() in joined for word in tokens.types], dtype=bool)
        return marked | one[tokens.ids]

    return view.cached("within words", find, *parts)


def _found(tokens: Segments, parts: list[str]) -> NDArray[np.bool_]:
    """Which tokens begin a run of these words."""
    read = bare_word if len(parts) > 1 else lambda word: one_word(word).casefold()
    folded = [read(word) for word in tokens.types]
    kinds = [np.array([word == part for word in folded], dtype=bool) for part in parts]
    ids = tokens.ids
    begins = kinds[0][ids] if parts else np.zeros(len(ids), dtype=bool)
    for gap, kind in enumerate(kinds[1:], start=1):
        follows = kind[ids] & ~tokens.breaks
        begins[: len(ids) - gap] &= follows[gap:]
        begins[max(len(ids) - gap, 0) :] = False
    return begins
