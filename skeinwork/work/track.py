"""Prevalence for the screens and the exports: by group, over time, and both."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.periods import PERIODS, Period, period_index
from skeinwork.core.prevalence.prevalence import REPLICATES, Prevalence, prevalence
from skeinwork.work.view import View

MOST_GROUPS = 60
MOST_VALUES = 500
FEW_VALUES = 12
LEAST_DOCUMENTS = 20
LEAST_SPREAD = 0.25
MOST_PERIODS = 130
LEAST_PERIODS = 3  # of the coarser ones


class TrackSettings(BaseModel):
    """What prevalence is broken down by."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    group: str | None = Field(None, description="a group field")
    period: Period | None = None
    weight: str = Field("tokens", pattern="^(tokens|documents)$")
    seed: int = Field(1, ge=0, le=2**31 - 1)


@dataclass(frozen=True)
class Tracked:
    """Prevalence in cells; ``cells[i]`` is (group value or None, period or None)."""

    cells: list[tuple[str | None, str | None]]
    groups: list[str]
    periods: list[str]
    result: Prevalence
    left_out: int


def _groups(view: View, field: str) -> tuple[NDArray[np.int64], list[str], int]:
    """Group of every document, the largest groups first when there are many, and documents left."""
    column = view.corpus.column(field)
    if column is None:
        raise BadInputError(f"There is no field “{field}” to group by.")
    counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
    order = np.argsort(-counts, kind="stable")[:MOST_GROUPS]
    order = np.array(sorted(order.tolist(), key=lambda at: (-counts[at], column.values[at])), int)
    place = np.full(len(column.values) + 1, -1, dtype=np.int64)
    place[order] = np.arange(len(order))
    place[-1] = -1
    groups = place[column.codes]
    return groups, [column.values[at] for at in order], int((groups < 0).sum())


def track(view: View, settings: TrackSettings, replicates: int = REPLICATES) -> Tracked:
    """Prevalence of every topic by group, period, or group and period."""
    n_docs = len(view.corpus)
    group, names, left_out = np.zeros(n_docs, dtype=np.int64), [""], 0
    if settings.group:
        group, names, left_out = _groups(view, settings.group)
    when, periods = np.zeros(n_docs, dtype=np.int64), [""]
    if settings.period:
        when, periods = period_index(view.corpus.days, view.corpus.precision, settings.period)
        if not periods:
            raise BadInputError(
                "No document has a date, so there is nothing to show over time. Give a field the "
                "role date at Gather."
            )
        left_out += int(((when < 0) & (group >= 0)).sum())
    cells = np.where((group >= 0) & (when >= 0), group * len(periods) + when, -1)
    weights = view.token_weights
    if settings.weight == "documents":
        weights = (weights > 0).astype(np.float64)
    result = prevalence(
        view.model.doc_topic, view.model.samples, weights, cells, len(names) * len(periods),
        replicates, seed=settings.seed,
    )  # fmt: skip
    listed = [(name or None, period or None) for name in names for period in periods]
    return Tracked(
        listed,
        names if settings.group else [],
        periods if settings.period else [],
        result,
        left_out,
    )


def group_fields(view: View) -> list[str]:
    """Fields that make sense to group by: groups, and other fields whose values recur."""
    return [
        column.name
        for column in view.corpus.columns
        if (column.role in ("group", "author", "source") and 1 <= len(column.values) <= MOST_VALUES)
        or (
            column.role == "kept"
            and 2 <= len(column.values) <= min(MOST_VALUES, len(view.corpus) / 5)
        )
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
    over = f", each in {share:.0%} of the {periods}".replace("%", "\u202f%") if period else ""
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
    found: Period | None = None
    for period in PERIODS:
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        known = int((index >= 0).sum())
        if not names or len(names) > MOST_PERIODS:
            continue
        if found and len(names) < LEAST_PERIODS:
            break
        found = period
        if known >= LEAST_DOCUMENTS * len(names) * groups:
            break
    return found
