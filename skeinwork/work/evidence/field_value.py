"""Documents of a group: those with one value of a field."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results.view import View


class AskedValue(Asked):
    field: str | None = Field(None, max_length=200, description="a field, with its value")
    value: str | None = Field(None, max_length=2000)


class FieldValue(Narrowing):
    asked = AskedValue
    names = "field"

    def title(self, view: View, request: AskedValue, labels: Labels) -> str:
        return request.value or f"{request.field} not given"

    def where(self, view: View, request: AskedValue) -> str:
        return f"{request.field} {request.value or 'not given'}"

    def keep(self, view: View, request: AskedValue) -> NDArray[np.bool_]:
        column = view.corpus.column(request.field or "")
        if column is None:
            raise BadInputError(f"There is no field “{request.field}”.")
        code = column.values.index(request.value) if request.value in column.values else -2
        return np.asarray(column.codes == (code if request.value else -1))
