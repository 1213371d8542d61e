"""Documents of a branch of the tree: those that hold its words, or those that it joins."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.evidence.term import different_words, forms_in, term_weights
from skeinwork.work.relate.branches import Branch, branch
from skeinwork.work.results.view import View
from skeinwork.work.steps import TREE
from skeinwork.work.steps.step import counted


class AskedBranch(Asked):
    branch: int | None = Field(None, ge=0, le=10_000, description="an item of the tree, or a step that joins some")


class OfBranch(Leading):
    asked = AskedBranch
    names = "branch"

    def title(self, view: View, request: AskedBranch, labels: Labels) -> str:
        return " ".join(_of(view, request).heads)

    def scores(self, view: View, request: AskedBranch) -> Scores:
        found = _of(view, request)
        scores = np.zeros(len(view.corpus))
        if not found.words:
            scores[found.items] = 1.0
            return Scores(scores, "in the order they were brought in")
        here = view.matrix_of(TREE).counts[:, found.items]
        scores = different_words(here, view.lengths)
        if len(found.items) > 1:
            scores = np.where(np.diff(here.indptr) >= 2, scores, 0.0)
        return Scores(scores, "two of its words or more; first those with the most different ones")

    def piece(self, view: View, request: AskedBranch, document: int, score: float) -> Piece:
        found = _of(view, request)
        if not found.words:
            return Piece("", counted(int(view.lengths[document]), "word"))
        row = view.matrix_of(TREE).counts[document, found.items]
        return Piece(f"{row.nnz} words", f"{row.nnz} of {len(found.items)}, {counted(int(row.sum()), 'time')} in all")

    def marks(self, view: View, request: AskedBranch, document: int) -> Marks:
        found, cleaning = _of(view, request), view.cleaning_of(TREE)
        forms = cleaning.token_forms(document)
        weights = np.zeros(len(forms))
        if found.words:
            matrix = view.matrix_of(TREE)
            place = forms_in(cleaning, forms)
            for item in found.items.tolist():
                weights = np.maximum(weights, _marked(forms, matrix.terms[item], place))
        return Marks(cleaning, weights)


def _marked(forms: NDArray[np.int32], term: str, place: dict[str, int]) -> NDArray[np.float64]:
    return term_weights(forms, [place.get(word, -2) for word in term.split(" ")])


def _of(view: View, request: AskedBranch) -> Branch:
    tree = view.value(TREE).tree
    if request.branch is None or request.branch >= 2 * tree.n_items - 1:
        raise BadInputError(f"The tree has no branch {request.branch}.")
    return branch(view, request.branch)
