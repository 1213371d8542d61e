"""Evidence: one request and one answer for whatever is selected anywhere."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import Field

from skeinwork.server.records import attachment
from skeinwork.server.state import StateOf, StrandOf, ViewOf
from skeinwork.work import reading
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.screens import evidence
from skeinwork.work.screens.evidence import EvidenceAnswer

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["evidence"])


class EvidencePage(EvidenceRequest):
    """A request and the page of its documents."""

    offset: int = Field(0, ge=0, le=2**31)
    limit: int = Field(8, ge=1, le=50)

    def request(self) -> EvidenceRequest:
        return EvidenceRequest(**self.model_dump(exclude={"offset", "limit"}))


@router.get("/evidence")
def get_evidence(
    state: StateOf, strand: StrandOf, view: ViewOf, page: Annotated[EvidencePage, Query()]
) -> EvidenceAnswer:
    """The documents behind what is selected."""
    with state.store.connection():
        labels = reading.labels(strand)
    return evidence.answer(view, page.request(), labels, page.offset, page.limit)


@router.get("/evidence.csv")
def evidence_csv(view: ViewOf, request: Annotated[EvidenceRequest, Query()]) -> Response:
    """The whole evidence as a file: documents with fields, score and text."""
    return attachment(evidence.table(view, request), "evidence.csv", "text/csv")
