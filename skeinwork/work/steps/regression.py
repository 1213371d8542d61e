"""Regression: what remains of a difference in prevalence when other things are held fixed."""

from __future__ import annotations

from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from skeinwork.core.content import expect, expect_array
from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.prevalence import regression as regression_module
from skeinwork.core.prevalence.breakdown import Breakdown, cells_of, weights_of
from skeinwork.core.prevalence.chains import Chain, chain_of
from skeinwork.core.prevalence.design_matrix import Design, Regression, design_of
from skeinwork.core.prevalence.movement import SURE
from skeinwork.core.prevalence.regression import column_of, mean_shares, regress, shares_by_sample
from skeinwork.core.prevalence.residuals import Residual, by_fifths, by_parts, parts_of, told_by_others
from skeinwork.core.progress import Report, part_of
from skeinwork.core.topics.model import Samples
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.fitted import document_sizes
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.movement import OtherSeed
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, counted, load
from skeinwork.work.steps.tokens import TOKENS

Array = NDArray[np.float64]


class RegressionSettings(BaseModel):
    """What is regressed on what, and whose draws are let in."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    of: Regression
    seeds: tuple[OtherSeed, ...] = Field((), max_length=20)
    seed: int = Field(1, ge=0, le=2**31 - 1, description="of documents that are drawn to average predictions over")


class TermOf(BaseModel):
    """A term: the points at which it is predicted.

    ``merged`` are values that are one together, ``told`` how much of it the other terms tell.
    """

    name: str
    kind: str
    labels: list[str]
    values: list[float]
    merged: int
    told: float


class EffectOf(BaseModel):
    """A term or a pair, where its points and contrasts begin and end among all."""

    terms: list[str]
    points: tuple[int, int]
    contrasts: tuple[int, int]


class Outline(BaseModel):
    """All of a regression but its figures.

    Attributes
    ----------
    given : of every point, the labels that its terms are set to; ``documents`` that are there
    contrasts : what of the terms is held against the rest
    rows : documents that were regressed; ``left_out`` those that lack a value; ``units`` that were sampled
    outside : predictions beneath 0 or above 1
    fifths, pairs : of every topic, documents by what is foretold, and parts of two terms that differ most from it
    """

    terms: list[TermOf]
    effects: list[EffectOf]
    given: list[list[str]]
    documents: list[int]
    contrasts: list[list[str]]
    columns: int
    rows: int
    left_out: int
    units: int
    outside: int
    fifths: list[list[Residual]]
    pairs: list[list[Residual]]


class Estimates(BaseModel):
    """Figures by topic; NaN where the documents can't tell.

    Attributes
    ----------
    share, low, high : float64[n_points, n_topics]
    difference, difference_low, difference_high, p : float64[n_contrasts, n_topics]
    effect_p, adjusted : float64[n_effects, n_topics]
    coefficients : float64[n_columns, n_topics]; explained : float64[n_topics]
    """

    model_config = ConfigDict(arbitrary_types_allowed=True, frozen=True)
    share: np.ndarray
    low: np.ndarray
    high: np.ndarray
    difference: np.ndarray
    difference_low: np.ndarray
    difference_high: np.ndarray
    p: np.ndarray
    effect_p: np.ndarray
    adjusted: np.ndarray
    coefficients: np.ndarray
    explained: np.ndarray


class Held(BaseModel):
    """A regression as it is kept."""

    outline: Outline
    found: Estimates


class RegressionSummary(BaseModel):
    """Topics, terms and pairs, and topics of which any of them surely tells something."""

    topics: int
    effects: int
    sure: int


_FIGURES = tuple(Estimates.model_fields)


def design_for(corpus: Corpus, of: Regression, tokens: Array) -> Design:
    """The columns, with documents weighed as a breakdown weighs them."""
    by = Breakdown(weight=of.weight, design=of.design)
    return design_of(corpus, of, weights_of(corpus, by, tokens, cells_of(corpus, by)).weights)


def regressed(
    samples: Samples, corpus: Corpus, settings: RegressionSettings, tokens: Array, chains: list[Chain], report: Report
) -> Held:
    """A regression with its residuals."""
    design = design_for(corpus, settings.of, tokens)
    made = regress(samples, design, settings.of.link, chains, settings.seed, part_of(report, 0.0, 0.8))
    report("Looking at what is missed", 0.8)
    columns = design.columns(np.arange(len(design.documents)), {})
    told = told_by_others(design, columns)
    shares, parts = mean_shares(shares_by_sample(samples, design.documents)[: samples.estimated_from]), parts_of(design)
    fifths, pairs = [], []
    for k in range(shares.shape[1]):
        of = (column_of(shares, k), made.foretold(columns, k))
        fifths.append(by_fifths(design, *of))
        pairs.append(by_parts(design, parts, *of))
    outline = Outline(
        terms=[
            TermOf(
                name=name,
                kind=term.kind,
                labels=term.labels,
                values=term.values.tolist(),
                merged=term.merged,
                told=told[name],
            )
            for name, term in design.terms.items()
        ],
        effects=[
            EffectOf(
                terms=list(each.terms),
                points=(each.points.start, each.points.stop),
                contrasts=(each.contrasts.start, each.contrasts.stop),
            )
            for each in made.effects.effects
        ],
        given=[[design.terms[name].labels[at] for name, at in each.items()] for each in made.effects.given],
        documents=made.effects.documents.tolist(),
        contrasts=[list(each) for each in made.effects.labels],
        columns=columns.shape[1],
        rows=len(design.documents),
        left_out=design.left_out,
        units=made.units,
        outside=made.outside,
        fifths=fifths,
        pairs=pairs,
    )
    return Held(outline=outline, found=Estimates(**{name: getattr(made, name) for name in _FIGURES}))


class RegressionStep(Step[RegressionSettings, Held, RegressionSummary]):
    name: ClassVar[str] = "regression"
    called: ClassVar[str] = "the regression"
    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = RegressionSettings
    summary: ClassVar[type[BaseModel]] = RegressionSummary
    needs = (FIT, MATRIX, CLEANING, TOKENS, CORPUS)

    def parts(self, settings: RegressionSettings) -> dict[str, int]:
        return {"regression": regression_module.VERSION}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        own = super().reads(making, inputs)
        others = [each.fit for each in self.parse(making.settings).seeds]
        return Reads([*own.results, *others], own.files)

    def seconds(self, making: Making, size: int) -> float:
        return 2e-6 * size

    def compute(self, earlier: Earlier, settings: RegressionSettings, report: Report) -> tuple[Held, RegressionSummary]:
        others = ((load(earlier.inputs, FIT, earlier.inputs.result(each.fit)), each.again) for each in settings.seeds)
        chains = [chain_of(other.drawn.assigned(), again) for other, again in others]
        model = earlier.load(FIT)
        samples, tokens = model.drawn, document_sizes(model, earlier.load(MATRIX))
        made = regressed(samples, earlier.load(CORPUS), settings, tokens, chains, report)
        return made, _summary(made)

    def save(self, value: Held) -> tuple[Arrays, Documents]:
        arrays = {name: getattr(value.found, name) for name in _FIGURES}
        return arrays, {"outline": value.outline.model_dump(mode="json")}

    def load(self, stored: Stored, earlier: Earlier) -> Held:
        outline = TypeAdapter(Outline).validate_python(stored.document("outline"))
        return Held(outline=outline, found=Estimates(**{name: np.asarray(stored.array(name)) for name in _FIGURES}))

    def check(self, stored: Stored, earlier: Earlier) -> RegressionSummary:
        made, topics = self.load(stored, earlier), FIT.summarised(earlier.stored(FIT)).topics
        of = made.outline
        points, contrasts, effects = len(of.given), len(of.contrasts), len(of.effects)
        expect(len(of.documents) == points, "its points are not those of its documents")
        for each in of.effects:
            expect(0 <= each.points[0] < each.points[1] <= points, "an effect has no points")
            expect(0 <= each.contrasts[0] <= each.contrasts[1] <= contrasts, "an effect has no contrasts")
            expect(0 < len(each.terms) <= 2, "an effect is of no term")
            expect(set(each.terms) <= {term.name for term in of.terms}, "an effect is of no term")
            expect(all(len(mine) == len(each.terms) for mine in of.given[slice(*each.points)]), "a point is nowhere")
        expect(len(of.fifths) == len(of.pairs) == topics, "it is of other topics")
        sizes = {"explained": (topics,), "coefficients": (of.columns, topics)}
        sizes |= dict.fromkeys(("share", "low", "high"), (points, topics))
        sizes |= dict.fromkeys(("difference", "difference_low", "difference_high", "p"), (contrasts, topics))
        sizes |= dict.fromkeys(("effect_p", "adjusted"), (effects, topics))
        for name in _FIGURES:
            found = getattr(made.found, name)
            expect_array(name, np.nan_to_num(found) if found.dtype == np.float64 else found, np.float64, sizes[name])
        for name in ("share", "low", "high", "p", "effect_p", "adjusted"):
            expect_array(name, np.nan_to_num(getattr(made.found, name)), np.float64, sizes[name], 0, 1)
        return _summary(made)

    def said(self, settings: RegressionSettings, summary: RegressionSummary) -> Said:
        terms = " + ".join([*settings.of.terms, *(" × ".join(each) for each in settings.of.pairs)])
        return Said(name=f"regression on {terms}", size=counted(summary.topics, "topic"))


REGRESSION = RegressionStep()


def _summary(made: Held) -> RegressionSummary:
    adjusted = made.found.adjusted
    return RegressionSummary(
        topics=adjusted.shape[1],
        effects=len(adjusted),
        sure=int((np.nan_to_num(adjusted, nan=1.0) < SURE).any(axis=0).sum()),
    )
