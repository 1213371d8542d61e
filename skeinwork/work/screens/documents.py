"""Documents listed: searched, filtered, sorted; and key words in context over them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.shaping.filter import Filter, matching
from skeinwork.core.errors import BadInputError
from skeinwork.core.formats.export import to_csv
from skeinwork.core.text.concordance import Line, Order, concordance, ordered
from skeinwork.work import evidence
from skeinwork.work.results import documents, finding
from skeinwork.work.results.finding import Ranked
from skeinwork.work.results.flags import flag_of
from skeinwork.work.results.view import View

Day = Annotated[str, Field(max_length=40, description="2014, 2014-03 or 2014-03-15")]
Count = Annotated[int | None, Field(ge=0, le=2**31)]


class DocumentQuery(BaseModel):
    """A search with filters, which all have to be met."""

    model_config = ConfigDict(extra="ignore", frozen=True)

    find: str = Field("", max_length=500)
    expression: bool = False
    filter: tuple[str, ...] = Field((), max_length=50, description="field:value")
    flag: str | None = Field(None, max_length=40)
    evidence: str = Field("", max_length=8000, description="an evidence request, as in an address")
    date_from: Day = ""
    date_to: Day = ""
    words_from: Count = None
    words_to: Count = None
    language: tuple[str, ...] = Field((), max_length=30)

    def where(self) -> dict[str, tuple[str, ...]]:
        """The filters by field; several values of a field are alternatives."""
        where: dict[str, tuple[str, ...]] = {}
        for each in self.filter:
            field, colon, value = each.partition(":")
            if not colon:
                raise BadInputError(f"The filter “{each}” is not of the form field:value.")
            where[field] = (*where.get(field, ()), value)
        return where

    def conditions(self) -> dict[str, Any]:
        """What of it a recorded step can name by itself, but for the search."""
        return {
            "where": self.where(),
            "words_from": self.words_from,
            "words_to": self.words_to,
            "languages": self.language,
            "date_from": self.date_from.strip(),
            "date_to": self.date_to.strip(),
        }


class DocumentRow(BaseModel):
    document: int
    name: str
    brief: str
    words: int
    fields: dict[str, str]
    date: str | None
    beginning: str


class DocumentPage(BaseModel):
    """A page of documents, of so many; ``flagged`` says what those of the asked flag are."""

    total: int
    rows: list[DocumentRow]
    flagged: str | None = None


def listed(view: View, query: DocumentQuery, ranked: Ranked) -> NDArray[np.int64]:
    """The documents that a query asks for, the best first where it searches.

    Parameters
    ----------
    ranked : documents that hold the words of a search, best first
    """

    def make() -> NDArray[np.int64]:
        wanted = Filter(**query.conditions())
        keep = matching(view.corpus, wanted, finding.find_unindexed, view.survey)
        if query.flag:
            keep &= flag_of(query.flag).mask(view)
        if query.evidence:
            found = evidence.find(view, evidence.read_request(query.evidence)).documents
            keep &= np.isin(np.arange(len(keep)), found)
        if not query.find.strip():
            return np.flatnonzero(keep)
        if query.expression:
            return finding.matching(view.corpus, query.find, np.flatnonzero(keep))
        order = finding.find(view.corpus, query.find, ranked)
        return np.flatnonzero(keep) if order is None else order[keep[order]]

    return view.cached("listed", make, query)


def _row(view: View, document: int) -> DocumentRow:
    corpus = view.corpus
    begin = int(corpus.pointer[document])
    end = min(int(corpus.pointer[document + 1]), begin + 400)
    text = corpus.data[begin:end].tobytes().decode("utf-8", "ignore")
    return DocumentRow(
        document=document,
        name=documents.name(view, document),
        brief=documents.brief(view, document),
        words=int(view.lengths[document]),
        fields=documents.fields(view, document),
        date=documents.day_label(view, document),
        beginning=" ".join(text.split())[:220],
    )


def page(view: View, query: DocumentQuery, ranked: Ranked, sort: str, offset: int, limit: int) -> DocumentPage:
    """A page of documents: searched, filtered, sorted. A search is ranked unless sorted."""
    found = listed(view, query, ranked)

    def make() -> NDArray[np.int64]:
        return documents.sort(view, found, sort) if sort else found

    order = view.cached("documents", make, query, sort)
    rows = [_row(view, int(at)) for at in order[offset : offset + limit]]
    flagged = flag_of(query.flag).title if query.flag else None
    return DocumentPage(total=len(order), rows=rows, flagged=flagged)


def as_step(view: View, query: DocumentQuery, ranked: Ranked, out: bool) -> Filter:
    """The same choice as a recorded step, which keeps these documents or leaves them out.

    What only this corpus can tell, such as an evidence set, is recorded as numbers of documents.
    """
    change: dict[str, Any] = {"out": out, **query.conditions()}
    change["expression" if query.expression else "search"] = query.find
    here = ["the evidence set"] if query.evidence else []
    flag = flag_of(query.flag) if query.flag else None
    if flag and flag.condition:
        change[flag.condition] = True
        flag = None
    here = [flag.title.lower(), *here] if flag else here
    if here:
        only = DocumentQuery(flag=flag.key if flag else None, evidence=query.evidence)
        chosen = view.corpus.numbers[listed(view, only, ranked)]
        change |= {"numbers": tuple(np.sort(chosen).tolist()), "said": " and ".join(here)}
    return Filter(**change)


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


def _lines(view: View, query: DocumentQuery, ranked: Ranked, order: Order) -> tuple[list[Line], bool]:
    if not query.find.strip():
        raise BadInputError("Write what to look for: words, a phrase, or a regular expression.")
    chosen = listed(view, query, ranked)

    def make() -> tuple[list[Line], bool]:
        spans = finding.spans_of(query.find, query.expression)
        texts = ((int(at), view.corpus.text(int(at))) for at in np.sort(chosen))
        found, whole = concordance(texts, spans)
        return ordered(found, order), whole

    return view.cached("context", make, query, order)


def in_context(view: View, query: DocumentQuery, ranked: Ranked, order: Order, offset: int, limit: int) -> ContextPage:
    """Every place where the words stand, sorted by what is left or right of them."""
    lines, whole = _lines(view, query, ranked, order)
    return ContextPage(
        total=len(lines),
        documents=len({line.document for line in lines}),
        whole=whole,
        lines=[
            ContextLine(
                document=line.document,
                name=documents.name(view, line.document),
                left=line.left,
                hit=line.hit,
                right=line.right,
            )
            for line in lines[offset : offset + limit]
        ],
    )


def in_context_table(view: View, query: DocumentQuery, ranked: Ranked, order: Order) -> bytes:
    """The same as a CSV file, whole, with the documents' fields."""
    lines, _ = _lines(view, query, ranked, order)
    columns = view.corpus.columns
    header = ["document", "name", "left", "hit", "right", *(column.name for column in columns)]

    def rows() -> Iterator[list[Any]]:
        for line in lines:
            yield [
                line.document + 1,
                documents.name(view, line.document),
                line.left,
                line.hit,
                line.right,
                *(column.value(line.document) for column in columns),
            ]

    return to_csv(header, rows())
