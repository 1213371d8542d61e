"""Documents that are in no topic of a fit."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View


class AskedOutliers(Asked):
    outliers: bool | None = Field(None, description="documents in no topic of a fit, the nearest to one first")


class Outliers(Leading):
    asked = AskedOutliers
    names = "outliers"

    def title(self, view: View, request: AskedOutliers, labels: Labels) -> str:
        return "in no topic"

    def scores(self, view: View, request: AskedOutliers) -> Scores:
        outside = (view.token_weights > 0) & ~np.asarray(view.model.doc_topic).any(axis=1)
        if near := view.model.clustered:
            score = np.where(outside, np.maximum(np.asarray(near.cosine), 1e-6), 0.0)
            return Scores(score, "first those nearest to the centre of a topic")
        return Scores(outside.astype(np.float64), "in the order they were brought in")

    def piece(self, view: View, request: AskedOutliers, document: int, score: float) -> Piece:
        near = view.model.clustered
        if near is None:
            return Piece("", "nothing of it is told by the topics")
        return Piece(f"{score:.2f}", f"cosine with the nearest centre, {view.topic_words(int(near.nearest[document]))}")

    def marks(self, view: View, request: AskedOutliers, document: int) -> Marks:
        return Marks(view.fit_cleaning, np.zeros(len(view.fit_cleaning.token_forms(document))))
