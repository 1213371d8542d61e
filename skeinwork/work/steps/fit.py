"""Fit: a topic model of a matrix, its topics by falling share, measured."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, TypeAdapter, model_validator

from skeinwork.core.matrix.matrix import Matrix, term_stream
from skeinwork.core.prevalence import prevalence
from skeinwork.core.progress import Report
from skeinwork.core.text.clean import Cleaning
from skeinwork.core.topics import coherence, methods, words
from skeinwork.core.topics.methods import FitSettings
from skeinwork.core.topics.methods.base import Method, MethodSettings, Verdict
from skeinwork.core.topics.model import Samples, TopicModel
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored
from skeinwork.work.steps.tokens import TOKENS

TOP = 10
BYTES_A_TOKEN = 10  # of those that a matrix counts, about
_SETTINGS: TypeAdapter[Any] = TypeAdapter(FitSettings)
_SAMPLES = ("data", "indices", "indptr", "prior")


class Interval(BaseModel):
    """An estimate with its 95 % interval."""

    mean: float
    low: float
    high: float


class FitSummary(BaseModel):
    """Measures of a fit. ``watched`` is the last value of what its method watches first."""

    topics: int
    npmi: list[float]
    coherence: float
    exclusivity: float
    share: list[Interval]
    watched: float
    verdict: Verdict
    remarks: str

    @model_validator(mode="before")
    @classmethod
    def _of_earlier(cls, given: Any) -> Any:
        """Fits of the first version, which knew one method."""
        if not isinstance(given, dict) or "sampler" not in given:
            return given
        kept = {name: value for name, value in given.items() if name in cls.model_fields}
        share = [dict(zip(Interval.model_fields, each, strict=True)) for each in given["share"]]
        return {**kept, "share": share, "watched": given["log_likelihood"],
                "remarks": given["sampler"]}  # fmt: skip


class FitStep(Step[MethodSettings, TopicModel, FitSummary]):
    name: ClassVar[str] = "fit"
    called: ClassVar[str] = "the fit and its labels"
    wanted: ClassVar[str] = "fit"
    VERSION: ClassVar[int] = 1
    summary: ClassVar[type[BaseModel]] = FitSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def parse(self, settings: Mapping[str, Any]) -> MethodSettings:
        parsed: MethodSettings = _SETTINGS.validate_python(settings)
        return parsed

    def parts(self, settings: MethodSettings) -> dict[str, int]:
        return {
            settings.method: methods.method_of(settings).VERSION,
            "coherence": coherence.VERSION,
            "prevalence": prevalence.VERSION,
        }

    def seconds(self, making: Making, size: int) -> float:
        settings = self.parse(making.settings)
        return methods.method_of(settings).seconds(settings, size // BYTES_A_TOKEN)

    def compute(
        self, earlier: Earlier, settings: MethodSettings, report: Report
    ) -> tuple[TopicModel, FitSummary]:
        method, matrix = methods.method_of(settings), earlier.load(MATRIX)
        display = matrix.display

        def with_words(phase: str, done: float, **details: Any) -> None:
            if "top" in details:
                details["watches"] = method.watches
                details["top"] = [[display[term] for term in row] for row in details["top"]]
            report(phase, 0.95 * done, **details)

        model = method.fit(matrix.counts, settings, with_words)
        share = (model.doc_topic * token_weights(matrix)[:, None]).sum(axis=0)
        model = model.ordered(np.argsort(-share, kind="stable"))
        report("Measuring coherence", 0.97)
        return model, measures(method, model, matrix, earlier.load(CLEANING))

    def save(self, value: TopicModel) -> tuple[Arrays, Documents]:
        arrays: Arrays = {
            "topic_word": value.topic_word, "doc_topic": value.doc_topic, "trace": value.trace,
            **{f"by_topic_{name}": array for name, array in value.by_topic.items()},
        }  # fmt: skip
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
            part("topic_word"), part("doc_topic"),
            Samples(*(part(f"samples_{name}") for name in _SAMPLES)) if sampled else None,
            part("trace"), {name: part(f"by_topic_{name}") for name in numbers["by_topic"]},
            numbers["overall"],
        )  # fmt: skip

    def doubt(self, settings: MethodSettings, summary: FitSummary) -> str:
        return "" if summary.verdict == "settled" else summary.verdict

    def said(self, settings: MethodSettings, summary: FitSummary) -> Said:
        """The method with its topics, and the seed."""
        name, size = methods.method_of(settings).said(settings)
        return Said(name=name, size=size)


FIT = FitStep()


def token_weights(matrix: Matrix) -> NDArray[np.float64]:
    """Tokens of every document, float64[n_docs]."""
    return np.asarray(matrix.counts.sum(axis=1), dtype=np.float64).ravel()


def _single_words(matrix: Matrix, model: TopicModel) -> NDArray[np.int64]:
    """Top words for coherence: one-word terms, since windows count words."""
    masked = np.where(matrix.lengths == 1, model.topic_word, -1.0)
    count = min(TOP, int((matrix.lengths == 1).sum()))
    return words.top_words(masked, count)


def measures(
    method: Method[Any], model: TopicModel, matrix: Matrix, cleaning: Cleaning
) -> FitSummary:
    """Coherence, exclusivity and shares of a model's topics, and what its trace says."""
    ids, doc_ptr = term_stream(cleaning, matrix)
    top = _single_words(matrix, model)
    npmi = coherence.topic_coherence(top, ids, doc_ptr, len(matrix.terms))
    exclusive = words.exclusivity(model.topic_word, min(TOP, len(matrix.terms)))
    weights = token_weights(matrix)
    everything = np.where(weights > 0, 0, -1).astype(np.int64)
    share = prevalence.prevalence(model.doc_topic, model.samples, weights, everything, 1)
    return FitSummary(
        topics=len(model.topic_word), npmi=[float(value) for value in npmi],
        coherence=float(npmi.mean()), exclusivity=float(exclusive.mean()),
        share=[
            Interval(mean=share.mean[0, k], low=share.low[0, k], high=share.high[0, k])
            for k in range(len(model.topic_word))
        ],
        watched=float(model.trace[-1, 1]), verdict=method.verdict(model),
        remarks=method.remarks(model),
    )  # fmt: skip
