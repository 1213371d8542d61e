"""Evidence: one request and one answer for whatever is selected anywhere."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, Field

from skeinwork.core.formats.export import to_csv
from skeinwork.server.records import SegmentRecord, segment_records
from skeinwork.server.state import Selected, SelectedStrand
from skeinwork.work import documents, evidence
from skeinwork.work.evidence import Found, Selection

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["evidence"])
ChosenSelection = Annotated[Selection, Query()]


class EvidencePiece(BaseModel):
    document: int
    name: str
    brief: str
    score_text: str
    reason: str
    passage: list[SegmentRecord]


class Evidence(BaseModel):
    """Documents behind a selection, best first, with the words that matter marked."""

    title: str | None
    total: int
    corpus: int
    why: str
    offset: int
    pieces: list[EvidencePiece]


def _found(chosen: Selected, selection: Selection) -> Found:
    found: Found = chosen.cached(
        "evidence", lambda: evidence.find(chosen.view, selection), selection
    )
    return found


def _piece(chosen: Selected, selection: Selection, document: int, score: float) -> EvidencePiece:
    view = chosen.view
    said = evidence.piece(view, selection, document, score)
    parts = documents.passage(evidence.marked(view, selection, document))
    return EvidencePiece(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        score_text=said.score_text, reason=said.reason, passage=segment_records(parts),
    )  # fmt: skip


class EvidenceQuery(Selection):
    """A selection and the page of its evidence."""

    offset: int = Field(0, ge=0, le=2**31)
    limit: int = Field(8, ge=1, le=50)

    def selection(self) -> Selection:
        return Selection(**self.model_dump(exclude={"offset", "limit"}))


def _title(chosen: Selected, selection: Selection) -> str | None:
    """The readable words of a selected term, or what a selected pass did."""
    if selection.term is None:
        by = selection.removed_by
        return evidence.pass_title(chosen.view, by) if by is not None else None
    return chosen.view.matrix.display[chosen.view.term_place[selection.term]]


@router.get("/evidence")
def get_evidence(chosen: SelectedStrand, query: Annotated[EvidenceQuery, Query()]) -> Evidence:
    """The documents behind a selection."""
    selection = query.selection()
    found = _found(chosen, selection)
    first, last = query.offset, query.offset + query.limit
    pairs = zip(
        found.documents[first:last].tolist(), found.scores[first:last].tolist(), strict=True
    )
    return Evidence(
        title=_title(chosen, selection), total=len(found.documents),
        corpus=len(chosen.view.corpus), why=found.why, offset=first,
        pieces=[_piece(chosen, selection, document, score) for document, score in pairs],
    )  # fmt: skip


@router.get("/evidence.csv")
def evidence_csv(chosen: SelectedStrand, selection: ChosenSelection) -> Response:
    """The whole evidence as a file: documents with fields, score and text."""
    view, found = chosen.view, _found(chosen, selection)
    columns = view.corpus.columns
    rows = (
        [at + 1, score, *(c.value(at) for c in columns), view.corpus.text(at)]
        for at, score in zip(found.documents.tolist(), found.scores.tolist(), strict=True)
    )
    data = to_csv(["document", "score", *(c.name for c in columns), "text"], rows)
    return Response(data, media_type="text/csv", headers={
        "Content-Disposition": 'attachment; filename="evidence.csv"'})  # fmt: skip
