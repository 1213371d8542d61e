"""Non-negative matrix factorisation of documents by terms.

D. Lee and H. Seung, *Learning the parts of objects by non-negative matrix factorization*, Nature 401, 1999.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.in_words import percent
from skeinwork.core.progress import Report, silent
from skeinwork.core.said import counted
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.methods.base import NO_COLUMNS, Method, Vectors, Watched
from skeinwork.core.topics.methods.nmf_advice import advice
from skeinwork.core.topics.methods.nmf_fit import (
    GLOBAL_WEIGHT,
    MEAN_LENGTH,
    STOP,
    STOP_AFTER,
    UNTOLD,
    check,
    fit,
    place,
    unweighted,
)
from skeinwork.core.topics.methods.nmf_fit import NmfSettings as NmfSettings
from skeinwork.core.topics.methods.nmf_working import share_working, told_working, word_working
from skeinwork.core.topics.model import TopicModel, Topics
from skeinwork.core.topics.placing import Placed, topics_of_terms
from skeinwork.core.topics.recovery import recovery
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.core.topics.trace import Verdict
from skeinwork.core.working import Working

# Seconds that a token takes with each topic in one iteration, and iterations that most fits stop after.
_A_TOKEN, _USUAL = {"frobenius": 1.2e-9, "kl": 8e-9}, 40


class Nmf(Method[NmfSettings]):
    """NMF as the screens and steps know it."""

    name: ClassVar[str] = "nmf"
    title: ClassVar[str] = "NMF"
    about: ClassVar[str] = "non-negative matrix factorisation"
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[NmfSettings]] = NmfSettings
    poorer: ClassVar[float] = 0.01
    watches: ClassVar[tuple[Watched, ...]] = (
        Watched("share of the weights told", "share"),
        Watched("change of that in an iteration", "share"),
    )
    sweeps: ClassVar[tuple[str, ...]] = ("topics", "loss", "weights", "start")
    weighs_by: ClassVar[tuple[str, ...]] = (GLOBAL_WEIGHT,)
    told_by: ClassVar[tuple[str, ...]] = (MEAN_LENGTH,)
    shares_of: ClassVar[str] = "what the topics tell"
    gives_intervals: ClassVar[bool] = False
    stops: ClassVar[bool] = True

    def check(self, counts: scipy.sparse.csr_matrix, settings: NmfSettings, columns: Mapping[str, int]) -> None:
        check(counts, settings)

    def fit(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: NmfSettings,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
        states: States = FORGETFUL,
        others: scipy.sparse.csr_matrix | None = None,
        begun: Topics | None = None,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        return fit(counts, settings, report, states, begun)

    def seconds(self, settings: NmfSettings, tokens: int) -> float:
        return tokens * min(settings.iterations, _USUAL) * settings.topics * _A_TOKEN[settings.loss]

    def seeded(self, settings: NmfSettings) -> bool:
        return settings.start == "random"

    def verdict(self, trace: NDArray[np.float64]) -> Verdict:
        """Level where it stopped by itself."""
        stands = len(trace) > STOP_AFTER and bool((trace[-STOP_AFTER:, 2] < STOP).all())
        return "level" if stands else "still moving"

    def advice(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: NmfSettings,
        columns: Mapping[str, int] = NO_COLUMNS,
        unsettled: int = 0,
    ) -> dict[str, Advice]:
        return advice(counts, settings)

    def place_held_out(
        self,
        model: TopicModel,
        counts: scipy.sparse.csr_matrix,
        test: NDArray[np.bool_],
        settings: NmfSettings,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        shares = np.array(model.doc_topic)
        shares[test] = place(model, counts[test], settings)
        return replace(model, doc_topic=shares)

    def place(self, topics: Topics, counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> Placed:
        """Without intervals: a factorisation doesn't say how surely it knows them."""
        return Placed(place(topics, counts, settings))

    def recovery(self, model: TopicModel, lengths: NDArray[np.int64], settings: NmfSettings) -> float | None:
        """Of documents whose words are drawn by the topics without their global weights.

        None of an empty fit, and for the divergence: of short documents it came to .97 where .79 was true.
        """
        share, words = np.asarray(model.doc_topic), unweighted(model, settings)
        known = share[share.sum(axis=1) > 0]
        if settings.loss == "kl" or not len(known):
            return None
        mean = known.mean(axis=0)
        spread = float(known.var(axis=0).sum() / max(float((mean * (1 - mean)).sum()), 1e-12))
        alpha = mean * max(1 / max(spread, 1e-3) - 1, 0.05)  # the Dirichlet with these means and that spread

        def tokens(counts: scipy.sparse.csr_matrix) -> NDArray[np.float64]:
            return place(model, counts, settings) * np.asarray(counts.sum(axis=1))

        return recovery(words, alpha, lengths, place=tokens)

    def shares_said(self, model: TopicModel, settings: NmfSettings) -> str:
        return (
            "Its shares are of what these topics tell of each document, not counts of tokens; their intervals are over "
            "documents alone, the topics as they are."
        )

    def remarks(self, model: TopicModel, settings: NmfSettings) -> str:
        told, nothing = percent(float(model.trace[-1, 1]), 1), round(model.overall.get(UNTOLD, 0))
        of = "squares of the weights" if settings.loss == "frobenius" else "divergence from one topic for all"
        return (
            f"{settings.weighting}; {len(model.trace)} iterations; the topics tell {told} of the {of}; "
            "shares are those of what is told of a document"
            + (f"; of {counted(nothing, 'document')} with terms nothing is told" if nothing else "")
        )

    def share_working(
        self, model: TopicModel, topic: int, document: int, counts: scipy.sparse.csr_matrix, settings: NmfSettings
    ) -> Working:
        return share_working(model, topic, document, counts, settings)

    def word_working(self, model: TopicModel, topic: int, term: int, counts: scipy.sparse.csr_matrix) -> Working:
        return word_working(model, topic, term, counts)

    def watched_working(self, model: TopicModel, counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> Working:
        return told_working(model, counts, settings)

    def judged(self, verdict: Verdict, change: tuple[float, float, float] | None, ended: bool = True) -> str:
        if verdict == "level":
            stood = f"changed by under {percent(STOP)} in each of the last {STOP_AFTER} iterations"
            return f"It stopped by itself: what is told {stood}"
        return super().judged(verdict, change, ended)

    def token_weights(self, model: TopicModel, document: int, terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """The topic's share times the word's weight in it, as a part of that of all topics.

        Of terms, int64[n_tokens]; float64[n_topics, n_tokens].
        """
        return topics_of_terms(np.asarray(model.doc_topic[document]), np.asarray(model.topic_word), terms)


NMF = Nmf()
