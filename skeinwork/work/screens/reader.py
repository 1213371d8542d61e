"""The reader: one document with its fields, its tokens and its topics."""

from __future__ import annotations

from typing import Literal

import numpy as np
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.work import cleaned_text, documents, finding, tagged
from skeinwork.work.documents import Segment
from skeinwork.work.tagged import TagName
from skeinwork.work.view import View

Marks = Literal["none", "cleaning", "cleaned", "topics", "tags"]
_LEAST_SHARE, _MOST_TOPICS = 0.02, 6


class TopicShare(BaseModel):
    topic: int
    share: float


class Reader(BaseModel):
    """One document."""

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


def _by_topic(view: View, document: int, data: bytes) -> list[Segment]:
    """The document's counted tokens with the likeliest topic of each."""
    tokens, rows = view.fit_cleaning.tokens, view.fit_cleaning.rows(document)
    weights = view.topic_weights(document)
    best = np.where(weights.max(axis=0) > 0, weights.argmax(axis=0), -1)
    return documents.segments(
        data, tokens.starts[rows], tokens.ends[rows],
        lambda at: Segment("", "topic", form=str(best[at])) if best[at] >= 0 else None,
    )  # fmt: skip


def _found(data: bytes, spans: list[tuple[int, int]]) -> list[Segment]:
    starts, ends = (np.array([span[at] for span in spans], dtype=np.int32) for at in (0, 1))
    return documents.segments(data, starts, ends, lambda _: Segment("", "found", weight=1.0))


def _topics(view: View, document: int) -> list[TopicShare]:
    if not view.fit_id:
        return []
    tokens = view.assigned[[document]].toarray().ravel()
    shares = tokens / max(float(tokens.sum()), 1e-300)
    order = np.argsort(-shares, kind="stable")[:_MOST_TOPICS]
    return [
        TopicShare(topic=int(k), share=float(shares[k]))
        for k in order if shares[k] >= _LEAST_SHARE
    ]  # fmt: skip


def read(view: View, document: int, marks: Marks, find: str, expression: bool) -> Reader:
    """One document, its words marked by cleaning, by topic, or by what is looked for in it."""
    if not 0 <= document < len(view.corpus):
        raise NotFoundError(f"There is no document {document + 1}.")
    text = view.corpus.text(document)
    data = text.encode("utf-8", "surrogatepass")
    segments, matches = [Segment(data.decode("utf-8", "replace"))], None
    if find.strip():
        (places,) = finding.spans_of(find, expression)([text])
        segments, matches = _found(data, finding.bytes_of(text, places)), len(places)
    elif marks == "topics" and view.fit_id:
        segments = _by_topic(view, document, data)
    elif marks == "cleaning":
        segments = [*documents.fate_segments(view.cleaning, view.clean_settings, document, data)]
    elif marks == "tags":
        segments = tagged.segments_of(text, view.clean_settings.tokenising())
    elif marks == "cleaned":
        segments = [Segment(cleaned_text.of_document(view.cleaning, document, by_line=True))]
    return Reader(
        document=document, name=documents.name(view, document), brief=documents.brief(view, document),
        fields=documents.fields(view, document), words=int(view.lengths[document]),
        place=documents.place(view, document), segments=segments, topics=_topics(view, document),
        tags=tagged.names_of(segments), matches=matches, right_to_left=documents.right_to_left(text),
    )  # fmt: skip
