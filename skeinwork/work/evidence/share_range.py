"""Documents of which a topic has some share."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.in_words import percent
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results.view import View


class AskedShare(Asked):
    share_of: int | None = Field(None, ge=0, le=10_000, description="a topic of the fit")
    share_from: float | None = Field(None, ge=0, le=1)
    share_to: float | None = Field(None, ge=0, le=1, description="exclusive, unless it is 1")


def shares(view: View, topic: int) -> NDArray[np.float64]:
    """The share that a topic has of each document's counted words, float64[n_docs]; NaN for documents without any.

    Raises
    ------
    BadInputError
        where there is no such topic.
    """
    sizes = view.assigned_sizes
    tokens = view.assigned[:, [topic_of(view, topic)]].toarray().ravel()
    return np.asarray(np.where(sizes > 0, tokens / np.maximum(sizes, 1e-300), np.nan))


def within(share: NDArray[np.float64], low: float, high: float) -> NDArray[np.bool_]:
    """Whether shares are at least ``low`` and below ``high``; 1 takes what is all of a topic, too."""
    return np.asarray((share >= low) & ((share < high) | (high >= 1)))


class ShareRange(Narrowing):
    asked = AskedShare
    names = "share_of"

    def title(self, view: View, request: AskedShare, labels: Labels) -> str:
        topic = request.share_of or 0
        low, high = request.share_from or 0.0, 1.0 if request.share_to is None else request.share_to
        return f"{percent(low)} to {percent(high)} {labels.get(topic) or view.topic_words(topic)}"

    def keep(self, view: View, request: AskedShare) -> NDArray[np.bool_]:
        share = shares(view, request.share_of or 0)
        return within(share, request.share_from or 0.0, 1.0 if request.share_to is None else request.share_to)
