"""What was worked out of a fit's topics on the analyst's wish, to be saved and run again."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from skeinwork.core.prevalence.design_matrix import Regression
from skeinwork.store.models import Strand
from skeinwork.work.steps import FIT
from skeinwork.work.steps.part_fit import Parting
from skeinwork.work.strands import pins
from skeinwork.work.strands.pins import PinRecord
from skeinwork.work.topics import partings, regressions


class WorkedOut(NamedTuple):
    """Regressions, by what documents were parted for a model each, and what was pinned."""

    regress: Sequence[Regression] = ()
    apart: Sequence[Parting] = ()
    pins: Sequence[PinRecord] = ()


def worked_out(strand: Strand) -> WorkedOut:
    """All there is of a strand's fit; call inside a connection."""
    fit = strand.results.get(FIT.name, "")
    pinned = list(pins.pins_of(strand).values())
    return WorkedOut(regressions.worked_out(fit), partings.worked_out(fit), pinned)
