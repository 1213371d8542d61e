"""Documents of a stretch of time."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.corpus.periods import Period, lie_within, said_of
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results.view import View


class AskedPeriod(Asked):
    period: Period | None = None
    at: str | None = Field(None, max_length=60, description="a period's name, such as 2014-Q1, or two joined by ..")


class InPeriod(Narrowing):
    asked = AskedPeriod
    names = "at"

    def title(self, view: View, request: AskedPeriod, labels: Labels) -> str:
        return said_of(request.at or "")

    def keep(self, view: View, request: AskedPeriod) -> NDArray[np.bool_]:
        return lie_within(view.corpus.days, view.corpus.precision, request.at or "")
