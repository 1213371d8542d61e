"""Versions of a step's result that a strand can be switched to."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from peewee import Select
from pydantic import BaseModel

from skeinwork.store.artefacts import ArtefactStore, DamagedResultError
from skeinwork.store.models import Result, Strand
from skeinwork.work.screens.strand import parsed
from skeinwork.work.steps import CORPUS, STEPS, StepName
from skeinwork.work.steps.corpus import base_of, operations_of
from skeinwork.work.steps.step import OnDisk, Said
from skeinwork.work.strands import strands
from skeinwork.work.strands.schemas import Moment

_MOST = 100


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
    created: Moment


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


def _corpus_settings(artefacts: ArtefactStore, corpus: str) -> dict[str, Any]:
    """What a corpus was made from: its files, how each was read, what was done with the documents."""
    making = artefacts.open(base_of(OnDisk(artefacts), corpus)).making.settings
    operations = operations_of(artefacts.open(corpus).making)
    settings: dict[str, Any] = {"files": ", ".join(making["names"])}
    for name, file in zip(making["names"], making["files"], strict=True):
        lead = f"{name}: " if len(making["names"]) > 1 else ""
        for key, value in file.items():
            if isinstance(value, dict):
                said = {"roles": "role of {}", "names": "name of {}"}.get(key, f"{key}: {{}}")
                settings |= {lead + said.format(inner): each for inner, each in value.items()}
            else:
                settings[lead + key.replace("_", " ")] = value
    settings["repeated identifiers"] = making.get("repeated")
    settings["steps"] = "; ".join(each.in_words() for each in operations) or "as brought in"
    return settings


def differing(here: dict[str, Any], there: dict[str, Any]) -> dict[str, Difference]:
    """The settings that are not the same in both; of fits by unlike methods those that both have."""
    unlike = here.get("method") != there.get("method")
    return {
        key: Difference(here=here.get(key), there=there.get(key))
        for key in {**here, **there}
        if here.get(key) != there.get(key) and (not unlike or (key in here and key in there))
    }


def results_of(strand: Strand, step: str) -> Select:
    """Results of a step that were made of the strand's documents, the newest first: one query."""
    if step == CORPUS.name:
        bases = list(strands.bases(strand))
        found = Result.select().where(Result.identity.in_(bases) | Result.parent.in_(bases))
    else:
        first = Result.select(Result.identity).where(Result.identity == strand.results.get(CORPUS.name))
        made = first.cte("made", recursive=True, columns=("identity",))
        later = Result.alias()
        following = (
            later.select(later.identity)
            .join(made, on=(later.parent == made.c.identity))
            .where(later.step != CORPUS.name)
        )
        chain = made.union(following)
        found = Result.select().join(chain, on=(Result.identity == chain.c.identity)).with_cte(chain)
    return found.where(Result.step == step).order_by(Result.number.desc()).limit(_MOST)


def settings_of(artefacts: ArtefactStore, identity: str) -> dict[str, Any]:
    making = artefacts.open(identity).making
    if making.step == CORPUS.name:
        return _corpus_settings(artefacts, identity)
    return _flat(dict(making.settings))


def versions(artefacts: ArtefactStore, strand: Strand, name: StepName) -> list[Version]:
    """Results of a step that were made of this strand's documents; call inside a connection."""
    present = strand.results.get(name)
    if present is None:
        return []
    mine, compared = settings_of(artefacts, present), strands.compared_by(artefacts, strand)

    def described() -> Iterator[Version]:
        for row in results_of(strand, name):
            if compared and compared in (row.identity, row.parent):
                continue  # it is for comparing, and taken at Choose
            try:
                stored = artefacts.open(row.identity)
                theirs = settings_of(artefacts, row.identity)
            except DamagedResultError:
                continue
            step = STEPS[name]
            yield Version(
                identity=row.identity,
                said=step.said(parsed(step, stored), step.summarised(stored)),
                differs=differing(mine, theirs),
                current=row.identity == present,
                created=row.created,
            )

    return list(described())
