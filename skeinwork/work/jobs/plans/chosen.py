"""Take the fit that was chosen: continued with all documents, and after it those of other seeds."""

from __future__ import annotations

from typing import Annotated, ClassVar

from pydantic import Field

from skeinwork.core.said import counted
from skeinwork.store.store import Store
from skeinwork.work import steps
from skeinwork.work.jobs.plans.base import (
    FITTING,
    Plan,
    Task,
    Work,
    chain_of,
    fit_tasks,
    run_one_fit,
    run_to_matrix,
    tasks_to_matrix,
)
from skeinwork.work.results.view import View
from skeinwork.work.strands import choices, strands
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.comparison import compare, sentence


class Chosen(Plan):
    """The fit that ``wanted`` asks for goes on from ``fit``; others with ``seeds`` do likewise, for what they tell
    of how surely it is known.
    """

    kind: ClassVar[str] = "chosen"
    supersedes: ClassVar[bool] = True
    wanted: Wanted
    fit: str = Field(pattern="^[0-9a-f]{64}$")
    seeds: tuple[Annotated[int, Field(ge=0, le=2**31 - 1)], ...] = Field((), max_length=50)

    def title(self) -> str:
        return f"Continue {counted(self.wanted.fit.topics, 'topic')} on all documents"

    def tasks(self, store: Store) -> list[Task]:
        others = [self.wanted.fit.model_copy(update={"seed": seed}) for seed in self.seeds]
        return [*tasks_to_matrix(store, self.wanted), *fit_tasks(store, self.wanted, [self.wanted.fit, *others])]

    def run(self, work: Work) -> None:
        run_to_matrix(work, self.wanted)
        made = chain_of(self.wanted)
        first = steps.FIT.first(made[steps.MATRIX.name], self.wanted.fit)
        taken = made[steps.FIT.name].identity
        run_one_fit(work, self.wanted, {taken, *(each.identity for each in first)})
        with work.store.connection():
            strand = strands.get(work.strand_id)
            choices.set_aside_voted(work.store, strand, self.fit, taken)
            view = View(work.store.artefacts, strand.results)
        if taken != self.fit and view.identity(steps.FIT) == taken:
            changed = sentence(compare(view, self.fit))
            with work.store.connection():
                choices.note_change(strand, taken, changed)
        work.do(*FITTING)
