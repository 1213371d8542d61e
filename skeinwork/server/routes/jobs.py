"""The work tray: jobs and their progress, as a list and as a stream of events."""

from __future__ import annotations

import asyncio
import datetime
import json
from collections.abc import AsyncIterator
from typing import Any

from fastapi import APIRouter, Request
from fastapi.responses import StreamingResponse
from pydantic import BaseModel
from starlette.concurrency import run_in_threadpool

from skeinwork.server.state import NotFoundError, RecordNumber, State, StateOf
from skeinwork.store.models import Job

router = APIRouter(prefix="/api", tags=["jobs"])


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
    request: dict[str, Any]
    progress: dict[str, Any] | None


def snapshot(state: State) -> list[JobRecord]:
    """The newest jobs, with live progress."""
    with state.store.connection():
        rows = list(Job.select().order_by(Job.id.desc()).limit(30))
    records = []
    for row in rows:
        running = state.runner.running.get(row.id)
        records.append(
            JobRecord(
                id=row.id, strand=row.strand_id, kind=row.kind, title=row.title, state=row.state,
                error=row.error, created=row.created, started=row.started, finished=row.finished,
                done=row.done, total=row.total, request=row.request,
                progress=running.progress() if running else None,
            )
        )  # fmt: skip
    return records


@router.get("/jobs")
def list_jobs(state: StateOf) -> list[JobRecord]:
    """The newest thirty jobs."""
    return snapshot(state)


@router.get("/jobs/stream")
async def stream(request: Request, state: StateOf) -> StreamingResponse:
    """Server-Sent Events: the list of jobs whenever it changes, at most four times a second."""

    async def events() -> AsyncIterator[str]:
        last, quiet = "", 0
        while not await request.is_disconnected() and not request.app.state.stopping:
            records = await run_in_threadpool(snapshot, state)
            text = json.dumps([record.model_dump(mode="json") for record in records])
            if text != last:
                last, quiet = text, 0
                yield f"data: {text}\n\n"
            elif (quiet := quiet + 1) % 40 == 0:
                yield ": still here\n\n"
            await asyncio.sleep(0.25)

    return StreamingResponse(
        events(), media_type="text/event-stream", headers={"Cache-Control": "no-store"}
    )


def _job(state: State, job_id: int) -> Job:
    job: Job | None = Job.get_or_none(Job.id == job_id)
    if job is None:
        raise NotFoundError(f"There is no job {job_id}.")
    return job


@router.post("/jobs/{job_id}/cancel", status_code=202)
def cancel(state: StateOf, job_id: RecordNumber) -> None:
    """Ask a job to stop; what it has finished is kept."""
    with state.store.connection():
        _job(state, job_id)
    state.runner.cancel(job_id)


@router.post("/jobs/{job_id}/continue", status_code=202)
def continue_job(state: StateOf, job_id: RecordNumber) -> None:
    """Continue a job that was stopped, interrupted or failed."""
    with state.store.connection():
        state.runner.continue_job(_job(state, job_id))
