"""Label: the topics of the strand's fit, and what a person says of them."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path

from skeinwork.server.state import State, StateOf, StrandOf, ViewOf
from skeinwork.store.models import Strand
from skeinwork.work.results.view import View
from skeinwork.work.screens import label
from skeinwork.work.screens.label import TopicList
from skeinwork.work.strands import topic_notes
from skeinwork.work.strands.topic_notes import NoteEdit
from skeinwork.work.topics import fits

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["label"])


def _listed(state: State, strand: Strand, view: View) -> TopicList:
    with state.store.connection():
        notes = topic_notes.notes(strand)
        rows = fits.of_matrix(view.fit_record.making.inputs[0])
    return label.topics(view, notes, rows)


@router.get("/topics")
def list_topics(state: StateOf, strand: StrandOf, view: ViewOf) -> TopicList:
    """The topics of the fit, largest first."""
    return _listed(state, strand, view)


@router.put("/topics/{topic}")
def edit_topic(
    state: StateOf, strand: StrandOf, view: ViewOf, topic: Annotated[int, Path(ge=0, le=10_000)], change: NoteEdit
) -> TopicList:
    """Label a topic, write a note, set it aside."""
    with state.store.connection():
        topic_notes.edit(strand, topic, change)
    return _listed(state, strand, view)
