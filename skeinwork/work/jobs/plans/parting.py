"""Fit each part of the documents alone."""

from __future__ import annotations

from typing import Any, ClassVar

from pydantic import Field

from skeinwork.core.said import counted
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, size_of, task_of


class Partings(Plan):
    """The fits of parts and their links, and of as many documents dealt out; another takes the place of one at work."""

    kind: ClassVar[str] = "parting"
    supersedes: ClassVar[bool] = True
    patient: ClassVar[bool] = True
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    base: str
    parts: list[dict[str, Any]] = Field(min_length=1, max_length=200)
    links: list[dict[str, Any]] = Field([], max_length=200, description="from each period to the next")

    def title(self) -> str:
        settings = [steps.PART_FIT.parse(each) for each in self.parts]
        real = sum(not each.deal for each in settings)
        return f"A model for each of {counted(real, 'part')}"

    def tasks(self, store: Store) -> list[Task]:
        size = size_of(store.artefacts, self.base) // len(self.parts)
        fits = [steps.PART_FIT.making(self.fit, steps.PART_FIT.parse(each)) for each in self.parts]
        links = [steps.PERIOD_LINK.making(self.fit, steps.PERIOD_LINK.parse(each)) for each in self.links]
        return [task_of(each, size) for each in (*fits, *links)]

    def run(self, work: Work) -> None:
        work.do(steps.PART_FIT.name, steps.PERIOD_LINK.name)
