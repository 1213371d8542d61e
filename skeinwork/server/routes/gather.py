"""Gather: overview, document list, search, and what was rejected."""

from __future__ import annotations

import re
from typing import Annotated, Any
from urllib.parse import parse_qsl

import numpy as np
from fastapi import APIRouter, Depends, Query, Response
from numpy.typing import NDArray
from pydantic import BaseModel, ValidationError

from skeinwork.core.corpus.shape import Filter, matching
from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.periods import period_index
from skeinwork.core.text.language import LANGUAGES
from skeinwork.server.state import Selected, SelectedStrand, StateOf
from skeinwork.store import search
from skeinwork.work import documents, exports, finding
from skeinwork.work.evidence import Selection
from skeinwork.work.evidence import find as find_evidence
from skeinwork.work.track import suggested_period
from skeinwork.work.view import View

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["gather"])
Day = Annotated[str, Query(max_length=40, description="2014, 2014-03 or 2014-03-15")]
Count = Annotated[int | None, Query(ge=0, le=2**31)]


class Bar(BaseModel):
    label: str
    count: int
    start: float | None = None
    end: float | None = None


class FieldSummary(BaseModel):
    """A field: what it holds (number, date, category, text), in how many documents, with examples."""

    name: str
    role: str
    holds: str
    filled: int
    distinct: int
    example: str
    values: list[Bar]


class RejectedKind(BaseModel):
    """One reason why rows were left out, with how many and the first of them."""

    reason: str
    count: int
    file: str
    line: int
    unit: str
    raw: str


class LongDocument(BaseModel):
    document: int
    name: str
    words: int


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
    languages: list[Bar]
    longest: list[LongDocument]
    rejected_kinds: list[RejectedKind]
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
        listed = column.role in ("group", "author", "source", "language")
        order: Any = np.argsort(-counts, kind="stable")[:60] if listed else []
        found.append(
            FieldSummary(
                name=column.name, role=column.role, holds=documents.holds(column),
                filled=int((column.codes >= 0).sum()), distinct=len(column.values),
                example=column.values[0][:80] if column.values else "",
                values=[Bar(label=column.values[at], count=int(counts[at])) for at in order],
            )
        )  # fmt: skip
    return found


def _languages(view: View) -> list[Bar]:
    counts = np.bincount(view.survey.language.astype(int) + 1, minlength=len(LANGUAGES) + 1)
    names = ("unsure", *LANGUAGES)
    order = np.argsort(-counts, kind="stable")
    return [Bar(label=names[at], count=int(counts[at])) for at in order if counts[at]]


def _rejected_kinds(view: View) -> list[RejectedKind]:
    """Reasons with their numbers set aside, the most frequent first."""
    kinds: dict[str, RejectedKind] = {}
    for each in view.corpus_record.document("trouble"):
        if each["raw"] is None:
            continue
        plain = re.sub(r"“[^”]*”|\d+", "…", each["reason"])
        if plain in kinds:
            kinds[plain].count += 1
        else:
            kinds[plain] = RejectedKind(
                reason=each["reason"], count=1, file=each["file"], line=each["line"],
                unit=each.get("unit", "line"), raw=each["raw"][:200],
            )  # fmt: skip
    return sorted(kinds.values(), key=lambda kind: -kind.count)[:20]


def _overview(view: View) -> Overview:
    period = suggested_period(view)
    dates: list[Bar] = []
    if period:
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        counts = np.bincount(index[index >= 0], minlength=len(names))
        dates = [Bar(label=name, count=int(c)) for name, c in zip(names, counts, strict=True)]
    flags = ("empty", "short", "long", "same", "near", "foreign", "garbled",
             *(("undated",) if view.corpus.has_dates else ()))  # fmt: skip
    summary = view.corpus_record.summary
    return Overview(
        documents=len(view.corpus), words=int(view.lengths.sum()),
        median_words=float(np.median(view.lengths)), lengths=_length_bars(view), period=period,
        dates=dates, fields=_fields(view),
        flags={flag: len(documents.flagged(view, flag)) for flag in flags},
        languages=_languages(view), rejected_kinds=_rejected_kinds(view),
        longest=[
            LongDocument(document=int(at), name=documents.name(view, int(at)),
                         words=int(view.lengths[at]))
            for at in np.argsort(-view.lengths, kind="stable")[:5]
        ],
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
    unit: str = "line"


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


class Chosen:
    """The documents that a search and filters choose, in search order where there is a search."""

    def __init__(self, selected: Selected, chosen: NDArray[np.int64], key: Any) -> None:
        self.selected = selected
        self.documents = chosen
        self.key = key


def choose_documents(
    state: StateOf, chosen: SelectedStrand, find: Annotated[str, Query(max_length=500)] = "",
    expression: bool = False,
    filter: Annotated[list[str], Query(max_length=50)] = [],  # noqa: B006
    flag: str | None = None, evidence: Annotated[str, Query(max_length=1000)] = "",
    date_from: Day = "", date_to: Day = "",
    words_from: Count = None, words_to: Count = None,
    language: Annotated[list[str], Query(max_length=30)] = [],  # noqa: B006
) -> Chosen:  # fmt: skip
    """The documents that a request's search and filters choose."""
    view = chosen.view
    key = (find, expression, tuple(filter), flag, evidence, date_from, date_to, words_from,
           words_to, tuple(language))  # fmt: skip
    wanted = Filter(
        where={name: tuple(values) for name, values in _filters(filter).items()},
        words_from=words_from, words_to=words_to, languages=tuple(language),
        date_from=date_from.strip(), date_to=date_to.strip(),
    )  # fmt: skip

    def ranked(query: Any) -> list[int] | None:
        with state.store.connection():
            return search.find(view.corpus_record.identity, query)

    def make() -> NDArray[np.int64]:
        keep = matching(view.corpus, wanted, finding.find_unindexed, view.survey)
        if flag:
            keep &= np.isin(np.arange(len(keep)), documents.flagged(view, flag))
        if evidence:
            keep &= np.isin(
                np.arange(len(keep)), find_evidence(view, _selection(evidence)).documents
            )
        if not find.strip():
            return np.flatnonzero(keep)
        if expression:
            return finding.matching(view.corpus, find, np.flatnonzero(keep))
        order = finding.find(view.corpus, find, ranked)
        return np.flatnonzero(keep) if order is None else order[keep[order]]

    return Chosen(chosen, chosen.cached("chosen", make, *key), key)


ChosenDocuments = Annotated[Chosen, Depends(choose_documents)]


@router.get("/documents")
def list_documents(
    chosen: ChosenDocuments, sort: str = "", offset: Annotated[int, Query(ge=0, le=2**31)] = 0,
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> DocumentPage:  # fmt: skip
    """A page of documents: searched, filtered, sorted. A search is ranked unless sorted."""
    view = chosen.selected.view

    def make() -> NDArray[np.int64]:
        return documents.sort(view, chosen.documents, sort) if sort else chosen.documents

    order: Any = chosen.selected.cached("documents", make, chosen.key, sort)
    page = order[offset : offset + limit]
    return DocumentPage(total=len(order), rows=[row(view, int(at)) for at in page])
