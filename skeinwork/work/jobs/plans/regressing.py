"""Regress the topics of a fit."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.work.jobs.plans.reading import Reading


class Regressing(Reading):
    """Another regression takes the place of one at work."""

    kind: ClassVar[str] = "regressing"
    supersedes: ClassVar[bool] = True
