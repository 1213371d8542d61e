"""Regressions of a fit's topics: what can stand in one, what is suggested, and those that were worked out."""

from __future__ import annotations

from skeinwork.core.corpus.corpus import Column
from skeinwork.core.prevalence.breakdown import number_of
from skeinwork.core.prevalence.design_matrix import Design, Regression
from skeinwork.work.results.view import View
from skeinwork.work.steps import REGRESSION
from skeinwork.work.steps.regression import Held, RegressionSettings, design_for
from skeinwork.work.topics.breakdowns import FEW_VALUES, suggested, suggested_units
from skeinwork.work.topics.fits import made_of
from skeinwork.work.topics.prevalence import Seeds, other_seeds

# Different numbers that a field has at least where it is taken for a number.
_NUMBERS = 6
# Share of a field's values that are numbers.
_MOSTLY = 0.95


def _numeric(column: Column) -> bool:
    if column.role not in ("kept", "group", "outcome") or len(column.values) < _NUMBERS:
        return False
    numbers = [number_of(each) for each in column.values]
    known = [each for each in numbers if each == each]
    return len(known) >= _MOSTLY * len(numbers) and len(set(known)) >= _NUMBERS


def number_fields(view: View) -> list[str]:
    """Fields whose values are numbers, nearly all."""
    return view.cached("number fields", lambda: [each.name for each in view.corpus.columns if _numeric(each)])


def suggestion(view: View) -> tuple[Regression | None, str]:
    """The field that prevalence is best broken down by, the other groups of few values, and the time; and why."""
    first = view.cached("suggested", lambda: suggested(view))
    others = [
        column.name
        for column in view.corpus.columns
        if column.role == "group" and 2 <= len(column.values) <= FEW_VALUES and column.name != first.group
    ]
    factors = tuple([first.group] if first.group else []) + tuple(others[: 3 if first.group else 4])
    time = view.corpus.has_dates
    if not factors and not time:
        return None, "no field has few values, and no document has a date"
    unit = next((each.unit for each in view.cached("suggested units", lambda: suggested_units(view))), None)
    found = Regression(factors=factors, time=time, unit=None if unit in factors else unit)
    parts = [f"{each} has {len(column.values)} values" for each in factors if (column := view.corpus.column(each))]
    return found, ", ".join([*parts, *(["documents have dates"] if time else [])])


def design_of(view: View, of: Regression) -> Design:
    """The columns of a regression, kept while it is looked at.

    Raises
    ------
    BadInputError
        where the documents can't be regressed so.
    """
    return view.cached("design", lambda: design_for(view.corpus, of, view.token_weights), of)


def settings_of(view: View, of: Regression, seeds: Seeds) -> RegressionSettings:
    """What is asked of the job."""
    return view.cached(
        "regression settings", lambda: RegressionSettings(of=of, seeds=other_seeds(view, seeds)), of, seeds
    )


def regression_of(view: View, of: Regression, seeds: Seeds) -> Held | None:
    """A regression that was worked out; None where it was not."""
    return view.made(REGRESSION, REGRESSION.making(view.fit_record.identity, settings_of(view, of, seeds)))


def worked_out(fit: str) -> list[Regression]:
    """What the topics of a fit were regressed on, each once, in its order; call inside a connection."""
    rows = sorted(made_of([fit], REGRESSION.name), key=lambda each: each.number or 0)
    return list(dict.fromkeys(REGRESSION.parse(each.settings).of for each in rows))
