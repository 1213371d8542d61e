"""What lies on disk, and letting go of what nobody has."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

from skeinwork.server.records import Made
from skeinwork.server.routing import Routes
from skeinwork.server.state import StateOf
from skeinwork.work.strands import storage
from skeinwork.work.strands.storage import DiskUse

router = Routes(prefix="/api", tags=["skeins"])


@router.get("/storage")
def disk_use(state: StateOf) -> DiskUse:
    """How much the data folder holds, by skein, and what no skein has any more."""
    with state.store.connection():
        return storage.disk_use(state.store)


class Clearing(BaseModel):
    """What is to go: deleted skeins, which then can't be brought back; what no skein has."""

    model_config = ConfigDict(extra="forbid", strict=True)
    deleted: bool = False
    unused: bool = False


@router.post("/storage/clear", status_code=202)
def clear(state: StateOf, what: Clearing) -> Made:
    """Remove it for good, in a job."""
    with state.store.connection():
        return Made(job=storage.clear(state.store, state.runner, what.deleted, what.unused))
