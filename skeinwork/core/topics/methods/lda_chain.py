"""A chain of samples of latent Dirichlet allocation: its settings, its beginning, its steps, what it holds.

D. Blei, A. Ng and M. Jordan, *Latent Dirichlet allocation*, JMLR 3, 2003; T. Griffiths and
M. Steyvers, *Finding scientific topics*, PNAS 101, 2004.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import Field, StrictBool

from skeinwork.core.content import expect_array
from skeinwork.core.kinds import named
from skeinwork.core.progress import Report, silent
from skeinwork.core.topics.factored_start import FactoredStart
from skeinwork.core.topics.held_out import tokens_of
from skeinwork.core.topics.methods.base import MOST_ITERATIONS, MethodSettings
from skeinwork.core.topics.model import Topics
from skeinwork.core.topics.priors import optimise_alpha, optimise_beta
from skeinwork.core.topics.samplers import SAMPLERS, quickest
from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.seed_words import NONE, SeedTokens
from skeinwork.core.topics.starts import MOST_STARTS, GivenStart, LikelyStart
from skeinwork.core.topics.states import State
from skeinwork.core.topics.topic_counts import doc_topic_counts, word_topic_counts

# No prior comes to less.
_LEAST_PRIOR = 1e-12


class LdaSettings(MethodSettings):
    """One fit. A prior left out is optimised while sampling."""

    method: Literal["lda"] = "lda"
    iterations: int = Field(400, strict=True, ge=20, le=MOST_ITERATIONS)
    alpha: float | None = Field(
        None,
        strict=True,
        ge=1e-6,
        le=100,
        description="document prior per topic",
        json_schema_extra={"left_open": "optimised"},
    )
    beta: float | None = Field(
        None,
        strict=True,
        ge=1e-6,
        le=100,
        description="word prior per term",
        json_schema_extra={"left_open": "optimised"},
    )

    start: Literal["gathered", "factorised", "random"] = Field(
        "gathered",
        description="topics to begin with: of documents that are alike unless chance comes further, of a "
        "factorisation, or by chance",
    )
    ngrams: StrictBool = Field(False, description="count n-grams too; a word in a pair then counts twice")
    sampler: named(SAMPLERS) | None = Field(  # type: ignore[valid-type]
        None, description="how topics of tokens are drawn", json_schema_extra={"left_open": "the program chooses"}
    )

    seed_words: tuple[Annotated[str, Field(max_length=4000)], ...] = Field(
        (),
        max_length=500,
        description="words that mark a topic, a topic a line",
        json_schema_extra={"words": True, "lines": True, "line": "storm gale surge"},
    )
    hold: int = Field(
        20, strict=True, ge=1, le=100_000, description="tokens that each of these words counts more in its topic"
    )

    def drawn_by(self, tokens: int) -> type[Sampler]:
        """The sampler that was asked for, or the quickest."""
        return SAMPLERS[self.sampler] if self.sampler else quickest(self.topics, tokens)


class Chain:
    """A chain of samples: the topic of every token, the counts, the priors.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; seeds : tokens that always are of their topic
    starts : beginnings of which the likeliest is taken, at most
    state : of an equal chain that stopped, to go on from
    begun : topics to begin with, of the same terms, in place of a start

    Raises
    ------
    ContentError
        for a state that is not one of such a chain.
    """

    def __init__(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        seeds: SeedTokens = NONE,
        report: Report = silent,
        starts: int = MOST_STARTS,
        state: State | None = None,
        begun: Topics | None = None,
    ) -> None:
        self.n_docs, self.n_terms = counts.shape
        self.k = settings.topics
        self.settings, self.seeds = settings, seeds
        self.words, self.doc_ptr = tokens_of(counts)
        self.alpha = np.full(self.k, settings.alpha or 1.0 / self.k)
        self.beta = settings.beta or 0.01
        rng = np.random.default_rng([settings.seed, settings.topics])
        self.stream = rng.integers(0, 2**63, size=1, dtype=np.uint64)
        if state is not None:
            self._take(state)
        elif begun is not None:
            self.alpha = np.array(self.alpha if settings.alpha else begun.by_topic["alpha"])
            self.beta = settings.beta or begun.overall["beta"]
            self.z = GivenStart(counts, begun, (self.alpha, self.beta), rng).topics(report)
        elif settings.start != "random":
            start = LikelyStart if settings.start == "gathered" else FactoredStart
            begin = start(counts, self.k, (self.alpha[0], self.beta), seeds.rows(self.n_terms), rng)
            self.z = begin.topics(report, starts)
        else:
            self.z = rng.integers(0, self.k, size=len(self.words), dtype=np.int32)
            marked = seeds.topic_of_terms(self.n_terms)[self.words]
            self.z = np.where(marked >= 0, marked, self.z)
        self.seeded = word_topic_counts(seeds.words, seeds.topics, self.n_terms, self.k) if len(seeds.words) else None
        self.count_words()
        self.sampler = settings.drawn_by(len(self.words))(self)
        if state is not None:
            self.sampler.recall(state)

    def _take(self, state: State) -> None:
        """The topics of tokens, the priors and the stream of random numbers of another chain."""
        z = expect_array("z", state.get("z"), np.int16, (len(self.words),), 0, self.k - 1)
        self.z = z.astype(np.int32)
        self.stream = expect_array("stream", state.get("stream"), np.uint64, (1,)).copy()
        self.alpha = expect_array("alpha", state.get("alpha"), np.float64, (self.k,), _LEAST_PRIOR)
        (self.beta,) = expect_array("beta", state.get("beta"), np.float64, (1,), _LEAST_PRIOR).tolist()

    def state(self) -> dict[str, NDArray[Any]]:
        """What an equal chain needs to go on from here."""
        own: dict[str, NDArray[Any]] = {"z": self.z.astype(np.int16), "stream": self.stream}
        own |= {"alpha": self.alpha, "beta": np.array([self.beta])}
        return {**own, **self.sampler.memory()}

    def count_words(self) -> None:
        """The counts of words, from the topics of tokens."""
        self._word_topic, self.topic_total = word_topic_counts(self.words, self.z, self.n_terms, self.k)
        if self.seeded:
            self._word_topic += self.seeded[0]
            self.topic_total += self.seeded[1]
        self._counted = True

    @property
    def word_topic(self) -> NDArray[np.int32]:
        """Tokens of each topic by word, those of seed words among them, int32[n_terms, n_topics]."""
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
            words, total = self.word_topic, self.topic_total
            if self.seeded:
                words, total = words - self.seeded[0], total - self.seeded[1]
            self.beta = optimise_beta(words, total, self.beta)

    def log_likelihood(self) -> float:
        """log p(words, topics) per token (Griffiths and Steyvers 2004, equations 2 and 3)."""
        gammaln = scipy.special.gammaln
        docs = self.doc_counts()
        # Counts of zero take nothing from a prior's gamma function.
        held, whole = self.alpha[docs.indices], self.alpha.sum()
        value = self._of_words(self.word_topic, self.topic_total)
        if self.seeded:
            value -= self._of_words(*self.seeded)
        value += (gammaln(docs.data + held) - gammaln(held)).sum()
        value += self.n_docs * gammaln(whole) - gammaln(np.diff(self.doc_ptr) + whole).sum()
        return float(value / max(len(self.words), 1))

    def _of_words(self, word_topic: NDArray[np.int32], topic_total: NDArray[np.int64]) -> float:
        """log p(words | topics) of counts."""
        gammaln = scipy.special.gammaln
        some = word_topic[word_topic > 0] + self.beta
        value = self.k * gammaln(self.n_terms * self.beta)
        value += gammaln(some).sum() - len(some) * gammaln(self.beta)
        value -= gammaln(topic_total + self.n_terms * self.beta).sum()
        return float(value)

    def topic_word(self) -> NDArray[np.float64]:
        raised = self.word_topic.T + self.beta
        return raised / raised.sum(axis=1, keepdims=True)

    def doc_topic(self) -> NDArray[np.float64]:
        docs = self.doc_counts().toarray()
        raised = docs + self.alpha
        shares = raised / raised.sum(axis=1, keepdims=True)
        return np.where(docs.sum(axis=1, keepdims=True) > 0, shares, 0.0)
