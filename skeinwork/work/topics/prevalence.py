"""Prevalence for the screens and the exports: by group, over time, both; and differences of groups."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.differences import Differences, differences
from skeinwork.core.prevalence.periods import Period, period_index
from skeinwork.core.prevalence.prevalence import Prevalence, prevalence
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.work.results.view import View
from skeinwork.work.steps.fit import FitSummary

# Groups beyond which nobody reads each against all others, and that takes minutes.
MOST_COMPARED = 500
FILE = "file"  # as a unit: the file that documents came from


class TrackSettings(BaseModel):
    """What prevalence is broken down by."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    group: str | None = Field(None, description="a group field")
    period: Period | None = None
    weight: str = Field("tokens", pattern="^(tokens|documents)$")
    unit: str | None = Field(
        None, description="what was sampled: a field that documents belong together by, or documents"
    )
    seed: int = Field(1, ge=0, le=2**31 - 1, description="read in patterns of before; nothing is drawn any more")


def said_of_differences(summary: FitSummary) -> str:
    """How much too small differences of a fit's topics come out; docs/methods.md has how far that is right."""
    if summary.recovery is None or summary.gain is None or summary.gain.low is None:
        return ""
    if summary.gain.low <= 0:
        return (
            "The topics of this fit do not clearly foretell words of other documents, so differences of "
            "them come out too small by more than can be told."
        )
    return (
        f"Differences between groups come out at about {summary.recovery:.2f} of the true ones, as in "
        "documents written anew from this fit."
    )


@dataclass(frozen=True)
class Tracked:
    """Prevalence in groups and periods.

    Attributes
    ----------
    groups, periods : names, the largest group first; one that is empty where there is no such split
    rows : int64[n_groups, n_periods], the row of ``result`` for each, -1 without documents
    left_out : documents without a group or date
    """

    groups: list[str]
    periods: list[str]
    rows: NDArray[np.int64]
    result: Prevalence
    left_out: int


def groups_of(view: View, field: str) -> tuple[NDArray[np.int64], list[str]]:
    """Group of every document, -1 for none, and the names, the largest group first."""
    column = view.corpus.column(field)
    if column is None:
        raise BadInputError(f"There is no field “{field}” to group by.")
    counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
    order = sorted(range(len(counts)), key=lambda at: (-counts[at], column.values[at]))
    place = np.full(len(counts) + 1, -1, dtype=np.int64)
    place[order] = np.arange(len(order))
    return place[column.codes], [column.values[at] for at in order]


def units_of(view: View, field: str | None) -> NDArray[np.int64] | None:
    """Unit of every document, -1 for one of its own; None where every document is one."""
    if field is None:
        return None
    column = view.corpus.column(field)
    if column is not None:
        return column.codes.astype(np.int64)
    if field == FILE:
        return view.corpus.sources.astype(np.int64)
    raise BadInputError(f"There is no field “{field}” that documents could belong together by.")


def _totals(view: View, settings: TrackSettings, cells: NDArray[np.int64], n_cells: int) -> UnitTotals:
    model, weights = view.model, view.token_weights
    if settings.weight == "documents":
        weights = (weights > 0).astype(np.float64)
    return unit_totals(model.drawn, weights, cells, n_cells, units_of(view, settings.unit))


def track(view: View, settings: TrackSettings) -> Tracked:
    """Prevalence of every topic by group, period, or group and period."""
    n_docs = len(view.corpus)
    group, names = np.zeros(n_docs, dtype=np.int64), [""]
    if settings.group:
        group, names = groups_of(view, settings.group)
    when, periods = np.zeros(n_docs, dtype=np.int64), [""]
    if settings.period:
        when, periods = period_index(view.corpus.days, view.corpus.precision, settings.period)
        if not periods:
            raise BadInputError(
                "No document has a date, so there is nothing to show over time. Give a field the role date at Gather."
            )
    known = (group >= 0) & (when >= 0)
    occupied, place = np.unique((group * len(periods) + when)[known], return_inverse=True)
    cells = np.full(n_docs, -1, dtype=np.int64)
    cells[known] = place
    rows = np.full(len(names) * len(periods), -1, dtype=np.int64)
    rows[occupied] = np.arange(len(occupied))
    return Tracked(
        names,
        periods,
        rows.reshape(len(names), len(periods)),
        prevalence(_totals(view, settings, cells, len(occupied))),
        int((~known).sum()),
    )


def compare(view: View, settings: TrackSettings) -> tuple[list[str], Differences]:
    """Each group against all others together, whatever the period."""
    assert settings.group is not None
    group, names = groups_of(view, settings.group)
    if len(names) > MOST_COMPARED:
        raise BadInputError(
            f"“{settings.group}” has {len(names):,} values, and at most {MOST_COMPARED} groups are "
            "compared with all others. Keep the larger ones, or combine values, at Gather under Shape."
        )
    return names, differences(_totals(view, settings, group, len(names)))
