"""Files brought in, skeins, and strands with their wanted settings."""

from __future__ import annotations

import datetime
from typing import Any

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from skeinwork.core.corpus.shape import said
from skeinwork.core.errors import BadInputError
from skeinwork.server.records import Made
from skeinwork.server.routes.sources import check_brought_in
from skeinwork.server.state import NotFoundError, SelectedStrand, State, StateOf
from skeinwork.store.artefacts import Artefact, ArtefactStore
from skeinwork.store.models import Result, Skein, Strand, TopicNote
from skeinwork.work import strands
from skeinwork.work.jobs import GatherRequest
from skeinwork.work.steps import CHAIN, STEPS, Summaries
from skeinwork.work.steps.corpus import base_of, shape_of
from skeinwork.work.steps.step import Link, Said, plain
from skeinwork.work.strands import Wanted

router = APIRouter(prefix="/api", tags=["skeins"])


class NewSkein(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: str = Field(min_length=1, max_length=200)
    gather: GatherRequest


@router.post("/skeins")
def make_skein(state: StateOf, new: NewSkein) -> Made:
    """Begin a skein from files that were brought in."""
    with state.store.connection():
        check_brought_in(new.gather)
        skein = Skein.create(name=new.name.strip())
        draft = Wanted.model_validate({}).model_dump(mode="json")
        strand = Strand.create(skein=skein, draft=draft)
        job = state.runner.start("gather", strand, new.gather, f"Bring in {new.name.strip()}")
    return Made(strand=strand.id, job=job.id)


class SkeinEntry(BaseModel):
    id: int
    name: str
    created: datetime.datetime
    strands: list[int]
    documents: int | None


@router.get("/skeins")
def list_skeins(state: StateOf) -> list[SkeinEntry]:
    """All skeins, the newest first."""
    with state.store.connection():
        found = []
        for skein in Skein.select().order_by(Skein.id.desc()):
            mine = list(skein.strands.order_by(Strand.id))
            corpus = next((Result.get_or_none(identity=s.corpus) for s in mine if s.corpus), None)
            documents = corpus.summary["documents"] if corpus else None
            found.append(
                SkeinEntry(id=skein.id, name=skein.name, created=skein.created,
                           strands=[s.id for s in mine], documents=documents)
            )  # fmt: skip
    return found


class Ply(BaseModel):
    """One link of the chain: what was made, from which settings, and whether it is up to date."""

    step: strands.StepName
    station: str
    state: strands.State
    identity: str | None
    settings: dict[str, Any]
    said: Said


class StrandRecord(BaseModel):
    """A strand with its chain of results and the settings wanted next."""

    id: int
    skein: int
    name: str
    revision: int
    wanted: Wanted
    plies: list[Ply]
    summaries: Summaries
    labelled: int
    undo: int
    redo: int
    siblings: list[int]


def _parsed(step: Link[Any, Any, Any], stored: Artefact) -> Any:
    """A result's settings; a shaped corpus has none of files."""
    return None if "shape" in stored.making.settings else step.parse(stored.making.settings)


def describe(state: State, strand: Strand) -> StrandRecord:
    """The strand for the screen; call inside a connection."""
    now = strands.standing(state.store, strand)
    plies, summaries = [], {}
    for step in CHAIN:
        identity = getattr(strand, step.name)
        ply = Ply(
            step=step.name,
            station=step.station,
            state=now[step.name],
            identity=identity,
            settings={},
            said=Said(name="", size=""),
        )
        if identity:
            stored = state.store.artefacts.open(identity)
            summaries[step.name] = summary = step.summarised(stored)
            ply.settings = dict(stored.making.settings)
            ply.said = step.said(_parsed(step, stored), summary)
        plies.append(ply)
    labelled = (
        TopicNote.select()
        .where((TopicNote.strand == strand) & (TopicNote.fit == strand.fit) & TopicNote.confirmed)
        .count()
    )
    undo, redo = strands.undo_depth(strand)
    siblings = [
        s.id for s in Strand.select().where(Strand.skein == strand.skein).order_by(Strand.id)
    ]
    return StrandRecord(
        id=strand.id, skein=strand.skein_id, name=strand.name or strand.skein.name,
        revision=strand.revision, wanted=strands.wanted(strand), plies=plies,
        summaries=Summaries(**summaries), labelled=labelled,
        undo=undo, redo=redo, siblings=siblings,
    )  # fmt: skip


@router.get("/strands/{strand_id}")
def get_strand(state: StateOf, chosen: SelectedStrand) -> StrandRecord:
    """A strand as it stands."""
    with state.store.connection():
        return describe(state, chosen.strand)


class WantedEdit(BaseModel):
    model_config = ConfigDict(extra="forbid")
    revision: int
    wanted: Wanted


@router.put("/strands/{strand_id}/wanted")
def edit_wanted(state: StateOf, chosen: SelectedStrand, change: WantedEdit) -> StrandRecord:
    """Set the wanted settings; refused with 409 if they changed since ``revision``."""
    with state.store.connection():
        known = {strands.wanted(chosen.strand).base, *strands.bases(chosen.strand)}
        if change.wanted.base not in known:
            raise BadInputError("The strand never had those documents. Bring them in first.")
        return describe(state, strands.edit(chosen.strand, change.wanted, change.revision))


@router.post("/strands/{strand_id}/undo")
def undo(state: StateOf, chosen: SelectedStrand, redo: bool = False) -> StrandRecord:
    """Undo or redo the last change of settings."""
    with state.store.connection():
        strands.step_back(chosen.strand, redo)
        return describe(state, chosen.strand)


@router.post("/strands/{strand_id}/rebuild")
def rebuild(state: StateOf, chosen: SelectedStrand) -> Made:
    """Make everything that is out of date again, with the wanted settings."""
    with state.store.connection():
        wanted = strands.wanted(chosen.strand)
        job = state.runner.start("build", chosen.strand, wanted, "Rebuild")
    return Made(strand=chosen.strand.id, job=job.id)


@router.post("/strands/{strand_id}/fork")
def fork(state: StateOf, chosen: SelectedStrand) -> Made:
    """A second strand with the same results, to go another way from here."""
    parent = chosen.strand
    with state.store.connection():
        count = Strand.select().where(Strand.skein == parent.skein).count()
        copy = Strand.create(
            skein=parent.skein, name=f"{parent.skein.name} · {count + 1}", corpus=parent.corpus,
            cleaning=parent.cleaning, matrix=parent.matrix, draft=parent.draft,
        )  # fmt: skip
        if parent.fit:
            notes = TopicNote.select().where(
                (TopicNote.strand == parent) & (TopicNote.fit == parent.fit)
            )
            rows = [{**note.__data__, "strand": copy.id} for note in notes]
            TopicNote.insert_many(rows).execute()
            Strand.update(fit=parent.fit).where(Strand.id == copy.id).execute()
    return Made(strand=copy.id)


class Difference(BaseModel):
    """A setting here, and in the other version."""

    here: Any
    there: Any


class Version(BaseModel):
    """An earlier or other result of one step of a strand, with what differs from the present one."""

    identity: str
    said: Said
    differs: dict[str, Difference]
    current: bool
    created: datetime.datetime


def _flat(settings: dict[str, Any]) -> dict[str, Any]:
    """Settings by name; passes by kind, with their place."""
    flat: dict[str, Any] = {}
    for key, value in settings.items():
        if key == "passes":
            for at, each in enumerate(value):
                for name, inner in each.items():
                    if name != "kind":
                        flat[f"{each['kind']}: {name}"] = inner
                flat[f"{each['kind']}: place"] = at + 1
        elif isinstance(value, dict):
            flat |= {f"{key}: {name}": inner for name, inner in value.items()}
        else:
            flat[key] = value
    return flat


def _said(artefacts: ArtefactStore, identity: str) -> Said:
    stored = artefacts.open(identity)
    step = STEPS[stored.making.step]
    return step.said(_parsed(step, stored), step.summarised(stored))


def _corpus_settings(artefacts: ArtefactStore, corpus: str) -> dict[str, Any]:
    """What a corpus was made from, in a few words."""
    making = artefacts.open(base_of(artefacts, corpus)).making.settings
    roles = {
        f"role of {name}": role for file in making["files"] for name, role in file["roles"].items()
    }  # fmt: skip
    return {
        "files": ", ".join(making["names"]),
        **roles,
        "read as": ", ".join(dict.fromkeys(
            f"{file['format']} {file['encoding']}, cut by {file['cut']['by']}"
            for file in making["files"]
        )),
        "steps": "; ".join(map(said, shape_of(artefacts, corpus))) or "as brought in",
    }  # fmt: skip


@router.get("/strands/{strand_id}/versions/{step}")
def versions(state: StateOf, chosen: SelectedStrand, step: strands.StepName) -> list[Version]:
    """Results of a step that were made from this strand's corpus."""
    present = getattr(chosen.strand, step)
    if present is None:
        return []
    artefacts = state.store.artefacts

    def settings(identity: str) -> dict[str, Any]:
        if step == "corpus":
            return _corpus_settings(artefacts, identity)
        return _flat(dict(artefacts.open(identity).making.settings))

    mine = settings(present)
    found = []
    with state.store.connection():
        bases = strands.bases(chosen.strand)
        rows = list(Result.select().where(Result.step == step).order_by(Result.number.desc()))
    for row in rows:
        corpus = strands.corpus_of(artefacts, row.identity)
        if (
            corpus is None
            or (step == "corpus" and base_of(artefacts, corpus) not in bases)
            or (step != "corpus" and corpus != chosen.strand.corpus)
        ):
            continue
        theirs = settings(row.identity)
        differs = {
            key: Difference(here=mine.get(key), there=theirs.get(key))
            for key in {**mine, **theirs}
            if mine.get(key) != theirs.get(key)
        }
        found.append(
            Version(identity=row.identity, said=_said(artefacts, row.identity), differs=differs,
                    current=row.identity == present, created=row.created)
        )  # fmt: skip
    return found[:100]


class Switch(BaseModel):
    model_config = ConfigDict(extra="forbid")
    identity: str = Field(pattern="^[0-9a-f]{64}$")


@router.post("/strands/{strand_id}/switch")
def switch(state: StateOf, chosen: SelectedStrand, to: Switch) -> StrandRecord:
    """Put an earlier result on the strand, with the settings that made it."""
    artefacts, strand = state.store.artefacts, chosen.strand
    if not artefacts.has(to.identity):
        raise NotFoundError("That result does not exist any more.")
    stored = artefacts.open(to.identity)
    step = stored.making.step
    if step == "corpus":
        return _switch_corpus(state, strand, to.identity)
    order = [each.name for each in CHAIN]
    if step not in order:
        raise BadInputError("Only a cleaning, a matrix or a fit can be switched to.")
    if artefacts.ancestor(to.identity, "corpus").identity != strand.corpus:
        raise BadInputError("That result was made from other documents.")
    with state.store.connection():
        if step == "fit":
            strands.take_fit(state.store, strand, to.identity)
        made = {
            each: artefacts.ancestor(to.identity, each.name)
            for each in CHAIN[1 : order.index(step) + 1]
        }
        settings = {each.wanted: dict(stored.making.settings) for each, stored in made.items()}
        change = {**strand.draft, **settings}
        strands.edit(strand, Wanted.model_validate(change), strand.revision)
        kept = {each.name: stored.identity for each, stored in made.items() if each.name != "fit"}
        Strand.update(**kept).where(Strand.id == strand.id).execute()
        return describe(state, Strand.get_by_id(strand.id))


def _switch_corpus(state: State, strand: Strand, corpus: str) -> StrandRecord:
    """Want another version of the documents, and make what follows from it."""
    artefacts = state.store.artefacts
    base = base_of(artefacts, corpus)
    with state.store.connection():
        if base not in strands.bases(strand):
            raise BadInputError("That result was made from other documents.")
        change = {
            **strand.draft,
            "base": base,
            "shape": [plain(each) for each in shape_of(artefacts, corpus)],
        }
        strands.edit(strand, Wanted.model_validate(change), strand.revision)
        state.runner.start("build", strand, strands.wanted(strand), "Rebuild")
        return describe(state, Strand.get_by_id(strand.id))
