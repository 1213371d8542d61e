"""The work tray: jobs and their progress."""

from __future__ import annotations

import datetime

from pydantic import BaseModel

from skeinwork.store.models import Job
from skeinwork.work.jobs import JobRunner
from skeinwork.work.running import JobProgress

LISTED = 30


class JobRecord(BaseModel):
    """A job; ``progress`` is live while it is at work."""

    id: int
    strand: int | None
    kind: str
    title: str
    state: str
    error: str | None
    created: datetime.datetime
    started: datetime.datetime | None
    finished: datetime.datetime | None
    done: int
    total: int
    progress: JobProgress | None


def snapshot(runner: JobRunner) -> list[JobRecord]:
    """The newest jobs, with live progress."""
    with runner.store.connection():
        rows = list(Job.select().order_by(Job.id.desc()).limit(LISTED))
    records = []
    for row in rows:
        running = runner.running.get(row.id)
        records.append(
            JobRecord(
                id=row.id, strand=row.strand_id, kind=row.kind, title=row.title, state=row.state,
                error=row.error, created=row.created, started=row.started, finished=row.finished,
                done=row.done, total=row.total, progress=running.progress() if running else None,
            )
        )  # fmt: skip
    return records
