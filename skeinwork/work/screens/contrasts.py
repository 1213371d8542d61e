"""Any two selections held against each other: every topic's difference, in figures and in a sentence; and workings."""

from __future__ import annotations

import math

from pydantic import BaseModel, Field

from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.movement import SURE
from skeinwork.core.prevalence.prevalence import LEAST_UNITS
from skeinwork.core.prevalence.selections import Compared, Selection
from skeinwork.core.said import count, counted, decimal, listed, signed
from skeinwork.core.working import Line, Working
from skeinwork.work.evidence.topic import topic_of
from skeinwork.work.results.view import View
from skeinwork.work.screens.track_working import UnitOfTopic, share_lines, units_of_topic
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.topics.breakdowns import weighed_by
from skeinwork.work.topics.contrasts import compared
from skeinwork.work.topics.prevalence import Seeds


class ContrastTopic(BaseModel):
    """A topic on both sides: shares, difference, p by unit, adjusted over topics; ``sentence`` is for a report."""

    topic: int
    one: Interval
    other: Interval
    difference: float
    low: float
    high: float
    p: float
    adjusted: float
    sentence: str


class ContrastTable(BaseModel):
    """Two selections; no topics where a side has too few units, of which ``says`` tells."""

    one: str
    other: str
    one_documents: int
    other_documents: int
    one_units: int
    other_units: int
    both: int
    topics: list[ContrastTopic]
    says: list[str]


class ContrastWorking(Working):
    """A working with the units behind it, those that weigh most in it first."""

    units: list[UnitOfTopic] = Field([])


def contrast_table(
    view: View, by: Breakdown, one: Selection, other: Selection | None, seeds: Seeds, labels: dict[int, str]
) -> ContrastTable:
    """Every topic, the clearest first."""
    by = by.model_copy(update={"weight": weighed_by(view, by.weight)})
    made = compared(view, by, one, other, seeds)
    found = made.found
    named = (one.said(by), other.said(by) if other else one.rest_said(by))
    intervals = [side.spread.interval(0.025) for side in (found.one, found.other)]
    topics = []
    for k in range(found.p.shape[1]):
        if math.isnan(found.p[0, k]):
            continue
        shares = [
            Interval.of(side.moments.share[0, k], low[0, k], high[0, k])
            for side, (low, high) in zip((found.one, found.other), intervals, strict=True)
        ]
        name = labels.get(k) or view.topic_words(k)
        figures = (found.difference[0, k], found.low[0, k], found.high[0, k], found.adjusted[0, k])
        topics.append(
            ContrastTopic(
                topic=k,
                one=shares[0],
                other=shares[1],
                difference=figures[0],
                low=figures[1],
                high=figures[2],
                p=found.p[0, k],
                adjusted=figures[3],
                sentence=_sentence(name, named, shares, figures, by, made),
            )
        )
    topics.sort(key=lambda each: (each.adjusted, -abs(each.difference)))
    return ContrastTable(
        one=named[0],
        other=named[1],
        one_documents=int(found.one.documents[0]),
        other_documents=int(found.other.documents[0]),
        one_units=int(found.one.moments.units[0]),
        other_units=int(found.other.moments.units[0]),
        both=made.both,
        topics=topics,
        says=_says(by, made),
    )


def _says(by: Breakdown, made: Compared) -> list[str]:
    said = []
    units = [int(side.moments.units[0]) for side in (made.found.one, made.found.other)]
    if min(units) < LEAST_UNITS:
        said.append(
            f"One side has {counted(min(units), 'unit')}: fewer than {LEAST_UNITS} say nothing of their own spread, so "
            "there is no difference to be told."
        )
    if made.both:
        said.append(f"Left out, since they are in both selections: {counted(made.both, 'document')}.")
    if by.fixed:
        said.append(f"The composition of {listed(by.fixed)} is that of both together.")
    return said


def _sentence(
    name: str, named: tuple[str, str], shares: list[Interval], figures: tuple[float, ...], by: Breakdown, made: Compared
) -> str:
    """For a report: shares, difference, interval, p, and what all of it rests on."""
    difference, low, high, adjusted = figures
    found = made.found
    resting = " and ".join(
        counted(int(side.documents[0]), "document")
        + (f" of {count(int(side.moments.units[0]))} {by.unit}" if by.unit else "")
        for side in (found.one, found.other)
    )
    weight = "counted words" if by.weight == "tokens" else "each document"
    sure = "differs" if adjusted < SURE else "does not surely differ"
    return (
        f"“{name}” takes up {percent(shares[0].mean, 1)} ({named[0]}) against {percent(shares[1].mean, 1)} "
        f"({named[1]}): a difference of {signed(100 * difference, 1)} points (95 % interval {signed(100 * low, 1)} to "
        f"{signed(100 * high, 1)}; p {chance(adjusted)}, adjusted over {counted(found.p.shape[1], 'topic')}), "
        f"so that it {sure}. By {weight}, over {resting}."
    )


def chance(p: float) -> str:
    """A p as sentences have it."""
    return "< .001" if p < 0.001 else decimal(p, 3).removeprefix("0")


def contrast_working(
    view: View, by: Breakdown, one: Selection, other: Selection | None, seeds: Seeds, topic: int
) -> ContrastWorking:
    """How one topic's difference came about: both shares with their units, interval, p."""
    topic_of(view, topic)
    made = compared(view, by, one, other, seeds)
    found = made.found
    lines: list[Line] = []
    for side, letter in ((found.one, "₁"), (found.other, "₂")):
        lines += share_lines(side.moments, side.spread, 0, topic, letter)
    low, high, p = (float(part[0, topic]) for part in (found.low, found.high, found.p))
    difference = float(found.difference[0, topic])
    shared = float(found.shared[0, topic])
    ends = [[float(end[0, topic]) for end in side.spread.interval(0.025)] for side in (found.one, found.other)]
    shares = [float(side.moments.share[0, topic]) for side in (found.one, found.other)]
    lines.append(
        Line(
            name="difference",
            formula="d = s₁ − s₂",
            numbers=f"{decimal(shares[0], 4)} − {decimal(shares[1], 4)}",
            value=difference,
        )
    )
    if not math.isnan(p):
        lines += _ends(difference, low, high, shares, ends, shared)
        lines.append(
            Line(
                name="p",
                formula="the level at which the interval just holds 0",
                numbers=f"over {count(found.p.shape[1])} topics {decimal(float(found.adjusted[0, topic]), 4)}",
                value=p,
            )
        )
    return ContrastWorking(
        title=f"{one.said(by)} against {other.said(by) if other else one.rest_said(by)}",
        lines=lines,
        units=units_of_topic(view, by, made.totals, topic, made.sides, ["one", "other"]),
        note="s: tokens of the topic over tokens, each unit weighed as chosen. n: units of a proportion that would "
        "vary as much, from how units scatter, leaned towards all topics and cells, and from the saved samples. r: "
        "correlation through units that are on both sides. Nothing is permuted: p inverts the interval.",
    )


def _ends(
    difference: float, low: float, high: float, shares: list[float], ends: list[list[float]], shared: float
) -> list[Line]:
    down = f"({decimal(shares[0] - ends[0][0], 4)})² + ({decimal(ends[1][1] - shares[1], 4)})²"
    up = f"({decimal(ends[0][1] - shares[0], 4)})² + ({decimal(shares[1] - ends[1][0], 4)})²"
    r = f", r {decimal(shared)}" if shared else ""
    return [
        Line(
            name="low 95 %",
            formula="d − √((s₁ − l₁)² + (u₂ − s₂)² − 2 r (s₁ − l₁)(u₂ − s₂))",
            numbers=f"{decimal(difference, 4)} − √({down}){r}",
            value=low,
        ),
        Line(
            name="high 95 %",
            formula="d + √((u₁ − s₁)² + (s₂ − l₂)² − 2 r (u₁ − s₁)(s₂ − l₂))",
            numbers=f"{decimal(difference, 4)} + √({up}){r}",
            value=high,
        ),
    ]
