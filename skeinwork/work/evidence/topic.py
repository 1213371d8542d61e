"""Documents that a topic has a share in."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.view import View

LEAST_SHARE = 0.1
_MARKED = 0.5


class AskedTopic(Asked):
    topic: int | None = Field(None, ge=0, le=10_000, description="a topic of the fit")


class Topic(Leading):
    asked = AskedTopic
    names = "topic"

    def title(self, view: View, request: AskedTopic, labels: Labels) -> str:
        number = _number(view, request)
        return labels.get(number) or view.topic_words(number)

    def scores(self, view: View, request: AskedTopic) -> Scores:
        share = np.asarray(view.model.doc_topic[:, _number(view, request)])
        score = np.where(share >= LEAST_SHARE, share * np.log1p(view.token_weights), 0.0)
        return Scores(
            score,
            "10 % or more; by share × ln(1 + words), so that neither short nor long ones lead",
        )

    def piece(self, view: View, request: AskedTopic, document: int, score: float) -> Piece:
        share = float(view.model.doc_topic[document, _number(view, request)])
        words = round(float(view.token_weights[document]))
        return Piece(
            f"{share:.0%}".replace("%", "\u202f%"),
            f"{round(share * words)} of {words} counted words",
        )

    def marks(self, view: View, request: AskedTopic, document: int) -> Marks:
        weights = view.topic_weights(document)[_number(view, request)]
        return Marks(view.fit_cleaning, np.where(weights > _MARKED, weights, 0.0))


def _number(view: View, request: AskedTopic) -> int:
    if request.topic is None or request.topic >= view.model.doc_topic.shape[1]:
        raise BadInputError(f"There is no topic {request.topic} in this fit.")
    return request.topic
