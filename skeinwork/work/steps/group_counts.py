"""Group counts: documents grouped into few and into many groups, measured, beside a shuffled twin."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, fields
from typing import Any, ClassVar

import numpy as np
import scipy
from pydantic import BaseModel

from skeinwork.core.content import expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.dealt_out import dealt_out
from skeinwork.core.progress import Report, part_of
from skeinwork.core.relate.group_counts import CountMeasures, Grouping, measure_counts
from skeinwork.core.relate.settings import GroupCountsSettings, GroupsSettings
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.groups import GROUPS, grouping, weights_of
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, counted

_ARRAYS = tuple(each.name for each in fields(CountMeasures) if each.name != "sample")
_MOST_RUNS = 2000


class GroupCountsSummary(BaseModel):
    """Counts tried, and documents that were grouped; how many silhouettes were taken of."""

    counts: int
    documents: int
    silhouettes: int


@dataclass(frozen=True)
class TriedCounts:
    """What was measured, and the same of the same words dealt out at random."""

    counts: list[int]
    measured: CountMeasures
    twin: CountMeasures
    documents: int


class GroupCountsStep(Step[GroupCountsSettings, TriedCounts, GroupCountsSummary]):
    name: ClassVar[str] = "group_counts"
    called: ClassVar[str] = "the comparison of group counts"
    missing: ClassVar[str] = "Numbers of groups are not compared yet. Compare them at Relate."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = GroupCountsSettings
    summary: ClassVar[type[BaseModel]] = GroupCountsSummary
    needs = (MATRIX,)

    def seconds(self, making: Making, size: int) -> float:
        settings = self.parse(making.settings)
        one = GROUPS.making("", one_of(settings))
        return GROUPS.seconds(one, size) / one.settings["groups"] * sum(settings.counts) * settings.seeds * 2

    def compute(
        self, earlier: Earlier, settings: GroupCountsSettings, report: Report
    ) -> tuple[TriedCounts, GroupCountsSummary]:
        matrix, one = earlier.load(MATRIX), one_of(settings)
        if len(settings.counts) * settings.seeds > _MOST_RUNS:
            raise BadInputError(f"More than {_MOST_RUNS:,} groupings. Take fewer counts, or fewer seeds.")
        weights, documents = weights_of(matrix, one)
        halves: list[CountMeasures] = []
        for begins, counts in ((0.0, None), (0.5, dealt_out(matrix.counts))):
            rows = weights if counts is None else weights_of(matrix, one, counts)[0]
            part = part_of(report, begins, begins + 0.5)
            halves.append(
                measure_counts(rows, settings.counts, range(1, settings.seeds + 1), _way(one), _by(one), part)
            )
        made = TriedCounts(settings.counts, halves[0], halves[1], len(documents))
        return made, _summary(made)

    def save(self, value: TriedCounts) -> tuple[Arrays, Documents]:
        arrays = {
            f"{half}_{name}": getattr(getattr(value, half), name) for half in ("measured", "twin") for name in _ARRAYS
        }
        samples = {"measured": value.measured.sample, "twin": value.twin.sample}
        return arrays, {"numbers": {"counts": value.counts, "documents": value.documents, **samples}}

    def load(self, stored: Stored, earlier: Earlier) -> TriedCounts:
        numbers = stored.document("numbers")

        def half(name: str) -> CountMeasures:
            parts: dict[str, Any] = {each: stored.array(f"{name}_{each}") for each in _ARRAYS}
            return CountMeasures(**parts, sample=numbers[name])

        return TriedCounts(numbers["counts"], half("measured"), half("twin"), numbers["documents"])

    def check(self, stored: Stored, earlier: Earlier) -> GroupCountsSummary:
        settings, made = self.parse(stored.making.settings), self.load(stored, earlier)
        expect(made.counts == settings.counts, "its counts are not those that were wanted")
        rows, seeds = len(made.counts), settings.seeds
        for half in (made.measured, made.twin):
            for name in _ARRAYS:
                columns = seeds * (seeds - 1) // 2 if name == "agreement" else seeds
                expect_array(name, getattr(half, name), np.float64, (rows, columns))
            expect(isinstance(half.sample, int) and half.sample > 0, "no silhouettes were taken")
        expect(isinstance(made.documents, int) and made.documents > 0, "there are no documents")
        return _summary(made)

    def said(self, settings: GroupCountsSettings, summary: GroupCountsSummary) -> Said:
        """Which counts."""
        counts = settings.counts
        return Said(name=f"{counts[0]} to {counts[-1]} groups", size=counted(summary.documents, "document"))


GROUP_COUNTS = GroupCountsStep()


def one_of(settings: GroupCountsSettings) -> GroupsSettings:
    """The settings of a single grouping of this kind."""
    shared = set(GroupsSettings.model_fields) & set(GroupCountsSettings.model_fields)
    return GroupsSettings(**{name: getattr(settings, name) for name in shared})


def _way(settings: GroupsSettings) -> Callable[[scipy.sparse.csr_matrix, int, int], Grouping]:
    return lambda rows, groups, seed: grouping(rows, settings, groups, seed)


def _by(settings: GroupsSettings) -> str:
    """The distance of silhouettes: the one that the method makes small."""
    if settings.method == "k-medoids":
        return settings.distance
    return "cosine" if settings.spherical else "euclidean"


def _summary(made: TriedCounts) -> GroupCountsSummary:
    return GroupCountsSummary(counts=len(made.counts), documents=made.documents, silhouettes=made.measured.sample)
