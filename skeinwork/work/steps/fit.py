"""Fit: a topic model of a matrix, its topics by falling share, measured."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, TypeAdapter, model_validator

from skeinwork.core.content import expect
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix import Matrix, term_stream, words_of
from skeinwork.core.prevalence import prevalence
from skeinwork.core.prevalence.totals import unit_totals
from skeinwork.core.progress import Report
from skeinwork.core.text.clean import Cleaning
from skeinwork.core.topics import held_out, matching, methods, recovery
from skeinwork.core.topics.held_out import Gain
from skeinwork.core.topics.measures import MEASURES, Measured
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.methods.base import Method, MethodSettings
from skeinwork.core.topics.model import Samples, TopicModel, empty_topics, over_all_terms
from skeinwork.core.topics.trace import Verdict
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored
from skeinwork.work.steps.tokens import TOKENS

BYTES_A_TOKEN = 10  # of those that a matrix counts, about
_SETTINGS: TypeAdapter[Any] = TypeAdapter(FitSettings)
_SAMPLES = ("data", "indices", "indptr", "prior")


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
    npmi, coherence, exclusivity : what the first two measures say, as it has been stored from the first
        day; ``measured`` has it with that of all others in ``measures``
    empty : topics that hold next to nothing
    change : of what is watched over the last half, nats a token
    gain : nats a token by which the topics foretell words better than one topic for all
    recovery : the factor at which differences between groups come out
    """

    topics: int
    npmi: list[float | None]
    coherence: float | None
    exclusivity: float | None
    measures: dict[str, Value] = {}
    share: list[Interval]
    empty: list[int] = []
    watched: float
    verdict: Verdict
    change: Interval | None = None
    gain: Interval | None = None
    recovery: float | None = None
    remarks: str

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
        """What each measure says, by its key; ``topics`` is empty where it was not kept."""
        first = {
            "coherence": Value(mean=self.coherence, topics=self.npmi),
            "exclusivity": Value(mean=self.exclusivity, topics=[]),
        }
        return {**first, **self.measures}

    @property
    def live(self) -> list[int]:
        """The topics that are not empty."""
        return [k for k in range(self.topics) if k not in self.empty]


def own_words(stored: Stored) -> NDArray[np.float64]:
    """What the words of a fit's topics have above those of all together, float64[n_topics, n_terms]."""
    share = np.array([each.mean for each in FIT.summarised(stored).share])
    return matching.own_words(np.asarray(stored.array("topic_word")), share)


def empty_said(empty: int, topics: int) -> str:
    """How many topics stayed empty."""
    return f"{empty} of {topics} topics stayed empty: this corpus does not fill {topics}."


def nothing_left(cleaning: Cleaning, terms: int) -> str:
    """Why a matrix has nothing to fit, and where that is mended."""
    before, left = cleaning.survivals[0].tokens, cleaning.survivals[-1].tokens
    if not before:
        return "The vocabulary is empty: no document has a word. Bring in others at Gather."
    if not left:
        return (
            f"The vocabulary is empty: the passes of Clean took all {before:,} tokens. See there which "
            "takes the most, and switch it off."
        )
    return (
        f"The vocabulary is empty: {left:,} tokens are left by Clean, but pruning left "
        f"{f'{terms:,} terms in no document' if terms else 'no term'}. Loosen it at Weigh."
    )


def so_far(method: Method[Any], points: Sequence[Sequence[float]]) -> str:
    """What the trace of a fit at work says, in a sentence without its full stop; empty before there is any."""
    if not points:
        return ""
    trace = np.array(points)
    change = method.trend(trace)
    ends = (change.change, change.low, change.high) if change else None
    return method.judged(method.verdict(trace), ends, ended=False)


# Seconds between two verdicts on a fit at work.
_JUDGED_EVERY = 0.3
# The share of a fit that is done when it is measured.
_MEASURED = 0.95


class FitStep(Step[MethodSettings, TopicModel, FitSummary]):
    name: ClassVar[str] = "fit"
    called: ClassVar[str] = "the fit and its labels"
    missing: ClassVar[str] = "There is no fit yet. Make one at Fit."
    choice: ClassVar[bool] = True
    goes_on: ClassVar[bool] = True
    wanted: ClassVar[str] = "fit"
    VERSION: ClassVar[int] = 1
    summary: ClassVar[type[BaseModel]] = FitSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def parse(self, settings: Mapping[str, Any]) -> MethodSettings:
        parsed: MethodSettings = _SETTINGS.validate_python(settings)
        return parsed

    def parts(self, settings: MethodSettings) -> dict[str, int]:
        return {
            **methods.method_of(settings).parts(settings),
            **{each.key: each.VERSION for each in MEASURES.values() if each.VERSION},
            "prevalence": prevalence.VERSION,
            "held out": held_out.VERSION,
            "recovery": recovery.VERSION,
        }

    def seconds(self, making: Making, size: int) -> float:
        settings = self.parse(making.settings)
        return methods.method_of(settings).seconds(settings, size // BYTES_A_TOKEN)

    def course(self, making: Making) -> str:
        """That of the fit with the iterations of its method's defaults."""
        settings = self.parse(making.settings)
        usual = type(settings).model_fields["iterations"].default
        return self.making(making.inputs, settings.model_copy(update={"iterations": usual})).identity

    def compute(self, earlier: Earlier, settings: MethodSettings, report: Report) -> tuple[TopicModel, FitSummary]:
        method, matrix = methods.method_of(settings), earlier.load(MATRIX)
        display, fitted = matrix.display, method.fit_share(settings)

        judged, due = "", 0.0

        def with_words(phase: str, done: float, **details: Any) -> None:
            nonlocal judged, due
            if "top" in details:
                # A short iteration is told of far more often than anybody reads it.
                if time.monotonic() >= due:
                    judged, due = so_far(method, details["trace"]), time.monotonic() + _JUDGED_EVERY
                details["judged"] = judged
                details["watches"] = [asdict(each) for each in method.watches]
                details["top"] = [[display[terms[at]] for at in row] for row in details["top"]]
            report(phase, _MEASURED * fitted * done, **details)

        if not matrix.counts.nnz:
            raise BadInputError(nothing_left(earlier.load(CLEANING), len(matrix.lengths)))
        read = method.reads(settings, matrix.lengths)
        counts = matrix.counts if read.all() else matrix.counts[:, read]
        terms = np.flatnonzero(read)
        test = None if matrix.test is None else np.asarray(matrix.test)
        columns = matrix.columns_named(terms)
        known, others = held_out.training_part(counts, test), None if test is None else counts[test]
        states = earlier.inputs.states(self.course(self.making(earlier.last, settings)))
        model = method.fit(known, settings, with_words, columns, states, others)
        if test is not None:
            model = method.place_held_out(model, counts, test, settings)
        model = over_all_terms(model, terms, len(read))
        model = model.ordered(np.argsort(-_topic_tokens(model, matrix), kind="stable"))

        def foretelling(phase: str, done: float, **details: Any) -> None:
            report(phase, _MEASURED * (fitted + (1 - fitted) * done))

        gain = method.gain(counts, settings, test, foretelling, columns)
        report("Measuring the topics", _MEASURED)
        return model, summary_of(method, settings, model, matrix, earlier.load(CLEANING), gain)

    def save(self, value: TopicModel) -> tuple[Arrays, Documents]:
        arrays: Arrays = {
            "topic_word": value.topic_word,
            "doc_topic": value.doc_topic,
            "trace": value.trace,
            **{f"by_topic_{name}": array for name, array in value.by_topic.items()},
        }
        if value.samples:
            arrays |= {f"samples_{name}": getattr(value.samples, name) for name in _SAMPLES}
        return arrays, {"numbers": {"by_topic": list(value.by_topic), "overall": value.overall}}

    def load(self, stored: Stored, earlier: Earlier) -> TopicModel:
        part = stored.array
        if not stored.holds("numbers"):  # of the first version
            return TopicModel(part("topic_word"), part("doc_topic"), None, part("trace"))
        numbers = stored.document("numbers")
        sampled = stored.holds("samples_data")
        return TopicModel(
            part("topic_word"),
            part("doc_topic"),
            Samples(*(part(f"samples_{name}") for name in _SAMPLES)) if sampled else None,
            part("trace"),
            {name: part(f"by_topic_{name}") for name in numbers["by_topic"]},
            numbers["overall"],
        )

    def check(self, stored: Stored, earlier: Earlier) -> FitSummary:
        matrix, model = earlier.load(MATRIX), self.load(stored, earlier)
        counted = np.asarray(matrix.counts.sum(axis=1, dtype=np.int64)).ravel()
        model.check(counted, len(matrix.terms))
        settings, said = self.parse(stored.making.settings), self.summarised(stored)
        topics = len(model.topic_word)
        expect(settings.topics == topics == said.topics, "its topics are not as many as wanted")
        expect(len(said.npmi) == len(said.share) == topics, "its summary is of other topics")
        expect(all(0 <= k < topics for k in said.empty), "its summary is of other topics")
        return said

    def doubt(self, settings: MethodSettings, summary: FitSummary) -> str:
        return "" if summary.verdict == "level" else summary.verdict

    def said(self, settings: MethodSettings, summary: FitSummary) -> Said:
        """The method with its topics, and the seed."""
        name, size = methods.method_of(settings).said(settings)
        return Said(name=name, size=size)


FIT = FitStep()


def token_weights(matrix: Matrix) -> NDArray[np.float64]:
    """Words of every document that a matrix counts, float64[n_docs]."""
    return words_of(matrix).astype(np.float64)


def _topic_tokens(model: TopicModel, matrix: Matrix) -> NDArray[np.float64]:
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


def _measured(model: TopicModel, matrix: Matrix, cleaning: Cleaning, empty: NDArray[np.bool_]) -> dict[str, Value]:
    """What every measure says of the topics that are not empty."""
    fit = Measured(np.asarray(model.topic_word)[~empty], matrix.lengths, *term_stream(cleaning, matrix))
    found = {}
    for key, measure in MEASURES.items():
        values = np.full(len(empty), np.nan)
        values[~empty] = measure.of_topics(fit)
        found[key] = Value(mean=_mean(values), topics=[known(value) for value in values])
    return found


def summary_of(
    method: Method[Any],
    settings: MethodSettings,
    model: TopicModel,
    matrix: Matrix,
    cleaning: Cleaning,
    gain: Gain | None,
) -> FitSummary:
    """Measures and shares of a model's topics, and what its trace says."""
    weights = token_weights(matrix)
    empty = empty_topics(_topic_tokens(model, matrix))
    said = _measured(model, matrix, cleaning, empty)
    coherence, exclusivity = said.pop("coherence"), said.pop("exclusivity")
    change = method.trend(model.trace)
    return FitSummary(
        topics=len(model.topic_word),
        npmi=coherence.topics,
        coherence=coherence.mean,
        exclusivity=exclusivity.mean,
        **({"measures": said} if said else {}),
        share=_shares(model, weights),
        empty=np.flatnonzero(empty).tolist(),
        watched=float(model.trace[-1, 1]),
        verdict=method.verdict(model.trace),
        change=Interval.of(change.change, change.low, change.high) if change else None,
        gain=Interval.of(gain.mean, gain.low, gain.high) if gain else None,
        recovery=method.recovery(model, weights.astype(np.int64)),
        remarks=method.remarks(model, settings),
    )
