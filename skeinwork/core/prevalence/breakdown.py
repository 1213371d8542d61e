"""What prevalence is broken down by: groups and periods, what was sampled, and how much documents count."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Annotated, NamedTuple

import numpy as np
from numpy.typing import NDArray
from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.grouping import groups_of, units_of
from skeinwork.core.corpus.periods import Period, between_breaks, period_index
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.chains import Chain, cell_shares, with_other_chains
from skeinwork.core.prevalence.standardising import crossed, standardised
from skeinwork.core.prevalence.totals import UnitTotals, unit_totals
from skeinwork.core.topics.model import Samples

Array = NDArray[np.float64]
# Periods beyond which nobody reads a line, and cells become too many to send.
MOST_PERIODS = 1000
# Among the fields whose composition is held fixed: the period.
TIME = "date"


def _day(text: str) -> str:
    return date.fromisoformat(text).isoformat()


# Years from 1 on, and months with their days; whether a year has a 29th of February is looked up.
_YEAR = r"(?:[1-9]\d{3}|0[1-9]\d{2}|00[1-9]\d|000[1-9])"
_MONTH_AND_DAY = (
    r"(?:(?:0[13578]|1[02])-(?:0[1-9]|[12]\d|3[01])|(?:0[469]|11)-(?:0[1-9]|[12]\d|30)|02-(?:0[1-9]|[12]\d))"
)
Day = Annotated[str, Field(pattern=f"^{_YEAR}-{_MONTH_AND_DAY}$"), AfterValidator(_day)]


class Breakdown(BaseModel):
    """What prevalence is broken down by."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    group: str | None = Field(None, description="a group field")
    period: Period | None = None
    breaks: tuple[Day, ...] = Field(
        (), max_length=200, description="days that each begin a stretch of time, in place of a period"
    )
    weight: str = Field("tokens", pattern="^(tokens|documents)$")
    unit: str | None = Field(
        None, description="what was sampled: a field that documents belong together by, or documents"
    )
    design: str | None = Field(None, description="a field of numbers, how many documents each stands for")
    fixed: tuple[str, ...] = Field(
        (), max_length=5, description="fields whose composition is held fixed, “date” for that of the time"
    )
    seed: int = Field(1, ge=0, le=2**31 - 1, description="read in patterns of before; nothing is drawn any more")

    @property
    def timed(self) -> bool:
        """Whether it is over time."""
        return bool(self.period or self.breaks)

    @property
    def timeless(self) -> Breakdown:
        """The same without the time."""
        return self.model_copy(update={"period": None, "breaks": ()})

    @property
    def groupless(self) -> Breakdown:
        """The same of all groups together."""
        return self.model_copy(update={"group": None})

    @property
    def span(self) -> str | None:
        """The name of its periods."""
        return "stretch" if self.breaks else self.period


@dataclass(frozen=True)
class Cells:
    """Documents in groups and periods.

    Attributes
    ----------
    groups, periods : names, the largest group first; one that is empty where there is no such split
    rows : int64[n_groups, n_periods], the cell of each, -1 without documents
    cells : int64[n_docs], the cell of each document, -1 for none; number : of cells
    """

    groups: list[str]
    periods: list[str]
    rows: NDArray[np.int64]
    cells: NDArray[np.int64]
    number: int

    @property
    def group(self) -> NDArray[np.int64]:
        """Of every cell, int64[n_cells]."""
        return self._place(0)

    @property
    def period(self) -> NDArray[np.int64]:
        """Of every cell, int64[n_cells]."""
        return self._place(1)

    def _place(self, axis: int) -> NDArray[np.int64]:
        found = np.empty(self.number, dtype=np.int64)
        where = np.nonzero(self.rows >= 0)
        found[self.rows[where]] = where[axis]
        return found


def cells_of(corpus: Corpus, by: Breakdown) -> Cells:
    """The documents by group, period, or both.

    Raises
    ------
    BadInputError
        where periods are asked for and no document has a date, or there are too many of them.
    """
    n_docs = len(corpus)
    group, names = np.zeros(n_docs, dtype=np.int64), [""]
    if by.group:
        group, names = groups_of(corpus, by.group)
    when, periods = _when(corpus, by)
    known = (group >= 0) & (when >= 0)
    occupied, place = np.unique((group * len(periods) + when)[known], return_inverse=True)
    cells = np.full(n_docs, -1, dtype=np.int64)
    cells[known] = place
    rows = np.full(len(names) * len(periods), -1, dtype=np.int64)
    rows[occupied] = np.arange(len(occupied))
    return Cells(names, periods, rows.reshape(len(names), len(periods)), cells, len(occupied))


def placed(
    corpus: Corpus, by: Breakdown, counted: NDArray[np.bool_] | None = None
) -> tuple[list[str], NDArray[np.int64]]:
    """Names of the groups, or of the periods where there is no field, and which of them each document is in.

    int64[n_docs], -1 for none.

    Parameters
    ----------
    counted : bool[n_docs], documents that are in any; all where it is left out

    Raises
    ------
    BadInputError
        where there is neither a group nor a time.
    """
    if not by.group and not by.timed:
        raise BadInputError("Choose a field to group by, or a period.")
    found = cells_of(corpus, by.timeless if by.group else by)
    if not found.number:
        return [], np.full(len(corpus), -1, dtype=np.int64)
    there = found.cells >= 0 if counted is None else (found.cells >= 0) & counted
    place = np.where(there, (found.group if by.group else found.period)[found.cells], -1)
    return found.groups if by.group else found.periods, place


def _when(corpus: Corpus, by: Breakdown) -> tuple[NDArray[np.int64], list[str]]:
    if not by.timed:
        return np.zeros(len(corpus), dtype=np.int64), [""]
    if by.breaks:
        when, periods = between_breaks(corpus.days, corpus.precision, [date.fromisoformat(each) for each in by.breaks])
    else:
        assert by.period is not None
        when, periods = period_index(corpus.days, corpus.precision, by.period)
    if not (when >= 0).any():
        raise BadInputError(
            "No document has a date that is exact enough for it. Choose a longer period."
            if corpus.has_dates
            else "No document has a date, so there is nothing to show over time. Give a field the role date at Gather."
        )
    if len(periods) > MOST_PERIODS:
        raise BadInputError(
            f"There are {len(periods):,} of the {by.period}s, and at most {MOST_PERIODS:,} periods are shown. "
            "Choose a longer period."
        )
    return when, periods


@dataclass(frozen=True)
class Weights:
    """How much each document counts.

    Attributes
    ----------
    weights : float64[n_docs]
    covered : float64[n_cells], the share of the fixed composition that each cell has documents of, 1 without one
    unweighted : documents that have no number in the field of design weights
    """

    weights: Array
    covered: Array
    unweighted: int


def weights_of(corpus: Corpus, by: Breakdown, tokens: Array, found: Cells) -> Weights:
    """Tokens or one, times the design weight, with the composition held fixed where that is asked for.

    Parameters
    ----------
    tokens : float64[n_docs], those that the fit counted

    Raises
    ------
    BadInputError
        where there is no such field, or it holds no numbers above 0.
    """
    weights = tokens if by.weight == "tokens" else (tokens > 0).astype(np.float64)
    unweighted = 0
    if by.design:
        design = design_weights(corpus, by.design)
        unweighted = int(((design <= 0) & (weights > 0)).sum())
        weights = weights * design
    if not by.fixed:
        return Weights(weights, np.ones(found.number), unweighted)
    kept = standardised(weights, found.cells, found.number, _strata(corpus, by))
    return Weights(kept.weights, kept.covered, unweighted)


def _strata(corpus: Corpus, by: Breakdown) -> NDArray[np.int64]:
    columns = []
    for name in by.fixed:
        if name == by.group:
            raise BadInputError(f"“{name}” is what groups are made by, so its composition can’t be held fixed.")
        column = corpus.column(name)
        if name == TIME and (column is None or column.role == "date"):
            if by.timed:
                raise BadInputError("Prevalence over time can’t hold the time fixed.")
            columns.append(period_index(corpus.days, corpus.precision, "year")[0])
        else:
            columns.append(groups_of(corpus, name)[0])
    return crossed(columns)


def design_weights(corpus: Corpus, field: str) -> Array:
    """How many documents each stands for, float64[n_docs]; 0 where it doesn't say."""
    column = corpus.column(field)
    if column is None:
        raise BadInputError(f"There is no field “{field}” that could hold design weights.")
    numbers = np.array([*map(number_of, column.values), np.nan])[column.codes]
    found = np.where(numbers > 0, numbers, 0.0)
    if not (found > 0).any():
        raise BadInputError(f"“{field}” holds no numbers above 0, so it can’t be a design weight.")
    return np.asarray(found)


def number_of(text: str) -> float:
    """A number as cells have it, NaN where it is none."""
    try:
        value = float(text.strip().replace(",", "."))
    except ValueError:
        return float("nan")
    return value if abs(value) < 1e12 else float("nan")


class Held(NamedTuple):
    """Cells of a breakdown, how much each document counts in them, and what units hold there."""

    cells: Cells
    weights: Weights
    totals: UnitTotals


def broken_down(
    samples: Samples,
    corpus: Corpus,
    by: Breakdown,
    tokens: Array,
    chains: Sequence[Chain] = (),
    cells: Cells | None = None,
) -> Held:
    """What units hold in the cells of a breakdown, or in given ones.

    Parameters
    ----------
    samples : of the fit
    tokens : float64[n_docs], those that the fit counted
    chains : of other seeds, whose spread is let in

    Raises
    ------
    BadInputError
        where the corpus can't be broken down so.
    """
    found = cells or cells_of(corpus, by)
    weights = weights_of(corpus, by, tokens, found)
    totals = unit_totals(samples, weights.weights, found.cells, found.number, units_of(corpus, by.unit))
    others = []
    for assigned, known in chains:
        shares = cell_shares(assigned, weights.weights, found.cells, found.number)[:, : len(known)]
        others.append(np.where(known, shares, np.nan))
    return Held(found, weights, with_other_chains(totals, others) if others else totals)
