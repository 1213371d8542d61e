"""Work out what moves and differs in one breakdown of a fit, and what these documents could show."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.work.jobs.plans.reading import Reading


class Tracking(Reading):
    """Another breakdown takes the place of one at work."""

    kind: ClassVar[str] = "tracking"
    supersedes: ClassVar[bool] = True

    def title(self) -> str:
        return "What moves and differs"
