"""Civil dates with their precision. No time zones: a time of day is not looked at."""

from __future__ import annotations

import re
from collections.abc import Iterable
from datetime import date
from functools import lru_cache
from typing import Literal

from skeinwork.core.formats.records import DateOrder

MISSING = -(2**31)
Precision = Literal["day", "month", "year"]
PRECISIONS: tuple[Precision, ...] = ("day", "month", "year")
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
_EPOCH = date(1970, 1, 1).toordinal()
_MONTHS = {
    name: number
    for number, names in enumerate(
        [
            "jan january",
            "feb february",
            "mar march",
            "apr april",
            "may",
            "jun june",
            "jul july",
            "aug august",
            "sep sept september",
            "oct october",
            "nov november",
            "dec december",
        ],
        start=1,
    )
    for name in names.split()
}
_TIME = r"(?:[T ,]+\d{1,2}[:.h]\d{2}.*)?$"
_ISO = re.compile(r"(\d{4})[-/.](\d{1,2})(?:[-/.](\d{1,2}))?" + _TIME)
_COMPACT = re.compile(r"(\d{4})(\d{2})(\d{2})$")
_SECONDS = re.compile(r"(\d{10})(?:\d{3})?(?:\.\d+)?$")
_YEAR = re.compile(r"(\d{4})$")
_NUMERIC = re.compile(r"(\d{1,2})[/.-](\d{1,2})[/.-](\d{4})" + _TIME)
_DAY_MONTH = re.compile(r"(?:[A-Za-z]{3,9}\.?,? )?(\d{1,2})(?:st|nd|rd|th)?\.? ([A-Za-z]{3,9})\.?,? (\d{4})" + _TIME)
_MONTH_DAY = re.compile(r"([A-Za-z]{3,9})\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})" + _TIME)
_MONTH_YEAR = re.compile(r"([A-Za-z]{3,9})\.? (\d{4})$")


def to_days(day: date) -> int:
    """Days since 1 January 1970."""
    return day.toordinal() - _EPOCH


def from_days(days: int) -> date:
    """The civil date of a day number."""
    return date.fromordinal(days + _EPOCH)


def _parts(text: str, order: DateOrder) -> tuple[int, int, int, Precision] | None:
    if found := _ISO.match(text):
        year, month, day = found.groups()
        return int(year), int(month), int(day or 1), "day" if day else "month"
    if found := _COMPACT.match(text):
        return int(found[1]), int(found[2]), int(found[3]), "day"
    if found := _SECONDS.match(text):
        day = from_days(int(found[1]) // 86_400)
        return (day.year, day.month, day.day, "day") if 1990 <= day.year < 2100 else None
    if found := _YEAR.match(text):
        return int(found[1]), 1, 1, "year"
    if found := _NUMERIC.match(text):
        first, second, year = map(int, found.groups()[:3])
        return (year, second, first, "day") if order == "day-first" else (year, first, second, "day")
    if (found := _DAY_MONTH.match(text)) and found[2].lower() in _MONTHS:
        return int(found[3]), _MONTHS[found[2].lower()], int(found[1]), "day"
    if (found := _MONTH_DAY.match(text)) and found[1].lower() in _MONTHS:
        return int(found[3]), _MONTHS[found[1].lower()], int(found[2]), "day"
    if (found := _MONTH_YEAR.match(text)) and found[1].lower() in _MONTHS:
        return int(found[2]), _MONTHS[found[1].lower()], 1, "month"
    return None


def parse(text: str, order: DateOrder = "day-first") -> tuple[int, Precision] | None:
    """A date as (days since 1970, precision), or None where the text is no real date.

    Examples
    --------
    >>> parse("14 Jan 2014")
    (16084, 'day')
    >>> parse("31 February 2013") is None
    True
    """
    written = text.strip()
    return _known(written, order) if len(written) <= _REMEMBERED else _parsed(written, order)


def _parsed(written: str, order: DateOrder) -> tuple[int, Precision] | None:
    parts = _parts(written, order)
    if parts is None:
        return None
    try:
        return to_days(date(*parts[:3])), parts[3]
    except ValueError:
        return None


# The same days come again and again; of long texts, which are asked too, nothing is remembered.
_REMEMBERED = 40
_known = lru_cache(maxsize=8192)(_parsed)


def guess_order(texts: Iterable[str]) -> tuple[DateOrder, bool]:
    """Whether the day or the month comes first in numeric dates, and whether that is certain."""
    orders: set[DateOrder] = set()
    numeric = False
    for text in texts:
        if found := _NUMERIC.match(text.strip()):
            numeric = True
            if int(found[1]) > 12:
                orders.add("day-first")
            elif int(found[2]) > 12:
                orders.add("month-first")
    if orders == {"month-first"}:
        return "month-first", True
    return "day-first", not numeric or orders == {"day-first"}
