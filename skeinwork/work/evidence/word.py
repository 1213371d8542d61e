"""Documents that hold a word as it stands in the text, whatever the cleaning makes of it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.text.passes.base import one_word
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.view import View


class AskedWord(Asked):
    word: str | None = Field(None, max_length=400, description="a word of the texts, in any case")


class Word(Leading):
    asked = AskedWord
    names = "word"

    def title(self, view: View, request: AskedWord, labels: Labels) -> str:
        return f"“{request.word}” in the texts"

    def scores(self, view: View, request: AskedWord) -> Scores:
        running = np.concatenate([[0], np.cumsum(_is_word(view, request)[view.tokens.ids])])
        counts = np.diff(running[view.tokens.doc_ptr])
        return Scores(counts / np.sqrt(np.maximum(view.lengths, 1)), "by count against length")

    def piece(self, view: View, request: AskedWord, document: int, score: float) -> Piece:
        tokens = view.tokens
        rows = slice(int(tokens.doc_ptr[document]), int(tokens.doc_ptr[document + 1]))
        times = int(_is_word(view, request)[tokens.ids[rows]].sum())
        said = "once" if times == 1 else f"{times} times"
        return Piece(f"{times}×", f"{said} in {view.lengths[document]} words")

    def marks(self, view: View, request: AskedWord, document: int) -> Marks:
        stream = view.cleaning.tokens
        folded = one_word(request.word or "").casefold()
        kinds = np.array(
            [one_word(word).casefold() == folded for word in stream.types], dtype=float
        )
        return Marks(view.cleaning, kinds[stream.ids[view.cleaning.rows(document)]])


def _is_word(view: View, request: AskedWord) -> NDArray[np.bool_]:
    """Types of the text that are the word."""
    folded = one_word(request.word or "").casefold()

    def find() -> NDArray[np.bool_]:
        return np.array(
            [one_word(word).casefold() == folded for word in view.tokens.types], dtype=bool
        )

    return view.cached("is word", find, folded)
