"""Movement: which topics of a fit move over time, which differ between groups, and where they change."""

from __future__ import annotations

import math
from typing import Annotated, Any, ClassVar

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.content import expect
from skeinwork.core.false_discovery import false_discovery_rates
from skeinwork.core.prevalence import change_points as change_points_module
from skeinwork.core.prevalence import differences as differences_module
from skeinwork.core.prevalence.breakdown import Breakdown, Cells, Held, broken_down
from skeinwork.core.prevalence.chains import chain_of
from skeinwork.core.prevalence.change_points import ChangePoint, change_points
from skeinwork.core.prevalence.movement import SURE, Movement, between_groups, movement, over_time
from skeinwork.core.prevalence.totals import UnitTotals
from skeinwork.core.progress import Report, part_of
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.cleaning import CLEANING
from skeinwork.work.steps.corpus import CORPUS
from skeinwork.work.steps.fit import FIT
from skeinwork.work.steps.fitted import document_sizes
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Inputs, Reads, Said, Step, Stored, counted, load
from skeinwork.work.steps.tokens import TOKENS

# Groups beyond which their own movement over time is not looked at.
MOST_GROUPS = 60


class OtherSeed(BaseModel):
    """A fit with another seed, and its topics that each of this one's is found again as."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    again: tuple[tuple[Annotated[int, Field(ge=0, le=10_000)], ...], ...] = Field(max_length=10_000)


class MovementSettings(BaseModel):
    """What is broken down by what, and whose draws are let in."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    by: Breakdown
    seeds: tuple[OtherSeed, ...] = Field((), max_length=20)
    seed: int = Field(1, ge=0, le=2**31 - 1, description="of the series that are dealt out anew")


class Contrast(BaseModel):
    """A topic on one side of a contrast and on the other; None where there is no contrast with enough units.

    Attributes
    ----------
    place : the first period after a boundary, a period, or a group
    lasting : whether it is of a boundary
    one, other, difference, low, high : shares of both sides, and their difference
    p, adjusted : over the family; of a single group those of this contrast
    """

    place: int
    lasting: bool
    one: float
    other: float
    difference: float
    low: float
    high: float
    p: float
    adjusted: float


class Change(BaseModel):
    """A change point of a topic, in one group or in all documents (-1)."""

    group: int
    point: ChangePoint


class Moved(BaseModel):
    """All that was found.

    Attributes
    ----------
    groups, periods : names
    over_time, between : of every topic, the family's p with its clearest contrast
    within : of every group, every topic over time, adjusted over both
    each : of every group, every topic against all others
    changes : change points; ``least`` p, and of ``dealt`` series without a change how many showed one
    """

    groups: list[str]
    periods: list[str]
    over_time: list[Contrast | None]
    between: list[Contrast | None]
    within: list[list[Contrast | None]]
    each: list[list[Contrast | None]]
    changes: list[Change]
    least: float
    false: int
    dealt: int


class MovementSummary(BaseModel):
    """Topics, and those that surely move, or differ."""

    topics: int
    moving: int
    differing: int


def measured(earlier: Earlier, settings: MovementSettings) -> tuple[Held, Held | None]:
    """What units hold in the cells of a breakdown, and in its groups, from the results of earlier steps."""
    chains = []
    for each in settings.seeds:
        other = load(earlier.inputs, FIT, earlier.inputs.result(each.fit))
        chains.append(chain_of(other.drawn.assigned(), each.again))
    by, model = settings.by, earlier.load(FIT)
    samples, tokens = model.drawn, document_sizes(model, earlier.load(MATRIX))
    held = broken_down(samples, earlier.load(CORPUS), by, tokens, chains)
    if not by.group:
        return held, None
    return held, broken_down(samples, earlier.load(CORPUS), by.timeless, tokens, chains) if by.timed else held


class OfBreakdown(Step[MovementSettings, Any, Any]):
    """What is made of a fit broken down by groups and periods."""

    kept: ClassVar[bool] = False
    beside: ClassVar[bool] = True
    settings: ClassVar[type[BaseModel]] = MovementSettings
    needs = (FIT, MATRIX, CLEANING, TOKENS, CORPUS)

    def parts(self, settings: MovementSettings) -> dict[str, int]:
        return {"differences": differences_module.VERSION, "change points": change_points_module.VERSION}

    def reads(self, making: Making, inputs: Inputs) -> Reads:
        own = super().reads(making, inputs)
        others = [each.fit for each in self.parse(making.settings).seeds]
        return Reads([*own.results, *others], own.files)


class MovementStep(OfBreakdown):
    name: ClassVar[str] = "movement"
    called: ClassVar[str] = "what moves and differs"
    VERSION: ClassVar[int] = 2
    summary: ClassVar[type[BaseModel]] = MovementSummary

    def seconds(self, making: Making, size: int) -> float:
        return 1e-6 * size

    def compute(self, earlier: Earlier, settings: MovementSettings, report: Report) -> tuple[Moved, MovementSummary]:
        report("Counting topics", 0.0)
        made = moved(*measured(earlier, settings), settings, part_of(report, 0.2, 1.0))
        return made, _summary(made)

    def save(self, value: Moved) -> tuple[Arrays, Documents]:
        return {}, {"moved": value.model_dump(mode="json")}

    def load(self, stored: Stored, earlier: Earlier) -> Moved:
        return Moved.model_validate(stored.document("moved"))

    def check(self, stored: Stored, earlier: Earlier) -> MovementSummary:
        value, topics = self.load(stored, earlier), FIT.summarised(earlier.stored(FIT)).topics
        groups, periods = len(value.groups), len(value.periods)
        timed = [value.over_time, *value.within]
        grouped = [value.between, *value.each]
        for mine, places in [*((each, periods) for each in timed), *((each, groups) for each in grouped)]:
            expect(len(mine) in (0, topics), "it is of other topics")
            for each in filter(None, mine):
                expect(0 <= each.place < places, "a contrast is of no period or group")
                expect(0 <= each.p <= 1 and 0 <= each.adjusted <= 1, "p is no chance")
                expect(all(map(math.isfinite, (each.one, each.other, each.low, each.high))), "a share is no number")
        for change in value.changes:
            point = change.point
            expect(0 <= point.topic < topics and -1 <= change.group < groups, "a change is of no topic or group")
            expect(0 <= point.first < point.period <= point.last < periods, "a change is of no period")
        return _summary(value)

    def said(self, settings: MovementSettings, summary: MovementSummary) -> Said:
        return Said(name="movement", size=counted(summary.topics, "topic"))


MOVEMENT = MovementStep()


def _summary(value: Moved) -> MovementSummary:
    sure = [sum(bool(each and each.adjusted < SURE) for each in mine) for mine in (value.over_time, value.between)]
    topics = max(map(len, (value.over_time, value.between)), default=0)
    return MovementSummary(topics=topics, moving=sure[0], differing=sure[1])


def moved(held: Held, groups: Held | None, settings: MovementSettings, report: Report) -> Moved:
    """Families of contrasts over the cells, and change points.

    Parameters
    ----------
    held : cells of the breakdown with what units hold in them; groups : of its groups alone
    """
    (cells, _, totals), timed = held, settings.by.timed
    changes: list[Change] = []
    over: list[Contrast | None] = []
    within: list[list[Contrast | None]] = []
    least, false, dealt = 0.0, 0, 0
    if timed:
        report("Looking over the time", 0.0)
        over = contrasts(movement(totals, over_time(cells.period, totals.cell_weight)))
        found = change_points(totals, cells.period, settings.seed, part_of(report, 0.2, 0.6))
        least, false, dealt = found.least, found.false, found.dealt
        changes += [Change(group=-1, point=each) for each in found.points]
        if groups and len(cells.groups) <= MOST_GROUPS:
            within, own = _within(cells, totals, part_of(report, 0.6, 0.9))
            changes += own
    between: list[Contrast | None] = []
    each: list[list[Contrast | None]] = []
    if groups:
        report("Holding each group against the others", 0.9)
        family = between_groups(groups.cells.group)
        found_groups = movement(groups.totals, family)
        between = contrasts(found_groups)
        each = [single(found_groups, at) for at in range(len(family.sides))]
    return Moved(
        groups=cells.groups if groups else [],
        periods=cells.periods if timed else [],
        over_time=over,
        between=between,
        within=within,
        each=each,
        changes=changes,
        least=least,
        false=false,
        dealt=dealt,
    )


def _within(cells: Cells, totals: UnitTotals, report: Report) -> tuple[list[list[Contrast | None]], list[Change]]:
    """Every group's topics over time, adjusted over all of them, and its change points."""
    found: list[list[Contrast | None]] = []
    changes: list[Change] = []
    for group in range(len(cells.groups)):
        report("Looking over the time of each group", group / len(cells.groups))
        period = np.where(cells.group == group, cells.period, -1)
        found.append(contrasts(movement(totals, over_time(period, totals.cell_weight))))
        changes += [Change(group=group, point=each) for each in change_points(totals, period, deals=0).points]
    return _adjusted_together(found), changes


def _adjusted_together(found: list[list[Contrast | None]]) -> list[list[Contrast | None]]:
    there = [each for mine in found for each in mine if each]
    rates = false_discovery_rates(np.array([each.p for each in there])).tolist() if there else []
    again = iter(rates)
    return [[each and each.model_copy(update={"adjusted": next(again)}) for each in mine] for mine in found]


def contrasts(found: Movement) -> list[Contrast | None]:
    """Of every topic the clearest contrast, with the family's p."""
    return [
        None if at < 0 or math.isnan(found.p[k]) else _contrast(found, int(at), k, found.p[k], found.adjusted[k])
        for k, at in enumerate(found.clearest.tolist())
    ]


def single(found: Movement, at: int) -> list[Contrast | None]:
    """One contrast of every topic, with its own p, adjusted over all contrasts and topics."""
    own = found.found
    return [
        None if math.isnan(own.p[at, k]) else _contrast(found, at, k, own.p[at, k], own.adjusted[at, k])
        for k in range(own.p.shape[1])
    ]


def _contrast(found: Movement, at: int, topic: int, p: float, adjusted: float) -> Contrast:
    own, family = found.found, found.family
    return Contrast(
        place=int(family.place[at]),
        lasting=bool(family.lasting[at]),
        one=own.one.moments.share[at, topic],
        other=own.other.moments.share[at, topic],
        difference=own.difference[at, topic],
        low=own.low[at, topic],
        high=own.high[at, topic],
        p=p,
        adjusted=adjusted,
    )
