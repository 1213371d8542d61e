"""Tree: words, or documents, joined pair by pair, the nearest first."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np
import scipy
from numpy.typing import NDArray
from pydantic import BaseModel

from skeinwork.core.content import expect, expect_array
from skeinwork.core.errors import BadInputError
from skeinwork.core.matrix.matrix import Matrix
from skeinwork.core.matrix.weighting import weigh
from skeinwork.core.progress import Report, part_of
from skeinwork.core.relate import clusters, linkage
from skeinwork.core.relate.distances import distances
from skeinwork.core.relate.leaf_order import leaf_order
from skeinwork.core.relate.linkage import LINKAGES, Tree
from skeinwork.core.relate.settings import TreeSettings
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, count

# Shares of the time, of words whose order is worth it: measured with 120 and 3,000 of them.
_ORDERED, _AGAIN = 0.3, 0.4


class TreeSummary(BaseModel):
    """Items joined, of how many that could have been, and trees over columns drawn anew."""

    items: int
    candidates: int
    resamples: int


@dataclass(frozen=True)
class MadeTree:
    """A tree with what it joins.

    Attributes
    ----------
    items : int64[n_items], columns of the matrix, or documents
    order : int64[n_items], places among ``items`` from top to bottom
    again : trees of the same items over columns drawn anew
    candidates : items that could have been chosen
    cut, standing : the number of clusters at which most items lie in clusters that come back, and how many
    """

    items: NDArray[np.int64]
    tree: Tree
    order: NDArray[np.int64]
    again: list[Tree]
    candidates: int
    cut: int
    standing: int


class TreeStep(Step[TreeSettings, MadeTree, TreeSummary]):
    name: ClassVar[str] = "tree"
    called: ClassVar[str] = "the tree"
    missing: ClassVar[str] = "There is no tree yet. Make one at Relate."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = TreeSettings
    summary: ClassVar[type[BaseModel]] = TreeSummary
    needs = (MATRIX,)

    def seconds(self, making: Making, size: int) -> float:
        items = making.settings["most"]
        return float(1 + (1 + making.settings["resamples"]) * (items / 3000) ** 2 + 8 * (items / 3000) ** 3)

    def compute(self, earlier: Earlier, settings: TreeSettings, report: Report) -> tuple[MadeTree, TreeSummary]:
        matrix = earlier.load(MATRIX)
        report("Choosing", 0.0)
        items, candidates = chosen_items(matrix, settings)
        rows = rows_of(matrix, settings, items)
        report("Measuring distances", 0.05)
        between = distances(rows, settings.distance)
        report("Joining", 0.2)
        tree = linkage.linkage(between, settings.linkage)
        order = leaf_order(tree, between, part_of(report, _ORDERED, 1 - _AGAIN))
        again = clusters.resampled_trees(
            rows,
            settings.distance,
            settings.linkage,
            settings.seed,
            settings.resamples,
            part_of(report, 1 - _AGAIN, 0.9),
        )
        cut = clusters.standing_cut(tree, again, part_of(report, 0.9, 1.0))
        made = MadeTree(items, tree, order, again, candidates, *cut)
        return made, TreeSummary(items=len(items), candidates=candidates, resamples=len(again))

    def save(self, value: MadeTree) -> tuple[Arrays, Documents]:
        steps = len(value.items) - 1
        again = np.zeros((len(value.again), steps, 2), np.int64)
        heights = np.zeros((len(value.again), steps))
        for at, tree in enumerate(value.again):
            again[at], heights[at] = tree.joined, tree.heights
        return {
            "items": value.items,
            "joined": value.tree.joined,
            "heights": value.tree.heights,
            "order": value.order,
            "again": again,
            "again_heights": heights,
        }, {"numbers": {"candidates": value.candidates, "cut": value.cut, "standing": value.standing}}

    def load(self, stored: Stored, earlier: Earlier) -> MadeTree:
        part = stored.array
        again = [Tree(*each) for each in zip(part("again"), part("again_heights"), strict=True)]
        tree, numbers = Tree(part("joined"), part("heights")), stored.document("numbers")
        said = [numbers[name] for name in ("candidates", "cut", "standing")]
        return MadeTree(part("items"), tree, part("order"), again, *said)

    def check(self, stored: Stored, earlier: Earlier) -> TreeSummary:
        settings, made = self.parse(stored.making.settings), self.load(stored, earlier)
        rows, columns = earlier.load(MATRIX).counts.shape
        most = columns if settings.of == "words" else rows
        items = expect_array("items", made.items, np.int64, (None,), 0, most - 1)
        n = len(items)
        expect(n >= 2 and (np.diff(items) > 0).all(), "items are not in order")
        order = expect_array("order", made.order, np.int64, (n,), 0, n - 1)
        expect(len(np.unique(order)) == n, "order names something twice")
        for tree in (made.tree, *made.again):
            tree.check(n)
        candidates = made.candidates
        expect(isinstance(candidates, int) and n <= candidates <= most, "candidates are too few or too many")
        expect(isinstance(made.cut, int) and 1 <= made.cut <= n, "its cut is none")
        expect(isinstance(made.standing, int) and 0 <= made.standing <= n, "too many items stand")
        return TreeSummary(items=n, candidates=candidates, resamples=len(made.again))

    def said(self, settings: TreeSettings, summary: TreeSummary) -> Said:
        """What it joins, and how."""
        name = f"tree of {settings.of}"
        return Said(name=name, size=f"{count(summary.items)}, {LINKAGES[settings.linkage].title}")


TREE = TreeStep()


def chosen_items(matrix: Matrix, settings: TreeSettings) -> tuple[NDArray[np.int64], int]:
    """What a tree joins, by rising number, and how many there would be.

    Raises
    ------
    BadInputError
        under three of them, or for picked words that are no terms.
    """
    counts = matrix.counts
    if settings.of == "documents":
        held = np.flatnonzero(np.diff(counts.indptr) > 0)
        chance = np.random.default_rng(settings.seed)
        chosen = held if len(held) <= settings.most else chance.choice(held, settings.most, replace=False)
    elif settings.picked:
        if missing := [word for word in settings.picked if word not in matrix.columns]:
            raise BadInputError(f"{', '.join(missing[:5])}: no terms of the matrix. Pick others, or loosen Weigh.")
        held = chosen = np.unique(matrix.columns_of(settings.picked))
    else:
        score = _scores(matrix, settings)
        held = np.flatnonzero(matrix.document_frequency > 0)
        chosen = held[np.argsort(-score[held], kind="stable")[: settings.most]]
    if len(chosen) < 3:
        raise BadInputError(f"A tree joins three {settings.of} or more, and {len(chosen)} are left by Weigh.")
    return np.sort(chosen).astype(np.int64), len(held)


def _scores(matrix: Matrix, settings: TreeSettings) -> NDArray[np.float64]:
    """What words are chosen by."""
    if settings.by == "weight":
        return np.asarray(_weights(matrix, settings).sum(axis=0), dtype=np.float64).ravel()
    return (matrix.totals if settings.by == "count" else matrix.document_frequency).astype(np.float64)


def rows_of(matrix: Matrix, settings: TreeSettings, items: NDArray[np.int64]) -> scipy.sparse.csr_matrix:
    """The weights of each item: of words over documents, of documents over words."""
    weights = _weights(matrix, settings)
    return weights[:, items].T.tocsr() if settings.of == "words" else weights[items]


def _weights(matrix: Matrix, settings: TreeSettings) -> Any:
    return scipy.sparse.csr_matrix(weigh(matrix.counts, settings.weighting, matrix.learn()))
