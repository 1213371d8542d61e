"""How LDA is fitted: a chain begun, or taken up where it stopped; iterated, watched, its last samples averaged."""

from __future__ import annotations

import time
from collections.abc import Iterator, Mapping

import numpy as np
import scipy
from numpy.typing import NDArray

from skeinwork.core.content import ContentError, expect_array
from skeinwork.core.errors import BadInputError, CancelledError
from skeinwork.core.progress import Report, part_of, silent
from skeinwork.core.topics.foretelling import Foretelling
from skeinwork.core.topics.forming import TOP_FORMING, Grown
from skeinwork.core.topics.methods.base import NO_COLUMNS, expect_documents
from skeinwork.core.topics.methods.lda_chain import Chain, LdaSettings
from skeinwork.core.topics.model import Samples, TopicModel, Topics
from skeinwork.core.topics.samplers.base import Sampler
from skeinwork.core.topics.samplers.dense import Dense
from skeinwork.core.topics.seed_words import SeedTokens, seed_words
from skeinwork.core.topics.states import FORGETFUL, State, States

# Iterations between two fits of the priors (Wallach, Mimno and McCallum 2009 took 20 or fewer), and before the first:
# of a chain that went on, so that it is where a longer one would be, whatever the iterations asked for.
_OPTIMISE_EVERY, _OPTIMISE_FROM = 10, 20
# Iterations between two points of the trace, and between two times that words of other documents are foretold.
_TRACE_EVERY, _FORETELL_EVERY = 5, 25
# Iterations between two reports at most; seconds, where these take longer.
_REPORT_EVERY, _REPORT_AFTER = 10, 0.3
# Samples that are kept: intervals come from how far they differ.
SAVED = 10
# Iterations after which it shows whether a start from gathered documents or one by chance comes further, on so many
# documents at most. Where there are more topics than themes the first splits the themes evenly and stays there, .1 nats
# a token below the other with 22 and 40 topics of the demo; where there are as many, chance joins some for good.
_COMPARED, _COMPARED_DOCUMENTS = 50, 2000
# What a model holds that began by chance since that came further.
BY_CHANCE = "by chance"
# Iterations that finding a start takes about as long as.
_START = 60


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
    expect_documents(counts, settings.topics)
    if len(settings.seed_words) > settings.topics:
        raise BadInputError(f"There are seed words of {len(settings.seed_words)} topics. Ask for as many topics.")
    return seed_words(settings.seed_words, settings.hold, columns)


def _top_words(sampler: Chain, count: int = TOP_FORMING) -> list[list[int]]:
    counts = sampler.word_topic
    some = np.argpartition(counts, -min(count, len(counts)), axis=0)[-count:]
    order = np.argsort(-np.take_along_axis(counts, some, axis=0), axis=0, kind="stable")
    return np.take_along_axis(some, order, axis=0).T.tolist()


def work_of(settings: LdaSettings) -> int:
    """Iterations of a fit, with what the start takes: the time left is told from them."""
    return settings.iterations + _START


def _seeded(settings: LdaSettings) -> dict[str, NDArray[np.float64]]:
    """The line of seed words that each topic has, counted from 1; 0 for none."""
    lines, topics = len(settings.seed_words), np.arange(1.0, settings.topics + 1)
    return {"seeded": np.where(topics <= lines, topics, 0.0)} if lines else {}


def other_than_dense(drawn_by: type[Sampler]) -> dict[str, int]:
    """A sampler with its version; the first, which is the method's own, goes without saying."""
    return {} if drawn_by is Dense else {drawn_by.name: drawn_by.VERSION}


def iterate(sampler: Chain, done: int, iterations: int) -> Iterator[tuple[int, int]]:
    """(iteration, tokens moved) after those done, with the priors optimised now and then."""
    for iteration in range(done + 1, iterations + 1):
        yield iteration, sampler.step()
        optimise_if_due(sampler, iteration)


def optimise_if_due(sampler: Chain, iteration: int) -> None:
    """Optimise the priors that were left open, if it is their turn."""
    if iteration % _OPTIMISE_EVERY == 0 and iteration >= _OPTIMISE_FROM:
        sampler.optimise()


def saved(iterations: int) -> set[int]:
    """After which of so many iterations samples are saved."""
    every = max(1, iterations // (5 * SAVED))
    return {iterations - every * back for back in range(SAVED)}


def begin(counts: scipy.sparse.csr_matrix, settings: LdaSettings, seeds: SeedTokens, report: Report) -> Chain:
    """A chain that begins as is asked for: by chance, or from gathered documents unless chance comes further."""
    if settings.start != "gathered":
        return Chain(counts, settings, seeds, report)
    filled = np.flatnonzero(np.diff(counts.indptr) > 0)
    some = np.random.default_rng([settings.seed, 13]).permutation(filled)[:_COMPARED_DOCUMENTS]
    found: dict[str, float] = {}
    if len(some) >= settings.topics:
        for at, start in enumerate(("gathered", "random")):
            plain = settings.model_copy(update={"start": start, "sampler": "dense"})
            chain = Chain(counts[np.sort(some)], plain, seeds, part_of(report, at / 3, at / 3))
            for iteration, _ in iterate(chain, 0, _COMPARED):
                report("Trying starts", (at + iteration / _COMPARED) / 3)
            found[start] = chain.log_likelihood()
    better = max(found, key=lambda start: found[start], default="gathered")
    return Chain(counts, settings.model_copy(update={"start": better}), seeds, part_of(report, 2 / 3, 1))


class _Course:
    """A fit at work: its chain, after how many iterations, and the trace so far.

    Parameters
    ----------
    counts : int[n_docs, n_terms]
    others : int[n_others, n_terms], documents whose words are foretold as it goes on
    begun : topics to begin with, in place of a start
    """

    def __init__(
        self,
        counts: scipy.sparse.csr_matrix,
        settings: LdaSettings,
        seeds: SeedTokens,
        others: scipy.sparse.csr_matrix | None,
        begun: Topics | None,
    ) -> None:
        self.counts, self.settings, self.seeds, self.begun = counts, settings, seeds, begun
        self.foretelling = Foretelling(others, settings.seed) if others is not None else None
        self.trace: list[tuple[float, ...]] = []
        self.grown = Grown()
        self.done = 0
        # Of the trace: the iteration, what is watched, and what is foretold where documents are held out.
        self.columns = 4 + bool(self.foretelling)

    def begin(self, states: States, most: int, report: Report) -> None:
        """Go on from a state after ``most`` iterations at most, where there is a whole one, else from a start."""
        if (state := states.latest(most)) is not None:
            try:
                return self._take(state, most)
            except ContentError:  # of another program, or damaged
                self.trace, self.done = [], 0
        if self.begun:
            self.chain = Chain(self.counts, self.settings, self.seeds, report, begun=self.begun)
        else:
            self.chain = begin(self.counts, self.settings, self.seeds, report)
        self.by_chance = self.chain.settings.start != self.settings.start

    def _take(self, state: State, most: int) -> None:
        trace = expect_array("trace", state.get("trace"), np.float64, (None, self.columns))
        (done,) = expect_array("done", state.get("done"), np.int64, (1,), 1, most).tolist()
        (by_chance,) = expect_array("by_chance", state.get("by_chance"), np.int64, (1,), 0, 1).tolist()
        self.chain = Chain(self.counts, self.settings, self.seeds, state=state)
        self.trace = [tuple(row) for row in trace.tolist()]
        self.done, self.by_chance = done, bool(by_chance)
        optimise_if_due(self.chain, done)

    def state(self) -> State:
        return {
            **self.chain.state(),
            "trace": np.array(self.trace).reshape(-1, self.columns),
            "done": np.array([self.done]),
            "by_chance": np.array([int(self.by_chance)]),
        }

    def iterations(self) -> Iterator[int]:
        """The number of each that is left, once it is done."""
        for iteration, moved in iterate(self.chain, self.done, self.settings.iterations):
            self.done = iteration
            if self.done % _TRACE_EVERY == 0:
                self.trace.append(self._point(moved))
            yield self.done

    def _point(self, moved: int) -> tuple[float, ...]:
        chain = self.chain
        watched = (chain.log_likelihood(), moved / max(len(chain.words), 1), float(chain.alpha.sum()))
        if not self.foretelling:
            return (self.done, *watched)
        due = not self.trace or self.done % _FORETELL_EVERY == 0
        told = self.foretelling(chain.topic_word(), chain.alpha) if due else self.trace[-1][-1]
        return (self.done, *watched, told)

    def said(self) -> dict[str, object]:
        """What there is to be seen while it forms."""
        self.grown.add(self.done, self.chain.topic_total)
        grown = self.grown.points
        return {"trace": self.trace, "top": _top_words(self.chain), "iteration": self.done, "grown": grown}


def fit(
    counts: scipy.sparse.csr_matrix,
    settings: LdaSettings,
    report: Report = silent,
    columns: Mapping[str, int] = NO_COLUMNS,
    states: States = FORGETFUL,
    others: scipy.sparse.csr_matrix | None = None,
    begun: Topics | None = None,
) -> TopicModel:
    """Fit LDA to counts, int[n_docs, n_terms].

    The last ``SAVED`` samples, spread over the last fifth of the iterations, are averaged. A fit that stopped goes
    on from its last state before these, and one of fewer iterations from its end: with the same bytes.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; documents without terms get no shares
    settings : topics, seed, iterations; priors that are None are optimised
    report : told the phase, the share done, the trace and the top words so far
    columns : of the terms, by what these are called: where seed words are found
    states : where the states of fits with these settings, whatever their iterations, are kept
    others : int[n_others, n_terms], documents whose words are foretold as it goes on
    begun : topics to begin with, of the same terms, in place of a start

    Raises
    ------
    BadInputError
        for what ``check`` refuses.
    """
    n, saved_at = settings.iterations, saved(settings.iterations)
    course = _Course(counts, settings, check(counts, settings, columns), others, begun)
    course.begin(states, min(saved_at) - 1, part_of(report, 0, _START / work_of(settings)))
    chain = course.chain
    words, docs, priors = np.zeros((chain.k, chain.n_terms)), [], []
    shares = np.zeros((chain.n_docs, chain.k))
    said_at = time.monotonic()
    try:
        for iteration in course.iterations():
            if iteration % _REPORT_EVERY == 0 or iteration == n or time.monotonic() - said_at > _REPORT_AFTER:
                report("Sampling", 1 - (n - iteration) / work_of(settings), **course.said())
                said_at = time.monotonic()
            if iteration in saved_at:
                words += chain.topic_word()
                shares += chain.doc_topic()
                docs.append(chain.doc_counts())
                priors.append(chain.alpha)
            if iteration == n or (iteration < min(saved_at) and states.wanted()):
                states.keep(iteration, course.state())
    except CancelledError:
        states.keep(course.done, course.state())
        raise
    return TopicModel(
        words / len(docs),
        shares / len(docs),
        Samples.of_counts(docs, np.array(priors)),
        np.array(course.trace),
        {"alpha": chain.alpha, **_seeded(settings)},
        {"beta": chain.beta, **other_than_dense(type(chain.sampler)), **({BY_CHANCE: 1.0} if course.by_chance else {})},
    )
