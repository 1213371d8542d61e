"""What moves, what differs: every topic with its clearest contrast, and what these documents could show."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import asdict
from types import MappingProxyType

import numpy as np

from skeinwork.core.corpus.periods import said
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.movement import SURE
from skeinwork.work.results.view import View
from skeinwork.work.screens.movement_said import (
    could_said,
    of_changes_said,
    outcome_said,
    report_said,
    rests_said,
    test_said,
)
from skeinwork.work.screens.moving import ChangePointRow, GroupRow, Kind, MovementTable, MovingTopic, Sure
from skeinwork.work.steps import DETECTABLE, MOVEMENT
from skeinwork.work.steps.detectable import CouldShow
from skeinwork.work.steps.fitted import Interval
from skeinwork.work.steps.movement import Change, Contrast, Moved, MovementSettings
from skeinwork.work.topics.prevalence import Seeds, movement_settings, track, units_held

SHOWN_GROUPS = 60  # the largest


def moved_of(view: View, settings: MovementSettings) -> Moved | None:
    return view.made(MOVEMENT, MOVEMENT.making(view.fit_record.identity, settings))


def movement_table(
    view: View, by: Breakdown, seeds: Seeds, labels: Mapping[int, str] = MappingProxyType({})
) -> MovementTable:
    """The overview.

    Raises
    ------
    BadInputError
        where the corpus can't be broken down so.
    """
    settings = movement_settings(view, by, seeds)
    moved = moved_of(view, settings)
    could = view.made(DETECTABLE, DETECTABLE.making(view.fit_record.identity, settings))
    lines, names = _lines(view, by, seeds), _Names(moved)
    topics = [_topic(view, k, moved, could, lines, names) for k in range(len(view.model.topic_word))]
    for each in topics:
        each.report = report_said(labels.get(each.topic) or view.topic_words(each.topic), by, each, len(topics))
    topics.sort(key=_order)
    return MovementTable(
        made=moved is not None,
        judged=could is not None,
        group=by.group,
        periods=units_held(view, by, seeds).cells.periods if by.timed else [],
        topics=topics,
        groups=_groups(view, by, seeds, moved, names) if moved and by.group else [],
        all_groups=len(moved.groups) if moved else 0,
        changes=[_change(names, each) for each in moved.changes] if moved else [],
        says=outcome_said(by, moved, topics) if moved else [],
        could=could_said(view, by, could, moved) if could and moved else [],
        rests=rests_said(view, by, seeds),
        test=test_said(by, moved) if moved else "",
        of_changes=of_changes_said(moved) if moved and moved.dealt else "",
    )


class _Names:
    """Periods and groups in words."""

    def __init__(self, moved: Moved | None) -> None:
        self.groups = moved.groups if moved else []
        self.periods = moved.periods if moved else []

    def kind(self, contrast: Contrast, timed: bool) -> Kind:
        more = contrast.difference > 0
        if not timed:
            return "more" if more else "less"
        if contrast.lasting:
            return "rises" if more else "falls"
        return "peaks" if more else "dips"

    def where(self, contrast: Contrast, timed: bool) -> str:
        if not timed:
            return self.groups[contrast.place]
        name = said(self.periods[contrast.place])
        return f"from {name.removeprefix('from ').split(' to ')[0]} on" if contrast.lasting else f"in {name}"

    def sure(self, contrast: Contrast | None, timed: bool) -> Sure | None:
        if contrast is None:
            return None
        kind, where = self.kind(contrast, timed), self.where(contrast, timed)
        more = contrast.difference > 0
        reach = contrast.difference - contrast.low if more else contrast.high - contrast.difference
        return Sure(
            contrast=contrast,
            kind=kind,
            where=where,
            sentence=f"{percent(contrast.one, 1)} {where}, {percent(contrast.other, 1)} "
            f"{'before' if timed and contrast.lasting else 'otherwise' if timed else 'in the others'}",
            sure=contrast.adjusted < SURE,
            strength=abs(contrast.difference) / max(reach, 1e-9),
        )


def _order(topic: MovingTopic) -> tuple[bool, float]:
    """The surest and strongest first."""
    first = topic.over_time or topic.between
    return (not (first and first.sure), -(first.strength if first else 0.0))


def _lines(view: View, by: Breakdown, seeds: Seeds) -> Callable[[int], list[Interval | None]]:
    """Shares by period of all documents, of each topic."""
    if not by.timed:
        return lambda topic: []
    tracked = track(view, by.groupless, seeds)
    found, rows = tracked.result, tracked.cells.rows[0].tolist()
    return lambda topic: [
        Interval.of(*(part[row, topic] for part in (found.mean, found.low, found.high))) if row >= 0 else None
        for row in rows
    ]


def _topic(
    view: View,
    topic: int,
    moved: Moved | None,
    could: CouldShow | None,
    lines: Callable[[int], list[Interval | None]],
    names: _Names,
) -> MovingTopic:
    return MovingTopic(
        topic=topic,
        share=view.fit_summary.share[topic],
        line=lines(topic),
        over_time=names.sure(moved.over_time[topic], True) if moved and moved.over_time else None,
        between=names.sure(moved.between[topic], False) if moved and moved.between else None,
        could_show={each.kind: each.sizes[topic] for each in could.planted} if could else {},
    )


def _groups(view: View, by: Breakdown, seeds: Seeds, moved: Moved, names: _Names) -> list[GroupRow]:
    tracked, crossed = track(view, by.timeless, seeds), track(view, by, seeds)
    result, found = tracked.result, []
    for at, group in enumerate(moved.groups[:SHOWN_GROUPS]):
        row = int(tracked.cells.rows[at, 0]) if at < len(tracked.cells.rows) else -1
        if row < 0:
            continue
        topics = range(result.mean.shape[1])
        means = crossed.result.mean
        line = crossed.cells.rows[at]
        found.append(
            GroupRow(
                group=group,
                documents=int(result.documents[row]),
                units=int(result.units[row]),
                shares=[Interval.of(result.mean[row, k], result.low[row, k], result.high[row, k]) for k in topics],
                each=_each(moved, at, names),
                within=[names.sure(each, True) for each in moved.within[at]] if moved.within else [],
                lines=[[_known(means[each, k]) if each >= 0 else None for each in line.tolist()] for k in topics]
                if by.timed
                else [],
            )
        )
    return found


def _each(moved: Moved, group: int, names: _Names) -> list[Sure | None]:
    """A group against all others; sure only where the topic surely differs at all, over its whole family."""
    if group >= len(moved.each):
        return []
    found = []
    for topic, contrast in zip(moved.between, moved.each[group], strict=True):
        one = names.sure(contrast, False)
        found.append(one and one.model_copy(update={"sure": bool(one.sure and topic and topic.adjusted < SURE)}))
    return found


def _known(value: float) -> float | None:
    return None if np.isnan(value) else round(float(value), 5)


def _change(names: _Names, change: Change) -> ChangePointRow:
    given = asdict(change.point)
    first, last, period = (names.periods[given[each]] for each in ("first", "last", "period"))
    return ChangePointRow(
        group=names.groups[change.group] if change.group >= 0 else "",
        period=period,
        first=first,
        last=last,
        sentence=f"{percent(given['before'], 1)} to {percent(given['after'], 1)} from {said(period)} on",
        **{each: given[each] for each in ("topic", "before", "after", "difference", "low", "high", "p")},
    )
