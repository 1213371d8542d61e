"""Files of what moves and differs: the clearest contrast of each topic, and change points."""

from __future__ import annotations

from collections.abc import Iterator

from skeinwork.core.formats.export import csv_rows
from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.progress import silent
from skeinwork.work.exports.labels import Labels, topic_names
from skeinwork.work.results.view import View
from skeinwork.work.screens.movement import moved_of
from skeinwork.work.steps.movement import Contrast, Moved, moved
from skeinwork.work.topics.prevalence import Seeds, movement_settings, units_held

_CONTRAST = ["share there", "share otherwise", "difference", "low 95 %", "high 95 %", "p", "p adjusted"]


def found_of(view: View, by: Breakdown, seeds: Seeds) -> Moved:
    """As it was worked out for the screen, or now."""

    def made() -> Moved:
        settings = movement_settings(view, by, seeds)
        groups = units_held(view, by.timeless, seeds) if by.group else None
        return moved_of(view, settings) or moved(units_held(view, by, seeds), groups, settings, silent)

    return view.cached("moved", made, by, seeds)


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
