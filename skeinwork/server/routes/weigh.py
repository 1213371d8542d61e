"""Weigh: the vocabulary under the wanted pruning, live."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query

from skeinwork.server.state import StrandOf, ViewOf
from skeinwork.work import strands
from skeinwork.work.screens import weigh
from skeinwork.work.screens.weigh import TermQuery, Vocabulary

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["weigh"])


@router.get("/vocabulary")
def vocabulary(strand: StrandOf, view: ViewOf, query: Annotated[TermQuery, Query()]) -> Vocabulary:
    """A page of the terms that the wanted settings keep, and the matrix they make."""
    return weigh.vocabulary(view, strands.wanted(strand), query)
