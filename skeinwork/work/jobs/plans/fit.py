"""Fit one model, and put it on the strand."""

from __future__ import annotations

from typing import ClassVar

from skeinwork.core.topics.methods import method_of
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.base import Plan, Task, Work, fit_tasks, run_one_fit, run_to_matrix, tasks_to_matrix
from skeinwork.work.strands.strands import Wanted


class Fit(Plan):
    """The fit that ``wanted`` asks for, on the matrix that it asks for."""

    kind: ClassVar[str] = "fit"
    patient: ClassVar[bool] = True
    wanted: Wanted

    def title(self) -> str:
        settings = self.wanted.fit
        if settings.merged:
            return f"Merge topics: {settings.left} of {settings.topics}"
        return f"Fit {', '.join(method_of(settings).said(settings))}"

    def tasks(self, store: Store) -> list[Task]:
        return [*tasks_to_matrix(store, self.wanted), *fit_tasks(store, self.wanted, [self.wanted.fit])]

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        run_one_fit(work, self.wanted)
