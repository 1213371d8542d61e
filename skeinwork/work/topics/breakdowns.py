"""What prevalence is best broken down by to begin with, and which units were sampled."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.grouping import FILE, groups_of, units_of, with_own_units
from skeinwork.core.corpus.periods import PERIODS, Period, period_index, usual_days
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.in_words import percent
from skeinwork.core.prevalence.breakdown import design_weights
from skeinwork.core.prevalence.prevalence import FEW_UNITS, LEAST_UNITS
from skeinwork.core.prevalence.units import Likeness, intraclass_correlation, likeness
from skeinwork.work.results.view import View

MOST_VALUES = 500
FEW_VALUES = 12
LEAST_DOCUMENTS = 20
# Share of the cells of a field and a period that have to hold enough units to be compared.
ENOUGH = 0.8
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
    """What to break prevalence down by to begin with, what was sampled there, and why."""

    group: str | None
    period: Period | None
    unit: str | None
    why: str


@dataclass(frozen=True)
class _Filled:
    """A field by a period: which share of its cells, of value and period, hold enough units."""

    field: str | None
    values: int
    period: Period | None
    periods: int
    unit: str | None
    share: float
    alike: float = 0.0

    @property
    def rank(self) -> tuple[bool, int, float]:
        """Those whose cells are filled come first, of these the finest."""
        enough = self.share >= ENOUGH
        return enough, (self.periods if enough else 0), self.share

    @property
    def why(self) -> str:
        units = f"{FEW_UNITS} {'documents' if self.unit is None else f'values of {self.unit}'} or more"
        if self.period is None:
            return f"each of the {self.values} values of {self.field} has {units}"
        cells = f"{self.period}s".replace("centurys", "centuries")
        if self.field is None:
            return f"{percent(self.share)} of the {cells} hold {units}"
        return f"{self.field} has {self.values} values, and {percent(self.share)} of their {cells} hold {units}"


def suggested(view: View) -> Suggested:
    """The field and the period whose cells hold enough units, by the finest period that does."""
    units = [each.unit for each in view.cached("suggested units", lambda: suggested_units(view))]
    times: list[_Time | None] = [*_times(view)] or [None]
    found: list[_Filled] = []
    for name in (*_comparable(view), None):
        unit = next((each for each in units if each != name), None)
        best = max((_filled(view, name, unit, each) for each in times), key=lambda each: each.rank)
        if best.share >= ENOUGH:
            found.append(replace(best, alike=_alike(view, name)))
    grouped = [each for each in found if each.field]
    alone = [each for each in found if each.field is None and each.period]
    if grouped:
        chosen = max(grouped, key=lambda each: each.alike)
        others = [str(each.field) for each in grouped if each is not chosen]
        more = f", whose documents are more alike in topics than those of one {' or '.join(others)}" if others else ""
        return Suggested(chosen.field, chosen.period, chosen.unit, chosen.why + more)
    if alone:
        none = "no field has few values that stand in most periods with enough units"
        return Suggested(None, alone[0].period, alone[0].unit, f"{none}; {alone[0].why}")
    period = times[-1][0] if times[-1] else None
    unit = next(iter(units), None)
    return Suggested(None, period, unit, f"no field has few values with {FEW_UNITS} units or more each")


_Time = tuple[Period, NDArray[np.int64], int]


def _times(view: View) -> list[_Time]:
    """The periods that can be shown: not too many, not too few."""
    if not view.corpus.has_dates:
        return []
    days, found = _usual(view), list[_Time]()
    for period in PERIODS:
        index, names = period_index(days, view.corpus.precision, period)
        if LEAST_PERIODS <= len(names) <= MOST_PERIODS:
            found.append((period, index, len(names)))
    return found


def _comparable(view: View) -> list[str]:
    """Fields of few values."""
    columns = [(name, view.corpus.column(name)) for name in group_fields(view)]
    return [name for name, column in columns if column and 2 <= len(column.values) <= FEW_VALUES]


def _filled(view: View, field: str | None, unit: str | None, time: _Time | None) -> _Filled:
    """How many of the cells hold ``FEW_UNITS`` units or more."""
    column = view.corpus.column(field) if field else None
    group = column.codes.astype(np.int64) if column else np.zeros(len(view.corpus), dtype=np.int64)
    values = len(column.values) if column else 1
    period, when, periods = time or (None, np.zeros(len(view.corpus), dtype=np.int64), 1)
    known = (group >= 0) & (when >= 0) & (view.token_weights > 0)
    cell = (group * periods + when)[known]
    if (of := units_of(view.corpus, unit)) is not None:
        cell = np.unique(np.stack([cell, with_own_units(of, len(of))[known]]), axis=1)[0]
    counts = np.bincount(cell, minlength=values * periods)
    return _Filled(field, values, period, periods, unit, float((counts >= FEW_UNITS).mean()))


def _alike(view: View, field: str | None) -> float:
    """How alike in topics the documents of one value are."""
    if field is None:
        return 0.0
    groups = groups_of(view.corpus, field)[0]
    return intraclass_correlation(view.model.doc_topic, np.where(view.token_weights > 0, groups, -1))


def _usual(view: View) -> NDArray[np.int32]:
    """The days of the documents without those that are far off."""
    days = view.corpus.days
    first, last = usual_days(days)
    return np.where((days < first) | (days > last), MISSING, days).astype(np.int32)


def suggested_period(view: View, groups: int = 1) -> Period | None:
    """The finest period that leaves about twenty documents in each cell, not too many nor too few."""
    if not view.corpus.has_dates:
        return None
    days = _usual(view)
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


def design_fields(view: View) -> list[str]:
    """Fields whose values are numbers above 0 throughout, so that they may say how many a document stands for."""
    found = []
    for column in view.corpus.columns:
        if column.role in ("kept", "group", "outcome") and len(column.values) >= 2:
            try:
                numbers = design_weights(view.corpus, column.name)
            except BadInputError:
                continue
            if (numbers[column.codes >= 0] > 0).all():
                found.append(column.name)
    return found


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


def weighed_by(view: View, weight: str) -> str:
    """What documents weigh by in shares of all: as asked for, but alike where each is in one topic or none."""
    return "documents" if view.model.clustered else weight
