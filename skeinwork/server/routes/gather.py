"""Gather: overview, document list, search, reader, and what was rejected."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from urllib.parse import parse_qsl

import numpy as np
import regex
from fastapi import APIRouter, Query, Response
from pydantic import BaseModel, ValidationError

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.periods import period_index
from skeinwork.server.state import NotFoundError, SelectedStrand, StateOf
from skeinwork.store import search
from skeinwork.work import documents, exports
from skeinwork.work.documents import Segment
from skeinwork.work.evidence import Selection
from skeinwork.work.evidence import find as find_evidence
from skeinwork.work.track import suggested_period
from skeinwork.work.view import View

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["gather"])
FIND_SECONDS = 2.0
Year = Annotated[int | None, Query(ge=0, le=9999)]


class Bar(BaseModel):
    label: str
    count: int
    start: float | None = None
    end: float | None = None


class FieldSummary(BaseModel):
    name: str
    role: str
    filled: int
    distinct: int
    values: list[Bar]


class Overview(BaseModel):
    """A corpus at a glance."""

    documents: int
    words: int
    median_words: float
    lengths: list[Bar]
    period: str | None
    dates: list[Bar]
    fields: list[FieldSummary]
    flags: dict[str, int]
    rejected: int
    noted: int
    files: list[str]


def _length_bars(view: View) -> list[Bar]:
    lengths = view.lengths
    top = float(np.percentile(lengths, 99)) if len(lengths) else 0
    step = max(1, int(np.ceil(top / 24)))
    step = next(
        (nice for nice in (1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000) if nice >= step), step
    )
    bins = np.minimum(lengths // step, 29)
    counts = np.bincount(bins, minlength=1)
    return [
        Bar(label=f"{at * step}–{(at + 1) * step - 1}" if at < 29 else f"{at * step} or more",
            count=int(count), start=at * step, end=(at + 1) * step if at < 29 else None)
        for at, count in enumerate(counts)
    ]  # fmt: skip


def _fields(view: View) -> list[FieldSummary]:
    found = []
    for column in view.corpus.columns:
        counts = np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
        order: Any = (
            np.argsort(-counts, kind="stable")[:60]
            if column.role in ("group", "author", "source")
            else []
        )
        found.append(
            FieldSummary(
                name=column.name, role=column.role, filled=int((column.codes >= 0).sum()),
                distinct=len(column.values),
                values=[Bar(label=column.values[at], count=int(counts[at])) for at in order],
            )
        )  # fmt: skip
    return found


def _overview(view: View) -> Overview:
    period = suggested_period(view)
    dates: list[Bar] = []
    if period:
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        counts = np.bincount(index[index >= 0], minlength=len(names))
        dates = [Bar(label=name, count=int(c)) for name, c in zip(names, counts, strict=True)]
    flags = ("empty", "short", "long", *(("undated",) if view.corpus.has_dates else ()))
    summary = view.corpus_record.summary
    return Overview(
        documents=len(view.corpus), words=int(view.lengths.sum()),
        median_words=float(np.median(view.lengths)), lengths=_length_bars(view), period=period,
        dates=dates, fields=_fields(view),
        flags={flag: len(documents.flagged(view, flag)) for flag in flags},
        rejected=summary["rejected"], noted=summary["noted"], files=view.corpus.names,
    )  # fmt: skip


@router.get("/overview")
def overview(chosen: SelectedStrand) -> Overview:
    """Documents, lengths, groups, dates, and what may spoil models."""
    view = chosen.view
    found: Overview = chosen.cached("overview", lambda: _overview(view))
    return found


class Trouble(BaseModel):
    file: str
    line: int
    reason: str
    raw: str | None


@router.get("/rejected")
def rejected(
    chosen: SelectedStrand, limit: Annotated[int, Query(ge=1, le=1000)] = 200
) -> list[Trouble]:
    """Rows that were left out or noted, with place and reason."""
    rows = chosen.view.corpus_record.document("trouble")[:limit]
    return [Trouble(**{**row, "raw": row["raw"] and row["raw"][:500]}) for row in rows]


@router.get("/rejected.csv")
def rejected_csv(chosen: SelectedStrand) -> Response:
    """The same as a file, whole."""
    return Response(exports.rejected_table(chosen.view), media_type="text/csv", headers={
        "Content-Disposition": 'attachment; filename="rejected.csv"'})  # fmt: skip


class DocumentRow(BaseModel):
    document: int
    name: str
    brief: str
    words: int
    fields: dict[str, str]
    date: str | None
    beginning: str


class DocumentPage(BaseModel):
    total: int
    rows: list[DocumentRow]


def _filters(filters: list[str]) -> dict[str, list[str]]:
    """``field:value`` filters by field; several values of a field are alternatives."""
    where: dict[str, list[str]] = {}
    for each in filters:
        field, colon, value = each.partition(":")
        if not colon:
            raise BadInputError(f"The filter “{each}” is not of the form field:value.")
        where.setdefault(field, []).append(value)
    return where


def _selection(written: str) -> Selection:
    """A selection as it stands in an address: ``topic=3&field=harbour&value=Quellan``."""
    try:
        return Selection.model_validate(dict(parse_qsl(written)))
    except ValidationError as fault:
        raise BadInputError("The evidence set can't be read. Select it again.") from fault


def row(view: View, document: int) -> DocumentRow:
    """One line of the document list."""
    corpus = view.corpus
    begin = int(corpus.pointer[document])
    end = min(int(corpus.pointer[document + 1]), begin + 400)
    text = corpus.data[begin:end].tobytes().decode("utf-8", "ignore")
    return DocumentRow(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        words=int(view.lengths[document]), fields=documents.fields(view, document),
        date=documents.day_label(view, document), beginning=" ".join(text.split())[:220],
    )  # fmt: skip


@router.get("/documents")
def list_documents(
    state: StateOf, chosen: SelectedStrand, find: Annotated[str, Query(max_length=500)] = "",
    filter: Annotated[list[str], Query(max_length=50)] = [],  # noqa: B006
    flag: str | None = None, evidence: Annotated[str, Query(max_length=1000)] = "",
    year_from: Year = None, year_to: Year = None,
    sort: str = "", offset: Annotated[int, Query(ge=0, le=2**31)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> DocumentPage:  # fmt: skip
    """A page of documents: searched, filtered, sorted. A search is ranked unless sorted."""
    view = chosen.view
    years = (year_from or 0, year_to or 9999) if year_from or year_to else None

    def ranked() -> Any:
        with state.store.connection():
            found = search.find(view.corpus_record.identity, find) if find.strip() else None
        selected = documents.select(view, _filters(filter), found, flag, years)
        if evidence:
            chosen_set = find_evidence(view, _selection(evidence)).documents
            selected = selected[np.isin(selected, chosen_set)]
        return documents.sort(view, selected, sort) if sort else selected

    order: Any = chosen.cached(
        "documents", ranked, find, tuple(filter), flag, evidence, years, sort
    )
    page = order[offset : offset + limit]
    return DocumentPage(total=len(order), rows=[row(view, int(at)) for at in page])


class SegmentRecord(BaseModel):
    text: str
    kind: str = "plain"
    form: str | None = None
    by: str | None = None
    weight: float = 0.0


def segment_records(parts: list[Segment]) -> list[SegmentRecord]:
    return [
        SegmentRecord(text=p.text, kind=p.kind, form=p.form, by=p.by, weight=p.weight)
        for p in parts
    ]


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
    file: str
    line: int
    segments: list[SegmentRecord]
    topics: list[TopicShare]
    matches: int | None = None


def _topic_of_words(view: View, document: int) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
    """Spans of a document's counted tokens with the likeliest topic of each, -1 where none is."""
    tokens, cleaning = view.fit_cleaned
    rows = slice(tokens.doc_ptr[document], tokens.doc_ptr[document + 1])
    terms = view.fit_terms[cleaning.form_of[tokens.ids[rows]]]
    joint = view.model.topic_word[:, terms] * np.asarray(view.model.doc_topic[document])[:, None]
    best = np.where(terms >= 0, joint.argmax(axis=0) if len(terms) else terms, -1)
    return tokens.starts[rows], tokens.ends[rows], best


def _find_spans(text: str, pattern: str, expression: bool) -> list[tuple[int, int]]:
    source = pattern if expression else regex.escape(pattern)
    try:
        found = regex.compile(source, regex.IGNORECASE).finditer(text, timeout=FIND_SECONDS)
        spans = [match.span() for match in found if match.end() > match.start()]
    except regex.error as fault:
        raise BadInputError(f"The regular expression can't be read: {fault}.") from fault
    except TimeoutError as fault:
        raise BadInputError(
            "The regular expression took more than 2 s and was stopped. Make it simpler."
        ) from fault
    starts = {at for span in spans for at in span}
    offsets = {at: len(text[:at].encode("utf-8", "surrogatepass")) for at in starts}
    return [(offsets[a], offsets[b]) for a, b in spans]


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
        from skeinwork.server.routes.clean import fate_segments

        return fate_segments(
            view.tokens, view.cleaning, view.cleaning_record.making.settings, document, data
        )
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
    spans = _find_spans(view.corpus.text(document), find, expression) if find else None
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
        file=view.corpus.names[view.corpus.sources[document]], line=int(view.corpus.lines[document]),
        segments=segment_records(_segments(view, document, marks, spans)), topics=topics,
        matches=len(spans) if spans is not None else None,
    )  # fmt: skip
