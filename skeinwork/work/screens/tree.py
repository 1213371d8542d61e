"""Relate, the tree: words or documents joined by how near they are, and the clusters that a cut leaves."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.errors import NotFoundError
from skeinwork.core.formats.export import csv_rows
from skeinwork.core.relate.clusters import STANDS
from skeinwork.core.relate.distances import DISTANCES
from skeinwork.core.relate.linkage import LINKAGES
from skeinwork.core.relate.settings import TreeSettings
from skeinwork.core.working import Line
from skeinwork.work.relate.branches import between_items, clusters, item_names, of_words
from skeinwork.work.results import documents
from skeinwork.work.results.view import View
from skeinwork.work.steps import TREE
from skeinwork.work.steps.step import count, counted
from skeinwork.work.steps.tree import MadeTree, rows_of

_NEAREST = 25


class NamedDocument(BaseModel):
    document: int
    name: str


class ClusterRow(BaseModel):
    """A cluster: its node, what it is called by, size, how well it comes back; its terms and how they read.

    Of documents the most central ones.
    """

    node: int
    heads: list[str]
    size: int
    recurrence: float | None
    height: float
    terms: list[str]
    words: list[str]
    documents: list[NamedDocument]


class TreeScreen(BaseModel):
    """The tree with one cut.

    ``joined`` and ``heights`` are its steps, ``order`` the items from top to bottom, ``seen`` how often an item
    occurs, ``stands`` from where on a cluster is more than chance.
    """

    settings: TreeSettings
    says: str
    labels: list[str]
    seen: list[int]
    joined: list[list[int]]
    heights: list[float]
    order: list[int]
    number: int
    stands: float
    clusters: list[ClusterRow]
    suggested: int
    why: str
    sure: str


def tree(view: View, number: int | None = None, height: float | None = None) -> TreeScreen:
    """The tree, cut into so many clusters, or at a height, or where the heights rise most."""
    made, settings = view.value(TREE), TREE.parse(view.record(TREE).making.settings)
    heights, n = made.tree.heights, made.tree.n_items
    best = made.cut
    wanted = made.tree.groups_at(height) if height is not None else number or best
    wanted = min(max(wanted, 1), n)
    counts = view.matrix_of(TREE).counts
    seen = np.asarray(counts.sum(axis=0 if settings.of == "words" else 1)).ravel()[made.items]
    return TreeScreen(
        settings=settings,
        says=_says(view, len(made.items), made.candidates, settings),
        labels=item_names(view, made),
        seen=seen.tolist(),
        joined=made.tree.joined.tolist(),
        heights=heights.tolist(),
        order=made.order.tolist(),
        number=wanted,
        stands=STANDS,
        clusters=_rows(view, wanted),
        suggested=best,
        why=_why(made),
        sure=_sure(settings, len(made.again)),
    )


def _rows(view: View, number: int) -> list[ClusterRow]:
    words = of_words(view)
    matrix = view.matrix_of(TREE)

    def said(names: list[str], items: NDArray[np.int64]) -> list[str]:
        return [names[at] for at in items.tolist()] if words else []

    return [
        ClusterRow(
            node=each.branch.node,
            heads=each.branch.heads,
            size=len(each.branch.items),
            recurrence=None if math.isnan(each.recurrence) else each.recurrence,
            height=each.height,
            terms=said(matrix.terms, each.branch.items),
            words=said(matrix.display, each.branch.items),
            documents=[] if words else [_named(view, at) for at in each.branch.items[:_NEAREST].tolist()],
        )
        for each in clusters(view, number)
    ]


def _named(view: View, document: int) -> NamedDocument:
    return NamedDocument(document=document, name=documents.name(view, document))


def _says(view: View, items: int, candidates: int, settings: TreeSettings) -> str:
    distance, way = DISTANCES[settings.distance], LINKAGES[settings.linkage]
    if settings.of == "documents":
        which = f"{counted(items, 'document')}" + (f", a sample of {count(candidates)}" if items < candidates else "")
    elif settings.picked:
        which = f"{counted(items, 'word')} that you picked"
    else:
        by = {"count": "most frequent", "documents": "most widespread", "weight": "heaviest"}[settings.by]
        which = f"the {count(items)} {by} of {counted(candidates, 'word')}"
    over = "words" if settings.of == "documents" else counted(view.matrix_of(TREE).counts.shape[0], "document")
    return f"{which}; {distance.title} distance over {over}, {settings.weighting.in_words()}; {way.title}: {way.about}"


def _why(made: MadeTree) -> str:
    if not made.again:
        return "no tree was made anew, so nothing tells which clusters stand"
    if not made.standing:
        return f"no cluster comes back at {STANDS:.2f} or more"
    return (
        f"at {made.cut} clusters most items, {made.standing} of {len(made.items)}, lie in clusters that come back "
        f"({STANDS:.2f} or more; the largest and pairs set aside)"
    )


def _sure(settings: TreeSettings, resamples: int) -> str:
    if not resamples:
        return "How sure a cluster is was not asked for: no tree was made anew."
    drawn = "documents" if settings.of == "words" else "words"
    return (
        f"Of each cluster, how alike (Jaccard) the most similar one is in {resamples} trees over {drawn} drawn "
        f"anew, on average; under {STANDS:.2f} it may be chance, from .75 on it stands (Hennig 2007)."
    )


class Neighbour(BaseModel):
    """Another item with its distance."""

    place: int
    label: str
    distance: float


class Neighbours(BaseModel):
    """The items nearest to one."""

    label: str
    nearest: list[Neighbour]


def neighbours(view: View, place: int) -> Neighbours:
    """The items nearest to one, the nearest first."""
    names = item_names(view, view.value(TREE))
    _check(place, len(names))
    apart = between_items(view)[place]
    order = [at for at in np.argsort(apart, kind="stable").tolist() if at != place][:_NEAREST]
    nearest = [Neighbour(place=at, label=names[at], distance=float(apart[at])) for at in order]
    return Neighbours(label=names[place], nearest=nearest)


class PairWorking(BaseModel):
    """How a distance came about: the two items, and the documents or words that hold both."""

    one: str
    other: str
    about: str
    line: Line
    shared: int
    either: int


def pair(view: View, one: int, other: int) -> PairWorking:
    """The distance of two items with its own numbers."""
    made, settings = view.value(TREE), TREE.parse(view.record(TREE).making.settings)
    names = item_names(view, made)
    for each in (one, other):
        _check(each, len(names))
    rows = rows_of(view.matrix_of(TREE), settings, made.items)[[one, other]]
    x, y = (rows[at].toarray().ravel() for at in (0, 1))
    way = DISTANCES[settings.distance]
    value = float(between_items(view)[one, other])
    both, either = int(((x != 0) & (y != 0)).sum()), int(((x != 0) | (y != 0)).sum())
    numbers = way.numbers(x, y) or f"over {either:,} {'documents' if settings.of == 'words' else 'words'}"
    line = Line(name=f"{way.title} distance", formula=way.formula, numbers=numbers, value=value)
    return PairWorking(one=names[one], other=names[other], about=way.about, line=line, shared=both, either=either)


def _check(place: int, items: int) -> None:
    if not 0 <= place < items:
        raise NotFoundError(f"The tree has no item {place + 1}.")


def distance_table(view: View) -> Iterator[bytes]:
    """All distances, a row for each item."""
    names = item_names(view, view.value(TREE))
    between = between_items(view)
    rows = ([name, *(round(value, 6) for value in between[at].tolist())] for at, name in enumerate(names))
    return csv_rows(["", *names], rows)
