"""Calendar periods, from months to half-centuries."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.formats.dates import MISSING, MONTHS

Period = Literal["month", "quarter", "year", "decade", "half-century"]
# The finest first, in months.
PERIODS: dict[Period, int] = {"month": 1, "quarter": 3, "year": 12, "decade": 120, "half-century": 600}
_EPOCH = 1970 * 12
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
    names : such as ``2014``, ``2014-Q1``, ``2014-01``, ``2010s``, ``2000–2049``, which sort by time;
        periods without documents are in it too; a gap is ``1906-02…2013-12``
    """
    known = (days != MISSING) & (precision <= (1 if PERIODS[period] < 12 else 2))
    months = np.where(known, days, 0).astype("datetime64[D]").astype("datetime64[M]").astype(int)
    number = (months + _EPOCH) // PERIODS[period]
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
    year, month = divmod(number * PERIODS[period], 12)
    ends = {
        "month": f"-{month + 1:02d}",
        "quarter": f"-Q{month // 3 + 1}",
        "year": "",
        "decade": "s",
        "half-century": f"–{year + 49:04d}",
    }
    return f"{year:04d}{ends[period]}"


def said(name: str) -> str:
    """A period's name for people.

    >>> said("2014-Q1"), said("2014-01"), said("2010s"), said("1906…2013")
    ('Q1 2014', 'Jan 2014', '2010s', '1906 to 2013')
    """
    if GAP in name:
        return " to ".join(said(each) for each in name.split(GAP))
    year, _, part = name.partition("-")
    if not part:
        return year
    return f"{part if part.startswith('Q') else MONTHS[int(part) - 1]} {year}"
