"""Gather: overview, document list, search, key words in context, and what was rejected."""

from __future__ import annotations

from typing import Annotated

from fastapi import Query, Response

from skeinwork.core.text.concordance import Order
from skeinwork.server.records import attachment, saves
from skeinwork.server.routing import Offset, QueryOf, RankedOf, Routes
from skeinwork.server.state import ViewOf
from skeinwork.work.exports.documents_table import rejected_table
from skeinwork.work.screens import documents, gather, reader
from skeinwork.work.screens.documents import ContextPage, DocumentPage
from skeinwork.work.screens.gather import Overview, TroubleKind
from skeinwork.work.screens.reader import Reader

router = Routes(prefix="/api/strands/{strand_id}", tags=["gather"])


@router.get("/overview")
def overview(view: ViewOf) -> Overview:
    """Documents, lengths, groups, dates, and what may spoil models."""
    return gather.overview(view)


@router.get("/rejected")
def rejected(view: ViewOf, most: Annotated[int, Query(ge=1, le=1000)] = 100) -> list[TroubleKind]:
    """Rows that were left out or noted, by reason, the first of each with their places."""
    return gather.trouble_kinds(view, most)


@router.get("/rejected.csv", **saves("text/csv"))
def rejected_csv(view: ViewOf) -> Response:
    """The same as a file, whole."""
    return attachment(b"".join(rejected_table(view)), "rejected.csv", "text/csv")


@router.get("/documents")
def list_documents(
    view: ViewOf,
    query: QueryOf,
    ranked: RankedOf,
    sort: str = "",
    offset: Offset = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> DocumentPage:
    """A page of documents: searched, filtered, sorted. A search is ranked unless sorted."""
    return documents.page(view, query, ranked, sort, offset, limit)


@router.get("/documents/{document}")
def read_document(
    view: ViewOf,
    document: int,
    marks: reader.Marks = "none",
    find: Annotated[str, Query(max_length=500)] = "",
    expression: bool = False,
    part: Annotated[int | None, Query(ge=0, le=10**6)] = None,
) -> Reader:
    """A part of a document, its words marked by cleaning, by topic, or by what is looked for in it."""
    return reader.read(view, document, marks, find, expression, part)


@router.get("/concordance")
def read_concordance(
    view: ViewOf,
    query: QueryOf,
    ranked: RankedOf,
    order: Order = "document",
    offset: Offset = 0,
    limit: Annotated[int, Query(ge=1, le=500)] = 100,
) -> ContextPage:
    """Every place where the words stand, sorted by what is left or right of them."""
    return documents.in_context(view, query, ranked, order, offset, limit)


@router.get("/concordance.csv", **saves("text/csv"))
def concordance_csv(view: ViewOf, query: QueryOf, ranked: RankedOf, order: Order = "document") -> Response:
    """The same as a file, whole, with the documents' fields."""
    data = documents.in_context_table(view, query, ranked, order)
    return attachment(data, "in-context.csv", "text/csv")
