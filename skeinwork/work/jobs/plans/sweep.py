"""Fits over topic counts and seeds, to be compared."""

from __future__ import annotations

import itertools
from typing import Annotated, ClassVar

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from skeinwork.core.errors import BadInputError
from skeinwork.core.topics.methods import method_of
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, fit_tasks, run_to_matrix, tasks_to_matrix
from skeinwork.work.strands.strands import Wanted


class SweepRequest(BaseModel):
    """Topic counts and seeds to fit models for, and values of other settings that the method sweeps over."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    over: dict[str, Annotated[tuple[float | bool | str | None, ...], Field(min_length=1, max_length=50)]] = {}
    counts: tuple[int, ...] = Field(min_length=1, max_length=100)
    seeds: tuple[Annotated[int, Field(ge=0, le=2**31 - 1)], ...] = Field(min_length=1, max_length=50)
    iterations: int = Field(200, ge=20, le=20_000)


class Sweep(Plan):
    """A fit for every count and seed, else with the wanted settings; one seed first, for a picture."""

    kind: ClassVar[str] = "sweep"
    patient: ClassVar[bool] = True
    request: SweepRequest
    wanted: Wanted

    def title(self) -> str:
        asked = self.request
        values = {"counts": asked.counts, **asked.over, "seeds": asked.seeds}
        return "Sweep " + " × ".join(f"{len(set(each))} {name}" for name, each in values.items())

    def fits(self) -> list[MethodSettings]:
        """The settings of every fit.

        Raises
        ------
        BadInputError
            for a setting that the method can't be swept over, or a value that it can't take.
        """
        asked = self.request
        method = method_of(self.wanted.fit)
        values = {**asked.over, "topics": asked.counts, "seed": asked.seeds, "iterations": (asked.iterations,)}
        if strange := sorted(asked.over.keys() - set(method.sweeps) | asked.over.keys() & {"topics"}):
            others = ", ".join(each for each in method.sweeps if each != "topics")
            raise BadInputError(f"{method.title} is swept over {others}, besides counts; not over “{strange[0]}”.")
        one_by_one = itertools.product(*(dict.fromkeys(each) for each in values.values()))
        given = self.wanted.fit.model_dump()
        try:
            return [steps.FIT.parse({**given, **dict(zip(values, each, strict=True))}) for each in one_by_one]
        except ValidationError as fault:
            first = fault.errors()[0]
            raise BadInputError(f"{first['loc'][-1]} can't be {first['input']}: {first['msg']}.") from fault

    def tasks(self, store: Store) -> list[Task]:
        wanted = self.fits()
        found = fit_tasks(store, self.wanted, wanted)
        for settings, task in zip(wanted, found, strict=True):
            task.early = settings.seed == self.request.seeds[0]
        return [*tasks_to_matrix(store, self.wanted), *found]

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        work.do(steps.FIT.name)
