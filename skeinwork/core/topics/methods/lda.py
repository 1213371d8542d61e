"""Latent Dirichlet allocation by collapsed Gibbs sampling.

D. Blei, A. Ng and M. Jordan, *Latent Dirichlet allocation*, JMLR 3, 2003; T. Griffiths and
M. Steyvers, *Finding scientific topics*, PNAS 101, 2004. The asymmetric document prior and the
symmetric word prior are optimised by Minka's fixed point (2000), as H. Wallach, D. Mimno and
A. McCallum recommend (*Rethinking LDA: why priors matter*, 2009).
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.kinds import named
from skeinwork.core.progress import Report, silent
from skeinwork.core.topics.held_out import Gain, Trained, gain_over_one_topic, tokens_of, with_held_out
from skeinwork.core.topics.methods.base import Method, MethodSettings, Watched
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.core.topics.priors import optimise_alpha, optimise_beta
from skeinwork.core.topics.recovery import recovery
from skeinwork.core.topics.samplers import SAMPLERS, quickest
from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.samplers.dense import Dense
from skeinwork.core.topics.starts import gathered_documents
from skeinwork.core.topics.topic_counts import doc_topic_counts, word_topic_counts
from skeinwork.core.topics.trace import Trend, Verdict, trend, verdict

# Iterations between two fits of the priors (Wallach, Mimno and McCallum 2009 took 20 or fewer).
_OPTIMISE_EVERY = 10
# Iterations between two points of the trace.
_TRACE_EVERY = 5
# Iterations between two reports.
_REPORT_EVERY = 10
# Samples that are kept: intervals come from how far they differ.
_SAVED = 10
# Beginnings of which the likeliest is taken.
_STARTS = 8
# Iterations after which beginnings can be told apart.
_START_ITERATIONS = 10
# Share of the tokens that begin in the topic of their document; the others at random.
_FOLLOW = 0.9
# Iterations after which words are foretold; the later ones where the earlier foretell none.
_HELD_OUT_ITERATIONS = (60, 300)


class LdaSettings(MethodSettings):
    """One fit. A prior left out is optimised while sampling."""

    method: Literal["lda"] = "lda"
    iterations: int = Field(400, ge=20, le=20_000)
    alpha: float | None = Field(
        None, ge=1e-6, le=100, description="document prior per topic", json_schema_extra={"left_open": "optimised"}
    )
    beta: float | None = Field(
        None, ge=1e-6, le=100, description="word prior per term", json_schema_extra={"left_open": "optimised"}
    )

    start: Literal["gathered", "random"] = Field(
        "gathered", description="topics to begin with: of groups of documents that are alike, or by chance"
    )
    ngrams: bool = Field(False, description="count n-grams too; a word in a pair then counts twice")
    sampler: named(SAMPLERS) | None = Field(  # type: ignore[valid-type]
        None, description="how topics of tokens are drawn", json_schema_extra={"left_open": "the program chooses"}
    )

    def drawn_by(self, tokens: int) -> type[Sampler]:
        """The sampler that was asked for, or the quickest."""
        return SAMPLERS[self.sampler] if self.sampler else quickest(self.topics, tokens)


class Chain:
    """A chain of samples: the topic of every token, the counts, the priors."""

    def __init__(self, counts: scipy.sparse.csr_matrix, settings: LdaSettings, start_number: int) -> None:
        self.n_docs, self.n_terms = counts.shape
        self.k = settings.topics
        self.settings = settings
        self.words, self.doc_ptr = tokens_of(counts)
        start = np.random.default_rng([settings.seed, settings.topics, start_number])
        self.stream = start.integers(0, 2**63, size=1, dtype=np.uint64)
        self.z = start.integers(0, self.k, size=len(self.words), dtype=np.int32)
        if settings.start == "gathered":
            group = np.repeat(gathered_documents(counts, self.k, start), np.diff(self.doc_ptr))
            follow = start.random(len(self.z)) < _FOLLOW
            self.z[follow] = group[follow]
        self.alpha = np.full(self.k, settings.alpha or 1.0 / self.k)
        self.beta = settings.beta or 0.01
        self.count_words()
        self.sampler = settings.drawn_by(len(self.words))(self)

    def count_words(self) -> None:
        """The counts of words, from the topics of tokens."""
        self._word_topic, self.topic_total = word_topic_counts(self.words, self.z, self.n_terms, self.k)
        self._counted = True

    @property
    def word_topic(self) -> NDArray[np.int32]:
        """Tokens of each topic by word, int32[n_terms, n_topics]."""
        if not self._counted:
            self.count_words()
        return self._word_topic

    def doc_counts(self) -> scipy.sparse.csr_matrix:
        return doc_topic_counts(self.doc_ptr, self.z, self.k)

    def step(self) -> int:
        moved = self.sampler.sweep()
        self._counted = self.sampler.keeps_words
        return moved

    def optimise(self) -> None:
        """The priors that the analyst left open, where their fixed points come to for these topics."""
        if self.settings.alpha is None:
            self.alpha = optimise_alpha(self.doc_counts(), self.alpha)
        if self.settings.beta is None:
            self.beta = optimise_beta(self.word_topic, self.topic_total, self.beta)

    def log_likelihood(self) -> float:
        """log p(words, topics) per token (Griffiths and Steyvers 2004, equations 2 and 3)."""
        gammaln = scipy.special.gammaln
        docs = self.doc_counts()
        # Counts of zero take nothing from a prior's gamma function.
        held, whole = self.alpha[docs.indices], self.alpha.sum()
        some = self.word_topic[self.word_topic > 0] + self.beta
        value = self.k * gammaln(self.n_terms * self.beta)
        value += gammaln(some).sum() - len(some) * gammaln(self.beta)
        value -= gammaln(self.topic_total + self.n_terms * self.beta).sum()
        value += (gammaln(docs.data + held) - gammaln(held)).sum()
        value += self.n_docs * gammaln(whole) - gammaln(np.diff(self.doc_ptr) + whole).sum()
        return float(value / max(len(self.words), 1))

    def topic_word(self) -> NDArray[np.float64]:
        raised = self.word_topic.T + self.beta
        return raised / raised.sum(axis=1, keepdims=True)

    def doc_topic(self) -> NDArray[np.float64]:
        docs = self.doc_counts().toarray()
        raised = docs + self.alpha
        shares = raised / raised.sum(axis=1, keepdims=True)
        return np.where(docs.sum(axis=1, keepdims=True) > 0, shares, 0.0)


def check(counts: scipy.sparse.csr_matrix, settings: LdaSettings) -> None:
    """Raise ``BadInputError`` for weights, an empty vocabulary, or more topics than documents.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
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


def _top_words(sampler: Chain, count: int = 6) -> list[list[int]]:
    counts = sampler.word_topic
    some = np.argpartition(counts, -min(count, len(counts)), axis=0)[-count:]
    order = np.argsort(-np.take_along_axis(counts, some, axis=0), axis=0, kind="stable")
    return np.take_along_axis(some, order, axis=0).T.tolist()


def _work(settings: LdaSettings) -> int:
    """Iterations of a fit, those of the starts among them: the time left is told from them."""
    return settings.iterations + _STARTS * _START_ITERATIONS


def _best_start(counts: scipy.sparse.csr_matrix, settings: LdaSettings, report: Report) -> Chain:
    """Of several independent short chains the likeliest, so that fewer fits stay in a poor mode."""
    best, best_value = None, -np.inf
    for number in range(_STARTS):
        report("Trying starts", number * _START_ITERATIONS / _work(settings), start=number + 1)
        sampler = Chain(counts, settings, number)
        for _ in range(_START_ITERATIONS):
            sampler.step()
        value = sampler.log_likelihood()
        if value > best_value:
            best, best_value = sampler, value
    assert best is not None
    return best


def _other_than_dense(drawn_by: type[Sampler]) -> dict[str, int]:
    """A sampler with its version; the first, which is the method's own, goes without saying."""
    return {} if drawn_by is Dense else {drawn_by.name: drawn_by.VERSION}


def _iterate(sampler: Chain, iterations: int) -> Iterator[tuple[int, int]]:
    """(iteration, tokens moved), with the priors optimised from a quarter of the way on."""
    for iteration in range(1, iterations + 1):
        yield iteration, sampler.step()
        if iteration % _OPTIMISE_EVERY == 0 and iteration >= iterations // 4:
            sampler.optimise()


def fit(counts: scipy.sparse.csr_matrix, settings: LdaSettings, report: Report = silent) -> TopicModel:
    """Fit LDA to counts, int[n_docs, n_terms].

    The last ``_SAVED`` samples, spread over the last fifth of the iterations, are averaged.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; documents without terms get no shares
    settings : topics, seed, iterations; priors that are None are optimised
    report : told the phase, the share done, the trace and the top words so far

    Raises
    ------
    BadInputError
        for weights in place of counts, an empty vocabulary, more topics than documents.
    """
    check(counts, settings)
    sampler = _best_start(counts, settings, report)
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
        {"alpha": sampler.alpha},
        {"beta": sampler.beta, **_other_than_dense(type(sampler.sampler))},
    )


class Lda(Method[LdaSettings]):
    """LDA as the screens and steps know it."""

    name: ClassVar[str] = "lda"
    title: ClassVar[str] = "LDA"
    about: ClassVar[str] = "latent Dirichlet allocation"
    VERSION: ClassVar[int] = 4
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

    def check(self, counts: scipy.sparse.csr_matrix, settings: LdaSettings) -> None:
        check(counts, settings)

    def fit(self, counts: scipy.sparse.csr_matrix, settings: LdaSettings, report: Report = silent) -> TopicModel:
        return fit(counts, settings, report)

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
    ) -> Gain | None:
        """Of a short chain of its own on four in five documents, or on those not held out; see ``Method.gain``."""

        def train(known: scipy.sparse.csr_matrix) -> Iterator[Trained]:
            sampler, done = Chain(known, settings, 0), 0
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
        return (
            f"{drawn_by.title}{why}; alpha {alpha.min():.3f} to {alpha.max():.3f}, beta "
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
