"""Evidence for the screen: one answer for whatever is selected anywhere."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import BaseModel

from skeinwork.core.formats.export import to_csv
from skeinwork.work import evidence
from skeinwork.work.evidence import EvidenceRequest, Ranked
from skeinwork.work.results import documents
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.view import View


class EvidencePiece(BaseModel):
    document: int
    name: str
    brief: str
    score: str
    reason: str
    passage: list[Segment]


class EvidenceAnswer(BaseModel):
    """Documents behind what is selected, best first, with the words that count marked."""

    title: str
    where: list[str]
    total: int
    corpus: int
    why: str
    offset: int
    pieces: list[EvidencePiece]


def _ranked(view: View, request: EvidenceRequest) -> Ranked:
    # Also by results beside the chain: branches and groups are evidence.
    return view.cache.get(("evidence", *sorted(view.results.items()), request), lambda: evidence.find(view, request))


def _piece(view: View, request: EvidenceRequest, document: int, score: float) -> EvidencePiece:
    said = evidence.piece(view, request, document, score)
    return EvidencePiece(
        document=document,
        name=documents.name(view, document),
        brief=documents.brief(view, document),
        score=said.score,
        reason=said.reason,
        passage=evidence.passage(view, request, document),
    )


def answer(view: View, request: EvidenceRequest, labels: Mapping[int, str], offset: int, limit: int) -> EvidenceAnswer:
    """A page of the documents behind a request."""
    found = _ranked(view, request)
    page = slice(offset, offset + limit)
    pairs = zip(found.documents[page].tolist(), found.scores[page].tolist(), strict=True)
    return EvidenceAnswer(
        title=evidence.title(view, request, labels),
        where=evidence.where(view, request),
        total=len(found.documents),
        corpus=len(view.corpus),
        why=found.why,
        offset=offset,
        pieces=[_piece(view, request, document, score) for document, score in pairs],
    )


def table(view: View, request: EvidenceRequest) -> bytes:
    """The whole evidence as a CSV file: documents with score, fields and text."""
    found, columns = _ranked(view, request), view.corpus.columns

    def rows() -> Iterator[list[Any]]:
        for at, score in zip(found.documents.tolist(), found.scores.tolist(), strict=True):
            yield [at + 1, score, *(c.value(at) for c in columns), view.corpus.text(at)]

    return to_csv(["document", "score", *(c.name for c in columns), "text"], rows())
