"""Settings of LDA that suit a corpus: short chains on a sample of its documents show what less and more come to."""

from __future__ import annotations

import copy
import time
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.said import count, counted, decimal
from skeinwork.core.topics.advice import Advice
from skeinwork.core.topics.choose import suggest_grid
from skeinwork.core.topics.gain import Gain
from skeinwork.core.topics.held_out import Trained, gain_over_one_topic
from skeinwork.core.topics.methods.lda_chain import Chain, LdaSettings
from skeinwork.core.topics.samplers import SAMPLERS
from skeinwork.core.topics.seed_words import SeedTokens, seed_words
from skeinwork.core.topics.trace import MATTERS

# Tokens of the sample, about; iterations of a chain on it, and of one that goes on from there with another prior.
_SAMPLE, _ITERATIONS, _MORE = 15_000, 50, 20
# Iterations between two fits of the priors, between two points of the trace, and the last whose topics are averaged.
_OPTIMISE_EVERY, _TRACE_EVERY, _SAVED = 10, 5, 5
# Beginnings of which a chain takes the likeliest.
_STARTS = 2
# Share of the best that is near it, of how often seed words are in their topic.
_NEAR = 0.9
# What a prior is tried at, as shares of what it is found to be, and how it is called.
_FACTORS = ((0.1, "a tenth"), (0.3, "a third"), (3.0, "three times"), (10.0, "ten times"))


def effective_number(shares: NDArray[np.float64], weight: NDArray[np.float64]) -> float:
    """The exponential of the mean entropy of rows that each sum to 1, float64[n, m], weighed by float64[n]."""
    entropy = -(shares * np.log(np.maximum(shares, 1e-300))).sum(axis=1)
    return float(np.exp((entropy * weight).sum() / weight.sum()))


def _topics_of_a_document(chain: Chain) -> float:
    return effective_number(chain.doc_topic(), np.diff(chain.doc_ptr).astype(np.float64))


def _words_of_a_topic(chain: Chain) -> float:
    return effective_number(chain.topic_word(), chain.topic_total.astype(np.float64))


def _sample_of(counts: scipy.sparse.csr_matrix, seed: int) -> scipy.sparse.csr_matrix:
    """Documents with about ``_SAMPLE`` tokens in all, drawn by chance, int[n, n_terms]."""
    order = np.random.default_rng([seed, 11]).permutation(np.flatnonzero(np.diff(counts.indptr) > 0))
    tokens = np.asarray(counts[order].sum(axis=1)).ravel().cumsum()
    return counts[np.sort(order[: int(np.searchsorted(tokens, _SAMPLE)) + 1])]


@dataclass(frozen=True)
class _Run:
    """A chain on four in five documents of the sample, and how it foretells words of the others.

    ``trace`` is log p(words, topics) per token by iteration, ``seconds`` what one took.
    """

    chain: Chain
    trace: dict[int, float]
    seconds: float
    gain: Gain | None

    @property
    def foretold(self) -> str:
        return "not known" if self.gain is None else f"{decimal(self.gain.mean)} nats a word"


class Advisor:
    """Measures on a sample of a corpus, and what follows from them for each setting.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; settings : as they are now
    columns : of the terms, by what these are called
    unsettled : iterations after which fits of these counts were still moving; 0 where none was
    """

    def __init__(
        self, counts: scipy.sparse.csr_matrix, settings: LdaSettings, columns: Mapping[str, int], unsettled: int = 0
    ) -> None:
        self.counts, self.settings, self.columns, self.unsettled = counts, settings, columns, unsettled
        self.tokens = int(counts.data.sum())
        self.documents = int((np.diff(counts.indptr) > 0).sum())
        self.sample = _sample_of(counts, settings.seed)
        self.grid = suggest_grid(self.documents, self.tokens, unsettled)

    @property
    def of(self) -> str:
        every = self.sample.shape[0] >= self.documents
        return "all documents" if every else f"a sample of {counted(self.sample.shape[0], 'document')}"

    def _run(
        self, begin: Callable[[scipy.sparse.csr_matrix], Chain], iterations: int = _ITERATIONS, open_priors: bool = True
    ) -> _Run:
        """A chain from ``begin`` on, of four in five documents of the sample."""
        kept: list[tuple[Chain, dict[int, float], float]] = []

        def train(known: scipy.sparse.csr_matrix) -> Iterator[Trained]:
            chain, trace, begun = begin(known), {}, time.perf_counter()
            words = np.zeros((chain.k, chain.n_terms))
            for at in range(1, iterations + 1):
                chain.step()
                if at == 1 or at % _TRACE_EVERY == 0:
                    trace[at] = chain.log_likelihood()
                if open_priors and at % _OPTIMISE_EVERY == 0:
                    chain.optimise()
                if at > iterations - _SAVED:
                    words += chain.topic_word() / _SAVED
            kept.append((chain, trace, (time.perf_counter() - begun) / iterations))
            yield words, chain.alpha, chain.topic_total.astype(np.float64)

        gain = gain_over_one_topic(self.sample, train, self.settings.seed)
        if not kept:
            next(train(self.sample))
        return _Run(*kept[0], gain)

    def _with(self, topics: int, start: str = "gathered") -> _Run:
        wanted = LdaSettings(topics=topics, seed=self.settings.seed, start=start, sampler="dense")
        return self._run(lambda known: Chain(known, wanted, starts=_STARTS))

    @cached_property
    def plain(self) -> _Run:
        """With the topics that are asked for, as far as the sample has documents, and open priors."""
        return self._with(min(self.settings.topics, self._most))

    @property
    def _most(self) -> int:
        """Topics that the sample can hold."""
        return max(2, self.sample.shape[0] // 2)

    def topics(self) -> Advice:
        counts = self.grid.counts
        few, middle, many = (min(each, self._most) for each in (counts[0], counts[len(counts) // 2], counts[-1]))
        tried = {self.plain.chain.k: self.plain}
        for each in (few, middle, many):
            tried[each] = tried.get(each) or self._with(each)
        gains = {each: run.gain for each, run in sorted(tried.items()) if run.gain}
        best = max(gains.values(), key=lambda gain: gain.mean, default=None)
        near = [each for each, gain in gains.items() if best and gain.mean >= best.mean - 2 * best.error] or [middle]

        def said(topics: int) -> str:
            held = tried[topics].chain.topic_total / tried[topics].chain.topic_total.sum()
            return (
                f"{topics} topics foretell words of other documents by {tried[topics].foretold} better than one topic "
                f"does; the largest holds {held.max():.0%} of the words, the smallest {held.min():.1%}"
            )

        return Advice(
            near[0],
            f"of {', '.join(map(str, sorted(tried)))} the fewest that foretell words of other documents within two "
            f"standard errors of the best, on {self.of}; Choose compares {counts[0]} to {counts[-1]} on all",
            near[0],
            near[-1],
            said(few),
            said(many),
        )

    def iterations(self) -> Advice:
        trace, end = self.plain.trace, self.plain.trace[_ITERATIONS]
        level = max((at for at, value in trace.items() if value < end - MATTERS), default=0) + _TRACE_EVERY
        why = f"chains of corpora with {self.tokens / self.documents:.0f} counted words a document settled by then"
        if self.unsettled and self.grid.iterations == 2 * self.unsettled:
            why = f"twice the {self.unsettled} after which fits of this matrix were still moving"
        points = ", ".join(f"{decimal(trace[at])} after {at}" for at in (1, 10, _ITERATIONS))
        seconds = 100 * self.plain.seconds * self.tokens / len(self.plain.chain.words)
        return Advice(
            self.grid.iterations,
            why,
            min(level, self.grid.iterations),
            None,
            f"the log-likelihood of a word is {points} iterations on {self.of}",
            f"100 more take about {max(seconds, 0.1):.2g} seconds here",
        )

    def _prior(self, name: str, found: float, holds: Callable[[Chain], str]) -> Advice:
        """Of a prior: how words are foretold, and what documents or topics hold, at less and more than is found."""
        factors = dict(_FACTORS)
        tried = {factor: self._run(self._going_on(name, factor), _MORE, False) for factor in factors}
        gains = {1.0: self.plain.gain, **{factor: run.gain for factor, run in tried.items()}}
        best = max((gain for gain in gains.values() if gain), key=lambda gain: gain.mean, default=None)
        near = [at for at, gain in gains.items() if best and gain and gain.mean >= best.mean - 2 * best.error]

        def said(factor: float) -> str:
            run = tried[factor]
            return f"at {factors[factor]} of it {holds(run.chain)}; words are foretold by {run.foretold}"

        return Advice(
            None,
            f"left open it comes to {found:.2g} on {self.of}: {holds(self.plain.chain)}, and topics foretell words of "
            f"other documents by {self.plain.foretold} better than one does",
            found * min(near, default=1.0),
            found * max(near, default=1.0),
            said(_FACTORS[0][0]),
            said(_FACTORS[-1][0]),
        )

    def _going_on(self, name: str, factor: float) -> Callable[[scipy.sparse.csr_matrix], Chain]:
        def begin(_known: scipy.sparse.csr_matrix) -> Chain:
            chain = copy.deepcopy(self.plain.chain)
            setattr(chain, name, getattr(chain, name) * factor)
            return chain

        return begin

    def alpha(self) -> Advice:
        mean = float(self.plain.chain.alpha.mean())
        return self._prior("alpha", mean, lambda chain: f"a document holds {_topics_of_a_document(chain):.1f} topics")

    def beta(self) -> Advice:
        found = self.plain.chain.beta
        return self._prior("beta", found, lambda chain: f"a topic spreads over {_words_of_a_topic(chain):.0f} words")

    def start(self) -> Advice:
        chance = self._with(self.plain.chain.k, "random")
        by = self.plain.trace[_ITERATIONS] - chance.trace[_ITERATIONS]
        sign = "likelier" if by > 0 else "less likely"
        return Advice(
            "gathered",
            f"on {self.of} it is {abs(by):.3f} nats a word {sign} after {_ITERATIONS} "
            "iterations than a start by chance",
        )

    def sampler(self) -> Advice:
        each = self.plain.seconds / len(self.plain.chain.words) * self.tokens * self.settings.iterations
        as_dense = SAMPLERS["dense"].seconds(self.plain.chain.k)
        took = {name: each * kind.seconds(self.settings.topics) / as_dense for name, kind in SAMPLERS.items()}
        chosen = self.settings.model_copy(update={"sampler": None}).drawn_by(self.tokens)
        return Advice(
            None,
            f"the program takes {chosen.name} for {self.settings.topics} topics; foreseen for this fit, one thread: "
            + ", ".join(f"{name} {max(seconds, 0.1):.2g} s" for name, seconds in took.items()),
        )

    def hold(self) -> Advice | None:
        """None without seed words."""
        lines = self.settings.seed_words
        if not lines:
            return None
        given = seed_words(lines, 1, self.columns)
        uses = int(np.median(np.asarray(self.counts.sum(axis=0)).ravel()[np.unique(given.words)]))
        kept = {
            hold: self._kept(given, hold) for hold in sorted({1, max(1, uses // 16), max(1, uses // 4), uses, 4 * uses})
        }
        best = max(kept, key=lambda hold: kept[hold])
        near = [hold for hold, share in kept.items() if share >= _NEAR * kept[best]]

        def said(hold: int) -> str:
            return f"at {count(hold)} they are in {kept[hold]:.0%}"

        return Advice(
            best,
            f"of {', '.join(map(count, kept))} it has seed words most often in their topic: in {kept[best]:.0%} of "
            f"their uses on {self.of}; the median seed word has {count(uses)} uses in all",
            min(near),
            max(near),
            said(min(kept)),
            said(max(kept)),
        )

    def _kept(self, given: SeedTokens, hold: int) -> float:
        """The share of seed words' tokens that are of their topic, with so many tokens of each in all documents."""
        hold = max(1, round(hold * self.sample.data.sum() / self.tokens))
        seeds = SeedTokens(np.repeat(given.words, hold), np.repeat(given.topics, hold))
        topics = max(self.plain.chain.k, int(given.topics.max()) + 1)
        chain = Chain(
            self.sample, LdaSettings(topics=topics, seed=self.settings.seed, sampler="dense"), seeds, starts=1
        )
        for _ in range(_MORE):
            chain.step()
        marked = given.topic_of_terms(chain.n_terms)[chain.words]
        seeded = marked >= 0
        return float((chain.z == marked)[seeded].mean()) if seeded.any() else 0.0


def advice(
    counts: scipy.sparse.csr_matrix, settings: LdaSettings, columns: Mapping[str, int], unsettled: int = 0
) -> dict[str, Advice]:
    """What each setting may be for a corpus; see ``Advisor``."""
    found = Advisor(counts, settings, columns, unsettled)
    told = {
        "topics": found.topics(),
        "iterations": found.iterations(),
        "alpha": found.alpha(),
        "beta": found.beta(),
        "start": found.start(),
        "sampler": found.sampler(),
        "hold": found.hold(),
    }
    return {name: each for name, each in told.items() if each}
