"""Make a result that hangs beside the chain, and put it on the strand."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar

from pydantic import Field

from skeinwork.core.errors import BadInputError
from skeinwork.store.models import Strand
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import Plan, Task, Work, run_to_matrix, size_of, task_of, tasks_to_matrix
from skeinwork.work.strands import strands
from skeinwork.work.strands.strands import Wanted


class Beside(Plan):
    """A result of one step, of what is wanted, with those beside the chain that it is made from.

    Attributes
    ----------
    results : on the strand, by step: those that are a choice are read as they are there
    """

    kind: ClassVar[str] = "beside"
    step: str
    wanted: Wanted
    results: Mapping[str, str] = Field(max_length=100)

    @classmethod
    def wanting(cls, strand: Strand, step: str, settings: dict[str, Any]) -> Beside:
        """The plan that makes a result with these settings, which the strand wants from now on."""
        return cls(step=step, wanted=strands.want_beside(strand, step, settings), results=strand.results)

    def title(self) -> str:
        called = steps.STEPS[self.step].called.removeprefix("the ")
        return f"{called[:1].upper()}{called[1:]}"

    def tasks(self, store: Store) -> list[Task]:
        found = tasks_to_matrix(store, self.wanted)
        step, fresh = steps.beside(self.step), strands.up_to_date(store.artefacts, self.wanted, self.results)
        made = {steps.CORPUS.name, *(each.what for each in found)}
        for each in steps.COMPUTED:
            wanting = step.follows(each) and each.name not in made and not store.artefacts.has(fresh[each.name])
            if each is step or (wanting and each.beside):
                making = each.making([fresh[before.name] for before in each.parents], each.settings_of(self.wanted))
                found.append(task_of(making, size_of(store.artefacts, self.wanted.base)))
            elif wanting:
                raise BadInputError(each.missing)
        return found

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        # What hangs beside the chain may be made from another such result.
        made = {each.name: identity for each in steps.BESIDE for identity in work.do(each.name)}
        with work.store.connection():
            strand = strands.get(work.strand_id)
            if strands.corpus_of(work.store.artefacts, made[self.step]) == strand.results.get(steps.CORPUS.name):
                strand.put(made)
