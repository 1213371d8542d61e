"""Documents that hold a term of the matrix."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.text.clean import Cleaning
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import counted


class AskedTerm(Asked):
    term: str | None = Field(None, max_length=400, description="a term of the matrix")


class Term(Leading):
    asked = AskedTerm
    names = "term"

    def title(self, view: View, request: AskedTerm, labels: Labels) -> str:
        """Its readable words."""
        return view.matrix.display[_place(view, request)]

    def scores(self, view: View, request: AskedTerm) -> Scores:
        column = view.matrix.counts.getcol(_place(view, request)).tocoo()
        scores = np.zeros(view.matrix.counts.shape[0])
        scores[column.row] = column.data / np.sqrt(np.maximum(view.lengths[column.row], 1))
        return Scores(scores, "by count against length")

    def piece(self, view: View, request: AskedTerm, document: int, score: float) -> Piece:
        times = int(view.matrix.counts[document, _place(view, request)])
        said = "once" if times == 1 else f"{times} times"
        return Piece(f"{times}×", f"{said} in {counted(int(view.lengths[document]), 'word')}")

    def marks(self, view: View, request: AskedTerm, document: int) -> Marks:
        words = (request.term or "").split(" ")
        wanted = [view.form_place.get(word, -2) for word in words]
        return Marks(view.cleaning, term_weights(view.cleaning.token_forms(document), wanted))


def _place(view: View, request: AskedTerm) -> int:
    return view.matrix.column_of(request.term or "")


def forms_in(cleaning: Cleaning, forms: NDArray[np.int32]) -> dict[str, int]:
    """The forms that a document has, with their numbers."""
    return {cleaning.forms[at]: at for at in np.unique(forms[forms >= 0]).tolist()}


def term_weights(forms: NDArray[np.int32], wanted: list[int]) -> NDArray[np.float64]:
    """1 for every token that belongs to an occurrence of an n-gram of these forms, else 0."""
    weights = np.zeros(len(forms))
    for at in range(len(forms) - len(wanted) + 1):
        if forms[at : at + len(wanted)].tolist() == wanted:
            weights[at : at + len(wanted)] = 1.0
    return weights
