"""What was worked out of a fit's topics on the analyst's wish, to be saved and run again."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from skeinwork.core.prevalence.design_matrix import Regression
from skeinwork.work.steps.part_fit import Parting
from skeinwork.work.topics import partings, regressions


class WorkedOut(NamedTuple):
    """Regressions, and by what documents were parted for a model each."""

    regress: Sequence[Regression] = ()
    apart: Sequence[Parting] = ()


def worked_out(fit: str) -> WorkedOut:
    """All there is of a fit; call inside a connection."""
    return WorkedOut(regressions.worked_out(fit), partings.worked_out(fit))
