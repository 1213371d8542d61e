"""Clean: a specimen under the wanted passes, and the passes there are."""

from __future__ import annotations

from fastapi import APIRouter

from skeinwork.server.state import StrandOf, ViewOf
from skeinwork.work import strands
from skeinwork.work.screens import clean
from skeinwork.work.screens.clean import Passes, Specimen

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["clean"])


@router.get("/specimen")
def specimen(strand: StrandOf, view: ViewOf, document: int = 0) -> Specimen:
    """One document under the wanted passes."""
    return clean.specimen(view, strands.wanted(strand).clean, document)


@router.get("/passes")
def list_passes(strand: StrandOf) -> Passes:
    """The kinds of pass there are, with the schema of their settings, and the wanted ones in words."""
    return clean.passes(strands.wanted(strand).clean)
