"""A strand for the rail and the strand bar: its chain, what is out of date, what is wanted next."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from skeinwork.demo import DEMO, HINTS
from skeinwork.store.artefacts import Artefact
from skeinwork.store.models import Strand, TopicNote
from skeinwork.store.store import Store
from skeinwork.work.steps import BESIDE, CHAIN, FIT, KEPT, StepName, Summaries
from skeinwork.work.steps.step import Link, Said
from skeinwork.work.strands import strands
from skeinwork.work.strands.strands import Wanted


class Ply(BaseModel):
    """One result: what was made, from which settings, and whether it is up to date."""

    step: StepName
    called: str
    state: strands.State
    identity: str | None
    settings: dict[str, Any]
    said: Said
    doubt: str = ""


class Sibling(BaseModel):
    """A strand of the same skein."""

    id: int
    name: str


class StrandRecord(BaseModel):
    """A strand with its chain of results, those beside it, and the settings wanted next."""

    id: int
    skein: int
    name: str
    revision: int
    wanted: Wanted
    plies: list[Ply]
    beside: list[Ply]
    summaries: Summaries
    labelled: int
    undo: int
    redo: int
    siblings: list[Sibling]
    hints: dict[str, str]


def parsed(step: Link[Any, Any, Any], stored: Artefact) -> Any:
    """A result's settings; a shaped corpus has none of files."""
    return None if "shape" in stored.making.settings else step.parse(stored.making.settings)


def describe(store: Store, strand: Strand) -> StrandRecord:
    """The strand for the screen; call inside a connection."""
    now = strands.standing(store, strand)
    plies, summaries = {}, {}
    for step in KEPT:
        identity = strand.results.get(step.name)
        ply = Ply(
            step=step.name,
            called=step.called,
            state=now[step.name],
            identity=identity,
            settings={},
            said=Said(name="", size=""),
        )
        if identity:
            stored = store.artefacts.open(identity)
            summaries[step.name] = summary = step.summarised(stored)
            ply.settings = dict(stored.making.settings)
            ply.said = step.said(parsed(step, stored), summary)
            ply.doubt = step.doubt(parsed(step, stored), summary)
        plies[step.name] = ply
    labelled = (
        TopicNote.select()
        .where((TopicNote.strand == strand) & (TopicNote.fit == strand.results.get(FIT.name)) & TopicNote.confirmed)
        .count()
    )
    undo, redo = strands.undo_depth(strand)
    siblings = [
        Sibling(id=each.id, name=each.name or strand.skein.name)
        for each in Strand.select().where(Strand.skein == strand.skein).order_by(Strand.id)
    ]
    return StrandRecord(
        id=strand.id,
        skein=strand.skein_id,
        name=strand.name or strand.skein.name,
        revision=strand.revision,
        wanted=strands.wanted(strand),
        plies=[plies[each.name] for each in CHAIN],
        beside=[plies[each.name] for each in BESIDE],
        summaries=Summaries(**summaries),
        labelled=labelled,
        undo=undo,
        redo=redo,
        siblings=siblings,
        hints=HINTS if strand.skein.name == DEMO else {},
    )
