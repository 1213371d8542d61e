"""Two ways to sort the same documents, crossed: how many fall where, against what chance would have.

S. Haberman, *The analysis of residuals in cross-classified tables*, Biometrics 29, 1973.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from skeinwork.core.relate.agreement import adjusted_rand_index


@dataclass(frozen=True)
class Crossed:
    """A table of two ways to sort.

    Attributes
    ----------
    counts : int64[n_rows, n_columns]
    expected : float64[n_rows, n_columns], by the margins alone
    residuals : float64[n_rows, n_columns], adjusted: of variance 1 where rows and columns are independent
    agreement : adjusted Rand index
    """

    counts: NDArray[np.int64]
    expected: NDArray[np.float64]
    residuals: NDArray[np.float64]
    agreement: float


def crossed(rows: NDArray[np.int64], columns: NDArray[np.int64]) -> Crossed:
    """Cross two ways to sort; documents that lack either are left out.

    Parameters
    ----------
    rows, columns : int64[n_docs], from 0; -1 for none

    Examples
    --------
    >>> crossed(np.array([0, 0, 1, 1]), np.array([0, 0, 1, 1])).residuals.round(1).tolist()
    [[2.0, -2.0], [-2.0, 2.0]]
    """
    known = (rows >= 0) & (columns >= 0)
    shape = int(rows.max(initial=-1)) + 1, int(columns.max(initial=-1)) + 1
    places = np.ravel_multi_index((rows[known], columns[known]), shape) if known.any() else np.zeros(0, np.int64)
    counts = np.bincount(places, minlength=shape[0] * shape[1]).reshape(shape).astype(np.int64)
    return Crossed(counts, *residuals(counts), adjusted_rand_index(rows[known], columns[known]))


def residuals(counts: NDArray[np.int64]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Expected counts by the margins, and adjusted residuals, of a table int64[n_rows, n_columns]."""
    whole = float(counts.sum())
    by_row, by_column = counts.sum(axis=1) / max(whole, 1.0), counts.sum(axis=0) / max(whole, 1.0)
    expected = whole * by_row[:, None] * by_column[None, :]
    spread = np.sqrt(expected * (1 - by_row)[:, None] * (1 - by_column)[None, :])
    return expected, np.divide(counts - expected, spread, out=np.zeros_like(expected), where=spread > 0)
