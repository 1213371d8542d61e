"""Measures: what fits are compared by, of one fit, beside those that it says of itself."""

from __future__ import annotations

from dataclasses import replace
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import expect
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix import Matrix, term_stream
from skeinwork.core.progress import Report
from skeinwork.core.topics.measures import MEASURES, TOPS, Measured, Texts, windows
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.fitted import Value, measured
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, counted
from skeinwork.work.steps.tokens import TOKENS


class MeasuresSettings(BaseModel):
    """Texts that coherence is measured in: those of the fit, or others that were cleaned."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    reference: str | None = Field(None, pattern="^[0-9a-f]{64}$", description="cleaning of other texts")


class MeasuresSummary(BaseModel):
    """Measures taken, top words looked at, and how many of these the texts of a reference don't hold."""

    measures: int
    words: int
    missing: int = 0


class Measures(BaseModel):
    """By the key of each measure and the number of top words, what it says of each topic, and their mean."""

    measured: dict[str, dict[int, Value]]


class MeasuresStep(Step[MeasuresSettings, Measures, MeasuresSummary]):
    name: ClassVar[str] = "measures"
    called: ClassVar[str] = "the measures of a fit"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = MeasuresSettings
    summary: ClassVar[type[BaseModel]] = MeasuresSummary
    needs = (FIT, MATRIX, CLEANING, TOKENS)

    def parts(self, settings: MeasuresSettings) -> dict[str, int]:
        return {each.key: each.VERSION for each in MEASURES.values()} | {"windows": windows.VERSION}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        found = super().reads(making, inputs)
        if reference := making.settings.get("reference"):
            found.results.extend([reference, inputs.result(reference).making.inputs[0]])
        return found

    def seconds(self, making: Making, size: int) -> float:
        return 3e-8 * size

    def compute(self, earlier: Earlier, settings: MeasuresSettings, report: Report) -> tuple[Measures, MeasuresSummary]:
        report("Measuring the topics", 0.0)
        fit, matrix = earlier.stored(FIT), earlier.load(MATRIX)
        return measured_by_all(fit, matrix, texts_of(earlier, settings, matrix))

    def save(self, value: Measures) -> tuple[Arrays, Documents]:
        return {}, value.model_dump(mode="json")

    def load(self, stored: Stored, earlier: Earlier) -> Measures:
        return Measures.model_validate({"measured": stored.document("measured")})

    def check(self, stored: Stored, earlier: Earlier) -> MeasuresSummary:
        value, topics = self.load(stored, earlier), FIT.summarised(earlier.stored(FIT)).topics
        for by_top in value.measured.values():
            for said in by_top.values():
                expect(len(said.topics) == topics, "it measures other topics")
        expect(self.summarised(stored).measures == len(value.measured), "it counts other measures")
        return self.summarised(stored)

    def said(self, settings: MeasuresSettings, summary: MeasuresSummary) -> Said:
        return Said(name="measures", size=counted(summary.measures, "measure"))


MEASURES_STEP = MeasuresStep()


def texts_of(earlier: Earlier, settings: MeasuresSettings, matrix: Matrix) -> Texts:
    """Those that the fit has seen, or those of the reference."""
    if settings.reference is None:
        return Texts(*term_stream(earlier.load(CLEANING), matrix))
    if not earlier.inputs.has(settings.reference):
        raise BadInputError("The texts that coherence is to be measured in are not there any more. Choose others.")
    other = Earlier(earlier.inputs, [settings.reference]).load(CLEANING)
    return Texts(*term_stream(other, replace(matrix, test=None)))


def by_all(fit: Measured, empty: NDArray[np.bool_]) -> dict[str, dict[int, Value]]:
    """What every measure says of the topics that are not empty, by few and by many of their words."""
    return {key: {top: measured(each, fit, empty, top) for top in TOPS} for key, each in MEASURES.items()}


def measured_by_all(fit: Stored, matrix: Matrix, texts: Texts) -> tuple[Measures, MeasuresSummary]:
    """The measures of a stored fit on texts."""
    said = FIT.summarised(fit)
    empty = np.zeros(said.topics, dtype=bool)
    empty[said.empty] = True
    looked_at = Measured(np.asarray(fit.array("topic_word"))[~empty], matrix.lengths, texts)
    found = by_all(looked_at, empty)
    words, missing = looked_at.missing()
    rest = {"missing": missing} if missing else {}
    return Measures(measured=found), MeasuresSummary(measures=len(found), words=words, **rest)
