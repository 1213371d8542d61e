"""Skeins and their strands: begun, listed, gone another way with; a strand put on other results."""

from __future__ import annotations

import datetime

from pydantic import BaseModel

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.store.models import Result, Skein, Strand, TopicNote
from skeinwork.store.store import Store
from skeinwork.work import strands
from skeinwork.work.steps import CHAIN
from skeinwork.work.steps.corpus import base_of, operations_of
from skeinwork.work.steps.step import plain
from skeinwork.work.strands import Wanted


def begin(name: str) -> Strand:
    """A new skein with one strand, on which there is nothing yet; call inside a connection."""
    skein = Skein.create(name=name.strip())
    draft = Wanted.model_validate({}).model_dump(mode="json")
    strand: Strand = Strand.create(skein=skein, draft=draft)
    return strand


class SkeinEntry(BaseModel):
    id: int
    name: str
    created: datetime.datetime
    strands: list[int]
    documents: int | None


def entries() -> list[SkeinEntry]:
    """All skeins, the newest first; call inside a connection."""
    rows = list(Strand.select().order_by(Strand.id))
    sizes = {
        row.identity: row.summary["documents"]
        for row in Result.select().where(Result.identity.in_([row.corpus for row in rows]))
    }
    found = []
    for skein in Skein.select().order_by(Skein.id.desc()):
        mine = [row for row in rows if row.skein_id == skein.id]
        documents = next((sizes[row.corpus] for row in mine if row.corpus in sizes), None)
        found.append(
            SkeinEntry(id=skein.id, name=skein.name, created=skein.created,
                       strands=[row.id for row in mine], documents=documents)
        )  # fmt: skip
    return found


def fork(parent: Strand) -> Strand:
    """A second strand with the same results, to go another way from here."""
    count = Strand.select().where(Strand.skein == parent.skein).count()
    copy: Strand = Strand.create(
        skein=parent.skein, name=f"{parent.skein.name} · {count + 1}", corpus=parent.corpus,
        cleaning=parent.cleaning, matrix=parent.matrix, draft=parent.draft,
    )  # fmt: skip
    if parent.fit:
        notes = TopicNote.select().where(
            (TopicNote.strand == parent) & (TopicNote.fit == parent.fit)
        )
        TopicNote.insert_many([{**note.__data__, "strand": copy.id} for note in notes]).execute()
        Strand.update(fit=parent.fit).where(Strand.id == copy.id).execute()
    return copy


def switch(store: Store, strand: Strand, identity: str) -> bool:
    """Put an earlier result on a strand, with the settings that made it.

    Returns
    -------
    Whether what follows from it has to be made; call inside a connection.
    """
    artefacts = store.artefacts
    if not artefacts.has(identity):
        raise NotFoundError("That result does not exist any more.")
    stored = artefacts.open(identity)
    step = stored.making.step
    if step == "corpus":
        _switch_corpus(store, strand, identity)
        return True
    order = [each.name for each in CHAIN]
    if step not in order:
        raise BadInputError("Only a cleaning, a matrix or a fit can be switched to.")
    if artefacts.ancestor(identity, "corpus").identity != strand.corpus:
        raise BadInputError("That result was made from other documents.")
    if step == "fit":
        strands.take_fit(store, strand, identity)
    made = {
        each: artefacts.ancestor(identity, each.name) for each in CHAIN[1 : order.index(step) + 1]
    }
    settings = {each.wanted: dict(stored.making.settings) for each, stored in made.items()}
    strands.edit(strand, Wanted.model_validate({**strand.draft, **settings}), strand.revision)
    kept = {each.name: stored.identity for each, stored in made.items() if each.name != "fit"}
    Strand.update(**kept).where(Strand.id == strand.id).execute()
    return False


def _switch_corpus(store: Store, strand: Strand, corpus: str) -> None:
    """Want another version of the documents."""
    base = base_of(store.artefacts, corpus)
    if base not in strands.bases(strand):
        raise BadInputError("That result was made from other documents.")
    operations = operations_of(store.artefacts.open(corpus).making)
    change = {**strand.draft, "base": base, "shape": [plain(each) for each in operations]}
    strands.edit(strand, Wanted.model_validate(change), strand.revision)
