"""Make everything of a strand that is out of date."""

from __future__ import annotations

from typing import ClassVar

from pydantic import field_validator

from skeinwork.store.store import Store
from skeinwork.work.jobs.plans.base import Plan, Task, Work, fit_tasks, run_one_fit, run_to_matrix, tasks_to_matrix
from skeinwork.work.strands.strands import Wanted


class Build(Plan):
    """Corpus, cleaning and matrix as wanted, and the fit too where there was one."""

    kind: ClassVar[str] = "build"
    supersedes: ClassVar[bool] = True
    wanted: Wanted
    refit: bool

    @field_validator("wanted")
    @classmethod
    def _unmerged(cls, wanted: Wanted) -> Wanted:
        """Topics are made anew: those that were merged are others now."""
        return wanted.model_copy(update={"fit": wanted.fit.model_copy(update={"merged": ()})})

    def title(self) -> str:
        return "Rebuild"

    def tasks(self, store: Store) -> list[Task]:
        fits = [self.wanted.fit] if self.refit else []
        return tasks_to_matrix(store, self.wanted) + fit_tasks(store, self.wanted, fits)

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        if self.refit:
            run_one_fit(work, self.wanted)
