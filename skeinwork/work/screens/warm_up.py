"""What the screens of a strand begin with, made before anybody asks."""

from __future__ import annotations

from skeinwork.core.text.clean import CleanSettings
from skeinwork.work.results import cleaning_preview
from skeinwork.work.results.view import View
from skeinwork.work.screens.survivors import survivors
from skeinwork.work.steps import CHAIN, CLEANING, CORPUS, FIT, MATRIX
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.breakdowns import suggested, suggested_units
from skeinwork.work.weighting.weighted_matrix import weighed


def warm_up(view: View, wanted: Wanted, before: CleanSettings | None) -> None:
    """Load the results that a view has, and make what follows from them alone.

    ``before`` are the passes as they were before they were last changed.
    """
    for step in CHAIN:
        if view.identity(step):
            view.value(step)
    if view.identity(CORPUS):
        cleaning_preview.first_of(view)
    if view.identity(CLEANING):
        _ = view.lengths
    if view.identity(MATRIX) and cleaning_preview.at_hand(view, wanted.clean):
        _ = weighed(view, wanted).sums
        survivors(view, wanted.clean, before, quick=False)
    if view.identity(FIT):
        _ = view.assigned_sizes
        view.cached("suggested", lambda: suggested(view))
        view.cached("suggested units", lambda: suggested_units(view))
