"""Shape: what the recorded operations did to the corpus, and what another would do."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, ConfigDict

from skeinwork.core.corpus.shaping import Operation
from skeinwork.core.corpus.shaping.filter import Filter
from skeinwork.server.routing import QueryOf, RankedOf, Routes
from skeinwork.server.state import StateOf, StrandOf, ViewOf
from skeinwork.work.screens import shape
from skeinwork.work.screens.documents import as_step
from skeinwork.work.screens.shape import OperationKind, ShapeStep
from skeinwork.work.strands import strands, uploads

router = Routes(prefix="/api/strands/{strand_id}/shape", tags=["shape"])


@router.get("")
def list_steps(strand: StrandOf, view: ViewOf) -> list[ShapeStep]:
    """The wanted operations in their order, with what those already done have done."""
    return shape.steps(view, strands.wanted(strand).shape)


@router.get("/kinds")
def list_kinds(strand: StrandOf) -> list[OperationKind]:
    """The kinds of operation that can be added."""
    return shape.kinds()


class Trial(BaseModel):
    """An operation to try on the corpus as it is."""

    model_config = ConfigDict(extra="forbid")
    operation: Operation


@router.post("/try")
def try_operation(state: StateOf, view: ViewOf, trial: Trial) -> ShapeStep:
    """What an operation would leave, without doing it."""
    with state.store.connection():
        tables = [uploads.find(table.sha256).sha256 for table in trial.operation.tables()]
    places = {sha256: state.store.upload_path(sha256) for sha256 in tables}
    return shape.attempt(view, trial.operation, places)


@router.get("/step")
def step_of_query(
    view: ViewOf,
    query: QueryOf,
    ranked: RankedOf,
    out: Annotated[bool, Query(description="leave these out instead of keeping them")] = False,
) -> Filter:
    """The documents that a search and filters choose, as an operation."""
    return as_step(view, query, ranked, out)
