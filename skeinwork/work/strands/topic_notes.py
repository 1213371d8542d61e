"""Readings: what a person says of the topics of a fit. Never overwritten by a machine."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, StrictBool

from skeinwork.core.errors import NotFoundError
from skeinwork.store.models import Strand, TopicNote
from skeinwork.work.steps import FIT
from skeinwork.work.strands.schemas import Remark, TopicLabel
from skeinwork.work.strands.strands import EditConflictError


class NoteEdit(BaseModel):
    """A change to a topic's reading; refused if ``fit`` or ``revision`` are not current."""

    model_config = ConfigDict(extra="forbid")
    fit: str
    revision: int
    label: TopicLabel = ""
    confirmed: StrictBool = False
    note: Remark = ""
    set_aside: StrictBool = False


def notes(strand: Strand) -> dict[int, TopicNote]:
    """What was said of the topics of the strand's fit; call inside a connection."""
    rows = TopicNote.select().where((TopicNote.strand == strand) & (TopicNote.fit == strand.results.get(FIT.name)))
    return {note.topic: note for note in rows}


def labels(strand: Strand) -> dict[int, str]:
    """The labels there are; call inside a connection."""
    return {topic: note.label for topic, note in notes(strand).items() if note.label}


def edit(strand: Strand, topic: int, change: NoteEdit) -> None:
    """Label a topic, write a note, set it aside; call inside a connection.

    Raises
    ------
    EditConflictError
        where the fit or the note is not the one that was read any more.
    """
    if change.fit != strand.results.get(FIT.name):
        raise EditConflictError
    updated = (
        TopicNote.update(
            label=change.label.strip(),
            note=change.note,
            set_aside=change.set_aside,
            confirmed=change.confirmed and bool(change.label.strip()),
            revision=change.revision + 1,
        )
        .where(
            (TopicNote.strand == strand)
            & (TopicNote.fit == change.fit)
            & (TopicNote.topic == topic)
            & (TopicNote.revision == change.revision)
        )
        .execute()
    )
    if not updated:
        exists = topic in notes(strand)
        raise EditConflictError if exists else NotFoundError(f"There is no topic {topic + 1}.")
