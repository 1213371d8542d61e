"""The strongest sentences or paragraphs of a topic, by the topics of their tokens."""

from __future__ import annotations

import re
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.in_words import percent
from skeinwork.work.evidence.term import term_weights
from skeinwork.work.evidence.topic import borne_out, held, topic_of
from skeinwork.work.results import documents
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.parts import Part
from skeinwork.work.results.view import View

# Documents that are looked through, those first that have most of the topic.
_DOCUMENTS = 200
# Passages of one document at most, so that several documents speak.
_OF_ONE = 2
# Counted words from which a stretch says something.
_LEAST = 3
# Tokens on either side of a word in its context.
_BESIDE = 9
# A word is marked from this probability on that it is the topic's.
_MARKED = 0.5
_BLANK = re.compile(rb"\n[ \t]*\n")


class PassagesQuery(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)
    of: Literal["sentences", "paragraphs"] = "sentences"
    limit: int = Field(12, ge=1, le=60)


class TopicPassage(BaseModel):
    """A passage with the words that are the topic's marked; ``score`` is the least share that its words bear out."""

    document: int
    name: str
    brief: str
    passage: list[Segment]
    tokens: float
    counted: int
    score: float


class TopicPassages(BaseModel):
    """Passages, the strongest first; ``says`` what that means here."""

    topic: int
    says: str
    passages: list[TopicPassage]


def _bytes(view: View, document: int) -> bytes:
    """A document's UTF-8 text."""
    pointer = view.corpus.pointer
    return view.corpus.data[pointer[document] : pointer[document + 1]].tobytes()


def _bounds(view: View, document: int, of: str) -> NDArray[np.int64]:
    """Where sentences or paragraphs of a document begin, by token, and its end, int64[n + 1]."""
    rows, tokens = view.fit_cleaning.rows(document), view.fit_cleaning.tokens
    n = rows.stop - rows.start
    if of == "sentences":
        starts = np.flatnonzero(np.asarray(tokens.opens[rows]))
    else:
        data = _bytes(view, document)
        ends = np.array([each.end() for each in _BLANK.finditer(data)], dtype=np.int64)
        starts = np.searchsorted(np.asarray(tokens.starts[rows]), ends)
    return np.unique(np.concatenate([[0], starts, [n]])).astype(np.int64)


def _of_document(view: View, topic: int, document: int, of: str) -> list[tuple[float, float, int, int, int]]:
    """Score, tokens of the topic, counted words, first and last token of the best passages of a document."""
    weights = view.topic_weights(document)
    bounds = _bounds(view, document, of)
    if len(bounds) < 2:
        return []
    mine = np.add.reduceat(weights[topic], bounds[:-1])
    known = np.add.reduceat((weights.sum(axis=0) > 0).astype(np.float64), bounds[:-1])
    score = np.where(known >= _LEAST, borne_out(np.minimum(mine, known), known), 0.0)
    best = np.argsort(-score, kind="stable")[:_OF_ONE].tolist()
    return [
        (float(score[at]), float(mine[at]), int(known[at]), int(bounds[at]), int(bounds[at + 1]))
        for at in best
        if score[at] > 0
    ]


def _shown(view: View, topic: int, document: int, first: int, last: int) -> list[Segment]:
    """The passage with the topic's words marked."""
    rows, tokens = view.fit_cleaning.rows(document), view.fit_cleaning.tokens
    starts, ends = np.asarray(tokens.starts[rows]), np.asarray(tokens.ends[rows])
    data = _bytes(view, document)
    weights = view.topic_weights(document)[topic]

    def mark(token: int) -> Segment | None:
        return Segment("", "marked", weight=float(weights[token])) if weights[token] > _MARKED else None

    part = Part(0, 1, int(starts[first]), int(ends[last - 1]))
    return documents.passage(documents.segments(data, starts, ends, mark, part), size=600)


class TopicContext(BaseModel):
    """One place of a word that is a topic's there: the text before, at and after it, and how surely it is."""

    document: int
    name: str
    left: str
    hit: str
    right: str
    probability: float


class TopicContexts(BaseModel):
    """Places of a word within a topic, the surest first; ``says`` how many there are of how many in all."""

    display: str
    says: str
    contexts: list[TopicContext]


def contexts(view: View, topic: int, term: str, limit: int = 30) -> TopicContexts:
    """Where a word stands as the topic's own."""
    number, matrix, cleaning = topic_of(view, topic), view.fit_matrix, view.fit_cleaning
    column = matrix.column_of(term)
    wanted = [view.fit_form_place.get(word, -2) for word in matrix.terms[column].split(" ")]
    holding = np.flatnonzero(np.asarray(matrix.counts[:, [column]].toarray()).ravel())
    order = np.argsort(-np.asarray(view.assigned[holding, :][:, [number]].toarray()).ravel(), kind="stable")
    found: list[TopicContext] = []
    looked = 0
    for document in holding[order].tolist():
        looked += 1
        forms = cleaning.token_forms(document)
        marked = term_weights(forms, wanted) > 0
        weights = view.topic_weights(document)[number]
        text = _Text(view, document)
        places = np.flatnonzero(marked)[:: len(wanted)]
        found += [
            text.around(at, at + len(wanted), float(weights[at])) for at in places.tolist() if weights[at] > _MARKED
        ]
        if len(found) >= 4 * limit:
            break
    found.sort(key=lambda each: -round(each.probability, 6))
    said = (
        f"“{matrix.display[column]}” where it is the topic's with more than {percent(_MARKED)}, in the documents with "
        f"most of the topic: {looked} of {len(holding)} that hold the word."
    )
    return TopicContexts(display=matrix.display[column], says=said, contexts=found[:limit])


class _Text:
    """A document cut at its tokens."""

    def __init__(self, view: View, document: int) -> None:
        rows, tokens = view.fit_cleaning.rows(document), view.fit_cleaning.tokens
        self._starts, self._ends = np.asarray(tokens.starts[rows]), np.asarray(tokens.ends[rows])
        self._data = _bytes(view, document)
        self._document, self._name = document, documents.name(view, document)

    def around(self, first: int, last: int, probability: float) -> TopicContext:
        """The tokens from one to another with what stands beside them."""
        begin, end = int(self._starts[first]), int(self._ends[last - 1])
        near = max(0, first - _BESIDE), min(len(self._ends) - 1, last - 1 + _BESIDE)
        return TopicContext(
            document=self._document,
            name=self._name,
            left=self._cut(int(self._starts[near[0]]), begin),
            hit=self._cut(begin, end),
            right=self._cut(end, int(self._ends[near[1]])),
            probability=probability,
        )

    def _cut(self, begin: int, end: int) -> str:
        text = self._data[begin:end].decode("utf-8", "replace")
        return " ".join(text.split()) if text.strip() else ""


def _text(view: View, document: int, first: int, last: int) -> str:
    """A passage as it is written."""
    rows, tokens = view.fit_cleaning.rows(document), view.fit_cleaning.tokens
    start, end = int(tokens.starts[rows][first]), int(tokens.ends[rows][last - 1])
    return _bytes(view, document)[start:end].decode("utf-8", "replace")


def passages(view: View, topic: int, query: PassagesQuery) -> TopicPassages:
    """Those whose words are most surely the topic's, two of a document at most."""
    number = topic_of(view, topic)

    def found() -> list[tuple[float, float, int, int, int, int]]:
        tokens = held(view, number)
        having = np.flatnonzero(tokens)
        near = view.model.clustered
        score = np.asarray(near.cosine)[having] if near else borne_out(tokens[having], view.assigned_sizes[having])
        looked_at = having[np.argsort(-score, kind="stable")[:_DOCUMENTS]].tolist()
        rows = [(*each, at) for at in looked_at for each in _of_document(view, number, at, query.of)]
        return sorted(rows, key=lambda each: (-round(each[0], 9), each[5], each[3]))

    rows = view.cached("passages", found, number, query.of)
    said: set[str] = set()  # the same sentence may stand in many documents
    chosen: list[tuple[float, float, int, int, int, int]] = []
    for row in rows:
        words = " ".join(_text(view, row[5], row[3], row[4]).split()).casefold()
        if len(chosen) == query.limit:
            break
        if words not in said:
            said.add(words)
            chosen.append(row)
    shown = [
        TopicPassage(
            document=document,
            name=documents.name(view, document),
            brief=documents.brief(view, document),
            passage=_shown(view, number, document, first, last),
            tokens=mine,
            counted=known,
            score=score,
        )
        for score, mine, known, first, last, document in chosen
    ]
    return TopicPassages(topic=number, says=_says(query, rows, view, number), passages=shown)


def _says(query: PassagesQuery, rows: list[tuple[float, float, int, int, int, int]], view: View, topic: int) -> str:
    """From where they were taken, and by what they are ordered."""
    having = int(np.count_nonzero(held(view, topic)))
    looked = min(having, _DOCUMENTS)
    whose = f"the {looked} documents" if looked == having else f"the {looked} of {having} documents with most of it"
    if not rows:
        return f"No stretch of {whose} has {_LEAST} counted words of the topic."
    sure = percent(rows[0][0])
    return (
        f"By the least share that a stretch's counted words bear out ({sure} in the first); out of {whose}, "
        f"{_OF_ONE} of each at most."
    )
