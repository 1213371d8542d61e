"""Which states of fits are still of use: of fits there are, and of jobs that may be continued."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from datetime import timedelta

from pydantic import ValidationError

from skeinwork.core.errors import SkeinworkError
from skeinwork.store import models
from skeinwork.store.artefacts import Making
from skeinwork.store.models import Job, Result
from skeinwork.store.store import Store
from skeinwork.work.jobs.plans import PLANS
from skeinwork.work.steps import STEPS

# Days after which nobody continues a job that stopped.
_CONTINUED = 30
_GO_ON = [step.name for step in STEPS.values() if step.goes_on]


def _needed(store: Store, going: Collection[str]) -> Iterator[str | None]:
    for row in Result.select().where(Result.step << _GO_ON):
        if row.identity not in going:
            yield STEPS[row.step].course(Making(row.step, row.version or 0, row.settings, row.inputs or ()))
    since = models.now() - timedelta(days=_CONTINUED)
    for job in Job.select().where((Job.state != "done") & (Job.created > since)):
        try:
            tasks = PLANS[job.kind].model_validate(job.request).tasks(store)
        except (SkeinworkError, ValidationError):
            continue
        yield from (STEPS[task.what].course(task.making) for task in tasks if task.making)


def remove_unneeded(store: Store, going: Collection[str] = ()) -> None:
    """Remove states from which nothing will go on, when some results are gone; call inside a connection."""
    there = set(store.artefacts.courses())
    for course in there - set(_needed(store, going)) if there else ():
        store.artefacts.states(course).remove()
