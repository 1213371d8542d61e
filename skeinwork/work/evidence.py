"""Evidence: the documents and passages behind whatever is selected, from our own matrices."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.errors import BadInputError
from skeinwork.core.prevalence.periods import Period, period_index
from skeinwork.core.text.passes.base import StreamPass
from skeinwork.work import documents
from skeinwork.work.documents import Segment
from skeinwork.work.view import View

LEAST_SHARE = 0.1


class Selection(BaseModel):
    """What is selected: any of these together; it fits in an address bar."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    term: str | None = Field(None, max_length=400, description="a term of the matrix")
    topic: int | None = Field(None, ge=0, le=10_000, description="a topic of the fit")
    field: str | None = Field(None, description="a field, with its value")
    value: str | None = None
    period: Period | None = None
    at: str | None = Field(
        None, description="a period's name, such as 2014-Q1, or two joined by .."
    )
    removed_by: str | None = Field(None, description="the key of a pass")
    flag: str | None = Field(
        None, description="a set of documents that may spoil models, such as empty or near"
    )
    words_from: int | None = Field(None, ge=0, le=2**31)
    words_to: int | None = Field(None, ge=0, le=2**31)


@dataclass(frozen=True)
class Piece:
    """One document of the evidence."""

    document: int
    score: float
    score_text: str
    reason: str


@dataclass(frozen=True)
class Found:
    """All documents of a selection, best first."""

    documents: NDArray[np.int64]
    scores: NDArray[np.float64]
    why: str


def _cell(view: View, choice: Selection) -> NDArray[np.bool_]:
    keep = np.ones(len(view.corpus), dtype=bool)
    if choice.field is not None:
        column = view.corpus.column(choice.field)
        if column is None:
            raise BadInputError(f"There is no field “{choice.field}”.")
        code = column.values.index(choice.value) if choice.value in column.values else -2
        keep &= column.codes == code
    if choice.at is not None:
        period = choice.period or "year"
        index, names = period_index(view.corpus.days, view.corpus.precision, period)
        first, _, last = choice.at.partition("..")
        wanted = [n for n, name in enumerate(names) if first <= name <= (last or first)]
        keep &= np.isin(index, wanted)
    if choice.flag:
        keep &= np.isin(np.arange(len(keep)), documents.flagged(view, choice.flag))
    if choice.words_from is not None:
        keep &= view.lengths >= choice.words_from
    if choice.words_to is not None:
        keep &= view.lengths < choice.words_to
    return keep


def _topic_scores(view: View, choice: Selection) -> tuple[NDArray[np.float64], str]:
    shares = view.model.doc_topic
    if choice.topic is None or choice.topic >= shares.shape[1]:
        raise BadInputError(f"There is no topic {choice.topic} in this fit.")
    share = np.asarray(shares[:, choice.topic])
    score = share * np.log1p(view.token_weights)
    why = "share × ln(1 + words), so that neither short nor long ones lead"
    return np.where(share >= LEAST_SHARE, score, 0.0), f"10 % or more; by {why}"


def _term_scores(view: View, term: str) -> NDArray[np.float64]:
    matrix = view.matrix
    if term not in view.term_place:
        raise BadInputError(f"“{term}” is not a term of this matrix.")
    column = matrix.counts.getcol(view.term_place[term]).tocoo()
    scores = np.zeros(matrix.counts.shape[0])
    scores[column.row] = column.data / np.sqrt(np.maximum(view.lengths[column.row], 1))
    return scores


def _pass(view: View, key: str) -> tuple[int, bool]:
    """Where a pass stands in the cleaning, and whether it joins tokens; else it removes them."""
    passes = view.clean_settings.passes
    keys = [each.key for each in passes]
    if key not in keys:
        raise BadInputError(f"The pass “{key}” is not part of this cleaning.")
    return keys.index(key), isinstance(passes[keys.index(key)], StreamPass)


def pass_title(view: View, key: str) -> str:
    """What a pass of the cleaning did, with its name."""
    at, joins = _pass(view, key)
    return f"{'Joined' if joins else 'Removed'} by {view.clean_settings.passes[at].title.lower()}"


def _removed_scores(view: View, key: str) -> NDArray[np.float64]:
    gone = view.cleaning.decided(_pass(view, key)[0])
    running = np.concatenate([[0], np.cumsum(gone)])
    return np.diff(running[view.cleaning.tokens.doc_ptr]).astype(np.float64)


def find(view: View, choice: Selection) -> Found:
    """Rank the documents that a selection stands for."""
    keep = _cell(view, choice)
    scores = np.ones(len(keep))
    why = "in the order they were brought in"
    if choice.topic is not None:
        scores, why = _topic_scores(view, choice)
    elif choice.term is not None:
        scores, why = _term_scores(view, choice.term), "by count against length"
    elif choice.removed_by is not None:
        scores, why = _removed_scores(view, choice.removed_by), "most tokens first"
    chosen = np.flatnonzero(keep & (scores > 0))
    order = chosen[np.argsort(-scores[chosen], kind="stable")]
    return Found(order, scores[order], why)


def piece(view: View, choice: Selection, document: int, score: float) -> Piece:
    """Why one document belongs to the evidence."""
    if choice.topic is not None:
        share = float(view.model.doc_topic[document, choice.topic])
        words = int(view.token_weights[document])
        return Piece(
            document,
            share,
            f"{share:.0%}".replace("%", " %"),
            f"{round(share * words)} of {words} counted words",
        )
    if choice.term is not None:
        at = view.term_place[choice.term]
        times = int(view.matrix.counts[document, at])
        said = "once" if times == 1 else f"{times} times"
        return Piece(document, score, f"{times}×", f"{said} in {view.lengths[document]} words")
    if choice.removed_by is not None:
        joins = _pass(view, choice.removed_by)[1]
        said = "terms joined" if joins else "tokens removed"
        sign = "" if joins else "−"
        return Piece(document, score, f"{sign}{int(score)}", f"{int(score)} {said} by this pass")
    reason = f"{view.lengths[document]} words"
    if choice.flag in ("same", "near"):
        first = int((view.survey.same if choice.flag == "same" else view.survey.near)[document])
        reason += f"; like {documents.name(view, first)}"
    return Piece(document, score, "", reason)


def marked(view: View, choice: Selection, document: int) -> list[Segment]:
    """A document's text with the words that matter to the selection marked."""
    cleaning = view.fit_cleaning if choice.topic is not None else view.cleaning
    rows = cleaning.rows(document)
    weights, kind = np.zeros(rows.stop - rows.start), "marked"
    if choice.topic is not None:
        weights = view.topic_weights(document)[choice.topic]
        weights = np.where(weights > 0.5, weights, 0.0)
    elif choice.term is not None:
        wanted = [view.form_place.get(word, -2) for word in choice.term.split(" ")]
        weights = term_weights(cleaning.token_forms(document), wanted)
    elif choice.removed_by is not None:
        by, joins = _pass(view, choice.removed_by)
        weights = cleaning.decided(by, document).astype(float)
        kind = "marked" if joins else "removed"
    data = view.corpus.data[view.corpus.pointer[document] : view.corpus.pointer[document + 1]]

    def mark(token: int) -> Segment | None:
        weight = float(weights[token])
        return Segment("", kind, weight=weight) if weight > 0 else None

    tokens = cleaning.tokens
    return documents.segments(data.tobytes(), tokens.starts[rows], tokens.ends[rows], mark)


def term_weights(forms: NDArray[np.int32], wanted: list[int]) -> NDArray[np.float64]:
    """1 for every token that belongs to an occurrence of an n-gram of these forms, else 0."""
    weights = np.zeros(len(forms))
    for at in range(len(forms) - len(wanted) + 1):
        if forms[at : at + len(wanted)].tolist() == wanted:
            weights[at : at + len(wanted)] = 1.0
    return weights
