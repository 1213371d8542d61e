"""Label: the topics of the strand's fit, and what a person says of them."""

from __future__ import annotations

from typing import Annotated

import numpy as np
from fastapi import APIRouter, Path
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.topics import matching
from skeinwork.core.topics.words import ownness, top_words
from skeinwork.server.routes.fits import readable, topic_words
from skeinwork.server.state import NotFoundError, Selected, SelectedStrand, StateOf
from skeinwork.store.models import Result, TopicNote
from skeinwork.work.steps.fit import Interval
from skeinwork.work.strands import EditConflictError

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["label"])
WORDS = 14


class TopicWord(BaseModel):
    term: str
    display: str
    share: float
    own: float


class Topic(BaseModel):
    """A topic with its identity (dye), label, share with interval, coherence and words."""

    topic: int
    dye: int
    label: str
    confirmed: bool
    note: str
    set_aside: bool
    revision: int
    share: Interval
    npmi: float
    words: list[TopicWord]
    documents: int
    found_again: int
    seeds: int


class TopicList(BaseModel):
    fit: str
    topics: list[Topic]


def _notes(chosen: Selected) -> dict[int, TopicNote]:
    strand = chosen.strand
    rows = TopicNote.select().where((TopicNote.strand == strand) & (TopicNote.fit == strand.fit))
    return {note.topic: note for note in rows}


def _recurrence(state: StateOf, chosen: Selected) -> tuple[list[int], int]:
    """In how many other seeds of the same settings each topic is found again."""
    fit = chosen.view.fit_record
    mine = {k: v for k, v in fit.making.settings.items() if k != "seed"}
    with state.store.connection():
        rows = Result.select().where(
            (Result.step == "fit") & (Result.parent == fit.making.inputs[0])
        )
        others = sorted(
            row.identity for row in rows
            if row.identity != fit.identity
            and {k: v for k, v in row.settings.items() if k != "seed"} == mine
        )  # fmt: skip
    others = readable(state, others)
    if not others:
        return [0] * len(chosen.view.model.topic_word), 0
    found = chosen.cached(
        "recurrence",
        lambda: matching.recurrence(
            topic_words(state, fit.identity), [topic_words(state, o) for o in others]
        ),
        *others,
    )
    return found.tolist(), len(others)


@router.get("/topics")
def list_topics(state: StateOf, chosen: SelectedStrand) -> TopicList:
    """The topics of the fit, largest first."""
    view = chosen.view
    model, matrix, summary = view.model, view.fit_matrix, view.fit_summary
    phi = np.asarray(model.topic_word)
    own, top = ownness(phi), top_words(phi, WORDS)
    holding = (np.asarray(model.doc_topic) >= 0.1).sum(axis=0)
    again, seeds = _recurrence(state, chosen)
    with state.store.connection():
        notes = _notes(chosen)
    topics = []
    for k in range(len(phi)):
        note = notes.get(k) or TopicNote(topic=k, dye=k)
        topics.append(
            Topic(
                topic=k, dye=note.dye, label=note.label, confirmed=note.confirmed, note=note.note,
                set_aside=note.set_aside, revision=note.revision, share=summary.share[k],
                npmi=summary.npmi[k], documents=int(holding[k]), found_again=again[k], seeds=seeds,
                words=[
                    TopicWord(term=matrix.terms[t], display=matrix.display[t],
                              share=float(phi[k, t]), own=float(own[k, t]))
                    for t in top[k]
                ],
            )
        )  # fmt: skip
    return TopicList(fit=view.fit_record.identity, topics=topics)


class NoteEdit(BaseModel):
    """A change to a topic's reading; refused if ``fit`` or ``revision`` are not current."""

    model_config = ConfigDict(extra="forbid")
    fit: str
    revision: int
    label: str = Field("", max_length=200)
    confirmed: bool = False
    note: str = Field("", max_length=20_000)
    set_aside: bool = False


@router.put("/topics/{topic}")
def edit_topic(
    state: StateOf,
    chosen: SelectedStrand,
    topic: Annotated[int, Path(ge=0, le=10_000)],
    change: NoteEdit,
) -> TopicList:
    """Label a topic, write a note, set it aside."""
    strand = chosen.strand
    if change.fit != strand.fit:
        raise EditConflictError
    with state.store.connection():
        updated = (
            TopicNote.update(
                label=change.label.strip(), note=change.note, set_aside=change.set_aside,
                confirmed=change.confirmed and bool(change.label.strip()),
                revision=change.revision + 1,
            )
            .where(
                (TopicNote.strand == strand) & (TopicNote.fit == change.fit)
                & (TopicNote.topic == topic) & (TopicNote.revision == change.revision)
            )
            .execute()
        )  # fmt: skip
        if not updated:
            exists = topic in _notes(chosen)
            raise EditConflictError if exists else NotFoundError(f"There is no topic {topic + 1}.")
    return list_topics(state, chosen)
