"""Fits over topic counts and seeds, to be compared."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, fit_tasks, run_to_matrix, tasks_to_matrix
from skeinwork.work.strands.strands import Wanted


class SweepRequest(BaseModel):
    """Topic counts and seeds to fit models for."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    counts: tuple[int, ...] = Field(min_length=1, max_length=100)
    seeds: tuple[Annotated[int, Field(ge=0, le=2**31 - 1)], ...] = Field(min_length=1, max_length=50)
    iterations: int = Field(200, ge=20, le=20_000)


class Sweep(Plan):
    """A fit for every count and seed, else with the wanted settings; one seed first, for a picture."""

    kind: ClassVar[str] = "sweep"
    request: SweepRequest
    wanted: Wanted

    def title(self) -> str:
        counts, seeds = set(self.request.counts), set(self.request.seeds)
        return f"Sweep {len(counts)} counts × {len(seeds)} seeds"

    def fits(self) -> list[MethodSettings]:
        """The settings of every fit."""
        given = self.wanted.fit.model_dump()
        return [
            steps.FIT.parse({**given, "topics": count, "seed": seed, "iterations": self.request.iterations})
            for count in dict.fromkeys(self.request.counts)
            for seed in dict.fromkeys(self.request.seeds)
        ]

    def tasks(self, store: Store) -> list[Task]:
        wanted = self.fits()
        found = fit_tasks(store, self.wanted, wanted)
        for settings, task in zip(wanted, found, strict=True):
            task.early = settings.seed == self.request.seeds[0]
        return [*tasks_to_matrix(store, self.wanted), *found]

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        work.do(steps.FIT.name)
