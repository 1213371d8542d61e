"""Calendar periods, from months to half-centuries."""

from __future__ import annotations

from typing import Literal

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.formats.dates import MISSING, MONTHS

Period = Literal["month", "quarter", "year", "decade", "half-century"]
# The finest first, in months.
PERIODS: dict[Period, int] = {
    "month": 1, "quarter": 3, "year": 12, "decade": 120, "half-century": 600
}  # fmt: skip
_EPOCH = 1970 * 12


def period_index(
    days: NDArray[np.int32], precision: NDArray[np.uint8], period: Period
) -> tuple[NDArray[np.int64], list[str]]:
    """The period of every document, and the names of all periods from first to last.

    Parameters
    ----------
    days : int32[n_docs], days since 1970 or ``dates.MISSING``
    precision : uint8[n_docs]; a date that is known less exactly than the period counts as missing

    Returns
    -------
    index : int64[n_docs], -1 without a date
    names : such as ``2014``, ``2014-Q1``, ``2014-01``, ``2010s``, ``2000–2049``, which sort by time;
        periods without documents are in it too
    """
    known = (days != MISSING) & (precision <= (1 if PERIODS[period] < 12 else 2))
    months = np.where(known, days, 0).astype("datetime64[D]").astype("datetime64[M]").astype(int)
    number = (months + _EPOCH) // PERIODS[period]
    if not known.any():
        return np.full(len(days), -1, dtype=np.int64), []
    first, last = int(number[known].min()), int(number[known].max())
    names = [_name(at, period) for at in range(first, last + 1)]
    return np.where(known, number - first, -1).astype(np.int64), names


def _name(number: int, period: Period) -> str:
    year, month = divmod(number * PERIODS[period], 12)
    ends = {
        "month": f"-{month + 1:02d}", "quarter": f"-Q{month // 3 + 1}", "year": "", "decade": "s",
        "half-century": f"–{year + 49:04d}",
    }  # fmt: skip
    return f"{year:04d}{ends[period]}"


def said(name: str) -> str:
    """A period's name for people.

    >>> said("2014-Q1"), said("2014-01"), said("2010s")
    ('Q1 2014', 'Jan 2014', '2010s')
    """
    year, _, part = name.partition("-")
    if not part:
        return year
    return f"{part if part.startswith('Q') else MONTHS[int(part) - 1]} {year}"
