"""Latent Dirichlet allocation by exact collapsed Gibbs sampling.

D. Blei, A. Ng and M. Jordan, *Latent Dirichlet allocation*, JMLR 3, 2003; T. Griffiths and
M. Steyvers, *Finding scientific topics*, PNAS 101, 2004. The asymmetric document prior and the
symmetric word prior are optimised by Minka's fixed point (2000), as H. Wallach, D. Mimno and
A. McCallum recommend (*Rethinking LDA: why priors matter*, 2009).

The sampler is dense: all topics of a token are weighed in one vectorised pass. It suits small and
middling corpora and topic counts; a sampler for large ones can take its place behind ``fit``.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
import scipy
from numba import njit
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.progress import Report, silent
from skeinwork.core.topics.starts import gathered_documents

VERSION = 1
SAMPLER = "dense collapsed Gibbs (exact)"
_OPTIMISE_EVERY = 20
_TRACE_EVERY = 10
_SAVED = 10
_STARTS = 8
_START_ITERATIONS = 10
_FOLLOW = 0.9


class LdaSettings(BaseModel):
    """One fit. A prior left out is optimised while sampling."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    topics: int = Field(12, ge=2, le=500)
    seed: int = Field(1, ge=0, le=2**31 - 1)
    iterations: int = Field(400, ge=20, le=20_000)
    alpha: float | None = Field(None, gt=0, le=100, description="document prior per topic")
    beta: float | None = Field(None, gt=0, le=100, description="word prior per term")


@dataclass(frozen=True)
class TopicModel:
    """A fitted model.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms], rows sum to 1; mean of the saved samples
    doc_topic : float64[n_docs, n_topics], rows sum to 1, zero rows for empty documents
    draws : float32[n_saved, n_docs, n_topics], the saved samples of ``doc_topic``
    alpha : float64[n_topics], document prior
    beta : word prior
    trace : float64[n_points, 3], iteration, log-likelihood per token, share of tokens that moved
    """

    topic_word: NDArray[np.float64]
    doc_topic: NDArray[np.float64]
    draws: NDArray[np.float32]
    alpha: NDArray[np.float64]
    beta: float
    trace: NDArray[np.float64]


@njit(cache=True, nogil=True)
def _uniform(state: Any) -> float:
    """The next number in [0, 1) of a SplitMix64 stream (G. Steele and others, 2014)."""
    state[0] += np.uint64(0x9E3779B97F4A7C15)
    z = state[0]
    z = (z ^ (z >> np.uint64(30))) * np.uint64(0xBF58476D1CE4E5B9)
    z = (z ^ (z >> np.uint64(27))) * np.uint64(0x94D049BB133111EB)
    z = z ^ (z >> np.uint64(31))
    return np.float64(z >> np.uint64(11)) * (1.0 / 9007199254740992.0)


@njit(cache=True, nogil=True)
def sweep(
    words: Any, doc_ptr: Any, z: Any, word_topic: Any, topic_total: Any, alpha: Any, beta: float,
    state: Any,
) -> int:  # fmt: skip
    """Resample the topic of every token once, in place; returns how many changed.

    Parameters
    ----------
    words : int32[n_tokens]; doc_ptr : int64[n_docs + 1]; z : int32[n_tokens]
    word_topic : int32[n_terms, n_topics]; topic_total : int64[n_topics]
    state : uint64[1], the random stream
    """
    n_topics = len(alpha)
    v_beta = beta * word_topic.shape[0]
    in_doc = np.zeros(n_topics, dtype=np.float64)
    inverse = np.empty(n_topics, dtype=np.float64)
    weight = np.empty(n_topics, dtype=np.float64)
    for k in range(n_topics):
        inverse[k] = 1.0 / (topic_total[k] + v_beta)
    moved = 0
    for doc in range(len(doc_ptr) - 1):
        first, last = doc_ptr[doc], doc_ptr[doc + 1]
        in_doc[:] = alpha
        for at in range(first, last):
            in_doc[z[at]] += 1.0
        for at in range(first, last):
            row, old = word_topic[words[at]], z[at]
            row[old] -= 1
            in_doc[old] -= 1.0
            topic_total[old] -= 1
            inverse[old] = 1.0 / (topic_total[old] + v_beta)
            for k in range(n_topics):
                weight[k] = in_doc[k] * (row[k] + beta) * inverse[k]
            total = 0.0
            for k in range(n_topics):
                total += weight[k]
                weight[k] = total
            target = _uniform(state) * total
            new = 0
            while new < n_topics - 1 and weight[new] <= target:
                new += 1
            moved += new != old
            row[new] += 1
            in_doc[new] += 1.0
            topic_total[new] += 1
            inverse[new] = 1.0 / (topic_total[new] + v_beta)
            z[at] = new
    return moved


@njit(cache=True, nogil=True)
def count_topics(words: Any, doc_ptr: Any, z: Any, n_terms: int, n_topics: int) -> Any:
    """Counts by (term, topic), by (document, topic) and by topic from the tokens' topics."""
    word_topic = np.zeros((n_terms, n_topics), dtype=np.int32)
    doc_topic = np.zeros((len(doc_ptr) - 1, n_topics), dtype=np.int32)
    total = np.zeros(n_topics, dtype=np.int64)
    for doc in range(len(doc_ptr) - 1):
        for at in range(doc_ptr[doc], doc_ptr[doc + 1]):
            word_topic[words[at], z[at]] += 1
            doc_topic[doc, z[at]] += 1
            total[z[at]] += 1
    return word_topic, doc_topic, total


class _Sampler:
    """The state of a chain."""

    def __init__(
        self, counts: scipy.sparse.csr_matrix, settings: LdaSettings, start_number: int
    ) -> None:
        self.n_docs, self.n_terms = counts.shape
        self.k = settings.topics
        self.settings = settings
        self.words = np.repeat(counts.indices, counts.data).astype(np.int32)
        ends = np.concatenate([[0], np.cumsum(counts.data, dtype=np.int64)])
        self.doc_ptr = ends[counts.indptr].astype(np.int64)
        start = np.random.default_rng([settings.seed, settings.topics, start_number])
        self.state = start.integers(0, 2**63, size=1, dtype=np.uint64)
        self.z = start.integers(0, self.k, size=len(self.words), dtype=np.int32)
        group = np.repeat(gathered_documents(counts, self.k, start), np.diff(self.doc_ptr))
        follow = start.random(len(self.z)) < _FOLLOW
        self.z[follow] = group[follow]
        self.alpha = np.full(self.k, settings.alpha or 1.0 / self.k)
        self.beta = settings.beta or 0.01
        self.word_topic, _, self.topic_total = count_topics(
            self.words, self.doc_ptr, self.z, self.n_terms, self.k
        )

    def doc_counts(self) -> NDArray[np.int32]:
        counted = count_topics(self.words, self.doc_ptr, self.z, self.n_terms, self.k)
        return counted[1]

    def step(self) -> int:
        return int(
            sweep(
                self.words, self.doc_ptr, self.z, self.word_topic, self.topic_total,
                self.alpha, self.beta, self.state,
            )
        )  # fmt: skip

    def optimise(self) -> None:
        """One round of Minka's fixed point for the priors that the analyst left open."""
        if self.settings.alpha is None:
            self.alpha = optimise_alpha(self.doc_counts(), self.alpha)
        if self.settings.beta is None:
            self.beta = optimise_beta(self.word_topic, self.topic_total, self.beta)

    def log_likelihood(self) -> float:
        """log p(words, topics) per token (Griffiths and Steyvers 2004, equations 2 and 3)."""
        gammaln = scipy.special.gammaln
        docs = self.doc_counts()
        lengths = docs.sum(axis=1)
        value = self.k * (gammaln(self.n_terms * self.beta) - self.n_terms * gammaln(self.beta))
        value += gammaln(self.word_topic + self.beta).sum()
        value -= gammaln(self.topic_total + self.n_terms * self.beta).sum()
        value += self.n_docs * (gammaln(self.alpha.sum()) - gammaln(self.alpha).sum())
        value += gammaln(docs + self.alpha).sum() - gammaln(lengths + self.alpha.sum()).sum()
        return float(value / max(len(self.words), 1))

    def topic_word(self) -> NDArray[np.float64]:
        raised = self.word_topic.T + self.beta
        return raised / raised.sum(axis=1, keepdims=True)

    def doc_topic(self) -> NDArray[np.float64]:
        docs = self.doc_counts()
        raised = docs + self.alpha
        shares = raised / raised.sum(axis=1, keepdims=True)
        return np.where(docs.sum(axis=1, keepdims=True) > 0, shares, 0.0)


def optimise_alpha(
    doc_counts: NDArray[np.int32], alpha: NDArray[np.float64], rounds: int = 5
) -> NDArray[np.float64]:
    """Minka's fixed point for an asymmetric Dirichlet prior over int32[n_docs, n_topics] counts."""
    lengths = doc_counts.sum(axis=1)
    doc_counts, lengths = doc_counts[lengths > 0], lengths[lengths > 0]
    psi = scipy.special.psi
    for _ in range(rounds):
        above = psi(doc_counts + alpha).sum(axis=0) - len(lengths) * psi(alpha)
        below = psi(lengths + alpha.sum()).sum() - len(lengths) * psi(alpha.sum())
        alpha = np.clip(alpha * above / max(below, 1e-12), 1e-4, 50.0)
    return alpha


def optimise_beta(
    word_topic: NDArray[np.int32], topic_total: NDArray[np.int64], beta: float, rounds: int = 3
) -> float:
    """Minka's fixed point for the symmetric prior over words."""
    n_terms, n_topics = word_topic.shape
    psi = scipy.special.psi
    for _ in range(rounds):
        above = psi(word_topic + beta).sum() - n_terms * n_topics * psi(beta)
        below = psi(topic_total + n_terms * beta).sum() - n_topics * psi(n_terms * beta)
        beta = float(np.clip(beta * above / max(n_terms * below, 1e-12), 1e-4, 10.0))
    return beta


def check(counts: scipy.sparse.csr_matrix, settings: LdaSettings) -> None:
    """Raise ``BadInputError`` where a fit would mean nothing."""
    if not np.issubdtype(counts.dtype, np.integer):
        raise BadInputError("LDA reads counts, not weights. Fit it on the counts of this matrix.")
    filled = int((np.diff(counts.indptr) > 0).sum())
    if counts.shape[1] == 0 or filled == 0:
        raise BadInputError("The vocabulary is empty. Loosen the pruning in Weigh.")
    if settings.topics > filled:
        raise BadInputError(
            f"{settings.topics} topics are more than the {filled} documents with words. Ask for fewer."
        )


def _top_words(sampler: _Sampler, count: int = 6) -> list[list[int]]:
    order = np.argsort(-sampler.word_topic, axis=0, kind="stable")[:count]
    return order.T.tolist()


def _best_start(counts: scipy.sparse.csr_matrix, settings: LdaSettings, report: Report) -> _Sampler:
    """Of several independent short chains the likeliest, so that fewer fits stay in a poor mode."""
    best, best_value = None, -np.inf
    for number in range(_STARTS):
        report("Trying starts", 0.0, start=number + 1)
        sampler = _Sampler(counts, settings, number)
        for _ in range(_START_ITERATIONS):
            sampler.step()
        value = sampler.log_likelihood()
        if value > best_value:
            best, best_value = sampler, value
    assert best is not None
    return best


def _iterate(sampler: _Sampler, iterations: int) -> Iterator[tuple[int, int]]:
    """(iteration, tokens moved), with the priors optimised from a quarter of the way on."""
    for iteration in range(1, iterations + 1):
        yield iteration, sampler.step()
        if iteration % _OPTIMISE_EVERY == 0 and iteration >= iterations // 4:
            sampler.optimise()


def fit(
    counts: scipy.sparse.csr_matrix, settings: LdaSettings, report: Report = silent
) -> TopicModel:
    """Fit LDA to counts, int[n_docs, n_terms].

    The last ``_SAVED`` samples, spread over the last fifth of the iterations, are averaged.

    Raises
    ------
    BadInputError
        for weights in place of counts, an empty vocabulary, more topics than documents.
    """
    check(counts, settings)
    sampler = _best_start(counts, settings, report)
    n, every = settings.iterations, max(1, settings.iterations // (5 * _SAVED))
    saved_at = {n - every * back for back in range(_SAVED)}
    trace: list[tuple[float, float, float]] = []
    words, docs = np.zeros((sampler.k, sampler.n_terms)), []
    for iteration, moved in _iterate(sampler, n):
        if iteration % _TRACE_EVERY == 0 or iteration == n:
            share = moved / max(len(sampler.words), 1)
            trace.append((iteration, sampler.log_likelihood(), share))
            top = _top_words(sampler)
            report("Sampling", iteration / n, trace=trace, top=top, iteration=iteration)
        if iteration in saved_at:
            words += sampler.topic_word()
            docs.append(sampler.doc_topic().astype(np.float32))
    draws = np.stack(docs)
    return TopicModel(
        words / len(docs), draws.mean(axis=0, dtype=np.float64), draws,
        sampler.alpha, sampler.beta, np.array(trace),
    )  # fmt: skip


def verdict(trace: NDArray[np.float64]) -> str:
    """What the trace says: ``settled``, ``still moving`` or ``stuck``.

    The last third of the log-likelihood is compared with its own noise: a rise of more than twice
    the spread of its differences is movement; no change of topics at all is stuck.
    """
    last = trace[-max(4, len(trace) // 3) :]
    if len(last) < 4:
        return "still moving"
    if last[:, 2].max() == 0:
        return "stuck"
    half = len(last) // 2
    rise = last[half:, 1].mean() - last[:half, 1].mean()
    noise = np.diff(last[:, 1]).std() + 1e-9
    return "still moving" if rise > 2 * noise else "settled"
