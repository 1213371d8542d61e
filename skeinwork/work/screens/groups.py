"""Relate, document groups: what each is, its words, its borders, and how they fall over a field."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.corpus.grouping import groups_of
from skeinwork.core.errors import BadInputError, NotFoundError
from skeinwork.core.relate.crossed import Crossed, crossed
from skeinwork.core.relate.settings import GroupsSettings
from skeinwork.core.working import Line
from skeinwork.work.relate.document_groups import border, group_name, told, weights_of_groups
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.screens.working import words_apart_lines
from skeinwork.work.steps import GROUPS
from skeinwork.work.steps.groups import DocumentGroups
from skeinwork.work.steps.step import count, counted
from skeinwork.work.topics.breakdowns import group_fields

_WORDS = 12
_MOST_VALUES = 60


class GroupWord(BaseModel):
    """A word that sets a group apart: how often, how many times as often as elsewhere (log₂), weighted log odds."""

    term: str
    display: str
    inside: int
    log_ratio: float
    log_odds: float


class GroupRow(BaseModel):
    """One group. ``within`` is what its members are from the middle, together; ``border`` how many are near another."""

    group: int
    name: str
    size: int
    share: float
    within: float
    mean_apart: float
    words: list[GroupWord]
    medoid: int
    medoid_name: str
    border: int
    next_group: int | None


class GroupsScreen(BaseModel):
    """All groups, the largest first. ``between`` is the share of the total that lies between them."""

    settings: GroupsSettings
    says: str
    measure: str
    documents: int
    left_out: int
    within: float
    total: float
    between: float
    groups: list[GroupRow]
    fields: list[str]


def groups(view: View) -> GroupsScreen:
    """The groups with their words."""
    made, settings = view.value(GROUPS), GROUPS.parse(view.record(GROUPS).making.settings)
    sizes = np.bincount(made.group[made.group >= 0], minlength=len(made.within))
    seen = int(sizes.sum())
    return GroupsScreen(
        settings=settings,
        says=_says(settings),
        measure="squared distance" if settings.method == "k-means" else "distance",
        documents=seen,
        left_out=len(made.group) - seen,
        within=float(made.within.sum()),
        total=made.total,
        between=made.between_share,
        groups=[_row(view, made, at, int(size), seen) for at, size in enumerate(sizes.tolist())],
        fields=group_fields(view),
    )


def _says(settings: GroupsSettings) -> str:
    way = (
        ("spherical k-means" if settings.spherical else "k-means")
        if settings.method == "k-means"
        else f"k-medoids, {settings.distance} distance"
    )
    starts = f"the best of {counted(settings.starts, 'start')}, " if settings.method == "k-means" else ""
    return f"{way} over {settings.weighting.in_words()}; {starts}seed {settings.seed}"


def _row(view: View, made: DocumentGroups, group: int, size: int, seen: int) -> GroupRow:
    said, matrix = told(view)[group], view.matrix_of(GROUPS)
    found = said.words
    near = border(made, group)
    others = made.next_group[near & (made.next_group >= 0)]
    medoid = int(made.medoid[group])
    return GroupRow(
        group=group,
        name=group_name(view, group),
        size=size,
        share=size / max(seen, 1),
        within=float(made.within[group]),
        mean_apart=float(made.within[group]) / max(size, 1),
        words=[
            GroupWord(
                term=matrix.terms[at],
                display=matrix.display[at],
                inside=int(found.inside[at]),
                log_ratio=float(found.log_ratio[at]),
                log_odds=float(found.log_odds[at]),
            )
            for at in said.telling[:_WORDS].tolist()
        ],
        medoid=medoid,
        medoid_name=documents.name(view, medoid),
        border=int(near.sum()),
        next_group=int(np.bincount(others).argmax()) if len(others) else None,
    )


class MeanRow(BaseModel):
    """Mean weight of a word in each group; ``highest`` is the group where it is the highest."""

    term: str
    display: str
    means: list[float]
    highest: int


class MeanGrid(BaseModel):
    """Words in rows, groups in columns."""

    groups: list[str]
    rows: list[MeanRow]


def mean_grid(view: View, each: int = 4) -> MeanGrid:
    """The mean weight, in every group, of the words that tell most of each."""
    made, matrix, weights = view.value(GROUPS), view.matrix_of(GROUPS), weights_of_groups(view)
    n = len(made.within)
    terms = list(dict.fromkeys(at for group in range(n) for at in told(view)[group].telling[:each].tolist()))
    here, sizes = weights[:, terms], np.bincount(made.group[made.group >= 0], minlength=n)
    means = np.stack([np.asarray(here[made.group == at].sum(axis=0)).ravel() / sizes[at] for at in range(n)], axis=1)
    rows = [
        MeanRow(
            term=matrix.terms[term],
            display=matrix.display[term],
            means=means[at].tolist(),
            highest=int(means[at].argmax()),
        )
        for at, term in enumerate(terms)
    ]
    rows.sort(key=lambda row: (row.highest, -row.means[row.highest]))
    return MeanGrid(groups=[group_name(view, at) for at in range(n)], rows=rows)


class CrossedTable(BaseModel):
    """Groups in rows, values of a field or groups of another grouping in columns."""

    title: str
    rows: list[str]
    columns: list[str]
    counts: list[list[int]]
    expected: list[list[float]]
    residuals: list[list[float]]
    agreement: float
    documents: int
    says: str


def by_field(view: View, field: str) -> CrossedTable:
    """Groups against the values of a field, with what chance would have."""
    codes, names = groups_of(view.corpus, field)
    return _table(view, field, np.where(codes < _MOST_VALUES, codes, -1), names[:_MOST_VALUES])


def beside_other(view: View, identity: str) -> CrossedTable:
    """Groups against those of another grouping of the same documents."""
    if not view.store.has(identity):
        raise NotFoundError("That grouping does not exist any more.")
    other = view.store.open(identity)
    if other.making.step != GROUPS.name:
        raise BadInputError("That is no grouping of documents. Choose one of those listed.")
    codes = np.asarray(other.array("group"))
    if len(codes) != len(view.corpus):
        raise BadInputError("That grouping is of other documents.")
    names = [f"{at + 1}" for at in range(int(codes.max(initial=-1)) + 1)]
    return _table(view, "the other grouping", codes.astype(np.int64), names)


def _table(view: View, title: str, codes: NDArray[np.int64], names: list[str]) -> CrossedTable:
    found = crossed(view.value(GROUPS).group.astype(np.int64), codes)
    return CrossedTable(
        title=title,
        rows=[group_name(view, at) for at in range(len(found.counts))],
        columns=names,
        counts=found.counts.tolist(),
        expected=found.expected.tolist(),
        residuals=found.residuals.tolist(),
        agreement=found.agreement,
        documents=int(found.counts.sum()),
        says=_agreement_said(found, title),
    )


def _agreement_said(found: Crossed, title: str) -> str:
    index = found.agreement
    said = f"Adjusted Rand index {index:.2f} over {counted(int(found.counts.sum()), 'document')}"
    return f"{said}: 1 would be the same as {title}, 0 what chance gives."


class GroupWorking(BaseModel):
    """The figures of a group, or of one of its words, worked out."""

    name: str
    lines: list[Line]


def working(view: View, group: int, term: str | None = None) -> GroupWorking:
    """How the figures of a group came about, or those of one of its words."""
    made, matrix = view.value(GROUPS), view.matrix_of(GROUPS)
    if not 0 <= group < len(made.within):
        raise BadInputError(f"There is no group {group + 1}.")
    if term is not None:
        at = matrix.column_of(term)
        return GroupWorking(name=matrix.display[at], lines=words_apart_lines(told(view)[group].words, at))
    size, within = int((made.group == group).sum()), float(made.within[group])
    whole = float(made.within.sum())
    return GroupWorking(
        name=group_name(view, group),
        lines=[
            Line(
                name="mean from the middle",
                formula="within / documents",
                numbers=f"{within:.2f} / {count(size)}",
                value=within / max(size, 1),
            ),
            Line(
                name="between of total",
                formula="1 − Σ within / total; total is the same sum for one group of all",
                numbers=f"1 − {whole:.2f} / {made.total:.2f}",
                value=made.between_share,
            ),
        ],
    )
