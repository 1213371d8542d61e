"""Latent Dirichlet allocation by collapsed Gibbs sampling.

D. Blei, A. Ng and M. Jordan, *Latent Dirichlet allocation*, JMLR 3, 2003; T. Griffiths and
M. Steyvers, *Finding scientific topics*, PNAS 101, 2004. The asymmetric document prior and the
symmetric word prior are optimised by Minka's fixed point (2000), as H. Wallach, D. Mimno and
A. McCallum recommend (*Rethinking LDA: why priors matter*, 2009).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from itertools import count
from typing import ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.fold_in import fold_in
from skeinwork.core.topics.gain import Foretold, Gain
from skeinwork.core.topics.held_out import Trained, foretold, gain_over_one_topic, tokens_of, with_held_out
from skeinwork.core.topics.methods.base import NO_COLUMNS, Method, Vectors, Watched
from skeinwork.core.topics.methods.lda_advice import advice
from skeinwork.core.topics.methods.lda_chain import Chain as Chain
from skeinwork.core.topics.methods.lda_chain import LdaSettings as LdaSettings
from skeinwork.core.topics.methods.lda_fit import (
    BY_CHANCE,
    SAVED,
    begin,
    check,
    optimise_if_due,
    other_than_dense,
    saved,
    work_of,
)
from skeinwork.core.topics.methods.lda_fit import fit as fit
from skeinwork.core.topics.methods.lda_working import likelihood_working, share_working, word_working
from skeinwork.core.topics.model import Samples, TopicModel, Topics
from skeinwork.core.topics.placing import Placed, place, topics_of_terms
from skeinwork.core.topics.recovery import recovery
from skeinwork.core.topics.samplers import SAMPLERS
from skeinwork.core.topics.samplers.dense import Dense
from skeinwork.core.topics.seed_words import seed_words
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.core.topics.trace import Trend, Verdict, trend, verdict
from skeinwork.core.working import Working

# Iterations after which words are foretold; the later ones where the earlier foretell none.
_HELD_OUT_ITERATIONS = (60, 300)
# Iterations that place a document, and how many of them are kept.
_PLACING = (250, 200)


class Lda(Method[LdaSettings]):
    """LDA as the screens and steps know it."""

    name: ClassVar[str] = "lda"
    title: ClassVar[str] = "LDA"
    about: ClassVar[str] = "latent Dirichlet allocation"
    VERSION: ClassVar[int] = 6
    settings: ClassVar[type[LdaSettings]] = LdaSettings
    poorer: ClassVar[float] = 0.05
    watches: ClassVar[tuple[Watched, ...]] = (
        Watched("log-likelihood per token", "nats a token"),
        Watched("tokens that changed topic", "share"),
        Watched("sum of the document prior", "number"),
        Watched("log-likelihood per token of documents held out", "nats a token", held_out=True),
    )
    stuck: ClassVar[str] = "no token changed its topic in the last half. Look at the vocabulary"
    sweeps: ClassVar[tuple[str, ...]] = ("topics", "alpha", "beta", "ngrams")
    placed_by: ClassVar[tuple[str, ...]] = ("alpha",)

    def reads(self, settings: LdaSettings, lengths: NDArray[np.int8]) -> NDArray[np.bool_]:
        """Words, and phrases that replace some, unless n-grams are asked for; bool[n_terms]."""
        return np.asarray((lengths == 1) | settings.ngrams)

    def check(self, counts: scipy.sparse.csr_matrix, settings: LdaSettings, columns: Mapping[str, int]) -> None:
        check(counts, settings, columns)

    def fit(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
        states: States = FORGETFUL,
        others: scipy.sparse.csr_matrix | None = None,
        begun: Topics | None = None,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        return fit(counts, settings, report, columns, states, others, begun)

    def least_to_go_on(self, reached: int) -> int:
        """The first of its samples has to come after the state."""
        return next(n for n in count(reached + 1) if min(saved(n)) > reached)

    def seconds(self, settings: LdaSettings, tokens: int) -> float:
        """Every token is weighed for every topic in each iteration, those of the starts too."""
        iterations = work_of(settings) + _HELD_OUT_ITERATIONS[0]
        return tokens * iterations * settings.drawn_by(tokens).seconds(settings.topics)

    def fit_share(self, settings: LdaSettings) -> float:
        return work_of(settings) / (work_of(settings) + _HELD_OUT_ITERATIONS[0])

    def verdict(self, trace: NDArray[np.float64]) -> Verdict:
        return verdict(*trace.T[1:4])

    def trend(self, trace: NDArray[np.float64]) -> Trend | None:
        return trend(trace[:, 1])

    def foretold(self, model: TopicModel, counts: scipy.sparse.csr_matrix, settings: LdaSettings) -> Foretold | None:
        return foretold((np.asarray(model.topic_word), model.by_topic["alpha"], model.drawn.topic_tokens), counts)

    def gain(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
    ) -> Gain | None:
        """Of a short chain on four in five documents; see ``Method.gain``."""
        seeds = seed_words(settings.seed_words, settings.hold, columns)

        def train(known: scipy.sparse.csr_matrix) -> Iterator[Trained]:
            sampler, done = begin(known, settings, seeds, part_of(report, 0, 0)), 0
            for iterations in _HELD_OUT_ITERATIONS:
                words = np.zeros((sampler.k, sampler.n_terms))
                while done < iterations:
                    report("Foretelling words of other documents", done / iterations)
                    done += 1
                    sampler.step()
                    optimise_if_due(sampler, done)
                    if done > iterations - SAVED:
                        words += sampler.topic_word() / SAVED
                sampler.optimise()
                yield words, sampler.alpha, sampler.topic_total.astype(np.float64)

        return gain_over_one_topic(counts, train, settings.seed)

    def advice(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        columns: Mapping[str, int] = NO_COLUMNS,
        unsettled: int = 0,
    ) -> dict[str, Advice]:
        return advice(counts, settings, columns, unsettled)

    def place_held_out(
        self,
        model: TopicModel,
        counts: scipy.sparse.csr_matrix,
        test: NDArray[np.bool_],
        settings: LdaSettings,
        vectors: Vectors | None = None,
    ) -> TopicModel:
        return with_held_out(model, counts, test, model.by_topic["alpha"], settings.seed)

    def place(self, topics: Topics, counts: scipy.sparse.csr_matrix, settings: LdaSettings) -> Placed:
        """By draws, which are the same whatever documents are placed together."""

        def draw(some: scipy.sparse.csr_matrix) -> Samples:
            words, alpha = topics.topic_word, topics.by_topic["alpha"]
            return fold_in(*tokens_of(some), words, alpha, *_PLACING, seed=settings.seed, apart=False)

        return place(counts, draw)

    def recovery(self, model: TopicModel, lengths: NDArray[np.int64], settings: LdaSettings) -> float | None:
        return recovery(np.asarray(model.topic_word), model.by_topic["alpha"], lengths)

    def parts(self, settings: LdaSettings) -> dict[str, int]:
        """Its own version, and that of the sampler that a corpus of any size may have."""
        return {**super().parts(settings), **other_than_dense(settings.drawn_by(2**62))}

    def remarks(self, model: TopicModel, settings: LdaSettings) -> str:
        alpha = model.by_topic["alpha"]
        drawn_by = next((each for name, each in SAMPLERS.items() if name in model.overall), Dense)
        why = "" if settings.sampler or drawn_by is Dense else f", chosen for {settings.topics} topics"
        begun = "; begun by chance, which came further" if BY_CHANCE in model.overall else ""
        return (
            f"{drawn_by.title}{why}{begun}; alpha {alpha.min():.3f} to {alpha.max():.3f}, beta "
            f"{model.overall['beta']:.3f}; the mean of {len(model.samples or ())} saved samples"
        )

    def share_working(
        self, model: TopicModel, topic: int, document: int, counts: scipy.sparse.csr_matrix, settings: LdaSettings
    ) -> Working:
        tokens = int(model.drawn.counts(0)[[document]].sum())
        return share_working(model, topic, document, tokens)

    def word_working(self, model: TopicModel, topic: int, term: int, counts: scipy.sparse.csr_matrix) -> Working:
        size = float(model.drawn.topic_tokens[topic])
        return word_working(model, topic, term, int(counts[:, [term]].sum()), size)

    def watched_working(self, model: TopicModel, counts: scipy.sparse.csr_matrix, settings: LdaSettings) -> Working:
        return likelihood_working(model, counts)

    def token_weights(self, model: TopicModel, document: int, terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """p(topic | word, document), proportional to the topic's share times the word's probability.

        Of terms, int64[n_tokens]; float64[n_topics, n_tokens].
        """
        return topics_of_terms(np.asarray(model.doc_topic[document]), np.asarray(model.topic_word), terms)


LDA = Lda()
