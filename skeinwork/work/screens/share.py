"""Share: everything in open formats, and the pattern to run again."""

from __future__ import annotations

from collections.abc import Mapping

from pydantic import BaseModel

from skeinwork.core.matrix.weighting import Weighting
from skeinwork.store.models import TopicNote
from skeinwork.work.exports import exports
from skeinwork.work.exports.exports import Written
from skeinwork.work.exports.pattern import Pattern
from skeinwork.work.results.view import View
from skeinwork.work.steps import CLEANING, CORPUS, FIT, MATRIX
from skeinwork.work.steps.corpus import base_of, operations_of
from skeinwork.work.topics.breakdowns import group_fields, suggested, suggested_period, suggested_units
from skeinwork.work.topics.prevalence import Seeds, TrackSettings

_BEGINNING = 600
_GROUPS = 4
Notes = Mapping[int, TopicNote]


def _unit(units: list[str], group: str | None) -> str | None:
    """The first unit to suggest; a group can't be its own."""
    return next((unit for unit in units if unit != group), None)


def made_pattern(view: View, name: str, weighting: Weighting, seeds: Seeds) -> Pattern:
    """The settings that the view's fit was made with, and the breakdowns its corpus allows."""
    fit = view.fit_record
    matrix = view.store.open(fit.making.inputs[0])
    cleaning = view.store.open(matrix.making.inputs[0])
    base = view.store.open(base_of(view.store, view.corpus_record.identity))
    first = suggested(view)
    units = [each.unit for each in view.cached("suggested units", lambda: suggested_units(view))]
    groups = group_fields(view)[:_GROUPS]
    breakdowns = [TrackSettings(group=group, unit=_unit(units, group)) for group in groups]
    if period := suggested_period(view):
        breakdowns.append(TrackSettings(period=period, unit=_unit(units, None)))
    if first.group and first.period:
        breakdowns.append(TrackSettings(group=first.group, period=first.period, unit=_unit(units, first.group)))
    return Pattern(
        name=name,
        gather=CORPUS.parse(base.making.settings),
        shape=operations_of(view.corpus_record.making),
        clean=CLEANING.parse(cleaning.making.settings),
        weigh=MATRIX.parse(matrix.making.settings),
        weighting=weighting,
        fit=FIT.parse(fit.making.settings),
        other_seeds=seeds,
        track=breakdowns,
    )


def contents(view: View, name: str, notes: Notes, weighting: Weighting, seeds: Seeds) -> list[Written]:
    """Every file of the archive."""
    labels = {topic: exports.label_of(note) for topic, note in notes.items()}
    return list(exports.files(view, made_pattern(view, name, weighting, seeds), labels))


class ExportFile(BaseModel):
    """A file of the archive: what it is, how large, and how it begins."""

    name: str
    about: str
    size: int
    beginning: str
    whole: bool


def listed(view: View, name: str, notes: Notes, weighting: Weighting, seeds: Seeds) -> list[ExportFile]:
    """What the archive holds."""

    def described() -> list[ExportFile]:
        return [
            ExportFile(
                name=each.name,
                about=each.about,
                size=len(each.data),
                beginning=each.data[:_BEGINNING].decode("utf-8", "replace"),
                whole=len(each.data) <= _BEGINNING,
            )
            for each in contents(view, name, notes, weighting, seeds)
        ]

    said = tuple((topic, note.revision) for topic, note in sorted(notes.items()))
    return view.cached("exports", described, name, said, weighting.model_dump_json(), seeds)
