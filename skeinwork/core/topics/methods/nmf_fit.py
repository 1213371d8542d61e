"""How a table of documents by terms is factorised: begun, brought nearer, watched, stopped."""

from __future__ import annotations

import time
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.content import ContentError, expect, expect_array
from skeinwork.core.errors import BadInputError, CancelledError
from skeinwork.core.kinds import named
from skeinwork.core.matrix.global_weights import divisors
from skeinwork.core.matrix.weighting import SCHEMES, cells_of, learn, weigh
from skeinwork.core.progress import Report, silent
from skeinwork.core.topics.factors import Floats, Threads, threads
from skeinwork.core.topics.forming import TOP_FORMING, Grown
from skeinwork.core.topics.losses import LOSSES
from skeinwork.core.topics.methods.base import MOST_ITERATIONS, MethodSettings, expect_documents
from skeinwork.core.topics.model import TopicModel, Topics
from skeinwork.core.topics.nndsvd import by_chance, nndsvd
from skeinwork.core.topics.states import FORGETFUL, State, States
from skeinwork.core.topics.words import top_words

# A fit stops once the loss changed by less than this share in each of so many iterations.
STOP, STOP_AFTER = 1e-4, 3
# What is factorised where the analyst leaves it open.
USUAL = {"frobenius": "tf-idf", "kl": "counts"}
# What a model holds to weigh new documents by: of each term, and the mean length of documents.
GLOBAL_WEIGHT, MEAN_LENGTH = "global_weight", "mean_length"
# And how many documents with terms it tells nothing of.
UNTOLD = "untold"
# Seconds between two reports.
_REPORT_AFTER = 0.3
# Of a term in a topic that it begins with.
_LEAST = np.float32(1e-9)
# The share of a fit that its start takes, about.
_START = 0.1


class NmfSettings(MethodSettings):
    """One fit. Weights left out are those that suit the loss."""

    method: Literal["nmf"] = "nmf"
    iterations: int = Field(
        400, strict=True, ge=1, le=MOST_ITERATIONS, description="at most; it stops once the loss stands"
    )
    loss: Literal["frobenius", "kl"] = Field(
        "frobenius", description="squared differences of weights, or the Kullback-Leibler divergence of counts"
    )
    weights: named(SCHEMES) | None = Field(  # type: ignore[valid-type]
        None, description="what is factorised", json_schema_extra={"left_open": "what suits the loss"}
    )
    start: Literal["nndsvd", "random"] = Field(
        "nndsvd", description="at the singular vectors, the same for every seed, or by chance"
    )

    @property
    def weighting(self) -> str:
        """The scheme by which counts are weighed."""
        return self.weights or USUAL[self.loss]


def check(counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> scipy.sparse.csr_matrix:
    """Raise ``BadInputError`` for an empty vocabulary, more topics than documents or terms, weights where counts are
    read, weights that are all 0.

    Parameters
    ----------
    counts : int[n_docs, n_terms]

    Returns
    -------
    What is factorised of them
    """
    expect_documents(counts, settings.topics)
    if settings.topics > counts.shape[1]:
        raise BadInputError(f"{settings.topics} topics are more than the {counts.shape[1]} terms. Ask for fewer.")
    if settings.loss == "kl" and settings.weighting != "counts":
        raise BadInputError(
            f"The Kullback-Leibler loss reads counts, not {settings.weighting}. Leave the weights open, or take the "
            "Frobenius loss."
        )
    table = table_of(counts, settings)
    if not table.data.any():
        raise BadInputError(
            f"By {settings.weighting} every weight is 0: no term is in some documents and not in others. Take other "
            "weights, counts for one."
        )
    return table


def table_of(counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> scipy.sparse.csr_matrix:
    """What is factorised of counts, int[n_docs, n_terms]."""
    return counts if settings.weighting == "counts" else weigh(counts, SCHEMES[settings.weighting])


def weighed_by(topics: Topics, counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> scipy.sparse.csr_matrix:
    """Weights of other documents, by what a fit learnt; without regard to lengths of rows, which change no share."""
    if settings.weighting == "counts":
        return counts
    scheme = SCHEMES[settings.weighting]
    local = scheme.parts()[0].weights(cells_of(counts, topics.overall[MEAN_LENGTH]), scheme)
    data = local * np.asarray(topics.by_term[GLOBAL_WEIGHT])[counts.indices]
    return scipy.sparse.csr_matrix((data, counts.indices, counts.indptr), shape=counts.shape)


class _Course:
    """A factorisation at work: its factors, after how many iterations, and the trace so far."""

    def __init__(
        self, table: scipy.sparse.csr_matrix, settings: NmfSettings, at_work: Threads, begun: Topics | None
    ) -> None:
        self.table, self.settings, self.at_work, self.begun = table, settings, at_work, begun
        self.trace: list[tuple[float, ...]] = []
        self.grown = Grown()

    @property
    def done(self) -> int:
        return len(self.trace)

    @property
    def stands(self) -> bool:
        """The loss changed by next to nothing of late."""
        return self.done > STOP_AFTER and all(change < STOP for _, _, change in self.trace[-STOP_AFTER:])

    def begin(self, states: States, report: Report) -> None:
        """Go on from a state where there is a whole one, else from a start."""
        if (state := states.latest(self.settings.iterations)) is not None:
            try:
                return self._take(state)
            except ContentError:  # of another program, or damaged
                self.trace = []
        report("Looking for a start", 0.0)
        self.loss = LOSSES[self.settings.loss](self.table, *self._start(), self.at_work)

    def _start(self) -> tuple[Floats, Floats]:
        """The topics to begin with, or a start of them."""
        if self.begun:
            # A term without any weight could not get one by multiplied updates.
            columns = np.maximum(np.ascontiguousarray(np.asarray(self.begun.topic_word).T, np.float32), _LEAST)
            return LOSSES[self.settings.loss].place(self.table, columns, self.at_work), columns
        rng = np.random.default_rng([self.settings.seed, self.settings.topics])
        start = nndsvd if self.settings.start == "nndsvd" else by_chance
        return start(self.table, self.settings.topics, rng)

    def _take(self, state: State) -> None:
        trace = expect_array("trace", state.get("trace"), np.float64, (None, 3))
        expect(1 <= len(trace) <= self.settings.iterations, "trace is of another fit")
        shapes = [(n, self.settings.topics) for n in self.table.shape]
        rows, columns = (
            expect_array(name, state.get(name), np.float32, shape, 0.0).copy()
            for name, shape in zip(("rows", "columns"), shapes, strict=True)
        )
        self.trace = [tuple(row) for row in trace.tolist()]
        self.loss = LOSSES[self.settings.loss](self.table, rows, columns, self.at_work, taken_up=True)

    def state(self) -> State:
        return {"rows": self.loss.rows, "columns": self.loss.columns, "trace": np.array(self.trace)}

    def step(self) -> None:
        held = 1.0 - self.loss.step()
        before = self.trace[-1][1] if self.trace else 0.0
        self.trace.append((self.done + 1, held, abs(held - before) / max(held, 1e-30)))

    def said(self) -> dict[str, object]:
        """What there is to be seen while it forms."""
        self.grown.add(self.done, self.shares().sum(axis=0))
        top = top_words(self.loss.columns.T.astype(np.float64), TOP_FORMING)
        return {"trace": self.trace, "top": top.tolist(), "iteration": self.done, "grown": self.grown.points}

    def shares(self) -> NDArray[np.float64]:
        return shares_of(self.loss.rows, self.loss.columns)


def shares_of(rows: Floats, columns: Floats) -> NDArray[np.float64]:
    """Of topics in what is told of each document, float64[n_docs, n_topics]; zeros where nothing is.

    Parameters
    ----------
    rows : float32[n_docs, n_topics]; columns : float32[n_terms, n_topics]
    """
    told = rows.astype(np.float64) * columns.sum(axis=0, dtype=np.float64)
    whole = told.sum(axis=1, keepdims=True)
    return told / np.where(whole > 0, whole, 1.0)


def words_of(columns: Floats) -> NDArray[np.float64]:
    """Of each topic, float64[n_topics, n_terms], adding up to 1; of one that holds nothing all alike."""
    words = columns.T.astype(np.float64)
    whole = words.sum(axis=1, keepdims=True)
    return np.where(whole > 0, words / np.where(whole > 0, whole, 1.0), 1.0 / max(words.shape[1], 1))


def fit(
    counts: scipy.sparse.csr_matrix,
    settings: NmfSettings,
    report: Report = silent,
    states: States = FORGETFUL,
    begun: Topics | None = None,
) -> TopicModel:
    """Factorise the weights of counts, int[n_docs, n_terms], into topics of documents and words of topics.

    A fit that stopped goes on from its last state, with the same bytes.

    Parameters
    ----------
    counts : int[n_docs, n_terms]; documents without terms get no shares
    settings : topics, iterations at most, the loss, what is factorised, the start; the seed where that is chance
    report : told the phase, the share done, the trace and top words so far
    states : where the states of fits with these settings, whatever their iterations, are kept
    begun : topics to begin with, of the same terms, in place of a start

    Raises
    ------
    BadInputError
        for what ``check`` refuses.
    """
    table = check(counts, settings)
    with threads() as at_work:
        course = _Course(table, settings, at_work, begun)
        course.begin(states, report)
        said_at = 0.0
        try:
            while course.done < settings.iterations and not course.stands:
                course.step()
                if time.monotonic() - said_at > _REPORT_AFTER:
                    part = _START + (1 - _START) * course.done / settings.iterations
                    report("Factorising", part, **course.said())
                    said_at = time.monotonic()
                if states.wanted():
                    states.keep(course.done, course.state())
        except CancelledError:
            states.keep(course.done, course.state())
            raise
    states.keep(course.done, course.state())
    report("Factorising", 1.0, **course.said())
    learnt, scheme, shares = learn(counts), SCHEMES[settings.weighting], course.shares()
    untold = int(((shares.sum(axis=1) == 0) & (np.diff(counts.indptr) > 0)).sum())
    return TopicModel(
        words_of(course.loss.columns),
        shares,
        None,
        np.array(course.trace),
        overall={MEAN_LENGTH: learnt.mean_length, UNTOLD: float(untold)},
        by_term={GLOBAL_WEIGHT: scheme.parts()[1].weights(learnt.terms, scheme.base)},
    )


def unweighted(topics: Topics, settings: NmfSettings) -> NDArray[np.float64]:
    """Words of topics as shares of tokens, float64[n_topics, n_terms]: without what their global weights added."""
    if settings.weighting == "counts":
        return np.asarray(topics.topic_word)
    words = np.asarray(topics.topic_word) / divisors(np.asarray(topics.by_term[GLOBAL_WEIGHT]))
    return np.asarray(words / np.maximum(words.sum(axis=1, keepdims=True), 1e-300))


def place(topics: Topics, counts: scipy.sparse.csr_matrix, settings: NmfSettings) -> NDArray[np.float64]:
    """Shares of topics in documents that were not factorised, the words of the topics as they are.

    Least squares without negative parts, or the least divergence; the length of a document's row makes no difference.

    Parameters
    ----------
    topics : of a fit with these settings; counts : int[n_docs, n_terms]

    Returns
    -------
    float64[n_docs, n_topics]; zero rows for documents of which nothing is told
    """
    columns = np.ascontiguousarray(np.asarray(topics.topic_word).T, np.float32)
    table = weighed_by(topics, counts, settings)
    with threads() as at_work:
        return shares_of(LOSSES[settings.loss].place(table, columns, at_work), columns)
