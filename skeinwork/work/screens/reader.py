"""The reader: one document with its fields, its tokens and its topics."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.work.results import cleaned_text, documents, finding, tagged
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.parts import Part, part_of, parts_with
from skeinwork.work.results.tagged import TagName
from skeinwork.work.results.view import View
from skeinwork.work.steps import FIT

Marks = Literal["none", "cleaning", "cleaned", "topics", "tags"]
_LEAST_SHARE, _MOST_TOPICS = 0.02, 6


class TopicShare(BaseModel):
    topic: int
    share: float


class Reader(BaseModel):
    """One document: the segments of one of its ``parts``; ``matching`` are those with places found."""

    document: int
    name: str
    brief: str
    fields: dict[str, str]
    words: int
    place: str
    segments: list[Segment]
    topics: list[TopicShare]
    matches: int | None = None
    right_to_left: bool = False
    tags: list[TagName] = []
    part: int = 0
    parts: int = 1
    matching: list[int] = []


def _by_topic(view: View, document: int, data: bytes, part: Part) -> list[Segment]:
    """The counted tokens of a part of a document with the likeliest topic of each."""
    tokens, rows = view.fit_cleaning.tokens, view.fit_cleaning.rows(document)
    starts, ends = tokens.starts[rows], tokens.ends[rows]
    here = part.holds(starts, ends)
    weights = view.topic_weights(document, here)
    best = np.where(weights.max(axis=0) > 0, weights.argmax(axis=0), -1)
    return documents.segments(
        data,
        starts[here],
        ends[here],
        lambda at: Segment("", "topic", form=str(best[at])) if best[at] >= 0 else None,
        part,
    )


def _segments(view: View, document: int, marks: Marks, data: bytes, part: Part) -> list[Segment]:
    """A part of a document, marked."""
    if marks == "topics" and view.identity(FIT):
        return _by_topic(view, document, data, part)
    if marks == "cleaning":
        return [*documents.fate_segments(view.cleaning, view.clean_settings, document, data, part)]
    if marks == "cleaned":
        return [Segment(cleaned_text.of_document(view.cleaning, document, True, part))]
    text = data[part.begin : part.end].decode("utf-8", "replace")
    if marks == "tags":
        return tagged.segments_of(text, view.clean_settings.tokenising())
    return [Segment(text)]


def _topics(view: View, document: int) -> list[TopicShare]:
    if not view.identity(FIT):
        return []
    tokens = view.assigned[[document]].toarray().ravel()
    shares = tokens / max(float(tokens.sum()), 1e-300)
    order = np.argsort(-shares, kind="stable")[:_MOST_TOPICS]
    return [TopicShare(topic=int(k), share=float(shares[k])) for k in order if shares[k] >= _LEAST_SHARE]


def read(view: View, document: int, marks: Marks, find: str, expression: bool, number: int | None = None) -> Reader:
    """A part of a document, its words marked by cleaning, by topic, or by what is looked for in it.

    Where no part is asked for it is the first, or the first that holds what is looked for.
    """
    if not 0 <= document < len(view.corpus):
        raise NotFoundError(f"There is no document {document + 1}.")
    text = view.corpus.text(document)
    data = text.encode("utf-8", "surrogatepass")
    matches, matching = None, list[int]()
    if find.strip():
        (places,) = finding.spans_of(find, expression)([text])
        spans = np.array(finding.bytes_of(text, places), dtype=np.int64).reshape(-1, 2)
        matches, matching = len(places), parts_with(data, spans[:, 0])
    part = part_of(data, number if number is not None else next(iter(matching), 0))
    if matches is None:
        segments = _segments(view, document, marks, data, part)
    else:
        starts, ends = spans[:, 0].astype(np.int32), spans[:, 1].astype(np.int32)
        found = Segment("", "found", weight=1.0)
        segments = documents.segments(data, starts, ends, lambda _: found, part)
    return Reader(
        document=document,
        name=documents.name(view, document),
        brief=documents.brief(view, document),
        fields=documents.fields(view, document),
        words=int(view.lengths[document]),
        place=documents.place(view, document),
        segments=segments,
        topics=_topics(view, document),
        tags=tagged.names_of(segments),
        matches=matches,
        right_to_left=documents.right_to_left(text),
        part=part.number,
        parts=part.of,
        matching=matching,
    )
