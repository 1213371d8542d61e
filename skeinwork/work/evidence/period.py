"""Documents of a stretch of time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.corpus import periods
from skeinwork.core.corpus.periods import Period, period_index
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results.view import View


class AskedPeriod(Asked):
    period: Period | None = None
    at: str | None = Field(None, max_length=40, description="a period's name, such as 2014-Q1, or two joined by ..")


class InPeriod(Narrowing):
    asked = AskedPeriod
    names = "at"

    def title(self, view: View, request: AskedPeriod, labels: Labels) -> str:
        return " to ".join(periods.said(each) for each in (request.at or "").split(".."))

    def keep(self, view: View, request: AskedPeriod) -> NDArray[np.bool_]:
        period = request.period or "year"
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        first, _, last = (request.at or "").partition("..")
        wanted = [at for at, name in enumerate(names) if first <= name <= (last or first)]
        return np.isin(index, wanted)
