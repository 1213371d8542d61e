"""The kinds of job. One is added by its file and its entry here."""

from __future__ import annotations

from skeinwork.work.plans.base import Plan
from skeinwork.work.plans.build import Build
from skeinwork.work.plans.clear import Clear
from skeinwork.work.plans.fit import Fit
from skeinwork.work.plans.gather import Gather, GatheredFile, GatherRequest
from skeinwork.work.plans.index import Index
from skeinwork.work.plans.mend import Mend
from skeinwork.work.plans.sweep import Sweep, SweepRequest
from skeinwork.work.plans.unpack import Unpack

__all__ = (
    "PLANS", "Build", "Clear", "Fit", "Gather", "GatherRequest", "GatheredFile", "Index", "Mend", "Plan", "Sweep",
    "SweepRequest", "Unpack",
)  # fmt: skip
PLANS: dict[str, type[Plan]] = {
    each.kind: each for each in (Gather, Build, Fit, Sweep, Mend, Unpack, Index, Clear)
}
