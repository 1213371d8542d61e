"""Share: everything in open formats, and the pattern to run again."""

from __future__ import annotations

import re

from fastapi import APIRouter, Response
from pydantic import BaseModel

from skeinwork.server.state import NotFoundError, Selected, SelectedStrand, StateOf
from skeinwork.store.models import TopicNote
from skeinwork.work import exports
from skeinwork.work.pattern import Pattern
from skeinwork.work.steps import CLEANING, CORPUS, FIT, MATRIX
from skeinwork.work.steps.corpus import base_of, shape_of
from skeinwork.work.track import TrackSettings, group_fields, suggested_period

router = APIRouter(prefix="/api/strands/{strand_id}", tags=["share"])


def made_pattern(chosen: Selected, name: str) -> Pattern:
    """The settings that the strand's fit was made with, and the breakdowns its corpus allows."""
    view, artefacts = chosen.view, chosen.state.store.artefacts
    fit = view.fit_record
    matrix = artefacts.open(fit.making.inputs[0])
    cleaning = artefacts.open(matrix.making.inputs[0])
    base = artefacts.open(base_of(artefacts, view.corpus_record.identity))
    period = suggested_period(view)
    groups = group_fields(view)[:4]
    breakdowns = [TrackSettings.model_validate({"group": group}) for group in groups]
    if period:
        breakdowns.append(TrackSettings.model_validate({"period": period}))
        if groups:
            breakdowns.append(TrackSettings.model_validate({"group": groups[0], "period": "year"}))
    return Pattern(
        name=name, gather=CORPUS.parse(base.making.settings),
        shape=shape_of(artefacts, view.corpus_record.identity),
        clean=CLEANING.parse(cleaning.making.settings),
        weigh=MATRIX.parse(matrix.making.settings),
        fit=FIT.parse(fit.making.settings), track=breakdowns,
    )  # fmt: skip


def _name(state: StateOf, chosen: Selected) -> str:
    with state.store.connection():
        name: str = chosen.strand.skein.name
    return name


def _attachment(data: bytes, name: str, suffix: str, kind: str) -> Response:
    safe = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-") or "skein"
    disposition = f'attachment; filename="{safe}{suffix}"'
    return Response(data, media_type=kind, headers={"Content-Disposition": disposition})


@router.get("/pattern.json")
def pattern(state: StateOf, chosen: SelectedStrand) -> Response:
    """The pattern file of the strand's fit."""
    name = _name(state, chosen)
    text = made_pattern(chosen, name).to_json()
    return _attachment(text.encode(), name, "-pattern.json", "application/json")


def _contents(state: StateOf, chosen: Selected) -> list[tuple[str, bytes]]:
    strand = chosen.strand
    with state.store.connection():
        notes = TopicNote.select().where(
            (TopicNote.strand == strand) & (TopicNote.fit == strand.fit)
        )
        labels = {note.topic: exports.label_of(note) for note in notes}
    return list(exports.files(chosen.view, made_pattern(chosen, _name(state, chosen)), labels))


@router.get("/export.zip")
def export(state: StateOf, chosen: SelectedStrand) -> Response:
    """All results as a zip archive of CSV, JSON and Matrix Market files."""
    data = exports.to_zip(iter(_contents(state, chosen)))
    return _attachment(data, _name(state, chosen), "-results.zip", "application/zip")


class ExportFile(BaseModel):
    name: str
    size: int
    beginning: str


@router.get("/exports")
def list_exports(state: StateOf, chosen: SelectedStrand) -> list[ExportFile]:
    """What the archive holds: names, sizes, and how each file begins."""

    def described() -> list[ExportFile]:
        return [
            ExportFile(name=name, size=len(data), beginning=data[:600].decode("utf-8", "replace"))
            for name, data in _contents(state, chosen)
        ]

    with state.store.connection():
        notes = TopicNote.select().where(TopicNote.strand == chosen.strand)
        revisions = tuple((note.fit, note.topic, note.revision) for note in notes)
    found: list[ExportFile] = chosen.cached("exports", described, revisions)
    return found


@router.get("/exports/{name}")
def one_export(state: StateOf, chosen: SelectedStrand, name: str) -> Response:
    """One file of the archive."""
    data = dict(_contents(state, chosen)).get(name)
    if data is None:
        raise NotFoundError(f"There is no file {name} in the archive.")
    disposition = f'attachment; filename="{name}"'
    return Response(
        data, media_type="application/octet-stream", headers={"Content-Disposition": disposition}
    )
