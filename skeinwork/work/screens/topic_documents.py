"""A topic's documents by its share of them, and how its shares are spread over all documents."""

from __future__ import annotations

from collections.abc import Callable
from itertools import pairwise
from typing import Literal

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.grouping import groups_of
from skeinwork.core.in_words import percent
from skeinwork.core.said import counted
from skeinwork.work.evidence.share_range import shares, within
from skeinwork.work.evidence.topic import borne_out
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.topics.breakdowns import group_fields

Order = Literal["share", "nearness", "share and length", "borne out", "typical", "border"]
# The first documents, of which it is said how long they are.
_FIRST = 10
# Borders of the shares that documents are counted between.
EDGES = (0.0, 1e-9, 0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1.0)
_MOST_GROUPS = 6


class DocumentsQuery(BaseModel):
    """Which documents of a topic, and in which order."""

    model_config = ConfigDict(extra="forbid")

    least: float = Field(0.1, ge=0, le=1, description="share of a document's counted words")
    order: Order = "share"
    offset: int = Field(0, ge=0, le=2**31)
    limit: int = Field(50, ge=1, le=200)


class TopicDocument(BaseModel):
    """A document with the tokens that a topic has of its counted words, and what it was ordered by."""

    document: int
    name: str
    brief: str
    share: float
    tokens: float
    counted: float
    score: float


class TopicDocuments(BaseModel):
    """A page of documents; ``why`` says how they are ordered, and what that favours here."""

    total: int
    of: int
    orders: list[Order]
    why: str
    documents: list[TopicDocument]


def _typical(view: View, topic: int, there: NDArray[np.int64]) -> NDArray[np.float64]:
    """Cosine of the words of documents with the mean of those that the topic leads, each of length one."""
    counts = view.fit_matrix.counts
    rows = scipy.sparse.csr_matrix(counts[there], dtype=np.float64)
    length = np.sqrt(np.asarray(rows.multiply(rows).sum(axis=1)).ravel())
    rows = scipy.sparse.diags_array(1.0 / np.maximum(length, 1e-300)) @ rows
    tokens = view.assigned[there].tocsr()
    leads = np.asarray(tokens.argmax(axis=1)).ravel() == topic
    mean = np.asarray(rows[leads if leads.any() else slice(None)].mean(axis=0)).ravel()
    return np.asarray(rows @ mean / max(float(np.sqrt(mean @ mean)), 1e-300))


def _border(view: View, topic: int, there: NDArray[np.int64]) -> NDArray[np.float64]:
    """How even the topic and the strongest other one are, times how much of the document they hold together."""
    shares = view.assigned[there].toarray() / np.maximum(view.assigned_sizes[there], 1e-300)[:, None]
    mine = shares[:, topic].copy()
    shares[:, topic] = 0.0
    other = shares.max(axis=1, initial=0.0)
    return np.asarray(np.minimum(mine, other) / np.maximum(np.maximum(mine, other), 1e-300) * (mine + other))


def _score(
    view: View, topic: int, order: Order, there: NDArray[np.int64], share: NDArray[np.float64]
) -> NDArray[np.float64]:
    sizes, near = view.assigned_sizes[there], view.model.clustered
    by: dict[Order, Callable[[], NDArray[np.float64]]] = {
        "share": lambda: share,
        "nearness": lambda: np.asarray(near.cosine)[there].astype(np.float64) if near else share,
        "typical": lambda: _typical(view, topic, there),
        "border": lambda: _border(view, topic, there),
        "share and length": lambda: share * np.log(np.maximum(sizes, 1.0)),
        "borne out": lambda: borne_out(share * sizes, sizes),
    }
    return by[order]()


_ABOUT: dict[Order, str] = {
    "share": "By share of the counted words",
    "nearness": "By the cosine of the document’s vector with the centre of the topic",
    "share and length": "By share × ln(counted words), so that a few words weigh less",
    "borne out": "By the least share that the document's words bear out (the 5 % point of what is known of it)",
    "typical": "By the cosine of the document's words with the mean of those that the topic leads",
    "border": "By how even the topic and the next strongest are, times what both hold of the document",
}


def _why(order: Order, first: NDArray[np.float64], sizes: NDArray[np.float64]) -> str:
    """How the first of them are as long as all."""
    if len(first) < _FIRST:
        return f"{_ABOUT[order]}."
    low, high = np.percentile(sizes[sizes > 0], [25, 75])
    middle, usual = float(np.median(first)), float(np.median(sizes[sizes > 0]))
    beside = "as long" if low <= middle <= high else "shorter" if middle < usual else "longer"
    beside += " as most" if beside == "as long" else " than most"
    return (
        f"{_ABOUT[order]}. Here that puts documents first which are {beside}: the first {_FIRST} have "
        f"{first.min():.0f} to {first.max():.0f} counted words, half of all documents {low:.0f} to {high:.0f}."
    )


def _orders(view: View) -> list[Order]:
    """Those that tell documents apart: of one topic or none they are told apart by nearness."""
    if view.model.clustered:
        return ["nearness", "typical"]
    return [each for each in _ABOUT if each != "nearness"]


def topic_documents(view: View, topic: int, query: DocumentsQuery) -> TopicDocuments:
    """Documents of which a topic has some share at least, those first that are asked for first."""
    share, sizes = shares(view, topic), view.assigned_sizes
    orders = _orders(view)
    order_by = query.order if query.order in orders else orders[0]
    there = np.flatnonzero(share >= max(query.least, 1e-12))
    score = _score(view, topic, order_by, there, share[there])
    # Sums of counts differ in their last bits: what is equal stays in its order.
    order = there[np.argsort(-score.round(12), kind="stable")]
    scored = dict(zip(there.tolist(), score.tolist(), strict=True))
    page = order[query.offset : query.offset + query.limit].tolist()
    return TopicDocuments(
        total=len(there),
        of=int((sizes > 0).sum()),
        orders=orders,
        why=_why(order_by, sizes[order[:_FIRST]], sizes),
        documents=[
            TopicDocument(
                document=at,
                name=documents.name(view, at),
                brief=documents.brief(view, at),
                share=float(share[at]),
                tokens=float(share[at] * sizes[at]),
                counted=float(sizes[at]),
                score=scored[at],
            )
            for at in page
        ],
    )


class Spread(BaseModel):
    """Documents between the borders of shares; ``documents`` are all of them, or of one group."""

    name: str
    documents: int
    counts: list[int]


class TopicSpread(BaseModel):
    """How a topic's shares are spread over documents, and where groups are overlaid, over those of each."""

    topic: int
    whole: Spread
    groups: list[Spread]
    says: str


class SharesSpread(BaseModel):
    """Of every topic how its shares are spread, and of one by group; ``edges`` are borders of shares.

    ``fields`` are those to group by.
    """

    edges: list[float]
    topics: list[Spread]
    chosen: TopicSpread
    fields: list[str]


def _spread(name: str, share: NDArray[np.float64]) -> Spread:
    known = share[~np.isnan(share)]
    pairs = pairwise(EDGES)
    return Spread(name=name, documents=len(known), counts=[int(within(known, low, high).sum()) for low, high in pairs])


def _says(whole: Spread) -> str:
    """Whether documents have a topic or have none, or all have a little of it."""
    if not whole.documents:
        return "No document has a counted word."
    none, some = whole.counts[0], sum(whole.counts[1:3])
    most = sum(whole.counts[7:])
    return (
        f"{percent(none / whole.documents)} of the {counted(whole.documents, 'document')} have none of it, "
        f"{percent(some / whole.documents)} under a tenth, {percent(most / whole.documents)} half or more."
    )


def shares_spread(view: View, topic: int, by: str | None) -> SharesSpread:
    """How shares are spread over documents: of all topics, and of one by the largest groups of a field."""

    def every() -> list[Spread]:
        return [_spread(str(k), shares(view, k)) for k in range(view.assigned.shape[1])]

    share, groups = shares(view, topic), []
    if by:
        codes, names = groups_of(view.corpus, by)
        sizes = np.bincount(codes[codes >= 0], minlength=len(names))
        largest = np.argsort(-sizes, kind="stable")[:_MOST_GROUPS]
        groups = [_spread(names[code], share[codes == code]) for code in largest.tolist() if sizes[code]]
    found = view.cached("shares spread", every)
    chosen = TopicSpread(topic=topic, whole=found[topic], groups=groups, says=_says(found[topic]))
    return SharesSpread(edges=list(EDGES), topics=found, chosen=chosen, fields=group_fields(view))
