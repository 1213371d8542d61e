"""Documents with tokens that a pass of the cleaning removed or joined."""

from __future__ import annotations

import numpy as np
from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.text.passes.base import StreamPass
from skeinwork.work.evidence.base import Asked, Labels, Leading, Marks, Piece, Scores
from skeinwork.work.results.view import View


class AskedPass(Asked):
    removed_by: str | None = Field(None, max_length=60, description="the key of a pass")


class CleaningPass(Leading):
    asked = AskedPass
    names = "removed_by"

    def title(self, view: View, request: AskedPass, labels: Labels) -> str:
        at, joins = _place(view, request)
        title = view.clean_settings.passes[at].title.lower()
        return f"{'Joined' if joins else 'Removed'} by {title}"

    def scores(self, view: View, request: AskedPass) -> Scores:
        gone = view.cleaning.decided(_place(view, request)[0])
        running = np.concatenate([[0], np.cumsum(gone)])
        counts = np.diff(running[view.cleaning.tokens.doc_ptr])
        return Scores(counts.astype(np.float64), "most tokens first")

    def piece(self, view: View, request: AskedPass, document: int, score: float) -> Piece:
        said, sign = ("terms joined", "") if _place(view, request)[1] else ("tokens removed", "−")
        return Piece(f"{sign}{int(score)}", f"{int(score)} {said} by this pass")

    def marks(self, view: View, request: AskedPass, document: int) -> Marks:
        by, joins = _place(view, request)
        decided = view.cleaning.decided(by, document).astype(np.float64)
        return Marks(view.cleaning, decided, "marked" if joins else "removed")


def _place(view: View, request: AskedPass) -> tuple[int, bool]:
    """Where a pass stands in the cleaning, and whether it joins tokens; else it removes them."""
    passes = view.clean_settings.passes
    keys = [each.key for each in passes]
    if request.removed_by not in keys:
        raise BadInputError(f"The pass “{request.removed_by}” is not part of this cleaning.")
    at = keys.index(request.removed_by)
    return at, isinstance(passes[at], StreamPass)
