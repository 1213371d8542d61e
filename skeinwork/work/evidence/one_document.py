"""One document alone."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from skeinwork.core.errors import NotFoundError
from skeinwork.work.evidence.base import Asked, Labels, Narrowing
from skeinwork.work.results import documents
from skeinwork.work.results.view import View


class AskedDocument(Asked):
    document: int | None = Field(None, ge=0, le=2**31, description="one document, from 0")


class OneDocument(Narrowing):
    asked = AskedDocument
    names = "document"

    def title(self, view: View, request: AskedDocument, labels: Labels) -> str:
        at = request.document or 0
        if at >= len(view.corpus):
            raise NotFoundError(f"There is no document {at + 1}.")
        return documents.name(view, at)

    def keep(self, view: View, request: AskedDocument) -> NDArray[np.bool_]:
        return np.arange(len(view.corpus)) == request.document
