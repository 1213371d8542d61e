"""Results beside the chain, whichever there are: settings wanted of one, and the job that makes it."""

from __future__ import annotations

from typing import Any

from fastapi import APIRouter

from skeinwork.core.errors import NotFoundError
from skeinwork.server.records import Made
from skeinwork.server.state import StateOf, StrandOf
from skeinwork.work.jobs.plans import Beside
from skeinwork.work.steps import BESIDE
from skeinwork.work.strands import strands

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["beside"])


@router.post("/beside/{step}", status_code=202)
def make_beside(state: StateOf, strand: StrandOf, step: str, settings: dict[str, Any]) -> Made:
    """Make a result beside the chain with these settings in a job, and put it on the strand."""
    if step not in [each.name for each in BESIDE]:
        raise NotFoundError(f"There is no result beside the chain that is called “{step[:40]}”.")
    with state.store.connection():
        wanted = strands.want_beside(strand, step, settings)
        plan = Beside(step=step, wanted=wanted, results=strand.results)
        return Made.of(strand, state.runner.start(plan, strand))
