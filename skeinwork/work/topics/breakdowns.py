"""What prevalence is best broken down by to begin with, and which units were sampled."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.grouping import FILE, units_of
from skeinwork.core.corpus.periods import PERIODS, Period, period_index, usual_days
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.prevalence import FEW_UNITS, LEAST_UNITS
from skeinwork.core.prevalence.units import Likeness, likeness
from skeinwork.work.results.view import View

MOST_VALUES = 500
FEW_VALUES = 12
LEAST_DOCUMENTS = 20
LEAST_SPREAD = 0.25
MOST_PERIODS = 130
LEAST_PERIODS = 3  # of the coarser ones
_LEAST_EFFECT = 1.2
_LARGEST_P = 0.01


def group_fields(view: View) -> list[str]:
    """Fields that make sense to group by: groups, and other fields whose values recur."""
    return [
        column.name
        for column in view.corpus.columns
        if (column.role in ("group", "author", "source") and 1 <= len(column.values) <= MOST_VALUES)
        or (column.role == "kept" and 2 <= len(column.values) <= min(MOST_VALUES, len(view.corpus) / 5))
    ]


@dataclass(frozen=True)
class Suggested:
    """What to break prevalence down by to begin with, and why."""

    group: str | None
    period: Period | None
    why: str


def suggested(view: View) -> Suggested:
    """A field of few values that are spread over the time, and the finest period that fills its cells."""
    group, reason = _suggested_group(view)
    values = len(view.corpus.column(group).values) if group else 1  # type: ignore[union-attr]
    period = suggested_period(view, values)
    if period is None:
        return Suggested(group, None, reason)
    index, names = period_index(view.corpus.days, view.corpus.precision, period)
    each = int((index >= 0).sum()) / max(1, len(names) * values)
    cells = f"each {period}" + (f" of a {group}" if group else "")
    return Suggested(group, period, f"{reason}; {cells} holds {each:,.0f} documents on average")


def _suggested_group(view: View) -> tuple[str | None, str]:
    period = suggested_period(view)
    when = None
    if period:
        when, _ = period_index(view.corpus.days, view.corpus.precision, period)
    found: list[tuple[float, str, str]] = []
    for name in group_fields(view):
        column = view.corpus.column(name)
        assert column is not None
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
        if 2 <= len(counts) <= FEW_VALUES and np.median(counts) >= LEAST_DOCUMENTS:
            share = _spread(column.codes, when) if when is not None else 1.0
            found.append((share, name, f"{name} has {len(counts)} values"))
    spread = [each for each in found if each[0] >= LEAST_SPREAD]
    if not spread:
        few = "no field has few values" + (", each spread over the time" if found else "")
        return None, few
    share, name, said = max(spread, key=lambda each: round(each[0], 1))
    periods = f"{period}s".replace("centurys", "centuries")
    over = f", each in {percent(share)} of the {periods}" if period else ""
    return name, said + over


def _spread(codes: NDArray[np.int32], when: NDArray[np.int64]) -> float:
    """In which share of the periods the value of a document occurs, on average."""
    known = (codes >= 0) & (when >= 0)
    if not known.any():
        return 0.0
    pairs = np.unique(np.stack([codes[known], when[known]]), axis=1)
    periods = np.bincount(pairs[0])
    return float(periods[codes[known]].mean() / len(np.unique(when[known])))


def suggested_period(view: View, groups: int = 1) -> Period | None:
    """The finest period that leaves about twenty documents in each cell, not too many nor too few."""
    if not view.corpus.has_dates:
        return None
    first, last = usual_days(view.corpus.days)
    days = view.corpus.days
    days = np.where((days < first) | (days > last), MISSING, days).astype(np.int32)
    found: Period | None = None
    for period in PERIODS:
        index, names = period_index(days, view.corpus.precision, period)
        known = int((index >= 0).sum())
        if not names or len(names) > MOST_PERIODS:
            continue
        if found and len(names) < LEAST_PERIODS:
            break
        found = period
        if known >= LEAST_DOCUMENTS * len(names) * groups:
            break
    return found


def unit_fields(view: View) -> list[str]:
    """Fields whose values hold several documents, so that these may have been sampled together."""
    n_docs = len(view.corpus)
    fields = [
        column.name
        for column in view.corpus.columns
        if column.role not in ("title", "identifier", "date", "ignored") and 2 <= len(column.values) <= 0.9 * n_docs
    ]
    if 2 <= len(np.unique(view.corpus.sources)) <= 0.9 * n_docs and FILE not in fields:
        fields.append(FILE)
    return fields


class SuggestedUnit(BaseModel):
    """A field by which documents belong together, and why."""

    unit: str
    why: str


def suggested_units(view: View) -> list[SuggestedUnit]:
    """Fields whose documents are so much alike that they are not independent, the most first.

    Authors and sources are looked at whatever their number; of other fields those with at least
    ``FEW_UNITS`` values, since a few values are groups to compare, not a sample of units.
    """
    found: list[tuple[float, str, Likeness]] = []
    shares = view.model.doc_topic
    for name in unit_fields(view):
        column = view.corpus.column(name)
        sampled = column is None or column.role in ("author", "source")
        units = units_of(view.corpus, name)
        assert units is not None
        alike = likeness(shares, np.where(view.token_weights > 0, units, -1))
        if (
            alike is not None
            and alike.units >= (LEAST_UNITS if sampled else FEW_UNITS)
            and alike.design_effect >= _LEAST_EFFECT
            and alike.p <= _LARGEST_P
        ):
            found.append((alike.design_effect, name, alike))
    found.sort(key=lambda each: (-each[0], each[1]))
    return [
        SuggestedUnit(
            unit=name,
            why=f"documents of one {name} are alike (intraclass correlation {alike.correlation:.2f} "
            f"over {alike.units} with {alike.each:.1f} documents each), which makes the variance "
            f"{effect:.1f} times that of as many single documents",
        )
        for effect, name, alike in found
    ]
