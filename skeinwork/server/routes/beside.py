"""Results beside the chain, whichever there are: settings wanted of one, and the job that makes it."""

from __future__ import annotations

from typing import Any

from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import StateOf, StrandOf
from skeinwork.work import steps
from skeinwork.work.jobs.plans import Beside

router = Routes(prefix="/api/strands/{strand_id}", tags=["beside"])


@router.post("/beside/{step}", status_code=202)
def make_beside(state: StateOf, strand: StrandOf, step: str, settings: dict[str, Any]) -> Made:
    """Make a result beside the chain with these settings in a job, and put it on the strand."""
    steps.beside(step)
    with state.store.connection():
        return Made.of(strand, state.runner.start(Beside.wanting(strand, step, settings), strand))
