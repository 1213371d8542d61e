"""Relate, how many groups: measures over their number, beside the same words dealt out at random."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.relate.group_counts import elbow
from skeinwork.core.relate.settings import GroupCountsSettings
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUP_COUNTS
from skeinwork.work.steps.group_counts import TriedCounts
from skeinwork.work.steps.step import counted


class CountMeasure(BaseModel):
    """One measure: values by count and seed (or pair of seeds), its twin's, the count it suggests, what that means."""

    key: str
    title: str
    about: str
    values: list[list[float]]
    twin: list[list[float]]
    suggested: int | None
    says: str


class GroupCountsScreen(BaseModel):
    """All measures over the counts tried."""

    settings: GroupCountsSettings
    counts: list[int]
    documents: int
    measures: list[CountMeasure]
    says: str


def group_counts(view: View) -> GroupCountsScreen:
    """What the numbers of groups that were tried say."""
    made = view.value(GROUP_COUNTS)
    settings = GROUP_COUNTS.parse(view.record(GROUP_COUNTS).making.settings)
    sample, whole = made.measured.sample, made.documents
    of = f" (of a sample of {sample:,} documents)" if sample < whole else ""
    measures = [
        _bend(made, "within", "Inertia", "what is left within groups; beyond a bend more groups gain little"),
        _bend(made, "between", "Between of total", "the share of the whole that lies between groups"),
        _highest(
            made, "silhouette", "Silhouette", f"how much nearer documents are to their own group than to the next{of}"
        ),
        _highest(made, "agreement", "Agreement over seeds", "adjusted Rand index of groupings from other starts"),
    ]
    given = sorted({each.suggested for each in measures if each.suggested})
    return GroupCountsScreen(
        settings=settings, counts=made.counts, documents=whole, measures=measures, says=_together(given, made)
    )


def _listed(values: NDArray[np.float64]) -> list[list[float]]:
    return np.round(values, 6).tolist()


def _measure(made: TriedCounts, key: str, title: str, about: str, at: int | None, says: str) -> CountMeasure:
    return CountMeasure(
        key=key,
        title=title,
        about=about,
        values=_listed(getattr(made.measured, key)),
        twin=_listed(getattr(made.twin, key)),
        suggested=None if at is None else made.counts[at],
        says=says,
    )


def _bend(made: TriedCounts, key: str, title: str, about: str) -> CountMeasure:
    means = getattr(made.measured, key).mean(axis=1)
    at = elbow(made.counts, means)
    if at is None:
        says = "The curve has no bend that stands out."
    elif at in (0, len(made.counts) - 1):
        at, says = None, "It bends at the edge of what was tried: try a wider range."
    else:
        says = f"It bends the most at {made.counts[at]} groups, farthest from the line between its ends."
    return _measure(made, key, title, about, at, says)


def _highest(made: TriedCounts, key: str, title: str, about: str) -> CountMeasure:
    values, twin = getattr(made.measured, key), getattr(made.twin, key)
    means, chance = values.mean(axis=1), twin.max(axis=1)
    above = np.flatnonzero(values.min(axis=1) > chance)
    if not len(above):
        return _measure(made, key, title, about, None, "At no count is it above the same words dealt out at random.")
    best = int(above[means[above].argmax()])
    says = (
        f"Highest at {made.counts[best]} groups: {means[best]:.2f}, where words dealt out at random reach "
        f"{chance[best]:.2f}."
    )
    if best in (0, len(made.counts) - 1) and len(made.counts) > 1:
        return _measure(made, key, title, about, None, f"{says} That is the edge of what was tried: try a wider range.")
    return _measure(made, key, title, about, best, says)


def _together(given: list[int], made: TriedCounts) -> str:
    if not given:
        return "None of the measures suggests a count inside the range that was tried."
    low, high = given[0], given[-1]
    where = f"{low}" if low == high else f"{low} to {high}"
    return (
        f"The measures point to {where} groups, of {counted(len(made.counts), 'count')} tried. They reward "
        "different things; read the groups at both ends before you choose."
    )
