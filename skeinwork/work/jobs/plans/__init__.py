"""The kinds of job. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.work.jobs.plans.base import Plan
from skeinwork.work.jobs.plans.beside import Beside
from skeinwork.work.jobs.plans.build import Build
from skeinwork.work.jobs.plans.chosen import Chosen
from skeinwork.work.jobs.plans.clear import Clear
from skeinwork.work.jobs.plans.fit import Fit
from skeinwork.work.jobs.plans.gather import Gather, GatheredFile, GatherRequest
from skeinwork.work.jobs.plans.index import Index
from skeinwork.work.jobs.plans.measure import Measure
from skeinwork.work.jobs.plans.mend import Mend
from skeinwork.work.jobs.plans.parting import Partings
from skeinwork.work.jobs.plans.reading import Reading
from skeinwork.work.jobs.plans.regressing import Regressing
from skeinwork.work.jobs.plans.sweep import Sweep, SweepRequest
from skeinwork.work.jobs.plans.tracking import Tracking
from skeinwork.work.jobs.plans.trials import Pinning, Trials
from skeinwork.work.jobs.plans.unpack import Unpack

__all__ = (
    "PLANS",
    "Beside",
    "Build",
    "Chosen",
    "Clear",
    "Fit",
    "Gather",
    "GatherRequest",
    "GatheredFile",
    "Index",
    "Measure",
    "Mend",
    "Partings",
    "Pinning",
    "Plan",
    "Reading",
    "Regressing",
    "Sweep",
    "SweepRequest",
    "Tracking",
    "Trials",
    "Unpack",
)
# One is added by its entry here.
_ALL: tuple[type[Plan], ...] = (
    Gather,
    Build,
    Fit,
    Chosen,
    Beside,
    Sweep,
    Measure,
    Reading,
    Tracking,
    Regressing,
    Partings,
    Trials,
    Pinning,
    Mend,
    Unpack,
    Index,
    Clear,
)
PLANS = {each.kind: each for each in _ALL}
