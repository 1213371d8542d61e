"""Shape: what the recorded operations did to the corpus, and what another would do."""

from __future__ import annotations

import numpy as np
from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict

from skeinwork.core.corpus.join import Join
from skeinwork.core.corpus.shape import Done, Operation, Sources, apply, said
from skeinwork.core.text.expressions import ALL_SECONDS
from skeinwork.server.routes.gather import ChosenDocuments
from skeinwork.server.state import NotFoundError, SelectedStrand, StateOf
from skeinwork.store.models import Upload
from skeinwork.work import finding, strands
from skeinwork.work.steps.corpus import done_of, shape_of

router = APIRouter(prefix="/api/strands/{strand_id}/shape", tags=["shape"])
LISTED = 500


class Listed(BaseModel):
    """Things to look at, such as keys without a row: how many, and the first of them."""

    name: str
    total: int
    values: list[str]


class ShapeStep(BaseModel):
    """One operation: in words, and what it did. Without ``before`` it has not been done yet."""

    said: str
    kind: str
    before: int | None = None
    after: int | None = None
    notes: list[str] = []
    lists: list[Listed] = []


def _step(operation: Operation, done: Done | None) -> ShapeStep:
    step = ShapeStep(said=said(operation), kind=operation.kind)
    if done:
        step.before, step.after, step.notes = done.before, done.after, done.notes
        step.lists = [
            Listed(name=name, total=len(values), values=values[:LISTED])
            for name, values in done.lists.items()
        ]
    return step


@router.get("")
def list_steps(state: StateOf, chosen: SelectedStrand) -> list[ShapeStep]:
    """The wanted operations in their order, with what those already done have done."""
    artefacts, view = state.store.artefacts, chosen.view
    wanted = strands.wanted(chosen.strand).shape
    made = shape_of(artefacts, view.corpus_record.identity)
    reports = done_of(view.corpus_record)
    out = []
    same = True
    for at, operation in enumerate(wanted):
        same = same and at < len(made) and made[at] == operation
        out.append(_step(operation, reports[at] if same else None))
    return out


class Trial(BaseModel):
    """An operation to try on the corpus as it is."""

    model_config = ConfigDict(extra="forbid")
    operation: Operation


@router.post("/try")
def try_operation(state: StateOf, chosen: SelectedStrand, trial: Trial) -> ShapeStep:
    """What an operation would leave, without doing it."""
    view = chosen.view
    tables = {}
    if isinstance(trial.operation, Join):
        with state.store.connection():
            if Upload.get_or_none(Upload.sha256 == trial.operation.sha256) is None:
                raise NotFoundError("That table was not brought in. Choose it again.")
        tables[trial.operation.sha256] = state.store.upload_path(trial.operation.sha256)
    sources = Sources(finding.find_unindexed, tables, view.survey, ALL_SECONDS)
    done: Done = chosen.cached(
        "try",
        lambda: apply(view.corpus, trial.operation, sources)[1],
        trial.operation.model_dump_json(),
    )
    return _step(trial.operation, done)


class Numbers(BaseModel):
    """Documents by their number as brought in, to be kept or left out by a step."""

    numbers: list[int]


@router.get("/chosen")
def chosen_numbers(chosen: ChosenDocuments) -> Numbers:
    """The documents that a search and filters choose."""
    corpus = chosen.selected.view.corpus
    return Numbers(numbers=np.sort(corpus.numbers[chosen.documents]).tolist())
