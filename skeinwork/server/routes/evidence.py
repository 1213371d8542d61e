"""Evidence: one request and one answer for whatever is selected anywhere."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response
from pydantic import Field

from skeinwork.server.records import attachment, saves
from skeinwork.server.routing import Routes
from skeinwork.server.state import StateOf, StrandOf, ViewOf
from skeinwork.work.evidence import EvidenceRequest
from skeinwork.work.screens import evidence
from skeinwork.work.screens.evidence import EvidenceAnswer
from skeinwork.work.screens.opening import Opening, opening
from skeinwork.work.steps import StepName
from skeinwork.work.strands import topic_notes

router = Routes(prefix="/api/strands/{strand_id}", tags=["evidence"])


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
        labels = topic_notes.labels(strand)
    return evidence.answer(view, page.request(), labels, page.offset, page.limit)


@router.get("/opening/{step}")
def get_opening(view: ViewOf, step: StepName) -> Opening | None:
    """What is most worth a look of a step's result, before anything is selected."""
    return opening(view, step)


@router.get("/evidence.csv", **saves("text/csv"))
def evidence_csv(view: ViewOf, request: Annotated[EvidenceRequest, Query()]) -> Response:
    """The whole evidence as a file: documents with fields, score and text."""
    return attachment(evidence.table(view, request), "evidence.csv", "text/csv")
