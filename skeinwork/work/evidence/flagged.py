"""Documents that may spoil models."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results import documents
from skeinwork.work.results.flags import flag_of
from skeinwork.work.results.view import View


class AskedFlag(Asked):
    flag: str | None = Field(
        None, max_length=40, description="a set of documents that may spoil models, such as empty or near"
    )


class Flagged(Narrowing):
    asked = AskedFlag
    names = "flag"

    def title(self, view: View, request: AskedFlag, labels: Labels) -> str:
        return flag_of(request.flag or "").title

    def where(self, view: View, request: AskedFlag) -> str:
        return flag_of(request.flag or "").in_words(view)

    def keep(self, view: View, request: AskedFlag) -> NDArray[np.bool_]:
        return flag_of(request.flag or "").mask(view)

    def reason(self, view: View, request: AskedFlag, document: int) -> str:
        like = flag_of(request.flag or "").like
        return f"like {documents.name(view, int(like(view)[document]))}" if like else ""
