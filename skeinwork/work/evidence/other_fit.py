"""Documents of another fit's topics, of what two fits' topics share, and those that moved between them."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.topics.holding import LEAST_SHARE
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Narrowing, Piece, Scores
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results.view import View
from skeinwork.work.topics.comparison import compare

# The share of a document from which it counts as moved.
MOVED = 0.5
_MARKED = 0.25
_FIT = Field(None, pattern="^[0-9a-f]{64}$", description="another fit of the same documents")


class AskedOther(Asked):
    other_fit: str | None = _FIT
    was: int | None = Field(None, ge=0, le=10_000, description="a topic of that fit")
    now: int | None = Field(None, ge=0, le=10_000, description="a topic of this fit, with which it shares words")


class OtherFit(Leading):
    asked = AskedOther
    names = "other_fit"

    def _topics(self, view: View, request: AskedOther) -> tuple[int, int | None]:
        compared = compare(view, request.other_fit or "")
        if request.was is None or request.was >= compared.shares_then.shape[1]:
            raise BadInputError(f"There is no topic {request.was} in that fit.")
        return request.was, None if request.now is None else topic_of(view, request.now)

    def title(self, view: View, request: AskedOther, labels: Labels) -> str:
        was, now = self._topics(view, request)
        then = f"“{compare(view, request.other_fit or '').then.topic_words(was)}” of the other fit"
        return then if now is None else f"{then}, now {labels.get(now) or view.topic_words(now)}"

    def scores(self, view: View, request: AskedOther) -> Scores:
        was, now = self._topics(view, request)
        compared = compare(view, request.other_fit or "")
        share = compared.shares_then[:, was]
        if now is not None:
            share = np.minimum(share, compared.shares_now[:, now])
        why = "of which that topic had 10 % or more" if now is None else "of which both topics have 10 % or more"
        return Scores(
            np.where(share >= LEAST_SHARE, share * view.assigned_sizes, 0.0), f"{why}; most of its words first"
        )

    def piece(self, view: View, request: AskedOther, document: int, score: float) -> Piece:
        was, now = self._topics(view, request)
        compared = compare(view, request.other_fit or "")
        then = float(compared.shares_then[document, was])
        here = "" if now is None else f", now {percent(float(compared.shares_now[document, now]))}"
        return Piece(percent(then), f"was {percent(then)} of its counted words{here}")

    def marks(self, view: View, request: AskedOther, document: int) -> Marks:
        was, now = self._topics(view, request)
        then = compare(view, request.other_fit or "").then
        weights = then.topic_weights(document)[was]
        if now is not None:
            here = view.topic_weights(document)[now]
            weights = weights * here if len(weights) == len(here) else here
            return Marks(view.fit_cleaning, np.where(weights > _MARKED, weights, 0.0))
        return Marks(then.fit_cleaning, np.where(weights > 2 * _MARKED, weights, 0.0))


class AskedMoved(Asked):
    moved_from: str | None = _FIT


class MovedFrom(Narrowing):
    asked = AskedMoved
    names = "moved_from"

    def title(self, view: View, request: AskedMoved, labels: Labels) -> str:
        return f"Half or more in topics that the other fit has nothing of, from {self._called(view, request)}"

    def _called(self, view: View, request: AskedMoved) -> str:
        then = compare(view, request.moved_from or "").then.fit_record.making.settings
        return f"{then['topics']} topics, seed {then['seed']}"

    def keep(self, view: View, request: AskedMoved) -> NDArray[np.bool_]:
        return np.asarray(compare(view, request.moved_from or "").moved >= MOVED)

    def reason(self, view: View, request: AskedMoved, document: int) -> str:
        return f"{percent(float(compare(view, request.moved_from or '').moved[document]))} of it elsewhere"
