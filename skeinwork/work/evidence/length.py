"""Documents of some length."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results.view import View


class AskedLength(Asked):
    words_from: int | None = Field(None, ge=0, le=2**31)
    words_to: int | None = Field(None, ge=0, le=2**31, description="exclusive")


class Length(Narrowing):
    asked = AskedLength
    names = "words_from"

    def given(self, request: AskedLength) -> bool:
        return request.words_from is not None or request.words_to is not None

    def title(self, view: View, request: AskedLength, labels: Labels) -> str:
        least, most = request.words_from or 0, request.words_to
        return f"{least} words or more" if most is None else f"{least} to {most - 1} words"

    def keep(self, view: View, request: AskedLength) -> NDArray[np.bool_]:
        most = request.words_to if request.words_to is not None else np.iinfo(np.int64).max
        return (view.lengths >= (request.words_from or 0)) & (view.lengths < most)
