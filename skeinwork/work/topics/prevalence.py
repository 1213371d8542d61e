"""Prevalence for the screens and the exports: by group, over time, both; and differences of groups."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.grouping import groups_of, units_of
from skeinwork.core.corpus.periods import Period, period_index
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.chains import cell_shares, with_other_chains
from skeinwork.core.prevalence.differences import Differences, differences
from skeinwork.core.prevalence.prevalence import Prevalence, prevalence
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.topics import matching
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT
from skeinwork.work.steps.fit import FitSummary, Interval
from skeinwork.work.topics import fits

# Groups beyond which nobody reads each against all others, and that takes minutes.
MOST_COMPARED = 500
Seeds = tuple[int, ...]


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


def said_of_seeds(seeds: Seeds) -> str:
    """Whether the draws of other seeds are in the intervals."""
    if not seeds:
        return "The intervals rest on the draws of one seed; fits with others would let in how far they stand apart."
    named = " and ".join(filter(None, [", ".join(map(str, seeds[:-1])), str(seeds[-1])]))
    return f"The intervals hold how far fits with seed{'s' * (len(seeds) > 1)} {named} stand apart from this one."


def _of_other_seed(view: View, seed: int) -> tuple[scipy.sparse.csr_matrix, NDArray[np.int64]]:
    """Tokens of each topic in each document of the view's fit with another seed; its topic for each of the view's.

    -1 where a topic is not found again.
    """

    def made() -> tuple[scipy.sparse.csr_matrix, NDArray[np.int64]]:
        identity = fits.with_seed(view, seed).identity
        again = matching.found_again(fits.own_words(view, view.fit_record.identity), fits.own_words(view, identity))
        live = np.array(FIT.summarised(view.store.open(identity)).live)
        same = np.full(len(view.model.topic_word), -1, dtype=np.int64)
        same[view.fit_summary.live] = np.where(again >= 0, live[again], -1)
        return view.fit_of(identity).drawn.assigned().tocsr(), same

    return view.cached("other seed", made, seed)


def _totals(view: View, settings: TrackSettings, cells: NDArray[np.int64], n_cells: int, seeds: Seeds) -> UnitTotals:
    model, weights = view.model, view.token_weights
    if settings.weight == "documents":
        weights = (weights > 0).astype(np.float64)
    totals = unit_totals(model.drawn, weights, cells, n_cells, units_of(view.corpus, settings.unit))
    others = []
    for assigned, same in (_of_other_seed(view, seed) for seed in seeds):
        shares = cell_shares(assigned, weights, cells, n_cells)
        others.append(np.where(same >= 0, shares[:, same], np.nan))
    return with_other_chains(totals, others) if others else totals


def track(view: View, settings: TrackSettings, seeds: Seeds = ()) -> Tracked:
    """Prevalence of every topic by group, period, or group and period.

    Parameters
    ----------
    seeds : other ones that there are fits of with the view's settings, whose draws are let in
    """
    n_docs = len(view.corpus)
    group, names = np.zeros(n_docs, dtype=np.int64), [""]
    if settings.group:
        group, names = groups_of(view.corpus, settings.group)
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
        prevalence(_totals(view, settings, cells, len(occupied), seeds)),
        int((~known).sum()),
    )


def overall(view: View, seeds: Seeds) -> list[Interval]:
    """The share of every topic in all documents."""
    if not seeds:
        return view.fit_summary.share
    found = view.cached("overall", lambda: track(view, TrackSettings(), seeds).result, seeds)
    return [Interval.of(*each) for each in zip(found.mean[0], found.low[0], found.high[0], strict=True)]


def compare(view: View, settings: TrackSettings, seeds: Seeds = ()) -> tuple[list[str], Differences]:
    """Each group against all others together, whatever the period."""
    assert settings.group is not None
    group, names = groups_of(view.corpus, settings.group)
    if len(names) > MOST_COMPARED:
        raise BadInputError(
            f"“{settings.group}” has {len(names):,} values, and at most {MOST_COMPARED} groups are "
            "compared with all others. Keep the larger ones, or combine values, at Gather under Shape."
        )
    return names, differences(_totals(view, settings, group, len(names), seeds))
