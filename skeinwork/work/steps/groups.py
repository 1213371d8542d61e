"""Groups: documents round centres, or round one of them."""

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
from skeinwork.core.progress import Report, silent
from skeinwork.core.relate import medoids
from skeinwork.core.relate.closeness import to_centres
from skeinwork.core.relate.group_counts import Grouping
from skeinwork.core.relate.groups import Groups, GroupSettings, k_means
from skeinwork.core.relate.medoids import Medoids
from skeinwork.core.relate.settings import GroupsSettings
from skeinwork.store.artefacts import Making
from skeinwork.work.steps.matrix import MATRIX
from skeinwork.work.steps.step import Arrays, Documents, Earlier, Said, Step, Stored, count, counted

_SECONDS = 2e-9  # a byte, a group and a start


class GroupsSummary(BaseModel):
    """Groups, documents in them, the share of the whole that lies between groups, documents of the preview."""

    groups: int
    documents: int
    between: float
    sample: int = 0


@dataclass(frozen=True)
class DocumentGroups:
    """Documents in groups, the largest first.

    Attributes
    ----------
    group : int32[n_docs], -1 where a document has no weight, or was not in the preview
    apart : float64[n_docs], how far each is from the middle of its group; squared for k-means
    next_group, next_apart : the same of the group that is the next nearest, -1 where there is no group
    within : float64[n_groups], sum of ``apart``
    medoid : int64[n_groups], the document nearest to the middle
    total : the sum for one group of all
    """

    group: NDArray[np.int32]
    apart: NDArray[np.float64]
    next_group: NDArray[np.int32]
    next_apart: NDArray[np.float64]
    within: NDArray[np.float64]
    medoid: NDArray[np.int64]
    total: float

    @property
    def between_share(self) -> float:
        """Of the total, what lies between groups."""
        return 1.0 - float(self.within.sum()) / self.total if self.total > 0 else 0.0


_ARRAYS = ("group", "apart", "next_group", "next_apart", "within", "medoid")


class GroupsStep(Step[GroupsSettings, DocumentGroups, GroupsSummary]):
    name: ClassVar[str] = "groups"
    called: ClassVar[str] = "the groups of documents"
    missing: ClassVar[str] = "The documents are not in groups yet. Group them at Relate."
    beside: ClassVar[bool] = True
    VERSION: ClassVar[int] = 1
    settings: ClassVar[type[BaseModel]] = GroupsSettings
    summary: ClassVar[type[BaseModel]] = GroupsSummary
    needs = (MATRIX,)

    def seconds(self, making: Making, size: int) -> float:
        return float(_SECONDS * size * making.settings["groups"] * making.settings["starts"])

    def compute(
        self, earlier: Earlier, settings: GroupsSettings, report: Report
    ) -> tuple[DocumentGroups, GroupsSummary]:
        report("Weighing", 0.0)
        weights, documents = weights_of(earlier.load(MATRIX), settings)
        found = grouped(weights, settings, settings.groups, settings.seed, report)
        made = over_all(found, documents, earlier.load(MATRIX).counts.shape[0])
        return made, _summary(made, settings)

    def save(self, value: DocumentGroups) -> tuple[Arrays, Documents]:
        return {name: getattr(value, name) for name in _ARRAYS}, {"numbers": {"total": value.total}}

    def load(self, stored: Stored, earlier: Earlier) -> DocumentGroups:
        parts: dict[str, Any] = {name: stored.array(name) for name in _ARRAYS}
        return DocumentGroups(**parts, total=stored.document("numbers")["total"])

    def check(self, stored: Stored, earlier: Earlier) -> GroupsSummary:
        settings, made = self.parse(stored.making.settings), self.load(stored, earlier)
        n_docs, n = earlier.load(MATRIX).counts.shape[0], settings.groups
        group = expect_array("group", made.group, np.int32, (n_docs,), -1, n - 1)
        sizes = np.bincount(group[group >= 0], minlength=n)
        expect((np.diff(sizes) <= 0).all() and sizes[-1] > 0, "groups are not by falling size")
        expect_array("next_group", made.next_group, np.int32, (n_docs,), -1, n - 1)
        for name in ("apart", "next_apart"):
            expect_array(name, getattr(made, name), np.float64, (n_docs,), 0)
        within = expect_array("within", made.within, np.float64, (n,), 0)
        expect_array("medoid", made.medoid, np.int64, (n,), 0, n_docs - 1)
        expect((made.group[made.medoid] == np.arange(n)).all(), "a middle is not of its group")
        sums = np.bincount(group[group >= 0], made.apart[group >= 0], n)
        expect(np.allclose(sums, within, rtol=1e-6, atol=1e-9), "within is not the sum of apart")
        total = made.total
        expect(isinstance(total, float) and np.isfinite(total) and total >= 0, "total is no number")
        return _summary(made, settings)

    def said(self, settings: GroupsSettings, summary: GroupsSummary) -> Said:
        """How many groups, and how they were made."""
        seen = f", {count(summary.documents)} documents seen" if summary.sample else ""
        return Said(name=counted(summary.groups, "document group"), size=settings.method + seen)


GROUPS = GroupsStep()


def _summary(made: DocumentGroups, settings: GroupsSettings) -> GroupsSummary:
    seen = int((made.group >= 0).sum())
    preview = {"sample": seen} if settings.sample and settings.sample < len(made.group) else {}
    return GroupsSummary(groups=settings.groups, documents=seen, between=made.between_share, **preview)


def weights_of(
    matrix: Matrix, settings: GroupsSettings, counts: scipy.sparse.csr_matrix | None = None
) -> tuple[scipy.sparse.csr_matrix, NDArray[np.int64]]:
    """The weights of the documents that have some, of a sample of them where one is wanted, and their numbers.

    Parameters
    ----------
    counts : others than the matrix's, of the same shape
    """
    there = matrix.counts if counts is None else counts
    held = np.flatnonzero(np.diff(matrix.counts.indptr) > 0)
    if settings.sample and settings.sample < len(held):
        held = np.sort(np.random.default_rng(1).choice(held, settings.sample, replace=False))
    weights = scipy.sparse.csr_matrix(weigh(there, settings.weighting, matrix.learn()))[held]
    return weights, held.astype(np.int64)


def grouped(
    weights: scipy.sparse.csr_matrix, settings: GroupsSettings, groups: int, seed: int, report: Report
) -> DocumentGroups:
    """Rows in groups, with how far each is from its middle and from the next."""
    if settings.method == "k-means":
        found = _round_centres(weights, settings, groups, seed, report)
        apart, near = to_centres(weights, found.centres, settings.spherical)
        return _placed(found.group, apart, near, found.total)
    middles = _round_medoids(weights, settings, groups, seed, report)
    apart = medoids.to_items(weights, middles.medoid, settings.distance)
    return _placed(middles.group, apart, np.argsort(apart, axis=1, kind="stable")[:, :2], middles.total)


def grouping(weights: scipy.sparse.csr_matrix, settings: GroupsSettings, groups: int, seed: int) -> Grouping:
    """Rows in groups, with what is measured of these alone."""
    if settings.method == "k-means":
        found = _round_centres(weights, settings, groups, seed, silent)
        return Grouping(found.group, float(found.within.sum()), found.total)
    middles = _round_medoids(weights, settings, groups, seed, silent)
    return Grouping(middles.group, float(middles.apart.sum()), middles.total)


def _round_centres(
    weights: scipy.sparse.csr_matrix, settings: GroupsSettings, groups: int, seed: int, report: Report
) -> Groups:
    way = GroupSettings(groups=groups, seed=seed, starts=settings.starts, spherical=settings.spherical)
    return k_means(weights, way, report)


def _round_medoids(
    weights: scipy.sparse.csr_matrix, settings: GroupsSettings, groups: int, seed: int, report: Report
) -> Medoids:
    if weights.shape[0] < groups:
        raise BadInputError(f"{groups} groups are more than the {weights.shape[0]:,} documents. Ask for fewer.")
    return medoids.medoids_of_rows(weights, settings.distance, groups, seed, report)


def _placed(
    group: NDArray[np.int32], apart: NDArray[np.float64], near: NDArray[np.int64], total: float
) -> DocumentGroups:
    """Rows in their groups with the next nearest one; ``near`` are the two nearest."""
    here, n = np.arange(len(group)), apart.shape[1]
    held = group >= 0
    other = np.where(near[:, 0] == group, near[:, min(1, n - 1)], near[:, 0]).astype(np.int32)
    own = np.where(held, apart[here, group], 0.0)
    within = np.bincount(group[held], own[held], n).astype(np.float64)
    medoid = [int(np.flatnonzero(group == each)[own[group == each].argmin()]) for each in range(n)]
    next_apart = np.where(held, apart[here, other], 0.0)
    next_group = np.where(held, other, -1).astype(np.int32)
    return DocumentGroups(group, own, next_group, next_apart, within, np.array(medoid), total)


def over_all(found: DocumentGroups, documents: NDArray[np.int64], n_docs: int) -> DocumentGroups:
    """The same for all documents, where only some were grouped."""

    def spread(values: NDArray[Any], none: int) -> NDArray[Any]:
        whole = np.full(n_docs, none, dtype=values.dtype)
        whole[documents] = values
        return whole

    return DocumentGroups(
        spread(found.group, -1),
        spread(found.apart, 0),
        spread(found.next_group, -1),
        spread(found.next_apart, 0),
        found.within,
        documents[found.medoid],
        found.total,
    )
