"""The work tray: jobs and their progress, as a list and as a stream of events."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator

from fastapi import Request
from fastapi.responses import StreamingResponse
from starlette.concurrency import run_in_threadpool

from skeinwork.server.records import saves
from skeinwork.server.routing import Routes
from skeinwork.server.state import RecordNumber, StateOf
from skeinwork.work.jobs.runner import find_job
from skeinwork.work.screens.jobs import JobRecord, snapshot

router = Routes(prefix="/api", tags=["jobs"])
LOOK_EVERY = 0.25
BEAT = 4


@router.get("/jobs")
def list_jobs(state: StateOf) -> list[JobRecord]:
    """The newest thirty jobs."""
    return snapshot(state.runner)


@router.get("/jobs/stream", **saves("text/event-stream"))
async def stream(request: Request, state: StateOf) -> StreamingResponse:
    """Server-Sent Events: the list of jobs whenever it changes, at most four times a second.

    A beat a second says that the server is there.
    """

    async def events() -> AsyncIterator[str]:
        last, quiet = "", 0
        while not await request.is_disconnected() and not request.app.state.stopping:
            records = await run_in_threadpool(snapshot, state.runner)
            text = json.dumps([record.model_dump(mode="json") for record in records])
            if text != last:
                last, quiet = text, 0
                yield f"data: {text}\n\n"
            elif (quiet := quiet + 1) % BEAT == 0:
                yield "event: beat\ndata: \n\n"
            await asyncio.sleep(LOOK_EVERY)

    return StreamingResponse(events(), media_type="text/event-stream", headers={"Cache-Control": "no-store"})


@router.post("/jobs/{job_id}/cancel", status_code=202)
def cancel(state: StateOf, job_id: RecordNumber) -> None:
    """Ask a job to stop; what it has finished is kept."""
    with state.store.connection():
        find_job(job_id)
    state.runner.cancel(job_id)


@router.post("/jobs/{job_id}/continue", status_code=202)
def continue_job(state: StateOf, job_id: RecordNumber) -> None:
    """Continue a job that was stopped, interrupted or failed."""
    with state.store.connection():
        state.runner.continue_job(find_job(job_id))


@router.post("/jobs/{job_id}/first", status_code=202)
def put_first(state: StateOf, job_id: RecordNumber) -> None:
    """Serve a job that waits before all others."""
    with state.store.connection():
        find_job(job_id)
    state.runner.queue.put_first(job_id)
