"""Documents that hold a word, beside what leads."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.said import counted
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results.view import View


class AskedHolding(Asked):
    holding: str | None = Field(None, max_length=400, description="a term of the fit's matrix that documents hold")


class HoldingWord(Narrowing):
    asked = AskedHolding
    names = "holding"

    def title(self, view: View, request: AskedHolding, labels: Labels) -> str:
        return f"with “{view.fit_matrix.display[self._column(view, request)]}”"

    def _column(self, view: View, request: AskedHolding) -> int:
        return view.fit_matrix.column_of(request.holding or "")

    def _counts(self, view: View, request: AskedHolding) -> NDArray[np.int64]:
        return np.asarray(view.fit_matrix.counts[:, [self._column(view, request)]].toarray(), dtype=np.int64).ravel()

    def keep(self, view: View, request: AskedHolding) -> NDArray[np.bool_]:
        return np.asarray(self._counts(view, request) > 0)

    def reason(self, view: View, request: AskedHolding, document: int) -> str:
        return counted(int(self._counts(view, request)[document]), "place")
