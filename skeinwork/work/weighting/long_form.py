"""The long form of a matrix: a row for every cell that is not zero."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.matrix.numbers import log
from skeinwork.work.weighting.weighted_matrix import Weighed


class Long:
    """All cells of a weighted matrix that are not zero, as columns of one table."""

    def __init__(self, made: Weighed) -> None:
        counts = made.matrix.counts
        self.row = np.repeat(np.arange(counts.shape[0]), np.diff(counts.indptr)).astype(np.int32)
        self.column = np.asarray(counts.indices)
        self.n = np.asarray(counts.data)
        lengths = np.maximum(np.asarray(counts.sum(axis=1)).ravel(), 1)
        self.tf = self.n / lengths[self.row]
        known = made.learnt.terms
        idf = log(max(known.n_docs, 1) / np.maximum(known.df, 1), made.weighting.base)
        self.idf = np.where(known.df > 0, idf, 0.0)
        self.weight = made.weights.data

    def figures(self, at: int) -> dict[str, Any]:
        """n, tf, idf and weight of a cell, in this order."""
        return {
            "n": int(self.n[at]),
            "tf": float(self.tf[at]),
            "idf": float(self.idf[self.column[at]]),
            "weight": float(self.weight[at]),
        }

    def order(self, sort: str) -> NDArray[np.int64]:
        """Cells by a column, those alike by document and term."""
        key = sort.removeprefix("-")
        if key == "document":
            return np.arange(len(self.n))
        if key == "term":
            return np.argsort(self.column, kind="stable")
        values = self.idf[self.column] if key == "idf" else getattr(self, key)
        return np.argsort(-values if sort.startswith("-") else values, kind="stable")
