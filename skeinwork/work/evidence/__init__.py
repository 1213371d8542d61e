"""Evidence: the documents and passages behind whatever is selected, from our own matrices.

A kind is added by its file and its entry here.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import TYPE_CHECKING
from urllib.parse import parse_qsl

import numpy as np
from numpy.typing import NDArray
from pydantic import ValidationError, create_model

from skeinwork.core.errors import BadInputError
from skeinwork.work.evidence import base
from skeinwork.work.evidence.alike import Alike, Centre
from skeinwork.work.evidence.area import InArea, WordsInArea
from skeinwork.work.evidence.base import Labels, Leading, Narrowing, Piece
from skeinwork.work.evidence.branch import OfBranch
from skeinwork.work.evidence.cleaning_pass import CleaningPass
from skeinwork.work.evidence.field_value import FieldValue
from skeinwork.work.evidence.flagged import Flagged
from skeinwork.work.evidence.holding_word import HoldingWord
from skeinwork.work.evidence.length import Length
from skeinwork.work.evidence.members import InGroup, Members
from skeinwork.work.evidence.one_document import OneDocument
from skeinwork.work.evidence.other_fit import MovedFrom, OtherFit
from skeinwork.work.evidence.outliers import Outliers
from skeinwork.work.evidence.part_topic import PartTopic
from skeinwork.work.evidence.period import InPeriod
from skeinwork.work.evidence.share_range import ShareRange
from skeinwork.work.evidence.term import Term
from skeinwork.work.evidence.topic import Topic
from skeinwork.work.evidence.with_topic import WithTopic
from skeinwork.work.evidence.word import Word
from skeinwork.work.results import documents
from skeinwork.work.results.documents import Segment
from skeinwork.work.results.parts import Part
from skeinwork.work.results.view import View
from skeinwork.work.steps.step import counted
from skeinwork.work.topics.comparison import view_of_fit

# Which gives the title where several are asked for: the first.
KINDS: tuple[base.Evidence, ...] = (
    Topic(),
    OtherFit(),
    PartTopic(),
    Outliers(),
    OfBranch(),
    Alike(),
    Centre(),
    WordsInArea(),
    Members(),
    Term(),
    Word(),
    CleaningPass(),
    Flagged(),
    Length(),
    FieldValue(),
    InGroup(),
    InArea(),
    InPeriod(),
    ShareRange(),
    WithTopic(),
    HoldingWord(),
    MovedFrom(),
    OneDocument(),
)

if TYPE_CHECKING:

    class EvidenceRequest(base.Asked):
        """What is selected."""

else:
    EvidenceRequest = create_model(
        "EvidenceRequest",
        __base__=tuple(dict.fromkeys(each.asked for each in KINDS)),
        __doc__="What is selected, any of these together; it fits in an address bar.",
    )


@dataclass(frozen=True)
class Ranked:
    """All documents of some evidence, best first."""

    documents: NDArray[np.int64]
    scores: NDArray[np.float64]
    why: str


def read_request(written: str) -> EvidenceRequest:
    """A request as it stands in an address: ``topic=3&field=harbour&value=Quellan``."""
    try:
        return EvidenceRequest.model_validate(dict(parse_qsl(written)))
    except ValidationError as fault:
        raise BadInputError("The evidence set can't be read. Select it again.") from fault


def _given(request: EvidenceRequest) -> Iterator[base.Evidence]:
    return (each for each in KINDS if each.given(request))


def _leading(request: EvidenceRequest) -> Leading | None:
    return next((each for each in _given(request) if isinstance(each, Leading)), None)


def _seen(view: View, request: EvidenceRequest) -> View:
    """The view with the fit that is asked for."""
    return view_of_fit(view, request.of_fit) if request.of_fit else view


def find(view: View, request: EvidenceRequest) -> Ranked:
    """Rank the documents that a request stands for."""
    view = _seen(view, request)
    keep = np.ones(len(view.corpus), dtype=bool)
    for each in _given(request):
        if isinstance(each, Narrowing):
            keep &= each.keep(view, request)
    scores, why = np.ones(len(keep)), "in the order they were brought in"
    if leading := _leading(request):
        found = leading.scores(view, request)
        scores, why = found.values, found.why
    chosen = np.flatnonzero(keep & (scores > 0))
    order = chosen[np.argsort(-scores[chosen], kind="stable")]
    return Ranked(order, scores[order], why)


def title(view: View, request: EvidenceRequest, labels: Labels) -> str:
    """What is selected, in a few words."""
    view, labels = _seen(view, request), {} if request.of_fit else labels
    return next((each.title(view, request, labels) for each in _given(request)), "Documents")


def where(view: View, request: EvidenceRequest) -> list[str]:
    """What narrows it."""
    view = _seen(view, request)
    return [each.where(view, request) for each in list(_given(request))[1:]]


def piece(view: View, request: EvidenceRequest, document: int, score: float) -> Piece:
    """Why one document is there."""
    view = _seen(view, request)
    if leading := _leading(request):
        return leading.piece(view, request, document, score)
    said = [each.reason(view, request, document) for each in _given(request) if isinstance(each, Narrowing)]
    return Piece("", "; ".join(filter(None, [counted(int(view.lengths[document]), "word"), *said])))


def _segments(view: View, request: EvidenceRequest, document: int, shortly: bool) -> tuple[list[Segment], Part]:
    """A document with the words that count marked, or the part of it where most of them stand."""
    view = _seen(view, request)
    data = view.corpus.data[view.corpus.pointer[document] : view.corpus.pointer[document + 1]]
    whole = Part(0, 1, 0, len(data))
    leading = _leading(request)
    if leading is None:
        return [Segment(data.tobytes().decode("utf-8", "replace"))], whole
    marks = leading.marks(view, request, document)

    def mark(token: int) -> Segment | None:
        weight = float(marks.weights[token])
        return Segment("", marks.kind, weight=weight) if weight > 0 else None

    tokens, rows = marks.cleaning.tokens, marks.cleaning.rows(document)
    starts, ends = tokens.starts[rows], tokens.ends[rows]
    part = documents.stretch(data, starts, ends, marks.weights) if shortly else whole
    return documents.segments(data.tobytes(), starts, ends, mark, part), part


def marked(view: View, request: EvidenceRequest, document: int) -> list[Segment]:
    """A document's text with the words that count marked."""
    return _segments(view, request, document, shortly=False)[0]


def passage(view: View, request: EvidenceRequest, document: int) -> list[Segment]:
    """The stretch of a document that holds most of the words that count, marked."""
    found, part = _segments(view, request, document, shortly=True)
    size = int(view.corpus.pointer[document + 1] - view.corpus.pointer[document])
    return documents.passage(found, before=part.begin > 0, after=part.end < size)
