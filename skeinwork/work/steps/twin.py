"""Twin: the same fit to the same words dealt out at random, for what measures say where there is nothing to find."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix import dealt_out
from skeinwork.core.matrix.dealt_out import shuffled_twin
from skeinwork.core.matrix.matrix import Matrix, term_stream
from skeinwork.core.progress import Report
from skeinwork.core.relate.neighbours import unit_vectors
from skeinwork.core.topics.measures import Measured, Texts
from skeinwork.core.topics.methods import FitSettings, method_of
from skeinwork.core.topics.methods.base import NoTopicsError, Vectors
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.document_vectors import of_terms
from skeinwork.work.steps.fit import FIT, above_all, nothing_left, vectors_of
from skeinwork.work.steps.fitted import FitSummary, Value, fitted_to, summary_of
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.measures import MEASURES_STEP, MeasuresSettings, by_all
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored
from skeinwork.work.steps.tokens import TOKENS

# The share of the time after which it is measured.
_MEASURED = 0.95


class TwinSettings(BaseModel):
    """The fit that it is the twin of, and the seed by which words are dealt out."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    fit: FitSettings
    deal: int = Field(1, strict=True, ge=0, le=2**31 - 1)


class TwinSummary(BaseModel):
    """What the fit to the dealt-out words says of itself, and the measures of its topics."""

    fit: FitSummary
    measured: dict[str, dict[int, Value]]


@dataclass(frozen=True)
class Twin:
    """The topics that were found where there are none.

    Attributes
    ----------
    topic_word : float64[n_topics, n_terms]
    summary : what they measure
    """

    topic_word: NDArray[np.float64]
    summary: TwinSummary


class TwinStep(Step[TwinSettings, Twin, TwinSummary]):
    name: ClassVar[str] = "twin"
    called: ClassVar[str] = "the shuffled twin of a fit"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = TwinSettings
    summary: ClassVar[type[BaseModel]] = TwinSummary
    needs = (MATRIX, CLEANING, TOKENS)

    def parts(self, settings: TwinSettings) -> dict[str, int]:
        measures = MEASURES_STEP.parts(MeasuresSettings())
        return {**FIT.parts(settings.fit), **measures, "dealt out": dealt_out.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return FIT.seconds(FIT.making(making.inputs, self.parse(making.settings).fit), size)

    def goes_on_from(self, making: Making, inputs: Inputs) -> list[Making]:
        """The vectors that the fit reads, where they are not of the dealt-out words."""
        fit = self.parse(making.settings).fit
        if not method_of(fit).reads_vectors or vectors_of(fit).of == "terms":
            return []
        return FIT.first(inputs.result(making.inputs[0]).making, fit)

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        found = super().reads(making, inputs)
        found.results.extend(each.identity for each in self.goes_on_from(making, inputs))
        return found

    def compute(self, earlier: Earlier, settings: TwinSettings, report: Report) -> tuple[Twin, TwinSummary]:
        matrix, cleaning = earlier.load(MATRIX), earlier.load(CLEANING)
        if not matrix.counts.nnz:
            raise BadInputError(nothing_left(cleaning, len(matrix.lengths)))
        stream, doc_ptr = term_stream(cleaning, replace(matrix, test=None))
        twin, dealt = shuffled_twin(matrix, stream, doc_ptr, settings.deal)
        texts = seen(dealt, doc_ptr, twin.test)

        def fitting(phase: str, done: float, **details: object) -> None:
            report("Fitting words dealt out at random", _MEASURED * done)

        try:
            model, gain = fitted_to(twin, settings.fit, fitting, vectors=self._vectors(earlier, settings, twin))
        except NoTopicsError:
            return _of_none(len(matrix.terms))
        report("Measuring the topics", _MEASURED)
        said = summary_of(method_of(settings.fit), settings.fit, model, twin, texts, gain)
        empty = np.isin(np.arange(said.topics), said.empty)
        looked_at = Measured(np.asarray(model.topic_word)[~empty], twin.lengths, texts)
        summary = TwinSummary(fit=said, measured=by_all(looked_at, empty))
        return Twin(model.topic_word, summary), summary

    def _vectors(self, earlier: Earlier, settings: TwinSettings, twin: Matrix) -> Vectors | None:
        """Of the dealt-out words; supplied ones with the numbers of each direction dealt out among documents."""
        if not method_of(settings.fit).reads_vectors:
            return None
        wanted = vectors_of(settings.fit)
        if wanted.of == "terms":
            made = of_terms(twin, wanted)
            return Vectors(made.items, unit_vectors(made.vectors))
        as_they_are = FIT.vectors(earlier, settings.fit)
        assert as_they_are is not None
        deal = np.random.default_rng(settings.deal)
        numbers = np.stack([deal.permutation(column) for column in as_they_are.unit.T], axis=1)
        return Vectors(as_they_are.documents, unit_vectors(numbers))

    def save(self, value: Twin) -> tuple[Arrays, Documents]:
        return {"topic_word": value.topic_word}, {}

    def load(self, stored: Stored, earlier: Earlier) -> Twin:
        return Twin(stored.array("topic_word"), self.summarised(stored))

    def check(self, stored: Stored, earlier: Earlier) -> TwinSummary:
        said, terms = self.summarised(stored), len(earlier.load(MATRIX).terms)
        wanted = self.parse(stored.making.settings).fit
        as_wanted = said.fit.topics <= wanted.topics if method_of(wanted).finds else said.fit.topics == wanted.topics
        expect(as_wanted, "it has other topics than were wanted")
        expect_array("topic_word", stored.array("topic_word"), np.float64, (said.fit.topics, terms), 0.0, 1.0 + 1e-9)
        return said

    def said(self, settings: TwinSettings, summary: TwinSummary) -> Said:
        name, size = method_of(settings.fit).said(settings.fit)
        return Said(name=f"{name}, words dealt out at random", size=size)


TWIN = TwinStep()


def _of_none(terms: int) -> tuple[Twin, TwinSummary]:
    """Where nothing stands out, as there is nothing."""
    fit = FitSummary(
        topics=0, npmi=[], coherence=None, exclusivity=None, share=[], watched=0.0, verdict="level", remarks="no topic"
    )
    summary = TwinSummary(fit=fit, measured={})
    return Twin(np.zeros((0, terms)), summary), summary


def seen(stream: NDArray[np.int32], doc_ptr: NDArray[np.int64], test: NDArray[np.bool_] | None) -> Texts:
    """The part of a stream that is of documents not held out, bool[n_docs]."""
    if test is None:
        return Texts(stream, doc_ptr)
    sizes = np.where(np.asarray(test), 0, np.diff(doc_ptr))
    kept = np.repeat(~np.asarray(test), np.diff(doc_ptr))
    return Texts(stream[kept], np.concatenate([[0], np.cumsum(sizes)]).astype(np.int64))


def own_words(stored: Stored) -> NDArray[np.float64]:
    """What the words of its topics have above those of all together, float64[n_live, n_terms]."""
    said = TWIN.summarised(stored).fit
    return above_all(stored, said)[said.live]
