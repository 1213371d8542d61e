"""Detectable: how small a change or difference of each topic these documents could show, by simulation."""

from __future__ import annotations

import math
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.content import expect
from skeinwork.core.prevalence import detectable as detectable_module
from skeinwork.core.prevalence.breakdown import Held
from skeinwork.core.prevalence.detectable import detectable_of_all
from skeinwork.core.prevalence.movement import Movement, between_groups, movement, over_time
from skeinwork.core.prevalence.totals import UnitTotals
from skeinwork.core.progress import Report, part_of
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.movement import MovementSettings, OfBreakdown, measured
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Stored, counted


class Planted(BaseModel):
    """What was planted: a lasting change from a period on, one period, or one group, by its place.

    Attributes
    ----------
    sizes : of every topic the least difference that is found; None where none of any size is
    """

    kind: str
    place: int
    sizes: list[float | None]


class DetectableSummary(BaseModel):
    """How many kinds of difference were planted, and topics."""

    kinds: int
    topics: int


class CouldShow(BaseModel):
    """What these documents could show, with the share of every topic in all of them."""

    shares: list[float]
    planted: list[Planted]


class DetectableStep(OfBreakdown):
    name: ClassVar[str] = "detectable"
    called: ClassVar[str] = "what these documents could show"
    VERSION: ClassVar[int] = 1
    summary: ClassVar[type[BaseModel]] = DetectableSummary

    def parts(self, settings: MovementSettings) -> dict[str, int]:
        return {**super().parts(settings), "detectable": detectable_module.VERSION}

    def seconds(self, making: Making, size: int) -> float:
        return 10.0 + 1e-6 * size

    def compute(
        self, earlier: Earlier, settings: MovementSettings, report: Report
    ) -> tuple[CouldShow, DetectableSummary]:
        report("Counting topics", 0.0)
        made = could_show(*measured(earlier, settings), settings, part_of(report, 0.1, 1.0))
        return made, _summary(made)

    def save(self, value: CouldShow) -> tuple[Arrays, Documents]:
        return {}, {"could_show": value.model_dump(mode="json")}

    def load(self, stored: Stored, earlier: Earlier) -> CouldShow:
        return CouldShow.model_validate(stored.document("could_show"))

    def check(self, stored: Stored, earlier: Earlier) -> DetectableSummary:
        value, topics = self.load(stored, earlier), FIT.summarised(earlier.stored(FIT)).topics
        found: list[list[float | None]] = [[*value.shares], *(each.sizes for each in value.planted)]
        for sizes in found:
            expect(len(sizes) == topics, "it is of other topics")
            expect(all(each is None or 0 <= each <= 1 for each in sizes), "a size is no share")
        return _summary(value)

    def said(self, settings: MovementSettings, summary: DetectableSummary) -> Said:
        return Said(name="what could be shown", size=counted(summary.topics, "topic"))


DETECTABLE = DetectableStep()


def _summary(value: CouldShow) -> DetectableSummary:
    return DetectableSummary(kinds=len(value.planted), topics=len(value.shares))


def could_show(held: Held, groups: Held | None, settings: MovementSettings, report: Report) -> CouldShow:
    """A change from the middle of the time on, one period of middling size, and one group of middling size."""
    cells, _, totals = held
    asked: list[tuple[str, UnitTotals, Movement, int]] = []
    if settings.by.timed:
        moved = movement(totals, over_time(cells.period, totals.cell_weight))
        lasting = moved.family.lasting
        asked += [("lasting", totals, moved, at) for at in _middle(moved, lasting, halves=True)]
        asked += [("period", totals, moved, at) for at in _middle(moved, ~lasting)]
    if groups:
        differing = movement(groups.totals, between_groups(groups.cells.group))
        asked += [("group", groups.totals, differing, at) for at in _middle(differing, ~differing.family.lasting)]
    whole = totals.cell_weight @ totals.share / max(float(totals.cell_weight.sum()), 1e-300)
    planted = []
    for number, (kind, of, found, at) in enumerate(asked):
        part = part_of(report, number / len(asked), (number + 1) / len(asked))
        sizes = detectable_of_all(of, found, at, settings.seed, part)
        said = [None if math.isnan(size) else size for size in sizes.tolist()]
        planted.append(Planted(kind=kind, place=int(found.family.place[at]), sizes=said))
    return CouldShow(shares=whole.tolist(), planted=planted)


def _middle(moved: Movement, which: NDArray[np.bool_], halves: bool = False) -> list[int]:
    """Of some contrasts that can be tested the one that is middling: parts the whole in halves, or of median weight."""
    there = np.flatnonzero(which & ~np.isnan(moved.found.p).all(axis=1))
    if not len(there):
        return []
    weight = moved.found.one.moments.weight[there]
    whole = weight + moved.found.other.moments.weight[there]
    wanted = whole / 2.0 if halves else np.full(len(there), np.median(weight))
    return [int(there[np.argmin(np.abs(weight - wanted))])]
