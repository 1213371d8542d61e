"""Files of prevalence, differences, what moves (the clearest contrast of each topic), and change points."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from skeinwork.core.corpus.periods import GAP
from skeinwork.core.formats.export import csv_rows
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.prevalence.prevalence import FEW_UNITS, LEAST_UNITS, Prevalence
from skeinwork.core.progress import silent
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.results.view import View
from skeinwork.work.screens.movement import moved_of
from skeinwork.work.steps.fitted import known
from skeinwork.work.steps.movement import Contrast, Moved, moved
from skeinwork.work.topics.prevalence import Seeds, compare, movement_settings, track, units_held

_CONTRAST = ["share there", "share otherwise", "difference", "low 95 %", "high 95 %", "p", "p adjusted"]


def found_of(view: View, by: Breakdown, seeds: Seeds) -> Moved:
    """As it was worked out for the screen, or now."""

    def made() -> Moved:
        settings = movement_settings(view, by, seeds)
        groups = units_held(view, by.timeless, seeds) if by.group else None
        return moved_of(view, settings) or moved(units_held(view, by, seeds), groups, settings, silent)

    return view.cached("moved", made, by, seeds)


def _few(units: int) -> str | None:
    """What a cell of so few units is marked with, as on the screen."""
    if units < LEAST_UNITS:
        return f"no interval: under {LEAST_UNITS} units"
    return f"few: under {FEW_UNITS} units" if units < FEW_UNITS else None


def prevalence_table(view: View, settings: Breakdown, labels: Labels, seeds: Seeds) -> Iterator[bytes]:
    """Every group and period with its documents, those without any too."""
    tracked, names = track(view, settings, seeds), topic_names(view, labels)
    result = tracked.result
    rows = (
        [group or None, period or None, k + 1, name, *_shares(result, row, k)]
        for group, line in zip(tracked.cells.groups, tracked.cells.rows.tolist(), strict=True)
        for period, row in zip(tracked.cells.periods, line, strict=True)
        if GAP not in period
        for k, name in enumerate(names)
    )
    header = ["group", "period", "topic", "label", "mean share", "low 95 %", "high 95 %", "documents", "units", "note"]
    return csv_rows(header, rows)


def _shares(result: Prevalence, row: int, topic: int) -> list[Any]:
    if row < 0 or not result.units[row]:
        return [None, None, None, 0, 0, None]
    units = int(result.units[row])
    found = (result.mean[row, topic], result.low[row, topic], result.high[row, topic])
    return [*map(known, found), int(result.documents[row]), units, _few(units)]


def differences_table(view: View, settings: Breakdown, labels: Labels, seeds: Seeds) -> Iterator[bytes]:
    """Each group against all others together, where both have enough units."""
    (groups, found), names = compare(view, settings, seeds), topic_names(view, labels)
    parts = (found.difference, found.low, found.high, found.p, found.adjusted)
    rows = (
        [group, k + 1, name, *(float(part[at, k]) for part in parts)]
        for at, group in enumerate(groups)
        for k, name in enumerate(names)
        if not np.isnan(found.p[at, k])
    )
    header = ["group", "topic", "label", "share less that of the others", "low 95 %", "high 95 %", "p", "p adjusted"]
    return csv_rows(header, rows)


def movement_table(view: View, by: Breakdown, labels: Labels, seeds: Seeds) -> Iterator[bytes]:
    """Every topic over time and between groups, each group against the others, and each group over its own time."""
    found, names = found_of(view, by, seeds), topic_names(view, labels)
    rows = [_row("over time", "", k, names, found, each) for k, each in enumerate(found.over_time)]
    rows += [_row("between groups", "", k, names, found, each) for k, each in enumerate(found.between)]
    for group, mine in zip(found.groups, found.each, strict=False):
        rows += [_row("group against the others", group, k, names, found, each) for k, each in enumerate(mine)]
    for group, mine in zip(found.groups, found.within, strict=False):
        rows += [_row("group over time", group, k, names, found, each) for k, each in enumerate(mine)]
    return csv_rows(["what", "group", "topic", "label", "kind", "where", *_CONTRAST], rows)


def _row(
    what: str, group: str, topic: int, names: list[str], found: Moved, each: Contrast | None
) -> list[str | int | float | None]:
    if each is None:
        return [what, group or None, topic + 1, names[topic], None, None, *[None] * len(_CONTRAST)]
    timed = "time" in what
    kind = "from then on" if each.lasting else "in one period" if timed else "one group"
    where = found.periods[each.place] if timed else found.groups[each.place]
    figures = [each.one, each.other, each.difference, each.low, each.high, each.p, each.adjusted]
    return [what, group or None, topic + 1, names[topic], kind, where, *figures]


def changes_table(view: View, by: Breakdown, labels: Labels, seeds: Seeds) -> Iterator[bytes]:
    """Change points, in all documents (no group) and in each group."""
    found, names = found_of(view, by, seeds), topic_names(view, labels)
    rows = (
        [
            found.groups[each.group] if each.group >= 0 else None,
            point.topic + 1,
            names[point.topic],
            *(found.periods[at] for at in (point.period, point.first, point.last)),
            *(point.before, point.after, point.difference, point.low, point.high, point.p),
        ]
        for each in found.changes
        for point in [each.point]
    )
    header = ["group", "topic", "label", "first period after", "looked at from", "to", "share before", "share after"]
    return csv_rows([*header, "difference", "low 95 %", "high 95 %", "p over all boundaries"], rows)
