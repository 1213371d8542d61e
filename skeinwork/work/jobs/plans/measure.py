"""Measure fits that are there, in their own texts or in others."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import Field

from skeinwork.core.said import counted
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, size_of, task_of
from skeinwork.work.steps.measures import MeasuresSettings


class Measure(Plan):
    """All measures of some fits; ``reference`` is a cleaning of other texts to look at coherence in."""

    kind: ClassVar[str] = "measure"
    fits: tuple[Annotated[str, Field(pattern="^[0-9a-f]{64}$")], ...] = Field(min_length=1, max_length=500)
    base: str
    reference: str | None = Field(None, pattern="^[0-9a-f]{64}$")

    def title(self) -> str:
        return f"Measure {counted(len(self.fits), 'fit')}" + (" in other texts" if self.reference else "")

    def tasks(self, store: Store) -> list[Task]:
        settings, size = MeasuresSettings(reference=self.reference), size_of(store.artefacts, self.base)
        return [task_of(steps.MEASURES_STEP.making(each, settings), size) for each in self.fits]

    def run(self, work: Work) -> None:
        work.do(steps.MEASURES_STEP.name)
