"""The overview of Track in sentences: what was found, by what test, what could be shown, and for a report."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.corpus.grouping import units_of
from skeinwork.core.corpus.periods import said
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.said import count, counted, signed
from skeinwork.work.results.view import View
from skeinwork.work.screens.contrasts import chance
from skeinwork.work.screens.moving import MovingTopic
from skeinwork.work.steps.detectable import CouldShow
from skeinwork.work.steps.movement import Moved
from skeinwork.work.topics.breakdowns import weighed_by
from skeinwork.work.topics.prevalence import Seeds, units_held


def outcome_said(by: Breakdown, moved: Moved, topics: list[MovingTopic]) -> list[str]:
    """What was found, the outcome first."""
    found = []
    if moved.over_time:
        tested = sum(each.over_time is not None for each in topics)
        moving = sum(bool(each.over_time and each.over_time.sure) for each in topics)
        found.append(f"{_of(moving, tested)} surely {'changes' if moving == 1 else 'change'} over the {by.span}s")
    if moved.between:
        tested = sum(each.between is not None for each in topics)
        differing = sum(bool(each.between and each.between.sure) for each in topics)
        verb = "differs" if differing == 1 else "differ"
        found.append(f"{_of(differing, tested)} surely {verb} between the values of {by.group}")
    return found


def rests_said(view: View, by: Breakdown, seeds: Seeds) -> str:
    """How unevenly units weigh."""
    cells, _, totals = units_held(view, by, seeds)
    _, unit = np.unique(totals.unit, return_inverse=True)
    weights = np.bincount(unit, totals.weight).astype(np.float64)
    if not len(unit) or (equal := _equal(weights)) > 0.5 * len(weights):
        return ""
    weight = weighed_by(view, by.weight)
    name = f"values of {by.unit}" if by.unit else "documents"
    heaviest = float(np.sort(weights)[-3:].sum() / weights.sum())
    said = (
        f"{count(len(weights))} {name} weigh by {weight} as {equal:.0f} equal ones would; the heaviest three hold "
        f"{percent(heaviest)}"
    )
    if weight == "tokens" and not by.design:
        counted_there = (cells.cells >= 0) & (view.token_weights > 0)
        said += f"; by documents they would weigh as {_equal(_documents(view, by, counted_there)):.0f}"
    return f"{said}."


def _equal(weights: NDArray[np.float64]) -> float:
    """As many units of one weight."""
    return float(weights.sum() ** 2 / (weights**2).sum())


def _documents(view: View, by: Breakdown, there: NDArray[np.bool_]) -> NDArray[np.float64]:
    """How many of some documents each unit has."""
    units = units_of(view.corpus, by.unit)
    if units is None:
        return np.ones(int(there.sum()))
    mine = units[there]
    known = np.unique(mine[mine >= 0], return_counts=True)[1]
    return np.concatenate([known, np.ones(int((mine < 0).sum()))])


def test_said(by: Breakdown, moved: Moved) -> str:
    """By what test."""
    parts = []
    if moved.over_time:
        parts.append(f"over time all boundaries between {by.span}s and each {by.span} against all others")
    if moved.between:
        parts.append(f"between groups each {by.group} against all others")
    return (
        f"Looked at: {'; '.join(parts)}. p of a topic is over all of these (Simes), adjusted over topics "
        "(Benjamini and Hochberg); surely is under .05. What is named is the clearest of them, so its size leans to "
        "the large side."
    )


def _of(some: int, of: int) -> str:
    return f"{count(some)} of {counted(of, 'topic')}"


def could_said(view: View, by: Breakdown, could: CouldShow, moved: Moved) -> list[str]:
    """The least sizes for the topic of middling size, and the smallest for which anything is promised."""
    order = np.argsort(could.shares)
    found = []
    for each in could.planted:
        known = [int(k) for k in order if each.sizes[k] is not None]
        if not known:
            found.append(f"nothing of any size {_planted(by, each.kind, each.place, moved)}")
            continue
        middle = known[len(known) // 2]
        size = each.sizes[middle]
        assert size is not None
        rare = len(order) - len(known)
        found.append(
            f"a topic of {percent(could.shares[middle])} that holds {100 * size:.1f} points more "
            f"{_planted(by, each.kind, each.place, moved)}"
            + (f" (for {counted(rare, 'topic')} too rare to promise anything)" if rare else "")
        )
    return found


def _planted(by: Breakdown, kind: str, place: int, moved: Moved) -> str:
    if kind == "group":
        return f"in {moved.groups[place]}, a {by.group} of middling size"
    name = said(moved.periods[place])
    return f"from {name} on" if kind == "lasting" else f"in {name} alone"


def of_changes_said(moved: Moved) -> str:
    return (
        f"Of {count(moved.dealt)} series of these units dealt out anew, without a change, {count(moved.false)} "
        f"({percent(moved.false / moved.dealt, 1)}) showed a change point."
    )


def report_said(name: str, by: Breakdown, moving: MovingTopic, topics: int) -> list[str]:
    """What there is to say of a topic, as sentences for a report."""
    found = []
    for sure, kind, what in (
        (moving.over_time, "lasting", f"over the {by.span}s"),
        (moving.between, "group", f"between the values of {by.group}"),
    ):
        if sure is None:
            continue
        contrast, timed = sure.contrast, kind == "lasting"
        p = chance(contrast.adjusted)
        if sure.sure:
            verb = {"more": "is more frequent", "less": "is less frequent"}.get(sure.kind, sure.kind)
            where = sure.where if timed else f"in {by.group} {sure.where}"
            other = "before" if contrast.lasting else "otherwise" if timed else "in the others"
            found.append(
                f"“{name}” {verb} {where}: {percent(contrast.one, 1)} against {percent(contrast.other, 1)} {other}, a "
                f"difference of {signed(100 * contrast.difference, 1)} points (95 % interval "
                f"{signed(100 * contrast.low, 1)} to {signed(100 * contrast.high, 1)}; p {p} {what}, adjusted over "
                f"{counted(topics, 'topic')})."
            )
            continue
        size = moving.could_show.get(kind)
        would = (
            f"; a {'lasting change' if timed else 'difference'} of {100 * size:.1f} points would have been found four "
            "times in five"
            if size is not None
            else ""
        )
        found.append(f"“{name}” does not surely {'move' if timed else 'differ'} {what} (p {p}){would}.")
    return found
