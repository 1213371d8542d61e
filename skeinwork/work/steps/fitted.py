"""A fit computed and measured, and what it says of itself in a few numbers."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, model_validator

from skeinwork.core.matrix.matrix import Matrix, words_of
from skeinwork.core.prevalence import prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.progress import Report, silent
from skeinwork.core.topics import held_out, methods
from skeinwork.core.topics.clustered import WITHOUT
from skeinwork.core.topics.gain import Gain
from skeinwork.core.topics.measures import USUAL, WITH_FIT, Measure, Measured, Texts
from skeinwork.core.topics.methods.base import Method, MethodSettings, Vectors
from skeinwork.core.topics.model import TopicModel, empty_topics
from skeinwork.core.topics.states import FORGETFUL, States
from skeinwork.core.topics.trace import Verdict


def known(value: float) -> float | None:
    """A number, or None for NaN."""
    return None if np.isnan(value) else float(value)


class Interval(BaseModel):
    """An estimate with its 95 % interval, where there are units enough for one."""

    mean: float
    low: float | None
    high: float | None

    @classmethod
    def of(cls, mean: float, low: float, high: float) -> Interval:
        """From numbers, of which those that are NaN are not known."""
        return cls(mean=float(mean), low=known(low), high=known(high))


class Value(BaseModel):
    """What a measure says of a fit, and of each topic; None for empty topics, which no measure counts."""

    mean: float | None
    topics: list[float | None]


class FitSummary(BaseModel):
    """Measures of a fit. ``watched`` is the last value of what its method watches first.

    Attributes
    ----------
    npmi, coherence, exclusivity : what the measures say that every fit has, as it has been stored from the
        first day; ``measured`` has it by their keys
    empty : topics that hold next to nothing
    change : of what is watched over the last half, nats a token
    gain : nats a token by which the topics foretell words better than one topic for all
    recovery : the factor at which differences between groups come out
    outliers : documents in no topic, of a method that leaves some out
    """

    topics: int
    npmi: list[float | None]
    coherence: float | None
    exclusivity: float | None
    share: list[Interval]
    empty: list[int] = []
    watched: float
    verdict: Verdict
    change: Interval | None = None
    gain: Interval | None = None
    recovery: float | None = None
    remarks: str
    outliers: int = 0

    @model_validator(mode="before")
    @classmethod
    def _of_earlier(cls, given: Any) -> Any:
        """Fits of earlier versions: the first knew one method, the second no “level”."""
        if not isinstance(given, dict):
            return given
        if given.get("verdict") == "settled":
            given = {**given, "verdict": "level"}
        if "sampler" not in given:
            return given
        kept = {name: value for name, value in given.items() if name in cls.model_fields}
        share = [dict(zip(Interval.model_fields, each, strict=True)) for each in given["share"]]
        return {**kept, "share": share, "watched": given["log_likelihood"], "remarks": given["sampler"]}

    @property
    def measured(self) -> dict[str, Value]:
        """What each measure that every fit has says, by its key; ``topics`` is empty where it was not kept."""
        return {
            "coherence": Value(mean=self.coherence, topics=self.npmi),
            "exclusivity": Value(mean=self.exclusivity, topics=[]),
        }

    @property
    def live(self) -> list[int]:
        """The topics that are not empty."""
        return [k for k in range(self.topics) if k not in self.empty]


def fitted_to(
    matrix: Matrix,
    settings: MethodSettings,
    report: Report = silent,
    states: States = FORGETFUL,
    begun: TopicModel | None = None,
    vectors: Vectors | None = None,
) -> tuple[TopicModel, Gain | None]:
    """A model of a matrix, the documents held out placed among its topics, and how it foretells words."""
    method, share = methods.method_of(settings), methods.method_of(settings).fit_share(settings)
    read = method.reads(settings, matrix.lengths)
    counts = matrix.counts if read.all() else matrix.counts[:, read]
    terms = np.flatnonzero(read)
    test = None if matrix.test is None else np.asarray(matrix.test)
    columns = matrix.columns_named(terms)
    known, others = held_out.training_part(counts, test), None if test is None else counts[test]

    def forming(phase: str, done: float, **details: Any) -> None:
        if "top" in details:
            details["top"] = [terms[row].tolist() for row in details["top"]]
        report(phase, share * done, **details)

    def foretelling(phase: str, done: float, **details: Any) -> None:
        report(phase, share + (1 - share) * done)

    if begun:
        begun = begun.over_terms(np.where(read, np.cumsum(read) - 1, -1), len(terms))
    seen = vectors.of(~test) if vectors and test is not None else vectors
    model = method.fit(known, settings, forming, columns, states, others, begun, seen)
    if test is None:
        gain = method.gain(counts, settings, foretelling, columns)
    else:
        model = replace(model, foretold=method.foretold(model, counts[test], settings))
        gain = model.foretold.gain if model.foretold else None
        model = method.place_held_out(model, counts, test, settings, vectors)
    model = model.over_terms(terms, len(read))
    sizes = np.asarray(model.doc_topic).sum(axis=0) if method.shares_of == "documents" else topic_tokens(model, matrix)
    return model.ordered(np.argsort(-sizes, kind="stable")), gain


def document_sizes(model: TopicModel, matrix: Matrix) -> NDArray[np.float64]:
    """What every document counts for in shares of all, float64[n_docs]: its words, or 1 where it is in one topic."""
    if model.samples and model.samples.sizes is not None:
        return (np.asarray(model.samples.sizes) > 0).astype(np.float64)
    return token_weights(matrix)


def token_weights(matrix: Matrix) -> NDArray[np.float64]:
    """Words of every document that a matrix counts, float64[n_docs]."""
    return words_of(matrix).astype(np.float64)


def topic_tokens(model: TopicModel, matrix: Matrix) -> NDArray[np.float64]:
    """Tokens of each topic, float64[n_topics]."""
    if model.samples:
        return model.samples.topic_tokens
    share = np.asarray(model.doc_topic) * token_weights(matrix)[:, None]
    return np.asarray(share.sum(axis=0), dtype=np.float64)


def _shares(model: TopicModel, weights: NDArray[np.float64]) -> list[Interval]:
    """Share of each topic among all tokens."""
    everything = np.where(weights > 0, 0, -1).astype(np.int64)
    found = prevalence.prevalence(unit_totals(model.drawn, weights, everything, 1))
    return [Interval.of(*each) for each in zip(found.mean[0], found.low[0], found.high[0], strict=True)]


def _mean(values: NDArray[np.float64]) -> float | None:
    """Mean of those that are known."""
    there = values[~np.isnan(values)]
    return float(there.mean()) if len(there) else None


def measured(measure: Measure, fit: Measured, empty: NDArray[np.bool_], top: int = USUAL) -> Value:
    """What a measure says of the topics that are not empty; ``fit`` holds these alone."""
    values = np.full(len(empty), np.nan)
    values[~empty] = measure.of_topics(fit, top)
    return Value(mean=_mean(values), topics=[known(value) for value in values])


def summary_of(
    method: Method[Any], settings: MethodSettings, model: TopicModel, matrix: Matrix, texts: Texts, gain: Gain | None
) -> FitSummary:
    """Measures and shares of a model's topics, and what its trace says."""
    weights = document_sizes(model, matrix)
    empty = empty_topics(topic_tokens(model, matrix))
    looked_at = Measured(np.asarray(model.topic_word)[~empty], matrix.lengths, texts)
    coherence, exclusivity = (measured(each, looked_at, empty) for each in WITH_FIT.values())
    change = method.trend(model.trace)
    return FitSummary(
        topics=len(model.topic_word),
        npmi=coherence.topics,
        coherence=coherence.mean,
        exclusivity=exclusivity.mean,
        share=_shares(model, weights),
        empty=np.flatnonzero(empty).tolist(),
        watched=float(model.trace[-1, 1]),
        verdict=method.verdict(model.trace),
        change=Interval.of(change.change, change.low, change.high) if change else None,
        gain=Interval.of(gain.mean, gain.low, gain.high) if gain else None,
        recovery=method.recovery(model, weights.astype(np.int64), settings),
        remarks=method.remarks(model, settings),
        **_outliers(model),
    )


def _outliers(model: TopicModel) -> dict[str, int]:
    """Documents in no topic, of a method that leaves some out."""
    if not model.clustered:
        return {}
    outside = ~np.asarray(model.doc_topic).any(axis=1)
    return {"outliers": int((outside & (np.asarray(model.clustered.found) != WITHOUT)).sum())}
