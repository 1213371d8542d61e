"""Label: the topics of the strand's fit, and what a person says of them."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path, Query

from skeinwork.server.routing import Routes
from skeinwork.server.state import State, StateOf, StrandOf, ViewOf
from skeinwork.store.models import Strand
from skeinwork.work.results.view import View
from skeinwork.work.screens import fit_working, label, topic_documents
from skeinwork.work.screens.fit_working import FitWorking
from skeinwork.work.screens.label import TopicList
from skeinwork.work.screens.topic_documents import DocumentsQuery, SharesSpread, TopicDocuments
from skeinwork.work.strands import topic_notes
from skeinwork.work.strands.topic_notes import NoteEdit
from skeinwork.work.topics import fits

Topic = Annotated[int, Path(ge=0, le=10_000)]
router = Routes(prefix="/api/strands/{strand_id}", tags=["label"])


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
def edit_topic(state: StateOf, strand: StrandOf, view: ViewOf, topic: Topic, change: NoteEdit) -> TopicList:
    """Label a topic, write a note, set it aside."""
    with state.store.connection():
        topic_notes.edit(strand, topic, change)
    return _listed(state, strand, view)


@router.get("/topics/{topic}/documents")
def list_topic_documents(view: ViewOf, topic: Topic, query: Annotated[DocumentsQuery, Query()]) -> TopicDocuments:
    """Documents by the share that a topic has of them."""
    return topic_documents.topic_documents(view, topic, query)


@router.get("/topics/{topic}/spread")
def get_spread(view: ViewOf, topic: Topic, by: Annotated[str | None, Query(max_length=200)] = None) -> SharesSpread:
    """How shares are spread over documents: of all topics, and of one by groups."""
    return topic_documents.shares_spread(view, topic, by)


@router.get("/topics/{topic}/working/share")
def get_share_working(view: ViewOf, topic: Topic, document: Annotated[int, Query(ge=0, le=2**31)]) -> FitWorking:
    """How a topic's share of a document came about."""
    return fit_working.share_working(view, topic, document)


@router.get("/topics/{topic}/working/word")
def get_topic_word_working(view: ViewOf, topic: Topic, term: Annotated[str, Query(max_length=400)]) -> FitWorking:
    """How a word's probability in a topic came about."""
    return fit_working.word_working(view, topic, term)


@router.get("/fit-working")
def get_watched_working(view: ViewOf) -> FitWorking:
    """How the last value of what the fit was watched by came about."""
    return fit_working.watched_working(view)
