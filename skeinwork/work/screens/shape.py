"""Shape: what the recorded operations did to the corpus, and what another would do."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from skeinwork.core.corpus.shaping import KINDS, Done, Operation, Sources, apply
from skeinwork.core.text.expressions import ALL_SECONDS
from skeinwork.work.results import finding
from skeinwork.work.results.view import View
from skeinwork.work.steps.corpus import done_of, operations_of
from skeinwork.work.strands.schemas import fields_of

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


class OperationKind(BaseModel):
    """A kind of operation that can be added, and the schema of its settings."""

    kind: str
    title: str
    about: str
    action: str
    fields: dict[str, Any]


def kinds() -> list[OperationKind]:
    """The kinds of operation that there are."""
    return [
        OperationKind(
            kind=each.model_fields["kind"].default,
            title=each.title,
            about=each.about,
            action=each.action,
            fields=fields_of(each, frozenset({"kind"})),
        )
        for each in KINDS
    ]


def _step(operation: Operation, done: Done | None) -> ShapeStep:
    step = ShapeStep(said=operation.in_words(), kind=operation.kind)
    if done:
        step.before, step.after, step.notes = done.before, done.after, done.notes
        step.lists = [
            Listed(name=name, total=len(values), values=values[:LISTED]) for name, values in done.lists.items()
        ]
    return step


def steps(view: View, wanted: Sequence[Operation]) -> list[ShapeStep]:
    """The wanted operations in their order, with what those already done have done."""
    made = operations_of(view.corpus_record.making)
    reports = done_of(view.corpus_record)
    out = []
    same = True
    for at, operation in enumerate(wanted):
        same = same and at < len(made) and made[at] == operation
        out.append(_step(operation, reports[at] if same else None))
    return out


def attempt(view: View, operation: Operation, tables: Mapping[str, Path]) -> ShapeStep:
    """What an operation would leave, without doing it."""
    sources = Sources(finding.find_unindexed, tables, view.survey, ALL_SECONDS)
    done = view.cached("try", lambda: apply(view.corpus, operation, sources)[1], operation.model_dump_json())
    return _step(operation, done)
