"""New text among the topics of a fit: shares with how surely they are known, and the words that decided."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.new_texts import NewTexts, read_new_texts, unknown_share
from skeinwork.core.topics.placing import Placed, topics_of_terms
from skeinwork.work.results import documents
from skeinwork.work.results.documents import Segment, segments
from skeinwork.work.results.parts import Part
from skeinwork.work.results.view import View
from skeinwork.work.screens.new_text import MOST_TEXTS, UnknownWord, unknown
from skeinwork.work.topics.model_file import SavedFit, saved_fit

# Topics below it decide nothing, and words that they decide are not listed.
_LEAST_SHARE = 0.02
_WORDS = 8
# A word is drawn in a topic's dye where that topic has at least so much of it.
_MARKED = 0.5
# Bytes of a text that are shown; all of it is placed.
_SHOWN = 20_000


class DecidingWord(BaseModel):
    """A word of a text: how often it is there, and how many of these the topic has, which is most of them or few."""

    term: str
    display: str
    n: int
    tokens: float
    probability: float


class PlacedTopic(BaseModel):
    """A topic's share of a text with its 95 % interval, where the method has one, and its words there, those first
    that it has most of."""

    topic: int
    share: float
    low: float | None
    high: float | None
    words: list[DecidingWord]


class PlacedText(BaseModel):
    """A text among the topics, the largest first; ``document`` is its number where it is one of the corpus."""

    name: str
    document: int | None
    words: int
    counted: int
    unknown_share: float | None
    unknown: list[UnknownWord]
    topics: list[PlacedTopic]
    pieces: list[Segment]


class PlacedTexts(BaseModel):
    """``total`` texts were given, the first of them are answered."""

    total: int
    texts: list[PlacedText]


def _saved(view: View) -> SavedFit:
    return view.cached("saved fit", lambda: saved_fit(view, {}))


def place_texts(
    view: View, texts: Sequence[str], names: Sequence[str], total: int, numbers: Sequence[int] | None = None
) -> PlacedTexts:
    """Texts placed in the view's fit, as ``skeinwork place`` does; ``numbers`` are those of documents of the corpus."""
    fit = _saved(view)
    known = fit.known
    read = read_new_texts(known, list(texts))
    placed = fit.place(read.counts)
    in_corpus = set(view.fit_cleaning.forms)
    found = [
        PlacedText(
            name=name,
            document=numbers[at] if numbers is not None else None,
            words=read.words(at),
            counted=int(read.counts[[at]].sum()),
            unknown_share=unknown_share(read, at, known.columns),
            unknown=unknown(read, at, known.columns, in_corpus),
            topics=_topics(fit, read, placed, at),
            pieces=_pieces(fit, known.columns, read, placed.share[at], at, texts[at]),
        )
        for at, name in enumerate(names)
    ]
    return PlacedTexts(total=total, texts=found)


def _topics(fit: SavedFit, read: NewTexts, placed: Placed, at: int) -> list[PlacedTopic]:
    row = read.counts[[at]].tocsr()
    terms = row.indices.astype(np.int64)
    tokens = topics_of_terms(placed.share[at], fit.topic_word, terms) * row.data
    found = []
    for k in np.argsort(-placed.share[at], kind="stable").tolist():
        most = _WORDS if placed.share[at, k] >= _LEAST_SHARE else 0
        order = np.argsort(-tokens[k], kind="stable")[:most]
        words = [
            DecidingWord(
                term=fit.model.terms[terms[each]],
                display=fit.model.displays[terms[each]],
                n=int(row.data[each]),
                tokens=float(tokens[k, each]),
                probability=float(fit.topic_word[k, terms[each]]),
            )
            for each in order
            if tokens[k, each] >= _MARKED
        ]
        low, high = (None if ends is None else float(ends[at, k]) for ends in (placed.low, placed.high))
        found.append(PlacedTopic(topic=k, share=float(placed.share[at, k]), low=low, high=high, words=words))
    return found


def _pieces(
    fit: SavedFit, columns: Mapping[str, int], read: NewTexts, share: NDArray[np.float64], at: int, text: str
) -> list[Segment]:
    """The text with its words in the topics that have most of them."""
    tokens, rows = read.cleaning.tokens, read.cleaning.rows(at)
    forms = [read.forms[kind] for kind in tokens.ids[rows].tolist()]
    terms = np.array([columns.get(form, -1) if form is not None else -1 for form in forms], np.int64)
    weights = topics_of_terms(share, fit.topic_word, terms)
    best = weights.argmax(axis=0) if len(terms) else terms

    def mark(token: int) -> Segment | None:
        topic = int(best[token])
        return Segment("", "topic", form=str(topic)) if weights[topic, token] >= _MARKED else None

    data = text.encode("utf-8", "surrogatepass")
    part = Part(0, 1, 0, len(data)) if len(data) <= _SHOWN else Part(0, 1, 0, _whole(data, _SHOWN))
    return segments(data, tokens.starts[rows], tokens.ends[rows], mark, part)


def _whole(data: bytes, end: int) -> int:
    """The last place before ``end`` that cuts no character in two."""
    while end and data[end] & 0xC0 == 0x80:
        end -= 1
    return end


def place_held_out(view: View, offset: int) -> PlacedTexts:
    """Documents that were held out at Weigh, from some on."""
    test = view.fit_matrix.test
    held = np.flatnonzero(test) if test is not None else np.zeros(0, np.int64)
    if not len(held):
        raise BadInputError("No document was held out of this fit. Split them at Weigh, and fit again.")
    some = held[offset : offset + MOST_TEXTS].tolist()
    texts, names = [view.corpus.text(at) for at in some], [documents.name(view, at) for at in some]
    return place_texts(view, texts, names, len(held), some)
