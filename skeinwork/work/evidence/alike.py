"""Documents that are alike one, or near the middle of a selection, by their vectors."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.nearest import Falling, strongest
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.evidence.term import forms_in
from skeinwork.work.relate.nearness import near_document, near_middle, term_parts, weights_of_documents
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import DOCUMENT_VECTORS
from skeinwork.work.steps.step import counted

# Terms that are named, of those that two documents share.
_NAMED = 4


class AskedAlike(Asked):
    alike: int | None = Field(
        None, ge=0, le=2**31, description="a document; those whose vectors are nearest to its own"
    )
    alike_most: int = Field(50, ge=1, le=100_000, description="so many of them")


class AskedCentre(Asked):
    centre: str | None = Field(
        None,
        max_length=2000,
        pattern=r"^\d{1,9}(\.\d{1,9}){0,199}$",
        description="documents, the first first: “12.7.301”; those nearest to their middle",
    )
    centre_weights: Falling = Field("equal", description="what each weighs in it: alike, or 1, ½, ⅓ … by rank")
    centre_most: int = Field(50, ge=1, le=100_000, description="so many near it")


def _nearest(cosine: NDArray[np.float64], most: int) -> NDArray[np.float64]:
    """Cosines of the nearest that are near at all, 0 elsewhere."""
    order = np.argsort(-cosine, kind="stable")[:most]
    scores = np.zeros(len(cosine))
    scores[order] = np.maximum(cosine[order], 0.0)
    return scores


class Alike(Leading):
    asked = AskedAlike
    names = "alike"

    def title(self, view: View, request: AskedAlike, labels: Labels) -> str:
        return f"alike {documents.name(view, request.alike or 0)}"

    def scores(self, view: View, request: AskedAlike) -> Scores:
        cosine = near_document(view, request.alike or 0)
        cosine[request.alike or 0] = -1.0
        return Scores(
            _nearest(cosine, request.alike_most), "first those whose vectors have the smallest angle to its own"
        )

    def piece(self, view: View, request: AskedAlike, document: int, score: float) -> Piece:
        parts = term_parts(view, request.alike or 0, document)
        display = view.matrix_of(DOCUMENT_VECTORS).display
        shared = ", ".join(display[at] for at in strongest(parts, _NAMED))
        return Piece(f"{score:.2f}", f"shares {shared}" if shared else "shares no counted term")

    def marks(self, view: View, request: AskedAlike, document: int) -> Marks:
        return _marked(view, document, term_parts(view, request.alike or 0, document))


class Centre(Leading):
    asked = AskedCentre
    names = "centre"

    def title(self, view: View, request: AskedCentre, labels: Labels) -> str:
        return f"near the middle of {counted(len(self._members(view, request)), 'document')}"

    def _members(self, view: View, request: AskedCentre) -> NDArray[np.int64]:
        members = np.array([int(each) for each in (request.centre or "0").split(".")])
        if members.max() >= len(view.corpus):
            raise BadInputError(f"There is no document {members.max()}. Select the documents again.")
        return members

    def scores(self, view: View, request: AskedCentre) -> Scores:
        members = self._members(view, request)
        cosine = near_middle(view, members, request.centre_weights)
        weighed = "weighing alike" if request.centre_weights == "equal" else "weighing less by rank"
        return Scores(
            _nearest(cosine, request.centre_most), f"first those nearest to the middle, its documents {weighed}"
        )

    def piece(self, view: View, request: AskedCentre, document: int, score: float) -> Piece:
        inside = (self._members(view, request) == document).any()
        return Piece(
            f"{score:.2f}", "one of those that the middle is of" if inside else "none of those that the middle is of"
        )

    def marks(self, view: View, request: AskedCentre, document: int) -> Marks:
        weights, members = weights_of_documents(view), self._members(view, request)
        middle = np.asarray(weights[members].mean(axis=0)).ravel()
        return _marked(view, document, middle * weights[document].toarray().ravel())


def _marked(view: View, document: int, parts: NDArray[np.float64]) -> Marks:
    """The words of a document by what their terms add."""
    cleaning, matrix = view.cleaning_of(DOCUMENT_VECTORS), view.matrix_of(DOCUMENT_VECTORS)
    forms = cleaning.token_forms(document)
    most, weight = float(parts.max(initial=0.0)), np.zeros(len(forms))
    for form, at in forms_in(cleaning, forms).items():
        column = matrix.columns.get(form, -1)
        if column >= 0 and most > 0:
            weight[forms == at] = parts[column] / most
    # What adds next to nothing is not worth a mark.
    return Marks(cleaning, np.where(weight >= 0.1, weight, 0.0))
