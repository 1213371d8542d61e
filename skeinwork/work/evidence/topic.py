"""Documents that a topic has a share in."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field
from scipy.special import betaincinv

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.topics.holding import LEAST_SHARE, enough
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View

FEW_WORDS = 10  # counted ones, under which a document's leading topic is marked
_MARKED = 0.5
_FIRST = 10


class AskedTopic(Asked):
    topic: int | None = Field(None, ge=0, le=10_000, description="a topic of the fit")


def held(view: View, topic: int, least: float = LEAST_SHARE) -> NDArray[np.float64]:
    """Tokens of a topic in the documents that have it, 0 in all others, float64[n_docs].

    To have it is ``least`` of a document's tokens and one at least, not by the prior alone.
    """
    tokens = view.assigned[:, [topic]].toarray().ravel()
    return np.asarray(np.where(enough(tokens, view.assigned_sizes, least), tokens, 0.0))


def over_documents(view: View) -> tuple[list[int], list[float]]:
    """Of each topic the documents in which it is the largest, and the mean of its shares of them all."""

    def counted() -> tuple[list[int], list[float]]:
        sizes, tokens = view.assigned_sizes, view.assigned.tocsr()
        known = np.flatnonzero(sizes > 0)
        topics, some = tokens.shape[1], known[np.diff(tokens.indptr)[known] > 0]
        leading = np.asarray(tokens[some].argmax(axis=1)).ravel()
        share = np.asarray((1 / np.maximum(sizes, 1e-300) * (sizes > 0)) @ tokens).ravel() / max(len(known), 1)
        return np.bincount(leading, minlength=topics).tolist(), share.tolist()

    return view.cached("topics over documents", counted)


def borne_out(tokens: NDArray[np.float64], sizes: NDArray[np.float64]) -> NDArray[np.float64]:
    """The least share that so many of a document's tokens bear out: the 5 % point of its posterior."""
    return np.asarray(betaincinv(tokens + 0.5, np.maximum(sizes - tokens, 0.0) + 0.5, 0.05))


class Topic(Leading):
    asked = AskedTopic
    names = "topic"

    def title(self, view: View, request: AskedTopic, labels: Labels) -> str:
        number = topic_of(view, request.topic)
        return labels.get(number) or view.topic_words(number)

    def scores(self, view: View, request: AskedTopic) -> Scores:
        number = topic_of(view, request.topic)
        tokens = held(view, number)
        having = np.flatnonzero(tokens)
        score = np.zeros(len(tokens))
        if near := view.model.clustered:
            # What lies across from the centre is in the topic all the same.
            score[having] = np.maximum(np.asarray(near.cosine)[having], 1e-6)
            return Scores(score, "all that are in it; first those nearest to its centre")
        score[having] = borne_out(tokens[having], view.assigned_sizes[having])
        return Scores(
            score,
            "10 % or more; first the largest share that a document's words bear out" + _lengths(view, having, score),
        )

    def piece(self, view: View, request: AskedTopic, document: int, score: float) -> Piece:
        if near := view.model.clustered:
            came = "found in it" if near.found[document] == near.nearest[document] else "an outlier within reach"
            return Piece(f"{near.cosine[document]:.2f}", f"cosine with the topic’s centre; {came}")
        tokens = float(view.assigned[document, topic_of(view, request.topic)])
        words = float(view.assigned_sizes[document])
        share = tokens / words if words else 0.0
        few = ", few to judge by" if words < FEW_WORDS else ""
        return Piece(percent(share), f"{round(tokens)} of {round(words)} counted words{few}")

    def marks(self, view: View, request: AskedTopic, document: int) -> Marks:
        weights = view.topic_weights(document)[topic_of(view, request.topic)]
        return Marks(view.fit_cleaning, np.where(weights > _MARKED, weights, 0.0))


def _lengths(view: View, having: NDArray[np.int64], score: NDArray[np.float64]) -> str:
    """How long the first documents are beside all of them."""
    if len(having) <= _FIRST:
        return ""
    first = having[np.argsort(-score[having], kind="stable")[:_FIRST]]
    few, most = view.assigned_sizes[first].min(), view.assigned_sizes[first].max()
    low, high = np.percentile(view.assigned_sizes[view.assigned_sizes > 0], [25, 75])
    return (
        f"; the first {_FIRST} have {few:.0f} to {most:.0f} counted words, "
        f"half of all documents {low:.0f} to {high:.0f}"
    )


def topic_of(view: View, topic: int | None) -> int:
    """The number of a topic of the fit.

    Raises
    ------
    BadInputError
        where there is none such.
    """
    if topic is None or not 0 <= topic < view.model.doc_topic.shape[1]:
        raise BadInputError(f"There is no topic {topic} in this fit.")
    return topic
