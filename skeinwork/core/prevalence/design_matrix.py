"""What prevalence is regressed on: factors, numbers, a spline of time, and pairs of these, as columns.

A factor is coded by its values but the largest, a number stands in standard deviations, and time as a natural cubic
spline (T. Hastie, R. Tibshirani and J. Friedman, *The elements of statistical learning*, 2009, 5.2) with knots where
equally many documents lie between. A pair adds the products of the columns of both.

*Predictions* are averages over the documents as they are, but for one term or two, which are set to a value (marginal
predictions: P. Lane and J. Nelder, *Analysis of covariance and standardization as instances of prediction*, 1982).
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field, model_validator

from skeinwork.core.corpus.corpus import Corpus
from skeinwork.core.corpus.grouping import groups_of, units_of, with_own_units
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING
from skeinwork.core.prevalence.breakdown import TIME, number_of

Array = NDArray[np.float64]
Name = Annotated[str, Field(min_length=1, max_length=200)]
# Values of a factor that have columns; smaller ones are one value together.
MOST_LEVELS = 20
MOST_COLUMNS = 120
# Units that a value needs for a column of its own.
LEAST_UNITS = 6
REST = "all other values"
# Where a number is predicted: percentiles of the documents.
PERCENTILES = (10.0, 25.0, 50.0, 75.0, 90.0)
# Days at which shares over time are predicted.
MOMENTS = 16


class Regression(BaseModel):
    """What prevalence is regressed on, and how documents count."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    factors: tuple[Name, ...] = Field((), max_length=6, description="fields of values")
    numbers: tuple[Name, ...] = Field((), max_length=6, description="fields of numbers")
    time: bool = Field(False, description="whether a spline of the date is among it")
    bends: int = Field(3, ge=1, le=8, description="columns of the spline; 1 is a straight line")
    pairs: tuple[tuple[Name, Name], ...] = Field(
        (), max_length=3, description="terms whose effects may depend on each other, “date” for the time"
    )
    link: str = Field("identity", pattern="^(identity|logit)$", description="least squares on shares, or their logit")
    weight: str = Field("tokens", pattern="^(tokens|documents)$")
    unit: Name | None = Field(None, description="what was sampled, as in a breakdown")
    design: Name | None = Field(None, description="a field of numbers, how many documents each stands for")

    @property
    def terms(self) -> tuple[str, ...]:
        """All of them, the time last."""
        return (*self.factors, *self.numbers, *((TIME,) if self.time else ()))

    @model_validator(mode="after")
    def _whole(self) -> Regression:
        terms = self.terms
        if not terms:
            raise ValueError("choose a factor, a number or the time")
        if len(set(terms)) < len(terms):
            raise ValueError("a field can stand in a regression once")
        for one, other in self.pairs:
            if one == other or one not in terms or other not in terms:
                raise ValueError(f"“{one} × {other}” is no pair of two terms that are chosen")
        if len({frozenset(each) for each in self.pairs}) < len(self.pairs):
            raise ValueError("a pair can stand in a regression once")
        return self


@dataclass(frozen=True)
class Term:
    """Columns of a factor, a number or the time, and where it is predicted.

    Attributes
    ----------
    kind : factor, number or time
    columns : float64[n_docs, n_columns]
    known : bool[n_docs], whether a document has a value
    labels, values : of each point at which it is predicted; ``rows`` float64[n_points, n_columns], its columns there
    place : int64[n_docs], the point that each document is at or nearest to
    merged : values that are one together
    """

    name: str
    kind: str
    columns: Array
    known: NDArray[np.bool_]
    labels: list[str]
    values: Array
    rows: Array
    place: NDArray[np.int64]
    merged: int = 0


def natural_spline(x: Array, knots: Array) -> Array:
    """Columns of a natural cubic spline without its constant, linear beyond the outer knots.

    Parameters
    ----------
    x : float64[n]; knots : float64[n_knots], rising, two or more

    Returns
    -------
    float64[n, n_knots - 1]
    """

    def bent(at: int) -> Array:
        last = np.maximum(x - knots[-1], 0.0) ** 3
        return np.asarray((np.maximum(x - knots[at], 0.0) ** 3 - last) / (knots[-1] - knots[at]))

    return np.column_stack([x] + [bent(at) - bent(len(knots) - 2) for at in range(len(knots) - 2)])


def _factor(corpus: Corpus, name: str, units: NDArray[np.int64], counts: NDArray[np.bool_]) -> Term:
    group, names = groups_of(corpus, name)
    sizes = [len(np.unique(units[(group == at) & counts])) for at in range(min(len(names), MOST_LEVELS + 1))]
    kept = [at for at, size in enumerate(sizes[:MOST_LEVELS]) if size >= LEAST_UNITS]
    place = np.full(len(names) + 1, len(kept), dtype=np.int64)
    place[kept] = np.arange(len(kept))
    place[-1] = -1
    level = place[group]
    labels = [names[at] for at in kept]
    if (level[counts] == len(kept)).any():
        labels.append(REST)
    if len(labels) < 2:
        raise BadInputError(
            f"“{name}” has no two values with {LEAST_UNITS} units or more each, so there is nothing to compare. "
            "Leave it out, or combine values at Gather under Shape."
        )
    rows = np.eye(len(labels))[:, 1:]
    columns = rows[np.maximum(level, 0)]
    merged = len(names) - len(kept)
    return Term(name, "factor", columns, level >= 0, labels, np.arange(len(labels), dtype=float), rows, level, merged)


def _number(corpus: Corpus, name: str, counts: NDArray[np.bool_]) -> Term:
    column = corpus.column(name)
    if column is None:
        raise BadInputError(f"There is no field “{name}”.")
    numbers = np.array([*map(number_of, column.values), np.nan])[column.codes]
    known = np.isfinite(numbers)
    used = numbers[known & counts]
    if len(used) == 0 or used.std() <= 0:
        raise BadInputError(f"“{name}” holds no two different numbers. Leave it out of the regression.")
    center, scale = float(used.mean()), float(used.std())
    points = np.unique(np.percentile(used, PERCENTILES))
    values = np.where(known, numbers, center)
    columns = ((values - center) / scale)[:, None]
    place = np.abs(values[:, None] - points[None, :]).argmin(axis=1)
    labels = [f"{each:,.4g}" for each in points]
    return Term(name, "number", columns, known, labels, points, ((points - center) / scale)[:, None], place)


def _time(corpus: Corpus, bends: int, counts: NDArray[np.bool_]) -> Term:
    days = corpus.days.astype(np.float64)
    known = corpus.days != MISSING
    used = days[known & counts]
    if len(np.unique(used)) < bends + 1:
        raise BadInputError("The dates of these documents are too few for a curve over time. Leave the time out.")
    first, last = float(used.min()), float(used.max())
    knots = np.unique(np.quantile(used, np.linspace(0.0, 1.0, bends + 1)))
    scaled, at = (np.where(known, days, first) - first) / (last - first), (knots - first) / (last - first)
    spline = natural_spline(scaled, at)
    center, scale = spline[known & counts].mean(axis=0), np.maximum(spline[known & counts].std(axis=0), 1e-12)
    points = np.linspace(first, last, MOMENTS)
    rows = (natural_spline((points - first) / (last - first), at) - center) / scale
    labels = [str(np.datetime64(round(each), "D")) for each in points]
    place = np.clip(np.rint(scaled * (MOMENTS - 1)), 0, MOMENTS - 1).astype(np.int64)
    return Term(TIME, "time", (spline - center) / scale, known, labels, points, rows, place)


def crossed_columns(one: Array, other: Array) -> Array:
    """Products of every column of one with every column of the other, float64[n, n_one * n_other]."""
    return np.asarray((one[:, :, None] * other[:, None, :]).reshape(len(one), -1))


@dataclass(frozen=True)
class Design:
    """The regression's terms for the documents that count.

    Attributes
    ----------
    terms : by name; pairs : of names
    documents : int64[n_rows], those that have all values and count; left_out : documents that lack one
    unit : int64[n_rows]; weight : float64[n_rows], that add up to 1
    """

    terms: Mapping[str, Term]
    pairs: Sequence[tuple[str, str]]
    documents: NDArray[np.int64]
    left_out: int
    unit: NDArray[np.int64]
    weight: Array

    def columns(self, rows: NDArray[np.int64], given: Mapping[str, int]) -> Array:
        """Of some of the rows, with terms set to one of their points, float64[len(rows), n_columns]."""
        docs = self.documents[rows]
        parts = {
            name: np.broadcast_to(term.rows[given[name]], (len(rows), term.rows.shape[1]))
            if name in given
            else term.columns[docs]
            for name, term in self.terms.items()
        }
        crossed = [crossed_columns(parts[one], parts[other]) for one, other in self.pairs]
        return np.column_stack([np.ones(len(rows)), *parts.values(), *crossed])

    def share_at(self, *names: str) -> Array:
        """Weight of the documents at the points of a term, or of two crossed, float64[n_points, ...]."""
        found = np.zeros([len(self.terms[name].labels) for name in names])
        np.add.at(found, tuple(self.terms[name].place[self.documents] for name in names), self.weight)
        return found


def design_of(corpus: Corpus, of: Regression, weights: Array) -> Design:
    """The columns of a regression.

    Parameters
    ----------
    weights : float64[n_docs], how much each document counts, 0 for none

    Raises
    ------
    BadInputError
        where a field is not there, says nothing, or there are more columns than anybody reads.
    """
    unit = with_own_units(units_of(corpus, of.unit), len(corpus))
    counts = weights > 0
    terms = [_factor(corpus, name, unit, counts) for name in of.factors]
    terms += [_number(corpus, name, counts) for name in of.numbers]
    if of.time:
        terms.append(_time(corpus, of.bends, counts))
    by_name = {each.name: each for each in terms}
    widths = {each.name: each.rows.shape[1] for each in terms}
    width = 1 + sum(widths.values()) + sum(widths[one] * widths[other] for one, other in of.pairs)
    if width > MOST_COLUMNS:
        raise BadInputError(
            f"This regression has {width} columns, and at most {MOST_COLUMNS} are fitted. Leave a pair or a field of "
            "many values out."
        )
    known = np.logical_and.reduce([each.known for each in terms])
    docs = np.flatnonzero(known & counts)
    docs = docs[np.argsort(unit[docs], kind="stable")]
    if len(np.unique(unit[docs])) < width + LEAST_UNITS:
        raise BadInputError(
            f"{width} columns are too many for {len(np.unique(unit[docs]))} units that have all these fields. "
            "Leave some out."
        )
    weight = weights[docs] / weights[docs].sum()
    return Design(by_name, of.pairs, docs, int((counts & ~known).sum()), unit[docs], weight)
