"""Share: everything in open formats, and the pattern to run again."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Mapping
from typing import Any

from pydantic import BaseModel

from skeinwork.core.prevalence.breakdown import Breakdown
from skeinwork.core.said import count
from skeinwork.store.models import TopicNote
from skeinwork.work.exports import exports
from skeinwork.work.exports.exports import Written
from skeinwork.work.exports.labels import label_of
from skeinwork.work.exports.pattern import BesideSettings, Pattern
from skeinwork.work.results.view import View
from skeinwork.work.steps import BESIDE, CLEANING, CORPUS, FIT, MATRIX
from skeinwork.work.steps.corpus import base_of, operations_of
from skeinwork.work.steps.step import OnDisk
from skeinwork.work.strands.strands import Wanted
from skeinwork.work.topics.breakdowns import group_fields, suggested, suggested_period, suggested_units
from skeinwork.work.topics.prevalence import Seeds
from skeinwork.work.topics.statements import is_present, tried
from skeinwork.work.topics.worked_out import WorkedOut

_BEGINNING = 600
_GROUPS = 4
Notes = Mapping[int, TopicNote]


def _unit(units: list[str], group: str | None) -> str | None:
    """The first unit to suggest; a group can't be its own."""
    return next((unit for unit in units if unit != group), None)


def _beside(view: View) -> dict[str, Any]:
    """The settings of what hangs beside the chain; documents chosen by their numbers are not in other files."""
    found = {step: step.parse(view.record(step).making.settings) for step in BESIDE if view.identity(step)}
    return {step.name: settings for step, settings in found.items() if not step.numbered(settings)}


def made_pattern(view: View, name: str, wanted: Wanted, seeds: Seeds, worked: WorkedOut = WorkedOut()) -> Pattern:
    """The settings that the view's fit was made with, and the breakdowns its corpus allows."""
    fit = view.fit_record
    matrix = view.store.open(fit.making.inputs[0])
    cleaning = view.store.open(matrix.making.inputs[0])
    base = view.store.open(base_of(OnDisk(view.store), view.corpus_record.identity))
    first = view.cached("suggested", lambda: suggested(view))
    units = [each.unit for each in view.cached("suggested units", lambda: suggested_units(view))]
    groups = group_fields(view)[:_GROUPS]
    breakdowns = [Breakdown(group=group, unit=_unit(units, group)) for group in groups]
    if period := suggested_period(view):
        breakdowns.append(Breakdown(period=period, unit=_unit(units, None)))
    if first.group and first.period:
        breakdowns.append(Breakdown(group=first.group, period=first.period, unit=_unit(units, first.group)))
    return Pattern(
        name=name,
        gather=CORPUS.parse(base.making.settings),
        shape=operations_of(view.corpus_record.making),
        clean=CLEANING.parse(cleaning.making.settings),
        weigh=MATRIX.parse(matrix.making.settings),
        weighting=wanted.weighting,
        seed_words=wanted.seed_words,
        beside=BesideSettings(**_beside(view)),
        fit=FIT.parse(fit.making.settings),
        other_seeds=seeds,
        track=breakdowns,
        regress=list(worked.regress),
        apart=list(worked.apart),
        pinned=[tried(view, each.statement) for each in worked.pins if is_present(view, each)],
    )


def contents(
    view: View, name: str, notes: Notes, wanted: Wanted, seeds: Seeds, worked: WorkedOut = WorkedOut()
) -> list[Written]:
    """Every file of the archive."""
    labels = {topic: label_of(note) for topic, note in notes.items()}
    return list(exports.files(view, made_pattern(view, name, wanted, seeds, worked), labels))


class ExportFile(BaseModel):
    """A file of the archive: what it is, and the rows of a table that may be long."""

    name: str
    about: str
    rows: int | None


class Beginning(BaseModel):
    """How a file begins; ``size`` in bytes is not known of a long table before it is written."""

    text: str
    whole: bool
    size: int | None


def listed(
    view: View, name: str, notes: Notes, wanted: Wanted, seeds: Seeds, worked: WorkedOut = WorkedOut()
) -> list[ExportFile]:
    """What the archive holds; nothing of it is written yet."""
    return [
        ExportFile(name=each.name, about=each.about, rows=each.rows)
        for each in contents(view, name, notes, wanted, seeds, worked)
    ]


def _listed(data: bytes) -> str:
    """What is in an archive."""
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return "".join(f"{each.filename}  {count(each.file_size)} bytes\n" for each in archive.infolist())


def beginning(file: Written) -> Beginning:
    """All of a file, or as much as is soon made of a table that may be long."""
    data = b""
    for piece in file.pieces():
        data += piece
        if file.rows is not None and len(data) > _BEGINNING:
            break
    if file.name.endswith(".zip"):
        return Beginning(text=_listed(data), whole=True, size=len(data))
    whole = len(data) <= _BEGINNING
    return Beginning(
        text=data[:_BEGINNING].decode("utf-8", "replace"),
        whole=whole,
        size=len(data) if whole or file.rows is None else None,
    )
