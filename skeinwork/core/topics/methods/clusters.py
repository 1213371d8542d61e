"""Topics as dense groups of documents by their vectors.

R. Campello, D. Moulavi and J. Sander, *Density-based clustering based on hierarchical density estimates*, PAKDD 2013.
A document has one topic or none.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.in_words import percent
from skeinwork.core.progress import Report, silent
from skeinwork.core.said import count, counted, decimal
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.clustered import OUTLIER, WITHOUT
from skeinwork.core.topics.methods.base import NO_COLUMNS, Method, Vectors, Watched
from skeinwork.core.topics.methods.clusters_fit import (
    CHANCE,
    GLOBAL_WEIGHT,
    PROMINENCE,
    SMALLEST,
    STEADY,
    ClustersSettings,
    check,
    fit,
    shares_of,
    smallest_of,
    with_others,
)
from skeinwork.core.topics.model import TopicModel, Topics
from skeinwork.core.topics.placing import Placed
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.core.topics.trace import Verdict
from skeinwork.core.working import Line, Working

# Seconds that a token takes, with vectors at hand.
_A_TOKEN = 2e-5
# Halves that say how steady topics are, and those that are written out.
_ENOUGH, _SHOWN = 5, 6


class Clusters(Method[ClustersSettings]):
    """Dense groups of documents as the screens and steps know them."""

    name: ClassVar[str] = "clusters"
    title: ClassVar[str] = "Vector clusters"
    about: ClassVar[str] = "dense groups of documents by their vectors; a document has one topic or none"
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[ClustersSettings]] = ClustersSettings
    poorer: ClassVar[float] = 0.1
    watches: ClassVar[tuple[Watched, ...]] = (
        Watched("share of documents that keep their topic in halves", "share"),
        Watched("topics found in the last", "number"),
    )
    sweeps: ClassVar[tuple[str, ...]] = ("topics", "smallest", "dimensions")
    weighs_by: ClassVar[tuple[str, ...]] = (GLOBAL_WEIGHT,)
    shares_of: ClassVar[str] = "documents"
    gives_intervals: ClassVar[bool] = False
    reads_vectors: ClassVar[bool] = True
    finds: ClassVar[bool] = True
    finishing: ClassVar[tuple[str, ...]] = ("topics", "reach", "thinning")

    def check(self, counts: scipy.sparse.csr_matrix, settings: ClustersSettings, columns: Mapping[str, int]) -> None:
        check(counts, settings)

    def fit(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: ClustersSettings,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
        states: States = FORGETFUL,
        others: scipy.sparse.csr_matrix | None = None,
        begun: Topics | None = None,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        if vectors is None:
            raise BadInputError("Documents have no vectors. Make them at Relate, Alike documents.")
        return fit(counts, vectors, settings, report, states)

    def seconds(self, settings: ClustersSettings, tokens: int) -> float:
        return 1 + tokens * _A_TOKEN * (1 + settings.iterations / 10)

    def seeded(self, settings: ClustersSettings) -> bool:
        """Another seed draws other halves, and finds the same."""
        return False

    def verdict(self, trace: NDArray[np.float64]) -> Verdict:
        return "level" if len(trace) >= _ENOUGH else "too short to tell"

    def judged(self, verdict: Verdict, change: tuple[float, float, float] | None, ended: bool = True) -> str:
        if verdict == "level":
            return "How steady its topics are is seen in halves of the documents drawn at random"
        return "Too few halves of the documents were looked at to say how steady the topics are" + (
            ". Ask for more iterations" if ended else ""
        )

    def advice(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: ClustersSettings,
        columns: Mapping[str, int] = NO_COLUMNS,
        unsettled: int = 0,
    ) -> dict[str, Advice]:
        filled = int((np.diff(counts.indptr) > 0).sum())
        open_ = smallest_of(settings.model_copy(update={"smallest": None}), filled)
        why = f"{percent(open_ / filled, 1)} of the {counted(filled, 'document')} with counted words"
        little = f"down to 5, up to {count(filled // 5)} groups could be found, many of them copies of one text"
        much = f"from {count(filled // 4)} on there would be room for three topics"
        return {"smallest": Advice(open_, why, 5, filled // 4, little, much)}

    def place_held_out(
        self,
        model: TopicModel,
        counts: scipy.sparse.csr_matrix,
        test: NDArray[np.bool_],
        settings: ClustersSettings,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        """Each in the topic of the nearest centre, where it is about as near to that as its documents are."""
        assert vectors is not None and model.clustered is not None
        return with_others(model, counts, vectors.of(test), settings)

    def place(self, topics: Topics, counts: scipy.sparse.csr_matrix, settings: ClustersSettings) -> Placed:
        """By their words: the topic whose weights of words are nearest by the cosine; none without a known word."""
        weights = np.asarray(topics.topic_word)
        unit = weights / np.maximum(np.sqrt((weights**2).sum(axis=1, keepdims=True)), 1e-300)
        own = scipy.sparse.csr_matrix(counts, dtype=np.float64).multiply(np.asarray(topics.by_term[GLOBAL_WEIGHT]))
        near = np.round(np.asarray(scipy.sparse.csr_matrix(own) @ unit.T), 9)
        of = np.where(near.max(axis=1, initial=0.0) > 0, near.argmax(axis=1), OUTLIER)
        return Placed(shares_of(of, len(weights)))

    def shares_said(self, model: TopicModel, settings: ClustersSettings) -> str:
        assert model.clustered is not None
        outside = int((model.clustered.within(settings.reach) == OUTLIER).sum())
        return (
            "Its shares are of documents, each of which has one topic or none: "
            f"{counted(outside, 'document')} in none count among all. The intervals hold how far "
            f"{counted(len(model.drawn) - 1, 'clustering')} of halves of the documents, with smaller and larger "
            "smallest topics, stand apart from this one."
        )

    def remarks(self, model: TopicModel, settings: ClustersSettings) -> str:
        assert model.clustered is not None
        found, of = model.clustered.found, model.clustered.within(settings.reach)
        outliers, came = int((of == OUTLIER).sum()), int(((found == OUTLIER) & (of >= 0)).sum())
        without, all_ = int((found == WITHOUT).sum()), int((found != WITHOUT).sum())
        said = [
            f"{counted(outliers, 'document')} of {count(all_)} ({percent(outliers / max(all_, 1))}) are in no topic",
            f"{counted(came, 'outlier')} came in by a reach of {decimal(settings.reach or 0, 2)}" if came else "",
            f"{counted(without, 'document')} without a vector" if without else "",
            f"topics of {count(round(model.overall[SMALLEST]))} or more",
            f"the least prominent is {decimal(float(model.by_topic[PROMINENCE].min()), 2)} times as dense as around, "
            f"by chance one would be {decimal(model.overall[CHANCE], 2)} times",
            f"the least steady is found again in halves by {decimal(float(model.by_topic[STEADY].min()), 2)} (Jaccard)",
        ]
        return "; ".join(filter(None, said))

    def said(self, settings: ClustersSettings) -> tuple[str, str]:
        return f"{self.title}, {settings.topics} at most", f"seed {settings.seed}"

    def token_weights(self, model: TopicModel, document: int, terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """Of the document's topic, the part that its weight of the term is of that of all topics, float64[n_topics,
        n_tokens]; of terms, int64[n_tokens]."""
        share, known = np.asarray(model.doc_topic[document]), np.maximum(terms, 0)
        weights = np.asarray(model.topic_word)[:, known]
        own = share[:, None] * weights / np.maximum(weights.sum(axis=0), 1e-300)
        return np.where(terms >= 0, own, 0.0)

    def share_working(
        self, model: TopicModel, topic: int, document: int, counts: scipy.sparse.csr_matrix, settings: ClustersSettings
    ) -> Working:
        made = model.clustered
        assert made is not None
        if made.found[document] == WITHOUT:
            return Working(note="It has no vector, so it is in no topic.")
        near, cosine = int(made.nearest[document]), float(made.cosine[document])
        found = "found in it" if made.found[document] == near else "an outlier"
        reach = f"reach {decimal(settings.reach, 2)}" if settings.reach is not None else "no reach"
        line = Line(
            name="distance to the centre",
            formula="1 − Σ x m / (|x| |m|), m the middle of the topic's documents",
            numbers=f"1 − {cosine:.4f}",
            value=1 - cosine,
        )
        if near != topic:
            return Working(lines=[line], note=f"Its nearest topic is another, {near + 1}: it is {found}, with {reach}.")
        return Working(lines=[line], note=f"It was {found}, with {reach}; a document has one topic or none.")

    def watched_working(
        self, model: TopicModel, counts: scipy.sparse.csr_matrix, settings: ClustersSettings
    ) -> Working:
        """How many documents keep their topic in halves, the mean over these."""
        points = model.trace
        each = np.diff(points[:, 1] * points[:, 0], prepend=0.0)
        more = " + …" if len(each) > _SHOWN else ""
        line = Line(
            name="kept in halves",
            formula="mean over halves of (documents with the same topic / documents with a topic)",
            numbers=f"({' + '.join(decimal(one, 3) for one in each[:_SHOWN])}{more}) / {len(each)}",
            value=float(points[-1, 1]),
        )
        return Working(
            title=f"Documents that keep their topic in {counted(len(points), 'half').replace('halfs', 'halves')}",
            lines=[line],
            note="Half of the documents are drawn at random, with the smallest topic as wanted, smaller and larger in "
            "turn; the others are in the topic of their nearest neighbour there, where that reaches so far.",
        )

    def word_working(self, model: TopicModel, topic: int, term: int, counts: scipy.sparse.csr_matrix) -> Working:
        there = np.asarray(model.doc_topic)[:, topic] > 0
        times, tokens = int(counts[there][:, [term]].sum()), int(counts[there].sum())
        weight = float(model.by_term[GLOBAL_WEIGHT][term])
        return Working(
            lines=[
                Line(
                    name="of the words of its documents",
                    formula="n_kt / n_k",
                    numbers=f"{count(times)} / {count(tokens)}",
                    value=times / max(tokens, 1),
                ),
                Line(
                    name="times how few topics have it",
                    formula="ln ((1 + K) / (1 + Σ_j p_jt / max_i p_it)), p the shares above",
                    numbers=f"K = {len(model.topic_word)}",
                    value=weight,
                ),
                Line(
                    name="weight",
                    formula="their product over that of all; no more than that of a word before that says the same",
                    numbers=f"{decimal(times / max(tokens, 1), 5)} × {decimal(weight, 3)}",
                    value=float(model.topic_word[topic, term]),
                ),
            ],
            note="Weights compare words within a topic.",
        )


CLUSTERS = Clusters()
