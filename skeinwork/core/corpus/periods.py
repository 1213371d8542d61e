"""Calendar periods, from days to half-centuries, and stretches between days that somebody chose."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.dates import MISSING, MONTHS, to_days

Period = Literal["day", "week", "month", "quarter", "year", "decade", "half-century"]
# The finest first.
PERIODS: tuple[Period, ...] = ("day", "week", "month", "quarter", "year", "decade", "half-century")
_DAYS: dict[str, int] = {"day": 1, "week": 7}
_MONTHS: dict[str, int] = {"month": 1, "quarter": 3, "year": 12, "decade": 120, "half-century": 600}
_EPOCH = 1970 * 12
# From the first day of the epoch, a Thursday, to the Monday before it.
_MONDAY = 3
# So many periods are named whether documents lie in them or not; of more, long gaps are one entry.
_MOST = 600
# Empty periods in a row that are drawn as a gap.
_LONG_GAP = 12
GAP = "…"
# Times the span of the middle half of the documents.
_FAR_TIMES = 10
# And twenty years at least: a corpus of one week may have an older document.
_FAR_DAYS = 20 * 365


def usual_days(days: NDArray[np.int32]) -> tuple[int, int]:
    """The first and last day that are not far off, by the span of the middle half of ``days``, int32[n_docs]."""
    known = days[days != MISSING]
    if not len(known):
        return 0, 0
    low, high = (float(each) for each in np.quantile(known, (0.25, 0.75)))
    reach = max(_FAR_TIMES * (high - low), _FAR_DAYS)
    return int(low - reach), int(high + reach)


def period_index(
    days: NDArray[np.int32], precision: NDArray[np.uint8], period: Period
) -> tuple[NDArray[np.int64], list[str]]:
    """The period of every document, and the names of all periods from first to last.

    Where one date far from the others would make very many, a long gap without documents is one entry.

    Parameters
    ----------
    days : int32[n_docs], days since 1970 or ``dates.MISSING``
    precision : uint8[n_docs]; a date that is known less exactly than the period counts as missing

    Returns
    -------
    index : int64[n_docs], -1 without a date
    names : such as ``2014``, ``2014-Q1``, ``2014-W03``, ``2014-01``, ``2010s``, ``2000–2049``, which sort by
        time; periods without documents are in it too; a gap is ``1906-02…2013-12``
    """
    exact = 0 if period in _DAYS else 1 if _MONTHS[period] < 12 else 2
    known = (days != MISSING) & (precision <= exact)
    if period in _DAYS:
        number = (np.where(known, days, 0).astype(np.int64) + _MONDAY * (period == "week")) // _DAYS[period]
    else:
        months = np.where(known, days, 0).astype("datetime64[D]").astype("datetime64[M]").astype(int)
        number = (months + _EPOCH) // _MONTHS[period]
    if not known.any():
        return np.full(len(days), -1, dtype=np.int64), []
    first, last = int(number[known].min()), int(number[known].max())
    if last - first < _MOST:
        names = [_name(at, period) for at in range(first, last + 1)]
        return np.where(known, number - first, -1).astype(np.int64), names
    occupied, place = np.unique(number[known], return_inverse=True)
    names, places = _with_gaps(occupied.tolist(), period)
    index = np.full(len(days), -1, dtype=np.int64)
    index[known] = np.asarray(places)[place]
    return index, names


def _with_gaps(occupied: Sequence[int], period: Period) -> tuple[list[str], list[int]]:
    """The names of periods, long gaps between them as one, and the places of the occupied ones."""
    names: list[str] = []
    places: list[int] = []
    before = occupied[0] - 1
    for at in occupied:
        if at - before > _LONG_GAP:
            names.append(f"{_name(before + 1, period)}{GAP}{_name(at - 1, period)}")
        else:
            names += [_name(empty, period) for empty in range(before + 1, at)]
        places.append(len(names))
        names.append(_name(at, period))
        before = at
    return names, places


def _name(number: int, period: Period) -> str:
    if period == "day":
        return _day(number).isoformat()
    if period == "week":
        year, week, _ = _day(number * 7 - _MONDAY).isocalendar()
        return f"{year:04d}-W{week:02d}"
    year, month = divmod(number * _MONTHS[period], 12)
    ends = {
        "month": f"-{month + 1:02d}",
        "quarter": f"-Q{month // 3 + 1}",
        "year": "",
        "decade": "s",
        "half-century": f"–{year + 49:04d}",
    }
    return f"{year:04d}{ends[period]}"


def _day(number: int) -> date:
    return date.fromordinal(min(max(date(1970, 1, 1).toordinal() + number, 1), date.max.toordinal()))


def bounds(name: str) -> tuple[date, date]:
    """The first and the last day of a period, a gap, or two days joined by ``..``.

    Raises
    ------
    ValueError
        where it is no period's name.

    >>> [str(each) for each in bounds("2014-Q1")]
    ['2014-01-01', '2014-03-31']
    """
    for joint in ("..", GAP):
        first, between, last = name.partition(joint)
        if between:
            return bounds(first)[0], bounds(last)[1]
    if "-W" in name:
        year, week = name.split("-W")
        monday = date.fromisocalendar(int(year), int(week), 1)
        return monday, monday + timedelta(days=6)
    if name.count("-") == 2:
        return (day := date.fromisoformat(name)), day
    year, _, part = name[:4], name[4:5], name[5:]
    first_month, months = 1, 12
    if name.endswith("s"):
        months = _MONTHS["decade"]
    elif "–" in name:
        months = _MONTHS["half-century"]
    elif part.startswith("Q"):
        first_month, months = 3 * int(part[1:]) - 2, 3
    elif part:
        first_month, months = int(part), 1
    begins = int(year) * 12 + first_month - 1
    return _first_of(begins), _last_before(begins + months)


def _first_of(months: int) -> date:
    """The first day of a month, counted from the year 0, as far as the calendar goes."""
    return date(months // 12, months % 12 + 1, 1) if months >= 12 else date.min


def _last_before(months: int) -> date:
    return date(months // 12, months % 12 + 1, 1) - timedelta(days=1) if months < 120_000 else date.max


def between_breaks(
    days: NDArray[np.int32], precision: NDArray[np.uint8], breaks: Sequence[date]
) -> tuple[NDArray[np.int64], list[str]]:
    """The stretch of every document between chosen days, each of which begins one; and their names.

    A date that is known by its month or year alone counts where all of that lies in one stretch.

    Returns
    -------
    index : int64[n_docs], -1 without a date
    names : as two days joined by ``..``
    """
    starts = sorted(set(breaks) - {date.min})
    edges = np.array([to_days(each) for each in starts], dtype=np.int64)
    begins, ends = (np.searchsorted(edges, each, side="right") for each in day_ranges(days, precision))
    stretches = zip([date.min, *starts], [*(each - timedelta(days=1) for each in starts), date.max], strict=True)
    index = np.where((days != MISSING) & (begins == ends), begins, -1).astype(np.int64)
    return index, [f"{a}..{b}" for a, b in stretches]


def day_ranges(days: NDArray[np.int32], precision: NDArray[np.uint8]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """The first and the last day that each date may be, int64[n_docs]; days of no meaning where there is none."""
    first = np.where(days != MISSING, days, 0).astype("datetime64[D]")
    last = first.copy()
    for exact, unit in ((1, "M"), (2, "Y")):
        some = precision == exact
        last[some] = (first[some].astype(f"datetime64[{unit}]") + 1).astype("datetime64[D]") - 1
    return first.astype(np.int64), last.astype(np.int64)


def lie_within(days: NDArray[np.int32], precision: NDArray[np.uint8], at: str) -> NDArray[np.bool_]:
    """Which dates lie in a period, or from one to another joined by ``..``, as far as they are known, bool[n_docs].

    Raises
    ------
    BadInputError
        where there is no such period.
    """
    try:
        first, last = bounds(at)
    except ValueError as fault:
        raise BadInputError(f"“{at[:60]}” is no period.") from fault
    begins, ends = day_ranges(days, precision)
    return np.asarray((days != MISSING) & (begins >= to_days(first)) & (ends <= to_days(last)))


def said_of(at: str) -> str:
    """A stretch of time for people: a period, or two joined by ``..``, of which either may be the calendar's end.

    >>> said_of("2014-Q1..2014-Q3"), said_of("0001-01-01..2014-03-31")
    ('Q1 2014 to Q3 2014', 'to 31 Mar 2014')
    """
    first, joint, last = at.partition("..")
    if not joint:
        return said(first)
    if first == str(date.min):
        return f"to {said(last)}"
    return f"from {said(first)}" if last == str(date.max) else f"{said(first)} to {said(last)}"


def said(name: str) -> str:
    """A period's name for people.

    >>> said("2014-Q1"), said("2014-01"), said("2010s"), said("1906…2013"), said("2014-01-14")
    ('Q1 2014', 'Jan 2014', '2010s', '1906 to 2013', '14 Jan 2014')
    """
    if ".." in name:
        return said_of(name)
    if GAP in name:
        return " to ".join(said(each) for each in name.split(GAP))
    year, _, part = name.partition("-")
    if not part:
        return year
    if part.startswith("W"):
        return f"week {int(part[1:])}, {year}"
    if "-" in part:
        month, _, day = part.partition("-")
        return f"{int(day)} {MONTHS[int(month) - 1]} {year}"
    return f"{part if part.startswith('Q') else MONTHS[int(part) - 1]} {year}"
