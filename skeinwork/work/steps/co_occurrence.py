"""Co-occurrence: which topics of a fit documents hold together, against tables with the same margins."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import expect, expect_array
from skeinwork.core.in_words import percent
from skeinwork.core.progress import Report, part_of
from skeinwork.core.topics import co_occurrence
from skeinwork.core.topics.co_occurrence import CoOccurrence
from skeinwork.core.topics.holding import LEAST_SHARE, holding
from skeinwork.core.topics.log_ratios import log_ratio_correlation
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.fitted import document_sizes
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted

_COUNTS = ("documents", "observed")
_NUMBERS = ("expected", "spread", "p", "adjusted")


class CoOccurrenceSettings(BaseModel):
    """From which share on a document has a topic, and how many tables are drawn."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    share: float = Field(LEAST_SHARE, ge=0.01, le=0.9, description="of a document's counted words")
    permutations: int = Field(co_occurrence.PERMUTATIONS, ge=99, le=99_999)
    seed: int = Field(1, ge=0, le=2**31 - 1)


class CoOccurrenceSummary(BaseModel):
    """Documents that have any topic, topics, and pairs that keep more, or less, company than by chance."""

    documents: int
    topics: int
    more: int
    less: int


class Together(BaseModel):
    """What was found, with correlations of centred log-ratios of shares, float64[n_topics, n_topics]."""

    model_config = ConfigDict(arbitrary_types_allowed=True, frozen=True)
    found: CoOccurrence
    correlation: np.ndarray


class CoOccurrenceStep(Step[CoOccurrenceSettings, Together, CoOccurrenceSummary]):
    name: ClassVar[str] = "co_occurrence"
    called: ClassVar[str] = "the co-occurrence of topics"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = CoOccurrenceSettings
    summary: ClassVar[type[BaseModel]] = CoOccurrenceSummary
    needs = (FIT, MATRIX)

    def parts(self, settings: CoOccurrenceSettings) -> dict[str, int]:
        return {"co-occurrence": co_occurrence.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return 2e-10 * size * self.parse(making.settings).permutations

    def compute(
        self, earlier: Earlier, settings: CoOccurrenceSettings, report: Report
    ) -> tuple[Together, CoOccurrenceSummary]:
        model = earlier.load(FIT)
        weights = document_sizes(model, earlier.load(MATRIX))
        held = holding(model.assigned(weights), settings.share)
        found = co_occurrence.co_occurrence(held, settings.permutations, settings.seed, part_of(report, 0.0, 0.95))
        shares = np.asarray(model.doc_topic)
        made = Together(found=found, correlation=log_ratio_correlation(shares[weights > 0]))
        return made, _summary(made)

    def save(self, value: Together) -> tuple[Arrays, Documents]:
        arrays = {name: getattr(value.found, name) for name in (*_COUNTS, *_NUMBERS)}
        numbers = {"of": value.found.of, "permutations": value.found.permutations}
        return {**arrays, "correlation": value.correlation}, {"numbers": numbers}

    def load(self, stored: Stored, earlier: Earlier) -> Together:
        numbers = stored.document("numbers")
        parts = {name: np.asarray(stored.array(name)) for name in (*_COUNTS, *_NUMBERS)}
        found = CoOccurrence(**parts, of=numbers["of"], permutations=numbers["permutations"])
        return Together(found=found, correlation=np.asarray(stored.array("correlation")))

    def check(self, stored: Stored, earlier: Earlier) -> CoOccurrenceSummary:
        made, topics = self.load(stored, earlier), FIT.summarised(earlier.stored(FIT)).topics
        square, of = (topics, topics), made.found.of
        expect(isinstance(of, int) and isinstance(made.found.permutations, int), "its numbers are none")
        documents = expect_array("documents", made.found.documents, np.int64, (topics,), 0, of)
        observed = expect_array("observed", made.found.observed, np.int64, square, 0, documents)
        expect((observed == observed.T).all(), "observed differs from itself")
        for name in ("expected", "spread"):
            expect_array(name, getattr(made.found, name), np.float64, square, 0)
        for name in ("p", "adjusted"):
            expect_array(name, getattr(made.found, name), np.float64, square, 0, 1)
        expect_array("correlation", made.correlation, np.float64, square, -1, 1)
        return _summary(made)

    def said(self, settings: CoOccurrenceSettings, summary: CoOccurrenceSummary) -> Said:
        return Said(
            name=f"topics together, from {percent(settings.share)} on", size=counted(summary.documents, "document")
        )


CO_OCCURRENCE = CoOccurrenceStep()
# Adjusted p under which two topics are said to keep company, or apart.
SURE = 0.05


def _summary(made: Together) -> CoOccurrenceSummary:
    found = made.found
    upper = np.triu_indices(len(found.documents), 1)
    sure, more = found.adjusted[upper] < SURE, found.observed[upper] > found.expected[upper]
    return CoOccurrenceSummary(
        documents=found.of, topics=len(found.documents), more=int((sure & more).sum()), less=int((sure & ~more).sum())
    )
