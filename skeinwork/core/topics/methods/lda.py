"""Latent Dirichlet allocation by collapsed Gibbs sampling.

D. Blei, A. Ng and M. Jordan, *Latent Dirichlet allocation*, JMLR 3, 2003; T. Griffiths and
M. Steyvers, *Finding scientific topics*, PNAS 101, 2004. The asymmetric document prior and the
symmetric word prior are optimised by Minka's fixed point (2000), as H. Wallach, D. Mimno and
A. McCallum recommend (*Rethinking LDA: why priors matter*, 2009).
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.held_out import Gain, Trained, gain_over_one_topic, with_held_out
from skeinwork.core.topics.methods.base import NO_COLUMNS, Method, Watched
from skeinwork.core.topics.methods.lda_advice import advice
from skeinwork.core.topics.methods.lda_chain import Chain as Chain
from skeinwork.core.topics.methods.lda_chain import LdaSettings as LdaSettings
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.core.topics.recovery import recovery
from skeinwork.core.topics.samplers import SAMPLERS
from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.samplers.dense import Dense
from skeinwork.core.topics.seed_words import SeedTokens, seed_words
from skeinwork.core.topics.trace import Trend, Verdict, trend, verdict

# Iterations between two fits of the priors (Wallach, Mimno and McCallum 2009 took 20 or fewer), and before the first:
# of a chain that went on, so that it is where a longer one would be, whatever the iterations asked for.
_OPTIMISE_EVERY, _OPTIMISE_FROM = 10, 20
# Iterations between two points of the trace.
_TRACE_EVERY = 5
# Iterations between two reports.
_REPORT_EVERY = 10
# Samples that are kept: intervals come from how far they differ.
_SAVED = 10
# Iterations after which it shows whether a start from gathered documents or one by chance comes further, on so many
# documents at most. Where there are more topics than themes the first splits the themes evenly and stays there, .1 nats
# a token below the other with 22 and 40 topics of the demo; where there are as many, chance joins some for good.
_COMPARED, _COMPARED_DOCUMENTS = 50, 2000
# What a model holds that began by chance since that came further.
_BY_CHANCE = "by chance"
# Iterations that finding a start takes about as long as.
_START = 60
# Iterations after which words are foretold; the later ones where the earlier foretell none.
_HELD_OUT_ITERATIONS = (60, 300)


def check(counts: scipy.sparse.csr_matrix, settings: LdaSettings, columns: Mapping[str, int]) -> SeedTokens:
    """Raise ``BadInputError`` for weights, an empty vocabulary, more topics than documents, seed words of no term.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; columns : of the terms, by what these are called

    Returns
    -------
    The seed words
    """
    if not np.issubdtype(counts.dtype, np.integer):
        raise BadInputError("LDA reads counts, not weights. Fit it on the counts of this matrix.")
    filled = int((np.diff(counts.indptr) > 0).sum())
    if counts.shape[1] == 0 or filled == 0:
        raise BadInputError("The vocabulary is empty, so there is nothing to fit.")
    if filled == 1:
        raise BadInputError(
            "Only one document has counted words, and one makes no topics. Bring in more at Gather, or "
            "cut it into parts there."
        )
    if settings.topics > filled:
        raise BadInputError(f"{settings.topics} topics are more than the {filled} documents with words. Ask for fewer.")
    if len(settings.seed_words) > settings.topics:
        raise BadInputError(f"There are seed words of {len(settings.seed_words)} topics. Ask for as many topics.")
    return seed_words(settings.seed_words, settings.hold, columns)


def _top_words(sampler: Chain, count: int = 6) -> list[list[int]]:
    counts = sampler.word_topic
    some = np.argpartition(counts, -min(count, len(counts)), axis=0)[-count:]
    order = np.argsort(-np.take_along_axis(counts, some, axis=0), axis=0, kind="stable")
    return np.take_along_axis(some, order, axis=0).T.tolist()


def _work(settings: LdaSettings) -> int:
    """Iterations of a fit, with what the start takes: the time left is told from them."""
    return settings.iterations + _START


def _seeded(settings: LdaSettings) -> dict[str, NDArray[np.float64]]:
    """The line of seed words that each topic has, counted from 1; 0 for none."""
    lines, topics = len(settings.seed_words), np.arange(1.0, settings.topics + 1)
    return {"seeded": np.where(topics <= lines, topics, 0.0)} if lines else {}


def _other_than_dense(drawn_by: type[Sampler]) -> dict[str, int]:
    """A sampler with its version; the first, which is the method's own, goes without saying."""
    return {} if drawn_by is Dense else {drawn_by.name: drawn_by.VERSION}


def _iterate(sampler: Chain, iterations: int) -> Iterator[tuple[int, int]]:
    """(iteration, tokens moved), with the priors optimised now and then."""
    for iteration in range(1, iterations + 1):
        yield iteration, sampler.step()
        if iteration % _OPTIMISE_EVERY == 0 and iteration >= _OPTIMISE_FROM:
            sampler.optimise()


def _begin(counts: scipy.sparse.csr_matrix, settings: LdaSettings, seeds: SeedTokens, report: Report) -> Chain:
    """A chain that begins as is asked for: by chance, or from gathered documents unless chance comes further."""
    if settings.start == "random":
        return Chain(counts, settings, seeds)
    filled = np.flatnonzero(np.diff(counts.indptr) > 0)
    some = np.random.default_rng([settings.seed, 13]).permutation(filled)[:_COMPARED_DOCUMENTS]
    found: dict[str, float] = {}
    if len(some) >= settings.topics:
        for at, start in enumerate(("gathered", "random")):
            plain = settings.model_copy(update={"start": start, "sampler": "dense"})
            chain = Chain(counts[np.sort(some)], plain, seeds, part_of(report, at / 3, at / 3))
            for iteration, _ in _iterate(chain, _COMPARED):
                report("Trying starts", (at + iteration / _COMPARED) / 3)
            found[start] = chain.log_likelihood()
    better = max(found, key=lambda start: found[start], default="gathered")
    return Chain(counts, settings.model_copy(update={"start": better}), seeds, part_of(report, 2 / 3, 1))


def fit(
    counts: scipy.sparse.csr_matrix,
    settings: LdaSettings,
    report: Report = silent,
    columns: Mapping[str, int] = NO_COLUMNS,
) -> TopicModel:
    """Fit LDA to counts, int[n_docs, n_terms].

    The last ``_SAVED`` samples, spread over the last fifth of the iterations, are averaged.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; documents without terms get no shares
    settings : topics, seed, iterations; priors that are None are optimised
    report : told the phase, the share done, the trace and the top words so far
    columns : of the terms, by what these are called: where seed words are found

    Raises
    ------
    BadInputError
        for what ``check`` refuses.
    """
    begins = part_of(report, 0, _START / _work(settings))
    sampler = _begin(counts, settings, check(counts, settings, columns), begins)
    by_chance = {_BY_CHANCE: 1.0} if sampler.settings.start != settings.start else {}
    n, every = settings.iterations, max(1, settings.iterations // (5 * _SAVED))
    saved_at = {n - every * back for back in range(_SAVED)}
    trace: list[tuple[float, ...]] = []
    words, docs, priors = np.zeros((sampler.k, sampler.n_terms)), [], []
    shares = np.zeros((sampler.n_docs, sampler.k))
    for iteration, moved in _iterate(sampler, n):
        if iteration % _TRACE_EVERY == 0:
            share = moved / max(len(sampler.words), 1)
            whole = float(sampler.alpha.sum())
            trace.append((iteration, sampler.log_likelihood(), share, whole))
        if iteration % _REPORT_EVERY == 0 or iteration == n:
            top = _top_words(sampler)
            done = 1 - (n - iteration) / _work(settings)
            report("Sampling", done, trace=trace, top=top, iteration=iteration)
        if iteration in saved_at:
            words += sampler.topic_word()
            shares += sampler.doc_topic()
            docs.append(sampler.doc_counts())
            priors.append(sampler.alpha)
    return TopicModel(
        words / len(docs),
        shares / len(docs),
        Samples.of_counts(docs, np.array(priors)),
        np.array(trace),
        {"alpha": sampler.alpha, **_seeded(settings)},
        {"beta": sampler.beta, **_other_than_dense(type(sampler.sampler)), **by_chance},
    )


class Lda(Method[LdaSettings]):
    """LDA as the screens and steps know it."""

    name: ClassVar[str] = "lda"
    title: ClassVar[str] = "LDA"
    about: ClassVar[str] = "latent Dirichlet allocation"
    VERSION: ClassVar[int] = 5
    settings: ClassVar[type[LdaSettings]] = LdaSettings
    poorer: ClassVar[float] = 0.05
    watches: ClassVar[tuple[Watched, ...]] = (
        Watched("log-likelihood per token", "nats a token"),
        Watched("tokens that changed topic", "share"),
        Watched("sum of the document prior", "number"),
    )
    stuck: ClassVar[str] = "no token changed its topic in the last half. Look at the vocabulary"
    sweeps: ClassVar[tuple[str, ...]] = ("topics", "alpha", "beta", "ngrams")

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
    ) -> TopicModel:
        return fit(counts, settings, report, columns)

    def seconds(self, settings: LdaSettings, tokens: int) -> float:
        """Every token is weighed for every topic in each iteration, those of the starts too."""
        iterations = _work(settings) + _HELD_OUT_ITERATIONS[0]
        return tokens * iterations * settings.drawn_by(tokens).seconds(settings.topics)

    def fit_share(self, settings: LdaSettings) -> float:
        return _work(settings) / (_work(settings) + _HELD_OUT_ITERATIONS[0])

    def verdict(self, model: TopicModel) -> Verdict:
        return verdict(*model.trace.T[1:4])

    def trend(self, model: TopicModel) -> Trend | None:
        return trend(model.trace[:, 1])

    def gain(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        test: NDArray[np.bool_] | None = None,
        report: Report = silent,
        columns: Mapping[str, int] = NO_COLUMNS,
    ) -> Gain | None:
        """Of a short chain of its own on four in five documents, or on those not held out; see ``Method.gain``."""

        seeds = seed_words(settings.seed_words, settings.hold, columns)

        def train(known: scipy.sparse.csr_matrix) -> Iterator[Trained]:
            sampler, done = _begin(known, settings, seeds, part_of(report, 0, 0)), 0
            for iterations in _HELD_OUT_ITERATIONS:
                words = np.zeros((sampler.k, sampler.n_terms))
                while done < iterations:
                    report("Foretelling words of other documents", done / iterations)
                    done += 1
                    sampler.step()
                    if done % _OPTIMISE_EVERY == 0:
                        sampler.optimise()
                    if done > iterations - _SAVED:
                        words += sampler.topic_word() / _SAVED
                sampler.optimise()
                yield words, sampler.alpha, sampler.topic_total.astype(np.float64)

        return gain_over_one_topic(counts, train, settings.seed, test)

    def advice(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        columns: Mapping[str, int] = NO_COLUMNS,
        unsettled: int = 0,
    ) -> dict[str, Advice]:
        return advice(counts, settings, columns, unsettled)

    def place_held_out(
        self, model: TopicModel, counts: scipy.sparse.csr_matrix, test: NDArray[np.bool_], settings: LdaSettings
    ) -> TopicModel:
        return with_held_out(model, counts, test, model.by_topic["alpha"], settings.seed)

    def recovery(self, model: TopicModel, lengths: NDArray[np.int64]) -> float | None:
        return recovery(np.asarray(model.topic_word), model.by_topic["alpha"], lengths)

    def parts(self, settings: LdaSettings) -> dict[str, int]:
        """Its own version, and that of the sampler that a corpus of any size may have."""
        return {**super().parts(settings), **_other_than_dense(settings.drawn_by(2**62))}

    def remarks(self, model: TopicModel, settings: LdaSettings) -> str:
        alpha = model.by_topic["alpha"]
        drawn_by = next((each for name, each in SAMPLERS.items() if name in model.overall), Dense)
        why = "" if settings.sampler or drawn_by is Dense else f", chosen for {settings.topics} topics"
        begun = "; begun by chance, which came further" if _BY_CHANCE in model.overall else ""
        return (
            f"{drawn_by.title}{why}{begun}; alpha {alpha.min():.3f} to {alpha.max():.3f}, beta "
            f"{model.overall['beta']:.3f}; the mean of {len(model.samples or ())} saved samples"
        )

    def token_weights(self, model: TopicModel, document: int, terms: NDArray[np.int64]) -> NDArray[np.float64]:
        """p(topic | word, document), proportional to the topic's share times the word's probability.

        Of terms, int64[n_tokens]; float64[n_topics, n_tokens].
        """
        share = np.asarray(model.doc_topic[document])[:, None]
        joint = np.asarray(model.topic_word)[:, terms] * share
        likely: NDArray[np.float64] = joint / np.maximum(joint.sum(axis=0), 1e-300)
        return np.where(terms >= 0, likely, 0.0)


LDA = Lda()
