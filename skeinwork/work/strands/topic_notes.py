"""Readings: what a person says of the topics of a fit. Never overwritten by a machine."""

from __future__ import annotations

from collections.abc import Iterable

from peewee import SQL
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
    family: TopicLabel = ""
    later: StrictBool = False


def notes(strand: Strand, fit: str | None = None) -> dict[int, TopicNote]:
    """What was said of the topics of the strand's fit, or of another that it had; call inside a connection."""
    wanted = fit or strand.results.get(FIT.name)
    rows = TopicNote.select().where((TopicNote.strand == strand) & (TopicNote.fit == wanted))
    return {note.topic: note for note in rows}


def all_notes(strand: Strand) -> list[TopicNote]:
    """What was said of topics of all fits that the strand has had, written last first; call inside a connection."""
    return list(TopicNote.select().where(TopicNote.strand == strand).order_by(SQL("rowid").desc()))


def take_labels(strand: Strand, fit: str, labels: Iterable[tuple[int, str, str, str, float]]) -> None:
    """Labels of a table for topics, with notes and families, unconfirmed; call inside a connection.

    A label that somebody has confirmed stays.
    """
    if fit != strand.results.get(FIT.name):
        raise EditConflictError
    for topic, label, note, family, likeness in labels:
        mine = (TopicNote.strand == strand) & (TopicNote.fit == fit) & (TopicNote.topic == topic)
        given = {"label": label, "came": "table", "likeness": likeness, "revision": TopicNote.revision + 1}
        given |= {name: each for name, each in (("note", note), ("family", family)) if each}
        TopicNote.update(**given).where(mine & ~TopicNote.confirmed).execute()


def fit_before(strand: Strand) -> str | None:
    """The fit that the strand had before the present one; call inside a connection."""
    had = TopicNote.select(TopicNote.fit).where(
        (TopicNote.strand == strand) & (TopicNote.fit != strand.results.get(FIT.name, ""))
    )
    row = had.order_by(SQL("rowid").desc()).first()
    return row.fit if row else None


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
            family=change.family.strip(),
            later=change.later and not change.confirmed,
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
