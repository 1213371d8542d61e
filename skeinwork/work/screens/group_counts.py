"""Relate, how many groups: measures over their number, beside the same words dealt out at random."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.relate.group_counts import elbow, off_chord
from skeinwork.core.relate.settings import GroupCountsSettings
from skeinwork.core.working import Line
from skeinwork.work.results.view import View
from skeinwork.work.steps import GROUP_COUNTS
from skeinwork.work.steps.group_counts import TriedCounts
from skeinwork.work.steps.step import count, counted


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


class CountWorking(BaseModel):
    """One number of groups with its measures worked out; ``name`` is what it is called."""

    name: str
    lines: list[Line]


def working(view: View, groups: int) -> CountWorking:
    """How the measures of one number of groups came about: means over seeds, each seed, the twin, the bend."""
    made = view.value(GROUP_COUNTS)
    if groups not in made.counts:
        raise BadInputError(f"{counted(groups, 'group')} were not tried.")
    at, settings = made.counts.index(groups), GROUP_COUNTS.parse(view.record(GROUP_COUNTS).making.settings)
    squared = "squared distances" if settings.method == "k-means" else "distances"
    within, between = made.measured.within, made.measured.between
    shares = [
        f"1 − {left:.4g} / {left / (1 - share):.4g}" if share < 1 else "1 − 0"
        for left, share in zip(within[at].tolist(), between[at].tolist(), strict=True)
    ]
    pairs = settings.seeds * (settings.seeds - 1) // 2
    return CountWorking(
        name=counted(groups, "group"),
        lines=[
            _mean_line(made, at, "within", "Inertia", f"mean over seeds of Σ {squared} to the group’s middle"),
            *_bend_line(made, at, "within", "Bend of the inertia"),
            _mean_line(made, at, "between", "Between of total", "1 − inertia / total", "; ".join(shares)),
            *_bend_line(made, at, "between", "Bend of the share"),
            _mean_line(
                made,
                at,
                "silhouette",
                "Silhouette",
                f"mean of (b − a) / max(a, b) over {counted(made.measured.sample, 'document')}; a: mean distance to "
                "its own group, b: to the next",
            ),
            *(
                [_mean_line(made, at, "agreement", "Agreement over seeds", "mean adjusted Rand index of two seeds")]
                if pairs
                else []
            ),
        ],
    )


def _mean_line(made: TriedCounts, at: int, key: str, name: str, formula: str, numbers: str = "") -> Line:
    values, twin = getattr(made.measured, key)[at], getattr(made.twin, key)[at]
    own = numbers or ", ".join(f"{each:.4g}" for each in values.tolist())
    chance = ", ".join(f"{each:.4g}" for each in twin.tolist())
    return Line(name=name, formula=formula, numbers=f"{own}; dealt out at random {chance}", value=float(values.mean()))


def _bend_line(made: TriedCounts, at: int, key: str, name: str) -> list[Line]:
    means = getattr(made.measured, key).mean(axis=1)
    off = off_chord(made.counts, means)
    if off is None:
        return []
    x, first, last = made.counts[at], made.counts[0], made.counts[-1]
    up = f"({means[at]:.4g} − {means[0]:.4g}) / ({means[-1]:.4g} − {means[0]:.4g})"
    along = f"({count(x)} − {count(first)}) / ({count(last)} − {count(first)})"
    return [
        Line(
            name=name,
            formula="distance from the line between the ends: | (y − y₁) / (yₙ − y₁) − (x − x₁) / (xₙ − x₁) |",
            numbers=f"| {up} − {along} |; the most is {off.max():.3f}",
            value=float(off[at]),
        )
    ]
