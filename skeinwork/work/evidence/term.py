"""Documents that hold a term of the matrix."""

from __future__ import annotations

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.text.clean import Cleaning
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import counted


class AskedTerm(Asked):
    term: str | None = Field(None, max_length=400, description="a term of the matrix")
    with_term: str | None = Field(None, max_length=400, description="another, which stands in the same documents")


class Term(Leading):
    asked = AskedTerm
    names = "term"

    def title(self, view: View, request: AskedTerm, labels: Labels) -> str:
        """Its readable words."""
        return " and ".join(view.matrix.display[at] for at in _places(view, request))

    def scores(self, view: View, request: AskedTerm) -> Scores:
        places = _places(view, request)
        times = view.matrix.counts[:, places].toarray().min(axis=1)
        said = "by count against length" if len(places) == 1 else "those that hold both, by count against length"
        return Scores(times / np.sqrt(np.maximum(view.lengths, 1)), said)

    def piece(self, view: View, request: AskedTerm, document: int, score: float) -> Piece:
        places = _places(view, request)
        counts = view.matrix.counts[[document]][:, places].toarray()[0].tolist()
        if len(places) > 1:
            return Piece(" and ".join(f"{n}×" for n in counts), f"in {counted(int(view.lengths[document]), 'word')}")
        times = int(counts[0])
        said = "once" if times == 1 else f"{times} times"
        return Piece(f"{times}×", f"{said} in {counted(int(view.lengths[document]), 'word')}")

    def marks(self, view: View, request: AskedTerm, document: int) -> Marks:
        forms = view.cleaning.token_forms(document)
        weights = np.zeros(len(forms))
        for term in filter(None, (request.term, request.with_term)):
            wanted = [view.form_place.get(word, -2) for word in term.split(" ")]
            weights = np.maximum(weights, term_weights(forms, wanted))
        return Marks(view.cleaning, weights)


def _places(view: View, request: AskedTerm) -> list[int]:
    """The columns of what is asked for."""
    return [view.matrix.column_of(each) for each in (request.term or "", request.with_term) if each is not None]


def different_words(counts: scipy.sparse.csr_matrix, lengths: NDArray[np.int64]) -> NDArray[np.float64]:
    """Scores by how many different terms a document holds; within the same number by how often, against length."""
    different, times = np.diff(counts.indptr), np.asarray(counts.sum(axis=1)).ravel()
    return np.asarray(different + np.where(different > 0, times / (times + lengths + 1.0), 0.0))


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
