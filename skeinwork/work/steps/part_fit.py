"""Part fit: the settings of a fit once more for one part of its documents alone, over several seeds."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import expect, expect_array
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.prevalence.breakdown import Breakdown, placed
from skeinwork.core.progress import Report, part_of
from skeinwork.core.topics import alignment as alignment_module
from skeinwork.core.topics import part_models
from skeinwork.core.topics.alignment import Fitted, token_flow
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.core.topics.model import TopicModel
from skeinwork.core.topics.part_models import Apart, dealt_parts
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.fitted import fitted_to, token_weights
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted
from skeinwork.work.steps.tokens import TOKENS

Array = NDArray[np.float64]
MOST_SEEDS = 10


class Parting(BaseModel):
    """A model for each part: by what documents are parted, and how each part is fitted.

    Attributes
    ----------
    topics : of each model; as many as the fit of all has where it is not given
    smallest : documents that a part has at least; as many as its topics need where it is not given
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    by: Breakdown
    topics: int | None = Field(None, ge=2, le=500)
    seeds: int = Field(3, ge=1, le=MOST_SEEDS)
    smallest: int | None = Field(None, ge=2, le=10_000_000)


class PartFitSettings(BaseModel):
    """Which documents: those of one group, or of one period; fitted so many times, with so many topics.

    Attributes
    ----------
    deal : 0 for the documents themselves; else as many, from all that are in any part, dealt out at random by it
    """

    model_config = ConfigDict(extra="forbid", frozen=True)
    by: Breakdown
    part: str
    topics: int = Field(ge=2, le=500)
    seeds: int = Field(3, ge=1, le=MOST_SEEDS)
    deal: int = Field(0, ge=0, le=2**31 - 1)


class PartFitSummary(BaseModel):
    """Documents and tokens of the part, its topics; and why it has none, where it could not be fitted."""

    documents: int
    tokens: int
    topics: int
    why: str = ""


@dataclass(frozen=True)
class PartFit:
    """The topics of one part.

    Attributes
    ----------
    documents : int64[n], its documents among all
    models : one for each seed, with ``doc_topic``, float64[n, n_topics], without a prior
    found : these against that of all
    """

    documents: NDArray[np.int64]
    models: list[TopicModel]
    found: Apart
    summary: PartFitSummary

    @property
    def topic_word(self) -> Array:
        """Of the first seed's model, float64[n_topics, n_terms]."""
        return np.asarray(self.models[0].topic_word)

    @property
    def share(self) -> Array:
        """Of the first seed's topics in its documents, float64[n, n_topics]."""
        return np.asarray(self.models[0].doc_topic)

    @property
    def tokens(self) -> Array:
        """Tokens of each of its topics, float64[n_topics]."""
        return np.asarray(self.found.flow[0].sum(axis=0))


class PartFitStep(Step[PartFitSettings, PartFit, PartFitSummary]):
    name: ClassVar[str] = "part_fit"
    called: ClassVar[str] = "the fit of a part"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = PartFitSettings
    summary: ClassVar[type[BaseModel]] = PartFitSummary
    needs = (FIT, MATRIX, CLEANING, TOKENS, CORPUS)

    def parts(self, settings: PartFitSettings) -> dict[str, int]:
        return {"apart": part_models.VERSION, "alignment": alignment_module.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return 5e-6 * size * self.parse(making.settings).seeds

    def compute(self, earlier: Earlier, settings: PartFitSettings, report: Report) -> tuple[PartFit, PartFitSummary]:
        matrix, stored = earlier.load(MATRIX), earlier.stored(FIT)
        documents = documents_of(earlier.load(CORPUS), settings, token_weights(matrix) > 0)
        own = part_of_matrix(matrix, documents)
        whole = earlier.load(FIT)
        try:
            models = self._models(own, FIT.parse(stored.making.settings), settings, report)
        except BadInputError as fault:
            return _none(matrix, own, documents, len(whole.topic_word), settings, str(fault))
        tokens = whole.assigned(token_weights(matrix)).tocsr()[documents].toarray()
        before = Fitted(_shares(tokens), np.asarray(whole.topic_word))
        report("Holding its topics against those of all", 0.95)
        each = [Fitted(model.doc_topic, model.topic_word) for model in models]
        flow = np.array([token_flow(before, after, own.counts) for after in each])
        between = np.array([token_flow(each[0], after, own.counts) for after in each[1:]])
        between = between.reshape(len(models) - 1, settings.topics, settings.topics)
        summary = PartFitSummary(documents=len(documents), tokens=int(own.counts.sum()), topics=settings.topics)
        return PartFit(documents, models, Apart(flow, between), summary), summary

    def _models(self, own: Matrix, of: MethodSettings, settings: PartFitSettings, report: Report) -> list[TopicModel]:
        if method_of(of).finds:
            raise BadInputError(
                f"{method_of(of).title} find as many topics as there are, and models of parts are held against each "
                "other topic by topic. Fit LDA or NMF for it."
            )
        given = {"continues": None, "merged": (), "topics": settings.topics}
        found = []
        for turn in range(settings.seeds):
            alone = FIT.parse({**of.model_dump(), **given, "seed": (of.seed + turn) % 2**31})
            if turn and not method_of(alone).seeded(alone):
                break
            done = part_of(report, 0.95 * turn / settings.seeds, 0.95 * (turn + 1) / settings.seeds)
            model, _ = fitted_to(own, alone, _quiet(done, f"Fitting {settings.part}"))
            share = _shares(model.assigned(token_weights(own)).toarray())
            found.append(replace(model, doc_topic=share, samples=None, foretold=None))
        return found

    def save(self, value: PartFit) -> tuple[Arrays, Documents]:
        arrays: Arrays = {"documents": value.documents, "flow": value.found.flow, "between": value.found.between}
        for turn, model in enumerate(value.models):
            arrays |= {f"topic_word_{turn}": model.topic_word, f"share_{turn}": model.doc_topic}
            arrays |= {f"by_topic_{name}_{turn}": array for name, array in model.by_topic.items()}
            arrays |= {f"by_term_{name}_{turn}": array for name, array in model.by_term.items()}
        numbers = [
            {"by_topic": list(each.by_topic), "by_term": list(each.by_term), "overall": each.overall}
            for each in value.models
        ]
        return arrays, {"numbers": numbers}

    def load(self, stored: Stored, earlier: Earlier) -> PartFit:
        part = stored.array
        models = [
            TopicModel(
                part(f"topic_word_{turn}"),
                part(f"share_{turn}"),
                None,
                np.zeros((0, 0)),
                {name: part(f"by_topic_{name}_{turn}") for name in numbers["by_topic"]},
                numbers["overall"],
                {name: part(f"by_term_{name}_{turn}") for name in numbers["by_term"]},
            )
            for turn, numbers in enumerate(stored.document("numbers"))
        ]
        found = Apart(np.asarray(part("flow")), np.asarray(part("between")))
        return PartFit(np.asarray(part("documents")), models, found, self.summarised(stored))

    def check(self, stored: Stored, earlier: Earlier) -> PartFitSummary:
        value, said = self.load(stored, earlier), self.summarised(stored)
        settings, matrix = self.parse(stored.making.settings), earlier.load(MATRIX)
        n_docs, n_terms = matrix.counts.shape
        topics = 0 if said.why else settings.topics
        expect(said.topics == topics, "it has other topics than were wanted")
        documents = expect_array("documents", value.documents, np.int64, (said.documents,), 0, max(n_docs - 1, 0))
        expect(bool((np.diff(documents) > 0).all()), "its documents are not in order")
        expect(1 <= len(value.models) <= settings.seeds, "it has other fits than were wanted")
        for model in value.models:
            expect_array("topic_word", model.topic_word, np.float64, (topics, n_terms), 0.0, 1.0 + 1e-9)
            expect_array("share", model.doc_topic, np.float64, (said.documents, topics), 0.0, 1.0 + 1e-9)
            for each in model.by_topic.values():
                expect_array("by_topic", each, np.float64, (topics,))
            for each in model.by_term.values():
                expect_array("by_term", each, np.float64, (n_terms,))
        whole, seeds = FIT.summarised(earlier.stored(FIT)).topics, len(value.models)
        expect_array("flow", value.found.flow, np.float64, (seeds, whole, topics), 0.0)
        expect_array("between", value.found.between, np.float64, (seeds - 1, topics, topics), 0.0)
        return said

    def said(self, settings: PartFitSettings, summary: PartFitSummary) -> Said:
        name = f"{settings.part} alone" if not settings.deal else f"as many as {settings.part}, dealt out"
        return Said(name=name, size=counted(summary.documents, "document"))


PART_FIT = PartFitStep()


def documents_of(corpus: Corpus, settings: PartFitSettings, counted: NDArray[np.bool_]) -> NDArray[np.int64]:
    """The documents of a part that have counted words, int64[n]; ``counted`` says which have, bool[n_docs].

    Raises
    ------
    BadInputError
        where there is no such part.
    """
    names, place = placed(corpus, settings.by, counted)
    if settings.part not in names:
        raise BadInputError(f"There is no part “{settings.part[:60]}”.")
    if settings.deal:
        place = dealt_parts(place, units_of(corpus, settings.by.unit), settings.deal)
    return np.flatnonzero(place == names.index(settings.part)).astype(np.int64)


def part_of_matrix(matrix: Matrix, documents: NDArray[np.int64]) -> Matrix:
    """Some rows of a matrix, over the same terms."""
    test = None if matrix.test is None else np.asarray(matrix.test)[documents]
    return replace(matrix, counts=matrix.counts[documents], test=test if test is not None and test.any() else None)


def _shares(tokens: Array) -> Array:
    return np.asarray(tokens / np.maximum(tokens.sum(axis=1, keepdims=True), 1e-300))


def _quiet(report: Report, what: str) -> Report:
    """Progress alone: what forms is of a part, and not to be shown as the strand's."""

    def said(phase: str, done: float, **details: Any) -> None:
        report(what, done)

    return said


def _none(
    matrix: Matrix, own: Matrix, documents: NDArray[np.int64], whole: int, settings: PartFitSettings, why: str
) -> tuple[PartFit, PartFitSummary]:
    """A part that has no topics."""
    summary = PartFitSummary(documents=len(documents), tokens=int(own.counts.sum()), topics=0, why=why)
    found = Apart(np.zeros((1, whole, 0)), np.zeros((0, 0, 0)))
    bare = TopicModel(np.zeros((0, len(matrix.terms))), np.zeros((len(documents), 0)), None, np.zeros((0, 0)))
    return PartFit(documents, [bare], found, summary), summary
