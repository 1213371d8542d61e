"""Fit, by vector: documents placed by their vectors, and how far topics reach."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.server.routing import Routes
from skeinwork.server.state import ViewOf
from skeinwork.work.screens import by_vector
from skeinwork.work.screens.by_vector import ByVectorScreen, MergedDown, Reached, TypedVectorPlaced

router = Routes(prefix="/api/strands/{strand_id}/by-vector", tags=["fit"])


@router.get("")
def get_by_vector(view: ViewOf) -> ByVectorScreen:
    """Documents that have a vector and no counted word among the topics of the fit."""
    return by_vector.by_vector_screen(view)


class WrittenVector(BaseModel):
    """A vector as it was typed."""

    model_config = ConfigDict(extra="forbid")
    vector: str = Field(min_length=1, max_length=200_000)


@router.post("/placed")
def place_written_vector(view: ViewOf, given: WrittenVector) -> TypedVectorPlaced:
    """A vector without a document among the topics."""
    return by_vector.place_vector(view, given.vector)


@router.get("/reach")
def get_reach(view: ViewOf, reach: Annotated[float | None, Query(ge=0, le=2)] = None) -> Reached:
    """Which outliers would come in within a reach, and what the words of topics would become."""
    return by_vector.reached(view, reach)


@router.get("/merged")
def get_merged_down(view: ViewOf, topics: Annotated[int, Query(ge=2, le=500)]) -> MergedDown:
    """Which topics would be taken together to come down to a count."""
    return by_vector.merged_down(view, topics)
