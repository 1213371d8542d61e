"""Make what the topics of a fit are read by: label candidates, and which of them documents hold together."""

from __future__ import annotations

from typing import Any, ClassVar

from pydantic import Field

from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, size_of, task_of
from skeinwork.work.steps.step import Step


class Reading(Plan):
    """Results beside a fit, by the names of their steps, with their settings."""

    kind: ClassVar[str] = "reading"
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    base: str
    wanted: dict[str, dict[str, Any]] = Field(min_length=1, max_length=10)

    def title(self) -> str:
        called = [steps.STEPS[each].called for each in self.wanted]
        said = " and ".join(called)
        return f"{said[:1].upper()}{said[1:]}"

    def tasks(self, store: Store) -> list[Task]:
        size = size_of(store.artefacts, self.base)
        makings = [_step(name).making(self.fit, _step(name).parse(given)) for name, given in self.wanted.items()]
        return [task_of(each, size) for each in makings]

    def run(self, work: Work) -> None:
        for name in self.wanted:
            work.do(name)


def _step(name: str) -> Step[Any, Any, Any]:
    found = steps.STEPS[name]
    assert isinstance(found, Step)
    return found
