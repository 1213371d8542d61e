"""Skeins and their strands: begun, listed, gone another way with; a strand put on other results."""

from __future__ import annotations

from pydantic import BaseModel

from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.store.models import (
    Choice,
    Event,
    Result,
    Skein,
    Strand,
    StrandResult,
    TopicCheck,
    TopicNote,
    TopicVote,
    database,
    now,
)
from skeinwork.store.store import Store
from skeinwork.work.jobs.runner import JobRunner, deleted_said
from skeinwork.work.steps import CORPUS, FIT, KEPT, STEPS
from skeinwork.work.steps.corpus import base_of, operations_of
from skeinwork.work.steps.step import OnDisk, plain
from skeinwork.work.strands import checks, pins, strands
from skeinwork.work.strands.holdings import every, own_of
from skeinwork.work.strands.schemas import MOST_NAME, Moment
from skeinwork.work.strands.strands import Wanted

_COPY = ", copy"


def begin(name: str) -> Strand:
    """A new skein with one strand, on which there is nothing yet; call inside a connection."""
    skein = Skein.create(name=name.strip())
    draft = Wanted.model_validate({}).model_dump(mode="json")
    strand: Strand = Strand.create(skein=skein, draft=draft)
    return strand


class Content(BaseModel):
    """What goes when a skein is deleted."""

    strands: int
    labels: int
    notes: int
    events: int
    results: int
    bytes: int


class SkeinEntry(BaseModel):
    id: int
    name: str
    created: Moment
    strands: list[int]
    documents: int | None
    deleted: bool


def entries() -> list[SkeinEntry]:
    """All skeins, the newest first, those too that go at the next start; call inside a connection."""
    rows = list(Strand.select().order_by(Strand.id))
    of_step = StrandResult.select().where(StrandResult.step == CORPUS.name)
    corpora = {row.strand_id: row.identity for row in of_step}
    made = Result.select().where(Result.identity.in_(of_step.select(StrandResult.identity)))
    # What one skein says of itself in a wrong way is no trouble for the others.
    known = {row.identity: row.summary.get("documents") for row in made}
    sizes = {each: count for each, count in known.items() if isinstance(count, int)}
    found = []
    for skein in Skein.select().order_by(Skein.id.desc()):
        mine = [row for row in rows if row.skein_id == skein.id]
        documents = next((sizes[corpora[row.id]] for row in mine if corpora.get(row.id) in sizes), None)
        found.append(
            SkeinEntry(
                id=skein.id,
                name=skein.name,
                created=skein.created,
                strands=[row.id for row in mine],
                documents=documents,
                deleted=skein.deleted is not None,
            )
        )
    return found


def find(skein_id: int, deleted: bool = False) -> Skein:
    """A skein by number, one that was deleted only on wish; call these inside a connection."""
    skein: Skein | None = Skein.get_or_none(Skein.id == skein_id)
    if skein is None:
        raise NotFoundError(f"There is no skein {skein_id}.")
    if skein.deleted and not deleted:
        raise NotFoundError(deleted_said(skein))
    return skein


def rename(skein: Skein, name: str) -> None:
    """Call a skein otherwise."""
    Skein.update(name=name.strip()).where(Skein.id == skein.id).execute()


def copy(skein: Skein) -> Strand:
    """A second skein with the same strands, labels and events, to try something on; its first strand."""
    with database.atomic("IMMEDIATE"):
        made = Skein.create(name=f"{skein.name[: MOST_NAME - len(_COPY)]}{_COPY}")
        for event in skein.events:
            Event.create(skein=made, day=event.day, label=event.label)
        found = [_copied(strand, made) for strand in skein.strands.order_by(Strand.id)]
    return found[0]


def _copied(strand: Strand, skein: Skein) -> Strand:
    values = {**strand.__data__, "skein": skein.id, "revision": 1}
    made: Strand = Strand.create(**{k: v for k, v in values.items() if k != "id"})
    made.put(strand.results)
    notes = TopicNote.select().where(TopicNote.strand == strand)
    rows = [{**note.__data__, "strand": made.id} for note in notes]
    TopicNote.insert_rows(rows)
    for choice in strand.choices.order_by(Choice.id):
        Choice.create(**{**choice.__data__, "id": None, "strand": made.id})
    for vote in TopicVote.select().where(TopicVote.strand == strand):
        TopicVote.insert(**{**vote.__data__, "strand": made.id}).execute()
    for pin in pins.pins_of(strand).values():
        pins.keep(made, pin)
    for check in strand.checks.order_by(TopicCheck.id):
        checks.keep(made, checks.record_of(check))
    return made


def content(store: Store, skein: Skein) -> Content:
    """What goes with a skein: what people wrote, and results that no other skein has."""
    notes = TopicNote.select().join(Strand).where(Strand.skein == skein)
    own = own_of(skein, every())
    return Content(
        strands=skein.strands.count(),
        events=skein.events.count(),
        labels=notes.where(TopicNote.confirmed).count(),
        notes=notes.where(TopicNote.note != "").count(),
        results=len(own.results),
        bytes=own.size(store),
    )


def delete(skein: Skein, runner: JobRunner | None = None, undo: bool = False) -> None:
    """Let a skein go when the server starts the next time; until then that can be undone.

    Parameters
    ----------
    runner : where the skein's jobs may be at work, which are stopped
    """
    if runner:
        runner.stop_those_of({strand.id for strand in skein.strands})
    Skein.update(deleted=None if undo else now()).where(Skein.id == skein.id).execute()


def fork(parent: Strand, name: str = "", fitted: bool = True) -> Strand:
    """A second strand with the same results, to go another way from here."""
    count = Strand.select().where(Strand.skein == parent.skein).count()
    copy: Strand = Strand.create(
        skein=parent.skein, name=name or f"{parent.skein.name} · {count + 1}", draft=parent.draft
    )
    of_fit = [] if fitted else [each.name for each in KEPT if each is FIT or each.follows(FIT)]
    copy.put({name: identity for name, identity in parent.results.items() if name not in of_fit})
    if fit := copy.results.get(FIT.name):
        notes = TopicNote.select().where((TopicNote.strand == parent) & (TopicNote.fit == fit))
        TopicNote.insert_rows([{**note.__data__, "strand": copy.id} for note in notes])
        for pin in pins.pins_of(parent).values():
            pins.keep(copy, pin)
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
    step = STEPS[stored.making.step]
    if step is CORPUS:
        _switch_corpus(store, strand, identity)
        return True
    if step not in KEPT:
        raise BadInputError("Only a cleaning, a matrix or a fit can be switched to.")
    if artefacts.ancestor(identity, CORPUS.name).identity != strand.results.get(CORPUS.name):
        raise BadInputError("That result was made from other documents.")
    if step is FIT:
        strands.take_fit(store, strand, identity)
    made = {each: artefacts.ancestor(identity, each.name) for each in KEPT[1:] if each is step or step.follows(each)}
    draft = dict(strand.draft)
    for each, earlier in made.items():
        settings = dict(earlier.making.settings)
        draft |= {"beside": {**draft["beside"], each.name: settings}} if each.beside else {each.wanted: settings}
    strands.edit(strand, Wanted.model_validate(draft), strand.revision)
    strand.put({each.name: earlier.identity for each, earlier in made.items() if each is not FIT})
    return False


def _switch_corpus(store: Store, strand: Strand, corpus: str) -> None:
    """Want another version of the documents."""
    base = base_of(OnDisk(store.artefacts), corpus)
    if base not in strands.bases(strand):
        raise BadInputError("That result was made from other documents.")
    operations = operations_of(store.artefacts.open(corpus).making)
    change = {**strand.draft, "base": base, "shape": [plain(each) for each in operations]}
    strands.edit(strand, Wanted.model_validate(change), strand.revision)
