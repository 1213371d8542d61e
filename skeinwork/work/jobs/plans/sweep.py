"""Fits over topic counts and seeds, to be compared."""

from __future__ import annotations

import itertools
import math
from typing import Annotated, ClassVar

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError

from skeinwork.core.errors import BadInputError
from skeinwork.core.kinds import named
from skeinwork.core.topics.methods import METHODS, method_of
from skeinwork.core.topics.methods.base import MethodSettings
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import (
    FITTING,
    Plan,
    Task,
    Work,
    chain_of,
    run_to_matrix,
    size_of,
    task_of,
    tasks_to_matrix,
)
from skeinwork.work.steps.matrix import compared
from skeinwork.work.steps.measures import MeasuresSettings
from skeinwork.work.steps.twin import TwinSettings
from skeinwork.work.strands.strands import Wanted


class SweepRequest(BaseModel):
    """Topic counts and seeds to fit models for, and values of other settings that the method sweeps over."""

    model_config = ConfigDict(extra="forbid", frozen=True)
    methods: tuple[named(METHODS), ...] = Field(  # type: ignore[valid-type]
        (), max_length=10, description="those to compare; the wanted one where there are none"
    )
    over: dict[str, Annotated[tuple[float | bool | str | None, ...], Field(min_length=1, max_length=50)]] = {}
    counts: tuple[int, ...] = Field(min_length=1, max_length=100)
    seeds: tuple[Annotated[int, Field(ge=0, le=2**31 - 1)], ...] = Field(min_length=1, max_length=50)
    iterations: int = Field(200, ge=20, le=20_000)

    @property
    def size(self) -> int:
        """Fits that it asks for, at most."""
        asked = (self.methods, self.counts, self.seeds, *self.over.values())
        return math.prod(max(len(set(each)), 1) for each in asked)


# Counts of which the words dealt out at random are fitted too: the least, a middle one and the most.
_TWINS, _TWIN_SEEDS = 3, 2


class Sweep(Plan):
    """A fit for every count and seed, else with the wanted settings; one seed first, for a picture.

    Each is measured as soon as it is there. At last come some of words dealt out at random.
    """

    kind: ClassVar[str] = "sweep"
    patient: ClassVar[bool] = True
    request: SweepRequest
    wanted: Wanted

    def title(self) -> str:
        asked = self.request
        values = {"methods": asked.methods, "counts": asked.counts, **asked.over, "seeds": asked.seeds}
        return "Sweep " + " × ".join(f"{len(set(each))} {name}" for name, each in values.items() if each)

    def fits(self) -> list[MethodSettings]:
        """The settings of every fit.

        Raises
        ------
        BadInputError
            for a setting that a method can't be swept over, or a value that it can't take.
        """
        return [each for base in self._bases() for each in self._fits_of(base)]

    def _bases(self) -> list[MethodSettings]:
        """The settings that everything else is as in: the wanted ones, and the defaults of other methods."""
        own = self.wanted.fit.model_copy(update={"continues": None, "merged": ()})
        wanted = self.request.methods or (own.method,)
        known = {name: None for each in wanted for name in METHODS[each].sweeps if name != "topics"}
        if strange := sorted(self.request.over.keys() - known.keys()):
            titles = " and ".join(METHODS[each].title for each in wanted)
            raise BadInputError(f"{titles} is swept over {', '.join(known)}, besides counts; not over “{strange[0]}”.")
        return [own if each == own.method else steps.FIT.parse({"method": each}) for each in dict.fromkeys(wanted)]

    def _fits_of(self, base: MethodSettings) -> list[MethodSettings]:
        asked, method = self.request, method_of(base)
        over = {name: values for name, values in asked.over.items() if name in method.sweeps}
        values = {**over, "topics": asked.counts, "seed": asked.seeds}
        # Where topics are found at once, iterations are something else.
        values |= {} if method.finds else {"iterations": (asked.iterations,)}
        one_by_one = itertools.product(*(dict.fromkeys(each) for each in values.values()))
        given = base.model_dump()
        try:
            found = [steps.FIT.parse({**given, **dict(zip(values, each, strict=True))}) for each in one_by_one]
        except ValidationError as fault:
            first = fault.errors()[0]
            raise BadInputError(f"{first['loc'][-1]} can't be {first['input']}: {first['msg']}.") from fault
        # Where every seed makes the same fit one is enough.
        return [each for each in found if each.seed == asked.seeds[0] or method.seeded(each)]

    def twins(self) -> list[TwinSettings]:
        """Fits to words dealt out at random: at some counts, each with words dealt out in another way."""
        counts = sorted(set(self.request.counts))
        some = {counts[round(at)] for at in np.linspace(0, len(counts) - 1, min(_TWINS, len(counts)))}
        seeds = list(dict.fromkeys(self.request.seeds))[:_TWIN_SEEDS]
        return [
            TwinSettings(fit=each, deal=each.seed) for each in self.fits() if each.topics in some and each.seed in seeds
        ]

    def tasks(self, store: Store) -> list[Task]:
        size, matrix = size_of(store.artefacts, self.wanted.base), compared(chain_of(self.wanted)[steps.MATRIX.name])
        found = []
        for settings in self.fits():
            making = steps.FIT.making(matrix.identity, settings)
            fit, measures = (
                task_of(each, size)
                for each in (making, steps.MEASURES_STEP.making(making.identity, MeasuresSettings()))
            )
            fit.early, measures.soon = settings.seed == self.request.seeds[0], True
            found += [fit, measures]
        twins = [task_of(steps.TWIN.making(matrix.identity, each), size) for each in self.twins()]
        for each in twins:
            each.late = True
        before = {each.identity: each for settings in self.fits() for each in steps.FIT.first(matrix, settings)}
        first = [task_of(each, size) for each in before.values()]
        return [*tasks_to_matrix(store, self.wanted), task_of(matrix, size), *first, *found, *twins]

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        work.do(*FITTING, steps.MEASURES_STEP.name, steps.TWIN.name)
