"""The reader: one document with its marks; and key words in context over many."""

from __future__ import annotations

from typing import Annotated, Any, Literal

import numpy as np
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.export import to_csv
from skeinwork.core.text.concordance import Line, Order, concordance, ordered
from skeinwork.server.records import SegmentRecord, segment_records
from skeinwork.server.routes.gather import Chosen, ChosenDocuments
from skeinwork.server.state import NotFoundError, SelectedStrand
from skeinwork.work import documents, finding
from skeinwork.work.documents import Segment
from skeinwork.work.view import View

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["gather"])


class TopicShare(BaseModel):
    topic: int
    share: float


class Reader(BaseModel):
    """One document with its fields, its tokens and its topics."""

    document: int
    name: str
    brief: str
    fields: dict[str, str]
    words: int
    place: str
    segments: list[SegmentRecord]
    topics: list[TopicShare]
    matches: int | None = None


def _topic_of_words(view: View, document: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Spans of a document's counted tokens with the likeliest topic of each, -1 where none is."""
    tokens, rows = view.fit_cleaning.tokens, view.fit_cleaning.rows(document)
    weights = view.topic_weights(document)
    best = np.where(weights.max(axis=0) > 0, weights.argmax(axis=0), -1)
    return tokens.starts[rows], tokens.ends[rows], best


def _segments(
    view: View, document: int, marks: str, spans: list[tuple[int, int]] | None
) -> list[Segment]:
    data = view.corpus.data[
        view.corpus.pointer[document] : view.corpus.pointer[document + 1]
    ].tobytes()
    if spans is not None:
        starts = np.array([a for a, _ in spans], dtype=np.int32)
        ends = np.array([b for _, b in spans], dtype=np.int32)
        return documents.segments(data, starts, ends, lambda _: Segment("", "found", weight=1.0))
    if marks == "topics" and view.fit_id:
        starts, ends, best = _topic_of_words(view, document)
        return documents.segments(
            data, starts, ends,
            lambda at: Segment("", "topic", form=str(best[at])) if best[at] >= 0 else None,
        )  # fmt: skip
    if marks == "cleaning":
        return documents.fate_segments(view.cleaning, view.clean_settings, document, data)
    return [Segment(data.decode("utf-8", "replace"))]


@router.get("/documents/{document}")
def read_document(
    chosen: SelectedStrand, document: int, marks: Literal["none", "cleaning", "topics"] = "none",
    find: Annotated[str, Query(max_length=500)] = "", expression: bool = False,
) -> Reader:  # fmt: skip
    """One document, its words marked by cleaning, by topic, or by what is looked for in it."""
    view = chosen.view
    if not 0 <= document < len(view.corpus):
        raise NotFoundError(f"There is no document {document + 1}.")
    spans = None
    if find.strip():
        text = view.corpus.text(document)
        (found,) = finding.spans_of(find, expression)([text])
        spans = finding.bytes_of(text, found)
    topics = []
    if view.fit_id:
        shares = np.asarray(view.model.doc_topic[document])
        order = np.argsort(-shares, kind="stable")[:6]
        topics = [
            TopicShare(topic=int(k), share=float(shares[k])) for k in order if shares[k] >= 0.02
        ]
    return Reader(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        fields=documents.fields(view, document), words=int(view.lengths[document]),
        place=documents.place(view, document),
        segments=segment_records(_segments(view, document, marks, spans)), topics=topics,
        matches=len(spans) if spans is not None else None,
    )  # fmt: skip


class ContextLine(BaseModel):
    """One place where something stands, with the text on both sides."""

    document: int
    name: str
    left: str
    hit: str
    right: str


class ContextPage(BaseModel):
    """A page of key words in context; ``whole`` is false where there are too many to sort."""

    total: int
    documents: int
    whole: bool
    lines: list[ContextLine]


def _lines(chosen: Chosen, find: str, expression: bool, sort: Order) -> tuple[list[Line], bool]:
    if not find.strip():
        raise BadInputError("Write what to look for: words, a phrase, or a regular expression.")

    def make() -> tuple[list[Line], bool]:
        corpus = chosen.selected.view.corpus
        spans = finding.spans_of(find, expression)
        texts = ((int(at), corpus.text(int(at))) for at in np.sort(chosen.documents))
        found, whole = concordance(texts, spans)
        return ordered(found, sort), whole

    found: Any = chosen.selected.cached("context", make, chosen.key, find, expression, sort)
    lines: tuple[list[Line], bool] = found
    return lines


@router.get("/concordance")
def read_concordance(
    chosen: ChosenDocuments, find: Annotated[str, Query(max_length=500)] = "",
    expression: bool = False, order: Order = "document",
    offset: Annotated[int, Query(ge=0, le=2**31)] = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> ContextPage:  # fmt: skip
    """Every place where the words stand, sorted by what is left or right of them."""
    lines, whole = _lines(chosen, find, expression, order)
    view = chosen.selected.view
    return ContextPage(
        total=len(lines), documents=len({line.document for line in lines}), whole=whole,
        lines=[
            ContextLine(document=line.document, name=documents.name(view, line.document),
                        left=line.left, hit=line.hit, right=line.right)
            for line in lines[offset : offset + limit]
        ],
    )  # fmt: skip


@router.get("/concordance.csv")
def concordance_csv(
    chosen: ChosenDocuments, find: Annotated[str, Query(max_length=500)] = "",
    expression: bool = False, order: Order = "document",
) -> Response:  # fmt: skip
    """The same as a file, whole, with the documents' fields."""
    lines, _ = _lines(chosen, find, expression, order)
    view = chosen.selected.view
    columns = view.corpus.columns
    header = ["document", "name", "left", "hit", "right", *(column.name for column in columns)]
    rows = (
        [line.document + 1, documents.name(view, line.document), line.left, line.hit, line.right,
         *(column.value(line.document) for column in columns)]
        for line in lines
    )  # fmt: skip
    return Response(to_csv(header, rows), media_type="text/csv", headers={
        "Content-Disposition": 'attachment; filename="in-context.csv"'})  # fmt: skip
