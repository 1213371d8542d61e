"""The work tray: jobs and their progress."""

from __future__ import annotations

from pydantic import BaseModel

from skeinwork.store.models import Job
from skeinwork.work.jobs.runner import JobRunner
from skeinwork.work.jobs.running import JobProgress, Running
from skeinwork.work.strands.schemas import Moment

LISTED = 30


class JobRecord(BaseModel):
    """A job; ``progress`` is live while it is at work."""

    id: int
    strand: int | None
    kind: str
    title: str
    state: str
    error: str | None
    created: Moment
    started: Moment | None
    finished: Moment | None
    done: int
    total: int
    progress: JobProgress | None


_SHOWN = [
    each for name, each in Job._meta.fields.items() if name != "request"
]  # a request may name every document there is


def snapshot(runner: JobRunner) -> list[JobRecord]:
    """The newest jobs, with live progress."""
    with runner.store.connection():
        rows = list(Job.select(*_SHOWN).order_by(Job.id.desc()).limit(LISTED))
    return [_record(row, runner.running.get(row.id)) for row in rows]


def _record(row: Job, running: Running | None) -> JobRecord:
    state, error = running.ended if running and running.ended else (row.state, row.error)
    at_work = running if running and not running.ended else None
    return JobRecord(
        id=row.id,
        strand=row.strand_id,
        kind=row.kind,
        title=row.title,
        state=state,
        error=error,
        created=row.created,
        started=row.started,
        finished=row.finished,
        done=row.done,
        total=row.total,
        progress=at_work.progress() if at_work else None,
    )
