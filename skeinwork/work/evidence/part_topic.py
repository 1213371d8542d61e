"""Documents of a topic of one part's own model."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.topics.alignment import Fitted
from skeinwork.core.topics.holding import LEAST_SHARE
from skeinwork.core.topics.words import titles
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View
from skeinwork.work.steps import PART_FIT
from skeinwork.work.steps.part_fit import PartFit

_MARKED = 0.5


class AskedPartTopic(Asked):
    part_fit: str | None = Field(None, pattern="^[0-9a-f]{64}$", description="the model of one part of the documents")
    own: int | None = Field(None, ge=0, le=10_000, description="a topic of that model")


class PartTopic(Leading):
    asked = AskedPartTopic
    names = "part_fit"

    def _topic(self, view: View, request: AskedPartTopic) -> tuple[PartFit, int]:
        identity = request.part_fit or ""
        if not view.store.has(identity) or view.store.open(identity).making.step != PART_FIT.name:
            raise BadInputError("The model of that part is not there any more. Fit the parts again at Track.")
        making = view.store.open(identity).making
        fit = view.made(PART_FIT, making)
        if fit is None or making.inputs[0] != view.fit_record.identity:
            raise BadInputError("The model of that part is not one of this fit. Fit the parts again at Track.")
        if request.own is None or request.own >= fit.summary.topics:
            raise BadInputError(f"There is no topic {request.own} in the model of that part.")
        return fit, request.own

    def title(self, view: View, request: AskedPartTopic, labels: Labels) -> str:
        fit, own = self._topic(view, request)
        words = titles(fit.topic_word, view.fit_matrix.display)[own]
        part = PART_FIT.parse(view.store.open(request.part_fit or "").making.settings).part
        return f"“{words}” of the model of {part} alone"

    def scores(self, view: View, request: AskedPartTopic) -> Scores:
        fit, own = self._topic(view, request)
        share = np.zeros(len(view.corpus))
        share[fit.documents] = fit.share[:, own]
        score = np.where(share >= LEAST_SHARE, share * view.token_weights, 0.0)
        return Scores(score, "of which that topic has 10 % or more; most of its words first")

    def piece(self, view: View, request: AskedPartTopic, document: int, score: float) -> Piece:
        share = percent(score / max(float(view.token_weights[document]), 1.0))
        return Piece(share, f"{share} of its counted words")

    def marks(self, view: View, request: AskedPartTopic, document: int) -> Marks:
        fit, own = self._topic(view, request)
        terms = view.fit_terms(document)
        known = np.flatnonzero(terms >= 0)
        at = np.searchsorted(fit.documents, document)
        weights = np.zeros(len(terms))
        if at < len(fit.documents) and fit.documents[at] == document:
            rows = np.full(len(known), at, dtype=np.int64)
            mine = Fitted(np.asarray(fit.share), np.asarray(fit.topic_word)).of_cells(rows, terms[known])
            weights[known] = mine[:, own]
        return Marks(view.fit_cleaning, np.where(weights > _MARKED, weights, 0.0))
